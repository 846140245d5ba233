"""Acids: what titration finds, and pH where it can be computed at all.

pH is computed for dilute acids in water and nowhere else: milk, juice, coffee and cocoa buffer in ways no
recipe states. There a meter or a strip is asked for.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.figures import Bools, Floats, as_given
from jugcore.physics.masses import masses_of


@dataclass(frozen=True)
class Acid:
    """Molar mass [g/mol] and the pKa of every step at 25 °C in water. A definition, exact but for the pKa: CRC Handbook, from memory, ± 0.03."""

    molar_g: float
    pka: tuple[float, ...]

    @property
    def equivalents_per_g(self) -> float:
        return len(self.pka) / self.molar_g


ACIDS: dict[str, Acid] = {
    "citric": Acid(192.124, (3.13, 4.76, 6.40)),
    "malic": Acid(134.088, (3.40, 5.11)),
    "tartaric": Acid(150.087, (2.98, 4.34)),
    "lactic": Acid(90.078, (3.86,)),
    "acetic": Acid(60.052, (4.76,)),
}
_NAMES = tuple(ACIDS)
_INDEX = np.array([c.INDEX[name] for name in _NAMES])
_MOLAR = np.array([ACIDS[name].molar_g for name in _NAMES])
#: Equivalents per gram of each component; zero for what is no acid.
EQUIVALENTS_PER_G = np.zeros(c.COUNT)
EQUIVALENTS_PER_G[_INDEX] = [ACIDS[name].equivalents_per_g for name in _NAMES]
_KW = 10.0**-13.995
#: Above this much acid in a kilogram of water the activities are not known any more. [mol/kg]
MOST_MOLAL = 0.5
#: Above this much of anything else that dissolves, a hundredth part of the water, the solution is no water any more. [g/g]
MOST_OTHERS = 0.15
#: Salts of acids and proteins hold a pH: so much of them against the acids, and it cannot be computed. [g/g]
MOST_BUFFER = 0.01


def titratable_eq(mass_g: Floats) -> Floats:
    """Equivalents of acid in masses (components last, grams): what a titration to pH 8.2 finds of these acids.

    Formula: Σ mᵢ zᵢ/Mᵢ. Source: molar masses, a definition. Accuracy: exact for the acids of the composition.
    """
    return np.asarray(mass_g @ EQUIVALENTS_PER_G)


def titratable_as(masses_g: Mapping[str, ArrayLike], acid: str = "citric") -> float | Floats:
    """Titratable acidity, as grams of one acid.

    Parameters: masses_g, component name → grams; ``acid``, one of citric, malic, tartaric, lactic, acetic.
    Raises OutOfRange for an unknown component or a negative mass, KeyError for an acid that is none.

    Formula: Σ mᵢ zᵢ/Mᵢ, times M/z of the acid named. Source: molar masses, a definition.
    Accuracy: exact for the acids of the composition; phenols, amino acids, dissolved gas and milk's own 0.15 % are not counted.

    >>> round(titratable_as({"malic": 6, "water": 94}), 3)
    5.731
    """
    return as_given(np.asarray(titratable_eq(masses_of(masses_g)) / ACIDS[acid].equivalents_per_g))


def has_computable_ph(mass_g: Floats) -> Bools:
    """Where (…) a pH can be computed of grams (components last): acids in water, dilute, next to nothing that buffers, little else.

    Formula: acids ≤ 0.5 mol/kg of water, buffers ≤ 1 % of the acids, other solutes ≤ 15 % of the water. Source: the limits are ours.
    Accuracy: no figure; where it says no, a pH is asked for.
    """
    water = mass_g[..., c.WATER]
    acids = mass_g[..., _INDEX]
    wet = water > 0
    per_kg = (acids / _MOLAR).sum(axis=-1) / np.where(wet, water, 1.0) * 1e3
    buffers = mass_g[..., [c.OTHER_ASH, c.INDEX["protein"], c.INDEX["insoluble"], c.INDEX["starch"], c.INDEX["pectin_and_gums"]]].sum(axis=-1)
    others = mass_g.sum(axis=-1) - water - acids.sum(axis=-1)
    total = acids.sum(axis=-1)
    return np.asarray(wet & (total > 0) & (per_kg <= MOST_MOLAL) & (buffers <= MOST_BUFFER * total) & (others <= MOST_OTHERS * water))


#: Charges an ion of these acids may bear.
_CHARGES = np.arange(1, max(len(acid.pka) for acid in ACIDS.values()) + 1)
#: K₁·K₂·…·Kₙ of every acid by the charge n, (A, N); zero where an acid has no such step.
_TOGETHER = np.array([[10.0 ** -sum(ACIDS[name].pka[:n]) if n <= len(ACIDS[name].pka) else 0.0 for n in _CHARGES] for name in _NAMES])


def _charge_per_mol(h: Floats, gammas: Floats) -> Floats:
    """Mean negative charge of every acid (…, A) at hydrogen-ion activity ``h``; ``gammas`` (…, N) are activity factors by charge."""
    # [Aⁿ⁻]·γₙ / [A] = K₁·K₂·…·Kₙ / a(H)ⁿ
    ions = _TOGETHER / (h[..., None] ** _CHARGES * gammas)[..., None, :]
    return np.asarray((ions @ _CHARGES) / (1.0 + ions.sum(axis=-1)))


def _ph(mass_g: Floats) -> Floats:
    """pH of acids in water, salt aside (components last); meaningless where has_computable_ph is False."""
    water = np.where(mass_g[..., c.WATER] > 0, mass_g[..., c.WATER], 1.0)
    molal = mass_g[..., _INDEX] / _MOLAR / water[..., None] * 1e3
    salt = mass_g[..., c.SALT] / 58.443 / water * 1e3
    low, high = np.full(water.shape, -1.0), np.full(water.shape, 8.0)
    gammas = np.ones((*water.shape, len(_CHARGES)))
    ph = (low + high) / 2
    for _ in range(60):
        ph = (low + high) / 2
        activity = 10.0**-ph
        hydrogen = activity / gammas[..., 0]
        negative = (molal * _charge_per_mol(activity, gammas)).sum(axis=-1) + _KW / activity / gammas[..., 0]
        acidic = hydrogen > negative  # too much hydrogen for the anions there are: the pH is higher
        low, high = np.where(acidic, ph, low), np.where(acidic, high, ph)
        # Davies equation; the strength follows the pH as it settles.
        strength = np.clip(salt + hydrogen, 0.0, 1.0)
        root = np.sqrt(strength)
        exponent = -0.509 * (root / (1 + root) - 0.3 * strength)
        gammas = 10.0 ** (exponent[..., None] * _CHARGES**2)
    return np.asarray(ph)


def ph(masses_g: Mapping[str, ArrayLike]) -> float | Floats:
    """pH of dilute acids in water at 25 °C; NaN where it cannot be computed and must be measured.

    Parameters: masses_g, component name → grams (scalars or arrays that broadcast).
    Raises OutOfRange for an unknown component or a negative mass.

    Formula: charge balance over every step of every acid, activities after Davies. Range: up to 0.5 mol of
    acids in a kilogram of water, other solutes up to 15 % of the water, buffers up to 1 % of the acids.
    Source: pKa of the CRC Handbook, from memory. Accuracy: 0.05 to 0.1 mol/kg, 0.15 above.

    >>> round(ph({"citric": 1, "water": 99}), 1)
    2.2
    """
    mass = masses_of(masses_g)
    return as_given(np.asarray(np.where(has_computable_ph(mass), _ph(mass), np.nan)))
