"""How sweet a mixture is, in grams of sucrose that would be as sweet: a range, never a point."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics.masses import masses_of

#: Sweetness of a gram against a gram of sucrose at some 10 % in water: least, usual, most.
#: Food-science texts (Belitz; Lawless; O'Brien Nabors), from memory; it falls with heat for
#: fructose and rises with concentration for glucose, which is why these are ranges.
RELATIVE: dict[str, tuple[float, float, float]] = {
    "sucrose": (1.0, 1.0, 1.0),
    "glucose": (0.6, 0.7, 0.8),
    "fructose": (1.1, 1.35, 1.8),
    "lactose": (0.15, 0.25, 0.4),
    "galactose": (0.3, 0.5, 0.65),
    "maltose": (0.3, 0.4, 0.5),
    "dextrin": (0.0, 0.1, 0.2),
    "sorbitol": (0.5, 0.58, 0.7),
}


def _weights(which: int) -> Floats:
    weights = np.zeros(c.COUNT)
    for name, found in RELATIVE.items():
        weights[c.INDEX[name]] = found[which]
    return weights


LEAST, USUAL, MOST = _weights(0), _weights(1), _weights(2)


def sweetness_g(masses_g: Mapping[str, ArrayLike]) -> tuple[Floats, Floats, Floats]:
    """Grams of sucrose as sweet as a mixture: least, usual, most.

    Parameters: masses_g, component name → grams (scalars or arrays that broadcast).
    Raises OutOfRange for an unknown component or a negative mass.

    Formula: Σ mᵢ·sᵢ, sᵢ from RELATIVE. Range: table strength, 5 to 20 % of sugars in a drink; sweetness of
    mixtures is taken to add (synergy of some sugars, up to a tenth, is not counted). Source: food-science
    texts, from memory. Accuracy: the range; acid, salt, fat and cold move it further.

    >>> [round(float(x), 2) for x in sweetness_g({"glucose": 50, "fructose": 50})]
    [85.0, 102.5, 130.0]
    """
    mass = masses_of(masses_g)
    return np.asarray(mass @ LEAST), np.asarray(mass @ USUAL), np.asarray(mass @ MOST)
