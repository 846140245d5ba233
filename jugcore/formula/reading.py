"""Readings: numbers read off a walk, each with its working.

A reading is ``num / den`` over the walk where that makes sense, so that a solver
can hold it; all carry a band, what the band means, and where the model ends.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import wraps

import numpy as np

from jugcore.errors import Floats
from jugcore.formula.load import seasoning_g
from jugcore.matter import components as c
from jugcore.matter.matter import FREE_SUGAR, Matter
from jugcore.method.walk import Walk
from jugcore.physics import sucrose, water
from jugcore.physics.water_activity import MAX_SALT_MOLAL, MAX_SUCROSE_BRIX, SALT_MOLAR_MASS_G, _water_activity


@dataclass(frozen=True)
class Basis:
    """How a reading is worked out and how far to trust it."""

    formula: str
    source: str
    valid: str
    error: str
    band: str = "hard bound"


@dataclass(frozen=True)
class Reading:
    """One number a person may read, ask about, or (later) type over.

    ``value``, ``low`` and ``high`` are (K,); NaN where the model ends, and then
    ``why_not`` says so. ``inputs`` are what went in, for the first case.
    """

    id: str
    title: str
    unit: str
    digits: int
    value: Floats
    low: Floats
    high: Floats
    basis: Basis
    inputs: tuple[tuple[str, float, str], ...] = ()
    num: Floats | None = field(default=None, repr=False)
    den: Floats | None = field(default=None, repr=False)
    why_not: str = ""
    #: Grows by factors, not by sums: a solver does better with its logarithm.
    steep: bool = False


def _ratio(num: Floats, den: Floats, factor: float) -> Floats:
    return np.asarray(np.where(den > 0, factor * num / np.where(den > 0, den, 1.0), np.nan))


def _exact(
    id: str, title: str, unit: str, digits: int, num: Floats, den: Floats, factor: float, basis: Basis, *inputs: tuple[str, float, str]
) -> Reading:
    value = _ratio(num, den, factor)
    return Reading(id, title, unit, digits, value, value, value, basis, inputs, factor * num, den)


_BALANCE = "mass balance of the walk, exact for the compositions given"


def _of_a_liquid(make: Callable[[Walk], Reading]) -> Callable[[Walk], Reading]:
    """A reading that has no value of a powder or a damp cake."""

    @wraps(make)
    def made(walk: Walk) -> Reading:
        found, wet = make(walk), walk.product.is_liquid
        if bool(wet.all()):
            return found
        value, low, high = (np.where(wet, each, np.nan) for each in (found.value, found.low, found.high))
        why_not = found.why_not if wet[0] or found.why_not else f"No value for “{found.title}”: there is too little liquid in it."
        return replace(found, value=value, low=low, high=high, why_not=why_not)

    return made


@_of_a_liquid
def brix(walk: Walk) -> Reading:
    """Dissolved solids in 100 g of liquid: the °Brix a boil ends by."""
    end = walk.product
    solids, liquid = end.dissolved_g, end.dissolved_g + end.water_g
    return _exact(
        "brix", "°Brix", "°Bx", 1, solids, liquid, 100.0,
        Basis("dissolved solids ÷ (dissolved solids + water) × 100", _BALANCE, "any liquid", "that of the compositions"),
        ("dissolved solids", float(solids[0]), "g"), ("water", float(end.water_g[0]), "g"),
    )  # fmt: skip


@_of_a_liquid
def sucrose_share(walk: Walk) -> Reading:
    """True sucrose in 100 g of liquid."""
    end = walk.product
    sugar, liquid = end.mass_g[:, c.SUCROSE], end.dissolved_g + end.water_g
    return _exact(
        "sucrose", "True sucrose", "%", 1, sugar, liquid, 100.0,
        Basis("sucrose ÷ liquid × 100", _BALANCE, "any liquid", "that of the compositions; inversion in the pot is not counted"),
        ("sucrose", float(sugar[0]), "g"), ("liquid", float(liquid[0]), "g"),
    )  # fmt: skip


#: A refractometer on the sucrose scale reads this much low per % of invert sugar (ICUMSA, from memory).
_INVERT_LOW = 0.022


@_of_a_liquid
def refractometer(walk: Walk) -> Reading:
    """What a refractometer on the sucrose scale would show at 20 °C."""
    end = walk.product
    liquid = end.dissolved_g + end.water_g
    invert = end.mass_g[:, c.INDEX["glucose"]] + end.mass_g[:, c.INDEX["fructose"]]
    value = _ratio(end.dissolved_g - _INVERT_LOW * invert, liquid, 100.0)
    other = _ratio(end.dissolved_g - end.mass_g @ c.SUGARS, liquid, 100.0)
    doubt = 0.2 + 0.2 * np.nan_to_num(other)
    return Reading(
        "refractometer", "A refractometer would show", "°Bx", 1, value, value - doubt, value + doubt,
        Basis(
            "°Brix less 0.022 for each % of glucose and fructose; other dissolved solids counted like sugar",
            "ICUMSA invert correction, from memory", "0 to 85 °Bx, at 20 °C",
            "± 0.2 and a fifth of what is dissolved and no sugar", "90 % interval, estimate",
        ),
        (("°Brix", float(_ratio(end.dissolved_g, liquid, 100.0)[0]), "°Bx"), ("glucose and fructose", float(invert[0]), "g")),
    )  # fmt: skip


def yield_g(walk: Walk) -> Reading:
    """Grams of product."""
    total = walk.product.total_g
    return _exact(
        "yield_g", "Yield by weight", "g", 0, total, np.ones_like(total), 1.0,
        Basis("what the product's vessel holds when the last stage ends", _BALANCE, "any", "film and cake are estimates to be learned"),
    )  # fmt: skip


@_of_a_liquid
def yield_l(walk: Walk) -> Reading:
    """Litres of product, cold."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    volume = end.volume_ml(walk.of_kitchen("fridge_c"))
    return Reading(
        "yield_l", f"Yield at {t:g} °C", "l", 2, volume / 1e3, volume / 1e3 * 0.997, volume / 1e3 * 1.003,
        Basis(
            "liquid mass ÷ sucrose-solution density at its °Brix, fat and solids added by volume",
            "ICUMSA SPS-4, NBS C440", "0 to 85 °Bx; all sugars count as sucrose, salts by their own volume",
            "0.3 %; 0.6 % with milk or cream", "90 % interval",
        ),
        (("mass", float(end.total_g[0]), "g"),),
        why_not="No volume: it is dry or above 85 °Bx." if np.isnan(volume[0]) else "",
    )  # fmt: skip


