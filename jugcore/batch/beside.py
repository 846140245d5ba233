"""What stands of several entries of one thing, and where two tablets disagree without knowing of each other.

An entry that knew of those before it replaces them, or adds to them if its kind does. One
that did not stands beside them: both are kept, and somebody is asked.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise
from uuid import UUID

from jugcore.batch import events as e
from jugcore.batch.events import Logged

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

    Until it is answered the newest is reckoned with; of entries that add (``may_add``), all.
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
    """What stands of the entries of one thing, in the order of their numbers, and the question where they disagree.

    Each chain is one thing that may be true: a base and what was added to it. There is more
    than one where tablets did not know of each other.
    """
    chains: list[list[Logged]] = []
    for entry in own:
        if answer is not None and entry.seq > answer.seq:
            chains, answer = _answered(chains, answer), None
        known = [chain for chain in chains if all(knew(entry, each) for each in chain)]
        if kind.adds(entry) and known:
            for chain in known:
                chain.append(entry)
        elif kind.adds(entry) and chains:
            most = max(([each for each in chain if knew(entry, each)] for chain in chains), key=len)
            chains.append([*most, entry])
        else:
            chains = [*(chain for chain in chains if chain not in known), [entry]]
    if answer is not None:
        chains = _answered(chains, answer)
    marks = _marks(chains)
    adding = any(kind.adds(mark) for mark in marks) and len(chains) > 1
    held = _all_of(chains) if adding else chains[-1]
    found = Held(sum(kind.figure(entry) for entry in held), tuple(held))
    if len(chains) < 2 or not (adding or _differ(chains, kind)):
        return found, None
    shared = _shared(chains)
    choices = tuple(
        Choice(mark, sum(kind.figure(entry) for entry in chain if not adding or entry.event.id not in shared))
        for mark, chain in zip(marks, chains, strict=True)
    )
    return found, Question(f"{kind.name}:{about}" if about else kind.name, kind.name, about, choices, kind.may_add or adding)


def _shared(chains: Sequence[Sequence[Logged]]) -> set[UUID]:
    """Entries that all chains have."""
    return set.intersection(*({entry.event.id for entry in chain} for chain in chains)) if len(chains) > 1 else set()


def _marks(chains: Sequence[Sequence[Logged]]) -> list[Logged]:
    """The entry of each chain that tells it from the others: the first that not all have."""
    shared = _shared(chains)
    return [next((entry for entry in chain if entry.event.id not in shared), chain[-1]) for chain in chains]


def _all_of(chains: Sequence[Sequence[Logged]]) -> list[Logged]:
    """Every entry of any chain, once."""
    once = {entry.event.id: entry for chain in chains for entry in chain}
    return sorted(once.values(), key=lambda entry: entry.seq)


def _differ(chains: Sequence[Sequence[Logged]], kind: Kind) -> bool:
    if kind.same is not None:
        return len({kind.same(chain[-1]) for chain in chains}) > 1
    sums = [sum(kind.figure(entry) for entry in chain) for chain in chains]
    return max(sums) - min(sums) > _SAME * max(*sums, 1e-9)


def _answered(chains: list[list[Logged]], answer: Answer) -> list[list[Logged]]:
    """The chains that were kept, as one: their figures add up."""
    kept = [chain for chain, mark in zip(chains, _marks(chains), strict=True) if mark.event.id in answer.keep]
    return [_all_of(kept)] if kept else chains


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
        case e.LeftOver() | e.Wasted():
            return what.mass_g
        case _:
            raise TypeError(f"an entry of {what.kind} has no grams")
