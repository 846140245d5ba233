"""Water activity, with a band that holds all that is not known: the rules, the salts, the concentration, and what may crystallise."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Bools, Floats
from jugcore.matter.matter import SALT_LIKE_ASH, Matter
from jugcore.method.walk import Walk, once
from jugcore.physics.liquor import Liquor, liquor
from jugcore.physics.water_activity import ESTIMATED, MAX_SALT_MOLAL, SALT_MOLAR_MASS_G, _water_activity, combining_spread, salts_g
from jugcore.reading.readings.base import Basis, Reading, of_a_liquid, reading

#: Sucrose alone is known to this, mixtures at best to that (the two combining rules, reference tables). [1]
_SUCROSE_DOUBT, _MIXED_DOUBT = 0.002, 0.015
#: Of the dissolved solids this share of anything but sucrose makes it a mixture.
_MIXED_SHARE = 0.01
#: How far off the concentration of a pot may be: of what was weighed together and stayed cool; of what is cloudy or was hot, from which
#: water steams off that nobody weighs (common practice, no source). [°Bx]
CLEAR_DOUBT_BX, CLOUDY_DOUBT_BX = 0.75, 1.0
#: From here on a pot steams. [°C]
_STEAMS_C = 50.0
#: Above this share of what does not dissolve a refractometer's glass is cloudy.
_CLOUDY = 0.005
#: Crystals below this are nobody's. [g/kg]
LEAST_CRYSTALS_G_KG = 2.0
_AT_C = 25.0


@reading("glance", 4)
@of_a_liquid
def water_activity(walk: Walk) -> Reading:
    """Water activity at 25 °C, with its band."""
    end = walk.product
    mass, ash, holds = _solution(end)
    found, doubts = _with_doubts(walk, mass, ash, holds)
    value = np.where(holds, found, np.nan)
    doubt = sum(doubts.values(), np.zeros(walk.cases))
    low, high = value - doubt, np.minimum(value + doubt, 1.0)
    cold = over_crystals(walk)
    solids, sugar = end.dissolved_g, mass[:, c.SUCROSE]
    crystals = () if not np.isfinite(cold[1][0]) else (("over the crystals that may drop in the fridge, at most", float(cold[1][0]), ""),)
    return Reading(
        "water_activity", "Water activity", "", 3, value, low, np.where(np.isfinite(cold[1]), np.fmax(high, cold[1]), high),
        Basis(
            "product of the solutes' own activities: sucrose by Starzak and Peacock, the rest by Norrish, salt by Pitzer; other ash as the salt it "
            "acts like, by kind of ingredient",
            "Starzak and Peacock 1997; Chirife 1980; Ross 1975", "0 to 95 °Bx, 25 °C",
            f"sucrose 0.002; a mixture 0.015, or as far as the two usual rules for combining solutes lie apart; half of what ash and solutes of "
            f"unknown size do; {CLEAR_DOUBT_BX:g} °Bx of concentration, {CLOUDY_DOUBT_BX:g} where it is cloudy or was hot; and the liquor over "
            "sugar that may crystallise in the fridge",
            "90 % interval",
        ),
        (("water", float(end.water_g[0]), "g"), ("sucrose", float(sugar[0]), "g"), ("other dissolved", float((solids - sugar)[0]), "g"),
            *((f"in doubt for {name}", float(each[0]), "") for name, each in doubts.items()), *crystals),
        why_not="" if holds[0] else "No water activity: too little water, or too much salt, for the model.",
    )  # fmt: skip


@once
def over_crystals(walk: Walk) -> tuple[Floats, Floats]:
    """Least and most water activity (K,) of the liquor over what may crystallise in the fridge; NaN where nothing may, or no model holds.

    Least by what drops of each sugar alone, most by as much as the brackets allow; where only those allow any, the least is NaN.
    """
    end = walk.product
    ends: list[Floats] = []
    for left, sign in zip(drops_cold(walk), (-1.0, 1.0), strict=True):
        mass, ash, holds = _solution(end, left)
        drops = holds & (left.crystals_g > LEAST_CRYSTALS_G_KG * 1e-3 * end.total_g)
        if not drops.any():
            ends.append(np.full(walk.cases, np.nan))
            continue
        found, doubts = _with_doubts(walk, mass, ash, holds, saturated=True)
        doubt = sum(doubts.values(), np.zeros(walk.cases))
        ends.append(np.where(drops, np.minimum(found + sign * doubt, 1.0), np.nan))
    return ends[0], ends[1]


@once
def drops_cold(walk: Walk) -> tuple[Liquor, Liquor]:
    """What is left of the product in solution in the fridge, and what may drop: of each sugar alone, and as much as the brackets allow."""
    mass, cold = walk.product.mass_g, walk.of_kitchen("fridge_c")
    return liquor(mass, cold, worst=False), liquor(mass, cold, worst=True)


def _solution(end: Matter, left: Liquor | None = None) -> tuple[Floats, Floats, Bools]:
    """Masses (K, C) with water wherever there is none, what of the ash acts as salt, and where the model holds."""
    mass = np.array(end.mass_g if left is None else left.mass_g)
    wet = mass[:, c.WATER] > 0
    mass = np.where(wet[:, None], mass, 0.0)
    mass[:, c.WATER] = np.where(wet, mass[:, c.WATER], 1.0)
    ash = np.where(wet, end.tracer[:, SALT_LIKE_ASH], 0.0)
    sugar = mass[:, c.SUCROSE]
    molal = salts_g(mass, ash) / SALT_MOLAR_MASS_G / (mass[:, c.WATER] * 1e-3)
    return mass, ash, wet & (sugar / (sugar + mass[:, c.WATER]) <= 0.95) & (molal <= MAX_SALT_MOLAL)


def _with_doubts(walk: Walk, mass: Floats, ash: Floats, holds: Bools, *, saturated: bool = False) -> tuple[Floats, dict[str, Floats]]:
    """Water activity (K,), and how far off it may be, (K,), by what makes it so. A saturated liquor's concentration is its own."""
    solids = mass @ c.DISSOLVED
    # As it is, without its ash, with fewer solutes of unknown size, with more water: four mixtures, one sum.
    mixtures = [mass, mass, mass * (1.0 - 0.5 * ESTIMATED)] + ([] if saturated else [_wetter(walk, mass, solids)])
    salts = np.stack([ash, np.zeros(walk.cases), *[ash] * (len(mixtures) - 2)])
    found = _water_activity(np.stack(mixtures), np.full(salts.shape, _AT_C), salts)
    value, without_ash, fewer = found[:3]
    share = (solids - np.maximum(mass[:, c.SUCROSE], mass[:, c.SALT])) / np.where(solids > 0, solids, 1.0)
    mixed = np.minimum(np.maximum(share, 0.0) / _MIXED_SHARE, 1.0)
    rules = np.maximum(combining_spread(mass) + _SUCROSE_DOUBT, _SUCROSE_DOUBT + (_MIXED_DOUBT - _SUCROSE_DOUBT) * mixed)
    doubts = {"the rules": rules, "the ash": 0.5 * (without_ash - value), "what is dissolved and is not sugar": fewer - value}
    if not saturated:
        doubts["its concentration"] = found[3] - value
    return value, {name: np.where(holds, np.maximum(each, 0.0), 0.0) for name, each in doubts.items()}


def _wetter(walk: Walk, mass: Floats, solids: Floats) -> Floats:
    """The solution (K, C) so much of a °Bx weaker as its concentration is in doubt: more where it is cloudy, or was boiled down and weighed."""
    end = walk.product
    hot = np.zeros(walk.cases, bool)
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        held = step.after.vessels.get(stage.writes())
        if held is not None:
            hot |= (held.total_g > 0) & (held.warmth_c >= _STEAMS_C)
    cloudy = end.mass_g @ (1.0 - c.DISSOLVED) - end.water_g > _CLOUDY * end.total_g
    doubt_bx = np.where(cloudy | hot, CLOUDY_DOUBT_BX, CLEAR_DOUBT_BX)
    whole = solids + mass[:, c.WATER]
    wetter = np.array(mass)
    wetter[:, c.WATER] += doubt_bx * whole * whole / (100.0 * np.where(solids > 0, solids, np.inf))
    return wetter
