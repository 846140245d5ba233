"""The batch as it is: its method with everything that was entered written into it.

What was measured replaces what was planned; what was not yet done stays as the method
says, so that lines tied to a short juice follow it. Walking this document is the batch.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property

import numpy as np

from jugcore import components as c
from jugcore.batch.actual.keeping_entries import answered
from jugcore.batch.actual.suggestion_taken import followed_document
from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.batch.log.record import Record
from jugcore.editing.edits import set_amount, untied, with_references_by_id, written
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import DomainError
from jugcore.matter.contributions import tracers_of
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.substance import Substance
from jugcore.matter.substance_document import SubstanceDoc, as_document
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import Boil, BoilEnd, LineDoc, StageBase
from jugcore.method.walk import Walk, walk
from jugcore.physics import sucrose

#: No document says less of anything. [g]
_NEXT_TO_NOTHING_G = 1e-6
#: No document says more of anything. [g]
_MOST_G = 1_000_000.0
#: No document holds anything longer. [min]
_LONGEST_HOLD_MIN = 20_160.0
#: Nothing that is held is hotter; so many readings are kept of one hold.
_HOTTEST_HELD_C, _MOST_FOUND = 130.0, 200
#: What cools comes no nearer than this to what is around it. [°C]
_ABOVE_C = 0.5


@dataclass(frozen=True)
class Aside:
    """An entry that a batch cannot be read with, and what came of trying."""

    entry: Logged
    error: Exception

    @property
    def why(self) -> str:
        """What is wrong with it, in words."""
        # What to do about it in a formula is nothing to do about an entry.
        return self.error.message if isinstance(self.error, DomainError) else "Nothing can be worked out with it."


@dataclass(frozen=True)
class ActualBatch:
    """A batch's method as planned and as it is, both walked, with the log that made the difference."""

    document: MethodDocument
    record: Record
    planned: Walk
    walk: Walk
    #: Entries that it cannot be read with. It is read without them.
    aside: tuple[Aside, ...] = ()
    #: Answers about its keeping that allow more than stands, and wait until a lead has entered them too.
    waiting: tuple[Logged, ...] = ()

    @property
    def method(self) -> Method:
        return self.walk.method

    @cached_property
    def followed(self) -> Method:
        """The method followed now: the plan, or the way chosen since, with nothing entered."""
        return followed(self.document, self.record)

    def knows(self, swap: e.Swapped) -> bool:
        """Whether anything is known of what went in instead."""
        return swap.facts is not None or swap.substance in library() or swap.substance in self.followed.document.substances

    def followed_end(self, stage: str) -> BoilEnd | None:
        """Where the method followed now ends a boil."""
        return next((s.until for s in self.followed.stages if isinstance(s, Boil) and s.id == stage), None)


def planned_walk(document: MethodDocument) -> Walk:
    """What a batch was started from, walked as planned. Raises what compiling the document raises."""
    return walk(with_basis(compile_document(document)))


def actual_batch(planned: Walk, record: Record) -> ActualBatch:
    """Walk a batch as it is.

    ``planned`` is what the batch was started from, by :func:`planned_walk`; a way chosen on the hob replaces it
    from then on. Entries of lines, stages and substances that the method does not have change nothing.
    """
    document = planned.method.document
    method, waiting = answered(actual_method(document, record), [entry for entry, _ in record.of(e.Assessed)])
    return ActualBatch(document, record, planned, walk(method), waiting=waiting)


def followed(document: MethodDocument, record: Record) -> Method:
    """The method followed now, its references settled: a name that fits one line may fit two once something is swapped."""
    for plan in record.plans:
        document = followed_document(plan, document, record.standing)
    return compile_document(with_references_by_id(compile_document(document)))


def actual_method(document: MethodDocument, record: Record) -> Method:
    """The method followed, with everything that was entered written into it, but for answers about its keeping."""
    return _stages(_swapped(_weighed(followed(document, record), record), record), record)


