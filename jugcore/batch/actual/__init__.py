"""The batch as it really is: its method with what was entered written into it, as far as each entry may change it."""
