"""Volumes of an ingredient to grams, with how uncertain the result is."""

from __future__ import annotations

import math
from dataclasses import dataclass

from jugcore.errors import NotUnderstood, shown
from jugcore.matter.substance import Substance
from jugcore.measures.parsing import Quantity
from jugcore.measures.systems import FILLING_SPREAD, MASS_G, SHOWN, VOLUME_ML

#: No line weighs more than this; beyond it somebody slipped. [g]
MAX_LINE_G = 1_000_000.0
_POURED_KINDS = frozenset({"water", "syrup", "juice", "dairy", "plant", "extract", "coffee"})


@dataclass(frozen=True)
class Weighed:
    """Grams for an amount as written: the value, a ± band, and how it was read."""

    grams: float
    low_g: float
    high_g: float
    reading: str


def grams_of(quantity: Quantity, substance: Substance, system: str) -> Weighed:
    """Grams of a quantity of a substance in a measure system.

    Mass units are exact. Volumes use the substance's spoon-and-cup density; the
    band adds its spread to that of filling the measure, in quadrature, and a
    written range widens it. Raises NotUnderstood for ounces of something that
    pours, for zero, and above 1,000 kg.
    """
    unit = quantity.unit or "g"
    number = f"{quantity.low:g}" if quantity.low == quantity.high else f"{quantity.low:g}–{quantity.high:g}"
    if unit == "oz" and substance.kind in _POURED_KINDS:
        raise NotUnderstood(
            "amount",
            f"{number} oz of {substance.title.lower()} may mean weight or volume.",
            "Write fl oz for volume, or give grams.",
        )
    if unit in MASS_G:
        per_unit, spread = MASS_G[unit], 0.0
        reading = f"{number} {unit}" + ("" if quantity.unit else " (grams assumed)")
    else:
        millilitres = VOLUME_ML[system][unit]
        per_unit = millilitres * substance.density_g_ml
        spread = math.hypot(substance.density_spread, FILLING_SPREAD.get(unit, 0.0))
        of_system = "" if unit in ("ml", "cl", "dl", "l") else f", {system}: {shown(round(millilitres, 1))} ml each"
        reading = f"{number} {SHOWN.get(unit, unit)}{of_system}, at {substance.density_g_ml:g} g/ml ± {100 * substance.density_spread:.0f} %"
    grams = quantity.middle * per_unit
    if not grams > 0:
        raise NotUnderstood("amount", "Nothing of it changes nothing.", "Give an amount above zero, or remove the line.")
    if grams > MAX_LINE_G:
        raise NotUnderstood("amount", f"{shown(grams / 1000)} kg is more than any kitchen cooks.", "Give at most 1,000 kg; check the unit.")
    return Weighed(grams, quantity.low * per_unit * (1 - spread), quantity.high * per_unit * (1 + spread), reading)
