"""Edits of a document: each gives a new one, and a frozen one carries all it needs."""
