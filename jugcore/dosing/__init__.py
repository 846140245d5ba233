"""Doses and drinks: what of a formula ends up in a cup."""
