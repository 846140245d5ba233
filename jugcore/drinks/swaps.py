"""Something else in place of one component: another milk, a level of sweetness, a creamer at the same fat; and what changes by it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from jugcore.drinks.contains import Contains, contains_of
from jugcore.drinks.cup import Cup, cup_of
from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.readings import likely_of, title_of, unpriced_in
from jugcore.drinks.search import grams_for, without_ranges
from jugcore.errors import BadDocument, DomainError
from jugcore.figures import Floats, shown

#: What a bar offers in place of milk, of the library.
MILKS = (
    "whole_milk", "reduced_fat_milk", "skimmed_milk", "lactose_free_milk", "oat_drink", "oat_drink_barista", "soy_drink", "almond_drink",
    "coconut_drink",
)  # fmt: skip
_TOLD = ("sugars_100ml", "sweet_100ml", "energy", "fat_100ml", "brew_share", "cost", "fills")


@dataclass(frozen=True)
class Change:
    """A reading by size before and after, (S,) each."""

    reading: str
    title: str
    unit: str
    digits: int
    before: Floats = field(repr=False)
    after: Floats = field(repr=False)


@dataclass(frozen=True)
class Swap:
    """The drink with something else in place of a component: what changes, what it contains then, and the drink itself."""

    substance: str
    title: str
    changes: tuple[Change, ...]
    gains: tuple[str, ...]
    loses: tuple[str, ...]
    words: tuple[str, ...]
    drink: DrinkDocument = field(repr=False)


def swapped(drink: DrinkDocument, component: str, substance: str) -> DrinkDocument:
    """The drink with another substance in place of that of a component, wherever else it goes in too; everything else as it was.

    Raises BadDocument for no such component.
    """
    doc = next((each for each in drink.components if each.id == component), None)
    if doc is None:
        raise BadDocument("component", f"There is nothing “{component}” in this drink.", "Choose something that is in the cup.")
    was = doc.substance
    changed = (
        each.model_copy(update={"substance": substance, "name": None, "brew": None}) if each.substance == was else each for each in drink.components
    )
    return drink.model_copy(update={"components": tuple(changed)})


def swaps(cup: Cup, component: str, others: Sequence[str], *, same_fat: bool = False) -> list[Swap]:
    """A drink with each of several things in place of one component.

    Parameters: the drink; a component by id; substances by id, those it carries or the library's; whether as much of each is taken as
    brings the fat in 100 ml to what it is: two ways to one creaminess, told apart by how far they thin the coffee.
    One that cannot be walked is left out only where it is none of the pantry's; else its fault is told in its words.
    """
    before = pour(without_ranges(cup))
    contained = contains_of(before)
    found = []
    for other in others:
        if other == cup.drink.component(component).substance:
            continue
        try:
            found.append(_swap(cup, before, contained, component, other, same_fat))
        except DomainError as error:
            found.append(Swap(other, other, (), (), (), (f"{error.message} {error.remedy}",), cup.drink))
    return found


def _swap(cup: Cup, before: Poured, contained: Contains, component: str, other: str, same_fat: bool) -> Swap:
    drink = swapped(cup.drink, component, other)
    new = cup_of(drink)
    words: list[str] = []
    if same_fat:
        drink, new = _at_the_same_fat(before, new, component, words)
    after = pour(without_ranges(new))
    now = contains_of(after)
    missing = bool(unpriced_in(before) or unpriced_in(after))
    changes = [
        Change(id, *title_of(id), likely_of(before, id)[: before.sizes], likely_of(after, id)[: after.sizes])
        for id in _TOLD
        if not (id == "cost" and missing)
    ]
    over = after.fills_ml[: after.sizes] - np.array([size.cup_ml for size in cup.sizes])
    if float(np.nanmax(over)) > 0.5:
        words.append(f"It runs over by up to {float(np.nanmax(over)):.0f} ml.")
    near = [(size.name, each) for size, each in zip(cup.sizes, now.curdling, strict=True) if each is not None and each.tone != "fine"]
    words += [f"{name}: {each.words}" for name, each in near[:1]]
    gains = tuple(each for each in now.certain if each not in contained.certain)
    check = [each.allergen for each in now.allergens if not each.certain and all(each.allergen != had.allergen for had in contained.allergens)]
    if check:
        words.append(f"Check its pack for {', '.join(dict.fromkeys(check))}.")
    loses = tuple(each for each in contained.certain if each not in now.certain)
    return Swap(other, new.substance_of(component).title, tuple(changes), gains, loses, tuple(words), drink)


def _at_the_same_fat(before: Poured, new: Cup, component: str, words: list[str]) -> tuple[DrinkDocument, Cup]:
    """As much of the new thing in every size as brings the fat in 100 ml to what it was."""
    fat = likely_of(before, "fat_100ml")[: before.sizes]
    most = np.array([size.cup_ml for size in new.sizes])
    measured = new.drink.component(component)
    by_grams = measured.model_copy(
        update={"amounts": {size.id: "10 g" for size in new.sizes if (component, size.id) in new.written}, "air": None, "steamed_c": None}
    )
    dosed = cup_of(new.drink.with_component(by_grams))
    grams, reached = grams_for(dosed, component, "fat_100ml", fat, most)
    amounts = {
        size.id: f"{shown(round(float(g), 1))} g"
        for size, g, ok in zip(new.sizes, grams, reached, strict=True)
        if ok and (component, size.id) in new.written
    }
    missed = [size.name for size in new.sizes if (component, size.id) in new.written and size.id not in amounts]
    if not amounts:
        raise BadDocument("component", "No amount of it brings as much fat.", "Choose something richer.")
    if missed:
        words.append(f"Not in {', '.join(missed)}: no amount of it brings as much fat there.")
    drink = new.drink.with_component(measured.model_copy(update={"amounts": amounts, "air": None, "steamed_c": None}))
    return drink, cup_of(drink)


@dataclass(frozen=True)
class Level:
    """A level of sweetness by the shop's name, and what it really is: sugars in 100 ml and the share of the first level's, by size (S,)."""

    name: str
    title: str
    sugars_100ml: Floats = field(repr=False)
    share: Floats = field(repr=False)
    fills_ml: Floats = field(repr=False)


def levels_of(cup: Cup) -> list[Level]:
    """The drink at each of its levels of sweetness, in as much of each mix, so that the cup stays as full."""
    found: list[Level] = []
    for level in cup.drink.levels:
        poured = pour(without_ranges(cup_of(swapped(cup.drink, level.component, level.substance))))
        sugars = likely_of(poured, "sugars_100ml")[: poured.sizes]
        first = found[0].sugars_100ml if found else sugars
        with np.errstate(invalid="ignore", divide="ignore"):
            share = np.where(first > 0, sugars / first, np.nan)
        title = poured.cup.substance_of(level.component).title if (level.component, cup.sizes[0].id) in poured.cup.written else level.substance
        found.append(Level(level.name, title, sugars, share, poured.fills_ml[: poured.sizes]))
    return found
