"""What was sold of one thing day by day, and the calendar both of what was and of what comes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from itertools import pairwise

import numpy as np

from jugcore.errors import BadDocument
from jugcore.figures import Bools, Floats

#: So many days back are read. What is older says nothing of next week.
MOST_DAYS = 182


@dataclass(frozen=True)
class Day:
    """A day of the calendar. ``event`` is the name of what goes on ("" on an ordinary day)."""

    on: date
    event: str = ""
    closed: bool = False

    @property
    def weekday(self) -> int:
        """0 is Monday."""
        return self.on.weekday()


@dataclass(frozen=True)
class Series:
    """Counts of one thing over days (D,), in order of time; NaN where nobody knows: closed, not imported, or sold out."""

    days: tuple[Day, ...]
    counts: Floats

    def __post_init__(self) -> None:
        if len(self.days) != len(self.counts):
            raise BadDocument("counts", f"There are {len(self.days)} days and {len(self.counts)} counts.", "Give one count a day.")
        if np.any(self.counts[np.isfinite(self.counts)] < 0):
            raise BadDocument("counts", "A count is below 0.", "Give what was sold, 0 or more.")
        if any(after.on <= before.on for before, after in pairwise(self.days)):
            raise BadDocument("days", "The days are not in order.", "Give every day once, the earliest first.")

    @property
    def known(self) -> Bools:
        """(D,) of which days the count is known."""
        return np.isfinite(self.counts)

    @property
    def age(self) -> Floats:
        """(D,) how many days each lies before the last."""
        last = self.days[-1].on.toordinal() if self.days else 0
        return np.array([last - day.on.toordinal() for day in self.days], dtype=np.float64)

    def up_to(self, number: int) -> Series:
        """The first so many days of it."""
        return Series(self.days[:number], self.counts[:number])
