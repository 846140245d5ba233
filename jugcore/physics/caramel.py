"""Sugar turning to caramel: how much of it by temperature and time, the water that leaves, the colour.

Indicative: probes lag in caramel, pots have hot spots, and the eye decides.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.errors import require_within
from jugcore.figures import Floats, as_given

#: Share turned in a minute at 160 °C: a tenth is left after 35 min, the first rest of the textbooks (from memory).
_AT_160_A_MIN = 0.066
#: How fast that grows with heat. [J/mol]
_ACTIVATION = 130_000.0
_GAS = 8.314
_REFERENCE_K = 433.15
#: How much sooner each sugar turns than sucrose. Texts say 110 °C of fructose against 160; honey at 130 °C takes minutes, so less (estimate). [K]
_SOONER_K: dict[str, float] = {"sucrose": 0.0, "glucose": 0.0, "galactose": 0.0, "maltose": -20.0, "fructose": 30.0}
#: One and a half waters leave a sucrose on its way: between the first and second rest of the textbooks (estimate).
WATER_LOST = 1.5 * 18.015 / 342.30
WATER_LOST_RANGE = (18.015 / 342.30, 3 * 18.015 / 342.30)
#: How far the share turned may be off: a probe that lags by 5 K alone is a factor of 1.4.
SPREAD = 1.6

#: Colours by the share of sugar turned, from the lightest (common practice, no source).
COLOURS: tuple[tuple[float, str], ...] = (
    (0.03, "colourless"), (0.12, "straw"), (0.21, "gold"), (0.36, "amber"), (0.55, "dark"), (0.75, "very dark, bitter"), (1.01, "burnt"),
)  # fmt: skip


def rate_a_minute(temperature_c: ArrayLike) -> float | Floats:
    """Share of sucrose that turns to caramel in a minute.

    Parameters: temperature [°C]. Returns: [1/min]. Raises OutOfRange outside 100 to 230 °C.

    Formula: 0.066·exp(−Ea/R·(1/T − 1/433.15)), Ea 130 kJ/mol. Source: the first rest after 35 min at 160 °C and the
    colours of common practice at 160 to 190 °C, from memory. Accuracy: a factor of 1.6, indicative.

    >>> round(rate_a_minute(160), 3)
    0.066
    """
    return as_given(_rate_a_minute(require_within("temperature_c", temperature_c, at_least=100, at_most=230, unit="°C")))


def _rate_a_minute(t: Floats) -> Floats:
    return np.asarray(_AT_160_A_MIN * np.exp(-_ACTIVATION / _GAS * (1.0 / (t + 273.15) - 1.0 / _REFERENCE_K)))


def turned(temperature_c: Floats, seconds: Floats) -> Floats:
    """Share of each component (K, C) that turns on a course of temperatures (K, N) [°C] at times (K, N) [s]; none of what is no sugar.

    Formula: 1 − exp(−∫ rate dt), the logarithm of the rate running straight between two points, so that the climb is
    not cut into steps. Source and accuracy: those of :func:`rate_a_minute`.
    """
    found = np.zeros((temperature_c.shape[0], c.COUNT))
    minutes = np.diff(seconds, axis=1) / 60.0
    for sugar, sooner in _SOONER_K.items():
        rate = _rate_a_minute(np.maximum(temperature_c + sooner, 0.0))
        a, b = rate[:, :-1], rate[:, 1:]
        log = np.log(b / a)
        flat = np.abs(log) < 1e-9
        mean = np.where(flat, a, (b - a) / np.where(flat, 1.0, log))
        found[:, c.INDEX[sugar]] = 1.0 - np.exp(-(mean * minutes).sum(axis=1))
    return found


def colour(share: float) -> str:
    """The word for a share turned [1]. Formula: the first of ``COLOURS`` above it. Source: common practice.
    Accuracy: a shade; the eye decides."""
    return next(word for most, word in COLOURS if share < most)
