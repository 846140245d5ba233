"""A way to a value: what to do, what it keeps and breaks, and what else moves."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from jugcore.method.document import MethodDocument
from jugcore.method.walk import Walk
from jugcore.reading.catalogue import readings
from jugcore.reading.readings.base import Reading


@dataclass(frozen=True)
class Move:
    """A reading before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    after: float


def round_off(reading: Reading) -> float:
    """Half the last figure that is shown of a reading."""
    return float(0.5 * 10.0**-reading.digits)


#: What people ask first of a change; the rest follows in the order of the catalogue.
_ASKED_FIRST = ("yield_l", "yield_g", "brix", "water_activity", "cold_margin", "sweetness", "cost_kg", "viscosity")
#: What nobody asks of a change.
_NOT_ASKED = frozenset({"heat_capacity", "crystals"})


def moves_between(before: Walk, after: Walk, but: str = "") -> tuple[Move, ...]:
    """Readings that move by what is shown of them, but for one; what is asked first comes first."""
    now = {reading.id: reading for reading in readings(after)}
    found = []
    for was in readings(before):
        other = now.get(was.id)
        if other is None or was.id == but or was.id in _NOT_ASKED:
            continue
        a, b = float(was.value[0]), float(other.value[0])
        if abs(b - a) >= round_off(was) or np.isfinite(a) != np.isfinite(b):
            found.append(Move(was.id, was.title, was.unit, was.digits, a, b))
    order = {id: place for place, id in enumerate(_ASKED_FIRST)}
    return tuple(sorted(found, key=lambda move: order.get(move.reading, len(order))))


@dataclass(frozen=True)
class Suggestion:
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
class Suggestions:
    """What was typed, the ways to it, and why there are not more."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    wanted: float
    suggestions: tuple[Suggestion, ...]
    why_not: tuple[str, ...]
