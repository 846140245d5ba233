"""Solve, ways and scaling as plain data, in and out: what a shell, the server and a screen exchange."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from jugcore.errors import BadDocument
from jugcore.formula.blend import overshot
from jugcore.formula.cooks import Cooks, in_cooks, most_in_one
from jugcore.formula.edits import untied
from jugcore.formula.fills import into_containers
from jugcore.formula.goes import in_goes
from jugcore.formula.linearise import Target
from jugcore.formula.reading import READING_OF, Reading, readings
from jugcore.formula.scale import MOST as MOST_FACTOR
from jugcore.formula.scale import by_bottles, by_line, by_reading, on_the_scales
from jugcore.formula.solve import solve
from jugcore.formula.stopwatch import Clock, no_clock
from jugcore.formula.summary import boil_stops
from jugcore.formula.wanted import Solution, Wanted
from jugcore.formula.way import Move, Way
from jugcore.formula.ways import ways
from jugcore.formula.weighing import as_weighed, weighings
from jugcore.method.document import Method, MethodDocument, compile_document
from jugcore.method.fields import MOST_LINES, Id, Part
from jugcore.method.stages import Fill, Step, Yielding
from jugcore.method.walk import Walk, walk

#: What may change: lines.sugar.grams, stages.boil.brix.
Path = Annotated[str, Field(max_length=200)]
#: Of a kilogram, in whatever money.
Price = Annotated[float, Field(ge=0, le=1e6)]


class TargetAsk(Part):
    """A window for a reading, or for ``line:<id>``: a value, a least, a most, or a least and a most."""

    reading: str = Field(max_length=80)
    equals: float | None = Field(None, ge=-1e9, le=1e9)
    at_least: float | None = Field(None, ge=-1e9, le=1e9)
    at_most: float | None = Field(None, ge=-1e9, le=1e9)

    @model_validator(mode="after")
    def _something(self) -> Self:
        if self.equals is None and self.at_least is None and self.at_most is None:
            raise ValueError("A target asks for nothing.\nGive a value, a least or a most.")
        if self.equals is not None and (self.at_least is not None or self.at_most is not None):
            raise ValueError("A target asks for a value and for a window.\nGive one of the two.")
        return self

    def target(self) -> Target:
        """As the solver takes it."""
        if self.equals is not None:
            return Target(self.reading, self.equals, self.equals)
        return Target(self.reading, self.at_least, self.at_most)


class BoundAsk(Part):
    """The least and the most a line may weigh. [g]"""

    low: float | None = Field(None, ge=0, le=1_000_000)
    high: float | None = Field(None, gt=0, le=1_000_000)


class SolveAsk(Part):
    """What is asked of a solve: targets, and what may change to meet them."""

    targets: tuple[TargetAsk, ...] = Field(min_length=1, max_length=20)
    locks: tuple[Id, ...] = Field((), max_length=MOST_LINES)
    bounds: dict[Id, BoundAsk] = Field({}, max_length=MOST_LINES)
    untie: tuple[Id, ...] = Field((), max_length=MOST_LINES, description="Lines that need no longer follow others.")
    free: tuple[Path, ...] | None = Field(None, max_length=200, description="Paths that may change; else every written line and every boil.")
    change: Literal["few", "spread"] = Field("few", description="Few edits, or a little of everything.")
    prices: dict[Id, Price] = Field({}, max_length=MOST_LINES, description="Price a kilogram by line: if given, least cost instead of least change.")

    def wanted(self) -> Wanted:
        """As the solver takes it."""
        return Wanted(
            tuple(target.target() for target in self.targets), self.locks, {id: (bound.low, bound.high) for id, bound in self.bounds.items()},
            self.free, self.change, self.prices,
        )  # fmt: skip


class TargetReport(BaseModel):
    """A target after the last walk."""

    reading: str
    title: str
    unit: str
    digits: int
    at_least: float | None
    at_most: float | None
    before: float | None
    value: float | None
    off_by: float | None
    rounding: float = Field(description="What rounding the changed figures to the scale may do to it, ±.")
    met: bool


class ChangeReport(BaseModel):
    """A figure that moved: its path, from, to, before rounding."""

    path: str
    before: float
    after: float
    unit: str


class CollisionReport(BaseModel):
    """The fewest targets and limits that cannot hold together, and the nearest formula, in words."""

    targets: list[str]
    limits: list[str]
    words: str


class TimingReport(BaseModel):
    """Seconds in walks, in solvers, and altogether."""

    walks_s: float
    solver_s: float
    total_s: float


class SolveReport(BaseModel):
    """What came of a solve. The document meets the targets where ``status`` is solved; else it is the nearest found."""

    status: Literal["solved", "collides", "not_proven"]
    words: str
    targets: list[TargetReport]
    changes: list[ChangeReport]
    collision: CollisionReport | None
    rounds: int
    timing: TimingReport
    document: MethodDocument


class MoveReport(BaseModel):
    """A reading before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float | None
    after: float | None


