"""A drink's money: what prices of today do to a version that is served, and what it costs with another dose in the place of its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.readings import likely_of, unpriced_in
from jugcore.drinks.search import without_ranges
from jugcore.errors import BadDocument
from jugcore.figures import Floats
from jugcore.matter.made_today import Today
from jugcore.money.making import at_rates
from jugcore.money.price_changes import PriceChange, at_todays_prices, price_changes
from jugcore.money.rates import Rates


@dataclass(frozen=True)
class SizeThenNow:
    """What a size costs and leaves of its price [%], by the prices it was kept with and by those of today; None where that cannot be said."""

    name: str
    price: float | None
    cost_then: float | None
    cost_now: float | None
    margin_then: float | None
    margin_now: float | None
    #: Below what the shop asks for now, and whether it was not before.
    below: bool
    pushed_below: bool


@dataclass(frozen=True)
class DrinkThenNow:
    """A served drink by the prices of then and of today: what changed, by what it adds to the largest size, and what comes of it.

    ``with_making`` says whether the making of what is made here is in the costs: it is where that was known both times.
    """

    changes: tuple[PriceChange, ...]
    sizes: tuple[SizeThenNow, ...]
    least_margin: float | None
    with_making: bool
    missing: tuple[str, ...]


def drink_then_now(kept: DrinkDocument, today: Mapping[str, Today], rates: Rates) -> DrinkThenNow:
    """What prices of today do to a version of a drink.

    Parameters: the version as it was frozen; prices of today by ingredient; what the site pays today. The drink is walked by both; a margin is of
    the price that is charged. What the shop asks for is what the drink says, else what the site says.
    """
    now = kept.model_copy(update={"substances": at_todays_prices(kept.substances, today), "rates": rates})
    before, after = pour(without_ranges(cup_of(kept))), pour(without_ranges(cup_of(now)))
    making = not before.making.missing and not after.making.missing
    largest = int(np.argmax([size.cup_ml for size in kept.sizes]))
    least = kept.least_margin if kept.least_margin is not None else rates.least_margin
    sides = [_money(each, making) for each in (before, after)]
    sizes = []
    for index, size in enumerate(kept.sizes):
        (cost_then, margin_then), (cost_now, margin_now) = (tuple(_or_none(each[index]) for each in side) for side in sides)
        below = least is not None and margin_now is not None and margin_now < least
        pushed = below and least is not None and margin_then is not None and margin_then >= least
        sizes.append(SizeThenNow(size.name, size.price, cost_then, cost_now, margin_then, margin_now, below, pushed))
    return DrinkThenNow(
        tuple(price_changes(before.walk, after.walk, largest)), tuple(sizes), least, making, tuple(unpriced_in(after))
    )  # fmt: skip


def _money(poured: Poured, making: bool) -> tuple[Floats, Floats]:
    """Cost and margin (S,), NaN where a price is missing."""
    if unpriced_in(poured):
        none = np.full(poured.sizes, np.nan)
        return none, none
    ids = ("cost_made", "margin_made") if making else ("cost", "margin")
    return likely_of(poured, ids[0])[: poured.sizes], likely_of(poured, ids[1])[: poured.sizes]


def _or_none(value: float) -> float | None:
    return float(value) if np.isfinite(value) else None


@dataclass(frozen=True)
class InDrink:
    """What a drink costs in each size with a choice in the place of one component, and what that leaves of the price [%]; None where unsaid."""

    choice: str
    cost: tuple[float | None, ...]
    margin: tuple[float | None, ...]


def with_doses_of(
    drink: DrinkDocument, component: str, dose_g: float, doses: Sequence[tuple[str, float | None]]
) -> tuple[list[InDrink], tuple[str, ...]]:
    """What a drink costs with other doses in the place of one component, and what of the rest is not in that.

    Parameters: the drink with its rates; the component; how much of it is a dose of its own [g]; choices by id, each with what a dose costs:
    None stays unsaid. Formula: cost of the rest + doses in the size × what one costs. Accuracy: the rest is as it is poured now, so what
    fills up to the line is not filled anew for a larger dose. Raises BadDocument for a component that is not there or a dose that is nothing.
    """
    poured = pour(without_ranges(cup_of(drink)))
    if component not in [each.id for each in poured.cup.components]:
        raise BadDocument("component", "That is not in the cup.", "Choose one of the drink's components.")
    if not dose_g > 0:
        raise BadDocument("dose_g", "A dose is more than nothing.", "Say how many grams it is.")
    others = {each.id: poured.cup.substance_of(each.id) for each in poured.cup.components if each.id != component}
    lacks = [f"{poured.walk.method.titles[id]} has no price." for id, book in others.items() if book.price_per_kg is None and book.kind != "water"]
    rest = np.full(poured.sizes, np.nan) if lacks else sum((_share(poured, id) for id in others), np.zeros(poured.sizes))
    count = poured.grams(component) / dose_g
    prices = np.array([size.price if size.price is not None else np.nan for size in drink.sizes])
    found = []
    for choice, each in doses:
        cost = rest + count * (np.nan if each is None else each)
        margin = 100.0 * (1.0 - cost / prices)
        found.append(InDrink(choice, tuple(map(_or_none, cost)), tuple(map(_or_none, margin))))
    # What the component itself lacks is told of the choice that it is.
    made = any(book.made is not None for book in others.values())
    return found, (*lacks, *(poured.making.missing if made else ()))


def counted_in(drink: DrinkDocument, component: str, formulas: Sequence[str | None]) -> int:
    """Which choice's dose the amounts of a component are counted in: the one that is in the cup, else the first of ours, else the first.

    Parameters: the drink with what it carries; the component; of each choice the formula it is, None of a bought one.
    """
    substance = next((each.substance for each in drink.components if each.id == component), "")
    made = drink.substances[substance].made_from if substance in drink.substances else None
    ours = [number for number, formula in enumerate(formulas) if formula is not None]
    there = [number for number in ours if made is not None and formulas[number] == made.version.formula]
    return next(iter([*there, *ours, 0]))


def _share(poured: Poured, component: str) -> Floats:
    """What one component costs in each size (S,): its ingredients, and its making with what of it is poured away."""
    rates = poured.cup.drink.rates or Rates()
    grams = poured.grams(component)
    made = poured.cup.substance_of(component).made
    cost = np.zeros(poured.sizes)
    for content in poured.walk.method.contents_of(component):
        if content.book.price_per_kg is not None:
            cost = cost + grams * content.grams_per_g * content.book.price_per_kg / 1e3 * rates.made_for_one(content.through)
    for work in (made.work if made is not None else None) or ():
        cost = cost + grams * at_rates(work, rates)[1] * rates.made_for_one(work.through)
    return np.asarray(cost)
