"""In the cold: how near sucrose is to crystals, how much may drop, and what brings it back."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import Matter
from jugcore.method.walk import Walk, once
from jugcore.physics import sucrose
from jugcore.physics.liquor import GLUCOSE_EFFECT
from jugcore.physics.solubility import INVERT_EFFECT, glucose_per_water, lactose_per_water, sucrose_per_water
from jugcore.physics.water_activity import MAX_SUCROSE_BRIX
from jugcore.reading.readings.base import Basis, Reading, of_a_liquid, ratio, reading, share
from jugcore.reading.readings.water import LEAST_CRYSTALS_G_KG, drops_cold

_GLUCOSE, _LACTOSE = c.INDEX["glucose"], c.INDEX["lactose"]


def _kept(walk: Walk) -> tuple[Floats, Floats, Floats]:
    """Grams of sucrose a gram of water keeps at fridge temperature: with the other sugars at their worst, and alone; and grams of those."""
    end = walk.product
    invert = end.mass_g[:, c.INDEX["glucose"]] + end.mass_g[:, c.INDEX["fructose"]]
    per_water = np.where(end.water_g > 0, invert / np.where(end.water_g > 0, end.water_g, 1.0), 0.0)
    least, alone = sucrose_per_water(walk.of_kitchen("fridge_c"), per_water)
    return least, alone, per_water


@reading("glance", 5)
@once
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


#: What the glucose and lactose of a kilogram may be off by, and the sucrose. [g/kg]
_CRYSTALS_DOUBT = 4.0


def _may_drop(walk: Walk) -> bool:
    """Whether so much of it is sucrose, or so much sugar may drop, that crystals are worth a line."""
    drops = drops_cold(walk)[0].crystals_g[0]
    return share(walk, c.SUCROSE) > 0.45 or bool(drops > LEAST_CRYSTALS_G_KG * 1e-3 * float(walk.product.total_g[0]))


@reading("cold", 1, where=_may_drop)
@of_a_liquid
def crystals(walk: Walk) -> Reading:
    """Grams of sugar that may drop from a kilogram in the fridge: of sucrose, of dextrose and of milk's own, with the water in them."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    likely, most = drops_cold(walk)
    value, high = (ratio(left.crystals_g, end.total_g, 1e3) for left in (likely, most))
    water = ratio(_water_back_g(walk), end.total_g, 1e3)
    # What the margins rule out does not drop, and what they leave open is not sure to.
    margins = [cold_margin(walk)]
    margins += [make(walk) for make, sugar in ((glucose_margin, _GLUCOSE), (lactose_margin, _LACTOSE)) if end.mass_g[0, sugar] > 0]
    perhaps = np.any([each.low < 0 for each in margins], axis=0) | (value > 0)
    surely = np.any([each.high < 0 for each in margins], axis=0)
    each = (("sucrose", likely.sucrose_g), ("dextrose", likely.glucose_g), ("lactose", likely.lactose_g))
    return Reading(
        "crystals", f"May crystallise at {t:g} °C", "g/kg", 0, value,
        np.where(surely, np.maximum(value - _CRYSTALS_DOUBT, 0.0), 0.0), np.where(perhaps, np.maximum(high, value) + _CRYSTALS_DOUBT, value),
        Basis(
            "each sugar − water × that sugar per gram of water at saturation, per kg of product; dextrose and lactose take water with them",
            "Vavrinecz 1962; Jackson and Silsbee 1922, Hudson 1908, from memory", "0 to 50 °C",
            "4 g/kg of sucrose, a tenth of the others; a syrup a fifth above saturation may stay clear for weeks until something seeds it",
            "hard bound: as much as may, not as much as will",
        ),
        (*((f"{name} per kg", float(ratio(grams, end.total_g, 1e3)[0]), "g") for name, grams in each if grams[0] > 0),
            ("water that dissolves it again, per kg", float(water[0]), "g"), ("all dissolved from", _all_clear_down_to_c(end) or float("nan"), "°C")),
        why_not="" if np.isfinite(value[0]) else "No crystals can be worked out: it is dry.",
    )  # fmt: skip