class WayReport(BaseModel):
    """One way: what to do in grams, which ties it keeps and breaks, what else moves, and the document that does it."""

    id: str
    kind: str
    title: str
    todo: list[str]
    ties_kept: list[str]
    ties_broken: list[str]
    value: float | None = Field(description="What was typed over, now; nothing where nothing was.")
    tolerance: float
    moves: list[MoveReport]
    notes: list[str]
    document: MethodDocument


class WaysReport(BaseModel):
    """Ways to a value typed over a reading; where there is none, why not."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    wanted: float
    ways: list[WayReport]
    why_not: list[str]


_WORDS = {
    "solved": "All of it can be had.",
    "not_proven": "No formula was found that has all of it. The method bends too much for this to prove there is none.",
}


def _finite(value: float) -> float | None:
    return value if math.isfinite(value) else None


def _as_sent(document: MethodDocument, asked: MethodDocument) -> MethodDocument:
    """An answer's document carries a kitchen and substances where the one asked about did; what was put to it stays behind."""
    own = {id: substance for id, substance in document.substances.items() if id in asked.substances}
    return document.model_copy(update={"kitchen": document.kitchen if asked.kitchen is not None else None, "substances": own})


def solve_report(method: Method, ask: SolveAsk, asked: MethodDocument | None = None, clock: Clock = no_clock) -> SolveReport:
    """Solve, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    loose = compile_document(untied(method, walk(method), ask.untie)) if ask.untie else method
    return _solve_report(solve(loose, ask.wanted(), clock=clock), asked or method.document)


def _solve_report(solution: Solution, asked: MethodDocument) -> SolveReport:
    collision = solution.collision
    words = _WORDS.get(solution.status, "") if solution.status != "collides" or collision is None else collision.words
    if solution.status == "not_proven" and collision is not None:
        words = f"{words} As far as can be seen: {collision.words}"
    return SolveReport(
        status=solution.status,
        words=words,
        targets=[
            TargetReport(
                reading=m.target.reading, title=m.title, unit=m.unit, digits=m.digits, at_least=m.target.low, at_most=m.target.high,
                before=_finite(m.before), value=_finite(m.value), off_by=_finite(m.off_by), rounding=m.rounding, met=m.met,
            )
            for m in solution.targets
        ],
        changes=[ChangeReport(path=change.path, before=change.before, after=change.after, unit=change.unit) for change in solution.changes],
        collision=None
        if collision is None
        else CollisionReport(targets=[t.reading for t in collision.targets], limits=list(collision.limits), words=collision.words),
        rounds=solution.rounds,
        timing=TimingReport(walks_s=solution.timing.walks_s, solver_s=solution.timing.solver_s, total_s=solution.timing.total_s),
        document=_as_sent(solution.document, asked),
    )  # fmt: skip


def ways_report(method: Method, reading: str, value: float, asked: MethodDocument | None = None, hold: Sequence[str] = ()) -> WaysReport:
    """Ways, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    found = ways(method, reading, value, hold=hold)
    return WaysReport(
        reading=found.reading, title=found.title, unit=found.unit, digits=found.digits, before=found.before, wanted=found.wanted,
        ways=[way_report(way, asked or method.document) for way in found.ways], why_not=list(found.why_not),
    )  # fmt: skip


def move_report(move: Move) -> MoveReport:
    """A reading that moves, as data."""
    before, after = _finite(move.before), _finite(move.after)
    return MoveReport(reading=move.reading, title=move.title, unit=move.unit, digits=move.digits, before=before, after=after)


def way_report(way: Way, asked: MethodDocument) -> WayReport:
    return WayReport(
        id=way.id, kind=way.kind, title=way.title, todo=list(way.todo), ties_kept=list(way.ties_kept), ties_broken=list(way.ties_broken),
        value=_finite(way.value), tolerance=way.tolerance, notes=list(way.notes), document=_as_sent(way.document, asked),
        moves=[move_report(move) for move in way.moves],
    )  # fmt: skip


