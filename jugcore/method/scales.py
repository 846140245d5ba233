"""What a kitchen's scales can show: the step of each weighing, and figures rounded to it."""

from __future__ import annotations

import math
from collections.abc import Sequence

from jugcore.method.kitchen import Kitchen, Scale

#: A weighing is worth a warning when half a division is more than this share of it.
COARSE_SHARE = 0.05


def resolution_g(kitchen: Kitchen, grams: float) -> float:
    """The step in which this much can be weighed: that of the finest scale that carries it.

    A kitchen without scales is taken to read to about half a percent.
    """
    able = [scale.resolution_g for scale in kitchen.scales if scale.carries_g >= grams]
    if able:
        return min(able)
    if kitchen.scales:
        return max(scale.resolution_g for scale in kitchen.scales)
    return 1.0 if grams >= 100 else 0.1 if grams >= 10 else 0.01


def rounded_g(kitchen: Kitchen, grams: float) -> float:
    """Grams as the scale can show them, never nothing."""
    step = resolution_g(kitchen, grams)
    return max(round(round(grams / step) * step, 6), step)


def scale_for(kitchen: Kitchen, grams: float) -> Scale | None:
    """The finest scale that carries it and what it is weighed in; the one that carries most where none does."""
    if not kitchen.scales:
        return None
    able = [scale for scale in kitchen.scales if scale.carries_g >= grams]
    return min(able, key=lambda s: s.resolution_g) if able else max(kitchen.scales, key=lambda s: s.capacity_g)


def rounded_to_sum(parts: Sequence[float], steps: Sequence[float]) -> list[float]:
    """Parts rounded each to the step of its scale, so that on each scale they sum to the rounded sum.

    Largest remainders go up first; every part stays within one step of itself, and none
    goes below nothing.
    """
    rounded = [0.0] * len(parts)
    for step in set(steps):
        on_it = [i for i in range(len(parts)) if steps[i] == step]
        counts = [math.floor(parts[i] / step + 1e-9) for i in on_it]
        missing = round(sum(parts[i] for i in on_it) / step) - sum(counts)
        by_remainder = sorted(range(len(on_it)), key=lambda k: (counts[k] - parts[on_it[k]] / step, k))
        for k in by_remainder[:missing]:
            counts[k] += 1
        for k, i in enumerate(on_it):
            rounded[i] = round(counts[k] * step, 9)
    return rounded
