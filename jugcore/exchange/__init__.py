"""Formulas beside each other, and files in and out."""
