"""How a container stands by what was entered of it: where, how much is left, open or not, until when it is good, and why."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Literal

from jugcore.keeping import days
from jugcore.stock import movements as m

#: What became of it; empty while it is there.
Gone = Literal["", "emptied", "poured away", "missing"]


@dataclass(frozen=True)
class Container:
    """What is known of a container before anything happened to it.

    ``last_day`` is the last day of what is in it unfrozen, with what decides that; None where nothing says. ``opened_days``
    are those it keeps once it is open, the day of opening being day one; None where opening changes nothing.
    """

    last_day: date | None
    why: str
    opened_days: int | None = None


@dataclass(frozen=True)
class Standing:
    """A container now. ``poured_g`` was thrown away of it, ``served_g`` went out in drinks as far as it was weighed or emptied."""

    place: str | None = None
    mass_g: float = 0.0
    filled_g: float = 0.0
    opened_at: datetime | None = None
    frozen: bool = False
    gone: Gone = ""
    gone_at: datetime | None = None
    poured_g: float = 0.0
    served_g: float = 0.0
    good_until: date | None = None
    why: str = ""
    #: Days left once it is thawed; None while it is not frozen.
    left_days: int | None = None
    too_late: bool = False


def standing(container: Container, entries: Sequence[m.Movement], day_of: Callable[[datetime], date]) -> Standing:
    """How a container stands once all its entries are read, by their own times; ``day_of`` gives the day of a time where it stands.

    Entries may arrive in any order and in any number: the last word about something counts. What was emptied or missing and is
    weighed or found after that is there after all. Nothing that is entered can make it negative.
    """
    now = Standing()
    spans: list[days.Frozen] = []
    for entry in sorted(entries, key=lambda entry: (entry.at, str(entry.id))):
        now = _after(now, entry)
        match entry.what:
            case m.FrozenEntry() if not spans or spans[-1].until is not None:
                spans.append(days.Frozen(day_of(entry.at), None))
            case m.ThawedEntry() if spans and spans[-1].until is None:
                spans[-1] = replace(spans[-1], until=day_of(entry.at))
    now = replace(now, frozen=bool(spans) and spans[-1].until is None)
    return _dated(now, container, spans, day_of)


def _after(now: Standing, entry: m.Movement) -> Standing:
    match entry.what:
        case m.FilledEntry() as what:
            # Filled counts from when it was filled, whatever arrived before it.
            return replace(now, mass_g=what.mass_g, filled_g=what.mass_g, place=what.place if what.place is not None else now.place)
        case m.MovedEntry() as what:
            return replace(now, place=what.place)
        case m.OpenedEntry():
            return now if now.opened_at is not None else replace(now, opened_at=entry.at)
        case m.WeighedEntry() as what:
            there = replace(now, gone="", gone_at=None) if what.mass_g > 0 and now.gone else now
            return replace(there, served_g=max(there.served_g + there.mass_g - what.mass_g, 0.0), mass_g=what.mass_g)
        case m.TakenEntry() as what:
            return replace(now, mass_g=max(now.mass_g - what.mass_g, 0.0))
        case m.EmptiedEntry():
            return replace(now, served_g=now.served_g + now.mass_g, mass_g=0.0, gone="emptied", gone_at=entry.at)
        case m.PouredAwayEntry() as what:
            poured = now.mass_g if what.mass_g is None else min(what.mass_g, now.mass_g)
            left = now.mass_g - poured
            after = replace(now, mass_g=left, poured_g=now.poured_g + poured)
            return replace(after, gone="poured away", gone_at=entry.at) if what.mass_g is None or left <= 0 else after
        case m.CountedEntry() as what:
            if not what.there:
                return replace(now, gone="missing", gone_at=entry.at)
            found = replace(now, gone="", gone_at=None) if now.gone == "missing" else now
            return replace(found, place=what.place if what.place is not None else found.place)
        case _:
            return now


def _dated(now: Standing, container: Container, spans: Sequence[days.Frozen], day_of: Callable[[datetime], date]) -> Standing:
    """With its last day: the earlier of its own and of its opened life, both waiting in the freezer and never reset by it."""
    ends = [] if container.last_day is None else [(container.last_day, container.why)]
    if now.opened_at is not None and container.opened_days is not None:
        opened = day_of(now.opened_at)
        count = f"{container.opened_days} day{'' if container.opened_days == 1 else 's'}"
        ends.append((opened + timedelta(days=max(container.opened_days, 1) - 1), f"Opened {opened:%d %b}: it keeps {count} then, that day counted."))
    if not ends:
        return replace(now, why="Nothing says how long it keeps: only your own trial does.")
    last, why = min(ends, key=lambda end: end[0])
    if not spans:
        return replace(now, good_until=last, why=why)
    then = days.paused(last, spans)
    if then.too_late:
        return replace(now, too_late=True, why=f"It was good until {last:%d %b %Y} and frozen after that: throw it away.")
    if then.left is not None:
        return replace(now, left_days=then.left, why=why)
    return replace(now, good_until=then.day, why=why)
