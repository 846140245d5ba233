"""The log of a batch, read: what stands, what was taken back, and where two tablets disagree.

A pure function of the events in the order of their numbers, so that it can be rebuilt at
any time and on any machine.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Literal, TypeVar
from uuid import UUID

from jugcore.batch import events as e
from jugcore.batch.events import Logged

#: Two entries of one thing that differ by less than this share of it are the same figure.
_SAME = 5e-4
_W = TypeVar("_W")
Status = Literal["running", "finished", "stopped"]


@dataclass(frozen=True)
class Held:
    """What stands for one thing: the figure, and the entries it comes from."""

    value: float
    entries: tuple[Logged, ...]

    @property
    def newest(self) -> Logged:
        return self.entries[-1]


@dataclass(frozen=True)
class Question:
    """Entries of one thing, made without knowing of each other, that disagree. The newest is reckoned with until it is answered."""

    id: str
    about: str
    entries: tuple[Logged, ...]
    values: tuple[float, ...]
    may_add: bool


@dataclass(frozen=True)
class Record:
    """A batch's log, read. Figures are of standing entries only."""

    seq: int
    status: Status
    closed: Logged | None
    standing: tuple[Logged, ...]
    undone: frozenset[UUID]
    weighed: dict[str, Held]
    gave: dict[str, Held]
    swaps: dict[str, str]
    strengths: dict[str, float]
    questions: tuple[Question, ...]
    plan: Logged | None

    def of(self, kind: type[_W], stage: str | None = None) -> list[tuple[Logged, _W]]:
        """Standing entries of a kind, in order; of one stage if it is named."""
        found = [(entry, entry.event.what) for entry in self.standing]
        return [(entry, what) for entry, what in found if isinstance(what, kind) and (stage is None or getattr(what, "stage", None) == stage)]

    def done(self, stage: str) -> Logged | None:
        """The entry that says a stage is done, if one does."""
        return next((entry for entry, what in reversed(self.of(e.Done, stage))), None)

    def began(self, stage: str) -> datetime | None:
        """When a stage was begun, if that was entered."""
        return next((entry.event.at for entry, _ in self.of(e.Began, stage)), None)

    def timers(self) -> list[tuple[Logged, e.TimerSet]]:
        """Timers that run: of each the last time it was set, unless it was turned off since."""
        running: dict[str, tuple[Logged, e.TimerSet]] = {}
        for entry in self.standing:
            what = entry.event.what
            if isinstance(what, e.TimerSet):
                running[what.timer] = (entry, what)
            elif isinstance(what, e.TimerOff):
                running.pop(what.timer, None)
        return list(running.values())

    def bottled_g(self, stage: str) -> float | None:
        """What was filled and left over, together; nothing if no bottle was entered."""
        bottles = sum(what.count * what.each_g for _, what in self.of(e.Bottled, stage))
        return bottles + sum(what.mass_g for _, what in self.of(e.LeftOver, stage)) if bottles else None


def read(log: Iterable[Logged]) -> Record:
    """Read a log. Entries about what the method does not have are kept and change nothing."""
    entries = sorted(log, key=lambda entry: entry.seq)
    undone = _undone(entries)
    standing = tuple(entry for entry in entries if entry.event.id not in undone and not isinstance(entry.event.what, e.Undone))
    settled = {what.question: (entry, what) for entry in standing if isinstance(what := entry.event.what, e.Settled)}
    questions: list[Question] = []

    def together(kind: type[e.Weighed] | type[e.Gave], word: str, key: str, may_add: bool) -> dict[str, Held]:
        found: dict[str, Held] = {}
        for name in dict.fromkeys(getattr(entry.event.what, key) for entry in standing if isinstance(entry.event.what, kind)):
            own = [entry for entry in standing if isinstance(entry.event.what, kind) and getattr(entry.event.what, key) == name]
            held, question = _settle(own, f"{word}:{name}", name, may_add, settled.get(f"{word}:{name}"))
            found[name] = held
            if question is not None:
                questions.append(question)
        return found

    weighed = together(e.Weighed, "weighed", "line", True)
    gave = together(e.Gave, "gave", "stage", False)
    ends = [(entry, what) for entry in standing if isinstance(what := entry.event.what, e.Closed)]
    closed = ends[-1][0] if ends else None
    status: Status = ends[-1][1].outcome if ends else "running"
    plans = [entry for entry in standing if isinstance(entry.event.what, e.PutRight)]
    plan, rivals = _last_plan(plans, settled.get("plan"))
    if rivals:
        questions.append(Question("plan", "plan", rivals, tuple(float(r.seq) for r in rivals), False))
    swaps = {what.line: what.substance for entry in standing if isinstance(what := entry.event.what, e.Swapped)}
    strengths = {what.line: what.brix for entry in standing if isinstance(what := entry.event.what, e.Reckoned)}
    return Record(
        entries[-1].seq if entries else 0, status, closed, standing, undone, weighed, gave, swaps, strengths, tuple(questions), plan,
    )  # fmt: skip


