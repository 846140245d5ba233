"""A way to a value: what to do, what it keeps and breaks, and what else moves."""

from __future__ import annotations

from dataclasses import dataclass, field

from jugcore.method.document import MethodDocument
from jugcore.method.walk import Walk


@dataclass(frozen=True)
class Move:
    """A reading before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    after: float


@dataclass(frozen=True)
class Way:
    """One way: what to do, which ties it keeps, what else moves, and the document that does it."""

    id: str
    kind: str
    title: str
    todo: tuple[str, ...]
    ties_kept: tuple[str, ...]
    ties_broken: tuple[str, ...]
    value: float
    tolerance: float
    moves: tuple[Move, ...]
    notes: tuple[str, ...]
    document: MethodDocument
    walk: Walk = field(repr=False)
    change: float = 0.0


@dataclass(frozen=True)
class Ways:
    """What was typed, the ways to it, and why there are not more."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    wanted: float
    ways: tuple[Way, ...]
    why_not: tuple[str, ...]
