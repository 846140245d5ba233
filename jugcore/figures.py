"""Arrays of figures, and how one is written."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


Bools = NDArray[np.bool_]


def shown(value: float) -> str:
    """A number as a sentence shows it: no exponent, at most four decimals."""
    if not math.isfinite(value):
        return str(value)
    if abs(value) >= 1000:
        return f"{value:,.0f}"
    return f"{value:.4f}".rstrip("0").rstrip(".")


def as_given(result: Floats) -> float | Floats:
    """A float for a zero-dimensional result, the array itself otherwise."""
    return float(result) if result.ndim == 0 else result


def finite_or_none(value: float) -> float | None:
    """The number, or None where it is NaN or infinite: JSON has neither."""
    return value if math.isfinite(value) else None


def first_or_none(values: Floats) -> float | None:
    """The first case of (K,) values, or None where it is NaN or infinite."""
    return finite_or_none(float(values[0]))