def sugars_100g(walk: Walk) -> Reading:
    """All sugars in 100 g."""
    end = walk.product
    return _exact(
        "sugars_100g", "Sugars in 100 g", "g", 1, end.mass_g @ c.SUGARS, end.total_g, 100.0,
        Basis("sugars ÷ product × 100", _BALANCE, "any", "that of the compositions"),
        ("sugars", float((end.mass_g @ c.SUGARS)[0]), "g"),
        ("of which added (free)", float(end.tracer[0, FREE_SUGAR]), "g"),
    )  # fmt: skip


@_of_a_liquid
def sugar_g_l(walk: Walk) -> Reading:
    """Sugars in a litre at 20 °C."""
    end = walk.product
    volume = end.volume_ml(20.0)
    value = _ratio(end.mass_g @ c.SUGARS, volume, 1e3)
    return Reading(
        "sugar_g_l", "Sugars in a litre", "g/l", 0, value, value * 0.997, value * 1.003,
        Basis("sugars ÷ volume at 20 °C", "ICUMSA SPS-4", "0 to 85 °Bx", "0.3 %", "90 % interval"),
        (("volume at 20 °C", float(volume[0]), "ml"),),
        why_not="No volume: it is dry or above 85 °Bx." if np.isnan(volume[0]) else "",
    )  # fmt: skip


def fat(walk: Walk) -> Reading:
    """Fat in 100 g."""
    end = walk.product
    return _exact(
        "fat", "Fat", "%", 1, end.mass_g @ c.FAT, end.total_g, 100.0,
        Basis("fat ÷ product × 100", _BALANCE, "any", "that of the compositions"),
    )  # fmt: skip


