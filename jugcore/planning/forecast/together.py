"""How counts of different drinks and days miss together: a good day is good for every drink, a week that starts low stays low.

Of a cell (series i, day d) with mean μ the count is taken to be drawn around μ·(1 + week + day_d + level_i), and what scatters
beyond that is its own. The three are read off pairs of what was held out, by moments.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.counts import LEAST_ALPHA, MOST_ALPHA, Counts
from jugcore.planning.forecast.held_out import HeldOut
from jugcore.planning.forecast.randomness import Randomness

_WEEK = 7
#: No part is taken to be larger, in squares of shares.
_MOST = 0.25
#: So many weeks' worth are taken to show the usual parts, beside what was held out.
_USUAL_WEEKS = 2.0


@dataclass(frozen=True)
class Together:
    """Squared shares by which cells miss together: all of a week, all of a day, all of a series. Estimates where nothing was held out."""

    week: float = 0.002
    day: float = 0.004
    level: float = 0.004

    def pairs(self, means: Floats) -> float:
        """The sum of covariances over all pairs of different cells (S, D), by their means or what these weigh."""
        whole, square = float(means.sum()), float((means**2).sum())
        series, days = float((means.sum(axis=1) ** 2).sum()), float((means.sum(axis=0) ** 2).sum())
        return self.week * (whole**2 - square) + self.day * (days - square) + self.level * (series - square)

    def summed(self, counts: Sequence[Counts]) -> Counts:
        """The sum of several series, day by day (H,)."""
        means = np.array([each.mean for each in counts])
        own = np.array([each.alpha * each.mean**2 for each in counts])
        total = means.sum(axis=0)
        shared = np.array([self.pairs(means[:, n : n + 1]) for n in range(means.shape[1])])
        alpha = (own.sum(axis=0) + shared) / np.maximum(total, 1e-9) ** 2
        return Counts(total, np.clip(alpha, LEAST_ALPHA, MOST_ALPHA))

    def over_days(self, counts: Sequence[Counts]) -> Counts:
        """The sum of several series over all of their days, one count."""
        means = np.array([each.mean for each in counts])
        own = float(sum(float((each.alpha * each.mean**2).sum()) for each in counts))
        total = float(means.sum())
        alpha = (own + self.pairs(means)) / max(total, 1e-9) ** 2
        return Counts(np.array([total]), np.clip(np.array([alpha]), LEAST_ALPHA, MOST_ALPHA))

    def draws(self, counts: Sequence[Counts], random: Randomness, many: int) -> Floats:
        """Whole numbers (many, S, D) of what days may bring, cells missing together as they do."""
        means = np.array([each.mean for each in counts])
        alpha = np.array([each.alpha for each in counts])
        series, days = means.shape
        shared = self.week + self.day + self.level
        # Each part has the mean 1, so that together they keep the mean and add their squares.
        factor = _around_one(random, self.week, (many, 1, 1)) * _around_one(random, self.day, (many, 1, days))
        factor = factor * _around_one(random, self.level, (many, series, 1))
        own = np.maximum(alpha - shared, LEAST_ALPHA)
        size = np.broadcast_to(1.0 / own, (many, series, days))
        mean = np.maximum(means * factor, 0.0)
        found: Floats = random.negative_binomial(size, size / (size + np.maximum(mean, 1e-12))).astype(np.float64)
        return np.where(means > 0, found, 0.0)


def _around_one(random: Randomness, square: float, shape: tuple[int, ...]) -> Floats:
    """Factors of mean 1 and variance ``square`` (gamma, so that none is below 0)."""
    if square <= 0:
        return np.ones(shape)
    found: Floats = random.gamma(1.0 / square, square, shape)
    return found


def together_of(held: Sequence[HeldOut]) -> Together:
    """The parts, from what was held out of series that share a calendar, drawn towards what is usual."""
    usual = Together()
    days = sorted({day for each in held for day in each.days})
    if not days:
        return usual
    place = {day: n for n, day in enumerate(days)}
    missed, means = np.zeros((len(held), len(days))), np.zeros((len(held), len(days)))
    for n, each in enumerate(held):
        there, said = each.by_regression(1.0)
        columns = [place[day] for day in there]
        came = dict(zip(each.days, each.counts, strict=True))
        means[n, columns] = said.mean
        missed[n, columns] = np.array([came[day] for day in there]) - said.mean
    weeks = [[n for n, day in enumerate(days) if (days[-1] - day) // _WEEK == week] for week in range((days[-1] - days[0]) // _WEEK + 1)]
    over, under = np.zeros(3), np.zeros(3)
    for columns in weeks:
        if columns:
            over, under = over + _pairs(missed[:, columns]), under + _pairs(means[:, columns])
    prior = under * _USUAL_WEEKS / max(sum(1 for columns in weeks if columns), 1)
    both = (over + prior * np.array([usual.week, usual.week + usual.day, usual.week + usual.level])) / np.maximum(under + prior, 1e-9)
    week = float(np.clip(both[0], 0.0, _MOST))
    return Together(week, float(np.clip(both[1] - week, 0.0, _MOST)), float(np.clip(both[2] - week, 0.0, _MOST)))


def _pairs(cells: Floats) -> Floats:
    """(3,) sums of products over ordered pairs of different cells: apart in both, of one day, of one series."""
    square = float((cells**2).sum())
    series, days = float((cells.sum(axis=1) ** 2).sum()), float((cells.sum(axis=0) ** 2).sum())
    return np.array([float(cells.sum()) ** 2 - series - days + square, days - square, series - square])
