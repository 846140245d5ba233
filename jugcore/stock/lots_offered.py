"""Which lots are offered where an ingredient is weighed, in which order, and which of them is chosen already."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from jugcore.stock.recall import same_code


@dataclass(frozen=True)
class LotThere:
    """A lot that is not used up: its code, whether it was opened, the date of its pack."""

    code: str
    opened: bool
    best_before: date | None


@dataclass(frozen=True)
class OfferedLot:
    """A lot as it is offered. ``chosen`` where nobody else than the cook need say so."""

    lot: LotThere
    last_used: bool
    chosen: bool


def offered_lots(lots: Iterable[LotThere], last: str) -> list[OfferedLot]:
    """Opened ones first, of those the one that went in last, then by the dates of their packs.

    Parameters: the lots that are there; the code that was noted last, empty where none was. The one that stands open is chosen, and none
    where two do: then only the cook knows.
    """
    there = list(lots)
    alone = sum(each.opened for each in there) == 1
    found = [OfferedLot(each, bool(last) and same_code(last, each.code), alone and each.opened) for each in there]
    return sorted(found, key=lambda each: (not each.lot.opened, not each.last_used, each.lot.best_before or date.max, each.lot.code))
