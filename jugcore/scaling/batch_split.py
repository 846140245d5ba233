"""Into how many cooks a batch must be split: by the pots with room to foam, and by what the scale carries."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jugcore.errors import OutOfRange
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.walk import Walk
from jugcore.reading.equipment.pots import Limit, too_much
from jugcore.scaling.scale import LEAST, MOST, Scaling, scale_by, scale_to

MOST_COOKS = 50


@dataclass(frozen=True)
class BatchSplit:
    """A batch in so many equal cooks: one of them scaled, and the limits that decided."""

    count: int
    one: Scaling
    limits: tuple[Limit, ...]


def most_in_one(method: Method, kitchen: Kitchen | None = None) -> float:
    """The largest factor at which one cook still fits its pots and its scale.

    Found by halving between 1/1,000 and 1,000: the limits rise with the batch.
    """
    low, high = LEAST, MOST
    for _ in range(40):
        middle = float(np.sqrt(low * high))
        low, high = (low, middle) if too_much(scale_by(method, middle, kitchen).walk) else (middle, high)
    return low


def split_in_batches(
    method: Method,
    kitchen: Kitchen | None = None,
    *,
    factor: float | None = None,
    measure: Callable[[Walk], float] | None = None,
    wanted: float = 0.0,
) -> BatchSplit:
    """The fewest equal cooks in which a batch can be made.

    Either ``factor`` times the formula, or as much as makes ``measure`` (grams, litres,
    bottles) of all cooks together come to ``wanted``. Each cook leaves its own film and
    cake, so the more cooks, the more goes in. Raises OutOfRange above 50 cooks.
    """
    place = kitchen or method.document.kitchen or Kitchen()
    decided: list[Limit] = []
    for count in range(1, MOST_COOKS + 1):
        one = scale_by(method, (factor or 1.0) / count, place) if measure is None else scale_to(method, measure, wanted / count, place)
        exceeded = too_much(one.walk)
        if not exceeded:
            return BatchSplit(count, one, tuple(decided))
        if not decided:
            decided = exceeded
    worst = decided[0].words
    raise OutOfRange("scale", f"That would take more than {MOST_COOKS} cooks. {worst}.", "Ask for less, or use a larger pot or scale.")
