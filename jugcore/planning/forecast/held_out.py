"""Which method was nearest: each asked at the ends of past weeks for the week after, which it had not seen (rolling origin)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.counts import LEAST_ALPHA, MOST_ALPHA, Counts
from jugcore.planning.forecast.regression import Rhythm, fit
from jugcore.planning.forecast.rules import last_week, mean_of_four
from jugcore.planning.forecast.series import Series

Method = Literal["regression", "last_week", "mean_of_four"]
METHODS: tuple[Method, ...] = ("regression", "mean_of_four", "last_week")
#: Weeks that are held out, the newest last.
WEEKS = 4
_WEEK = 7
#: An origin with fewer days before it is none.
_LEAST_BEFORE = 14


def origins(series: Series) -> tuple[int, ...]:
    """How many days stand before each week that is held out; none where too few do."""
    days = len(series.days)
    return tuple(at for at in range(days - WEEKS * _WEEK, days, _WEEK) if at >= _LEAST_BEFORE)


@dataclass(frozen=True)
class HeldOut:
    """What every method said of the days that were held out. ``days`` (N,) are their places in the series; all else (N,).

    ``alpha`` is the regression's spread of each.
    """

    days: tuple[int, ...]
    counts: Floats
    said: dict[Method, Floats]
    alpha: Floats

    def error(self, method: Method) -> float | None:
        """Mean absolute error of a method; None where nothing was held out, or it had nothing to say."""
        missed = np.abs(self.counts - self.said[method])
        return float(missed.mean()) if len(missed) and np.all(np.isfinite(missed)) else None

    def best(self) -> Method:
        """The nearest: the regression, unless a plain rule was nearer by more than chance makes of it (one standard error)."""
        best: Method = "regression"
        own = np.abs(self.counts - self.said["regression"])
        least = 0.0
        for method in METHODS[1:]:
            gain = own - np.abs(self.counts - self.said[method])
            gain = gain[np.isfinite(gain)]
            if len(gain) < _WEEK:
                continue
            mean, error = float(gain.mean()), float(gain.std(ddof=1)) / len(gain) ** 0.5
            if mean > error and mean > least:
                best, least = method, mean
        return best

    def alpha_of_rule(self, method: Method) -> float:
        """The spread of what came around what a rule said, by moments."""
        said = self.said[method]
        good = np.isfinite(said)
        squares = float(np.sum(said[good] ** 2))
        if squares <= 0:
            return 0.2
        return float(np.clip(np.sum((self.counts[good] - said[good]) ** 2 - said[good]) / squares, LEAST_ALPHA, MOST_ALPHA))

    def by_regression(self, widened: float) -> tuple[tuple[int, ...], Counts]:
        """The held-out days that the regression had something to say of, and that, its spread multiplied."""
        good = np.isfinite(self.said["regression"])
        days = tuple(day for day, there in zip(self.days, good, strict=True) if there)
        return days, Counts(self.said["regression"][good], np.maximum(widened * self.alpha[good], LEAST_ALPHA))


def hold_out(series: Series, rhythms: dict[int, Rhythm]) -> HeldOut:
    """Ask every method for the weeks held out of a series. ``rhythms`` are its group's, by origin."""
    places: list[int] = []
    said: dict[Method, list[Floats]] = {method: [] for method in METHODS}
    alphas: list[Floats] = []
    for at in origins(series):
        # Of an event that nobody had seen yet no method could know; whoever plans says what it does.
        seen = {day.event for day in series.days[:at]} | {""}
        ahead = [n for n in range(at, min(at + _WEEK, len(series.days))) if series.known[n] and series.days[n].event in seen]
        if not ahead:
            continue
        days = [series.days[n] for n in ahead]
        before, rhythm = series.up_to(at), rhythms[at]
        fitted = fit(before, rhythm, rounds=1)
        nothing = np.full(len(ahead), np.nan)
        counts = None if fitted is None else fitted.counts(days)
        said["regression"].append(nothing if counts is None else counts.mean)
        alphas.append(nothing if counts is None else counts.alpha)
        said["last_week"].append(last_week(before, days, rhythm))
        said["mean_of_four"].append(mean_of_four(before, days, rhythm))
        places += ahead
    empty = np.empty(0)

    def whole(parts: Sequence[Floats]) -> Floats:
        return np.concatenate(parts) if parts else empty

    counts_there = series.counts[places] if places else empty
    return HeldOut(tuple(places), counts_there, {method: whole(parts) for method, parts in said.items()}, whole(alphas))
