"""How much of what to make on which day: a mixed-integer plan in money."""