@_of_a_liquid
def water_activity(walk: Walk) -> Reading:
    """Water activity at 25 °C, with its band."""
    end = walk.product
    wet = end.water_g > 0
    mass = np.where(wet[:, None], end.mass_g, 0.0)
    mass[:, c.WATER] = np.where(wet, mass[:, c.WATER], 1.0)
    sugar = mass[:, c.SUCROSE]
    salts = (mass[:, c.SALT] + mass[:, c.OTHER_ASH]) / SALT_MOLAR_MASS_G / (mass[:, c.WATER] * 1e-3)
    holds = wet & (sugar / (sugar + mass[:, c.WATER]) <= 0.95) & (salts <= MAX_SALT_MOLAL)
    value = np.where(holds, _water_activity(mass, np.full(walk.cases, 25.0)), np.nan)
    solids = end.dissolved_g
    others = np.where(solids > 0, 1 - end.mass_g[:, c.SUCROSE] / np.where(solids > 0, solids, 1.0), 0.0)
    # Sucrose alone is known to 0.002; the combining rules differ by up to 0.015 for mixtures.
    doubt = 0.002 + 0.013 * np.minimum(1.0, 4 * others) * np.minimum(1.0, (1 - np.nan_to_num(value, nan=1.0)) / 0.1)
    return Reading(
        "water_activity", "Water activity", "", 3, value, value - doubt, np.minimum(value + doubt, 1.0),
        Basis(
            "product of the solutes' own activities: sucrose by Starzak and Peacock, the rest by Norrish, salt by Pitzer",
            "Starzak and Peacock 1997; Chirife 1980; Ross 1975", "0 to 95 °Bx, 25 °C",
            "0.002 for sucrose; up to 0.015 for mixtures", "90 % interval",
        ),
        (("water", float(end.water_g[0]), "g"), ("sucrose", float(sugar[0]), "g"), ("other dissolved", float((solids - sugar)[0]), "g")),
        why_not="" if holds[0] else "No water activity: too little water, or too much salt, for the model.",
    )  # fmt: skip


def _started_g(walk: Walk) -> Floats:
    return np.asarray(sum((walk.end.lines[id] for id in walk.method.started if id in walk.end.lines), np.zeros(walk.cases)))


def spice_started(walk: Walk) -> Reading:
    """Spice per kilogram of starting mixture."""
    spice, base = seasoning_g(walk), _started_g(walk)
    return _exact(
        "spice_started", "Spice per kg started", "g/kg", 1, spice, base, 1e3,
        Basis("spice, tea and herbs weighed in, of a blend what is used ÷ what else is in the pot before it boils × 1,000", _BALANCE, "any", "exact"),
        ("spice", float(spice[0]), "g"), ("starting mixture", float(base[0]), "g"),
    )  # fmt: skip


def spice_finished(walk: Walk) -> Reading:
    """Spice per kilogram of product."""
    spice, total = seasoning_g(walk), walk.product.total_g
    return _exact(
        "spice_finished", "Spice per kg finished", "g/kg", 1, spice, total, 1e3,
        Basis("spice, tea and herbs weighed in, of a blend what is used ÷ product × 1,000", _BALANCE, "any", "that of the yield"),
        ("spice", float(spice[0]), "g"), ("product", float(total[0]), "g"),
    )  # fmt: skip


