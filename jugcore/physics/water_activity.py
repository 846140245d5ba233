"""Water activity of solutions: sucrose by Starzak and Peacock, the rest by Norrish.

The factors of the single solutes, each in all the water there is, are
multiplied (Ross 1975). Salt enters by Pitzer's equation.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.errors import require_within
from jugcore.figures import Floats, as_given
from jugcore.physics import sucrose, water
from jugcore.physics.masses import masses_of

# Molar mass [g/mol] and Norrish constant [1] in ln a = ln x_w − K x_s². Sources:
# Chirife, Ferro Fontan and Benmergui 1980; Norrish 1966. The last group are
# estimates: like its nearest measured relative, or ideal (K = 0).
NORRISH: dict[str, tuple[float, float]] = {
    "glucose": (180.156, 2.25),
    "fructose": (180.156, 2.25),
    "lactose": (342.2965, 10.2),
    "maltose": (342.2965, 4.54),
    "sorbitol": (182.17, 1.65),
    "citric": (192.124, 6.17),
    "malic": (134.088, 1.82),
    "tartaric": (150.087, 4.68),
    "lactic": (90.078, -1.59),
    # estimates
    "galactose": (180.156, 2.25),
    "dextrin": (1000.0, 0.0),
    "other_soluble_carbohydrate": (342.2965, 4.54),
    "acetic": (60.052, 0.0),
    "ethanol": (46.069, 0.0),
}
_SOLUTES = tuple(NORRISH)
_INDEX = np.array([c.INDEX[name] for name in _SOLUTES])
_MOLAR = np.array([NORRISH[name][0] for name in _SOLUTES])
_CONSTANT = np.array([NORRISH[name][1] for name in _SOLUTES])

#: 1 for solutes whose size and constant are estimates: what they do may be half as much, or half as much again.
ESTIMATED = np.array([1.0 if name in ("galactose", "dextrin", "other_soluble_carbohydrate", "acetic", "ethanol") else 0.0 for name in c.NAMES])

SALT_MOLAR_MASS_G = 58.443
MAX_SALT_MOLAL = 6.2
#: Of other ash whose kind nobody knows so much acts as table salt would: milk's, by its freezing point. By kind in ``matter.minerals``.
ASH_AS_SALT = 0.47
MAX_SUCROSE_BRIX = 95.0


def _sucrose_excess(x: Floats) -> Floats:
    """Q(x) in ln γ = Q/T for sucrose at mole fraction x. [K]"""
    return np.asarray(-17638.0 / water.GAS_CONSTANT * (1 - 1.0038 * x - 0.24653 * x * x) * x * x)


def _ln_salt(molal: Floats) -> Floats:
    """ln a of sodium chloride in water at 25 °C, Pitzer's parameters."""
    root = np.sqrt(np.maximum(molal, 0.0))
    phi = 1 - 0.3915 * root / (1 + 1.2 * root) + molal * (0.0765 + 0.2664 * np.exp(-2 * root)) + molal * molal * 0.00127
    return np.asarray(-2e-3 * water.MOLAR_MASS_G * molal * phi)


def salts_g(mass_g: Floats, ash_as_salt_g: Floats | None = None) -> Floats:
    """Grams that act as table salt (components last).

    Formula: salt + what is given of the other ash, else 0.47 of it. Source: milk's freezing point, −0.522 °C. Accuracy: half of the ash's part.
    """
    ash = ASH_AS_SALT * mass_g[..., c.OTHER_ASH] if ash_as_salt_g is None else ash_as_salt_g
    return np.asarray(mass_g[..., c.SALT] + ash)


def _ln_ideal(mass_g: Floats, ash_as_salt_g: Floats | None = None) -> tuple[Floats, Floats]:
    """The temperature-free part of ln a, and sucrose's mole fraction in water.

    ``mass_g`` has components last. Water must be positive.
    """
    moles_water = mass_g[..., c.WATER] / water.MOLAR_MASS_G
    moles = mass_g[..., _INDEX] / _MOLAR
    x = moles / (moles + moles_water[..., None])
    others = (np.log1p(-x) - _CONSTANT * x * x).sum(axis=-1)
    moles_sucrose = mass_g[..., c.SUCROSE] / sucrose.MOLAR_MASS_G
    x_sucrose = moles_sucrose / (moles_sucrose + moles_water)
    salt = _ln_salt(salts_g(mass_g, ash_as_salt_g) / SALT_MOLAR_MASS_G / (mass_g[..., c.WATER] * 1e-3))
    return others + np.log1p(-x_sucrose) + salt, x_sucrose


