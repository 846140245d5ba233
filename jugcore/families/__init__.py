"""Families: where a new formula may start. Data; the walk has no code for any of them."""
