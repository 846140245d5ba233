"""What the ingredients in each vessel cost: a blend kept back is a cost of its own and none of the product's."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk, once
from jugcore.reading.carried import carried


@once
def costs_of(walk: Walk) -> dict[str, Floats]:
    """Vessel → cost (K,) of what is in it at the end, in the site's currency; a missing price counts nothing.

    Formula: Σ grams of each line that stand behind it (:func:`jugcore.reading.carried.carried`) × price.
    """
    method, none = walk.method, np.zeros(walk.cases)
    prices = {id: method.substances[line.substance].price_per_kg or 0.0 for id, line in method.lines.items()}
    return {vessel: np.asarray(sum((grams * prices[line] / 1e3 for line, grams in lines.items()), none)) for vessel, lines in carried(walk).items()}


@once
def product_cost(walk: Walk) -> tuple[Floats, Floats]:
    """What the product's ingredients cost, and those of all that was kept back (K,)."""
    found = dict(costs_of(walk))
    own = found.pop(walk.method.product, np.zeros(walk.cases))
    return own, np.asarray(sum(found.values(), np.zeros(walk.cases)))
