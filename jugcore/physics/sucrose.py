"""Sucrose in water: what °Brix means for density, optics, heat and flow.

°Brix is grams of sucrose in 100 g of solution throughout this module. Names
with a leading underscore take arrays and check nothing.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import OutOfRange, require_within
from jugcore.figures import Floats, as_given
from jugcore.physics import water

MOLAR_MASS_G = 342.2965

_DENSITY_20 = (998.2066, 385.1761, 135.3705, 40.9299, -3.9643, 13.4853, -17.2890)
_INDEX_20 = (1.33298723, 0.14275328, 0.05474398, 0.01200009, 0.01340275, -0.00961397)
_SOLUBILITY = (64.447, 0.08222, 1.6169e-3, -1.558e-6, -4.63e-8)


def _polynomial(coefficients: tuple[float, ...], x: Floats) -> Floats:
    total = np.full_like(x, coefficients[-1])
    for coefficient in reversed(coefficients[:-1]):
        total = total * x + coefficient
    return total


def _density_20(w: Floats) -> Floats:
    return _polynomial(_DENSITY_20, w)


def _density_kg_m3(brix: Floats, temperature_c: Floats) -> Floats:
    w = np.asarray(brix / 100.0)
    d = temperature_c - 20.0
    # The apparent volume of dry sucrose, w·v20, written without dividing by w so
    # that w = 0 gives water.
    sugar_20 = 1 / _density_20(w) - (1 - w) / _DENSITY_20[0]
    drift = d * (5.6765e-4 - 3.3839e-4 * w) + d * d * (-5.5034e-6 + 6.4135e-6 * w)
    return 1 / ((1 - w) / water._density_kg_m3(temperature_c) + sugar_20 + w * 1e-3 * drift)


def density_kg_m3(brix: ArrayLike, temperature_c: ArrayLike = 20) -> float | Floats:
    """Density of a sucrose solution.

    Parameters
    ----------
    brix : array_like
        Sucrose, B. [g/100 g]
    temperature_c : array_like
        Temperature, t. [°C]

    Returns
    -------
    float or ndarray
        Density, the broadcast shape of the two. [kg/m³]

    Raises
    ------
    OutOfRange
        B outside 0 to 85, or t outside 0 to 100 °C.

    Notes
    -----
    Formula:     at 20 °C the ICUMSA SPS-4 polynomial in w = B/100; elsewhere
                 1/ρ = (1−w)/ρ_water(t) + w·v(t), v(t) from v(20) and a drift
                 quadratic in t − 20.
    Valid range: 0 to 85 °Bx at 20 °C; over temperature fitted 0 to 80 °Bx, 0 to 100 °C.
    Source:      ICUMSA SPS-4 (1998); drift fitted to NBS C440 hydrometer tables.
    Accuracy:    0.35 kg/m³ at 70 °Bx and 0.6 at 85 (20 °C, NBS C440);
                 0.03 % to 60 °C, 0.1 % to 80 °C, 0.23 % to 100 °C.

    Examples
    --------
    >>> round(density_kg_m3(50), 2)
    1229.66
    """
    b = require_within("brix", brix, at_least=0, at_most=85, unit="°Bx")
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=100, unit="°C")
    b, t = np.broadcast_arrays(b, t)
    return as_given(np.asarray(_density_kg_m3(b, t)))


def _index_20(brix: Floats) -> Floats:
    return _polynomial(_INDEX_20, np.asarray(brix / 100.0))


def _correction(reading: Floats, temperature_c: Floats) -> Floats:
    d = temperature_c - 20.0
    r = reading
    return d * (0.06167357 + r * (5.424249e-4 - 4.206256e-6 * r)) + d * d * (1.09778e-3 + r * (-1.65441e-5 + 3.135035e-8 * r))


def _correction_slope(reading: Floats, temperature_c: Floats) -> Floats:
    d = temperature_c - 20.0
    return d * (5.424249e-4 - 2 * 4.206256e-6 * reading) + d * d * (-1.65441e-5 + 2 * 3.135035e-8 * reading)


def _brix_from_index_20(n: Floats) -> Floats:
    brix = np.asarray((n - _INDEX_20[0]) * 560.0)
    for _ in range(12):
        w = brix / 100.0
        slope = (_INDEX_20[1] + w * (2 * _INDEX_20[2] + w * (3 * _INDEX_20[3] + w * (4 * _INDEX_20[4] + w * 5 * _INDEX_20[5])))) / 100.0
        brix = brix - (_index_20(brix) - n) / slope
    return brix


def refractive_index(brix: ArrayLike, temperature_c: ArrayLike = 20) -> float | Floats:
    """Refractive index (sodium D line, against air) of a sucrose solution.

    Parameters: sucrose, B [g/100 g]; temperature, t [°C]. Returns: n_D [1].
    Raises OutOfRange: B outside 0 to 85, t outside 10 to 40 °C, or, away from
    20 °C, B above 70 (where the temperature correction ends).

    Formula: at 20 °C a quintic in B/100; at t the index that a refractometer
    calibrated at 20 °C would show, from the correction solved for the reading.
    Source: fit to ICUMSA SPS-3; correction after the international table of 1936/66.
    Accuracy: 1e-5 at 20 °C; 2e-5 from 10 to 30 °C, 1.5e-4 to 40 °C.

    >>> round(refractive_index(50), 5)
    1.42009
    """
    b = require_within("brix", brix, at_least=0, at_most=85, unit="°Bx")
    t = require_within("temperature_c", temperature_c, at_least=10, at_most=40, unit="°C")
    b, t = np.broadcast_arrays(b, t)
    _require_correctable(b, t)
    reading = b.copy()
    for _ in range(8):
        step = (reading + _correction(reading, t) - b) / (1 + _correction_slope(reading, t))
        reading = reading - step
    return as_given(np.asarray(_index_20(reading)))


def _require_correctable(brix: Floats, temperature_c: Floats) -> None:
    away = np.abs(temperature_c - 20.0) > 1e-9
    if bool(np.any(away & (brix > 70.0))):
        raise OutOfRange(
            field="brix",
            message="Above 70 °Bx the refractometer correction holds at 20 °C only.",
            remedy="Bring the sample to 20 °C, or dilute it by weight and measure again.",
        )


def brix_from_refractive_index(n: ArrayLike, temperature_c: ArrayLike = 20) -> float | Floats:
    """°Brix of a sucrose solution from its refractive index.

    Parameters: index, n [1]; temperature, t [°C]. Returns: B [g/100 g].
    Raises OutOfRange: n outside 1.3300 to 1.5060 (water at 40 °C to 85 °Bx at
    20 °C), t outside 10 to 40 °C, or a result outside 0 to 85 (70 away from 20 °C).

    Formula: the inverse of ``refractive_index`` by Newton steps, then the correction. Source: that of ``refractive_index``.
    Accuracy: 0.006 °Bx at 20 °C; 0.02 from 10 to 30 °C; 0.1 to 40 °C.

    >>> round(brix_from_refractive_index(1.42009), 2)
    50.0
    """
    index = require_within("n", n, at_least=1.33, at_most=1.506)
    t = require_within("temperature_c", temperature_c, at_least=10, at_most=40, unit="°C")
    index, t = np.broadcast_arrays(index, t)
    reading = _brix_from_index_20(np.asarray(index))
    brix = np.asarray(reading + _correction(reading, t))
    require_within("n", brix, at_least=-0.05, at_most=85.02, remedy="That index is not one of a sugar solution.")
    brix = np.clip(brix, 0.0, 85.0)
    _require_correctable(brix, t)
    return as_given(brix)


def corrected_reading(reading_brix: ArrayLike, temperature_c: ArrayLike) -> float | Floats:
    """True °Brix from what a refractometer calibrated at 20 °C shows at t.

    Parameters: reading, R [°Bx]; temperature of the prism, t [°C]. Returns: B [°Bx].
    Raises OutOfRange: R outside 0 to 70, t outside 10 to 40 °C.

    Formula: B = R + d(0.0617 + …R) + d²(…), d = t − 20 (coefficients in the code).
    Source: fit to the international correction table 1936/66 (from memory).
    Accuracy: 0.011 °Bx from 10 to 30 °C; 0.1 at 35 to 40 °C.

    >>> round(corrected_reading(60, 30), 1)
    60.8
    """
    r = require_within("reading_brix", reading_brix, at_least=0, at_most=70, unit="°Bx")
    t = require_within(
        "temperature_c",
        temperature_c,
        at_least=10,
        at_most=40,
        unit="°C",
        remedy="Let the drop settle to between 10 and 40 °C on the prism and read again.",
    )
    r, t = np.broadcast_arrays(r, t)
    return as_given(np.asarray(r + _correction(r, t)))


def _solubility_brix(temperature_c: Floats) -> Floats:
    return _polynomial(_SOLUBILITY, np.asarray(temperature_c))


def solubility_brix(temperature_c: ArrayLike) -> float | Floats:
    """Sucrose in a saturated solution.

    Parameters: temperature, t [°C]. Returns: B [g/100 g].
    Raises OutOfRange outside 0 to 90 °C.

    Formula: 64.447 + 0.08222 t + 1.6169e-3 t² − 1.558e-6 t³ − 4.63e-8 t⁴.
    Source: Vavrinecz 1962. Accuracy: 0.12 against Charles 1960 up to 60 °C.

    >>> round(solubility_brix(20), 2)
    66.72
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=90, unit="°C")
    return as_given(_solubility_brix(t))