def target_from_text(text: str) -> TargetAsk:
    """“brix=64”, “yield_l>=2”, “cold_margin=0..5” as a target.

    Raises ValueError for anything else.
    """
    for sign, name in ((">=", "at_least"), ("<=", "at_most")):
        reading, found, number = text.partition(sign)
        if found:
            return TargetAsk.model_validate({"reading": reading.strip(), name: _figure(number, text)})
    reading, found, number = text.partition("=")
    low, two, high = number.partition("..")
    if not found:
        raise ValueError(f"“{_short(text)}” is no target.")
    if two:
        return TargetAsk(reading=reading.strip(), at_least=_figure(low, text), at_most=_figure(high, text))
    return TargetAsk(reading=reading.strip(), equals=_figure(number, text))


def _figure(number: str, text: str) -> float:
    try:
        return float(number)
    except ValueError:
        raise ValueError(f"“{_short(text)}” is no target: “{_short(number.strip())}” is not a number.") from None


def _short(text: str) -> str:
    """A text short enough to quote."""
    return text if len(text) <= 60 else f"{text[:60]} …"


class ScaleAsk(Part):
    """How much of a formula to make.

    ``by``: ``factor`` so many times it · ``grams`` or ``litres`` of product (litres cold) ·
    ``bottles`` of ``size_ml`` filled at the temperature the method fills at · ``line`` grams
    of an ingredient there is only so much of, or of what a stage trims or presses · ``pot`` as much as one cook can take.
    """

    by: Literal["factor", "grams", "litres", "bottles", "line", "pot"]
    value: float | None = Field(None, gt=0, le=1_000_000)
    size_ml: float | None = Field(None, gt=0, le=100_000)
    line: Id | None = None

    @model_validator(mode="after")
    def _enough(self) -> Self:
        if self.by != "pot" and self.value is None:
            raise ValueError("How much is wanted is missing.\nGive a number.")
        if self.by == "bottles" and self.size_ml is None:
            raise ValueError("The size of a bottle is missing.\nGive its millilitres.")
        if self.by == "line" and self.line is None:
            raise ValueError("Which ingredient there is only so much of is missing.\nName a line.")
        return self


class WeighingReport(BaseModel):
    """A line on a scale: rounded grams, on which scale, in how many goes, ± what share of it."""

    line: str
    stage: str
    title: str
    exact_g: float
    rounded_g: float
    scale: str | None
    goes: int
    error: float


class BottleReport(BaseModel):
    """One container: grams in it, at what it is filled, and what it holds once cold."""

    count: int = Field(description="Full ones, of one cook.")
    words: str = Field(description="Of one cook: “2 × 500 ml and 240 ml in a third”.")
    size_ml: float
    per_container_g: float | None
    fill_c: float | None
    cold_ml: float | None
    left_over_g: float


class RoundedReading(BaseModel):
    """A reading by exact grams, and by the grams that will be weighed."""

    reading: str
    title: str
    unit: str
    digits: int
    exact: float | None
    weighed: float | None


class ScaleReport(BaseModel):
    """A formula scaled, split into cooks that pots and scales can take, and what to weigh for one of them."""

    factor: float = Field(description="Of all cooks together.")
    cooks: int
    limits: list[str] = Field(description="Why it takes more than one cook.")
    notes: list[str]
    weighings: list[WeighingReport]
    boils: list[str]
    bottles: BottleReport | None
    yield_g: float = Field(description="Of all cooks together.")
    yield_l: float | None
    readings: list[RoundedReading]
    document: MethodDocument = Field(description="The formula for one cook.")
    document_on_scales: MethodDocument = Field(description="The same with what is written in grams as the kitchen's scales can show it.")


