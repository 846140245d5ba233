"""The walk: matter goes through the stages, K cases at a time.

Planning, solving, running, rescuing and learning are this one call with different
things given.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, wraps
from typing import Literal, TypeVar, cast

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.figures import Bools, Floats
from jugcore.matter.matter import Matter
from jugcore.method.amounts import UpToVolume
from jugcore.method.context import Context, Fault
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.missing_equipment import missing_here
from jugcore.method.parameters import checked
from jugcore.method.stages import AtStage, StageBase, Step
from jugcore.method.state import Flow, State, filled_ml

#: Passes allowed for amounts that refer forward (per kg finished, after a later stage).
MAX_PASSES = 40
_CLOSED = 1e-12
#: What a millilitre of something dry weighs, about.
_DRY_G_ML = 1.4


Read = TypeVar("Read")
OfKind = TypeVar("OfKind", bound=StageBase)


@dataclass(frozen=True)
class Walk:
    """What happened: the state before, one step a stage, and the end."""

    method: Method
    kitchen: Kitchen
    cases: int
    start: State
    steps: tuple[Step, ...]
    stages: tuple[StageBase, ...]
    faults: tuple[Fault, ...]
    given: dict[str, Floats] = field(default_factory=dict, repr=False)
    passes: int = 1

    @property
    def end(self) -> State:
        return self.steps[-1].after if self.steps else self.start

    @cached_property
    def product(self) -> Matter:
        """What the product's vessel holds at the end."""
        held = self.end.vessels.get(self.method.product)
        return Matter.nothing(self.cases) if held is None else held

    def of_kitchen(self, field: Literal["fridge_c", "room_c"]) -> Floats:
        """A figure of the kitchen in each case, (K,): what is given for it, else the kitchen's own."""
        given = self.given.get(f"kitchen.{field}")
        return np.full(self.cases, getattr(self.kitchen, field)) if given is None else given

    @property
    def flows(self) -> tuple[Flow, ...]:
        return tuple(flow for step in self.steps for flow in step.flows)

    @cached_property
    def _places(self) -> dict[str, int]:
        return {stage.id: place for place, stage in enumerate(self.stages)}

    def each(self, kind: type[OfKind]) -> Iterator[tuple[OfKind, Step]]:
        """The stages of one class with what each did, in order: for reads that need a figure only such stages have."""
        return ((stage, step) for stage, step in zip(self.stages, self.steps, strict=True) if isinstance(stage, kind))

    def step(self, stage_id: str) -> Step:
        """What a stage did. Raises KeyError where this walk has none of that id."""
        return self.steps[self._places[stage_id]]

    def before(self, stage_id: str) -> State:
        """The state a stage began with."""
        place = self._places[stage_id]
        return self.steps[place - 1].after if place else self.start

    def at(self, stage: StageBase, grams: Callable[[str], float] | None = None) -> AtStage:
        """The walk at one of its stages, as the stage's own words need it; ``grams`` gives what is weighed, else what was walked."""
        return AtStage(self.method, self.kitchen, self.step(stage.id), grams or (lambda id: float(self.end.lines[id][0])))

    @cached_property
    def reads(self) -> dict[object, object]:
        """What :func:`once` has read of this walk."""
        return {}

    def state_after(self, stage_id: str) -> State:
        """The state behind a stage, as :func:`walk` takes it to resume."""
        return self.step(stage_id).after

    def came_in_g(self) -> Floats:
        """Everything that entered in this walk, or stood in vessels when it began. (K, C)"""
        start = sum((m.mass_g for m in self.start.vessels.values()), np.zeros((self.cases, c.COUNT)))
        return np.asarray(start + sum(f.mass_g for f in self.flows if f.source.startswith("line:")))

    def stands_g(self) -> Floats:
        """Everything in vessels at the end and everything away, net of what was away before and of what reactions made. (K, C)"""
        zero = np.zeros((self.cases, c.COUNT))
        held = sum((m.mass_g for m in self.end.vessels.values()), zero)
        away = sum(self.end.away.values(), zero) - sum(self.start.away.values(), zero)
        return np.asarray(held + away - self.made_g())

    def made_g(self) -> Floats:
        """What reactions made, less what they used up, in this walk. (K, C)"""
        zero = np.zeros((self.cases, c.COUNT))
        return np.asarray(sum(self.end.made.values(), zero) - sum(self.start.made.values(), zero))


