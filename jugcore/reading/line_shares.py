"""Each line's share of all that goes in, so rounded that they add up to the whole: one figure for screen and table."""

from __future__ import annotations

from jugcore.method.scales import rounded_to_sum
from jugcore.method.walk import Walk

#: A tenth of a percent.
_STEP = 0.001


def shares_of_all(walk: Walk) -> dict[str, float]:
    """Line → its share of everything that goes in, 0 to 1 by tenths of a percent; together 1. Empty where nothing goes in.

    Formula: grams ÷ grams of all lines, the largest remainders rounded up. What joins from another vessel is in its lines already.
    """
    grams = {id: float(walk.end.lines[id][0]) for id in walk.method.lines}
    total = sum(grams.values())
    if not total > 0:
        return {}
    rounded = rounded_to_sum([each / total for each in grams.values()], [_STEP] * len(grams))
    return dict(zip(grams, rounded, strict=True))
