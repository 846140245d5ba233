"""Until when what was made may be used, by the lots that may be in it."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jugcore.keeping.opened import good_until
from jugcore.matter.substance import Opened


@dataclass(frozen=True)
class Lot:
    """A lot as a pantry has it; ``opened`` is what its ingredient keeps once it is open."""

    ingredient: str
    title: str
    code: str
    opened: Opened | None = None
    received_on: date | None = None
    opened_on: date | None = None
    best_before: date | None = None
    used_up_on: date | None = None


@dataclass(frozen=True)
class LotDate:
    """A lot that may be in it: its last day, and its name with what that day is."""

    day: date
    title: str


def lot_dates(lots: Iterable[Lot], made: date) -> list[LotDate]:
    """The last days of the lots that may be in what was made on a day: of each ingredient those that were open then, else all that were there.

    One that was past its date is taken to have been left alone, if there was another. Common practice, no source.
    """
    of_each: dict[str, list[Lot]] = {}
    for lot in lots:
        came = lot.received_on is None or lot.received_on <= made
        if came and (lot.used_up_on is None or lot.used_up_on >= made):
            of_each.setdefault(lot.ingredient, []).append(lot)
    found: list[LotDate] = []
    for there in of_each.values():
        dates = [
            LotDate(day, f"{lot.title}, lot {lot.code}: {why[:1].lower()}{why[1:].rstrip('.')}")
            for lot in ([lot for lot in there if lot.opened_on is not None and lot.opened_on <= made] or there)
            for day, why in [good_until(lot.opened, opened_on=lot.opened_on, best_before=lot.best_before)]
            if day is not None
        ]
        found += [each for each in dates if each.day >= made] or dates
    return found
