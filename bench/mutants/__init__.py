"""Mutants of the core: small faults put in one at a time, and whether the tests notice."""
