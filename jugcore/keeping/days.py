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


def use_by(made: date, days: int) -> date:
    """The last day: the day of making is day one (FDA Food Code 2022, 3-501.17).

    >>> use_by(date(2026, 3, 2), 7)
    datetime.date(2026, 3, 8)
    """
    return made + timedelta(days=max(days, 1) - 1)
