"""Where a boiling pot is heading: by the model until it has been weighed, then by what the scale saw.

The boil's trace gives the shape; the speed comes from the kitchen's figures with their
range, or, once two weighings lie far enough apart, from those.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from jugcore.figures import Floats
from jugcore.method.stages import Step

#: Two weighings tell a speed once they are this far apart. [s], [g]
_APART_S, _APART_G = 60.0, 8.0
#: How far a speed seen on the scale may still be off, relative (common practice, no source).
_SEEN_SPREAD = 0.15
#: Lift-weigh once as little as this share of what must boil off may be left, and no less than these grams.
_NEAR_SHARE, _NEAR_G = 0.15, 20.0
_POINTS = 12


@dataclass(frozen=True)
class Seen:
    """A pot on the scale, its tare taken off."""

    at: datetime
    mass_g: float


@dataclass(frozen=True)
class BoilForecast:
    """What is to come: (when, least grams, most grams) in the pot; when to lift it; when it is ready; what was seen."""

    points: tuple[tuple[datetime, float, float], ...]
    lift_at: datetime | None
    ready_low: datetime
    ready_high: datetime
    observed_g_s: float | None


def course(step: Step, began: datetime | None, seen: Sequence[Seen]) -> BoilForecast | None:
    """The course of a boil that was begun at a time or weighed since; None before that, or where nothing boils off."""
    trace = step.trace
    seen = sorted(seen, key=lambda s: s.at)
    if trace is None or (began is None and not seen):
        return None
    mass, seconds = trace.mass_g[0], trace.seconds[0]
    if not mass[0] - mass[-1] > 0:
        return None
    low, typical, high = (float(x) for x in step.figures["boil_s"][0])
    heat_up = step.figures["heat_up_s"][0]
    spans = (low / typical, high / typical) if typical > 0 else (1.0, 1.0)
    observed = _observed(seen, mass, seconds)
    start_mass = float(mass[0])
    if observed is not None:
        _, pace = observed
        spans = (pace * (1 - _SEEN_SPREAD), pace * (1 + _SEEN_SPREAD))
    if seen:
        start, at_low, at_high = min(seen[-1].mass_g, start_mass), seen[-1].at, seen[-1].at
        if observed is None and began is not None and seen[-1].mass_g >= start_mass - 0.5:
            # Weighed before it boils: what is left of the heating comes first.
            at_low, at_high = (max(seen[-1].at, began + timedelta(seconds=float(s))) for s in (heat_up[0], heat_up[2]))
    else:
        assert began is not None
        start, at_low, at_high = start_mass, began + timedelta(seconds=float(heat_up[0])), began + timedelta(seconds=float(heat_up[2]))
    stop = float(mass[-1])
    boil_t = seconds - seconds[0]
    now_t = float(np.interp(start, mass[::-1], boil_t[::-1]))
    left = max(float(boil_t[-1]) - now_t, 0.0)
    ready_low, ready_high = at_low + timedelta(seconds=left * spans[0]), at_high + timedelta(seconds=left * spans[1])

    def grams(at: datetime, begins: datetime, pace: float) -> float:
        gone = max((at - begins).total_seconds(), 0.0) / pace if pace > 0 else float(boil_t[-1])
        return float(np.interp(min(now_t + gone, float(boil_t[-1])), boil_t, mass))

    first, last = min(at_low, seen[-1].at if seen else at_low), ready_high
    times = [first + (last - first) * (i / _POINTS) for i in range(_POINTS + 1)]
    points = tuple((t, grams(t, at_low, spans[0]), max(grams(t, at_high, spans[1]), stop)) for t in times)
    near = min(stop + max(_NEAR_SHARE * (start_mass - stop), _NEAR_G), start)
    near_t = float(np.interp(near, mass[::-1], boil_t[::-1]))
    lift = at_low + timedelta(seconds=max(near_t - now_t, 0.0) * spans[0])
    return BoilForecast(points, lift if start - stop > 0.5 else None, ready_low, ready_high, None if observed is None else observed[0])


def _observed(seen: Sequence[Seen], mass: Floats, seconds: Floats) -> tuple[float, float] | None:
    """Grams a second between the last weighing and the first far enough before it, and how many times as long as the trace that took."""
    if len(seen) < 2:
        return None
    last = seen[-1]
    for first in reversed(seen[:-1]):
        apart = (last.at - first.at).total_seconds()
        if apart >= _APART_S and first.mass_g - last.mass_g >= _APART_G:
            t = np.interp([first.mass_g, last.mass_g], mass[::-1], seconds[::-1])
            model = float(t[1] - t[0])
            if model <= 0:
                return None
            return (first.mass_g - last.mass_g) / apart, apart / model
    return None