#: Norrish constant of sucrose, where all solutes enter one equation.
_SUCROSE_NORRISH = 6.47


def combining_spread(mass_g: Floats) -> Floats:
    """How far the two usual rules for mixed solutes lie apart (components last): Ross's product, and Norrish's
    one equation over all solutes at once. Zero for one solute, some 0.015 at 65 °Bx, 0.03 in thick mixtures. Salt aside.

    Formula: |Π aᵢ − exp(ln x_w − (Σ √Kᵢ xᵢ)²)|, grams in. Source: Ross 1975; Norrish 1966.
    Accuracy: it is itself a measure of doubt.
    """
    moles_water = mass_g[..., c.WATER] / water.MOLAR_MASS_G
    moles = mass_g[..., _INDEX] / _MOLAR
    sugar = mass_g[..., c.SUCROSE] / sucrose.MOLAR_MASS_G
    total = moles_water + moles.sum(axis=-1) + sugar
    x_water = moles_water / total
    root = (np.sqrt(np.maximum(_CONSTANT, 0.0)) * moles / total[..., None]).sum(axis=-1) + np.sqrt(_SUCROSE_NORRISH) * sugar / total
    together = np.log(x_water) - root * root
    each = moles / (moles + moles_water[..., None])
    alone = sugar / (sugar + moles_water)
    product = (np.log1p(-each) - np.maximum(_CONSTANT, 0.0) * each * each).sum(axis=-1) + np.log1p(-alone) - _SUCROSE_NORRISH * alone * alone
    return np.asarray(np.abs(np.exp(together) - np.exp(product)))


def _water_activity(mass_g: Floats, temperature_c: Floats, ash_as_salt_g: Floats | None = None) -> Floats:
    ln_ideal, x = _ln_ideal(mass_g, ash_as_salt_g)
    return np.exp(ln_ideal + _sucrose_excess(x) / (temperature_c + water.ZERO_C_K))


def water_activity(masses_g: Mapping[str, ArrayLike], temperature_c: ArrayLike = 25) -> float | Floats:
    """Water activity of a mixture.

    Parameters
    ----------
    masses_g : mapping
        Component name → grams (scalars or arrays that broadcast). Insolubles,
        fat and protein may be present and do not count.
    temperature_c : array_like
        Temperature, t; only the sucrose factor depends on it. [°C]

    Returns
    -------
    float or ndarray
        Water activity. [1]

    Raises
    ------
    OutOfRange
        An unknown component, a negative mass, no water, sucrose above 95 % of
        sucrose and water, salt and what of the ash acts like it above 6.2 mol per kg of water.

    Notes
    -----
    Formula:     a = Π aᵢ (Ross). Sucrose: (1−x)·exp[(−17638/RT)(1 − 1.0038x − 0.24653x²)x²].
                 Others: (1−x)·exp(−K x²) (Norrish). Salt: Pitzer's osmotic coefficient;
                 other ash as 0.47 of its weight of salt, as in milk (freezing point −0.522 °C).
    Valid range: 0 to 95 °Bx; other solutes to about 60 % of the solution.
    Source:      Starzak and Peacock 1997; Chirife et al. 1980; Ross 1975; Pitzer 1973.
    Accuracy:    0.0008 for sucrose to 67 °Bx (Robinson and Stokes); mixtures ±0.015 or more, as
                 far as the two usual combining rules differ. A °Bx more or less moves it by 0.002
                 at 30 °Bx, 0.005 at 60, 0.007 at 66.

    Examples
    --------
    >>> round(water_activity({"sucrose": 50, "water": 50}), 3)
    0.934
    """
    masses = masses_of(masses_g)
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=130, unit="°C")
    shape = np.broadcast_shapes(t.shape, masses.shape[:-1])
    mass = np.broadcast_to(masses, (*shape, c.COUNT))
    wet = require_within("water", mass[..., c.WATER], above=0, unit="g", remedy="Water activity needs water: give its grams.")
    sugar = mass[..., c.SUCROSE]
    require_within("sucrose", 100 * sugar / (sugar + wet), at_most=MAX_SUCROSE_BRIX, unit="°Bx")
    require_within("salt", salts_g(mass) / SALT_MOLAR_MASS_G / (wet * 1e-3), at_most=MAX_SALT_MOLAL, unit="mol/kg")
    return as_given(np.asarray(_water_activity(mass, t)))