def scale_report(method: Method, ask: ScaleAsk, asked: MethodDocument | None = None) -> ScaleReport:
    """Scale, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    cooks = _cooks(method, ask)
    walked = cooks.one.walk
    sheet = weighings(walked)
    weighed = as_weighed(walked, sheet)
    exact, after = readings(walked), {reading.id: reading for reading in readings(weighed)}
    fill = next((step for stage, step in zip(walked.stages, walked.steps, strict=True) if isinstance(stage, Fill)), None)
    litres = float(READING_OF["yield_l"](walked).value[0])
    return ScaleReport(
        factor=cooks.one.factor * cooks.count,
        cooks=cooks.count,
        limits=[limit.words for limit in cooks.limits[:3]],
        notes=[*cooks.one.notes, *(each.words for each in in_goes(walked))],
        weighings=[
            WeighingReport(
                line=w.line, stage=w.stage, title=walked.method.titles[w.line], exact_g=w.exact_g, rounded_g=w.rounded_g,
                scale=w.scale.name if w.scale else None, goes=w.goes, error=w.error,
            )
            for w in sheet
        ],
        boils=list(boil_stops(weighed)),
        bottles=None if fill is None else _bottles(walked, fill, ask),
        yield_g=cooks.count * float(walked.product.total_g[0]),
        yield_l=_finite(cooks.count * litres),
        readings=[_rounded(r, after[r.id]) for r in exact if r.id in after],
        document=_as_sent(cooks.one.document, asked or method.document),
        document_on_scales=_as_sent(on_the_scales(walked.method, walked.kitchen), asked or method.document),
    )  # fmt: skip


def _rounded(exact: Reading, weighed: Reading) -> RoundedReading:
    now, then = _finite(float(exact.value[0])), _finite(float(weighed.value[0]))
    return RoundedReading(reading=exact.id, title=exact.title, unit=exact.unit, digits=exact.digits, exact=now, weighed=then)


def _cooks(method: Method, ask: ScaleAsk) -> Cooks:
    value = ask.value or 0.0
    match ask.by:
        case "factor":
            return in_cooks(method, factor=value)
        case "pot":
            factor = most_in_one(method)
            if factor >= 0.99 * MOST_FACTOR:
                raise BadDocument("scale", "No pot and no scale of this kitchen limits it.", "Say which pot the method uses, or give an amount.")
            return in_cooks(method, factor=factor)
        case "line":
            yields = {stage.id for stage in method.stages if isinstance(stage, Yielding)}
            if ask.line not in method.lines and ask.line not in yields:
                raise BadDocument("scale.line", f"“{ask.line}” is no line here.", "Name a line of the formula, or what it trims or presses.")
            return in_cooks(method, measure=by_line(ask.line or ""), wanted=value)
        case "bottles":
            return in_cooks(method, measure=by_bottles(ask.size_ml or 1.0), wanted=value)
        case "grams":
            return in_cooks(method, measure=by_reading("yield_g"), wanted=value)
        case _:
            return in_cooks(method, measure=by_reading("yield_l"), wanted=value)


def _bottles(walked: Walk, fill: Step, ask: ScaleAsk) -> BottleReport:
    """What one container holds, in the size asked for or the method's own."""
    stage = next(s for s in walked.stages if isinstance(s, Fill))
    share = (ask.size_ml or stage.size_ml) / stage.size_ml
    each, cold = float(fill.figures["per_container_g"][0]) * share, float(fill.figures["cold_ml"][0]) * share
    total = float(fill.figures["containers"][0]) * float(fill.figures["per_container_g"][0]) + float(fill.figures["left_over_g"][0])
    found = into_containers(total, each, stage.size_ml * share)
    count = found.full
    return BottleReport(
        count=count, words=found.words, size_ml=stage.size_ml * share, per_container_g=_finite(each),
        fill_c=_finite(float(fill.figures["fill_c"][0])),
        cold_ml=_finite(cold), left_over_g=max(total - count * (each if math.isfinite(each) else 0.0), 0.0),
    )  # fmt: skip


class OvershotAsk(Part):
    """A line of a blend of which more went in than was asked for, and what else is in the bowl already (all of it, if not said)."""

    line: Id
    poured_g: float = Field(gt=0, le=1_000_000)
    weighed: tuple[Id, ...] | None = Field(None, max_length=500)


class RemedyGrams(BaseModel):
    """A line of the blend: grams to reach, and how much of that is still to add."""

    line: str
    title: str
    grams: float
    add_g: float | None


class RemedyReport(BaseModel):
    """One answer to an overshot line."""

    kind: Literal["accept", "scale_up", "top_up"]
    title: str
    words: str
    total_g: float
    lines: list[RemedyGrams]


class OvershotReport(BaseModel):
    """What can be done about a spoon too many."""

    line: str
    asked_g: float
    poured_g: float
    remedies: list[RemedyReport]


def overshot_report(method: Method, ask: OvershotAsk) -> OvershotReport:
    """Answers to an overshot line, as plain data."""
    walked = walk(method)
    remedies = overshot(walked, ask.line, ask.poured_g, ask.weighed)
    titles = method.titles
    return OvershotReport(
        line=ask.line, asked_g=float(walked.end.lines[ask.line][0]), poured_g=ask.poured_g,
        remedies=[
            RemedyReport.model_validate({
                "kind": r.kind, "title": r.title, "words": r.words, "total_g": r.total_g,
                "lines": [RemedyGrams(line=id, title=titles[id], grams=g, add_g=r.add.get(id)) for id, g in r.grams.items()],
            })
            for r in remedies
        ],
    )  # fmt: skip


__all__ = ["ScaleAsk", "ScaleReport", "SolveAsk", "SolveReport", "TargetAsk", "WaysReport"]
__all__ += ["OvershotAsk", "OvershotReport", "overshot_report", "scale_report", "solve_report", "target_from_text", "ways_report"]
