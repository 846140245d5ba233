"""How fast a pot loses water: by the heat put in, or by its surface."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import require_within
from jugcore.figures import Floats, as_given
from jugcore.physics import water


def boil_off_kg_h(power_w: ArrayLike, efficiency: ArrayLike, temperature_c: ArrayLike = 100) -> float | Floats:
    """Water a pot at its boil loses when all the heat makes steam.

    Parameters: rated power [W]; share that reaches the pot [1]; boiling
    temperature [°C]. Returns: [kg/h]. Raises OutOfRange for power ≤ 0,
    efficiency outside (0, 1], temperature outside 0 to 130 °C.

    Formula: P·η·3600 / h_fg(t). Source: energy balance. Accuracy: that of η
    (gas 0.32–0.44, ceramic 0.70–0.77, induction 0.84–0.90).

    >>> round(boil_off_kg_h(2000, 0.85), 2)
    2.71
    """
    power = require_within("power_w", power_w, above=0, unit="W")
    share = require_within("efficiency", efficiency, above=0, at_most=1)
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=130, unit="°C")
    return as_given(np.asarray(power * share * 3.6 / water._latent_heat_j_g(t)))
