"""The same formula in another amount, split by what pots and scales can take, and what to weigh."""
