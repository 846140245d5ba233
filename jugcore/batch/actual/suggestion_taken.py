"""What of a way's document a batch follows: the change it claims, and nothing else of what it says.

A way comes from a tablet as a whole document, and whoever may cook may send one. It can change how much goes in,
where a boil ends, which lines and steps there are. What the formula *is* stays as the batch was started: its
substances, what was answered about keeping, its kitchen, its name, and how every step that stays is done.
"""

from __future__ import annotations

from collections.abc import Sequence

from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.editing.edits import set_amount
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.stages import LineDoc, StageBase


def followed_document(plan: Logged, before: MethodDocument, standing: Sequence[Logged]) -> MethodDocument:
    """The document followed from a way on, instead of the one followed before it."""
    what = plan.event.what
    assert isinstance(what, e.PutRight)
    cut = only_what_may_change(what.document, before)
    return _as_it_was_asked(cut, before, [entry.event.what for entry in standing if entry.seq < plan.seq])


def only_what_may_change(way: MethodDocument, before: MethodDocument) -> MethodDocument:
    """``before`` with what a way may change of it."""
    lines = {line.id: line for stage in before.stages for line in stage.ingredients}
    stages = {stage.id: stage for stage in before.stages}
    vessels = {vessel.id for vessel in before.vessels}
    used = {line.substance for line in lines.values()}
    return before.model_copy(
        update={
            "stages": tuple(_stage(stage, stages.get(stage.id), lines) for stage in way.stages),
            "vessels": (*before.vessels, *(vessel for vessel in way.vessels if vessel.id not in vessels)),
            # What the batch was started with, carried or from the library, is what it was then.
            "substances": {**{id: facts for id, facts in way.substances.items() if id not in used}, **before.substances},
        }
    )


def _stage(stage: StageBase, was: StageBase | None, lines: dict[str, LineDoc]) -> StageBase:
    """A stage of a way as far as it may be another than it was; one that is new as it says."""
    stage = stage.with_ingredients(tuple(_line(line, lines.get(line.id)) for line in stage.ingredients))
    return stage if was is None or type(was) is not type(stage) else was.changed_by(stage)


def _line(line: LineDoc, was: LineDoc | None) -> LineDoc:
    return line if was is None else was.model_copy(update={"amount": line.amount})


def _as_it_was_asked(way: MethodDocument, first: MethodDocument, before: Sequence[e.What]) -> MethodDocument:
    """A way's document with what was asked put back where it carries what was measured.

    A way starts from the batch as it is, so its document says what went in and how far the
    pot was boiled. The log says that already; what was asked must not be forgotten over it.
    """
    weighed = {what.line for what in before if isinstance(what, e.Weighed)}
    seen = {(what.stage, round(what.mass_g, 3)) for what in before if isinstance(what, e.PotWeighed)}
    asked = compile_document(first)
    for id in weighed & asked.amounts.keys():
        way = set_amount(way, id, asked.amounts[id])
    stages = {stage.id: stage for stage in first.stages}

    def back(stage: StageBase) -> StageBase:
        was, ends_g = stages.get(stage.id), stage.ends_at_g()
        measured = ends_g is not None and (stage.id, round(ends_g, 3)) in seen
        return was if measured and type(was) is type(stage) else stage

    return way.model_copy(update={"stages": tuple(back(stage) for stage in way.stages)})
