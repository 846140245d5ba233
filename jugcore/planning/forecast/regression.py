"""Counts by weekday, trend and event: a negative-binomial regression whose older days count for less.

log μ = level + rhythm of its group + own weekday + own event + trend · weeks. What a series adds to its group's rhythm is
held near nothing by observations that are made up for it: a row that sees the one effect alone and says “as the group”. So a
drink with three weeks of sales follows its group, and one with thirty its own.
"""

from __future__ import annotations

import warnings
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.counts import LEAST_ALPHA, Counts, alpha_of
from jugcore.planning.forecast.series import Day, Series

#: A day counts for so much of the day after it. Estimate, checked by the benchmark over generated series.
FADES = 0.975
#: How far a series' own effects lie from its group's, one standard deviation in logarithms. Estimates; that of weekdays is
#: read off the group where it has several series.
OWN_WEEKDAY, _OWN_EVENT = 0.12, 0.2
#: And the group's own from an even week.
_ANY_WEEKDAY, _ANY_EVENT = 0.6, 0.6
#: Trend a week, one standard deviation in logarithms; further weeks add less and less. Estimates.
_TREND, _DAMPED = 0.02, 0.85
#: How many days' worth the group's spread counts for in that of one series.
_GROUP_DAYS = 20.0
#: Counts this small make the fit's logarithm run away. Half a cup a fortnight.
_LEAST_MEAN = 0.035
_DAYS_A_WEEK = 7
#: A fit with fewer known days is none.
LEAST_DAYS = 8


@dataclass(frozen=True)
class Rhythm:
    """What a group's days are to its usual day, in logarithms: by weekday (7,), by event; how far its series' own weekdays lie from
    these (one standard deviation), and how one of them scatters."""

    weekday: Floats
    events: Mapping[str, float]
    own_weekday: float = OWN_WEEKDAY
    alpha: float | None = None

    def of(self, days: Sequence[Day]) -> Floats:
        """(D,) of days; an event the group has not had is an ordinary day."""
        return np.array([self.weekday[day.weekday] + self.events.get(day.event, 0.0) for day in days], dtype=np.float64)


EVEN = Rhythm(np.zeros(_DAYS_A_WEEK), {})


@dataclass(frozen=True)
class Fit:
    """A fitted regression. ``theta`` (P,) is level, weekdays, trend and ``events``; ``spread`` (P, P) its covariance."""

    theta: Floats
    covariance: Floats
    events: tuple[str, ...]
    alpha: float
    rhythm: Rhythm
    last: int

    def log_mean(self, days: Sequence[Day]) -> tuple[Floats, Floats]:
        """Logarithms of the means of days, and the variances of these, each (H,)."""
        rows = _design(days, self.last, self.events)
        return self.rhythm.of(days) + rows @ self.theta, np.einsum("hp,pq,hq->h", rows, self.covariance, rows)

    def counts(self, days: Sequence[Day], widened: float = 1.0) -> Counts:
        """What days will bring; not knowing the mean itself is part of the spread. ``widened`` multiplies the spread."""
        log_mean, variance = self.log_mean(days)
        mean = np.exp(np.clip(log_mean, np.log(1e-6), np.log(1e6)))
        doubt = np.expm1(np.minimum(variance, 1.0))
        alpha = np.maximum(widened * (self.alpha + doubt * (1.0 + self.alpha)), LEAST_ALPHA)
        return Counts(np.where([day.closed for day in days], 0.0, mean), alpha)

    def as_rhythm(self) -> Rhythm:
        """The rhythm that others of its group follow."""
        weekday = self.rhythm.weekday + self.theta[1 : 1 + _DAYS_A_WEEK]
        weekday = weekday - weekday.mean()
        first = 2 + _DAYS_A_WEEK
        own = {event: float(value) for event, value in zip(self.events, self.theta[first:], strict=True)}
        events = {event: self.rhythm.events.get(event, 0.0) + own.get(event, 0.0) for event in {*self.rhythm.events, *own}}
        return Rhythm(weekday, events)


