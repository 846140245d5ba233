"""In the cold: how near sucrose is to crystals, how much may drop, and what brings it back."""

from __future__ import annotations

import numpy as np

from jugcore.errors import Floats
from jugcore.formula.read.base import Basis, Reading, of_a_liquid, ratio
from jugcore.matter import components as c
from jugcore.matter.matter import Matter
from jugcore.method.walk import Walk
from jugcore.physics import sucrose
from jugcore.physics.solubility import INVERT_EFFECT, crystals_g, lactose_per_water, sucrose_per_water
from jugcore.physics.water_activity import MAX_SUCROSE_BRIX


def _kept(walk: Walk) -> tuple[Floats, Floats, Floats]:
    """Grams of sucrose a gram of water keeps at fridge temperature: with the other sugars at their worst, and alone; and grams of those."""
    end = walk.product
    invert = end.mass_g[:, c.INDEX["glucose"]] + end.mass_g[:, c.INDEX["fructose"]]
    per_water = np.where(end.water_g > 0, invert / np.where(end.water_g > 0, end.water_g, 1.0), 0.0)
    least, alone = sucrose_per_water(walk.of_kitchen("fridge_c"), per_water)
    return least, alone, per_water


@of_a_liquid
def cold_margin(walk: Walk) -> Reading:
    """How far below cold saturation the sucrose is, judged by grams of sucrose per gram of water."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    least, saturated, invert = _kept(walk)
    sugar = end.mass_g[:, c.SUCROSE]
    wet = sugar <= MAX_SUCROSE_BRIX / 100 * (sugar + end.water_g)
    value = np.where(wet, 100.0 * (1.0 - ratio(sugar, saturated * end.water_g, 1.0)), np.nan)
    worst = np.where(wet, 100.0 * (1.0 - ratio(sugar, least * end.water_g, 1.0)), np.nan)
    doubt = np.full(walk.cases, 0.6)
    return Reading(
        "cold_margin", f"Cold margin at {t:g} °C", "% sucrose", 0, value, worst - doubt, value + doubt,
        Basis(
            "1 − (sucrose ÷ water) ÷ (sucrose ÷ water at saturation), at fridge temperature",
            "Vavrinecz 1962", "0 to 90 °C",
            f"0.6 points; glucose and fructose take room from sucrose, 0 to {INVERT_EFFECT[1]:g} g a gram: a bracket, no table",
            "90 % interval, its lower end a bracket",
        ),
        (
            ("sucrose per g of water", float(ratio(sugar, end.water_g, 1.0)[0]), "g/g"),
            ("at saturation", float(saturated[0]), "g/g"), ("glucose and fructose per g of water", float(invert[0]), "g/g"), ("fridge", t, "°C"),
        ),
        num=saturated * end.water_g - sugar, den=saturated * end.water_g / 100.0,
        why_not="" if np.isfinite(value[0]) else "No cold margin: there is no water to speak of.",
    )  # fmt: skip


@of_a_liquid
def crystals(walk: Walk) -> Reading:
    """Grams of sucrose that may drop from a kilogram in the fridge."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    least, saturated, _ = _kept(walk)
    sugar = end.mass_g[:, c.SUCROSE]
    value, most = (ratio(crystals_g(sugar, end.water_g, kept), end.total_g, 1e3) for kept in (saturated, least))
    water = ratio(np.maximum(sugar / saturated - end.water_g, 0.0), end.total_g, 1e3)
    return Reading(
        "crystals", f"May crystallise at {t:g} °C", "g/kg", 0, value, np.maximum(value - 4.0, 0.0), np.maximum(most, value) + 4.0,
        Basis(
            "sucrose − water × sucrose per gram of water at saturation, a kilogram of product", "Vavrinecz 1962", "0 to 90 °C",
            "4 g/kg; a syrup a fifth above saturation may stay clear for weeks until something seeds it",
            "hard bound: as much as may, not as much as will",
        ),
        (("water that brings it back, a kilogram", float(water[0]), "g"), ("or heat to", clear_down_to_c(end) or float("nan"), "°C")),
        why_not="" if np.isfinite(value[0]) else "No crystals can be worked out: it is dry.",
    )  # fmt: skip


@of_a_liquid
def lactose_margin(walk: Walk) -> Reading:
    """How far below its own saturation milk's sugar is in the fridge."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    saturated = np.asarray(lactose_per_water(np.clip(walk.of_kitchen("fridge_c"), 0, 90)))
    lactose = end.mass_g[:, c.INDEX["lactose"]]
    value = 100.0 * (1.0 - ratio(lactose, saturated * end.water_g, 1.0))
    doubt = 0.1 * np.abs(100.0 - value)
    return Reading(
        "lactose_margin", f"Lactose margin at {t:g} °C", "% lactose", 0, value, value - doubt, value + doubt,
        Basis(
            "1 − (lactose ÷ water) ÷ (lactose ÷ water at saturation), at fridge temperature", "fit to Hudson 1908, from memory", "0 to 90 °C",
            "a tenth of what is dissolved; much sucrose beside it makes it worse and is not counted", "90 % interval",
        ),
        (("lactose per g of water", float(ratio(lactose, end.water_g, 1.0)[0]), "g/g"), ("at saturation", float(saturated[0]), "g/g")),
    )  # fmt: skip


def clear_down_to_c(matter: Matter) -> float | None:
    """Coldest temperature at which the first case's sucrose stays dissolved, or None above 90 °C.

    Inverts Vavrinecz by bisection; 0 where it stays clear down to freezing.
    """
    water_g = float(matter.water_g[0])
    if water_g <= 0:
        return None
    ratio = float(matter.mass_g[0, c.SUCROSE]) / water_g

    def saturated(t: float) -> float:
        return float(sucrose.ratio_from_brix(sucrose.solubility_brix(t)))

    if ratio <= saturated(0.0):
        return 0.0
    if ratio > saturated(90.0):
        return None
    low, high = 0.0, 90.0
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if saturated(middle) < ratio else (low, middle)
    return 0.5 * (low + high)


def own_cold_limit_brix(matter: Matter, temperature_c: float) -> float | None:
    """°Brix at which this mix of solids meets sucrose saturation at a temperature; None if never below 85."""
    solids = float(matter.dissolved_g[0])
    sugar = float(matter.mass_g[0, c.SUCROSE])
    if solids <= 0 or sugar <= 0:
        return None
    per_water = float(sucrose.ratio_from_brix(sucrose.solubility_brix(temperature_c))) * solids / sugar
    limit = float(sucrose.brix_from_ratio(per_water))
    return limit if limit <= 85 else None
