"""What the core said on the day it was written down.

Recorded, not derived: where a figure should lie is the business of the tests that hold a
source. These notice what nobody meant to change, in words as in figures; where it was
meant, ``python -m jugcore.tests.recorded`` writes it anew and the difference shows in review.
"""
