"""Masses by the names of their components, as the arrays the physics works on."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.errors import OutOfRange, require_within
from jugcore.figures import Floats


def masses_of(masses_g: Mapping[str, ArrayLike]) -> Floats:
    """Component name → grams as one array with the components last.

    Formula: a lookup of names. Source: a definition. Accuracy: exact.
    Scalars and arrays broadcast against one another; spellings are those of ``components.canonical``.
    Raises OutOfRange for an unknown component, a negative or a non-finite mass.
    """
    unknown = [name for name in masses_g if c.canonical(name) is None]
    if unknown:
        raise OutOfRange(field="masses_g", message=f"“{unknown[0]}” is not a component.", remedy=f"Use one of: {', '.join(c.NAMES)}.")
    arrays = [(str(c.canonical(name)), require_within(name, grams, at_least=0, unit="g")) for name, grams in masses_g.items()]
    mass = np.zeros((*np.broadcast_shapes(*(array.shape for _, array in arrays)), c.COUNT))
    for name, array in arrays:
        mass[..., c.INDEX[name]] += array
    return mass
