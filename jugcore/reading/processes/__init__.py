"""What a hold, a steep, a caramel and a foam come to, read off the walk."""
