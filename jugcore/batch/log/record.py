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

from jugcore.batch.log import events as e
from jugcore.batch.log.concurrent_entries import Answer, AtOnce, Choice, Held, Kind, Question, knew, mass, rivals, settle
from jugcore.batch.log.events import Logged
from jugcore.fields import Part

_W = TypeVar("_W")
Status = Literal["running", "finished", "stopped"]

#: What holds at the moment it was read: the newest is the one read last, whenever it arrived.
_READINGS = (e.PotWeighed, e.Probed, e.Refracted)


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
    bottled: dict[str, Held]
    left_over: dict[str, Held]
    kept_aside: dict[str, Held]
    wasted: Held | None
    swaps: dict[str, e.Swapped]
    strengths: dict[str, float]
    questions: tuple[Question, ...]
    #: The ways chosen one after another, the last of which is followed.
    plans: tuple[Logged, ...]

    def of(self, kind: type[_W], stage: str | None = None) -> list[tuple[Logged, _W]]:
        """Standing entries of a kind; of one stage if it is named. In order of their numbers; readings in order of their time."""
        entries = sorted(self.standing, key=lambda entry: entry.event.at) if issubclass(kind, _READINGS) else self.standing
        found = [(entry, entry.event.what) for entry in entries]
        return [(entry, what) for entry, what in found if isinstance(what, kind) and (stage is None or getattr(what, "stage", None) == stage)]

    def done(self, stage: str) -> Logged | None:
        """The entry that says a stage is done, if one does."""
        return next((entry for entry, what in reversed(self.of(e.Done, stage))), None)

    def began(self, stage: str) -> datetime | None:
        """When a stage was begun, if that was entered."""
        return min((entry.event.at for entry, _ in self.of(e.Began, stage)), default=None)

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
        filled, left = self.bottled.get(stage), self.left_over.get(stage)
        return None if filled is None else filled.value + (left.value if left is not None else 0.0)

    @property
    def waste_g(self) -> float:
        """Thrown away, and left over and binned."""
        left = [what for held in self.left_over.values() for entry in held.entries if isinstance(what := entry.event.what, e.LeftOver)]
        return sum(what.mass_g for what in left if what.fate == "binned") + (self.wasted.value if self.wasted is not None else 0.0)


def read_record(log: Iterable[Logged]) -> Record:
    """Read a log. Entries about what the method does not have are kept and change nothing."""
    entries = sorted(log, key=lambda entry: entry.seq)
    undone = _undone(entries)
    reading = _Reading([entry for entry in entries if entry.event.id not in undone and not isinstance(entry.event.what, e.Undone)])
    away = reading.answered_away()
    standing = [entry for entry in reading.standing if entry.event.id not in away]
    weighed, gave = reading.by_name(_WEIGHED, e.Weighed, "line"), reading.by_name(_GAVE, e.Gave, "stage")
    bottled, left_over = reading.by_name(_BOTTLED, e.Bottled, "stage"), reading.by_name(_LEFT, e.LeftOver, "stage")
    kept_aside, wasted = reading.by_name(_ASIDE, e.KeptAside, "stage"), reading.one(_WASTED, e.Wasted)
    swapped, reckoned = reading.by_name(_SWAPPED, e.Swapped, "line"), reading.by_name(_RECKONED, e.Reckoned, "line")
    plans, end = reading.plans(), reading.one(_CLOSED, e.Closed)
    closed = None if end is None else end.newest
    return Record(
        seq=entries[-1].seq if entries else 0,
        status=closed.event.what.outcome if closed is not None and isinstance(closed.event.what, e.Closed) else "running",
        closed=closed,
        standing=tuple(standing),
        undone=undone,
        weighed=weighed, gave=gave, bottled=bottled, left_over=left_over, kept_aside=kept_aside, wasted=wasted,
        swaps={line: what for line, held in swapped.items() if isinstance(what := held.newest.event.what, e.Swapped)},
        strengths={line: held.value for line, held in reckoned.items()},
        questions=tuple(reading.questions),
        plans=plans,
    )  # fmt: skip


