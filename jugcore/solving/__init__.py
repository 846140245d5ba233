"""Which amounts make the readings what is asked for."""
