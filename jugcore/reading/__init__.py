"""What a walk says: readings, warnings, keeping, equipment, and the report that screens, files and the shell show."""
