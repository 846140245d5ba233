"""The plain rules a kitchen knows: the same weekday last week, and the mean of the last four."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.regression import Rhythm
from jugcore.planning.forecast.series import Day, Series


def last_week(series: Series, days: Sequence[Day], rhythm: Rhythm) -> Floats:
    """(H,) the newest known count of each day's weekday."""
    return _of_weekdays(series, days, rhythm, 1)


def mean_of_four(series: Series, days: Sequence[Day], rhythm: Rhythm) -> Floats:
    """(H,) the mean of the newest four known counts of each day's weekday."""
    return _of_weekdays(series, days, rhythm, 4)


def _of_weekdays(series: Series, days: Sequence[Day], rhythm: Rhythm, many: int) -> Floats:
    """(H,) means of the newest known counts of the weekday, days with events left out; an event multiplies by what it does to the group.

    Where the weekday was never known, the mean of all known days by the group's rhythm; NaN where no day is known.
    """
    known = [(day, count) for day, count in zip(series.days, series.counts, strict=True) if np.isfinite(count)]
    plain = [(day, count) for day, count in known if not day.event]
    level = float(np.mean([count * np.exp(-rhythm.of([day])[0]) for day, count in known])) if known else np.nan
    found = np.empty(len(days))
    for n, day in enumerate(days):
        same = [count for each, count in plain if each.weekday == day.weekday][-many:]
        ordinary = float(np.mean(same)) if same else level * float(np.exp(rhythm.weekday[day.weekday]))
        found[n] = 0.0 if day.closed else ordinary * float(np.exp(rhythm.events.get(day.event, 0.0)))
    return found
