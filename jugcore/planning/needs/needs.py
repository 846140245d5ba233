"""Grams of each product by day and place, from cups to come; between what they lie, cups missing together as they do."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.together import Together
from jugcore.planning.needs.recipes import Recipe, grams_in


@dataclass(frozen=True)
class CupsAhead:
    """Cups to come of a drink in a size at a place: means and spreads (H,), variance = mean + alpha · mean²."""

    place: str
    drink: str
    size: str
    mean: Floats
    alpha: Floats


@dataclass(frozen=True)
class Grams:
    """Grams of days (H,): mean, and between what 80 % of them lie."""

    mean: Floats
    low: Floats
    high: Floats


@dataclass(frozen=True)
class Need:
    """What is needed of a product: by day, by place and day, over all days; and of its mean, how much by what.

    ``direct_g`` goes into drinks as it is, the rest into other products (``within``: grams by product, what goes straight in).
    """

    product: str
    days: Grams
    places: Mapping[str, Grams]
    whole: Grams
    direct_g: float
    within: Mapping[str, float]
    drinks: Mapping[str, float]


def needs_of(
    cups: Sequence[CupsAhead], doses: Mapping[tuple[str, str], Mapping[str, float]], recipes: Mapping[str, Recipe], together: Together
) -> list[Need]:  # fmt: skip
    """What cups to come need of every product, largest first.

    Parameters: cups to come; grams of each product in a cup by (drink, size); what a gram of each product is made of here; how cups
    miss together. A cup whose drink has no dose of ours needs none.
    """
    through = {product: grams_in(product, recipes) for dose in doses.values() for product in dose}
    weights: dict[str, list[tuple[int, float]]] = defaultdict(list)
    direct: dict[str, float] = defaultdict(float)
    drinks: dict[str, dict[str, float]] = defaultdict(lambda: defaultdict(float))
    for n, cup in enumerate(cups):
        in_cup: dict[str, float] = defaultdict(float)
        for product, grams in doses.get((cup.drink, cup.size), {}).items():
            direct[product] += grams * float(cup.mean.sum())
            for inner, share in through[product].items():
                in_cup[inner] += grams * share
        for product, grams in in_cup.items():
            weights[product].append((n, grams))
            drinks[product][cup.drink] += grams * float(cup.mean.sum())
    found = []
    for product, of in weights.items():
        places = {place: [(n, grams) for n, grams in of if cups[n].place == place] for place in sorted({cups[n].place for n, _ in of})}
        found.append(Need(
            product=product, days=_by_day(cups, of, together), places={place: _by_day(cups, each, together) for place, each in places.items()},
            whole=_whole(cups, of, together), direct_g=direct[product], within=_within(product, weights, cups, recipes), drinks=dict(drinks[product]),
        ))  # fmt: skip
    return sorted(found, key=lambda each: -float(each.whole.mean[0]))


def _within(
    product: str, weights: Mapping[str, Sequence[tuple[int, float]]], cups: Sequence[CupsAhead], recipes: Mapping[str, Recipe]
) -> dict[str, float]:
    """Grams of a product that go straight into others, by these."""
    found = {}
    for other, recipe in recipes.items():
        share = recipe.products.get(product, 0.0)
        if share > 0 and other in weights:
            found[other] = share * sum(grams * float(cups[n].mean.sum()) for n, grams in weights[other])
    return found


def _by_day(cups: Sequence[CupsAhead], of: Sequence[tuple[int, float]], together: Together) -> Grams:
    means = np.array([grams * cups[n].mean for n, grams in of])
    own = np.array([grams**2 * (cups[n].mean + cups[n].alpha * cups[n].mean ** 2) for n, grams in of]).sum(axis=0)
    shared = np.array([together.pairs(means[:, day : day + 1]) for day in range(means.shape[1])])
    return _between(means.sum(axis=0), own + shared)


def _whole(cups: Sequence[CupsAhead], of: Sequence[tuple[int, float]], together: Together) -> Grams:
    means = np.array([grams * cups[n].mean for n, grams in of])
    own = sum(float((grams**2 * (cups[n].mean + cups[n].alpha * cups[n].mean ** 2)).sum()) for n, grams in of)
    return _between(np.array([means.sum()]), np.array([own + together.pairs(means)]))


def _between(mean: Floats, variance: Floats, share: float = 0.8) -> Grams:
    """A gamma of that mean and variance: grams are not below 0 and lean to the high side as counts do."""
    from scipy.stats import gamma

    safe, spread = np.maximum(mean, 1e-9), np.maximum(variance, 1e-9)
    shape, scale = safe**2 / spread, spread / safe
    tail = (1.0 - share) / 2.0
    low, high = gamma.ppf(tail, shape, scale=scale), gamma.ppf(1.0 - tail, shape, scale=scale)
    there = mean > 0
    return Grams(mean, np.where(there, low, 0.0), np.where(there, high, 0.0))
