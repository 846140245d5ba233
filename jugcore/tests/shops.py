"""Generated shops whose sales follow a truth that is known."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.forecast.series import Day, Series

TOGETHER, WEEKS = 10, 9


@dataclass(frozen=True)
class Made:
    """A generated series, the days asked for, and what came."""

    series: Series
    ahead: tuple[Day, ...]
    came: Floats


def shops(seed: int, many: int, *, level: tuple[float, float] = (2.0, 60.0), alpha: tuple[float, float] = (0.02, 0.15), drift: float = 0.008,
          shared: float = 0.06, own_week: float = 0.12, trend: float = 0.012) -> Iterator[list[Made]]:  # fmt: skip
    """Shops of ten series each."""
    random = np.random.default_rng(seed)
    for _ in range(many):
        first = date(2031, 1, 6) + timedelta(days=int(random.integers(7)))
        days = [first + timedelta(days=n) for n in range(7 * (WEEKS + 1))]
        shut = int(random.integers(7)) if random.random() < 0.3 else None
        fair = int(random.integers(14, 50)) if random.random() < 0.5 else None
        again = random.random() < 0.4
        calendar = []
        for n, on in enumerate(days):
            there = fair is not None and (n in (fair, fair + 1) or (again and n in (7 * WEEKS + 3, 7 * WEEKS + 4)))
            calendar.append(Day(on, "festival" if there else "", closed=on.weekday() == shut))
        week, lift = random.normal(0, 0.25, 7), random.normal(0.45, 0.15)
        good = random.normal(0, shared, len(days)) if shared else np.zeros(len(days))
        gaps = random.random(len(days)) < 0.03
        gaps[7 * WEEKS :] = False
        rows = []
        for _ in range(TOGETHER):
            own = week + random.normal(0, own_week, 7)
            log = random.uniform(*np.log(level)) + random.normal(0, trend) * np.arange(len(days)) / 7
            log = log + np.cumsum(random.normal(0, 1, len(days)) * drift)
            log = log + good + np.array([own[on.weekday()] for on in days])
            log = log + np.array([lift + 0.1 * random.normal() if day.event else 0.0 for day in calendar])
            mean, size = np.exp(log), 1 / random.uniform(*alpha)
            counts = random.negative_binomial(size, size / (size + mean)).astype(float)
            counts[gaps | np.array([day.closed for day in calendar])] = np.nan
            if random.random() < 0.15:
                counts[: int(random.integers(7, 35))] = np.nan  # a drink that came later
            rows.append(counts)
        until = 7 * WEEKS
        yield [Made(Series(tuple(calendar[:until]), row[:until]), tuple(calendar[until:]), row[until:]) for row in rows]
