"""What a rescue says, what of a batch is finished, and a way that was walked from where the batch stands."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.stages import Boil, StageBase
from jugcore.method.walk import walk
from jugcore.suggesting.suggestion import Move, Suggestion, moves_between
from jugcore.suggesting.wording import Wording


@dataclass(frozen=True)
class Rescue:
    """What is off, what it should be, and what can be done about it; ``why_not`` where nothing can."""

    about: str
    title: str
    unit: str
    digits: int
    planned: float
    actual: float
    suggestions: tuple[Suggestion, ...]
    why_not: tuple[str, ...]
    #: What leaving it as it is makes of the product, against what was planned.
    left: tuple[Move, ...] = ()
    left_words: str = ""


def finished_parts(batch: ActualBatch) -> tuple[frozenset[str], frozenset[str]]:
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
    within |= {line.id for stage in method.stages if stage.id in done for line in stage.ingredients}
    return frozenset(done), frozenset(within)


def where_now(stage: StageBase, document: MethodDocument, place: int) -> str:
    """The vessel that holds by now what a stage worked on."""
    vessel = stage.vessel
    for later in document.stages[[s.id for s in document.stages].index(stage.id) + 1 : place]:
        if vessel in (later.vessel, later.reads()) and later.writes() != vessel:
            vessel = later.writes()  # it was poured on meanwhile
    return vessel


def walked_suggestion(batch: ActualBatch, kind: str, title: str, document: MethodDocument) -> Iterator[Suggestion]:
    """A way that was walked, with what it does and what else moves; none where it brings a fault that was not there."""
    before, kitchen = batch.walk, batch.walk.kitchen
    after = walk(compile_document(document), kitchen)
    if any(bool(fault.cases[0]) for fault in after.faults if fault.code not in {f.code for f in before.faults}):
        return
    todo = tuple(Wording(before.method, kitchen, before).todo(after))
    yield Suggestion(kind, kind, title, todo, (), (), 0.0, 0.0, moves_between(before, after), (), document, after)
