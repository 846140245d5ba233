"""Series that share a rhythm, such as the drinks of one bar: what each is read against, and what all of them together say of their bands."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from jugcore.errors import BadDocument
from jugcore.figures import Floats
from jugcore.planning.forecast.counts import alpha_of
from jugcore.planning.forecast.held_out import HeldOut, hold_out, origins
from jugcore.planning.forecast.regression import EVEN, FADES, OWN_WEEKDAY, Rhythm, fit
from jugcore.planning.forecast.series import Series

#: Between what a series' own weekdays may lie from its group's, one standard deviation in logarithms.
_LEAST_OWN, _MOST_OWN = 0.04, 0.6
#: How many series' worth the estimate of that counts for beside what the group shows.
_USUAL_SERIES = 3.0
#: Bands are widened or narrowed no further than this by what was held out, and so many days' worth are taken to say that they need not be.
_NARROWEST, _WIDEST, _AS_IS_DAYS = 0.5, 3.0, 40.0


@dataclass(frozen=True)
class Group:
    """Rhythms by origin, what was held out of each series, and by how much their bands are widened."""

    rhythms: dict[int, Rhythm]
    held: tuple[HeldOut, ...]
    widened: float


def group_of(members: Sequence[Series]) -> Group:
    """What series of one calendar share. Raises BadDocument where their calendars differ."""
    if not members:
        return Group({0: EVEN}, (), 1.0)
    if any(each.days != members[0].days for each in members):
        raise BadDocument("days", "The series of a group are of different days.", "Give all of them the same days, unknown counts as none.")
    rhythms = rhythms_of(members)
    held = tuple(hold_out(each, rhythms) for each in members)
    return Group(rhythms, held, _widened(held))


def rhythms_of(members: Sequence[Series]) -> dict[int, Rhythm]:
    """The rhythm of a group as it was known at each origin, and now (under the number of all days)."""
    found: dict[int, Rhythm] = {}
    for at in (*origins(members[0]), len(members[0].days)):
        parts = [each.up_to(at) for each in members]
        fitted = fit(_together(parts), group=True)
        found[at] = EVEN if fitted is None else _as_shown_by(parts, fitted.as_rhythm())
    return found


def _together(members: Sequence[Series]) -> Series:
    """All of them as one. What of a day nobody knows of one of them counts as its mean, so that a new drink makes no step."""
    counts = np.array([each.counts for each in members])
    known = np.isfinite(counts)
    usual = np.array([row[there].mean() if there.any() else 0.0 for row, there in zip(counts, known, strict=True)])
    share = np.sum(known * usual[:, None], axis=0) / max(float(usual.sum()), 1e-9)
    total = np.nansum(counts, axis=0) / np.maximum(share, 1e-9)
    return Series(members[0].days, np.where((share > 0.3) & known.any(axis=0), total, np.nan))


def _as_shown_by(members: Sequence[Series], rhythm: Rhythm) -> Rhythm:
    """A rhythm with how far its series' own weekdays lie from it, and their usual spread, by moments.

    By weekday, a series' weighted counts N against what its level and the rhythm make of them, E: (N − E)² is E²τ² and its scatter V.
    """
    over, under, alphas, shares = _USUAL_SERIES * 7 * OWN_WEEKDAY**2, _USUAL_SERIES * 7, [], []
    for each in members:
        known = each.known
        if int(known.sum()) < 14:
            continue
        days = [day for day, there in zip(each.days, known, strict=True) if there]
        counts, weights = each.counts[known], FADES ** each.age[known]
        beat = np.exp(rhythm.of(days))
        means = beat * float(np.sum(weights * counts) / np.sum(weights * beat))
        if means.sum() <= 0:
            continue
        by_weekday = np.array([[day.weekday == n and not day.event for day in days] for n in range(7)], dtype=np.float64)
        expected = by_weekday @ (weights * means)
        there = expected > 0
        came = by_weekday @ (weights * counts)
        within = means * np.where(there, came / np.maximum(expected, 1e-9), 1.0)[[day.weekday for day in days]]
        alpha = alpha_of(counts, np.maximum(within, 1e-3), weights, 8.0)
        scatter = by_weekday @ (weights**2 * (means + alpha * means**2))
        square = ((came - expected)[there] ** 2 - scatter[there]) / expected[there] ** 2
        trust = 1.0 / (1.0 + scatter[there] / expected[there] ** 2 / OWN_WEEKDAY**2)
        over, under = over + float(np.sum(trust * square)), under + float(np.sum(trust))
        alphas.append(alpha)
        shares.append(float(means.sum()))
    own = float(np.clip(np.sqrt(max(over, 0.0) / under), _LEAST_OWN, _MOST_OWN))
    return replace(rhythm, own_weekday=own, alpha=float(np.average(alphas, weights=shares)) if alphas else None)


def _widened(held: Sequence[HeldOut]) -> float:
    """By how much the spread of all of a group's bands is multiplied, so that what was held out scatters as they say.

    Solves Σ (y−μ)²/(μ + f·αμ²) = N by bisection over all held-out days of the group together: level that drifts, and days that are
    good or bad for every drink, show there and in no fit.
    """
    parts = [(each.counts[np.isfinite(each.alpha)], *_said(each)) for each in held]
    counts = np.concatenate([part[0] for part in parts]) if parts else np.empty(0)
    if len(counts) < 14:
        return 1.0
    means, alphas = np.concatenate([part[1] for part in parts]), np.concatenate([part[2] for part in parts])
    squares = (counts - means) ** 2

    def excess(factor: float) -> float:
        return float(np.sum(squares / np.maximum(means + factor * alphas * means**2, 1e-9))) - len(counts)

    low, high = np.log(_NARROWEST), np.log(_WIDEST)
    for _ in range(40):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if excess(float(np.exp(middle))) > 0 else (low, middle)
    days = len(counts) / max(len(held), 1) * min(len(held), 5)
    return float(np.exp(0.5 * (low + high) * days / (days + _AS_IS_DAYS)))


def _said(held: HeldOut) -> tuple[Floats, Floats]:
    good = np.isfinite(held.alpha)
    return held.said["regression"][good], held.alpha[good]
