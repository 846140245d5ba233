"""Readings, a file a subject; the catalogue of them is jugcore.reading.catalogue."""
