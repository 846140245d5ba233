"""How much of what is made is poured away, by a site's own log."""

from __future__ import annotations

#: So far back is looked, and from so much used on it says something: common practice, no source. [days], [g]
LOOKS_BACK_DAYS, FROM_G = 90, 2000.0


def waste_share(used_g: float, poured_g: float) -> float | None:
    """The share of what has left its containers that was poured away [1]; None where too little has to say.

    What still stands is no sign of either: counted as served it would make every shop look better than it is.
    Parameters: grams that left their containers, grams poured away of that. Range: 0 to 1.
    """
    return min(poured_g / used_g, 1.0) if used_g >= FROM_G else None
