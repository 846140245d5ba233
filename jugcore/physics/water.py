"""Pure water: density, vapour pressure, viscosity, latent heat.

Functions with a leading underscore take arrays and check nothing: the walk
uses them on masked cases. The public ones refuse what lies out of range.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import require_within
from jugcore.figures import Floats, as_given

ZERO_C_K = 273.15
MOLAR_MASS_G = 18.01528
GAS_CONSTANT = 8.314
CRITICAL_K = 647.096
CRITICAL_PA = 22.064e6
# Coefficients of the saturation line (Wagner and Pruss 1993, IAPWS SR1-86).
_WAGNER = (-7.85951783, 1.84408259, -11.7866497, 22.6807411, -15.9618719, 1.80122502)


def _density_kg_m3(temperature_c: Floats) -> Floats:
    t = temperature_c
    top = 999.83952 + t * (16.945176 + t * (-7.9870401e-3 + t * (-46.170461e-6 + t * (105.56302e-9 - t * 280.54253e-12))))
    return top / (1 + 16.879850e-3 * t)


def density_kg_m3(temperature_c: ArrayLike) -> float | Floats:
    """Density of air-free water at one atmosphere.

    Parameters
    ----------
    temperature_c : array_like
        Temperature, t. [°C]

    Returns
    -------
    float or ndarray
        Density, the shape of ``temperature_c``. [kg/m³]

    Raises
    ------
    OutOfRange
        t lies outside 0 to 150 °C.

    Notes
    -----
    Formula:     rational polynomial of Kell (1975), eq. 16.
    Valid range: 0 to 150 °C.
    Source:      G. S. Kell, J. Chem. Eng. Data 20 (1975) 97.
    Accuracy:    0.02 % against IAPWS-95 values, 0 to 99 °C.

    Examples
    --------
    >>> round(density_kg_m3(20), 3)
    998.204
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=150, unit="°C")
    return as_given(_density_kg_m3(t))


def _ln_vapour_pressure_pa(temperature_c: Floats) -> Floats:
    kelvin = temperature_c + ZERO_C_K
    tau = 1 - kelvin / CRITICAL_K
    root = np.sqrt(tau)
    a1, a2, a3, a4, a5, a6 = _WAGNER
    cube = tau * tau * tau
    series = a1 * tau + a2 * tau * root + cube * (a3 + a4 * root + a5 * tau + a6 * cube * tau * root)
    return np.asarray(np.log(CRITICAL_PA) + series * CRITICAL_K / kelvin)


def vapour_pressure_pa(temperature_c: ArrayLike) -> float | Floats:
    """Saturation vapour pressure of water.

    Parameters: temperature, t [°C]. Returns: pressure [Pa].
    Raises OutOfRange outside 0 to 150 °C.

    Formula: ln(p/pc) = (Tc/T)·Σ aᵢ τⁿ, τ = 1 − T/Tc. Source: Wagner and Pruss 1993.
    Accuracy: 0.02 % against IAPWS-IF97 between 0 and 150 °C.

    >>> round(vapour_pressure_pa(100) / 1000, 2)
    101.42
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=150, unit="°C")
    return as_given(np.exp(_ln_vapour_pressure_pa(t)))


def _viscosity_mpa_s(temperature_c: Floats) -> Floats:
    ratio = (temperature_c + ZERO_C_K) / 300.0
    return 1e-3 * (280.68 * ratio**-1.9 + 511.45 * ratio**-7.7 + 61.131 * ratio**-19.6 + 0.45903 * ratio**-40.0)


def viscosity_mpa_s(temperature_c: ArrayLike) -> float | Floats:
    """Dynamic viscosity of water at one atmosphere.

    Parameters: temperature, t [°C]. Returns: viscosity [mPa·s].
    Raises OutOfRange outside 0 to 100 °C.

    Formula: μ = Σ aᵢ (T/300)^bᵢ. Source: the simplified equation of IAPWS R12-08.
    Accuracy: 1 % at 0.1 MPa by its source.

    >>> round(viscosity_mpa_s(20), 4)
    1.0016
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=100, unit="°C")
    return as_given(_viscosity_mpa_s(t))


def _latent_heat_j_g(temperature_c: Floats) -> Floats:
    t = temperature_c
    return 2500.97 + t * (-2.38116 + t * (6.97957e-4 - t * 1.33938e-5))


def latent_heat_j_g(temperature_c: ArrayLike) -> float | Floats:
    """Latent heat of evaporation of water.

    Parameters: temperature, t [°C]. Returns: heat [J/g].
    Raises OutOfRange outside 0 to 130 °C.

    Formula: 2500.97 − 2.38116 t + 6.97957e-4 t² − 1.33938e-5 t³. Source: fitted to IAPWS.
    Accuracy: 0.09 J/g.

    >>> round(latent_heat_j_g(99.97), 1)
    2256.5
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=130, unit="°C")
    return as_given(_latent_heat_j_g(t))
