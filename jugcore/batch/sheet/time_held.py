"""How long a hold or a steep has really been held: time counts where it is as warm as it is to be, by the probe."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise
from typing import Literal

from jugcore.batch.actual.actual_batch import ActualBatch, readings_of
from jugcore.figures import shown
from jugcore.keeping.two_stage_cooling import FROM_C
from jugcore.method.stages import Holding
from jugcore.method.walk import Walk
from jugcore.reading.processes.outcomes import before, enzymes_in

#: How far a temperature may be missed, and how far overshot (common practice, no source). [°C]
NEAR_C, OVER_C = 2.0, 5.0
#: A hold may end this much early and be as asked: a share, and minutes (common practice, no source).
_EARLY_SHARE, _EARLY_MIN = 0.05, 0.5

Off = Literal["", "cold", "hot", "short"]


@dataclass(frozen=True)
class Window:
    """Between which temperatures time counts [°C], None where there is no end; whether an enzyme works in it."""

    low_c: float | None
    high_c: float | None
    enzyme: bool = False

    def lacks(self, temperature_c: float) -> Off:
        """Whether a temperature is below it or above it."""
        if self.low_c is not None and temperature_c < self.low_c - 1e-9:
            return "cold"
        return "hot" if self.high_c is not None and temperature_c > self.high_c + 1e-9 else ""


@dataclass(frozen=True)
class HeldSoFar:
    """Minutes asked and held, the last reading, and what is off about it, with the figure it is off from."""

    window: Window
    asked_min: float
    held_min: float | None
    elapsed_min: float | None
    last_c: float | None
    done: bool
    off: Off

    @property
    def words(self) -> str:
        """What is wrong and what to do; empty where nothing is."""
        if self.off == "short":
            held = f"{shown(round(self.held_min or 0.0, 1))} of {shown(round(self.asked_min, 1))} min"
            return f"Held {held}. {'Hold it for the rest.' if self.done else ''}".strip()
        if self.off == "cold" and self.window.low_c is not None:
            limit = shown(round(self.window.low_c, 1))
            return f"{shown(round(self.last_c or 0.0, 1))} °C: warm it to {limit} °C or above. Only the time it is that warm counts."
        if self.off == "hot" and self.window.high_c is not None:
            limit = shown(round(self.window.high_c, 1))
            kills = " The enzyme dies there." if self.window.enzyme else ""
            return f"{shown(round(self.last_c or 0.0, 1))} °C: cool it to {limit} °C or below.{kills} Only the time below that counts."
        return ""


def held_so_far(batch: ActualBatch, asked: Holding, now: datetime | None = None) -> HeldSoFar:
    """A hold by its log: until it was done, else until ``now``; without a time it goes to the last entry."""
    record = batch.record
    window = window_of(batch.planned, asked)
    read = readings_of(record, asked.id)
    began, done = record.began(asked.id), record.done(asked.id)
    end = done.event.at if done is not None else now if now is not None else max([*(at for at, _ in read), *([began] if began else [])], default=None)
    held = elapsed = None
    if began is not None and end is not None:
        elapsed = max((end - began).total_seconds() / 60.0, 0.0)
        held = _minutes_within(read, began, end, window) if read else elapsed
    last = read[-1][1] if read else None
    off: Off = "" if last is None else window.lacks(last)
    if done is not None and held is not None and held < asked.for_min * (1 - _EARLY_SHARE) - _EARLY_MIN:
        off = off or "short"
    elif done is not None and off and held is not None and held >= asked.for_min:
        off = ""  # it was held long enough before it left the window
    return HeldSoFar(window, asked.for_min, held, elapsed, last, done is not None, off)


def window_of(planned: Walk, asked: Holding) -> Window:
    """Where the time of a hold counts: an enzyme's window, near what it is kept at, and 57 °C or above where it was to be held hot."""
    stage = next((each for each in planned.stages if each.id == asked.id), None)
    if stage is None or not isinstance(stage, Holding):
        return Window(None, None)
    held = before(planned, stage).vessels.get(stage.vessel)
    works = None if held is None else next((book.enzyme.works_c for _, book in enzymes_in(planned, held) if book.enzyme), None)
    if works is not None:
        return Window(works.low, works.high, enzyme=True)
    trace = planned.step(stage.id).trace
    if trace is None:
        return Window(None, None)
    coldest = float(trace.temperature_c[0].min())
    if asked.where == "hob":
        keep = float(trace.temperature_c[0].mean())
        return Window(max(keep - NEAR_C, FROM_C) if keep >= FROM_C else keep - NEAR_C, keep + OVER_C)
    return Window(FROM_C if coldest >= FROM_C else None, None)


def _minutes_within(read: Sequence[tuple[datetime, float]], began: datetime, end: datetime, window: Window) -> float:
    """Minutes within the window between two times, straight between the readings and level before the first and after the last."""
    points = [((at - began).total_seconds() / 60.0, c) for at, c in read]
    long = (end - began).total_seconds() / 60.0
    course = [(min(points[0][0], 0.0), points[0][1]), *points, (max(points[-1][0], long), points[-1][1])]
    total = 0.0
    for (m0, c0), (m1, c1) in pairwise(course):
        a, b = max(m0, 0.0), min(m1, long)
        if b <= a:
            continue
        slope = (c1 - c0) / (m1 - m0) if m1 > m0 else 0.0
        total += _share_within(c0 + slope * (a - m0), c0 + slope * (b - m0), window) * (b - a)
    return total


def _share_within(c0: float, c1: float, window: Window) -> float:
    """Share of a straight line from one temperature to another that lies in a window."""
    low = -1e9 if window.low_c is None else window.low_c - 1e-9
    high = 1e9 if window.high_c is None else window.high_c + 1e-9
    if c0 == c1:
        return 1.0 if low <= c0 <= high else 0.0
    bottom, top = min(c0, c1), max(c0, c1)
    return max(min(top, high) - max(bottom, low), 0.0) / (top - bottom)