def _swapped(method: Method, record: Record) -> Method:
    """With what really went in, and as strong as it is used instead."""
    document, substances = method.document, dict(method.document.substances)
    instead: dict[str, str] = {}
    for line, swap in record.swaps.items():
        if line not in method.lines or (swap.facts is None and swap.substance not in library() and swap.substance not in substances):
            continue
        # What the entry says it was, as it was then: the batch's own document may know it by the facts of an earlier day.
        id = swap.substance
        if swap.facts is not None and not _same_facts(substances.setdefault(id, swap.facts), swap.facts):
            id = f"{swap.substance[:40]}-as-{line}"[:64]
            substances[id] = swap.facts.model_copy(update={"of": swap.substance})
        instead[line] = id
    for line, brix in strengths(method, record).items():
        of = instead.get(line, method.lines[line].substance)
        book = method.substances.get(of) or (load_substance(of, substances[of]) if of in substances else library().get(of))
        if book is None:
            continue
        id = f"{of[:40]}-in-{line}"[:64]
        substances[id] = as_document(as_strong(book, brix))
        instead[line] = id
    if not instead:
        return method
    # Something else that goes in goes in as much as was asked: whether it follows others may hang on what it is.
    tied = [id for id in instead if not isinstance(method.amounts[id], Written)]
    if tied:
        document = untied(method, walk(method), tied)

    def change(stage: StageBase) -> StageBase:
        return stage.with_ingredients(tuple(_instead(line, instead.get(line.id), record) for line in stage.ingredients))

    stages = tuple(change(stage) for stage in document.stages)
    return compile_document(document.model_copy(update={"stages": stages, "substances": substances}))


def _same_facts(one: SubstanceDoc, other: SubstanceDoc) -> bool:
    """Whether two say the same of an ingredient, whatever it cost."""
    return one.model_copy(update={"price_per_kg": None}) == other.model_copy(update={"price_per_kg": None})


def _instead(line: LineDoc, substance: str | None, record: Record) -> LineDoc:
    """A line with another substance. What was swapped bears its own name; what is stronger or weaker keeps its."""
    if substance is None:
        return line
    return line.model_copy(update={"substance": substance, "name": None if line.id in record.swaps else line.name})


def _measured(record: Record) -> dict[str, float]:
    """Ingredients a drop of which was put on the refractometer: °Bx at 20 °C."""
    return {what.line: true_brix(what) for _, what in record.of(e.Refracted) if what.line is not None}


def strengths(method: Method, record: Record) -> dict[str, float]:
    """Lines whose dissolved solids were measured, or are reckoned with since; the latter come last and hold."""
    return {line: brix for line, brix in {**_measured(record), **record.strengths}.items() if line in method.lines and brix > 0}


def true_brix(what: e.Refracted) -> float:
    """What a refractometer showed, at 20 °C."""
    if what.corrects_itself:
        return what.reading_brix
    try:
        return float(sucrose.corrected_reading(what.reading_brix, what.sample_c))
    except DomainError:
        return what.reading_brix  # outside the correction's range the reading is all there is


def as_strong(book: Substance, brix: float) -> Substance:
    """A substance with its dissolved solids all in proportion so that they come to a °Bx, the rest water."""
    fraction = book.mass_fraction
    solids = fraction * c.DISSOLVED
    rest = fraction - solids
    rest[c.WATER] = 0.0
    other = float(rest.sum())
    # brix = solids / (solids + water), with solids + water + other = 1.
    wanted = brix / 100.0 * (1.0 - other)
    have = float(solids.sum())
    if have <= 0:
        return book
    made = rest + solids * (wanted / have)
    made[c.WATER] = 1.0 - float(made.sum())
    here = None if book.made is None else replace(book.made, tracer=tracers_of(book, made))  # what travels with its sugar goes with it
    return replace(
        book, mass_fraction=np.asarray(made), free_sugar_fraction=book.free_sugar_fraction * wanted / have, basis="estimate", of=book.of or book.id,
        made=here,
    )  # fmt: skip


def _weighed(method: Method, record: Record) -> Method:
    """With the grams that went in."""
    document = method.document
    for id, held in record.weighed.items():
        if id in method.lines or any(stage.id == id and stage.reads() is not None for stage in method.stages):
            # An amount is of something: what was weighed as nothing is walked as next to nothing, and stays on the label.
            document = set_amount(document, id, written(max(held.value, _NEXT_TO_NOTHING_G)))
    return compile_document(document)


def _stages(method: Method, record: Record) -> Method:
    """With the ends that were met and what came of each stage."""
    document = method.document
    stages = tuple(stage.as_measured(_Entered(stage, method, record)) for stage in document.stages)
    return compile_document(document.model_copy(update={"stages": stages}))


