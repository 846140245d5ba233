"""What is wrong with a batch or with its measurements, and what can still be done about it."""
