"""A forecast as it is shown and planned with."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from jugcore.figures import Floats
from jugcore.planning.forecast.cells import By, Cell, cells_of
from jugcore.planning.forecast.counts import Counts
from jugcore.planning.forecast.held_out import METHODS, HeldOut, Method
from jugcore.planning.forecast.request import ForecastAsk
from jugcore.planning.forecast.together import Together, together_of


class BandOut(BaseModel):
    """Counts of days: means, and between what 80 % of days will lie."""

    mean: list[float]
    low: list[float]
    high: list[float]


class MissedOut(BaseModel):
    """By how much a method missed a day's count on average, over the days held out; null where it had nothing to say."""

    method: Method
    error: float | None


class CellOut(BaseModel):
    """A drink in a size at a place. ``alpha`` is the spread of each day's count: variance = mean + alpha · mean²."""

    place: str
    drink: str
    size: str
    by: By
    like: str
    days: BandOut
    alpha: list[float]
    missed: list[MissedOut]
    held_days: int
    covered: float | None = Field(description="Share of held-out days within the 80 % band.")
    overrides: list[str]
    before: list[float] | None = Field(description="Means without the overrides.")


class PastOut(BaseModel):
    """What was sold on days held out, and what had been said of them before."""

    on: list[date]
    sold: list[float]
    said: BandOut


class SumOut(BaseModel):
    """A sum of cells: of a drink, of a place, or of everything."""

    of: Literal["all", "drink", "place"]
    key: str
    days: BandOut
    week: BandOut = Field(description="All days to come together, one figure each.")
    missed: list[MissedOut]
    past: PastOut


class TogetherOut(BaseModel):
    """By which squared shares cells miss together: all of a week, of a day, of a series."""

    week: float
    day: float
    level: float


class ForecastReport(BaseModel):
    """What days to come will bring."""

    first: date
    on: list[date]
    events: list[str] = Field(description="What goes on, by day; empty on an ordinary one.")
    cells: list[CellOut]
    sums: list[SumOut]
    together: TogetherOut


def forecast(ask: ForecastAsk) -> ForecastReport:
    """What every drink and size will sell on every day to come, with its band; sums; and how wrong each method was before."""
    cells = cells_of(ask)
    past = (ask.today - ask.first).days
    days = ask.days()
    parts = together_of([cell.held for cell in cells if cell.held is not None])
    sums = [_sum("all", "", cells, parts, days)] if cells else []
    by: list[tuple[Literal["drink", "place"], Callable[[Cell], str]]] = [("drink", lambda cell: cell.drink), ("place", lambda cell: cell.place)]
    for of, key_of in by:
        for key in sorted({key_of(cell) for cell in cells}):
            sums.append(_sum(of, key, [cell for cell in cells if key_of(cell) == key], parts, days))
    goes_on = [next((each.name for each in ask.events if each.first <= on <= each.last), "") for on in days[past:]]
    return ForecastReport(
        first=ask.today, on=days[past:], events=goes_on, cells=[_cell(cell) for cell in cells], sums=sums,
        together=TogetherOut(week=parts.week, day=parts.day, level=parts.level),
    )  # fmt: skip


def _cell(cell: Cell) -> CellOut:
    held = cell.held
    covered, held_days = None, 0
    if held is not None and held.days:
        there, said = held.by_regression(cell.widened)
        came = dict(zip(held.days, held.counts, strict=True))
        if there:
            low, high = said.band()
            counts = np.array([came[day] for day in there])
            covered, held_days = float(np.mean((counts >= low) & (counts <= high))), len(there)
    return CellOut(
        place=cell.place, drink=cell.drink, size=cell.size, by=cell.by, like=cell.like, days=_band(cell.counts), alpha=_round(cell.counts.alpha, 6),
        missed=[] if held is None else _missed([held]), held_days=held_days, covered=covered, overrides=list(cell.overrides),
        before=None if cell.before is None else _round(cell.before, 3),
    )  # fmt: skip


def _sum(of: Literal["all", "drink", "place"], key: str, cells: Sequence[Cell], parts: Together, days: Sequence[date]) -> SumOut:
    counts = [cell.counts for cell in cells]
    held = [cell for cell in cells if cell.held is not None and cell.held.days]
    return SumOut(
        of=of, key=key, days=_band(parts.summed(counts)), week=_band(parts.over_days(counts)),
        missed=_missed([cell.held for cell in held if cell.held is not None]), past=_past(held, parts, days),
    )  # fmt: skip


def _past(cells: Sequence[Cell], parts: Together, days: Sequence[date]) -> PastOut:
    """Held-out days on which something is known of every cell that is known on most of them."""
    by_day: dict[int, list[tuple[float, Counts]]] = {}
    for cell in cells:
        assert cell.held is not None
        there, said = cell.held.by_regression(cell.widened)
        came = dict(zip(cell.held.days, cell.held.counts, strict=True))
        for n, day in enumerate(there):
            by_day.setdefault(day, []).append((float(came[day]), Counts(said.mean[n : n + 1], said.alpha[n : n + 1])))
    on = sorted(by_day)
    summed = [parts.summed([counts for _, counts in by_day[day]]) for day in on]
    whole = Counts(_joined([each.mean for each in summed]), _joined([each.alpha for each in summed]))
    return PastOut(on=[days[day] for day in on], sold=[sum(count for count, _ in by_day[day]) for day in on], said=_band(whole))


def _missed(held: Sequence[HeldOut]) -> list[MissedOut]:
    """Mean absolute errors of the day's sum, over what every method had something to say of."""
    found = []
    for method in METHODS:
        by_day: dict[int, float] = {}
        for each in held:
            said = np.all([np.isfinite(each.said[other]) for other in METHODS], axis=0)
            for n, day in enumerate(each.days):
                if said[n]:
                    by_day[day] = by_day.get(day, 0.0) + float(each.counts[n] - each.said[method][n])
        missed = np.abs(list(by_day.values()))
        found.append(MissedOut(method=method, error=round(float(missed.mean()), 3) if len(missed) else None))
    return found


def _band(counts: Counts) -> BandOut:
    low, high = counts.band()
    return BandOut(mean=_round(counts.mean, 3), low=_round(low, 0), high=_round(high, 0))


def _round(values: Floats, digits: int) -> list[float]:
    return [round(float(value), digits) for value in values]


def _joined(parts: Sequence[Floats]) -> Floats:
    return np.concatenate(parts) if parts else np.empty(0)
