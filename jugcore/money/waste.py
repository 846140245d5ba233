"""How much of what is made is poured away, by a site's own log."""

from __future__ import annotations

#: So far back is looked, and from so much filled on it says something: common practice, no source. [days], [g]
LOOKS_BACK_DAYS, FROM_G = 90, 2000.0


def waste_share(filled_g: float, poured_g: float) -> float | None:
    """The share of what was filled that was poured away since [1]; None where too little was filled to say.

    Parameters: grams filled, grams poured away of that. Range: 0 to 1.
    """
    return min(poured_g / filled_g, 1.0) if filled_g >= FROM_G else None
