"""Until when a product may be used: one day always, the cautious one, with what is not known said beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from jugcore.keeping.days import Frozen, paused, use_by
from jugcore.keeping.lots import LotDate
from jugcore.method.method import Method
from jugcore.reading.keeping.assessment import DEFERS, KeepingReport

#: What is not known, as it stands beside the day.
_NOT_KNOWN = {"heat": "heat", "packaging": "packaging", "ph": "pH", "ph_close": "pH", "water_activity": "water activity"}
_MEASURED = frozenset({"pH", "water activity"})


@dataclass(frozen=True)
class UseBy:
    """The last day, what stands beside it (what is not known, or how a frozen one counts), and what decides it.

    ``day`` is None only while it waits in the freezer, or was frozen after its day; ``left`` days once it is thawed then.
    """

    day: date | None
    words: str
    why: str
    left: int | None = None


def made_dates(method: Method) -> list[LotDate]:
    """The last days of the bottles of ours that a batch is made from."""
    books = {line.substance: method.substances[line.substance] for line in method.lines.values()}
    made = [book.made for book in books.values() if book.made is not None]
    return [LotDate(each.last_day, f"{each.version.name}, {each.lot}") for each in made if each.last_day is not None]


def last_day(keeping: KeepingReport, made: date, lots: Sequence[LotDate] = (), frozen: Sequence[Frozen] = ()) -> UseBy:
    """Until when what was made on a day may be used, and why; times in the freezer pause its days.

    The earliest of what its keeping allows and of the lots in it. Where its keeping is not known yet, as if it were held by time and
    temperature; where no table gives days, the local rule's until the shop's own trial says more. Days are never worked out
    from water activity.
    """
    found = _unfrozen(keeping, made, lots)
    if found.day is None or not frozen:
        return found
    then = paused(found.day, frozen)
    times = f"Frozen {'twice or more' if len(frozen) > 1 else f'{frozen[-1].since:%d %b}'}: that pauses its days and never resets them. "
    if len(frozen) > 1:
        times += "What was thawed is usually not frozen again. "
    if then.too_late:
        why = f"It was good until {found.day:%d %b %Y} and frozen after that: throw it away. {DEFERS}"
        return UseBy(None, "past its day when it was frozen", why)
    if then.left is not None:
        words = "use it the day it is thawed" if then.left <= 1 else f"{then.left} days once thawed, that day being day one"
        return UseBy(None, words, times + found.why, then.left)
    return UseBy(then.day, found.words, times + found.why)


def _unfrozen(keeping: KeepingReport, made: date, lots: Sequence[LotDate]) -> UseBy:
    first = next((limit for limit in keeping.limits if limit.decides), None)
    days = keeping.days if keeping.days is not None else keeping.cautious_days
    by_rule = use_by(made, days)
    words = _not_known(list(dict.fromkeys(_NOT_KNOWN[question.code] for question in keeping.questions)))
    lot = min(lots, key=lambda each: each.day, default=None)
    if lot is not None and lot.day < made:
        return UseBy(lot.day, "a part was past its date", f"{lot.title} was good until {lot.day:%d %b %Y}, before this was made. {DEFERS}")
    if lot is not None and lot.day < by_rule:
        return UseBy(lot.day, words, f"{lot.title} decides. {DEFERS}")
    if first is not None:
        until = " Until that is known, keep it like food that is held safe by time and temperature." if words else ""
        return UseBy(by_rule, words, f"{first.title[:1].upper()}{first.title[1:]} decides.{until} {first.extends} {DEFERS}")
    if keeping.dry:
        return UseBy(by_rule, words, f"It keeps as long as its ingredients do: the shortest life once opened decides. {DEFERS}")
    return UseBy(
        by_rule,
        words or "no shelf trial yet",
        f"No table says how long it stays good: the local rule's days apply until your own trial shows more. {DEFERS}",
    )


def _not_known(names: Sequence[str]) -> str:
    """“pH not measured”, “heat, packaging and pH not known”."""
    if not names:
        return ""
    if len(names) == 1:
        return f"{names[0]} not {'measured' if names[0] in _MEASURED else 'answered'}"
    return f"{', '.join(names[:-1])} and {names[-1]} not known"