def once(read: Callable[[Walk], Read]) -> Callable[[Walk], Read]:
    """A read of a walk that is worked out once for each walk, whoever asks."""

    @wraps(read)
    def kept(walk: Walk) -> Read:
        if kept not in walk.reads:
            walk.reads[kept] = read(walk)
        return cast(Read, walk.reads[kept])

    return kept


def walk(
    method: Method,
    kitchen: Kitchen | None = None,
    given: Mapping[str, ArrayLike] | None = None,
    *,
    start: State | None = None,
    after: str | None = None,
) -> Walk:
    """Walk matter through a method.

    Parameters
    ----------
    method : Method
        A checked document.
    kitchen : Kitchen, optional
        Where; else the document's own, else a plain kitchen at sea level.
    given : mapping, optional
        Parameter path → a value or K values that replace the document's; the paths
        and their bounds are those of :mod:`jugcore.method.parameters`.
    start, after : State, str, optional
        A state to resume from and the stage it stands behind.

    Returns
    -------
    Walk
        States, flows, traces and faults. A case that cannot go on is masked and
        reported as a fault; nothing is raised for it.

    Raises
    ------
    BadDocument
        A given path names nothing here, numbers of values differ, or ``after`` is
        no stage. A value outside its bounds is a fault of its case.

    Notes
    -----
    Per component, what comes in and what reactions make equals what stands in vessels and away, to 1e-9;
    what they make adds up to nothing.
    Amounts that refer to what is not yet known are closed by a fixed point (Aitken
    steps); one that does not close is a fault ``does_not_close``.
    """
    place = kitchen or method.document.kitchen or Kitchen()
    raw, cases = _given_arrays(given or {}, start)
    arrays, unfit = checked(method, place, raw)
    absent = missing_here(method, place, cases)
    todo = _todo(method, after)
    begin = _begin(start, cases)
    guesses = {key: np.broadcast_to(value, (cases,)) for key, value in begin.guesses.items()}
    history: list[dict[str, Floats]] = []
    tried: list[Mapping[str, Floats]] = []
    below = np.zeros(cases, int)  # how often an amount would have settled below nothing
    hopeless = np.zeros(cases, bool)  # cases whose forward references were given up
    for passes in range(1, MAX_PASSES + 1):
        ctx = Context(method, place, cases, arrays, guesses)
        ctx.faults += unfit + absent
        steps = _one_pass(todo, begin, ctx)
        found = Walk(method, place, cases, begin, steps, todo, tuple(ctx.faults), arrays, passes)
        if not ctx.asked:
            return found
        actual = {key: _actual(key, found) for key in ctx.asked}
        open_cases = _open_cases(actual, guesses, ctx.asked, cases) & ~hopeless
        if not open_cases.any():
            break
        history.append(actual)
        tried.append(guesses)
        wanted = {**_next_guesses(history, guesses, actual), **_next_volumes(history, tried)}
        below += np.any([value < 0 for value in wanted.values()], axis=0)
        # A kilogram of product that asks for more than a kilogram settles below nothing. What is
        # given up weighs nothing, so that its case stays whole and harms no other.
        hopeless |= (below > 1) | (open_cases & (passes >= MAX_PASSES - 1))
        guesses = {key: np.where(hopeless, 0.0, np.maximum(value, 0.0)) for key, value in wanted.items()}
    return _closed(found, guesses, ctx, hopeless)


def _one_pass(todo: Sequence[StageBase], begin: State, ctx: Context) -> tuple[Step, ...]:
    state = begin
    steps: list[Step] = []
    for stage in todo:
        ctx.begin_stage()
        step = stage.apply(state, ctx)
        steps.append(step)
        state = step.after
    return tuple(steps)


