"""How long things keep: dates, and what they come of."""
