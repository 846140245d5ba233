"""How solutions, pots and air behave. Each module states its models' errors."""