class _Reading:
    """Standing entries with the answers among them, and the questions found so far."""

    def __init__(self, standing: Sequence[Logged]) -> None:
        self.standing = standing
        self.answers = {what.question: Answer(entry.seq, what.keep) for entry in standing if isinstance(what := entry.event.what, e.Settled)}
        self.questions: list[Question] = []

    def by_name(self, kind: Kind, of: type[Part], key: str) -> dict[str, Held]:
        """What stands, by what it is about."""
        found: dict[str, list[Logged]] = {}
        for entry in self.standing:
            if isinstance(entry.event.what, of):
                found.setdefault(getattr(entry.event.what, key), []).append(entry)
        return {name: self._settled(kind, own, name) for name, own in found.items()}

    def one(self, kind: Kind, of: type[Part]) -> Held | None:
        """What stands of what there is once a batch."""
        own = [entry for entry in self.standing if isinstance(entry.event.what, of)]
        return self._settled(kind, own, "") if own else None

    def _settled(self, kind: Kind, own: Sequence[Logged], about: str) -> Held:
        held, question = settle(own, kind, about, self.answers.get(f"{kind.name}:{about}" if about else kind.name))
        if question is not None:
            self.questions.append(question)
        return held

    def answered_away(self) -> frozenset[UUID]:
        """Readings of one pot at one moment that were not the one kept."""
        gone: frozenset[UUID] = frozenset()
        for kind, of in _AT_ONCE:
            by_stage: dict[str, list[Logged]] = {}
            for entry in sorted(self.standing, key=lambda entry: entry.event.at):
                what = entry.event.what
                if isinstance(what, of) and getattr(what, "line", None) is None:
                    by_stage.setdefault(what.stage, []).append(entry)
            for stage, own in by_stage.items():
                away, question = rivals(own, kind, stage, self.answers.get(f"{kind.name}:{stage}"))
                gone |= away
                if question is not None:
                    self.questions.append(question)
        return gone

    def plans(self) -> tuple[Logged, ...]:
        """The plan that holds, and before it those it was made knowing of; two made without knowing of each other are asked about."""
        chosen = [entry for entry in self.standing if isinstance(entry.event.what, e.PutRight)]
        beside: list[Logged] = []
        for entry in chosen:
            beside = [*(other for other in beside if not knew(entry, other)), entry]
        answer = self.answers.get("plan")
        if answer is not None:
            kept = [entry for entry in beside if entry.event.id in answer.keep or entry.seq > answer.seq]
            beside = kept or beside
        if len(beside) > 1:
            self.questions.append(Question("plan", "plan", "", tuple(Choice(entry, float(entry.seq)) for entry in beside), False))
        return tuple(entry for entry in chosen if entry.seq <= beside[-1].seq and knew(beside[-1], entry)) if beside else ()


def _undone(entries: Sequence[Logged]) -> frozenset[UUID]:
    """Entries taken back. Read from the end: an undoing that was itself undone takes nothing back."""
    gone: set[UUID] = set()
    for entry in reversed(entries):
        what = entry.event.what
        if isinstance(what, e.Undone) and entry.event.id not in gone:
            gone.add(what.entry)
    return frozenset(gone)


def _more(entry: Logged) -> bool:
    return isinstance(entry.event.what, e.Weighed) and entry.event.what.more


def _always(entry: Logged) -> bool:
    return True


def _number(entry: Logged) -> float:
    what = entry.event.what
    match what:
        case e.PotWeighed():
            return what.mass_g
        case e.Probed():
            return what.temperature_c
        case e.Refracted():
            return what.reading_brix
        case e.Reckoned():
            return what.brix
        case _:
            return float(entry.seq)


_WEIGHED = Kind("weighed", mass, _more, may_add=True)
_GAVE = Kind("gave", mass)
_BOTTLED = Kind("bottled", mass, _always)
_LEFT = Kind("left_over", mass, _always)
_ASIDE = Kind("kept_aside", mass, _always)
_WASTED = Kind("wasted", mass, _always)
_RECKONED = Kind("reckoned", _number)
_SWAPPED = Kind("swapped", _number, same=lambda entry: getattr(entry.event.what, "substance", None))
_CLOSED = Kind("closed", _number, same=lambda entry: getattr(entry.event.what, "outcome", None))
#: How far two readings of one pot may lie apart, and more by the second: no burner here boils off more than
#: 1.5 g a second; a probe is moved about, a drop is clouded (common practice, no source).
_AT_ONCE: tuple[tuple[AtOnce, type[e.PotWeighed | e.Probed | e.Refracted]], ...] = (
    (AtOnce("pot_weighed", _number, 5.0, 1.5), e.PotWeighed),
    (AtOnce("probed", _number, 3.0, 0.5), e.Probed),
    (AtOnce("refracted", _number, 1.0, 0.05), e.Refracted),
)
