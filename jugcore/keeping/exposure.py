"""What a course of temperatures means to germs: time between cold holding and hot holding, and both cooling rules.

FDA Food Code 2022: 3-501.14 (cooling), 3-501.16 (cold and hot holding), 3-501.19 (time as control), 3-403.11 (reheating).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from jugcore.keeping.two_stage_cooling import FROM_C, Cooled, cooled

#: Brought to this all over, what grew before is killed; what it left behind is not. [°C]
KILLS_C = 74.0
#: Out of the cold and not hot: from the first it is said, past the second it is thrown away. [s]
SAID_S, DISCARD_S = 2 * 3600.0, 4 * 3600.0
#: What was never hot, or is made from parts at room temperature: to the cold within this. [s]
AMBIENT_S = 4 * 3600.0
#: Once it was this cold again it is reheated, no longer on its way down. [°C]
_COOLED_DOWN_C = 21.0

Course = Sequence[tuple[float, float]]


@dataclass(frozen=True)
class Exposure:
    """What a course did, its worst stretch between two heats that kill.

    ``between_s`` out of cold and of hot holding, but for the way down that the two-stage rule judges; ``way_down_s`` between them on
    the longest such way down, and ``cooled`` its marks on the last one; ``to_cold_s`` of what was never hot: from when it was first
    out of the cold until it was back in it, None where it does not get there; ``reheated_c`` how warm it was made for hot
    holding after it had cooled, where that is short of 74 °C.
    """

    between_s: float
    way_down_s: float
    cooled: Cooled | None
    to_cold_s: float | None
    ends_cold: bool
    reheated_c: float | None


def exposure(course: Course, cold_c: float) -> Exposure:
    """Seconds a course of (seconds, °C) spends where germs grow, by the rules. Straight lines between its points."""
    between = way_down = 0.0
    last: Cooled | None = None
    to_cold: float | None = None
    for stretch, was_hot in _stretches(course):
        start = _falls_at(stretch)
        if start is None:
            between = max(between, seconds_between(stretch, cold_c, FROM_C))
            still_hot = was_hot or any(t >= FROM_C for _, t in stretch)
            last, to_cold = (Cooled(None, None), None) if still_hot else (None, _back_in_the_cold(stretch, cold_c))
            continue
        down = [(s, t) for s, t in _from(stretch, start)]
        back = next((i for i, (_, t) in enumerate(down) if t <= cold_c), len(down) - 1)
        on_the_way = seconds_between(down[: back + 1], cold_c, FROM_C)
        way_down = max(way_down, on_the_way)
        between = max(between, seconds_between(stretch, cold_c, FROM_C) - on_the_way)
        last, to_cold = cooled(stretch, cold_c), None
    return Exposure(between, way_down, last, to_cold, not course or course[-1][1] <= cold_c + 1e-9, _reheated(course))


def seconds_between(course: Course, low_c: float, high_c: float) -> float:
    """Seconds of a course above one temperature and below another."""
    total = 0.0
    for (s0, t0), (s1, t1) in pairwise(course):
        if t0 == t1:
            total += (s1 - s0) if low_c + 1e-9 < t0 < high_c - 1e-9 else 0.0
            continue
        lower, upper = min(t0, t1), max(t0, t1)
        total += (s1 - s0) * max(min(upper, high_c) - max(lower, low_c), 0.0) / (upper - lower)
    return total


def _stretches(course: Course) -> Iterator[tuple[list[tuple[float, float]], bool]]:
    """The course cut at each time it is hot enough to kill: points from there on, and whether it came from that heat."""
    found: list[tuple[float, float]] = []
    was_hot = False
    for point in course:
        if point[1] >= KILLS_C:
            # What came before is a stretch of its own, the way up to this heat with it.
            if found and any(t < KILLS_C for _, t in found):
                yield [*found, point], was_hot
            found, was_hot = [point], True
        else:
            found.append(point)
    if found:
        yield found, was_hot


def _falls_at(stretch: Course) -> float | None:
    """When it falls through 57 °C for the last time; None where it never does."""
    found = None
    for (s0, t0), (s1, t1) in pairwise(stretch):
        if t0 >= FROM_C > t1:
            found = s0 + (s1 - s0) * (t0 - FROM_C) / (t0 - t1)
    return found


def _from(stretch: Course, start_s: float) -> Iterator[tuple[float, float]]:
    yield start_s, FROM_C
    yield from ((s, t) for s, t in stretch if s > start_s)


def _back_in_the_cold(stretch: Course, cold_c: float) -> float | None:
    """Seconds from the first point out of the cold until the last return to it; None where it stays out."""
    if not stretch or stretch[-1][1] > cold_c + 1e-9:
        return None
    out = [s for s, t in stretch if t > cold_c + 1e-9]
    if not out:
        return 0.0
    back = next(s for s, t in reversed(list(stretch)) if t <= cold_c + 1e-9)
    for (s0, t0), (s1, t1) in pairwise(stretch):
        if t0 > cold_c >= t1:
            back = s0 + (s1 - s0) * (t0 - cold_c) / (t0 - t1)
    return max(back - out[0], 0.0)


def _reheated(course: Course) -> float | None:
    """The heat to which it was warmed for hot holding after it had been hot and had cooled down; None where that reached 74 °C."""
    was_hot = cooled_down = False
    warmest = 0.0
    for _, t in course:
        if t >= FROM_C and not cooled_down:
            was_hot = True
        elif was_hot and t <= _COOLED_DOWN_C:
            cooled_down, warmest = True, 0.0
        if cooled_down:
            warmest = max(warmest, t)
            if t >= KILLS_C:
                cooled_down, warmest = False, 0.0
    return warmest if FROM_C <= warmest < KILLS_C else None
