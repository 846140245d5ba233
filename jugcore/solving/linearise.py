"""What moves what: every derivative of every reading from one walk of 2n + 1 cases."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.errors import BadDocument
from jugcore.figures import Bools, Floats
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.readings.base import Basis, Reading

#: Step of a difference, in units of a parameter's scale. The rows are linear or nearly so.
_STEP = 1e-3
#: A whole change of scale that moves a reading by less than this share of it moves it by rounding error.
_NOISE = 1e-9
#: So many cases are walked at once: more cost memory, fewer cost time.
_BLOCK = 96
_LINE = Basis("what is weighed in", "the walk", "any", "exact")


@dataclass(frozen=True)
class Variable:
    """Something that may be changed: one figure of the method, or several moved together.

    ``moves`` are (path, where it stands, how far it moves per unit); ``at`` is where the
    whole stands in its own unit, ``scale`` what counts as one change of it, ``price``
    how dear such a change is against others.
    """

    id: str
    moves: tuple[tuple[str, float, float], ...]
    at: float
    low: float
    high: float
    scale: float
    unit: str = "g"
    price: float = 1.0
    #: The figure is 100 ÷ x: a °Brix, whose inverse enters the mass balance straight.
    inverse: bool = False

    @classmethod
    def figure(cls, path: str, at: float, *, low: float, high: float, scale: float, unit: str = "g", price: float = 1.0) -> Variable:
        """One figure of the method."""
        return cls(path, ((path, at, 1.0),), at, low, high, scale, unit, price)

    def given(self, values: Floats) -> dict[str, Floats]:
        """What to give a walk so that this stands at ``values`` (K,)."""
        if self.inverse:
            return {path: 100.0 / values for path, _, _ in self.moves}
        return {path: stands + per * (values - self.at) for path, stands, per in self.moves}


@dataclass(frozen=True)
class Target:
    """A window for a reading; ``low`` equal to ``high`` asks for a value."""

    reading: str
    low: float | None = None
    high: float | None = None

    @property
    def sides(self) -> tuple[tuple[float, float], ...]:
        """(bound, sign): sign × (num − bound·den) must not be below nothing."""
        sides = []
        if self.low is not None:
            sides.append((self.low, 1.0))
        if self.high is not None:
            sides.append((self.high, -1.0))
        return tuple(sides)

    def missed_by(self, value: Floats) -> Floats:
        """How far outside the window a value lies; 0 inside, NaN where it has none."""
        under = np.maximum(self.low - value, 0.0) if self.low is not None else np.zeros_like(value)
        over = np.maximum(value - self.high, 0.0) if self.high is not None else np.zeros_like(value)
        return np.asarray(under + over)


@dataclass(frozen=True)
class Linear:
    """Targets to first order around ``x``: numerators, denominators and their slopes.

    ``steep`` targets have the logarithm of their reading, times the reading, for num.
    ``num`` and ``den`` (T,) with ``dnum`` and ``dden`` (T, n); ``value`` (T,);
    ``sound`` is false where the walk itself had a fault there; ``walk`` has x as its first
    case. ``apart`` has of every line what its grams differ (n,) between a step up and a step
    down of each free, which are ``span`` (n,) apart.
    """

    x: Floats
    num: Floats
    den: Floats
    dnum: Floats
    dden: Floats
    value: Floats
    sound: bool
    walk: Walk
    apart: dict[str, Floats]
    span: Floats
    scale: Floats
    steep: Bools

    def row(self, index: int, bound: float) -> tuple[float, Floats]:
        """A target's ``num − bound·den`` at x and its slopes (n,), in units of the reading.

        A slope that is nothing but rounding error is nothing.
        """
        den = self.den[index] if self.den[index] > 0 else 1.0
        slopes = (self.dnum[index] - bound * self.dden[index]) / den
        noise = _NOISE * max(abs(self.value[index]), abs(bound), 1e-3) / self.scale
        bound = float(self.value[index]) * math.log(max(bound, 1e-9)) if self.steep[index] else bound
        return float((self.num[index] - bound * den) / den), np.where(np.abs(slopes) > noise, slopes, 0.0)

    def slopes(self) -> Floats:
        """d(reading)/dx, (T, n), rounding error left out."""
        den = np.where(self.den > 0, self.den, 1.0)
        value = np.where(self.steep, 0.0, self.num / den)
        slopes = (self.dnum - value[:, None] * self.dden) / den[:, None]
        noise = _NOISE * np.maximum(np.abs(value), 1e-3)[:, None] / self.scale
        return np.asarray(np.where(np.abs(slopes) > noise, slopes, 0.0))


def reading_of(walked: Walk, id: str) -> Reading:
    """A reading by its id, ``line:<id>`` for the grams of a line or ``off:<id>`` for what a boil takes off.

    Raises BadDocument for what is none of them.
    """
    kind, _, line = id.partition(":")
    if kind == "line" and line in walked.end.lines:
        grams = walked.end.lines[line]
        title = f"{walked.method.titles[line]}, grams"
        return Reading(id, title, "g", 0, grams, grams, grams, _LINE, num=grams, den=np.ones_like(grams))
    if kind == "off":
        for stage, step in zip(walked.stages, walked.steps, strict=True):
            if stage.id == line and "off_g" in step.figures:
                off = step.figures["off_g"]
                return Reading(id, "water off", "g", 0, off, off, off, _LINE, num=off, den=np.ones_like(off))
    make = READING_OF.get(id)
    if make is None:
        raise BadDocument("target", f"“{id}” is not a reading.", f"Use one of: {', '.join(READING_OF)}.")
    return make(walked)


def given_at(variables: Sequence[Variable], xs: Floats) -> dict[str, Floats]:
    """What to give a walk of K cases so that the variables stand at ``xs`` (K, n)."""
    given: dict[str, Floats] = {}
    for j, free in enumerate(variables):
        given.update(free.given(xs[:, j]))
    return given


def faulty(walked: Walk, ignore: frozenset[tuple[str, str]] = frozenset()) -> Bools:
    """Where (K,) a walk had a fault other than those it had to begin with."""
    wrong = np.zeros(walked.cases, bool)
    for fault in walked.faults:
        if (fault.code, fault.field) not in ignore:
            wrong |= fault.cases
    return wrong


def linearise(
    method: Method, kitchen: Kitchen, variables: Sequence[Variable], x: Floats, targets: Sequence[Target],
    ignore: frozenset[tuple[str, str]] = frozenset(), step: float = _STEP,
) -> Linear:  # fmt: skip
    """Walk 2n + 1 cases around ``x`` (n,) and read off the targets and their slopes.

    Central differences, one-sided at a bound or where a fault lies on one side. For
    readings that are num ÷ den the slopes are exact wherever the walk is linear.
    ``ignore`` are faults (code, field) the method has anyway; ``step`` is in units of each scale.
    """
    n = len(variables)
    steps = np.array([step * free.scale for free in variables])
    low, high = np.array([free.low for free in variables]), np.array([free.high for free in variables])
    up, down = np.minimum(x + steps, high), np.maximum(x - steps, low)
    xs = np.repeat(x[None, :], 2 * n + 1, axis=0)
    for j in range(n):
        xs[1 + j, j], xs[1 + n + j, j] = up[j], down[j]
    first, found = _in_blocks(method, kitchen, variables, xs, targets, ignore)
    num, den, value, steep, wrong = found.num, found.den, found.value, found.steep, found.wrong
    num[steep] = value[steep, :1] * np.log(np.maximum(value[steep], 1e-9))
    # Where a fault lies on one side, that side is no guide.
    above, below = ~wrong[1 : n + 1], ~wrong[n + 1 :]
    span = np.where(above, up, x) - np.where(below, down, x)

    def slopes(row: Floats) -> Floats:
        ahead = np.where(above, row[:, 1 : n + 1], row[:, :1])
        behind = np.where(below, row[:, n + 1 :], row[:, :1])
        return np.asarray(np.where(span > 0, (ahead - behind) / np.where(span > 0, span, 1.0), 0.0))

    sound = not bool(wrong[0]) and bool(np.all(np.isfinite(value[:, 0]))) and bool(np.all(den[:, 0] > 0))
    scale = np.array([free.scale for free in variables])
    return Linear(
        x, num[:, 0], den[:, 0], np.nan_to_num(slopes(num)), np.nan_to_num(slopes(den)), value[:, 0], sound, first,
        {id: grams[1 : n + 1] - grams[n + 1 :] for id, grams in found.lines.items()}, up - down, scale, steep,
    )  # fmt: skip


@dataclass(frozen=True)
class _Read:
    """What is read off K cases: targets (T, K), the grams of every line (K,), and where the walk had a fault (K,)."""

    num: Floats
    den: Floats
    value: Floats
    steep: Bools
    lines: dict[str, Floats]
    wrong: Bools


def _in_blocks(
    method: Method, kitchen: Kitchen, variables: Sequence[Variable], xs: Floats, targets: Sequence[Target], ignore: frozenset[tuple[str, str]]
) -> tuple[Walk, _Read]:
    """Walk many cases a block at a time, so that what is kept of them grows with their number and not with what a walk holds besides."""
    blocks = [xs[at : at + _BLOCK] for at in range(0, len(xs), _BLOCK)]
    first: Walk | None = None
    read: list[_Read] = []
    for block in blocks:
        walked = walk(method, kitchen, given_at(variables, block))
        first = first or walked
        read.append(_read(walked, targets, ignore))
    assert first is not None
    lines = {id: np.concatenate([each.lines[id] for each in read]) for id in first.end.lines if all(id in each.lines for each in read)}
    num, den, value = (np.concatenate([getattr(each, name) for each in read], axis=1) for name in ("num", "den", "value"))
    return first, _Read(num, den, value, read[0].steep, lines, np.concatenate([each.wrong for each in read]))


def _read(walked: Walk, targets: Sequence[Target], ignore: frozenset[tuple[str, str]]) -> _Read:
    shape = len(targets), walked.cases
    num, den, value, steep = np.empty(shape), np.empty(shape), np.empty(shape), np.zeros(len(targets), bool)
    for t, target in enumerate(targets):
        reading = reading_of(walked, target.reading)
        value[t] = reading.value
        num[t] = reading.value if reading.num is None else reading.num
        den[t] = 1.0 if reading.den is None else reading.den
        steep[t] = reading.steep
    return _Read(num, den, value, steep, dict(walked.end.lines), faulty(walked, ignore))
