"""Whole strokes of a pump over several sizes: how near they come to the doses wanted, and which stroke would come nearer."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence

#: Whole strokes a cup gets at most; more and the bar stops counting.
MOST_STROKES = 8
#: Sweetness that differs by no more than this between sizes is even enough: common practice, no source.
EVEN = 0.06


def strokes_for(wanted: Sequence[float], stroke_g: float) -> tuple[list[int], float]:
    """Whole strokes nearest each wanted dose, at least one, and the largest relative miss.

    Parameters: grams wanted by size, grams a stroke gives. Returns: strokes by size, the miss [1].
    """
    counts = [min(max(round(grams_wanted / stroke_g), 1), MOST_STROKES) for grams_wanted in wanted]
    return counts, max(abs(n * stroke_g / g - 1) for n, g in zip(counts, wanted, strict=True))


def best_stroke(wanted: Sequence[float], low_g: float, high_g: float) -> tuple[float, list[int], float]:
    """The stroke between two ends whose whole numbers serve all sizes most evenly: grams, strokes, the largest relative miss.

    Exact: for given counts the best stroke balances its two worst sizes, so the counts alone are searched.
    """
    best: tuple[float, list[int], float] | None = None
    for base in range(1, MOST_STROKES + 1):
        stroke = wanted[0] / base
        options = [
            sorted({min(max(math.floor(g / stroke) + d, 1), MOST_STROKES) for d in (0, 1)} | ({base} if i == 0 else set()))
            for i, g in enumerate(wanted)
        ]
        for counts in itertools.islice(itertools.product(*options), 512):
            ratios = [n / g for n, g in zip(counts, wanted, strict=True)]
            middle = min(max(2 / (max(ratios) + min(ratios)), low_g), high_g)
            miss = max(abs(middle * r - 1) for r in ratios)
            if best is None or miss < best[2] - 1e-9 or (abs(miss - best[2]) <= 1e-9 and sum(counts) < sum(best[1])):
                best = (middle, list(counts), miss)
    assert best is not None  # there is always one stroke a cup
    return best
