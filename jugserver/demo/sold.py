"""What the demo sold over nine weeks: twelve drinks over four sizes at three bars, with a rhythm of weekdays, a festival, a new drink and gaps."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from io import StringIO

import numpy as np

WEEKS, SEED = 9, 640
#: Days before today on which the festival was; days of which one bar kept no count.
FESTIVAL_WAS = (25, 24)
_GAPS = {"Weir Bridge": (37, 36), "Ferry Steps": (12,)}
#: Of a usual day, by bar: cups, and what each weekday is to it from Monday on.
_BARS = {
    "Kiln Lane": (104.0, (0.92, 0.95, 1.0, 1.02, 1.18, 1.08, 0.85)),
    "Weir Bridge": (78.0, (1.05, 1.02, 1.05, 1.04, 1.12, 0.92, 0.8)),
    "Ferry Steps": (41.0, (0.7, 0.72, 0.8, 0.85, 1.15, 1.55, 1.45)),
}
#: What part of a bar's cups each drink is, by the days it has been sold; and its sizes: Short, Regular, Long, Iced.
_DRINKS = {
    "Ferry Latte": (0.19, (0.2, 0.45, 0.25, 0.1)), "Tannery Mocha": (0.11, (0.2, 0.45, 0.3, 0.05)),
    "Damson Cooler": (0.07, (0.05, 0.25, 0.3, 0.4)), "Lemongrass Iced Tea": (0.07, (0.02, 0.18, 0.3, 0.5)),
    "Smoked Oat": (0.08, (0.2, 0.5, 0.25, 0.05)), "Burnt Honey Latte": (0.12, (0.2, 0.5, 0.25, 0.05)),
    "Sesame Cloud": (0.05, (0.15, 0.5, 0.2, 0.15)), "Pandan Cold Brew": (0.06, (0.02, 0.18, 0.3, 0.5)),
    "Hazelnut White": (0.1, (0.25, 0.5, 0.22, 0.03)), "Tin Sweet Coffee": (0.08, (0.25, 0.4, 0.2, 0.15)),
    "Coffee Crown on Milk": (0.04, (0.05, 0.35, 0.25, 0.35)),
}  # fmt: skip
#: First sold so many days ago.
_NEW = {"Sesame Cloud": 25}
_SIZES = ("short", "regular", "long", "iced")
_SCATTER = 0.05


@dataclass(frozen=True)
class Sold:
    """Cups of a size of a drink on a day at a bar."""

    on: date
    bar: str
    drink: str
    size: str
    count: int


def sold(today: date) -> Iterator[Sold]:
    """Every count up to yesterday: the same for the same day."""
    random = np.random.default_rng(SEED)
    for ago in range(7 * WEEKS, 0, -1):
        on = today - timedelta(days=ago)
        good, warm = float(random.gamma(200.0, 1 / 200.0)), 1.0 + 0.12 * np.sin(ago / 9.0)
        for bar, (cups, week) in _BARS.items():
            level = cups * week[on.weekday()] * good * (1.0 + 0.004 * (7 * WEEKS - ago) / 7) * (1.62 if ago in FESTIVAL_WAS else 1.0)
            for drink, (share, sizes) in _DRINKS.items():
                cold = warm if sizes[3] >= 0.3 else 1.0
                counts = []
                for part in sizes:
                    size = 1.0 / _SCATTER
                    mean = max(level * share * part * cold, 1e-9)
                    counts.append(int(random.negative_binomial(size, size / (size + mean))))
                if ago > _NEW.get(drink, 7 * WEEKS) or ago in _GAPS.get(bar, ()):
                    continue
                for each, count in zip(_SIZES, counts, strict=True):
                    yield Sold(on, bar, drink, each, count)


def as_csv(today: date, first: date | None = None, last: date | None = None) -> str:
    """The same as a till writes it: day, place, item, size, sold; days between two, both counted."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["Day", "Place", "Item", "Size", "Sold"])
    for each in sold(today):
        if (first is None or each.on >= first) and (last is None or each.on <= last) and each.count:
            writer.writerow([each.on.isoformat(), each.bar, each.drink, each.size.capitalize(), each.count])
    return out.getvalue()
