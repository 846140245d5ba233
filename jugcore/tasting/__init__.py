"""Tasting: what is known and tasted of a thing, and what to aim for because of it."""
