"""Ways to bring a reading of a drink to a value in one size: each changes one thing in the cup, is walked again, and says what else moves."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from jugcore.drinks.cup import Cup
from jugcore.drinks.document import ComponentDoc, DrinkDocument
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.readings import likely_of, reading_ids, title_of, unpriced_in
from jugcore.drinks.search import grams_for, without_ranges
from jugcore.drinks.wording import told_apart
from jugcore.errors import BadDocument
from jugcore.figures import shown

#: So many ways are offered.
MOST_WAYS = 4
#: What is told of a way, where it moves.
_TOLD = ("sugars_100ml", "caffeine", "energy", "cost", "fills", "brew_share", "temperature")
#: What needs the price of everything in the cup, by the cost it goes by; and what needs the price of its making too.
_COST_OF = {"cost": "cost", "margin": "cost", "cost_made": "cost_made", "margin_made": "cost_made"}
_OF_MAKING = ("cost_made", "margin_made")
#: Nothing is made so many times more or less of: that is another drink.
_MOST_TIMES = 4.0


@dataclass(frozen=True)
class Moved:
    """A reading of the size before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    after: float


@dataclass(frozen=True)
class DrinkWay:
    """One way: in words, what the reading comes to with it, what else moves, and the drink that does it."""

    words: str
    comes_to: float
    moved: tuple[Moved, ...]
    cautions: tuple[str, ...]
    drink: DrinkDocument = field(repr=False)


def ways_to(cup: Cup, size: str, reading: str, value: float) -> list[DrinkWay]:
    """Ways to make a reading of one size come to a value, the smallest change first.

    Parameters: the drink; a size by id; a reading by id; the value. Each component that is measured in that size is tried by itself;
    for the margin, the price too. Raises BadDocument for a size or a reading that is none, or where a price is missing.
    Accuracy: each is walked with the amount it writes, and tells what that comes to.
    """
    index = next((i for i, each in enumerate(cup.sizes) if each.id == size), None)
    if index is None:
        raise BadDocument("size", f"There is no size “{size}”.", "Choose one of the drink's sizes.")
    if reading not in reading_ids():
        raise BadDocument("reading", f"“{reading}” is no reading of a drink.", f"Choose one of: {', '.join(reading_ids())}.")
    now = pour(without_ranges(cup))
    if reading in _COST_OF and unpriced_in(now):
        raise BadDocument("reading", "Not everything in the cup has a price.", "Enter the missing prices in the pantry.")
    if reading in _OF_MAKING and now.making.missing:
        raise BadDocument("reading", now.making.missing[0], "Enter it under Site, or ask for the cost of its ingredients.")
    found = []
    for component in cup.components:
        one = cup.written.get((component.id, size))
        if one is None or one.grams is None:
            continue
        way = _by_amount(cup, now, component, index, reading, value)
        if way is not None and not way[1].cautions:
            found.append((abs(np.log(max(way[0], 1e-3) / one.grams)), way[1]))
    ways = [way for _, way in sorted(found, key=lambda pair: pair[0])]
    if reading in ("margin", "margin_made") and value < 100:
        price = _by_price(cup, now, index, value, _COST_OF[reading])
        ways = [*([price] if price else []), *ways]
    return ways[:MOST_WAYS]


def _by_amount(cup: Cup, now: Poured, component: ComponentDoc, index: int, reading: str, value: float) -> tuple[float, DrinkWay] | None:
    size = cup.sizes[index]
    values = likely_of(now, reading)[: len(cup.sizes)].copy()
    if not np.isfinite(values[index]):
        return None
    values[index] = value
    most = np.array([1.2 * each.cup_ml for each in cup.sizes])
    exact, reached = grams_for(cup, component.id, reading, values, most)
    written = cup.written[component.id, size.id]
    assert written.grams is not None
    if not reached[index] or not 1 / _MOST_TIMES <= exact[index] / written.grams <= _MOST_TIMES:
        return None
    grams = max(round(float(exact[index]), 1), 0.1)
    if abs(grams - written.grams) < 0.05:
        return None
    text = f"{shown(grams)} g"
    drink = cup.drink.with_component(component.model_copy(update={"amounts": {**component.amounts, size.id: text}}))
    verb = "More" if grams > written.grams else "Less"
    titles = [cup.method.titles[each.id] for each in cup.components]
    title = told_apart(titles)[[each.id for each in cup.components].index(component.id)]
    words = f"{verb} {title}: {text} instead of {shown(round(written.grams, 1))} g"
    return grams, _way(cup, now, drink, {component.id: grams}, index, reading, words)


def _by_price(cup: Cup, now: Poured, index: int, value: float, cost_id: str) -> DrinkWay | None:
    size = cup.sizes[index]
    cost = float(likely_of(now, cost_id)[index])
    price = round(cost / (1 - value / 100), 2)
    if (size.price is not None and abs(price - size.price) < 0.005) or price <= 0:
        return None
    sizes = tuple(each.model_copy(update={"price": price}) if each.id == size.id else each for each in cup.drink.sizes)
    drink = cup.drink.model_copy(update={"sizes": sizes})
    was = "no price yet" if size.price is None else f"{size.price:.2f}"
    comes_to = 100 * (1 - cost / price)
    return DrinkWay(f"Another price: {price:.2f} instead of {was}", comes_to, (), (), drink)


def _way(cup: Cup, before: Poured, drink: DrinkDocument, grams: dict[str, float], index: int, reading: str, words: str) -> DrinkWay:
    given = {}
    for id, each in grams.items():
        row = before.grams(id).copy()
        row[index] = each
        given[f"lines.{id}.grams"] = row
    after = pour(without_ranges(cup), given)
    moved = []
    missing = bool(unpriced_in(before))
    for id in _TOLD:
        title, unit, digits = title_of(id)
        was, is_now = float(likely_of(before, id)[index]), float(likely_of(after, id)[index])
        if id == reading or (id in _COST_OF and missing) or not np.isfinite([was, is_now]).all():
            continue
        if round(is_now, digits) != round(was, digits):
            moved.append(Moved(id, title, unit, digits, was, is_now))
    over = float(after.fills_ml[index]) - cup.sizes[index].cup_ml
    cautions = (f"It runs over by {over:.0f} ml.",) if over > 0.5 else ()
    return DrinkWay(words, float(likely_of(after, reading)[index]), tuple(moved), cautions, drink)
