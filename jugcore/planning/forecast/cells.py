"""What days to come bring of every drink and size at every place."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.calendar import days_of, stated
from jugcore.planning.forecast.counts import LEAST_ALPHA, MOST_ALPHA, Counts
from jugcore.planning.forecast.held_out import HeldOut
from jugcore.planning.forecast.outlook import outlooks
from jugcore.planning.forecast.request import ForecastAsk, LikeDoc
from jugcore.planning.forecast.series import Day, Series

#: How a cell's figures came about; beside the methods: as at other places, or as another drink.
By = Literal["regression", "last_week", "mean_of_four", "as_elsewhere", "like"]
#: So many days must be known of a cell at its place for it to be foreseen by itself.
ENOUGH_DAYS = 14
#: What is not known of a place that is taken to be like others, and of a drink taken to be like another, in squares of shares. Estimates.
_ELSEWHERE_DOUBT, _LIKE_DOUBT = 0.08, 0.12


@dataclass(frozen=True)
class Cell:
    """A drink in a size at a place, over the days to come."""

    place: str
    drink: str
    size: str
    by: By
    counts: Counts
    held: HeldOut | None = None
    widened: float = 1.0
    like: str = ""
    #: The overrides that changed it, and its means without them.
    overrides: tuple[str, ...] = ()
    before: Floats | None = None

    @property
    def key(self) -> tuple[str, str, str]:
        """Place, drink, size."""
        return self.place, self.drink, self.size


def cells_of(ask: ForecastAsk) -> list[Cell]:
    """Every cell of a forecast, likes and overrides in it. A cell that nothing is known of has none."""
    past = (ask.today - ask.first).days
    calendars = {place.id: days_of(ask, place) for place in ask.places}
    found: dict[tuple[str, str, str], Cell] = {}
    short: dict[tuple[str, str, str], Series] = {}
    known: dict[tuple[str, str, str], Series] = {}
    for place in ask.places:
        calendar = calendars[place.id]
        rows = [each for each in ask.sold if each.place == place.id]
        series = [Series(calendar[:past], _counts(each.counts, calendar)) for each in rows]
        known |= {(row.place, row.drink, row.size): each for row, each in zip(rows, series, strict=True)}
        enough = [n for n, each in enumerate(series) if int(each.known.sum()) >= ENOUGH_DAYS]
        foreseen = outlooks([series[n] for n in enough], calendar[past:]) if enough else []
        for n, each in zip(enough, foreseen, strict=True):
            if each is not None:
                row = rows[n]
                cell = Cell(row.place, row.drink, row.size, each.method, each.counts, each.held, each.widened)
                found[cell.key] = cell
        short |= {(row.place, row.drink, row.size): each for row, each in zip(rows, series, strict=True)
                  if (row.place, row.drink, row.size) not in found}  # fmt: skip
    for key, series_ in short.items():
        cell_ = _as_elsewhere(key, series_, found, known, calendars[key[0]][past:])
        if cell_ is not None:
            found[key] = cell_
    cells = _with_stated(list(found.values()), ask, calendars, past)
    for like in ask.likes:
        cells = _with_like(cells, like, known)
    return _with_overrides(cells, ask)


def _counts(counts: Sequence[float | None], calendar: Sequence[Day]) -> Floats:
    return np.array([np.nan if count is None or day.closed else count for count, day in zip(counts, calendar, strict=False)], dtype=np.float64)


def _as_elsewhere(
    key: tuple[str, str, str], series: Series, found: dict[tuple[str, str, str], Cell], known: dict[tuple[str, str, str], Series],
    ahead: Sequence[Day],
) -> Cell | None:  # fmt: skip
    """A cell of which too little is known, as other places sell the same; by the share this place has of them, else None."""
    place, drink, size = key
    others = [cell for cell in found.values() if cell.drink == drink and cell.size == size and cell.place != place and cell.held is not None]
    if not others:
        return None
    here = there = 0.0
    # What the place sells of everything beside the others, over days that are known of both.
    for (at, d, s), own in known.items():
        if at != place:
            continue
        for other in others:
            twin = known.get((other.place, d, s))
            if twin is not None:
                both = own.known & twin.known
                here, there = here + float(own.counts[both].sum()), there + float(twin.counts[both].sum()) / len(others)
    if there <= 0:
        return None
    share = here / there
    mean = share * np.mean([cell.counts.mean for cell in others], axis=0)
    alpha = np.mean([cell.counts.alpha for cell in others], axis=0) + _ELSEWHERE_DOUBT
    closed = np.array([day.closed for day in ahead])
    return Cell(place, drink, size, "as_elsewhere", Counts(np.where(closed, 0.0, mean), np.minimum(alpha, MOST_ALPHA)))


def _with_stated(cells: list[Cell], ask: ForecastAsk, calendars: dict[str, tuple[Day, ...]], past: int) -> list[Cell]:
    """Events that no place has seen, by what somebody says they do."""
    said = stated(ask)
    found = []
    for cell in cells:
        calendar = calendars[cell.place]
        seen = {day.event for day in calendar[:past]}
        times = np.array([said.get(day.event, 1.0) if day.event and day.event not in seen else 1.0 for day in calendar[past:]])
        found.append(cell if np.all(times == 1.0) else replace(cell, counts=Counts(cell.counts.mean * times, cell.counts.alpha)))
    return found


def _with_like(cells: list[Cell], like: LikeDoc, known: dict[tuple[str, str, str], Series]) -> list[Cell]:
    """A new drink as a share of another, until enough of its own days are known."""
    days: dict[str, int] = defaultdict(int)
    for (_, drink, _), series in known.items():
        if drink == like.drink:
            days["own"] = max(days["own"], int(series.known.sum()))
    if days["own"] >= ENOUGH_DAYS:
        return cells
    kept = [cell for cell in cells if cell.drink != like.drink]
    models = [cell for cell in kept if cell.drink == like.like]
    new: list[Cell] = []
    if like.sizes:
        for size, model_size in like.sizes.items():
            new += [_as_like(cell, like, size) for cell in models if cell.size == model_size]
    else:
        new += [_as_like(cell, like, cell.size) for cell in models]
    if like.instead:
        taken: dict[tuple[str, str, str], Floats] = {}
        for size, model_size in (like.sizes or {cell.size: cell.size for cell in models}).items():
            for cell in new:
                if cell.size == size:
                    key = (cell.place, like.like, model_size)
                    taken[key] = taken.get(key, 0.0) + cell.counts.mean
        kept = [
            replace(cell, counts=Counts(np.maximum(cell.counts.mean - taken[cell.key], 0.0), cell.counts.alpha)) if cell.key in taken else cell
            for cell in kept
        ]
    return kept + new


def _as_like(cell: Cell, like: LikeDoc, size: str) -> Cell:
    counts = Counts(cell.counts.mean * like.share, np.minimum(cell.counts.alpha + _LIKE_DOUBT, MOST_ALPHA))
    return Cell(cell.place, like.drink, size, "like", counts, like=like.like)


def _with_overrides(cells: list[Cell], ask: ForecastAsk) -> list[Cell]:
    """What somebody knows better, one after another: each is spread over its cells as they stand, evenly where all of them are nothing."""
    days = ask.days()[(ask.today - ask.first).days :]
    means = {cell.key: cell.counts.mean.copy() for cell in cells}
    touched: dict[tuple[str, str, str], list[str]] = defaultdict(list)
    for override in ask.overrides:
        for n, on in enumerate(days):
            keys = [cell.key for cell in cells if override.holds(on, *cell.key)]
            if not keys:
                continue
            whole = sum(float(means[key][n]) for key in keys)
            for key in keys:
                share = float(means[key][n]) / whole if whole > 0 else 1.0 / len(keys)
                means[key][n] = override.times * means[key][n] if override.times is not None else (override.count or 0.0) * share
                if override.id not in touched[key]:
                    touched[key].append(override.id)
    return [
        replace(cell, counts=Counts(means[cell.key], np.maximum(cell.counts.alpha, LEAST_ALPHA)), overrides=tuple(touched[cell.key]),
                before=cell.counts.mean) if cell.key in touched else cell
        for cell in cells
    ]  # fmt: skip
