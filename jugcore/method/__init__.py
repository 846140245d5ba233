"""The method document, its stages, the kitchen, and the one walk through them."""
