"""What a label tells of matter besides its masses: saturates and salt (Regulation (EU) 1169/2011, Annex I), each with its range."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import FAT_KNOWN, OWN_SALT, SATURATED, Matter

#: The saturated share of milk fat and of cocoa butter: least, likely, most. Whole milk 0.57, cream and butter 0.63 to 0.64 (USDA SR Legacy, from
#: memory), 0.66 on European labels; cocoa butter 0.60 (USDA SR Legacy, from memory).
MILK_FAT, COCOA_BUTTER = (0.57, 0.63, 0.70), (0.57, 0.60, 0.65)
#: Of a fat nobody said anything of, somewhere between sunflower oil and coconut (estimate).
_UNKNOWN = (0.0, 0.3, 1.0)
#: Sodium of milk, fruit and seeds differs so much by season, breed and soil (estimate).
_SALT_SPREAD = 0.3


def saturates_g(matter: Matter) -> tuple[Floats, Floats, Floats]:
    """Saturated fat (K,) in grams: least, likely, most. Never less than nothing nor more than the fat there is."""
    other = matter.mass_g[:, c.INDEX["other_fat"]]
    unknown = np.maximum(other - matter.tracer[:, FAT_KNOWN], 0.0)
    milk, cocoa = matter.mass_g[:, c.INDEX["milk_fat"]], matter.mass_g[:, c.INDEX["cocoa_butter"]]
    low, likely, high = (
        MILK_FAT[end] * milk + COCOA_BUTTER[end] * cocoa + np.minimum(matter.tracer[:, SATURATED[end]] + _UNKNOWN[end] * unknown, other)
        for end in range(3)
    )
    return low, likely, high


def salt_g(matter: Matter) -> tuple[Floats, Floats, Floats]:
    """What a label calls salt (K,), 2.5 × sodium, in grams: that put in, and what is in the ingredients themselves: least, likely, most."""
    put_in, own = matter.mass_g[:, c.SALT], np.maximum(matter.tracer[:, OWN_SALT], 0.0)
    return put_in + (1.0 - _SALT_SPREAD) * own, put_in + own, put_in + (1.0 + _SALT_SPREAD) * own
