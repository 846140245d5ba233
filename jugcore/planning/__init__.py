"""What to make, how much, when, and what to buy: from what was sold to a plan."""
