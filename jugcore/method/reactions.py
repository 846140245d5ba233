"""What heat and time do to matter: starch bursts, an enzyme cuts it and dies, sugar turns to caramel.

Every reaction balances: what is used up and what is made are kept, component by component.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jugcore import components as c
from jugcore.figures import Bools, Floats
from jugcore.matter.matter import (
    ADDED_SUGAR,
    AMYLASE,
    BROWNED,
    ENZYME_BEST,
    ENZYME_DIES,
    FREE_STARCH,
    FREE_SUGAR,
    GEL_FROM,
    GEL_MINUTES,
    GEL_TO,
    GELATINISED,
    STARCH_IN,
    Matter,
)
from jugcore.physics import caramel, starch, thermal

_DEXTRIN = c.INDEX["dextrin"]
_TURNS_TO = c.INDEX["other_soluble_carbohydrate"]
#: Which of low, typical, high of each constant makes starch thin slowly, as expected, and fast.
_PACES = ("slow", "typical", "fast")


@dataclass(frozen=True)
class Reacted:
    """Matter after a reaction, and what was made less what was used up, (K, C); each row adds up to nothing."""

    matter: Matter
    made_g: Floats


def nothing(matter: Matter) -> Reacted:
    """Matter in which nothing reacted."""
    return Reacted(matter, np.zeros_like(matter.mass_g))


def in_the_heat(matter: Matter, seconds: Floats, temperature_c: Floats, pace: str = "typical") -> Reacted:
    """Starch and enzyme on a course of temperatures (K, N) at seconds (K, N). Masses change, the temperature does not.

    ``pace`` takes the slow, typical or fast end of what is known, for a range.
    """
    if not bool(np.any((matter.tracer[:, FREE_STARCH] > 0) | (matter.tracer[:, AMYLASE] > 0))):
        return nothing(matter)
    i = _PACES.index(pace)
    rises = starch.SUGAR_RAISES_K[2 - i]
    cuts, dies = starch.THIN_MINUTES[2 - i], starch.LOST_HALF_MINUTES[i]
    bursts = matter.extent[:, GEL_MINUTES] * starch.GEL_SPREAD[2 - i]
    gel_from, gel_to = starch.gelatinising_c(matter.extent[:, GEL_FROM], matter.extent[:, GEL_TO], matter.brix, rises)
    best, lost = matter.extent[:, ENZYME_BEST], matter.extent[:, ENZYME_DIES]
    free, went_in = matter.tracer[:, FREE_STARCH].copy(), np.maximum(matter.tracer[:, STARCH_IN], 1e-12)
    burst = free * matter.extent[:, GELATINISED]
    live = matter.tracer[:, AMYLASE].copy()
    # What heat alone decides, for every step (K, N − 1) at once; how much of it is there then follows step by step.
    dt, t = np.diff(seconds, axis=1), 0.5 * (temperature_c[:, :-1] + temperature_c[:, 1:])
    can = starch.can_gelatinise(t, gel_from[:, None], gel_to[:, None])
    opens = starch.bursts_in(dt, bursts[:, None])
    kept = 0.5 ** (dt / starch.half_life_s(t, lost[:, None], dies))
    left = np.multiply.accumulate(np.column_stack((live, kept)), axis=1)  # before the first step, and after each
    at_work = left[:, :-1] * np.sqrt(kept)  # about its middle over the step
    works = starch.works_at(t, best[:, None], lost[:, None])
    cuts_off = 1.0 - np.exp(-starch.thinning_rate_s(at_work / went_in[:, None] * works, cuts) * dt)
    for j in range(dt.shape[1]):
        share = np.divide(burst, free, out=np.zeros_like(free), where=free > 0)  # what burst never goes back
        burst = free * (share + np.maximum(can[:, j] - share, 0.0) * opens[:, j])
        cut = burst * cuts_off[:, j]
        burst, free = burst - cut, free - cut
    live = left[:, -1]
    cut = np.minimum(matter.tracer[:, FREE_STARCH] - free, matter.mass_g[:, c.STARCH])
    # Without water to take up nothing is cut; the pot that dry has nothing to thin either.
    cut = np.minimum(cut, np.maximum(matter.water_g, 0.0) / starch.WATER_TAKEN)
    made = np.zeros_like(matter.mass_g)
    made[:, c.STARCH] -= cut
    made[:, c.WATER] -= starch.WATER_TAKEN * cut
    made[:, _DEXTRIN] += (1.0 + starch.WATER_TAKEN) * cut
    tracer, extent = matter.tracer.copy(), matter.extent.copy()
    tracer[:, FREE_STARCH], tracer[:, AMYLASE] = free, live
    extent[:, GELATINISED] = np.where(free > 1e-12, burst / np.where(free > 1e-12, free, 1.0), extent[:, GELATINISED])
    mass = matter.mass_g + made
    changed = replace(matter, mass_g=mass, enthalpy_j=thermal.enthalpy_j(mass, matter.warmth_c), tracer=tracer, extent=extent)
    return Reacted(changed, made)


def to_caramel(matter: Matter, seconds: Floats, temperature_c: Floats, where: Bools) -> Reacted:
    """Sugar turned on a course of temperatures (K, N) at seconds (K, N), in the cases ``where`` (K,). The water it loses stays in.

    What turns counts as other soluble carbohydrate; a share of its mass comes off as water.
    """
    turned = matter.mass_g * np.where(where[:, None], caramel.turned(temperature_c, seconds), 0.0)
    grams = turned.sum(axis=1)
    made = -turned
    made[:, _TURNS_TO] += (1.0 - caramel.WATER_LOST) * grams
    made[:, c.WATER] += caramel.WATER_LOST * grams
    sugars = matter.mass_g @ c.SUGARS
    tracer = matter.tracer.copy()
    tracer[:, BROWNED] += grams
    left = np.where(sugars > 0, 1.0 - grams / np.where(sugars > 0, sugars, 1.0), 1.0)
    tracer[:, [FREE_SUGAR, ADDED_SUGAR]] *= left[:, None]
    return Reacted(replace(matter, mass_g=matter.mass_g + made, tracer=tracer), made)