def _closed(found: Walk, guesses: Mapping[str, Floats], ctx: Context, hopeless: Bools) -> Walk:
    """The walk with its closed values kept in every state, so that resuming starts from them."""
    kept = {key: np.broadcast_to(guesses.get(key, np.zeros(found.cases)), (found.cases,)) for key in ctx.asked}
    ctx.fault(
        "does_not_close",
        field=_first_forward_line(found.method),
        message="The amounts that depend on what comes out never settle: they ask for more than they make.",
        remedy="Ask for less per kilogram, or give one of them grams.",
        cases=hopeless,
    )
    _fault_overfull(found, ctx)
    merged = {**found.start.guesses, **kept}
    steps = tuple(replace(step, after=step.after.but(guesses=merged)) for step in found.steps)
    return replace(found, steps=steps, faults=tuple(ctx.faults))


def _actual(key: str, found: Walk) -> Floats:
    """What a forward reference turned out to be."""
    zero = np.zeros(found.cases)
    if key == "finished":
        return found.product.total_g
    if key.startswith("volume."):
        return _up_to_volume(key.removeprefix("volume."), found)
    kind, _, id = key.partition(".")
    source = found.end.lines if kind == "lines" else found.end.masses
    return source.get(id, zero)


def _up_to_volume(id: str, found: Walk) -> Floats:
    """Grams of a line that bring its vessel to the volume asked for, one step on from those of this pass; never less than none."""
    step, ml = _to_stand_at(id, found)
    line = found.method.lines.get(id)
    per_ml = found.method.substances[line.substance].density_g_ml if line is not None else 1.0
    missing = ml - _about_ml(step)
    return np.asarray(np.maximum(found.end.lines[id] + missing * per_ml, 0.0))


def _about_ml(step: _Stands) -> Floats:
    """How far up a vessel is filled (K,) [ml]; of what is too dry to have a volume, about so."""
    stands = filled_ml(step.after, step.vessel)
    held = step.after.vessels.get(step.vessel)
    return np.asarray(np.where(np.isfinite(stands), stands, 0.0 if held is None else held.total_g / _DRY_G_ML))


def _to_stand_at(id: str, found: Walk) -> tuple[_Stands, Floats]:
    """Where a line in millilitres is looked at, and the millilitres (K,) it is to come to there."""
    amount = found.method.amounts[id]
    assert isinstance(amount, UpToVolume)
    own = next(stage for stage in found.stages if id in stage.weighed_ids)
    after = next((stage for stage in found.stages if stage.id == amount.stage), own)
    given = found.given.get(f"lines.{id}.up_to_ml")
    ml = np.full(found.cases, amount.ml) if given is None else given
    return _Stands(own.vessel, found.step(after.id).after), ml


def _fault_overfull(found: Walk, ctx: Context) -> None:
    """Say of lines in millilitres where the rest alone comes to more, or where nobody can say what it comes to."""
    for key in sorted(ctx.asked):
        kind, _, id = key.partition(".")
        if kind != "volume":
            continue
        step, ml = _to_stand_at(id, found)
        stands = filled_ml(step.after, step.vessel)
        about = _about_ml(step)
        over = about > ml * (1 + 1e-6)
        i = int(np.argmax(over))
        ctx.fault(
            "already_over",
            field=f"lines.{id}.amount",
            message=f"The rest alone comes to {float(about[i]):,.0f} ml, more than {float(ml[i]):,.0f} ml.",
            remedy="Make it up to a larger volume, or put less of the rest in.",
            cases=over,
        )
        ctx.fault(
            "no_volume",
            field=f"lines.{id}.amount",
            message="What stands there has no volume that can be worked out: it is dry or above 85 °Bx.",
            remedy="Give grams.",
            cases=~np.isfinite(stands) & ~over,
        )


@dataclass(frozen=True)
class _Stands:
    """A vessel in a state."""

    vessel: str
    after: State


def _open_cases(actual: Mapping[str, Floats], guesses: Mapping[str, Floats], asked: set[str], cases: int) -> Bools:
    result = np.zeros(cases, bool)
    for key in asked:
        guess = guesses.get(key, np.zeros(cases))
        result |= ~(np.abs(actual[key] - guess) <= _CLOSED * np.maximum(1.0, np.abs(actual[key])))
    return result


