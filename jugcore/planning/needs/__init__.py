"""What the drinks of days to come need: of each product by day and place, of what goes into those, of what is bought."""