class _Entered:
    """What was entered at one stage, as the stage takes it. The method is walked only where a stage asks what there can be."""

    def __init__(self, stage: StageBase, method: Method, record: Record) -> None:
        self._stage, self._method, self._record = stage, method, record

    @property
    def kitchen(self) -> Kitchen:
        return self._method.document.kitchen or Kitchen()

    @property
    def is_done(self) -> bool:
        return self._record.done(self._stage.id) is not None

    @property
    def probe_c(self) -> float | None:
        probed = self._record.of(e.Probed, self._stage.id)
        return probed[-1][1].temperature_c if probed else None

    @property
    def probes(self) -> tuple[tuple[float, float], ...]:
        read = readings_of(self._record, self._stage.id)
        since = self._record.began(self._stage.id) or (read[0][0] if read else None)
        return () if since is None else tuple(((at - since).total_seconds() / 60.0, warm_c) for at, warm_c in read)

    @property
    def held_min(self) -> float | None:
        began, done = self._record.began(self._stage.id), self._record.done(self._stage.id)
        return None if began is None or done is None else (done.event.at - began).total_seconds() / 60.0

    @cached_property
    def _can_hold(self) -> PotCanHold:
        return pot_can_hold(self._stage, walk(self._method))

    @property
    def pot_g(self) -> float | None:
        weights = [what.mass_g for _, what in self._record.of(e.PotWeighed, self._stage.id)]
        possible = [grams for grams in weights if self._can_hold.least_g <= grams <= self._can_hold.most_g]
        return possible[-1] if possible else None

    @property
    def below_plan(self) -> bool:
        return self.pot_g is not None and self.pot_g < self._can_hold.stop_g

    @property
    def brix(self) -> float | None:
        drops = [what for _, what in self._record.of(e.Refracted, self._stage.id) if what.line is None]
        return true_brix(drops[-1]) if drops else None

    @property
    def gave_g(self) -> float | None:
        gave = self._record.gave.get(self._stage.id)
        return None if gave is None else gave.value

    @property
    def filled_g(self) -> float | None:
        over = self.is_done or self._record.status != "running"
        filled = self._record.bottled_g(self._stage.id) if over else None
        return None if filled is None or filled > can_be_filled_g(self._stage, walk(self._method)) else filled


def readings_of(record: Record, stage: str) -> list[tuple[datetime, float]]:
    """What the probe showed at a hold, by its time. What is below nothing or far above a boil is a slip."""
    return [(entry.event.at, what.temperature_c) for entry, what in record.of(e.Probed, stage) if 0 < what.temperature_c <= _HOTTEST_HELD_C]


#: What was not weighed may be so much more than the walk says (common practice, no source): a share, and grams.
_MORE_SHARE, _MORE_G = 0.05, 20.0


def at_most_g(grams: float) -> float:
    """The most there can be where the walk says so much: a little more for what was not weighed."""
    return (1 + _MORE_SHARE) * grams + _MORE_G


def can_be_filled_g(stage: StageBase, walked: Walk) -> float:
    """The most that can have been filled and left over: what there is to fill, and a little more for what was not weighed."""
    index = walked.stages.index(next(s for s in walked.stages if s.id == stage.id))
    held = (walked.steps[index - 1].after if index else walked.start).vessels.get(stage.vessel)
    return at_most_g(float(held.total_g[0]) if held is not None else 0.0)


@dataclass(frozen=True)
class PotCanHold:
    """Grams a boiling pot can hold: all that went in and a little more, and no less than what does not boil off; and when it stops."""

    least_g: float
    most_g: float
    stop_g: float


def pot_can_hold(stage: StageBase, walked: Walk) -> PotCanHold:
    """What a weighing of a pot must lie between to be one of this pot; a twentieth and 20 g above is left for what was not weighed."""
    step = walked.step(stage.id)
    stop = float(step.figures["stop_g"][0])
    starts = stop + float(step.figures["off_g"][0])
    held = step.after.vessels.get(stage.vessel)
    solids = float(held.total_g[0] - held.water_g[0]) if held is not None else 0.0
    return PotCanHold(max(solids, 1e-6), at_most_g(starts), stop)
