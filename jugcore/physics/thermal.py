"""Heat in mixtures: additive by component, so mixing and phase changes balance.

Every component's heat capacity is a straight line in temperature, c = a + b t,
so enthalpy (zero at 0 °C, liquid) is a t + b t²/2 and temperature follows from
enthalpy in closed form.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.errors import require_within
from jugcore.figures import Floats, as_given

_SUGAR = (1.6768, 0.0075)
# J/(g·K) at 0 °C and its slope. Water and sugars: the sucrose-solution line of
# Kadlec, Bretschneider and Bubnik 1981 split by component; the rest Choi and
# Okos 1986 without their quadratic terms (under 0.5 % from 0 to 110 °C).
_BY_GROUP: dict[str, tuple[float, float]] = {
    "water": (4.1868, 0.0),
    "sugars": _SUGAR,
    "soluble": _SUGAR,
    "acids": _SUGAR,
    "starch": (1.5488, 1.9625e-3),
    "insoluble": (1.8459, 1.8306e-3),
    "gums": (1.8459, 1.8306e-3),
    "fat": (1.9842, 1.4733e-3),
    "protein": (2.0082, 1.2089e-3),
    "minerals": (1.0926, 1.8896e-3),
    "alcohol": (2.44, 0.0),
    "gas": (0.9, 0.0),
}
CP_BASE = np.array([_BY_GROUP[component.group][0] for component in c.COMPONENTS])
CP_SLOPE = np.array([_BY_GROUP[component.group][1] for component in c.COMPONENTS])


def heat_capacity_j_gk(brix: ArrayLike, temperature_c: ArrayLike) -> float | Floats:
    """Heat capacity of a sucrose solution.

    Parameters: sucrose, B [g/100 g]; temperature, t [°C]. Returns: c [J/(g·K)].
    Raises OutOfRange: B outside 0 to 70, t outside 0 to 110 °C.

    Formula: 4.1868 − 0.0251 B + 7.5e-5 B t. Source: Kadlec et al. 1981.
    Accuracy: 0.6 % at 60 °Bx.

    >>> round(heat_capacity_j_gk(50, 20), 3)
    3.007
    """
    b = require_within("brix", brix, at_least=0, at_most=70, unit="°Bx")
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=110, unit="°C")
    return as_given(np.asarray(4.1868 - 0.0251 * b + 7.5e-5 * b * t))


def enthalpy_j(mass_g: Floats, temperature_c: Floats) -> Floats:
    """Enthalpy above 0 °C, liquid, of masses (…, C) in grams at temperatures (…) in °C. [J]

    Formula: Σ m (a t + b t²/2). Range: 0 to 110 °C. Source: Kadlec et al. 1981; Choi and Okos 1986.
    Accuracy: 0.6 % for a clear syrup, 3 % otherwise; fat that melts takes more.
    """
    base = mass_g @ CP_BASE
    slope = mass_g @ CP_SLOPE
    return np.asarray(temperature_c * (base + 0.5 * slope * temperature_c))


def temperature_c(mass_g: Floats, enthalpy: Floats) -> Floats:
    """Temperature (…) at which masses (…, C) in grams hold an enthalpy (…) in J; NaN where there is no mass. [°C]

    Formula: the inverse of :func:`enthalpy_j`, in closed form. Range and source: those of it.
    Source: that of :func:`enthalpy_j`. Accuracy: exact against it.
    """
    base = mass_g @ CP_BASE
    slope = mass_g @ CP_SLOPE
    root = np.sqrt(np.maximum(base * base + 2 * slope * enthalpy, 0.0))
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(np.where(base > 0, 2 * enthalpy / (base + root), np.nan))