@_of_a_liquid
def cold_margin(walk: Walk) -> Reading:
    """How far below cold saturation the sucrose is, judged by grams of sucrose per gram of water."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    saturated = np.asarray(sucrose.ratio_from_brix(sucrose.solubility_brix(walk.of_kitchen("fridge_c"))))
    sugar = end.mass_g[:, c.SUCROSE]
    wet = sugar <= MAX_SUCROSE_BRIX / 100 * (sugar + end.water_g)
    value = np.where(wet, 100.0 * (1.0 - _ratio(sugar, saturated * end.water_g, 1.0)), np.nan)
    doubt = np.full(walk.cases, 0.6)
    return Reading(
        "cold_margin", f"Cold margin at {t:g} °C", "% sucrose", 0, value, value - doubt, value + doubt,
        Basis(
            "1 − (sucrose ÷ water) ÷ (sucrose ÷ water at saturation), at fridge temperature",
            "Vavrinecz 1962", "0 to 90 °C",
            "0.6 points; other sugars shift the limit a little and are not counted", "90 % interval",
        ),
        (
            ("sucrose per g of water", float(_ratio(sugar, end.water_g, 1.0)[0]), "g/g"),
            ("at saturation", float(saturated[0]), "g/g"), ("fridge", t, "°C"),
        ),
        num=saturated * end.water_g - sugar, den=saturated * end.water_g / 100.0,
        why_not="" if np.isfinite(value[0]) else "No cold margin: there is no water to speak of.",
    )  # fmt: skip


def runs_clear(walk: Walk) -> bool:
    """Whether the first case is a clear syrup or water: under half a percent of fat, protein, gum and
    solids, and what is dissolved in it nine tenths sugars (brine and extracts flow otherwise).
    """
    end = walk.product
    body = c.INSOLUBLE + c.FAT
    body[[c.INDEX["protein"], c.INDEX["pectin_and_gums"]]] = 1.0
    other = end.dissolved_g - end.mass_g @ c.SUGARS + end.mass_g[:, c.INDEX["ethanol"]]
    clear = (end.mass_g @ body < 0.005 * end.total_g) & (other <= 0.1 * end.dissolved_g)
    return bool(clear[0])


@_of_a_liquid
def viscosity(walk: Walk) -> Reading:
    """Thickness at fridge temperature, all dissolved solids taken as sucrose."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    b = end.brix
    fits = b <= 75
    value = np.where(fits, sucrose._viscosity_mpa_s(np.where(fits, b, 0.0), walk.of_kitchen("fridge_c")), np.nan)
    plain = runs_clear(walk)
    spread = (0.1 if t < 10 else 0.03) if plain else 0.5
    return Reading(
        "viscosity", f"Pours at {t:g} °C", "mPa·s", 0, value, value * (1 - spread), value * (1 + spread),
        Basis(
            "Genotelle form over the mole fraction of sugar", "refitted to Swindells 1958", "0 to 75 °Bx, 0 to 80 °C; all sugars count as sucrose",
            "10 % below 10 °C for a clear syrup; with fat, pulp, gum, salt or alcohol only an order",
            "90 % interval" if plain else "an order, indicative",
        ),
        (("°Brix", float(b[0]), "°Bx"), ("temperature", t, "°C")),
        why_not="" if fits[0] else "No thickness: it is dry or above 75 °Bx.",
        steep=True,
    )  # fmt: skip


@_of_a_liquid
def density(walk: Walk) -> Reading:
    """Density at 20 °C."""
    end = walk.product
    value = _ratio(end.total_g, end.volume_ml(20.0), 1.0)
    return Reading(
        "density", "Density at 20 °C", "g/ml", 3, value, value * 0.997, value * 1.003,
        Basis("mass ÷ volume", "ICUMSA SPS-4; fat, protein and solids by their own densities", "0 to 85 °Bx", "0.3 %", "90 % interval"),
        why_not="" if np.isfinite(value[0]) else "No density: it is dry or above 85 °Bx.",
    )  # fmt: skip


READINGS: tuple[Callable[[Walk], Reading], ...] = (
    brix, yield_l, yield_g, water_activity, cold_margin, viscosity, spice_started, spice_finished,
    sugars_100g, sugar_g_l, fat, refractometer, sucrose_share, density,
)  # fmt: skip
#: Readings by their id.
READING_OF: dict[str, Callable[[Walk], Reading]] = {"sucrose": sucrose_share} | {
    make.__name__: make for make in READINGS if make is not sucrose_share
}


def readings(walk: Walk) -> list[Reading]:
    """Every reading that means something for this walk."""
    end = walk.product
    if not float(end.total_g[0]) > 0:
        return []
    has_spice = float(seasoning_g(walk)[0]) > 0
    has_fat = float((end.mass_g @ c.FAT)[0]) > 1e-3 * float(end.total_g[0])
    skip = set()
    if not has_spice:
        skip |= {spice_started, spice_finished}
    if not has_fat:
        skip.add(fat)
    return [make(walk) for make in READINGS if make not in skip]


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


def times_water(thickness: Reading) -> float:
    """How many times as slowly as water at 20 °C the first case pours; NaN outside the model."""
    return float(thickness.value[0]) / float(water.viscosity_mpa_s(20))


__all__ = ["READINGS", "READING_OF", "Basis", "Reading", "clear_down_to_c", "own_cold_limit_brix", "readings", "runs_clear", "times_water"]
