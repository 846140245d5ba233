"""How thick it is when it is cold, and over temperature."""

from __future__ import annotations

import numpy as np

from jugcore.matter.matter import STRONG_GUM, Matter
from jugcore.method.walk import Walk
from jugcore.physics import viscosity as flow
from jugcore.physics import water
from jugcore.reading.readings.base import Basis, Reading, of_a_liquid, reading

#: Where a curve of thickness is read. [°C]
CURVE_C = (4.0, 12.0, 20.0, 40.0, 60.0, 80.0)


def runs_clear(walk: Walk) -> bool:
    """Whether the first case is a clear syrup or water."""
    end = walk.product
    return bool(flow.runs_clear(end.mass_g, end.tracer[:, STRONG_GUM])[0])


@reading("glance", 6)
@of_a_liquid
def viscosity(walk: Walk) -> Reading:
    """Thickness at fridge temperature."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    low, value, high = flow.viscosity(end.mass_g, walk.of_kitchen("fridge_c"), end.tracer[:, STRONG_GUM])
    plain = runs_clear(walk)
    return Reading(
        "viscosity", f"Pours at {t:g} °C", "mPa·s", 0, value, low, high,
        Basis(
            "that of a sucrose solution, times what fat, milk protein, pulp and gum add by the volume they take",
            "Genotelle refitted to Swindells 1958; Eilers, Martin", "0 to 75 °Bx, 0 to 80 °C",
            "10 % below 10 °C for a clear syrup; with fat, pulp, gum, salt or alcohol only an order, and cooked starch may be past it",
            "90 % interval" if plain else "an order, indicative",
        ),
        (("°Brix", float(end.brix[0]), "°Bx"), ("temperature", t, "°C"), ("water at 20 °C", float(water.viscosity_mpa_s(20)), "mPa·s")),
        why_not=_why_not(end, float(value[0])),
        steep=True,
    )  # fmt: skip


def _why_not(end: Matter, thickness: float) -> str:
    """Why the first case has no thickness; empty where it has, and for a powder or a damp cake, of which nothing is read."""
    if np.isfinite(thickness) or not bool(end.is_liquid[0]):
        return ""
    if float(end.brix[0]) > flow.MOST_BRIX:
        return f"No thickness: above {flow.MOST_BRIX:g} °Bx nothing was measured to go by."
    return "No thickness: it is a paste or a gel."


def curve(walk: Walk) -> list[tuple[float, float, float, float]]:
    """Temperature, least, likely and most thickness of the first case, where it has one. [°C, mPa·s]"""
    end = walk.product
    if not bool(end.is_liquid[0]):
        return []
    many = len(CURVE_C)
    mass_g, gum = np.repeat(end.mass_g[:1], many, axis=0), np.repeat(end.tracer[:1, STRONG_GUM], many)
    bands = zip(CURVE_C, *(x.tolist() for x in flow.viscosity(mass_g, np.array(CURVE_C), gum)), strict=True)
    return [(t, low, value, high) for t, low, value, high in bands if np.isfinite(value)]


def times_water(thickness: Reading) -> float:
    """How many times as slowly as water at 20 °C the first case pours; NaN outside the model."""
    return float(thickness.value[0]) / float(water.viscosity_mpa_s(20))
