"""What a plan makes beyond what is expected: as much as its money says, once in each life of a product."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.policies import ratio
from jugcore.planning.lots.problem import LotsProblem, ProductDoc

#: A margin is built up over so many days: then the next morning knows more.
_WINDOW = 4


def with_margins(problem: LotsProblem, draws: dict[str, Floats]) -> LotsProblem:
    """The problem with the margins that draws (K, T) of what products' drinks need by day call for.

    Formula: over the first j days of each life, quantile of what they need together less its mean; the chance is the newsvendor's.
    """
    return problem.model_copy(update={"products": tuple(_with_margin(each, draws[each.id]) for each in problem.products)})


def _with_margin(product: ProductDoc, draws: Floats) -> ProductDoc:
    days = draws.shape[1]
    margin = np.zeros(days)
    again = product.life_days
    for first in range(0, days, again):
        spoils = product.life_days <= _WINDOW
        chance, before = ratio(product, spoils), 0.0
        for j in range(min(_WINDOW, again, days - first)):
            needs = draws[:, first : first + j + 1].sum(axis=1)
            more = max(float(np.quantile(needs, chance)) - float(needs.mean()), 0.0)
            margin[first + j] = max(more - before, 0.0)
            before = max(more, before)
    return product.model_copy(update={"margin_g": tuple(round(float(each), 3) for each in margin)})
