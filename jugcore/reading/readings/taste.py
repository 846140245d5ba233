"""Sweetness, acidity and what else is tasted and can be counted."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import SWEETER, Matter
from jugcore.method.walk import Walk
from jugcore.physics import acidity as acids
from jugcore.physics import sweetness as sweet
from jugcore.reading.readings.base import BALANCE, Basis, Reading, exact, ratio, reading, share

#: Less acid than this is not worth a line. [g/100 g]
LEAST_ACID = 0.02


def as_sucrose_g(held: Matter) -> tuple[Floats, Floats, Floats]:
    """Grams (K,) of sucrose that would be as sweet: least, usual, most. Syrups by what is published of them as a whole."""
    weights = (sweet.LEAST, sweet.USUAL, sweet.MOST)
    least, usual, most = (np.maximum(held.mass_g @ each + held.tracer[:, more], 0.0) for each, more in zip(weights, SWEETER, strict=True))
    return least, usual, most


@reading("glance", 8, where=lambda walk: share(walk, c.SUGARS) > 1e-3)
def sweetness(walk: Walk) -> Reading:
    """How much sucrose in 100 g would be as sweet."""
    end = walk.product
    grams = as_sucrose_g(end)
    least, usual, most = (ratio(each, end.total_g, 100.0) for each in grams)
    return Reading(
        "sweetness", "As sweet as sucrose", "g/100 g", 1, usual, least, most,
        Basis(
            "Σ grams of each sugar × how sweet it is against sucrose ÷ product × 100; agave, glucose and malt syrup as a whole",
            "food-science texts, from memory",
            "a drink of 5 to 20 % sugars", "the range; cold, acid, salt and fat move it further", "range of the texts",
        ),
        (("sugars", float((end.mass_g @ c.SUGARS)[0]), "g"),),
        num=100.0 * grams[1], den=end.total_g,
    )  # fmt: skip


def _is_sour(walk: Walk) -> bool:
    return 100 * share(walk, c.ACIDS) > LEAST_ACID


@reading("taste", 1, where=_is_sour)
def acidity(walk: Walk) -> Reading:
    """Titratable acidity, as citric acid."""
    end = walk.product
    as_citric = acids.titratable_eq(end.mass_g) / acids.ACIDS["citric"].equivalents_per_g
    parts = tuple((f"{name} acid", float(end.mass_g[0, c.INDEX[name]]), "g") for name in acids.ACIDS if end.mass_g[0, c.INDEX[name]] > 0)
    return exact(
        "acidity", "Acidity, as citric acid", "g/100 g", 2, as_citric, end.total_g, 100.0,
        Basis(
            "equivalents of all acids × 64.04 g ÷ product × 100", BALANCE, "the five acids counted here",
            "that of the compositions; juices differ by a third: titrate if it matters. Milk's own and what dissolves as gas are not counted",
        ),
        *parts,
    )  # fmt: skip


@reading("taste", 2, where=_is_sour)
def ph(walk: Walk) -> Reading:
    """pH where it can be computed; elsewhere it is asked for."""
    end = walk.product
    can = acids.has_computable_ph(end.mass_g)
    # Most of what is made here is buffered: nothing is worked out that nobody may read.
    value = np.where(can, acids._ph(np.where(can[:, None], end.mass_g, _PLAIN)), np.nan) if bool(can.any()) else np.full(walk.cases, np.nan)
    doubt = 0.15
    return Reading(
        "ph", "pH", "", 1, value, value - doubt, value + doubt,
        Basis(
            "charge balance over every step of every acid, activities after Davies", "pKa of the CRC Handbook, from memory",
            "dilute acids in water, 25 °C, next to nothing that buffers", "0.15", "90 % interval",
        ),
        why_not="" if can[0] else "No pH is calculated where sugar, juice, milk or cocoa buffer it: measure it.",
    )  # fmt: skip


_PLAIN = np.zeros(c.COUNT)
_PLAIN[[c.WATER, c.INDEX["citric"]]] = 99.0, 1.0


@reading("taste", 5, where=lambda walk: share(walk, c.INDEX["caffeine"]) > 1e-6)
def caffeine(walk: Walk) -> Reading:
    """Caffeine in 100 g."""
    end = walk.product
    return exact(
        "caffeine", "Caffeine", "mg/100 g", 0, end.mass_g[:, c.INDEX["caffeine"]], end.total_g, 1e5,
        Basis(
            "caffeine ÷ product × 100", BALANCE, "any", "that of the compositions: coffees differ by a third; what a steep draws out is not modelled"
        ),
    )  # fmt: skip
