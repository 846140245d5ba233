"""What to make: what days to come will bring, and what that needs."""
