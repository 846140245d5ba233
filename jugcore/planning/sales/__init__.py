"""What was sold, out of files as tills write them: by day, place, drink and size."""
