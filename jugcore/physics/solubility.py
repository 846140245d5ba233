"""What stays dissolved when it is cold: sucrose among other sugars, lactose, glucose."""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore.errors import require_within
from jugcore.figures import Floats, as_given
from jugcore.physics import sucrose

#: Grams of sucrose a gram of water keeps less for each gram of invert sugar in it: least effect, most.
#: A bracket, no table: the slope comes of what makers of invert syrup ship (from memory, unsure).
INVERT_EFFECT = (0.0, 0.45)
#: Mass % of glucose at saturation, monohydrate: Jackson and Silsbee 1922, from memory.
_GLUCOSE_C = np.array([0.0, 10.0, 20.0, 25.0, 30.0, 40.0, 50.0])
_GLUCOSE_PERCENT = np.array([35.0, 41.2, 47.7, 51.2, 54.6, 61.8, 70.9])


def sucrose_per_water(temperature_c: Floats, invert_per_water: Floats | float = 0.0) -> tuple[Floats, Floats]:
    """Grams of sucrose a gram of water keeps at saturation, from 0 to 90 °C: least and most, by what glucose and fructose are in it.

    Formula: B/(100 − B) − k·(invert per water), k from 0 to 0.45. Source: Vavrinecz 1962; the k from what makers of
    invert syrup ship, from memory, unsure. Accuracy: 0.6 % alone; beside invert sugar a bracket, indicative.
    """
    percent = sucrose._solubility_brix(np.asarray(temperature_c, dtype=np.float64))
    alone = percent / (100.0 - percent)
    least, most = (np.maximum(alone - slope * np.asarray(invert_per_water), 0.05) for slope in reversed(INVERT_EFFECT))
    return np.asarray(least), np.asarray(most)


def lactose_per_water(temperature_c: ArrayLike) -> float | Floats:
    """Grams of lactose a gram of water keeps at saturation, both its forms in balance.

    Parameters: temperature, t [°C]. Returns: g/g. Raises OutOfRange outside 0 to 90 °C.
    Formula: 0.109109·exp(0.02804 t). Source: fit to Hudson 1908 (after Peri), from memory. Accuracy: 10 %.
    Much sucrose beside it lowers this, by up to a half: not counted.

    >>> round(lactose_per_water(25), 3)
    0.22
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=90, unit="°C")
    return as_given(np.asarray(0.109109 * np.exp(0.02804 * t)))


def glucose_per_water(temperature_c: ArrayLike) -> float | Floats:
    """Grams of glucose a gram of water keeps at saturation.

    Parameters: temperature, t [°C]. Returns: g/g. Raises OutOfRange outside 0 to 50 °C.
    Formula: straight lines between the table's points. Source: Jackson and Silsbee 1922, from memory. Accuracy: 1.5 % of the solution.
    """
    t = require_within("temperature_c", temperature_c, at_least=0, at_most=50, unit="°C")
    percent = np.interp(t, _GLUCOSE_C, _GLUCOSE_PERCENT)
    return as_given(np.asarray(percent / (100.0 - percent)))
