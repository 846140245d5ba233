"""The food code's two-stage cooling: from 57 °C to 21 °C within two hours, and to the cold within six in all."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

#: FDA Food Code 2022, 3-501.14(A).
FROM_C, MIDDLE_C = 57.0, 21.0
FIRST_S, ALL_S = 2 * 3600.0, 6 * 3600.0


@dataclass(frozen=True)
class Cooled:
    """Seconds from 57 °C to 21 °C and to the cold; None where it does not get there, or was never that hot."""

    middle_s: float | None
    cold_s: float | None


def passes(course: Sequence[tuple[float, float]], at_c: float) -> float | None:
    """When a course of (seconds, °C) falls through a temperature for the last time; None where it never does [s].

    Straight lines between the points. Formula: linear interpolation.
    """
    found = None
    for (s0, t0), (s1, t1) in pairwise(course):
        if t0 > at_c >= t1:
            found = s0 + (s1 - s0) * (t0 - at_c) / (t0 - t1)
        elif t1 > at_c:
            found = None
    return found


def cooled(course: Sequence[tuple[float, float]], cold_c: float) -> Cooled | None:
    """How long a course takes through both stages. None where it is never as hot as 57 °C."""
    if all(t <= FROM_C for _, t in course):
        return None
    start = passes(course, FROM_C)
    if start is None:
        return Cooled(None, None)
    middle, cold = passes(course, MIDDLE_C), passes(course, cold_c)
    return Cooled(None if middle is None else middle - start, None if cold is None else cold - start)
