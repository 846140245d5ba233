"""Water activity, with the band the combining rules leave."""

from __future__ import annotations

import numpy as np

from jugcore.formula.read.base import Basis, Reading, of_a_liquid
from jugcore.matter import components as c
from jugcore.method.walk import Walk
from jugcore.physics.water_activity import MAX_SALT_MOLAL, SALT_MOLAR_MASS_G, _water_activity, combining_spread


@of_a_liquid
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
    spread = np.where(holds, combining_spread(mass), 0.0)
    # Sucrose alone is known to 0.002; mixtures to what the two combining rules leave open, and salts that count as table salt to a tenth.
    doubt = 0.002 + spread + 0.1 * np.minimum(0.05, salts * 0.033)
    return Reading(
        "water_activity", "Water activity", "", 3, value, value - doubt, np.minimum(value + doubt, 1.0),
        Basis(
            "product of the solutes' own activities: sucrose by Starzak and Peacock, the rest by Norrish, salt by Pitzer",
            "Starzak and Peacock 1997; Chirife 1980; Ross 1975", "0 to 95 °Bx, 25 °C",
            "0.002, and for mixtures as far as the two usual rules for combining solutes lie apart", "90 % interval",
        ),
        (("water", float(end.water_g[0]), "g"), ("sucrose", float(sugar[0]), "g"), ("other dissolved", float((solids - sugar)[0]), "g"),
            ("the two rules lie apart by", float(spread[0]), "")),
        why_not="" if holds[0] else "No water activity: too little water, or too much salt, for the model.",
    )  # fmt: skip
