"""Until when a product is good: the earliest of the local rule and of each part's own life, with the culprit named."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta


@dataclass(frozen=True)
class Limit:
    """Days something allows, the day of making being day one; what it is, and what would lengthen it."""

    title: str
    days: int
    kind: str  # "rule", "part" or "pack"
    extends: str


def earliest(limits: Sequence[Limit]) -> Limit | None:
    """The limit that ends first; of equals the rule, since nothing but freezing lengthens that."""
    return min(limits, key=lambda limit: (limit.days, limit.kind != "rule"), default=None)


@dataclass(frozen=True)
class Frozen:
    """A time in the freezer: the day it went in, and the day it came out to thaw; None while it is in there."""

    since: date
    until: date | None


@dataclass(frozen=True)
class Paused:
    """A last day that waited in the freezer.

    ``day`` is the last day, None while it is frozen; ``left`` days once it is thawed, that day being day one, None while it is
    not frozen; ``too_late`` where it was frozen after its last day.
    """

    day: date | None
    left: int | None
    too_late: bool


def paused(last: date, spans: Sequence[Frozen]) -> Paused:
    """A last day after times in the freezer, which pause the days and never reset them.

    The day it goes in and the day it comes out both count as used; only whole days between them wait
    (FDA Food Code 2022, 3-501.17: days before freezing and after thawing are counted together).

    >>> paused(date(2026, 3, 8), [Frozen(date(2026, 3, 3), date(2026, 3, 9))]).day
    datetime.date(2026, 3, 13)
    """
    for span in sorted(spans, key=lambda span: span.since):
        if span.since > last:
            return Paused(None, None, True)
        if span.until is None:
            return Paused(None, max((last - span.since).days, 0), False)
        last += timedelta(days=max((span.until - span.since).days - 1, 0))
    return Paused(last, None, False)


def use_by(made: date, days: int) -> date:
    """The last day: the day of making is day one (FDA Food Code 2022, 3-501.17).

    >>> use_by(date(2026, 3, 2), 7)
    datetime.date(2026, 3, 8)
    """
    return made + timedelta(days=max(days, 1) - 1)