def fit(series: Series, rhythm: Rhythm = EVEN, *, group: bool = False, rounds: int = 2) -> Fit | None:
    """Fit a series to its group's rhythm; None where too few days are known.

    Parameters: the series; the rhythm of its group; ``group``: whether it is the group itself, whose week may be anything;
    ``rounds``: how often it is fitted with the spread of the fit before.
    Valid for counts of 0 to a million a day. Source: McCullagh and Nelder 1989, chapter 6 (log-linear counts), fitted by statsmodels;
    fading weights as in discounted regression (West and Harrison 1997); error measured in bench/forecast.md.
    """
    known = series.known
    if int(known.sum()) < LEAST_DAYS:
        return None
    days = [day for day, there in zip(series.days, known, strict=True) if there]
    counts = series.counts[known]
    weights = FADES ** series.age[known]
    last = series.days[-1].on.toordinal()
    events = tuple(sorted({day.event for day in days} - {""}))
    rows, offset = _design(days, last, events), rhythm.of(days)
    mean = max(float(np.sum(weights * counts) / np.sum(weights)), _LEAST_MEAN)
    alpha = rhythm.alpha or 0.05
    prior = _Prior.of(events, _ANY_WEEKDAY if group else rhythm.own_weekday, _ANY_EVENT if group else _OWN_EVENT)
    for _ in range(rounds):
        theta, covariance = _fitted(rows, counts, weights, offset, alpha, prior, mean)
        means = np.exp(np.clip(offset + rows @ theta, -14, 14))
        weight = weights * means / (1.0 + alpha * means)
        used = float(np.einsum("np,pq,nq,n->", rows, covariance, rows, weight))
        own = alpha_of(counts, means, weights, used)
        total = float(weights.sum())
        alpha = own if rhythm.alpha is None else (total * own + _GROUP_DAYS * rhythm.alpha) / (total + _GROUP_DAYS)
    return Fit(theta, covariance, events, alpha, rhythm, last)


@dataclass(frozen=True)
class _Prior:
    """How near to nothing each effect is held: the columns, and one standard deviation of each."""

    columns: tuple[int, ...]
    sd: Floats

    @staticmethod
    def of(events: Sequence[str], weekday: float, event: float) -> _Prior:
        sd = [*[weekday] * _DAYS_A_WEEK, _TREND, *[event] * len(events)]
        return _Prior(tuple(range(1, 1 + len(sd))), np.array(sd))


def _design(days: Sequence[Day], last: int, events: Sequence[str]) -> Floats:
    """(D, P): one, the weekday, weeks since the last day, events. Weeks to come add less and less."""
    rows = np.zeros((len(days), 2 + _DAYS_A_WEEK + len(events)))
    rows[:, 0] = 1.0
    for n, day in enumerate(days):
        rows[n, 1 + day.weekday] = 1.0
        weeks = (day.on.toordinal() - last) / _DAYS_A_WEEK
        rows[n, 1 + _DAYS_A_WEEK] = weeks if weeks <= 0 else (1.0 - _DAMPED**weeks) / -np.log(_DAMPED)
        if day.event in events:
            rows[n, 2 + _DAYS_A_WEEK + events.index(day.event)] = 1.0
    return rows


def _fitted(
    rows: Floats, counts: Floats, weights: Floats, offset: Floats, alpha: float, prior: _Prior, mean: float
) -> tuple[Floats, Floats]:  # fmt: skip
    """Parameters and their covariance at a spread."""
    from statsmodels.genmod.families import NegativeBinomial
    from statsmodels.genmod.generalized_linear_model import GLM
    from statsmodels.tools.sm_exceptions import PerfectSeparationWarning

    made_up = np.zeros((len(prior.columns), rows.shape[1]))
    made_up[np.arange(len(prior.columns)), prior.columns] = 1.0
    # At the mean m an observation of weight w bends the likelihood by w·m/(1 + αm): so much that it is 1/sd².
    strength = (1.0 + alpha * mean) / (mean * prior.sd**2)
    model = GLM(
        np.concatenate([counts, np.full(len(prior.columns), mean)]), np.vstack([rows, made_up]),
        family=NegativeBinomial(alpha=max(alpha, LEAST_ALPHA)),
        offset=np.concatenate([offset, np.full(len(prior.columns), np.log(mean))]), var_weights=np.concatenate([weights, strength]),
    )  # fmt: skip
    start = np.zeros(rows.shape[1])
    start[0] = np.log(mean) - float(np.average(offset, weights=weights))
    with warnings.catch_warnings():
        # Counts that are met exactly, such as none at all, leave nothing open here: what is made up holds every parameter.
        warnings.simplefilter("ignore", PerfectSeparationWarning)
        found = model.fit(start_params=start, maxiter=60, scale=1.0)
    return np.asarray(found.params, dtype=np.float64), np.asarray(found.cov_params(), dtype=np.float64)
