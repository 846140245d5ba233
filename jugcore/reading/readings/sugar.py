"""Sugar: °Brix in its three meanings, and sugars by weight and by volume."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.matter.matter import ADDED_SUGAR, FREE_SUGAR
from jugcore.method.walk import Walk
from jugcore.reading.readings.base import BALANCE, Basis, Reading, exact, of_a_liquid, ratio, reading


@reading("glance", 1)
@of_a_liquid
def brix(walk: Walk) -> Reading:
    """Dissolved solids in 100 g of liquid: the °Brix a boil ends by."""
    end = walk.product
    solids, liquid = end.dissolved_g, end.dissolved_g + end.water_g
    return exact(
        "brix", "°Brix", "°Bx", 1, solids, liquid, 100.0,
        Basis("dissolved solids ÷ (dissolved solids + water) × 100", BALANCE, "any liquid", "that of the compositions"),
        ("dissolved solids", float(solids[0]), "g"), ("water", float(end.water_g[0]), "g"),
    )  # fmt: skip


@reading("sugar", 4)
@of_a_liquid
def sucrose(walk: Walk) -> Reading:
    """True sucrose in 100 g, of the same 100 g as the sugars are."""
    end = walk.product
    sugar = end.mass_g[:, c.SUCROSE]
    return exact(
        "sucrose", "True sucrose in 100 g", "g", 1, sugar, end.total_g, 100.0,
        Basis("sucrose ÷ product × 100", BALANCE, "any liquid", "that of the compositions; inversion in the pot is not counted"),
        ("sucrose", float(sugar[0]), "g"), ("product", float(end.total_g[0]), "g"),
    )  # fmt: skip


#: A refractometer on the sucrose scale reads this much low per % of invert sugar (ICUMSA, from memory).
_INVERT_LOW = 0.022


@reading("sugar", 3)
@of_a_liquid
def refractometer(walk: Walk) -> Reading:
    """What a refractometer on the sucrose scale would show at 20 °C."""
    end = walk.product
    liquid = end.dissolved_g + end.water_g
    invert = end.mass_g[:, c.INDEX["glucose"]] + end.mass_g[:, c.INDEX["fructose"]]
    value = ratio(end.dissolved_g - _INVERT_LOW * invert, liquid, 100.0)
    other = ratio(end.dissolved_g - end.mass_g @ c.SUGARS, liquid, 100.0)
    doubt = 0.2 + 0.2 * np.nan_to_num(other)
    return Reading(
        "refractometer", "A refractometer would show", "°Bx", 1, value, value - doubt, value + doubt,
        Basis(
            "°Brix less 0.022 for each % of glucose and fructose; other dissolved solids counted like sugar",
            "ICUMSA invert correction, from memory", "0 to 85 °Bx, at 20 °C",
            "± 0.2 and a fifth of what is dissolved and is not sugar", "90 % interval, estimate",
        ),
        (("°Brix", float(ratio(end.dissolved_g, liquid, 100.0)[0]), "°Bx"), ("glucose and fructose", float(invert[0]), "g")),
    )  # fmt: skip


@reading("sugar", 1)
def sugars_100g(walk: Walk) -> Reading:
    """All sugars in 100 g."""
    end = walk.product
    return exact(
        "sugars_100g", "Sugars in 100 g", "g", 1, end.mass_g @ c.SUGARS, end.total_g, 100.0,
        Basis("sugars ÷ product × 100", BALANCE, "any", "that of the compositions"),
        ("sugars", float((end.mass_g @ c.SUGARS)[0]), "g"),
        ("of which free (WHO)", float(end.tracer[0, FREE_SUGAR]), "g"),
        ("of which added (no juice's)", float(end.tracer[0, ADDED_SUGAR]), "g"),
    )  # fmt: skip


@reading("sugar", 2)
@of_a_liquid
def sugar_g_l(walk: Walk) -> Reading:
    """Sugars per litre at 20 °C."""
    end = walk.product
    volume = end.volume_ml(20.0)
    value = ratio(end.mass_g @ c.SUGARS, volume, 1e3)
    return Reading(
        "sugar_g_l", "Sugars per litre", "g/l", 0, value, value * 0.997, value * 1.003,
        Basis("sugars ÷ volume at 20 °C", "ICUMSA SPS-4", "0 to 85 °Bx", "0.3 %", "90 % interval"),
        (("volume at 20 °C", float(volume[0]), "ml"),),
        why_not="No volume: it is dry or above 85 °Bx." if np.isnan(volume[0]) else "",
    )  # fmt: skip
