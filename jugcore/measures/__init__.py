"""From what people write to grams: measure systems, densities, reading the text."""
