"""What a reading is, and what the makers of readings share."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import wraps
from typing import Literal

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk

#: Under what heading a reading stands, in the order the headings come.
Group = Literal["glance", "sugar", "cold", "taste", "made", "matter"]
GROUPS: dict[Group, str] = {
    "glance": "At a glance", "sugar": "Sugar", "cold": "In the cold", "taste": "Taste", "made": "What the cook makes of it",
    "matter": "What is in it",
}  # fmt: skip


@dataclass(frozen=True)
class Basis:
    """How a reading is worked out and how far to trust it."""

    formula: str
    source: str
    valid: str
    error: str
    band: str = "hard bound"


@dataclass(frozen=True)
class Reading:
    """One number a person may read, ask about, or type over.

    ``value``, ``low`` and ``high`` are (K,); NaN where the model ends, and then
    ``why_not`` says so. ``inputs`` are what went in, for the first case.
    """

    id: str
    title: str
    unit: str
    digits: int
    value: Floats
    low: Floats
    high: Floats
    basis: Basis
    inputs: tuple[tuple[str, float, str], ...] = ()
    num: Floats | None = field(default=None, repr=False)
    den: Floats | None = field(default=None, repr=False)
    why_not: str = ""
    #: Grows by factors, not by sums: a solver does better with its logarithm.
    steep: bool = False


MakeReading = Callable[[Walk], Reading]


@dataclass(frozen=True)
class Listed:
    """A reading in the catalogue: its heading, its place under it, and whether it means something for a walk."""

    id: str
    group: Group
    place: int
    read: MakeReading
    means: Callable[[Walk], bool]


#: Every reading there is, by its id.
LISTED: dict[str, Listed] = {}


def reading(group: Group, place: int, *, where: Callable[[Walk], bool] = lambda walk: True) -> Callable[[MakeReading], MakeReading]:
    """List a function as a reading. Its name is the reading's id.

    ``place`` orders the readings under one heading; ``where`` says for which walks it is shown. Raises ValueError where the
    name or the place is taken.
    """

    def listed(read: MakeReading) -> MakeReading:
        id = read.__name__
        taken = next((each.id for each in LISTED.values() if each.id == id or (each.group, each.place) == (group, place)), None)
        if taken is not None:
            raise ValueError(f"Reading “{id}” takes the name or the place of “{taken}”.")
        LISTED[id] = Listed(id, group, place, read, where)
        return read

    return listed


def share(walk: Walk, of: int | Floats) -> float:
    """The share of the product, first case, that is one component or, with weights (C,), several. [1]"""
    mass = walk.product.mass_g[0] / float(walk.product.total_g[0])
    return float(mass[of]) if isinstance(of, int) else float(mass @ of)


def traced(walk: Walk, tracer: int) -> float:
    """Grams of a tracer in a gram of the product, first case. [1]"""
    return float(walk.product.tracer[0, tracer]) / float(walk.product.total_g[0])


BALANCE = "mass balance of the walk, exact for the compositions given"


def ratio(num: Floats, den: Floats, factor: float) -> Floats:
    """factor·num/den; NaN where there is nothing to divide by."""
    return np.asarray(np.where(den > 0, factor * num / np.where(den > 0, den, 1.0), np.nan))


def exact(
    id: str, title: str, unit: str, digits: int, num: Floats, den: Floats, factor: float, basis: Basis, *inputs: tuple[str, float, str]
) -> Reading:
    """A reading that is a quotient of two sums over the walk and has no band of its own."""
    value = ratio(num, den, factor)
    why_not = "" if np.isfinite(value[0]) else f"No value for “{title}”: there is nothing in it to state it against."
    return Reading(id, title, unit, digits, value, value, value, basis, inputs, factor * num, den, why_not)


def of_a_liquid(make: MakeReading) -> MakeReading:
    """A reading that has no value of a powder or a damp cake."""

    @wraps(make)
    def made(walk: Walk) -> Reading:
        found, wet = make(walk), walk.product.is_liquid
        if bool(wet.all()):
            return found
        value, low, high = (np.where(wet, each, np.nan) for each in (found.value, found.low, found.high))
        why_not = found.why_not if wet[0] or found.why_not else f"No value for “{found.title}”: there is too little liquid in it."
        return replace(found, value=value, low=low, high=high, why_not=why_not)

    return made
