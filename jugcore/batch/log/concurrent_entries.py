"""What stands of several entries of one thing, and where two tablets disagree without knowing of each other.

An entry that knew of those before it replaces them, or adds to them if its kind does. One
that did not stands beside them: both are kept, and somebody is asked.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from uuid import UUID

from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged

#: Two entries of one thing that differ by less than this share of it are the same figure.
_SAME = 5e-4
#: Two readings of one pot by two tablets within this time are of the same moment. [s]
_AT_ONCE_S = 60.0


@dataclass(frozen=True)
class Held:
    """What stands for one thing: the figure, and the entries it comes from."""

    value: float
    entries: tuple[Logged, ...]

    @property
    def newest(self) -> Logged:
        return self.entries[-1]


@dataclass(frozen=True)
class Choice:
    """One of the things that may be true: the entry that tells it from the others, and what those of its own come to."""

    entry: Logged
    value: float


@dataclass(frozen=True)
class Question:
    """Entries of one thing, made without knowing of each other, that disagree.

    Until it is answered the newest is used instead; of entries that add (``may_add``), all.
    """

    id: str
    kind: str
    about: str
    choices: tuple[Choice, ...]
    may_add: bool


@dataclass(frozen=True)
class Answer:
    """What was said to a question, and from which number of the log on it holds."""

    seq: int
    keep: tuple[UUID, ...]


@dataclass(frozen=True)
class Kind:
    """How entries of a kind stand together: what one comes to, whether it adds to those before, whether two may both be true."""

    name: str
    figure: Callable[[Logged], float]
    adds: Callable[[Logged], bool] = lambda entry: False
    may_add: bool = False
    #: What makes two entries the same, where the figure does not.
    same: Callable[[Logged], object] | None = None


def knew(entry: Logged, other: Logged) -> bool:
    """Whether an entry was made knowing of another: on the same tablet after it, or with it in the log that tablet had."""
    return entry.event.device == other.event.device or entry.event.seen >= other.seq


def settle(own: Sequence[Logged], kind: Kind, about: str, answer: Answer | None) -> tuple[Held, Question | None]:
    """What stands of the entries of one thing, in the order of their numbers, and the question where they disagree."""
    stand = _Stand()
    for entry in own:
        if answer is not None and entry.seq > answer.seq:
            stand.answered(answer)
            answer = None
        stand.take(entry, kind)
    if answer is not None:
        stand.answered(answer)
    held = stand.held()
    sides = stand.sides()
    adding = any(entry in stand.additions for side in sides for entry in side)
    found = Held(sum(kind.figure(entry) for entry in held), tuple(held))
    if len(sides) < 2 or not (adding or _differ(sides, kind)):
        return found, None
    choices = tuple(Choice(side[0], sum(kind.figure(entry) for entry in side)) for side in sides)
    return found, Question(f"{kind.name}:{about}" if about else kind.name, kind.name, about, choices, kind.may_add or adding)


class _Stand:
    """Entries of one thing, read one after another.

    ``bases`` are alternatives, each one entry or several that add up since somebody said so;
    ``additions`` are what was added and not replaced by an entry that knew of it.
    """

    def __init__(self) -> None:
        self.bases: list[list[Logged]] = []
        self.additions: list[Logged] = []
        self._agreed: set[UUID] = set()

    def take(self, entry: Logged, kind: Kind) -> None:
        """An entry replaces or adds to what it knew of; the rest stands beside it."""
        if kind.adds(entry):
            self.additions.append(entry)
            return
        self.additions = [each for each in self.additions if not knew(entry, each)]
        self.bases = [base for base in self.bases if not all(knew(entry, each) for each in base)]
        self.bases.append([entry])

    def held(self) -> list[Logged]:
        """What is used instead: the newest base, and all that was added."""
        base = self.bases[-1] if self.bases else []
        return sorted([*base, *self.additions], key=lambda entry: entry.seq)

    def sides(self) -> list[list[Logged]]:
        """The entries of each tablet that stand beside another's unknowingly, the first entry of each first."""
        standing = sorted([*(each for base in self.bases for each in base), *self.additions], key=lambda entry: entry.seq)
        if len({entry.event.device for entry in standing}) < 2:
            return []
        involved: set[UUID] = {each.event.id for base in self.bases for each in base} if len(self.bases) > 1 else set()
        for at, one in enumerate(standing):
            for other in standing[at + 1 :]:
                if self._apart(one, other) and (one in self.additions or other in self.additions):
                    involved |= {one.event.id, other.event.id}
        by_tablet: dict[str, list[Logged]] = {}
        for entry in standing:
            if entry.event.id in involved:
                by_tablet.setdefault(entry.event.device, []).append(entry)
        return list(by_tablet.values())

    def _apart(self, one: Logged, other: Logged) -> bool:
        """Whether neither was made knowing of the other, and nobody has answered that yet."""
        return not (knew(other, one) or knew(one, other) or {one.event.id, other.event.id} <= self._agreed)

    def answered(self, answer: Answer) -> None:
        """Keep the sides that were kept, together; an answer about none of them changes nothing."""
        sides = self.sides()
        kept = [side for side in sides if side[0].event.id in answer.keep]
        if not kept:
            return
        gone = {entry.event.id for side in sides if side not in kept for entry in side}
        self._agreed |= {entry.event.id for side in sides for entry in side}
        together = [each for base in self.bases for each in base if each.event.id not in gone]
        self.bases = [together] if together else []
        self.additions = [each for each in self.additions if each.event.id not in gone]


def _differ(sides: Sequence[Sequence[Logged]], kind: Kind) -> bool:
    if kind.same is not None:
        return len({kind.same(side[-1]) for side in sides}) > 1
    sums = [sum(kind.figure(entry) for entry in side) for side in sides]
    return max(sums) - min(sums) > _SAME * max(*sums, 1e-9)


@dataclass(frozen=True)
class AtOnce:
    """How far two readings of one pot may lie apart: at once, and more for every second between them."""

    name: str
    figure: Callable[[Logged], float]
    allowed: float
    per_s: float


def rivals(own: Sequence[Logged], kind: AtOnce, about: str, answer: Answer | None) -> tuple[frozenset[UUID], Question | None]:
    """Readings that were answered away, and the question where two tablets read different things off one pot at once.

    ``own`` are readings of one thing in the order of their time.
    """
    gone: set[UUID] = set()
    question: Question | None = None
    for first, second in pairwise(own):
        apart = abs((second.event.at - first.event.at).total_seconds())
        older, newer = sorted((first, second), key=lambda entry: entry.seq)
        if apart > _AT_ONCE_S or knew(newer, older) or abs(kind.figure(first) - kind.figure(second)) <= kind.allowed + kind.per_s * apart:
            continue
        kept = [] if answer is None or answer.seq < newer.seq else [entry for entry in (first, second) if entry.event.id in answer.keep]
        if kept:
            gone |= {entry.event.id for entry in (first, second) if entry not in kept}
        else:
            choices = tuple(Choice(entry, kind.figure(entry)) for entry in (older, newer))
            question = Question(f"{kind.name}:{about}", kind.name, about, choices, False)
    return frozenset(gone), question


def mass(entry: Logged) -> float:
    """Grams an entry says."""
    what = entry.event.what
    match what:
        case e.OnScale():
            return what.mass_g
        case e.Bottled():
            return what.count * what.each_g
        case e.LeftOver() | e.KeptAside() | e.Wasted():
            return what.mass_g
        case _:
            raise TypeError(f"an entry of {what.kind} has no grams")
