"""What prices have changed since a version was kept, and what that does to its cost."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from jugcore.matter.made_today import Today, as_of_today
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.walk import Walk, walk
from jugcore.reading.costs import product_cost

#: A price that moved by less than this share has not: rounding of a price a kilogram.
_SAME = 1e-4


@dataclass(frozen=True)
class PriceChange:
    """An ingredient's price a kilogram then and now, None where there is none; and what that adds to the cost of what was walked."""

    substance: str
    title: str
    then: float | None
    now: float | None
    adds: float


def at_todays_prices(substances: Mapping[str, SubstanceDoc], today: Mapping[str, Today]) -> dict[str, SubstanceDoc]:
    """What a version carries by today's prices, and those of what was made here by those of its ingredients; what has none today keeps its own."""
    found = {}
    for id, document in substances.items():
        if document.made_from is not None:
            found[id] = as_of_today(document, {key: each for key, each in today.items() if each.price_per_kg is not None})
        else:
            now = today.get(document.of or id)
            found[id] = document if now is None or now.price_per_kg is None else document.model_copy(update={"price_per_kg": now.price_per_kg})
    return found


@dataclass(frozen=True)
class FormulaThenNow:
    """What a litre of a version (a kilogram of what has no volume) costs in ingredients by the prices it was kept with and by those of today."""

    changes: tuple[PriceChange, ...]
    then: float
    now: float
    unit: str


def formula_then_now(kept: MethodDocument, today: Mapping[str, Today]) -> FormulaThenNow | None:
    """What prices of today do to a version of a formula; None where nothing comes out of it. ``adds`` of its changes is for the litre."""
    before = walk(compile_document(kept))
    after = walk(compile_document(kept.model_copy(update={"substances": at_todays_prices(kept.substances, today)})))
    ml, total = float(before.product.foam_ml(20.0)[0]), float(before.product.total_g[0])
    units = (ml if np.isfinite(ml) else total) / 1e3
    if not units > 0:
        return None
    changes = [replace(each, adds=each.adds / units) for each in price_changes(before, after)]
    then, now = (float(sum(each[0] for each in product_cost(walked))) / units for walked in (before, after))
    return FormulaThenNow(tuple(changes), then, now, "l" if np.isfinite(ml) else "kg")


def prices_differ(substances: Mapping[str, SubstanceDoc], today: Mapping[str, Today]) -> bool:
    """Whether anything that a version carries has another price today, itself or in what was made here; what has none today keeps its own."""
    carried = [(document.of or id, document) for id, document in substances.items() if document.made_from is None]
    carried += [(each.substance, each.facts) for document in substances.values() if document.made_from for each in document.made_from.contents]
    for id, document in carried:
        now = today[id].price_per_kg if id in today else None
        was = document.price_per_kg
        if now is not None and (was is None or abs(now - was) > _SAME * max(now, was)):
            return True
    return False


def price_changes(then: Walk, now: Walk, case: int = 0) -> list[PriceChange]:
    """Ingredients whose price a kilogram changed between two walks of the same, what adds most first.

    Parameters: the walk by the prices it was kept with, the walk by those of today; which case of both. ``adds`` is grams × difference.
    """
    before, after = _prices(then, case), _prices(now, case)
    found = []
    for id, (title, grams, price) in after.items():
        was = before[id][2] if id in before else None
        if was is None and price is None:
            continue
        if was is not None and price is not None and abs(price - was) <= _SAME * max(price, was):
            continue
        found.append(PriceChange(id, title, was, price, grams * ((price or 0.0) - (was or 0.0)) / 1e3))
    return sorted(found, key=lambda each: -abs(each.adds))


def _prices(walked: Walk, case: int) -> dict[str, tuple[str, float, float | None]]:
    """Title, grams and price a kilogram by ingredient, through everything made here."""
    found: dict[str, tuple[str, float, float | None]] = {}
    for line, content in walked.method.all_contents:
        grams = float(walked.end.lines[line][case]) * content.grams_per_g
        id = content.book.of or content.substance
        if grams > 0 and content.book.kind != "water":
            had = found[id][1] if id in found else 0.0
            found[id] = content.book.title, had + grams, content.book.price_per_kg
    return found
