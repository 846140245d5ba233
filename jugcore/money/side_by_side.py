"""Formulas of ours and bought packs side by side: what a litre, a kilogram and a dose of each costs, and what a dose brings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.method.walk import Walk
from jugcore.money.costing import batch_cost
from jugcore.money.rates import Rates

Three = tuple[float, float, float]


@dataclass(frozen=True)
class Choice:
    """One of ours or a bought pack: costs least, likely, most, None where they cannot be said; sugars of a dose [g]; a score where it was tasted.

    ``dose`` is in ``dose_unit``. What is not in the costs is in ``missing``, so that they are at least that.
    """

    id: str
    title: str
    made: bool
    dose: float
    dose_unit: str
    per_litre: Three | None
    per_kg: Three | None
    per_dose: Three | None
    sugars_g: Three | None
    score: float | None = None
    tasters: int = 0
    says: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()


def choice_made(id: str, title: str, walked: Walk, rates: Rates, dose_g: float, formula: str = "") -> Choice:
    """One of ours by its walk, its whole cost (:func:`jugcore.money.costing.costing`).

    Raises BadDocument where nothing comes out of it.
    """
    product = walked.product
    total = float(product.total_g[0])
    if not total > 0:
        raise BadDocument("choices", f"Nothing comes out of {title} yet.", "Put it right on the bench first, or leave it out.")
    found = batch_cost(walked, rates, dose_g, formula)
    sugars = float(product.mass_g[0] @ c.SUGARS) / total * dose_g
    return Choice(id, title, True, dose_g, "g", found.per_litre, found.per_kg, found.per_dose, (sugars, sugars, sugars), missing=found.missing)


def choice_bought(
    id: str, title: str, *, size: float, unit: str, price: float | None, dose: float, density_g_ml: Three | None, sugars_100g: Three | None
) -> Choice:
    """A bought pack by its price.

    Parameters: what is in it and a dose of it, both in grams or both in millilitres; its density and its sugars in 100 g by its label, None
    where it says nothing. What would need a density that nobody knows is left unsaid.
    """
    if price is None:
        none = Choice(id, title, False, dose, unit, None, None, None, None)
        return replace(none, sugars_g=_sugars(dose, unit, density_g_ml, sugars_100g), missing=(f"What {title} costs is not entered.",))
    each = price / size
    litre, kilo = _by_unit(1e3 * each, unit, density_g_ml)
    return Choice(
        id, title, False, dose, unit, litre, kilo, (dose * each, dose * each, dose * each), _sugars(dose, unit, density_g_ml, sugars_100g)
    )  # fmt: skip


def _by_unit(thousand: float, unit: str, density: Three | None) -> tuple[Three | None, Three | None]:
    """What a litre and a kilogram cost, from a thousand of the pack's unit."""
    same = (thousand, thousand, thousand)
    if unit == "ml":
        return same, None if density is None else (thousand / density[2], thousand / density[1], thousand / density[0])
    return (None if density is None else (thousand * density[0], thousand * density[1], thousand * density[2])), same


def _sugars(dose: float, unit: str, density: Three | None, sugars: Three | None) -> Three | None:
    if sugars is None or (unit == "ml" and density is None):
        return None
    grams = (1.0, 1.0, 1.0) if unit == "g" or density is None else density
    low, likely, high = (np.array(sugars) * np.array(grams) * dose / 100.0).tolist()
    return low, likely, high


def scored(choice: Choice, scores: Sequence[float]) -> Choice:
    """The choice with how it was liked, the mean of all who said so [0 to 10]; as it was where nobody did."""
    return replace(choice, score=sum(scores) / len(scores), tasters=len(scores)) if scores else choice


def as_sweet_dose(choice: Choice, like: Choice) -> float | None:
    """How much of it brings as much sugar as a dose of another, by likely figures; None where one of the two brings none or is not known."""
    if choice.sugars_g is None or like.sugars_g is None or not choice.sugars_g[1] > 0 or not like.sugars_g[1] > 0:
        return None
    return choice.dose * like.sugars_g[1] / choice.sugars_g[1]
