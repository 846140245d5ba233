"""What makes something is done once, however often it is sent."""