def _undone(entries: Sequence[Logged]) -> frozenset[UUID]:
    """Entries taken back. Read from the end: an undoing that was itself undone takes nothing back."""
    gone: set[UUID] = set()
    for entry in reversed(entries):
        what = entry.event.what
        if isinstance(what, e.Undone) and entry.event.id not in gone:
            gone.add(what.entry)
    return frozenset(gone)


def _knew(entry: Logged, other: Logged) -> bool:
    """Whether an entry was made knowing of another: on the same tablet after it, or with it in the log that tablet had."""
    return entry.event.device == other.event.device or entry.event.seen >= other.seq


def _mass(entry: Logged) -> float:
    what = entry.event.what
    assert isinstance(what, e.OnScale)
    return what.mass_g


def _settle(own: Sequence[Logged], question: str, about: str, may_add: bool, answer: tuple[Logged, e.Settled] | None) -> tuple[Held, Question | None]:
    """What stands of several entries of one thing, and the question where they disagree unknowingly.

    An entry that knew of those before it replaces them, or adds to them if it says so.
    One that did not stands beside them.
    """
    beside: list[list[Logged]] = []  # each a base and what was added to it; more than one where tablets did not know of each other
    for entry in own:
        if answer is not None and beside and entry.seq > answer[0].seq and not any(each.seq > answer[0].seq for chain in beside for each in chain):
            beside = _answered(beside, answer[1])
        known = [chain for chain in beside if all(_knew(entry, each) for each in chain)]
        if isinstance(entry.event.what, e.Weighed) and entry.event.what.more and beside:
            (known or beside)[-1].append(entry)
        elif len(known) == len(beside):
            beside = [[entry]]
        else:
            beside = [*(chain for chain in beside if chain not in known), [entry]]
    if answer is not None and not any(each.seq > answer[0].seq for chain in beside for each in chain):
        beside = _answered(beside, answer[1])
    sums = [sum(_mass(entry) for entry in chain) for chain in beside]
    value = sums[-1]
    differ = max(sums) - min(sums) > _SAME * max(*sums, 1e-9)
    held = Held(value, tuple(beside[-1]))
    if len(beside) < 2 or not differ:
        return held, None
    firsts = tuple(chain[0] for chain in beside)
    return held, Question(question, about, firsts, tuple(sums), may_add)


def _answered(beside: list[list[Logged]], answer: e.Settled) -> list[list[Logged]]:
    """Chains whose first entry was kept, as one: their figures add up."""
    kept = [chain for chain in beside if chain[0].event.id in answer.keep]
    return [[entry for chain in kept for entry in chain]] if kept else beside


def _last_plan(plans: Sequence[Logged], answer: tuple[Logged, e.Settled] | None) -> tuple[Logged | None, tuple[Logged, ...]]:
    """The plan that holds, and those chosen without knowing of each other."""
    beside: list[Logged] = []
    for entry in plans:
        beside = [*(other for other in beside if not _knew(entry, other)), entry]
    if answer is not None:
        kept = [entry for entry in beside if entry.event.id in answer[1].keep or entry.seq > answer[0].seq]
        beside = kept or beside
    return (beside[-1] if beside else None), (tuple(beside) if len(beside) > 1 else ())
