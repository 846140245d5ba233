"""Ice in a drink: what melts until both are at one temperature."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics import thermal

#: Heat that melts a gram of ice at 0 °C (IAPWS), and that warms it by a kelvin below. [J/g], [J/(g·K)]
FUSION_J_G, ICE_CP = 333.6, 2.1


def melts_g(mass_g: Floats, temperature_c: float, ice_g: float, ice_c: float) -> tuple[float, float]:
    """Grams of ice that melt in a drink, and the temperature both come to [g, °C].

    Parameters: the drink's masses by component (C,) [g]; its temperature [°C]; the ice [g] and how cold it is [°C, ≤ 0].
    Range: 0 to 100 °C. Formula: the drink's heat above 0 °C against ice·(334 + 2.1·|t|); with heat to spare all of it
    melts and the rest warms it. Source: energy balance. Accuracy: nothing is lost to cup and air; freezing is taken at 0 °C.
    """
    if ice_g <= 0 or float(mass_g.sum()) <= 0:
        return 0.0, temperature_c
    heat = float(thermal.enthalpy_j(mass_g[None, :], np.array([temperature_c]))[0])
    a_gram = FUSION_J_G - ICE_CP * ice_c
    whole = heat / a_gram
    if whole < ice_g:
        # Cold ice takes its own warming first, all of it.
        spare = heat + ICE_CP * ice_c * ice_g
        return max(spare, 0.0) / FUSION_J_G if spare < FUSION_J_G * ice_g else ice_g, 0.0
    together = mass_g.copy()
    together[c.WATER] += ice_g
    left = heat - ice_g * a_gram
    return ice_g, float(thermal.temperature_c(together[None, :], np.array([left]))[0])
