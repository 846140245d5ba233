"""What hangs at the bar: doses of all drinks over their sizes, how one drink is built, what drinks contain and give."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.drinks.cautions import drink_cautions
from jugcore.drinks.contains import contains_of
from jugcore.drinks.cup import Cup
from jugcore.drinks.document import ComponentDoc
from jugcore.drinks.layers import layers_of
from jugcore.drinks.poured import Poured, Ranged
from jugcore.drinks.readings import read, title_of
from jugcore.drinks.wording import pouring_order
from jugcore.figures import shown

#: From here a drink scalds. [°C]
_HOT_C = 50.0
#: What a card tells of a cup, in the order of a label (Regulation (EU) 1169/2011, Annex XV).
NUTRITION = ("energy_kj", "energy", "fat", "saturates", "carbohydrate", "sugars", "protein", "salt", "caffeine")


@dataclass(frozen=True)
class DoseRow:
    """A product in a drink: how much of it goes into each size, as written; None where a size has none, or is not offered."""

    drink: str
    product: str
    stroke_ml: float | None
    amounts: tuple[str | None, ...]


@dataclass(frozen=True)
class DoseCard:
    """Drinks × sizes. Sizes of one name stand in one column."""

    sizes: tuple[str, ...]
    rows: tuple[DoseRow, ...]


@dataclass(frozen=True)
class BuildStep:
    """One thing that goes into the cup, in the order of pouring, and how."""

    title: str
    how: str
    amounts: tuple[str | None, ...]


@dataclass(frozen=True)
class CupLayers:
    """A size with what lies in it from the bottom up: title, role, millilitres."""

    size: str
    cup_ml: float
    fills_ml: float
    ice_g: float
    layers: tuple[tuple[str, str, float], ...]


@dataclass(frozen=True)
class BuildCard:
    """How a drink is built: steps, cups, cautions, what it contains."""

    drink: str
    sizes: tuple[str, ...]
    steps: tuple[BuildStep, ...]
    cups: tuple[CupLayers, ...]
    contains: str
    cautions: tuple[str, ...]


@dataclass(frozen=True)
class NutritionRow:
    """A size of a drink: figures in the order of :data:`NUTRITION`, as they are printed."""

    drink: str
    size: str
    figures: tuple[str, ...]


@dataclass(frozen=True)
class AllergenRow:
    """A drink and the allergens it contains for sure, and those for which packs are to be looked at; with sizes where not all have it."""

    drink: str
    contains: tuple[str, ...]
    check: tuple[str, ...]


@dataclass(frozen=True)
class Sheet:
    """Allergens and nutrition of several drinks."""

    allergens: tuple[AllergenRow, ...]
    head: tuple[str, ...]
    nutrition: tuple[NutritionRow, ...]


def dose_card(cups: Sequence[Cup]) -> DoseCard:
    """Doses of what is made here, and of whatever else is a dose, over all drinks and sizes. Nothing of it needs a walk."""
    sizes = tuple(dict.fromkeys(size.name for each in cups for size in each.sizes))
    rows = []
    for cup in cups:
        titles = cup.method.titles
        for component in cup.components:
            if component.role != "dose" and cup.substance_of(component.id).made is None:
                continue
            stroke = cup.stroke_ml(component) if _in_strokes(cup, component) else None
            amounts = dict(zip((size.name for size in cup.sizes), _amounts(cup, component), strict=True))
            rows.append(DoseRow(cup.drink.name, titles[component.id], stroke, tuple(amounts.get(size) for size in sizes)))
    return DoseCard(sizes, tuple(rows))


def build_card(poured: Poured) -> BuildCard:
    """How one drink is built, in the order of pouring."""
    cup, titles = poured.cup, poured.walk.method.titles
    layers = layers_of(poured)
    cups = tuple(
        CupLayers(
            size.name, size.cup_ml, float(np.nan_to_num(poured.fills_ml[index])), float(poured.ice.total_g[index]),
            tuple((titles[each.component.id], each.component.role, float(each.ml[index])) for each in layers if each.ml[index] > 0),
        )
        for index, size in enumerate(cup.sizes)
    )  # fmt: skip
    steps = tuple(BuildStep(titles[each.id], _how(poured, each), tuple(_amounts(cup, each))) for each in cup.components)
    return BuildCard(
        cup.drink.name, tuple(size.name for size in cup.sizes), steps, cups, contains_words(poured), tuple(_cautions(poured)),
    )  # fmt: skip


def sheet_of(drinks: Sequence[Poured]) -> Sheet:
    """Allergens and nutrition of drinks, a row a size. Rounded as they are shown; what cannot be said is a dash."""
    allergens = []
    nutrition = []
    for poured in drinks:
        found = contains_of(poured)
        sure, check = (
            tuple(_with_sizes(poured, each.allergen, each.sizes) for each in found.allergens if each.certain == certain) for certain in (True, False)
        )
        allergens.append(AllergenRow(poured.cup.drink.name, sure, check))
        figures = {id: read(poured, id) for id in NUTRITION}
        for index, size in enumerate(poured.cup.sizes):
            row = tuple(_figure_or_range(figures[id], index, title_of(id)[2]) for id in NUTRITION)
            nutrition.append(NutritionRow(poured.cup.drink.name, size.name, row))
    head = tuple(f"{title} ({unit})" for title, unit, _ in (title_of(id) for id in NUTRITION))
    return Sheet(tuple(allergens), head, tuple(nutrition))


def contains_words(poured: Poured) -> str:
    """“Contains milk, gluten (Iced). Check the packs for nuts.”"""
    found = contains_of(poured).allergens
    sure = [_with_sizes(poured, each.allergen, each.sizes) for each in found if each.certain]
    check = [_with_sizes(poured, each.allergen, each.sizes) for each in found if not each.certain]
    words = f"Contains {', '.join(sure)}." if sure else "None of the listed allergens is known to be in it."
    return f"{words} Check the packs for {', '.join(check)}." if check else words


def _with_sizes(poured: Poured, allergen: str, sizes: Sequence[str]) -> str:
    names = [size.name for size in poured.cup.sizes if size.id in sizes]
    return allergen if len(names) == len(poured.cup.sizes) else f"{allergen} ({', '.join(names)})"


def _figure(value: float, digits: int) -> str:
    return f"{value:,.{digits}f}" if np.isfinite(value) else "–"


#: A figure that may be so far off either way is told as its range.
_WIDE = 0.5


def _figure_or_range(found: Ranged, index: int, digits: int) -> str:
    low, likely, high = (float(each[index]) for each in (found.low, found.likely, found.high))
    least, most = _figure(max(low, 0.0), digits), _figure(high, digits)
    if np.isfinite(likely) and high - low > 2 * _WIDE * abs(likely) and least != most:
        return f"{least}–{most}"
    return _figure(likely, digits)


def _in_strokes(cup: Cup, component: ComponentDoc) -> bool:
    return any(one.strokes is not None for (id, _), one in cup.written.items() if id == component.id)


def _amounts(cup: Cup, component: ComponentDoc) -> list[str | None]:
    """How much goes into each size, as somebody wrote it."""
    return [component.amounts[size.id].strip() if (component.id, size.id) in cup.written else None for size in cup.sizes]


def _how(poured: Poured, component: ComponentDoc) -> str:
    """What is done to it before it is poured."""
    said = []
    if component.brew is not None:
        said.append(f"brewed, {shown(component.brew.out_per_in)} g out per gram in")
    if component.steamed_c is not None:
        said.append(f"steamed to {component.steamed_c:.0f} °C")
    if component.air is not None:
        said.append("frothed")
    if _in_strokes(poured.cup, component):
        said.append(f"pump of {shown(poured.cup.stroke_ml(component))} ml")
    return ", ".join(said)


def _cautions(poured: Poured) -> list[str]:
    """What must be looked after at the bar."""
    found = []
    warm = read(poured, "temperature").likely
    hot = [size.name for size, t in zip(poured.cup.sizes, warm, strict=True) if t > _HOT_C]
    if hot:
        found.append(f"{', '.join(hot)}: up to {float(np.nanmax(warm)):.0f} °C, it scalds. Lid on, handle towards the guest.")
    if any(each.steamed_c is not None for each in poured.cup.components):
        found.append("Steam: purge the wand away from hands, and wipe it at once.")
    iced = [size.name for size, ice in zip(poured.cup.sizes, poured.ice.total_g[: poured.sizes], strict=True) if ice > 0]
    if iced:
        found.append(f"{', '.join(iced)}: serve at once, the ice thins it.")
    curdling = [each for each in contains_of(poured).curdling if each is not None and each.tone != "fine"]
    if curdling:
        found.append(curdling[0].words)
    for size, said in zip(poured.cup.sizes, drink_cautions(poured), strict=True):
        found += [f"{size.name}: {words}" for words in said if "caffeine" in words]
    order = pouring_order([poured.walk.method.titles[each.id] for each in poured.cup.components])
    if order:
        found.append(order)
    return found
