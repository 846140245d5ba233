"""What making something costs: ingredients, energy, hands, bottles and labels, and what is thrown away; each with its range."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk, walk
from jugcore.money.making import NO_BOTTLE, NO_LABEL, NO_TARIFF, NO_WAGE, Making, ingredients, making_of
from jugcore.money.rates import Rates
from jugcore.reading.costs import product_cost
from jugcore.reading.energy import energy_kwh
from jugcore.reading.readings.content import missing_price, unpriced
from jugcore.reading.work import containers, hands_s, lines_made_here

#: Prices and yields are looked at this much higher and lower.
SWING = 0.2
#: A yield is a share: with its swing it stays below this.
_MOST_YIELD = 0.98


@dataclass(frozen=True)
class CostItem:
    """A part of the cost of a batch: least, likely, most; None where it cannot be said, and then what is missing."""

    id: str
    title: str
    low: float | None
    likely: float | None
    high: float | None
    how: str
    missing: str = ""


@dataclass(frozen=True)
class Driver:
    """What the cost of a litre (a kilogram of what has no volume) becomes with a price or a yield a fifth lower and a fifth higher."""

    title: str
    kind: str
    lower: float
    higher: float

    @property
    def swing(self) -> float:
        """How far the two lie apart."""
        return abs(self.higher - self.lower)


@dataclass(frozen=True)
class Costing:
    """The cost of a batch in its parts, and of a kilogram, a litre and a dose of what comes out; what is not in it is in ``missing``."""

    items: tuple[CostItem, ...]
    batch: tuple[float, float, float]
    per_kg: tuple[float, float, float] | None
    per_litre: tuple[float, float, float] | None
    per_dose: tuple[float, float, float] | None
    missing: tuple[str, ...]
    drivers: tuple[Driver, ...] = field(default=())


def costing(walked: Walk, rates: Rates, dose_g: float | None = None, formula: str = "") -> Costing:
    """What a batch costs.

    Parameters: a walk, its first case; what the site pays; a dose [g]; which formula it is, for what its log says is poured away.
    Formula: Σ grams × price + energy × tariff + hands-on time × wage + bottles × (bottle + label), the same of everything made here that
    goes in, and of all that the share that is poured away. Range: what the walk holds. Source: the site's prices; times and
    efficiencies as their stages state them. What has no price is told in ``missing`` and left out of the sums, never counted as free.
    """
    found = batch_cost(walked, rates, dose_g, formula)
    return replace(found, drivers=tuple(drivers(walked, rates, found.per_litre or found.per_kg, formula)))


def batch_cost(walked: Walk, rates: Rates, dose_g: float | None = None, formula: str = "") -> Costing:
    """What a batch costs (:func:`costing`), without what drives it."""
    items, batch, missing = _batch(walked, rates, formula)
    total_g, ml = float(walked.product.total_g[0]), float(walked.product.foam_ml(20.0)[0])
    per_kg = _per(batch, total_g / 1e3)
    per_litre = _per(batch, ml / 1e3) if np.isfinite(ml) else None
    per_dose = _per(batch, total_g / dose_g) if dose_g else None
    return Costing(items, batch, per_kg, per_litre, per_dose, missing)


def _batch(walked: Walk, rates: Rates, formula: str) -> tuple[tuple[CostItem, ...], tuple[float, float, float], tuple[str, ...]]:
    """The first case in its parts, what they come to, and what is not in it."""
    making = making_of(walked, rates)
    items = list(_items(walked, rates, making))
    known = [each for each in items if each.likely is not None]
    sums = [sum(float(getattr(each, end) or 0.0) for each in known) for end in ("low", "likely", "high")]
    # What is poured away was made as dearly as what is served.
    more = rates.made_for_one([formula]) - 1.0
    within = making.wasted[0]
    away = [float(within[end] + (sums[end] + within[end]) * more) for end in range(3)]
    if away[1] > 0:
        items.append(CostItem("waste", "Poured away", away[0], away[1], away[2], _how_wasted(rates, formula, float(within[1]))))
        sums = [a + b for a, b in zip(sums, away, strict=True)]
    missing = tuple(dict.fromkeys([*(each.missing for each in items if each.missing), *making.missing]))
    return tuple(items), (sums[0], sums[1], sums[2]), missing


def _how_wasted(rates: Rates, formula: str, within: float) -> str:
    share = rates.waste.get(formula, 0.0)
    own = f"{100 * share:.1f} % of what left its bottles, by the log" if share > 0 else ""
    return " and ".join(each for each in (own, "what is poured away of things made here that go in" if within > 0 else "") if each)


def _per(batch: tuple[float, float, float], units: float) -> tuple[float, float, float] | None:
    if not units > 0:
        return None
    return batch[0] / units, batch[1] / units, batch[2] / units


def _items(walked: Walk, rates: Rates, making: Making) -> Iterator[CostItem]:
    own, kept_back = product_cost(walked)
    lacks = unpriced(walked)
    worth = float(own[0])
    yield CostItem("ingredients", "Ingredients", worth, worth, worth, "grams × price of the pack", missing_price(lacks))
    if float(kept_back[0]) > 0:
        kept = float(kept_back[0])
        yield CostItem("kept_back", "Kept back", kept, kept, kept, "what stays behind for another batch: a cost of its own, paid here")
    if any(True for _ in lines_made_here(walked)):
        low, likely, high = (float(each) for each in making.work[0])
        how = "energy, hands and bottles of what is made here and goes in"
        yield CostItem("making", "Making what goes in", low, likely, high, how)
    energy = energy_kwh(walked)[0]
    if float(energy[1]) > 0:
        how = f"{energy[1]:.2f} kWh on the hob ({energy[0]:.2f} to {energy[2]:.2f})"
        yield _at_rate("energy", "Energy", energy, rates.energy_kwh, how, NO_TARIFF)
    hours = hands_s(walked)[0] / 3600.0
    if float(hours[1]) > 0:
        how = f"{60 * hours[1]:.0f} min hands-on ({60 * hours[0]:.0f} to {60 * hours[2]:.0f})"
        yield _at_rate("hands", "Hands", hours, rates.wage_h, how, NO_WAGE)
    count = float(containers(walked)[0])
    if count > 0:
        for id, title, price, missing in (("containers", "Bottles", rates.container, NO_BOTTLE), ("labels", "Labels", rates.label, NO_LABEL)):
            yield _at_rate(id, title, np.full(3, count), price, f"{count:.0f} of them", missing)


def _at_rate(id: str, title: str, much: Floats, price: float | None, how: str, missing: str) -> CostItem:
    if price is None:
        return CostItem(id, title, None, None, None, how, missing)
    low, likely, high = (float(each) * price for each in much)
    return CostItem(id, title, low, likely, high, how)


def drivers(walked: Walk, rates: Rates, per_unit: tuple[float, float, float] | None, formula: str = "") -> list[Driver]:
    """Prices and yields by how far a fifth of each moves the cost of a litre, the furthest first.

    Prices move it in proportion, with what of it is poured away; a yield is walked again at its lower and its higher value, with all
    that follows from it.
    """
    if per_unit is None:
        return []
    base, batch_scale = per_unit[1], _units(walked)
    found = []
    for title, part in _parts(walked, rates, formula):
        move = SWING * part / batch_scale
        if move > 0:
            found.append(Driver(title, "price", base - move, base + move))
    for stage in walked.stages:
        share = getattr(stage, "yield_fraction", None)
        if stage.yields and isinstance(share, float):
            ends = max(share * (1 - SWING), 0.01), min(share * (1 + SWING), _MOST_YIELD)
            walks = [walk(walked.method, walked.kitchen, {stage.path("yield_fraction"): np.array([end])}) for end in ends]
            if any(again.faults for again in walks):
                continue
            low, high = (_batch(again, rates, formula)[1][1] / _units(again) for again in walks)
            found.append(Driver(f"Yield of {stage.called}", "yield", low, high))
    return sorted(found, key=lambda each: -each.swing)


def _units(walked: Walk) -> float:
    """Litres, or kilograms of what has no volume."""
    ml = float(walked.product.foam_ml(20.0)[0])
    return (ml if np.isfinite(ml) else float(walked.product.total_g[0])) / 1e3


def _parts(walked: Walk, rates: Rates, formula: str) -> Iterator[tuple[str, float]]:
    """What each price makes in a batch, with what is poured away: of ingredients as bought, through everything made here, and of the site's rates."""
    own = rates.made_for_one([formula])
    sums: dict[str, float] = {}
    for title, grams, price, through in ingredients(walked):
        cost = float(grams[0]) * price * rates.made_for_one(through)
        if cost > 0:
            sums[title] = sums.get(title, 0.0) + own * cost
    yield from sums.items()
    at = {each: rates.model_copy(update={**dict.fromkeys(_RATES, None), each: getattr(rates, each)}) for each in _RATES}
    for each, title in _RATES.items():
        making = making_of(walked, at[each])
        # Ingredients of what is made here are poured away at any rate; what is left is of this rate.
        none = making_of(walked, rates.model_copy(update=dict.fromkeys(_RATES, None)))
        alone = sum(item.likely or 0.0 for item in _items(walked, at[each], making) if item.id in _OF_RATES)
        cost = own * (alone + float(making.wasted[0, 1] - none.wasted[0, 1]))
        if cost > 0:
            yield title, cost


#: What a site pays besides ingredients, and what that is called.
_RATES = {"energy_kwh": "Energy", "wage_h": "Hands", "container": "Bottles", "label": "Labels"}
_OF_RATES = ("making", "energy", "hands", "containers", "labels")
