"""A solve as plain data, in and out: what a shell, the server and a screen exchange."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import BaseModel, Field, model_validator

from jugcore.editing.edits import as_sent, untied
from jugcore.fields import MOST_LINES, Id, Part
from jugcore.figures import finite_or_none
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.solving.linearise import Target
from jugcore.solving.problem import Problem, Solution
from jugcore.solving.solve import solve
from jugcore.solving.stopwatch import Clock, no_clock

#: What may change: lines.sugar.grams, stages.boil.brix.
Path = Annotated[str, Field(max_length=200)]
#: Of a kilogram, in whatever money.
Price = Annotated[float, Field(ge=0, le=1e6)]


class TargetRequest(Part):
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


class BoundRequest(Part):
    """The least and the most a line may weigh. [g]"""

    low: float | None = Field(None, ge=0, le=1_000_000)
    high: float | None = Field(None, gt=0, le=1_000_000)


class SolveRequest(Part):
    """What is asked of a solve: targets, and what may change to meet them."""

    targets: tuple[TargetRequest, ...] = Field(min_length=1, max_length=20)
    locks: tuple[Id, ...] = Field((), max_length=MOST_LINES)
    bounds: dict[Id, BoundRequest] = Field({}, max_length=MOST_LINES)
    untie: tuple[Id, ...] = Field((), max_length=MOST_LINES, description="Lines that need no longer follow others.")
    free: tuple[Path, ...] | None = Field(None, max_length=200, description="Paths that may change; else every written line and every boil.")
    change: Literal["few", "spread"] = Field("few", description="Few edits, or a little of everything.")
    prices: dict[Id, Price] = Field({}, max_length=MOST_LINES, description="Price a kilogram by line: if given, least cost instead of least change.")

    def problem(self) -> Problem:
        """As the solver takes it."""
        return Problem(
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


class InfeasibilityReport(BaseModel):
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

    status: Literal["solved", "infeasible", "not_proven"]
    words: str
    targets: list[TargetReport]
    changes: list[ChangeReport]
    infeasibility: InfeasibilityReport | None
    rounds: int
    timing: TimingReport
    document: MethodDocument


_WORDS = {
    "solved": "Every target can be met.",
    "not_proven": "No formula was found that has all of it. The method bends too much for this to prove there is none.",
}


def solve_report(method: Method, ask: SolveRequest, asked: MethodDocument | None = None, clock: Clock = no_clock) -> SolveReport:
    """Solve, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    loose = compile_document(untied(method, walk(method), ask.untie)) if ask.untie else method
    return _solve_report(solve(loose, ask.problem(), clock=clock), asked or method.document)


def _solve_report(solution: Solution, asked: MethodDocument) -> SolveReport:
    infeasibility = solution.infeasibility
    words = _WORDS.get(solution.status, "") if solution.status != "infeasible" or infeasibility is None else infeasibility.words
    if solution.status == "not_proven" and infeasibility is not None:
        words = f"{words} As far as can be seen: {infeasibility.words}"
    return SolveReport(
        status=solution.status,
        words=words,
        targets=[
            TargetReport(
                reading=m.target.reading, title=m.title, unit=m.unit, digits=m.digits, at_least=m.target.low, at_most=m.target.high,
                before=finite_or_none(m.before), value=finite_or_none(m.value), off_by=finite_or_none(m.off_by), rounding=m.rounding, met=m.met,
            )
            for m in solution.targets
        ],
        changes=[ChangeReport(path=change.path, before=change.before, after=change.after, unit=change.unit) for change in solution.changes],
        infeasibility=None
        if infeasibility is None
        else InfeasibilityReport(targets=[t.reading for t in infeasibility.targets], limits=list(infeasibility.limits), words=infeasibility.words),
        rounds=solution.rounds,
        timing=TimingReport(walks_s=solution.timing.walks_s, solver_s=solution.timing.solver_s, total_s=solution.timing.total_s),
        document=as_sent(solution.document, asked),
    )  # fmt: skip


def target_from_text(text: str) -> TargetRequest:
    """“brix=64”, “yield_l>=2”, “cold_margin=0..5” as a target.

    Raises ValueError for anything else.
    """
    for sign, name in ((">=", "at_least"), ("<=", "at_most")):
        reading, found, number = text.partition(sign)
        if found:
            return TargetRequest.model_validate({"reading": reading.strip(), name: _figure(number, text)})
    reading, found, number = text.partition("=")
    low, two, high = number.partition("..")
    if not found:
        raise ValueError(f"“{_short(text)}” is not a target.")
    if two:
        return TargetRequest(reading=reading.strip(), at_least=_figure(low, text), at_most=_figure(high, text))
    return TargetRequest(reading=reading.strip(), equals=_figure(number, text))


def _figure(number: str, text: str) -> float:
    try:
        return float(number)
    except ValueError:
        raise ValueError(f"“{_short(text)}” is not a target: “{_short(number.strip())}” is not a number.") from None


def _short(text: str) -> str:
    """A text short enough to quote."""
    return text if len(text) <= 60 else f"{text[:60]} …"
