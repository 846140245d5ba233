"""Reads of the walk: readings, consequences, and the report a screen is drawn from."""
