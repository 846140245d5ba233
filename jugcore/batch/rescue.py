"""Put right: from what was observed, what to do with what is still to come, or to start again.

Rescue is ways from the batch as it is: what is done and what is in stays; only what comes
after may change, or be stirred in, or boiled off. What is chosen becomes the document the
batch follows from then on.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.deviations import targets_of
from jugcore.errors import BadDocument, shown
from jugcore.formula.edits import insert_stage, new_id, rounded_g, set_amount, settled, written
from jugcore.formula.linearise import reading_of
from jugcore.formula.telling import grams_text
from jugcore.formula.way import Way, moves_between
from jugcore.formula.ways import ways
from jugcore.method.amounts import Written
from jugcore.method.document import MethodDocument, compile_document
from jugcore.method.stages import Add, Adding, Boil, Cool, Heat, LineDoc
from jugcore.method.walk import Walk, walk

#: Less than this share of a line is no answer to anything.
_LEAST = 0.002


@dataclass(frozen=True)
class Rescue:
    """What is off, what it should be, and what can be done about it; ``why_not`` where nothing can."""

    about: str
    title: str
    unit: str
    digits: int
    planned: float
    actual: float
    ways: tuple[Way, ...]
    why_not: tuple[str, ...]


def finished_parts(batch: AsItIs) -> tuple[frozenset[str], frozenset[str]]:
    """Stages that are done and lines that are in. A boil past its stop is done, whether or not the pot was taken off."""
    record, method = batch.record, batch.method
    done = {stage.id for stage in method.stages if record.done(stage.id) is not None}
    for stage in method.stages:
        followed = batch.followed_end(stage.id)
        if isinstance(stage, Boil) and followed is not None and stage.until != followed:
            done.add(stage.id)
    last = max((i for i, stage in enumerate(method.stages) if stage.id in done and stage.id in method.trunk), default=-1)
    # What lies before a finished stage of the main pot can be changed no more, entered or not.
    done |= {stage.id for stage in method.stages[: max(last, 0)] if stage.id in method.trunk}
    within = set(record.weighed) & set(method.lines)
    within |= {line.id for stage in method.stages if isinstance(stage, Adding) and stage.id in done for line in stage.lines}
    return frozenset(done), frozenset(within)


def rescue(batch: AsItIs, about: str, value: float | None = None) -> Rescue:
    """What can be done about something that is off plan.

    ``about`` is a reading (``value`` what it should be, else what was planned) or
    ``line:<id>`` for a line that was weighed off. Raises BadDocument for what is neither,
    or has no value here.
    """
    kind, _, line = about.partition(":")
    if kind == "line":
        return _line_off(batch, line)
    planned = reading_of(batch.planned, about)
    aim = float(planned.value[0]) if value is None else value
    if not np.isfinite(aim):
        raise BadDocument("value", f"{planned.title} was not planned to have a value.", "Say what it should be.")
    done, within = finished_parts(batch)
    found = ways(batch.method, about, aim, batch.walk.kitchen, done=done, within=within)
    return Rescue(about, planned.title, planned.unit, planned.digits, aim, found.before, found.ways, found.why_not)


def _line_off(batch: AsItIs, id: str) -> Rescue:
    """A line that was weighed off: the others follow it, those in are topped up, or it is topped up itself."""
    method = batch.method
    held, target = batch.record.weighed.get(id), targets_of(batch).get(id)
    if held is None or target is None or id not in method.lines:
        raise BadDocument("about", f"“{id}” is no line that was weighed.", "Name one that was.")
    stage = next(s for s in method.stages if isinstance(s, Adding) and any(line.id == id for line in s.lines))
    done, within = finished_parts(batch)
    found = list(_answers(batch, id, held.value, target, stage, done, within))
    why_not = (
        () if found else ("Nothing that is still to come follows it, and nothing can be added to make up for it: go on as it is, or start again.",)
    )
    digits = 0 if target >= 100 else 1 if target >= 10 else 2
    return Rescue(f"line:{id}", method.titles[id], "g", digits, target, held.value, tuple(found), why_not)


def _answers(batch: AsItIs, id: str, went_in: float, target: float, stage: Adding, done: frozenset[str], within: frozenset[str]) -> Iterator[Way]:
    kitchen = batch.walk.kitchen
    document = settled(batch.method)
    if went_in < target:
        missing = rounded_g(kitchen, target - went_in)
        line = batch.method.lines[id]
        if _still_as_it_was(batch, stage, done):
            title = f"Weigh {grams_text(kitchen, missing)} more of {batch.method.short_titles[id]}"
            way = _way(batch, "weigh_more", title, set_amount(document, id, written(went_in + missing)))
            if way is not None:
                yield way
            return
        more, _ = _stir_in(batch, document, {line.substance: (batch.method.short_titles[id], missing)}, stage, done)
        way = _way(batch, "top_up", f"Add the missing {grams_text(kitchen, missing)} of {batch.method.short_titles[id]}", more)
        if way is not None:
            yield way
    factor = went_in / target
    follows, followed = _in_proportion(batch, document, id, factor, within)
    behind = _already_in(batch, id, factor, stage, within) if factor > 1 else {}
    if behind:
        follows, _ = _stir_in(batch, follows, behind, stage, done)
    if followed or (behind and went_in > target):
        title = "Let the rest follow" if not behind else "Top up the rest, so that it stays the same mixture"
        words = f"{title}: {shown(round(factor, 3))} times {'as much' if factor > 1 else 'of it'}"
        way = _way(batch, "follow", words, follows)
        if way is not None:
            yield way


def _still_as_it_was(batch: AsItIs, stage: Adding, done: frozenset[str]) -> bool:
    """Whether what a stage put in may still be added to as if it were then: nothing was boiled, strained or poured on since."""
    later = batch.method.stages[batch.method.stages.index(stage) + 1 :]
    return not any(s.id in done and not isinstance(s, Adding | Heat | Cool) for s in later if stage.vessel in (s.vessel, s.reads()))


def _in_proportion(batch: AsItIs, document: MethodDocument, id: str, factor: float, within: frozenset[str]) -> tuple[MethodDocument, list[str]]:
    """Lines with grams of their own that are not in yet, each as many times as much as went in of this one."""
    method, kitchen = batch.method, batch.walk.kitchen
    changed = []
    for other, amount in method.amounts.items():
        if other == id or other in within or other not in method.lines or not isinstance(amount, Written):
            continue
        document = set_amount(document, other, written(rounded_g(kitchen, factor * method.weighed[other].grams)))
        changed.append(other)
    return document, changed


def _already_in(batch: AsItIs, id: str, factor: float, stage: Adding, within: frozenset[str]) -> dict[str, tuple[str, float]]:
    """What must still be added of lines of the same vessel that are in: by substance, what to call it and grams."""
    method, kitchen = batch.method, batch.walk.kitchen
    targets = targets_of(batch)
    found: dict[str, tuple[str, float]] = {}
    for other in within:
        if other == id or other not in method.lines:
            continue
        home = next(s for s in method.stages if isinstance(s, Adding) and any(line.id == other for line in s.lines))
        if home.vessel != stage.vessel or other not in targets:
            continue
        amount = batch.followed.amounts.get(other)
        aim = targets[other] * (factor if isinstance(amount, Written) else 1.0)
        missing = aim - float(batch.walk.end.lines[other][0])
        if missing > _LEAST * aim:
            found[method.lines[other].substance] = (method.short_titles[other], rounded_g(kitchen, missing))
    return found


def _stir_in(
    batch: AsItIs, document: MethodDocument, what: dict[str, tuple[str, float]], stage: Adding, done: frozenset[str]
) -> tuple[MethodDocument, str]:
    """The document with a stage that adds more of something to the vessel, as soon as it still can be."""
    ids = [s.id for s in document.stages]
    place = max(ids.index(stage.id) + 1, next((i for i, s in enumerate(document.stages) if s.id not in done), len(ids)))
    vessel = stage.vessel
    for later in document.stages[ids.index(stage.id) + 1 : place]:
        if vessel in (later.vessel, later.reads()) and later.writes() != vessel:
            vessel = later.writes()  # it was poured on meanwhile
    lines: list[LineDoc] = []
    for substance, (title, grams) in what.items():
        line = LineDoc(id=new_id(document, "more"), substance=substance, name=f"More {title}", amount=written(grams))
        lines.append(line.model_copy(update={"id": f"{line.id}-{len(lines) + 1}"}) if lines else line)
    added = Add(id=new_id(document, "put-right"), vessel=vessel, name="Put right", lines=tuple(lines))
    return insert_stage(document, added, place), added.id


def _way(batch: AsItIs, kind: str, title: str, document: MethodDocument) -> Way | None:
    """A way that was walked, with what it does and what else moves."""
    after = walk(compile_document(document), batch.walk.kitchen)
    if any(bool(fault.cases[0]) for fault in after.faults if fault.code not in {f.code for f in batch.walk.faults}):
        return None
    moves = moves_between(batch.walk, after)
    return Way(kind, kind, title, tuple(_todo(batch, after)), (), (), 0.0, 0.0, moves, (), document, after)


def _todo(batch: AsItIs, after: Walk) -> Iterator[str]:
    kitchen, before = batch.walk.kitchen, batch.walk
    for stage in after.stages:
        for line in stage.lines if isinstance(stage, Adding) else ():
            now = float(after.end.lines[line.id][0])
            title = after.method.short_titles[line.id]
            if line.id not in before.end.lines:
                yield f"{title[:1].upper()}{title[1:]}: {grams_text(kitchen, now)}"
            elif abs(now - float(before.end.lines[line.id][0])) > _LEAST * max(now, 1e-9):
                was = grams_text(kitchen, float(before.end.lines[line.id][0]))
                yield f"{title[:1].upper()}{title[1:]}: {grams_text(kitchen, now)} instead of {was}"
