"""What was sold: by day, place, drink and size; files and tills it comes from, days that are not like others."""
