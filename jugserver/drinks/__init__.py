"""Drinks over their sizes: kept, versioned, marked ready for service."""
