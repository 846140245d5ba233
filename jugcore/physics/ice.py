"""Ice in a drink: what melts until both are at one temperature."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics import thermal

#: Heat that melts a gram of ice at 0 °C (IAPWS), and that warms it by a kelvin below. [J/g], [J/(g·K)]
FUSION_J_G, ICE_CP = 333.6, 2.1


def of_ice_j(mass_g: Floats, temperature_c: Floats) -> Floats:
    """Enthalpy (K,) of frozen masses (K, C) in grams at temperatures (K,) of 0 °C or below, above that of the liquid at 0 °C. [J]

    Formula: 2.1·m·t − 333.6·water. Range: −40 to 0 °C. Source: heat of fusion of IAPWS, heat capacity of ice. Accuracy: 1 % for
    ice of water; of frozen coffee or syrup only the water is taken to freeze, at 0 °C.
    """
    return np.asarray(ICE_CP * mass_g.sum(axis=-1) * temperature_c - FUSION_J_G * mass_g[..., c.WATER])


def melted_share(liquid_j: Floats, ice_j: Floats, ice_g: Floats) -> Floats:
    """Share (K,) of ice that melts in a liquid until both are at one temperature.

    Parameters: the liquid's enthalpy above 0 °C (K,) [J]; the ice's (K,) by :func:`of_ice_j` [J]; its masses (K, C) [g].
    Formula: what is frozen at the end holds all the cold there is, water·333.6 = −(heat of both); all melts where there is none.
    Range: 0 to 100 °C. Source: energy balance. Accuracy: nothing is lost to cup and air; freezing is taken at 0 °C.
    """
    water = ice_g[..., c.WATER]
    with np.errstate(invalid="ignore", divide="ignore"):
        stays = np.where(water > 0, -(liquid_j + ice_j) / (FUSION_J_G * np.where(water > 0, water, 1.0)), 0.0)
    return np.asarray(1.0 - np.clip(stays, 0.0, 1.0))


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
