"""Make or buy: what a dose costs made here, over how much is made at once, against a bought pack; and from how much on making pays."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.method.method import Method
from jugcore.method.walk import Walk
from jugcore.money.costing import Costing, batch_cost
from jugcore.money.rates import Rates
from jugcore.reading.keeping.assessment import keeping_of
from jugcore.scaling.batch_split import most_in_one
from jugcore.scaling.scale import scale_by

#: The smallest batch looked at, against the batch as written; and how many are looked at on the way to the largest one cook can make.
_LEAST_BATCH, _POINTS = 0.02, 15
_ROUNDS = 24
#: The boundary is found so closely: far closer than any price is known.
_CLOSE = 1e-4

Three = tuple[float, float, float]


@dataclass(frozen=True)
class Pack:
    """A bought pack: how much, in grams or millilitres, for how much; and how much of it stands for a dose of ours, in the same unit."""

    size: float
    unit: str
    price: float
    dose: float

    @property
    def dose_price(self) -> float:
        """What its dose costs."""
        return self.price * self.dose / self.size


@dataclass(frozen=True)
class BatchPoint:
    """A batch of some size: litres (kilograms of what has no volume), doses, and what one costs, least, likely, most."""

    factor: float
    amount: float
    doses: float
    dose: Three


@dataclass(frozen=True)
class MakeOrBuy:
    """A dose made and bought, over the size of the batch.

    ``pays_from`` are the batches at which making begins to pay if it costs the least, as is likely, and the most; None where it never
    does in one cook. ``always`` where it pays in the smallest batch looked at. ``days`` are what it keeps; None where only a trial says.
    """

    bought: float
    batch: BatchPoint
    points: tuple[BatchPoint, ...]
    pays_from: tuple[BatchPoint | None, BatchPoint | None, BatchPoint | None]
    unit: str
    days: int | None
    missing: tuple[str, ...]
    words: tuple[str, ...] = field(default=())


def make_or_buy(method: Method, rates: Rates, dose_g: float, pack: Pack, formula: str = "") -> MakeOrBuy:
    """Whether to make or to buy, and from which batch on making pays.

    Parameters: a formula ready to walk; what the site pays; a dose of ours [g]; the pack with what stands for such a dose; which formula
    it is, for its waste. Formula: the whole cost of a batch (:func:`jugcore.money.costing.costing`) ÷ its doses, walked at each size, so
    that what does not grow with the batch (most of the hands, the warming of the pot) weighs less the larger it is; the boundary by
    halving on the factor. Range: from a fiftieth of the batch to the largest that one cook's pots and scale take. Source: the
    site's prices. Accuracy: that of its times and prices, carried as least, likely, most. Ingredients bought in larger packs for less are
    not in it. Raises BadDocument where nothing comes out, or a dose or a pack is nothing.
    """
    if not (dose_g > 0 and pack.size > 0 and pack.dose > 0):
        raise BadDocument("dose_g", "There is no dose to compare.", "Say how much a dose of each is.")

    def at(factor: float) -> BatchPoint:
        return _point(scale_by(method, factor).walk, factor, rates, dose_g, formula)

    as_written = scale_by(method, 1.0).walk
    if not float(as_written.product.total_g[0]) > 0:
        raise BadDocument("document", "Nothing comes out of this formula yet.", "Put it right on the bench first.")
    top = max(most_in_one(method), 1.0)
    points = tuple(at(float(factor)) for factor in np.geomspace(_LEAST_BATCH, top, _POINTS))
    pays = (
        _pays_from(at, points, 0, pack.dose_price), _pays_from(at, points, 1, pack.dose_price), _pays_from(at, points, 2, pack.dose_price)
    )  # fmt: skip
    costs: Costing = batch_cost(as_written, rates, dose_g, formula)
    ml = float(as_written.product.foam_ml(20.0)[0])
    return MakeOrBuy(
        bought=pack.dose_price, batch=at(1.0), points=points, pays_from=pays, unit="l" if np.isfinite(ml) else "kg",
        days=keeping_of(as_written).days, missing=costs.missing,
    )  # fmt: skip


def _point(walked: Walk, factor: float, rates: Rates, dose_g: float, formula: str) -> BatchPoint:
    total_g, ml = float(walked.product.total_g[0]), float(walked.product.foam_ml(20.0)[0])
    dose = batch_cost(walked, rates, dose_g, formula).per_dose
    assert dose is not None  # a dose was asked for
    return BatchPoint(factor, (ml if np.isfinite(ml) else total_g) / 1e3, total_g / dose_g, dose)


def _pays_from(at: Callable[[float], BatchPoint], points: Sequence[BatchPoint], end: int, bought: float) -> BatchPoint | None:
    """The smallest batch at which a dose costs no more than bought, and at every larger one looked at; None where there is none."""
    if points[-1].dose[end] > bought:
        return None
    last = len(points) - 1
    while last > 0 and points[last - 1].dose[end] <= bought:
        last -= 1
    if last == 0:
        return points[0]
    low, high = points[last - 1], points[last]
    for _ in range(_ROUNDS):
        if high.factor / low.factor < 1 + _CLOSE:
            break
        middle = at(float(np.sqrt(low.factor * high.factor)))
        low, high = (low, middle) if middle.dose[end] <= bought else (middle, high)
    return high


def make_or_buy_words(found: MakeOrBuy) -> list[str]:
    """What it comes to, in sentences without a currency; what is not entered can only make it dearer, and is said."""
    low, likely, high = found.pays_from
    least = found.points[0]
    said: list[str] = []
    if likely is None:
        largest = found.points[-1]
        said.append(
            f"Making does not pay: a dose of the largest batch of one cook, {_amount(largest, found.unit)}, still costs more than a bought one."
        )
        if low is not None:
            said.append(f"It would from {_amount(low, found.unit)} a batch if everything took as little as it may.")
    elif likely.factor <= least.factor:
        said.append(f"Making pays in any batch: a dose of {_amount(least, found.unit)} already costs less than a bought one.")
    else:
        said.append(f"Making begins to pay from {_amount(likely, found.unit)} a batch{_spread(found)}: {likely.doses:.0f} doses.")
        if found.days is not None:
            said.append(f"It keeps {found.days} days, so that takes {shown(_up(likely.doses / found.days))} doses a day.")
    if likely is not None and high is None:
        said.append("If everything takes as much as it may, it does not pay in any batch of one cook.")
    if found.missing:
        said.append("What is not entered makes making dearer than this says.")
    return said


def _up(value: float) -> float:
    """To the next whole from ten on, to the next tenth below: fewer would not use it up."""
    return float(np.ceil(value) if value >= 10 else np.ceil(10 * value) / 10)


def _amount(point: BatchPoint, unit: str) -> str:
    return f"{point.amount:.2g} {unit}"


def _spread(found: MakeOrBuy) -> str:
    low, _, high = found.pays_from
    if low is None or high is None or f"{low.amount:.2g}" == f"{high.amount:.2g}":
        return ""
    return f" ({low.amount:.2g} to {high.amount:.2g})"