def _water_back_g(walk: Walk) -> Floats:
    """Water (K,) that keeps every sugar dissolved in the fridge, less what there is. [g]"""
    end = walk.product
    cold = np.clip(walk.of_kitchen("fridge_c"), 0.0, 50.0)
    keeps = ((c.SUCROSE, _kept(walk)[1]), (_GLUCOSE, np.asarray(glucose_per_water(cold))), (_LACTOSE, np.asarray(lactose_per_water(cold))))
    wanted = np.maximum.reduce([end.mass_g[:, i] / saturated for i, saturated in keeps])
    return np.asarray(np.maximum(wanted - end.water_g, 0.0))


@reading("cold", 2, where=lambda walk: share(walk, _GLUCOSE) > 0.15)
@once
@of_a_liquid
def glucose_margin(walk: Walk) -> Reading:
    """How far below its own saturation dextrose is in the fridge."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    saturated = np.asarray(glucose_per_water(np.clip(walk.of_kitchen("fridge_c"), 0, 50)))
    glucose = end.mass_g[:, _GLUCOSE]
    beside = ratio(GLUCOSE_EFFECT * (end.mass_g[:, c.SUCROSE] + end.mass_g[:, c.INDEX["fructose"]]), end.water_g, 1.0)
    value = 100.0 * (1.0 - ratio(glucose, saturated * end.water_g, 1.0))
    worst = 100.0 * (1.0 - ratio(glucose, np.maximum(saturated - beside, 0.05) * end.water_g, 1.0))
    doubt = 0.05 * np.abs(100.0 - value)
    return Reading(
        "glucose_margin", f"Dextrose margin at {t:g} °C", "% dextrose", 0, value, worst - doubt, value + doubt,
        Basis(
            "1 − (glucose ÷ water) ÷ (glucose ÷ water at saturation), at fridge temperature", "Jackson and Silsbee 1922, from memory", "0 to 50 °C",
            f"a twentieth of what is dissolved; sucrose and fructose take room from it, 0 to {GLUCOSE_EFFECT:g} g a gram: a bracket",
            "90 % interval, its lower end a bracket",
        ),
        (("glucose per g of water", float(ratio(glucose, end.water_g, 1.0)[0]), "g/g"), ("at saturation", float(saturated[0]), "g/g")),
    )  # fmt: skip


@reading("cold", 3, where=lambda walk: share(walk, _LACTOSE) > 0.03)
@once
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


def _all_clear_down_to_c(matter: Matter) -> float | None:
    """Coldest temperature at which sucrose, glucose and lactose all stay dissolved, in the first case; None above what the tables hold."""
    water_g = float(matter.water_g[0])
    ends = [clear_down_to_c(matter)]
    for i, keeps, hottest in ((_GLUCOSE, glucose_per_water, 50.0), (_LACTOSE, lactose_per_water, 90.0)):
        there = float(matter.mass_g[0, i]) / water_g if water_g > 0 else 0.0
        low, high = 0.0, hottest
        if there <= float(keeps(0.0)):
            continue
        if there > float(keeps(hottest)):
            return None
        for _ in range(40):
            middle = 0.5 * (low + high)
            low, high = (middle, high) if float(keeps(middle)) < there else (low, middle)
        ends.append(high)
    known = [end for end in ends if end is not None]
    return max(known) if len(known) == len(ends) else None


def own_cold_limit_brix(matter: Matter, temperature_c: float) -> float | None:
    """°Brix at which this mix of solids meets sucrose saturation at a temperature; None if never below 85."""
    solids = float(matter.dissolved_g[0])
    sugar = float(matter.mass_g[0, c.SUCROSE])
    if solids <= 0 or sugar <= 0:
        return None
    per_water = float(sucrose.ratio_from_brix(sucrose.solubility_brix(temperature_c))) * solids / sugar
    limit = float(sucrose.brix_from_ratio(per_water))
    return limit if limit <= 85 else None
