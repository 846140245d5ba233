"""What the log of a batch may change on its label: allergens and the last day only ever grow stricter by an entry at the hob.

What the version says stands. What was entered is added to it and, where it allows more than the version does, waits
for somebody who may say what is served.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.actual.keeping_entries import assessed, counts
from jugcore.batch.log import events as e
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.equipment.cross_contact import cross_contact
from jugcore.reading.keeping.assessment import KeepingReport, keeping_of
from jugcore.reading.keeping.use_by import UseBy
from jugcore.reading.report import allergens_of


@dataclass(frozen=True)
class OnLabel:
    """An allergen as the label has it, and why where the version and what went in differ."""

    allergen: str
    certain: bool
    why: str = ""


def allergens_on_label(batch: ActualBatch) -> list[OnLabel]:
    """Every allergen of the version and of what was entered; an entry adds and takes none away."""
    planned = {each.allergen: each for each in allergens_of(batch.planned)}
    now = {each.allergen: each for each in allergens_of(batch.walk)}
    found: list[OnLabel] = []
    for allergen in dict.fromkeys((*planned, *now)):
        certain = any(allergen in those and those[allergen].certain for those in (planned, now))
        why = ""
        if allergen not in planned or (allergen in now and now[allergen].certain and not planned[allergen].certain):
            why = f"{', '.join(now[allergen].lines)}: {_who(batch, allergen)}"
        elif allergen not in now:
            why = f"by the version ({', '.join(planned[allergen].lines)}), though something else was entered: {_who(batch, allergen)}"
        found.append(OnLabel(allergen, certain, why))
    return found


def shared_on_label(batch: ActualBatch) -> list[str]:
    """What equipment may carry over, by the pieces the version takes or by those that were taken."""
    return list(dict.fromkeys(each.allergen for walked in (batch.planned, batch.walk) for each in cross_contact(walked) if not each.take))


def _who(batch: ActualBatch, allergen: str) -> str:
    """Whose entries brought it, or put something else in the place of what has it; in words."""
    planned, now = (_lines_with(walked.method, allergen) for walked in (batch.planned, batch.walk))
    names = [entry.event.by for entry in batch.record.standing if _changes(entry.event.what, planned, now)]
    return ", ".join(f"entered by {name}" for name in dict.fromkeys(names)) or "as entered"


def _lines_with(method: Method, allergen: str) -> set[str]:
    return {
        id for id, line in method.lines.items()
        if allergen in method.substances[line.substance].allergens or allergen in method.substances[line.substance].check_pack_for
    }  # fmt: skip


def _changes(what: e.What, planned: set[str], now: set[str]) -> bool:
    """Whether an entry is about lines that have an allergen by the version or by now: another thing went in, or a way brought or left one out."""
    if isinstance(what, e.Swapped):
        return what.line in planned | now
    if isinstance(what, e.PutRight):
        has = {line.id for stage in what.document.stages for line in stage.ingredients}
        return bool((now - planned) & has or planned - has)
    return False


def days_on_label(batch: ActualBatch) -> int | None:
    """The days it may be kept, by the version or by what was entered, whichever are fewer; none where no table gives any."""
    return min((each.days for each in (promised(batch), keeping_of(batch.walk)) if each.days is not None), default=None)


def promised(batch: ActualBatch) -> KeepingReport:
    """The keeping of the version, with what was measured and answered of this batch by somebody who may say what is served."""
    answers = [entry for entry, _ in batch.record.of(e.Assessed) if counts(entry)]
    return keeping_of(walk(assessed(batch.planned.method, answers), batch.planned.kitchen) if answers else batch.planned)


def stricter(version: UseBy, now: UseBy, batch: ActualBatch) -> UseBy:
    """The earlier of two last days: the version's, and that of the batch as it was entered."""
    found = now if _rank(now) <= _rank(version) else version
    if not batch.waiting:
        return found
    names = " and ".join(dict.fromkeys(entry.event.by for entry in batch.waiting))
    return replace(found, why=f"{found.why} What {names} entered of its keeping counts once a lead has entered it too.")


def last_day_in_words(found: UseBy, days: int | None, *, frozen: bool) -> tuple[date | None, str]:
    """The last day as a label has it, or in words why there is none: of what goes into the freezer its days wait."""
    if found.day is not None and frozen and days is not None:
        return None, f"{days} days unfrozen in total; freezing pauses them"
    return found.day, found.words


def _rank(found: UseBy) -> tuple[int, date | int]:
    """The stricter the less: past its day, then by the day; what waits in the freezer by the days it has left."""
    if found.day is not None:
        return 2, found.day
    return (0, 0) if found.left is None else (1, found.left)