def _next_guesses(history: list[dict[str, Floats]], guesses: Mapping[str, Floats], actual: Mapping[str, Floats]) -> dict[str, Floats]:
    """Plain iteration, and every third pass an Aitken step through the last three."""
    if len(history) % 3 or len(history) < 3:
        return {**guesses, **actual}
    result = {**guesses, **actual}
    for key, newest in actual.items():
        if key in history[-2] and key in history[-3]:
            x0, x1, x2 = history[-3][key], history[-2][key], newest
            bend = x2 - 2 * x1 + x0
            usable = np.abs(bend) > 1e-13 * np.maximum(1.0, np.abs(x2))
            result[key] = np.where(usable, x2 - (x2 - x1) ** 2 / np.where(usable, bend, 1.0), x2)
    return result


def _first_forward_line(method: Method) -> str:
    for id, amount in method.amounts.items():
        if getattr(amount, "of", None) in ("after", "finished"):
            return f"lines.{id}.amount"
    return f"lines.{next(iter(method.amounts), '')}.amount"


def _next_volumes(history: list[dict[str, Floats]], tried: list[Mapping[str, Floats]]) -> dict[str, Floats]:
    """Of amounts up to a volume the next guess by a secant through the last two: volumes are so nearly straight that it closes in four."""
    if len(history) < 2:
        return {}
    found = {}
    for key, now in history[-1].items():
        if not key.startswith("volume.") or key not in tried[-2] or key not in history[-2]:
            continue
        here, before, then = tried[-1][key], tried[-2][key], history[-2][key]
        moved = here - before
        usable = np.abs(moved) > 1e-12 * np.maximum(1.0, np.abs(here))
        slope = np.where(usable, (now - then) / np.where(usable, moved, 1.0), 0.0)
        slope = np.where(np.abs(slope) < 0.9, slope, 0.0)
        found[key] = np.where(now > 0, here + (now - here) / (1.0 - slope), 0.0)
    return found


def _todo(method: Method, after: str | None) -> tuple[StageBase, ...]:
    if after is None:
        return method.stages
    ids = [stage.id for stage in method.stages]
    if after not in ids:
        raise BadDocument("after", f"There is no stage “{after}” to resume behind.", "Name a stage of the method.")
    return method.stages[ids.index(after) + 1 :]


def _begin(start: State | None, cases: int) -> State:
    """The state to begin from, every array spread over the cases."""
    if start is None:
        return State()

    def spread(array: Floats) -> Floats:
        if array.shape[0] == cases:
            return array
        return np.repeat(array[:1], cases, axis=0)

    def spread_matter(m: Matter) -> Matter:
        return Matter(spread(m.mass_g), spread(m.enthalpy_j), spread(m.extent), spread(m.tracer), spread(m.air_ml), m.touched)

    return State(
        {k: spread_matter(v) for k, v in start.vessels.items()},
        *({k: spread(v) for k, v in part.items()} for part in (start.lines, start.away, start.made, start.ready_at_s, start.masses, start.guesses)),
    )


def _given_arrays(given: Mapping[str, ArrayLike], start: State | None) -> tuple[dict[str, Floats], int]:
    """Every given value spread over the cases, and how many cases there are."""
    cases = 1
    if start is not None and start.vessels:
        cases = next(iter(start.vessels.values())).mass_g.shape[0]
    raw: dict[str, Floats] = {}
    for path, value in given.items():
        array: Floats = np.atleast_1d(np.asarray(value, dtype=np.float64))
        if array.ndim != 1:
            raise BadDocument(f"given.{path}", "It is neither a number nor a list of them.", "Give one number a case.")
        raw[path] = array
        cases = max(cases, array.shape[0])
    for path, array in raw.items():
        if array.shape[0] not in (1, cases):
            raise BadDocument(f"given.{path}", f"It has {array.shape[0]} values where others have {cases}.", "Give one, or as many.")
        if array.shape[0] != cases:
            raw[path] = np.repeat(array, cases)
    return raw, cases