def _viscosity_mpa_s(brix: Floats, temperature_c: Floats) -> Floats:
    sugar = brix / MOLAR_MASS_G
    x = sugar / (sugar + (100.0 - brix) / water.MOLAR_MASS_G)
    safe = np.maximum(x, 1e-300)
    phi = (30.0 - temperature_c) / (91.0 + temperature_c) - 10.0 / 111.0
    exponent = x * (26.7783 + 1.02635 * np.log(safe)) + phi * 49.3709 * safe**1.328
    return water._viscosity_mpa_s(temperature_c) * 10.0**exponent


def viscosity_mpa_s(brix: ArrayLike, temperature_c: ArrayLike) -> float | Floats:
    """Dynamic viscosity of a sucrose solution.

    Parameters: sucrose, B [g/100 g]; temperature, t [°C]. Returns: η [mPa·s].
    Raises OutOfRange: B outside 0 to 75, t outside 0 to 80 °C.

    Formula: η = η_water · 10^[x(26.7783 + 1.02635 ln x) + (φ(t) − φ(20))·49.3709 x^1.328],
    φ = (30 − t)/(91 + t), x = mole fraction of sucrose.
    Source: Genotelle form refitted to Swindells 1958. Accuracy: 0.8 % to 60 °Bx and
    1.5 % to 75 °Bx at 20 °C; 2 % from 10 to 80 °C; 10 % below 10 °C.

    >>> round(viscosity_mpa_s(60, 20), 0)
    58.0
    """
    b = require_within("brix", brix, at_least=0, at_most=75, unit="°Bx")
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=80, unit="°C")
    b, t = np.broadcast_arrays(b, t)
    return as_given(np.asarray(_viscosity_mpa_s(b, t)))


def ratio_from_brix(brix: ArrayLike) -> float | Floats:
    """Grams of sugar per gram of water: B/(100 − B). Raises OutOfRange outside 0 ≤ B < 100.

    Formula: as above. Source: a definition. Accuracy: exact. >>> ratio_from_brix(50)  # → 1.0
    """
    b = require_within("brix", brix, at_least=0, below=100, unit="°Bx")
    return as_given(np.asarray(b / (100.0 - b)))


def brix_from_ratio(sugar_to_water: ArrayLike) -> float | Floats:
    """°Brix of r grams of sugar to one of water: 100 r/(1 + r). Raises OutOfRange for r < 0.

    Formula: as above. Source: a definition. Accuracy: exact. >>> brix_from_ratio(1)  # → 50.0
    """
    r = require_within("sugar_to_water", sugar_to_water, at_least=0)
    return as_given(np.asarray(100.0 * r / (1.0 + r)))
