"""Money over the whole shop: prices, what changed, what to choose, what to buy."""
