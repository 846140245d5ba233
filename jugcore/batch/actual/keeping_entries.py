"""What was measured and answered of a batch's keeping, as far as it counts.

Whoever cooks may make it stricter by an answer; what allows more than before waits until somebody who may say what is
served has entered it too. A log that no server kept knows no such person, and all of it counts.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.editing.keeping_answers import standing_answers
from jugcore.method.document import KeepingDoc
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.keeping.assessment import KeepingReport, keeping_of


def counts(entry: Logged) -> bool:
    """Whether an answer counts where it allows more: a lead's, or one of a log that no server kept."""
    return entry.arrival is None or entry.arrival.by_lead


def answered(method: Method, entries: Sequence[Logged]) -> tuple[Method, tuple[Logged, ...]]:
    """The method with the answers that count written over those it carries, and the entries that wait for a lead."""
    taken = [entry for entry in entries if counts(entry)]
    found = assessed(method, taken)
    waiting: list[Logged] = []
    for entry in entries:
        if counts(entry):
            continue
        those = sorted([*taken, entry], key=lambda each: each.seq)
        with_it = assessed(method, those)
        if _allows_more(keeping_of(walk(with_it)), keeping_of(walk(found))):
            waiting.append(entry)
        else:
            taken, found = those, with_it
    return found, tuple(waiting)


def assessed(method: Method, entries: Sequence[Logged]) -> Method:
    """The method with answers about its keeping written over those it carries; the last to each holds."""
    given: dict[str, object] = {}
    for what in (entry.event.what for entry in entries):
        if isinstance(what, e.Assessed):
            given |= {name: value for name in ("heat_treated", "packaged", "ph") if (value := getattr(what, name)) is not None}
    if not given:
        return method
    # What was answered of its formula counts only as far as it still stands.
    stands = standing_answers(walk(method)).told or KeepingDoc()
    told = stands.model_copy(update={**given, "rests_on": None})
    return replace(method, document=method.document.model_copy(update={"keeping": told}))


def _allows_more(now: KeepingReport, before: KeepingReport) -> bool:
    """Whether a keeping lets something be done that another does not: stand out of the cold, or be kept longer."""
    if now.verdict == "not_controlled" and before.verdict != "not_controlled":
        return True
    return _days(now) > _days(before) or set(now.dated) < set(before.dated)


def _days(keeping: KeepingReport) -> int:
    return keeping.cautious_days if keeping.days is None else keeping.days
