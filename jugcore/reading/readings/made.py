"""What the method made of the matter: cooked starch, caramel, foam. Indicative."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.matter.matter import BROWNED, FREE_STARCH, GELATINISED, STARCH_IN
from jugcore.method.stages import Aerate
from jugcore.method.walk import Walk
from jugcore.physics import caramel, starch
from jugcore.reading.readings.base import Basis, Reading, of_a_liquid, ratio, reading, traced


@reading("made", 1, where=lambda walk: traced(walk, STARCH_IN) > 1e-3)
@of_a_liquid
def cooked_starch(walk: Walk) -> Reading:
    """Starch that has burst and was not cut, in 100 g of water: what gels overnight."""
    end = walk.product
    free, went_in = end.tracer[:, FREE_STARCH], end.tracer[:, STARCH_IN]
    burst = free * end.extent[:, GELATINISED]
    value = ratio(burst, end.water_g, 100.0)
    # How much an enzyme leaves is known to a factor in its pace, so the logarithm of what is left scales with it.
    left = np.where(went_in > 0, np.clip(free / np.where(went_in > 0, went_in, 1.0), 1e-12, 1.0), 1.0)
    slow, typical, fast = starch.THIN_MINUTES[::-1]
    most = value * left ** (typical / slow - 1.0)
    least = value * left ** (typical / fast - 1.0)
    return Reading(
        "cooked_starch", "Cooked starch, in 100 g of water", "g", 1, value, np.minimum(least, value), np.maximum(most, value),
        Basis(
            "starch that has burst in the heat, less what an enzyme cut, against the water",
            "starch texts and common practice, from memory", "cocoa, flour and starches; that of spices and fruit stays in its cells",
            "what bursts and what is cut is indicative; how it flows tomorrow is seen tomorrow", "an order, indicative",
        ),
        (("free starch that went in", float(went_in[0]), "g"), ("not cut", float(free[0]), "g"), ("water", float(end.water_g[0]), "g")),
        why_not="" if np.isfinite(value[0]) else "No value: there is no water to state it against.",
    )  # fmt: skip


@reading("made", 2, where=lambda walk: traced(walk, BROWNED) > 1e-3)
def browned(walk: Walk) -> Reading:
    """Share of the sugar browned that went into the product."""
    end = walk.product
    gone = end.tracer[:, BROWNED]
    all_of_it = gone + end.mass_g @ c.SUGARS
    value = ratio(gone, all_of_it, 100.0)
    share = value / 100.0
    low = 100 * (1 - (1 - share) ** (1 / caramel.SPREAD))
    high = 100 * (1 - (1 - share) ** caramel.SPREAD)
    return Reading(
        "browned", "Sugar turned to caramel", "%", 0, value, low, high,
        Basis(
            "sugar turned, of that and all the sugar there is; the rate doubles in about nine kelvin",
            "food-science texts, from memory", "140 to 215 °C", "a factor of 1.6: probes lag, and the eye decides", "an order, indicative",
        ),
        (("turned", float(gone[0]), "g"), ("sugar left", float((end.mass_g @ c.SUGARS)[0]), "g")),
    )  # fmt: skip


@reading("made", 3, where=lambda walk: float(walk.product.air_ml[0]) > 0)
def foam_l(walk: Walk) -> Reading:
    """Litres of the product with its air."""
    end = walk.product
    liquid = end.volume_ml()
    value = (liquid + end.air_ml) / 1000.0
    low, high = value, value
    for stage, step in zip(reversed(walk.stages), reversed(walk.steps), strict=True):
        if isinstance(stage, Aerate):
            typical = np.maximum(step.figures["overrun"][:, 1], 1e-9)
            low, high = ((liquid + end.air_ml * step.figures["overrun"][:, i] / typical) / 1000.0 for i in (0, 2))
            break
    return Reading(
        "foam_l", "With its air", "l", 2, value, np.minimum(low, value), np.maximum(high, value),
        Basis(
            "the liquid's volume and the air the tool brings to it, by its fat, its cold and what it is",
            "dairy texts, table t16, and common practice", "0 to 48 % fat, 0 to 25 °C", "the range; weigh a cup of it to know", "indicative",
        ),
        (("liquid", float(liquid[0]), "ml"), ("air", float(end.air_ml[0]), "ml")),
        why_not="" if np.isfinite(value[0]) else "No volume: it is dry or above 85 °Bx.",
    )  # fmt: skip
