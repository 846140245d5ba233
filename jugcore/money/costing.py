"""What making something costs: ingredients, energy, hands, bottles and labels, and what is thrown away; each with its range."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from jugcore.figures import Floats
from jugcore.method.stages import Fill
from jugcore.method.walk import Walk, walk
from jugcore.money.energy import energy_kwh
from jugcore.reading.carried import carried
from jugcore.reading.costs import product_cost
from jugcore.reading.readings.content import missing_price, unpriced

#: Prices and yields are looked at this much higher and lower.
SWING = 0.2
#: A yield is a share: with its swing it stays below this.
_MOST_YIELD = 0.98


@dataclass(frozen=True)
class Rates:
    """What a site pays, in its currency: None where nobody said. ``waste`` is the share of what is filled that its own log says was poured away."""

    energy_kwh: float | None = None
    wage_h: float | None = None
    container: float | None = None
    label: float | None = None
    waste: float | None = None


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


def costing(walked: Walk, rates: Rates, dose_g: float | None = None) -> Costing:
    """What a batch costs.

    Parameters: a walk, its first case; what the site pays; a dose [g]. Formula: Σ grams × price + energy × tariff + hands-on time × wage +
    bottles × (bottle + label), and of all that the share that is poured away. Range: what the walk holds. Source: the site's prices;
    times and efficiencies as their stages state them. What has no price is told in ``missing`` and left out of the sums, never counted as free.
    """
    items = list(_items(walked, rates))
    known = [each for each in items if each.likely is not None]
    sums = [sum(float(getattr(each, end) or 0.0) for each in known) for end in ("low", "likely", "high")]
    if rates.waste is not None and rates.waste > 0:
        # What is poured away was made as dearly as what is served.
        away = [each * rates.waste / (1 - min(rates.waste, 0.9)) for each in sums]
        items.append(CostItem("waste", "Poured away", away[0], away[1], away[2], f"{100 * rates.waste:.1f} % of what was filled, by the log"))
        sums = [a + b for a, b in zip(sums, away, strict=True)]
    batch = (sums[0], sums[1], sums[2])
    total_g, ml = float(walked.product.total_g[0]), float(walked.product.foam_ml(20.0)[0])
    per_kg = _per(batch, total_g / 1e3)
    per_litre = _per(batch, ml / 1e3) if np.isfinite(ml) else None
    per_dose = _per(batch, total_g / dose_g) if dose_g else None
    missing = tuple(each.missing for each in items if each.missing)
    return Costing(tuple(items), batch, per_kg, per_litre, per_dose, missing, tuple(drivers(walked, rates, per_litre or per_kg)))


def _per(batch: tuple[float, float, float], units: float) -> tuple[float, float, float] | None:
    if not units > 0:
        return None
    return batch[0] / units, batch[1] / units, batch[2] / units


def _items(walked: Walk, rates: Rates) -> Iterator[CostItem]:
    own, kept_back = product_cost(walked)
    lacks = unpriced(walked)
    worth = float(own[0])
    yield CostItem("ingredients", "Ingredients", worth, worth, worth, "grams × price of the pack", missing_price(lacks))
    if float(kept_back[0]) > 0:
        kept = float(kept_back[0])
        yield CostItem("kept_back", "Kept back", kept, kept, kept, "what stays behind for another batch: a cost of its own, paid here")
    energy = energy_kwh(walked)[0]
    if float(energy[1]) > 0:
        how = f"{energy[1]:.2f} kWh on the hob ({energy[0]:.2f} to {energy[2]:.2f})"
        yield _at_rate("energy", "Energy", energy, rates.energy_kwh, how, "What a kilowatt-hour costs is not entered.")
    hours = sum((step.hands_s for step in walked.steps), np.zeros((walked.cases, 3)))[0] / 3600.0
    if float(hours[1]) > 0:
        how = f"{60 * hours[1]:.0f} min hands-on ({60 * hours[0]:.0f} to {60 * hours[2]:.0f})"
        yield _at_rate("hands", "Hands", hours, rates.wage_h, how, "What an hour of work costs is not entered.")
    count = sum((float(step.figures["containers"][0]) for _, step in walked.each(Fill)), 0.0)
    if count > 0:
        for id, title, price in (("containers", "Bottles", rates.container), ("labels", "Labels", rates.label)):
            yield _at_rate(id, title, np.full(3, count), price, f"{count:.0f} of them", f"What a {title[:-1].lower()} costs is not entered.")


def _at_rate(id: str, title: str, much: Floats, price: float | None, how: str, missing: str) -> CostItem:
    if price is None:
        return CostItem(id, title, None, None, None, how, missing)
    low, likely, high = (float(each) * price for each in much)
    return CostItem(id, title, low, likely, high, how)


def drivers(walked: Walk, rates: Rates, per_unit: tuple[float, float, float] | None) -> list[Driver]:
    """Prices and yields by how far a fifth of each moves the cost of a litre, the furthest first.

    Prices move it in proportion; a yield is walked again at its lower and its higher value, with all that follows from it.
    """
    if per_unit is None:
        return []
    base, batch_scale = per_unit[1], _units(walked)
    found = []
    for title, part in _parts(walked, rates):
        move = SWING * part / batch_scale
        if move > 0:
            found.append(Driver(title, "price", base - move, base + move))
    for stage in walked.stages:
        share = getattr(stage, "yield_fraction", None)
        if stage.yields and isinstance(share, float):
            ends = [max(share * (1 - SWING), 0.01), min(share * (1 + SWING), _MOST_YIELD)]
            again = walk(walked.method, walked.kitchen, {stage.path("yield_fraction"): np.array(ends)})
            if again.faults:
                continue
            own, kept = product_cost(again)
            litres = _units_of(again)
            # What is not of the ingredients stays as it is for the batch, and is spread over what comes out.
            other = base * batch_scale - float(product_cost(walked)[0][0] + product_cost(walked)[1][0])
            low, high = (float((own[i] + kept[i] + other) / litres[i]) for i in (0, 1))
            found.append(Driver(f"Yield of {stage.called}", "yield", low, high))
    return sorted(found, key=lambda each: -each.swing)


def _units(walked: Walk) -> float:
    return float(_units_of(walked)[0])


def _units_of(walked: Walk) -> Floats:
    """Litres (K,), or kilograms of what has no volume."""
    ml = walked.product.foam_ml(20.0)
    return np.asarray(np.where(np.isfinite(ml), ml, walked.product.total_g) / 1e3)


def _parts(walked: Walk, rates: Rates) -> Iterator[tuple[str, float]]:
    """What each price makes in a batch: of ingredients as bought, through everything made here, and of the site's rates."""
    weighed = carried(walked)
    sums: dict[str, float] = {}
    for line, content in walked.method.all_contents:
        price = content.book.price_per_kg
        grams = sum((float(lines[line][0]) for lines in weighed.values() if line in lines), 0.0) * content.grams_per_g
        if price is not None and grams > 0:
            sums[content.book.title] = sums.get(content.book.title, 0.0) + grams * price / 1e3
    yield from sums.items()
    for item in _items(walked, rates):
        if item.id in ("energy", "hands", "containers", "labels") and item.likely is not None:
            yield item.title, item.likely
