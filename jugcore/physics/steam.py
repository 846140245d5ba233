"""Steam that warms a drink: what of it stays in the cup as water."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.physics import thermal, water

#: Steam at the tip of a wand that is wide open is little above the boiling point; its heat changes by less than 1 % up to 3 bar. [°C]
_STEAM_C = 105.0


def steam_share(mass_fraction: Floats, from_c: float, to_c: float) -> float:
    """Grams of steam that condense for a gram of what it warms.

    Parameters: composition (C,) by component; temperatures before and after [°C, 0 to 95, to ≥ from].
    Formula: what the gram takes up ÷ what a gram of steam gives until it is water at that temperature. Source: heat balance; latent
    heat of IAPWS. Accuracy: 3 %; dry steam is taken, a wet wand brings more water.

    >>> import numpy as np; from jugcore import components as c
    >>> w = np.zeros(c.COUNT); w[c.WATER] = 1.0
    >>> round(steam_share(w, 4.0, 60.0), 3)
    0.096
    """
    one = mass_fraction[None, :]
    takes = float(thermal.enthalpy_j(one, np.array([to_c]))[0] - thermal.enthalpy_j(one, np.array([from_c]))[0])
    latent = float(water._latent_heat_j_g(np.array([_STEAM_C]))[0])
    gives = latent + 4.19 * (_STEAM_C - to_c)
    return max(takes, 0.0) / gives
