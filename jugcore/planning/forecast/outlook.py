"""What days to come will bring of one thing, and how sure that is."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.planning.forecast.counts import Counts
from jugcore.planning.forecast.group import Group, group_of
from jugcore.planning.forecast.held_out import HeldOut, Method
from jugcore.planning.forecast.regression import fit
from jugcore.planning.forecast.rules import last_week, mean_of_four
from jugcore.planning.forecast.series import Day, Series

_RULES = {"last_week": last_week, "mean_of_four": mean_of_four}


@dataclass(frozen=True)
class Outlook:
    """Counts to come, by which method, what every method said of the weeks before, and by how much the bands are widened."""

    method: Method
    counts: Counts
    held: HeldOut
    widened: float


def outlooks(members: Sequence[Series], days: Sequence[Day]) -> list[Outlook | None]:
    """What series of one group will bring on days to come, each by whichever method was nearest before; None where nothing is known.

    Raises BadDocument where their calendars differ.
    """
    group = group_of(members)
    return [_outlook(each, held, days, group) for each, held in zip(members, group.held, strict=True)]


def _outlook(series: Series, held: HeldOut, days: Sequence[Day], group: Group) -> Outlook | None:
    if not series.known.any():
        return None
    rhythm = group.rhythms[len(series.days)]
    method = held.best()
    fitted = fit(series, rhythm) if method == "regression" or not held.days else None
    if fitted is not None:
        return Outlook("regression", fitted.counts(days, group.widened), held, group.widened)
    rule = "mean_of_four" if method == "regression" else method
    mean = np.nan_to_num(_RULES[rule](series, days, rhythm))
    return Outlook(rule, Counts(mean, np.full(len(mean), held.alpha_of_rule(rule))), held, group.widened)
