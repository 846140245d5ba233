"""Where a solution boils, and how air pressure falls with height."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import require_within
from jugcore.figures import Floats, as_given
from jugcore.physics import sucrose, water
from jugcore.physics.water_activity import _sucrose_excess

# The start is within 0.1 K and each step gains two digits: 1e-8 K after four.
_NEWTON_STEPS = 4
#: No solution modelled here boils hotter. [°C]
_HIGHEST_C = 180.0


def pressure_at_altitude_pa(metres: ArrayLike) -> float | Floats:
    """Air pressure in the standard atmosphere.

    Parameters: height above the sea, h [m]. Returns: pressure [Pa].
    Raises OutOfRange outside −430 to 5,000 m.

    Formula: 101325 (1 − 2.25577e-5 h)^5.25588.
    Source: ICAO standard atmosphere.
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


def boiling_point_c(brix: ArrayLike, pressure_pa: ArrayLike = 101325) -> float | Floats:
    """Boiling point of a sucrose solution.

    Parameters: sucrose, B [g/100 g]; air pressure, p [Pa]. Returns: t [°C].
    Raises OutOfRange: B outside 0 to 90, p outside 50,000 to 110,000 Pa.

    Formula: aw(B, t)·p_sat(t) = p. Source: aw by Starzak and Peacock 1997.
    Accuracy: 0.26 K to 80 °Bx, 1.0 K at 85, 2.8 K at 90 (Claassen).

    >>> round(boiling_point_c(64), 1)
    103.6
    """
    b = require_within("brix", brix, at_least=0, at_most=90, unit="°Bx")
    p = require_within("pressure_pa", pressure_pa, at_least=50_000, at_most=110_000, unit="Pa")
    b, p = np.broadcast_arrays(b, p)
    sugar = b / sucrose.MOLAR_MASS_G
    x = sugar / (sugar + (100.0 - b) / water.MOLAR_MASS_G)
    return as_given(np.asarray(_boiling_point(np.log1p(-x), x, p)))
