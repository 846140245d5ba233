"""The catalogue of readings: numbers read off a walk, each with its working.

A reading is ``num / den`` over the walk where that makes sense, so that a solver
can hold it; all carry a band, what the band means, and where the model ends. The
readings themselves are in ``formula/read``, a file a subject.
"""

from __future__ import annotations

from jugcore import components as c
from jugcore.matter.matter import BROWNED, STARCH_IN
from jugcore.method.walk import Walk
from jugcore.reading.readings import cold, content, flow, made, size, spice, sugar, taste
from jugcore.reading.readings import water as in_water
from jugcore.reading.readings.base import GROUPS, Basis, Group, MakeReading, Reading
from jugcore.reading.readings.cold import clear_down_to_c, own_cold_limit_brix
from jugcore.reading.readings.flow import runs_clear, times_water
from jugcore.reading.seasoning import seasoning_g

#: Every maker of a reading, under its heading and in the order they are shown.
_BY_GROUP: dict[Group, tuple[MakeReading, ...]] = {
    "glance": (
        sugar.brix, size.yield_l, size.yield_g, in_water.water_activity, cold.cold_margin, flow.viscosity, content.fat, taste.sweetness,
        content.cost_kg,
    ),
    "sugar": (sugar.sugars_100g, sugar.sugar_g_l, sugar.refractometer, sugar.sucrose_share),
    "cold": (cold.crystals, cold.glucose_margin, cold.lactose_margin),
    "taste": (taste.acidity, taste.ph, spice.spice_started, spice.spice_finished, taste.caffeine),
    "made": (made.cooked_starch, made.browned, made.foam_l),
    "matter": (size.density, content.energy_100g, content.cost_l, content.cost_dose, content.heat_capacity),
}  # fmt: skip
READINGS: tuple[MakeReading, ...] = tuple(make for makers in _BY_GROUP.values() for make in makers)
#: Readings by their id.
READING_OF: dict[str, MakeReading] = {"sucrose": sugar.sucrose_share} | {make.__name__: make for make in READINGS if make is not sugar.sucrose_share}
#: The heading of each reading.
GROUP_OF: dict[str, Group] = {
    "sucrose" if make is sugar.sucrose_share else make.__name__: group for group, makers in _BY_GROUP.items() for make in makers
}


def readings(walk: Walk) -> list[Reading]:
    """Every reading that means something for this walk."""
    end = walk.product
    total = float(end.total_g[0])
    if not total > 0:
        return []
    shares = end.mass_g[0] / total
    acids = 100 * float(shares @ c.ACIDS)
    drops = in_water.drops_cold(walk)[0]
    has: dict[MakeReading, bool] = {
        spice.spice_started: float(seasoning_g(walk)[0]) > 0,
        spice.spice_finished: float(seasoning_g(walk)[0]) > 0,
        content.fat: float(shares @ c.FAT) > 1e-3,
        taste.acidity: acids > taste.LEAST_ACID,
        taste.ph: acids > taste.LEAST_ACID,
        taste.sweetness: float(shares @ c.SUGARS) > 1e-3,
        taste.caffeine: float(shares[c.INDEX["caffeine"]]) > 1e-6,
        made.cooked_starch: float(end.tracer[0, STARCH_IN]) > 1e-3 * total,
        made.browned: float(end.tracer[0, BROWNED]) > 1e-3 * total,
        made.foam_l: float(end.air_ml[0]) > 0,
        cold.crystals: float(shares[c.SUCROSE]) > 0.45 or bool(drops.crystals_g[0] > in_water.LEAST_CRYSTALS_G_KG * 1e-3 * total),
        cold.glucose_margin: float(shares[c.INDEX["glucose"]]) > 0.15,
        cold.lactose_margin: float(shares[c.INDEX["lactose"]]) > 0.03,
    }
    return [make(walk) for make in READINGS if has.get(make, True)]


__all__ = ["GROUPS", "GROUP_OF", "READINGS", "READING_OF", "Basis", "Group", "Reading", "clear_down_to_c", "own_cold_limit_brix"]
__all__ += ["readings", "runs_clear", "times_water"]
