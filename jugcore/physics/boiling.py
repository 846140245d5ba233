"""Where a solution boils, and how air pressure falls with height."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import Floats, as_given, require_within
from jugcore.physics import water
from jugcore.physics.water_activity import _sucrose_excess

# The start is within 0.1 K and each step gains two digits: 1e-8 K after four.
_NEWTON_STEPS = 4
#: No solution modelled here boils hotter. [°C]
_HIGHEST_C = 180.0


def pressure_at_altitude_pa(metres: ArrayLike) -> float | Floats:
    """Air pressure in the standard atmosphere.

    Parameters: height above the sea, h [m]. Returns: pressure [Pa].
    Raises OutOfRange outside −430 to 5,000 m.

    Formula: 101325 (1 − 2.25577e-5 h)^5.25588 (ICAO standard atmosphere).
    Accuracy: 60 Pa; the weather moves it by 2,000 Pa, 0.6 K at the boil.

    >>> round(pressure_at_altitude_pa(640) / 1000, 2)
    93.87
    """
    h = require_within("altitude_m", metres, at_least=-430, at_most=5000, unit="m")
    return as_given(_pressure_pa(h))


def _pressure_pa(metres: Floats) -> Floats:
    return np.asarray(101325.0 * (1 - 2.25577e-5 * metres) ** 5.25588)


def _boiling_point(ln_ideal: Floats, sucrose_x: Floats, pressure_pa: Floats) -> Floats:
    """Temperature at which ln a(T) + ln p_sat(T) = ln p. [°C]

    ``ln_ideal`` is the part of ln a that does not depend on temperature; the
    sucrose excess, Q(x)/T, is added for each trial temperature.
    """
    excess = _sucrose_excess(sucrose_x)
    ln_p = np.log(pressure_pa)
    # Clausius and Clapeyron from 100 °C, the excess taken there. Nearly dry matter would
    # start beyond any temperature there is: it starts, and stays, at the top.
    inverse = 1 / 373.15 - (ln_p - 11.526 - ln_ideal - excess / 373.15) / 4880.0
    t = np.clip(1 / np.maximum(inverse, 1e-3) - water.ZERO_C_K, 1.0, _HIGHEST_C)
    for _ in range(_NEWTON_STEPS):
        kelvin = t + water.ZERO_C_K
        miss = ln_ideal + excess / kelvin + water._ln_vapour_pressure_pa(t) - ln_p
        # d ln p_sat / dT by Clausius and Clapeyron; close enough for Newton.
        slope = 4880.0 / (kelvin * kelvin) - excess / (kelvin * kelvin)
        t = np.clip(t - miss / slope, 1.0, _HIGHEST_C)
    return t
