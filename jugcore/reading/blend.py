"""Spice blends: which one carries the blend, what the scale cannot weigh, and what to do about a spoon too many.

Strength is an order of magnitude by the gram, never a measured figure: every share is a
range, and a sentence rests only on what holds at both its ends.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from jugcore.method.kitchen import Kitchen
from jugcore.method.scales import COARSE_SHARE, resolution_g
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk

#: One spice is said to carry a blend if at the least it has this share of its strength.
DOMINANT = 0.5
#: A premix larger than so many times the blend is no help.
_LARGEST_PREMIX = 1000


@dataclass(frozen=True)
class StrengthShare:
    """A line's share of a blend: by mass, and of its strength at the least and at the most."""

    line: str
    title: str
    mass_g: float
    mass_share: float
    low: float
    high: float


@dataclass(frozen=True)
class Premix:
    """A larger blend to dose from, so that its smallest line can be weighed: ``times`` as much, and how much of it to take."""

    line: str
    title: str
    grams: float
    scale: str
    error: float
    times: int
    make_g: float
    take_g: float
    error_then: float


def strength_shares(walked: Walk, stage: StageBase) -> tuple[StrengthShare, ...]:
    """Each line's share of the strength of what a stage puts together; empty unless two lines or more have one.

    The least a line can have is its own lowest against the others' highest, and the most
    the other way round.
    """
    method = walked.method
    parts: list[tuple[str, float, float, float]] = []
    for line in stage.ingredients:
        strength = method.substances[line.substance].strength
        grams = float(walked.end.lines[line.id][0])
        if strength is not None and grams > 0:
            parts.append((line.id, grams, grams * strength[0], grams * strength[1]))
    if len(parts) < 2:
        return ()
    mass, lows, highs = (float(sum(column)) for column in list(zip(*parts, strict=True))[1:])
    return tuple(
        StrengthShare(id, method.titles[id], grams, grams / mass, low / (low + highs - high), high / (high + lows - low))
        for id, grams, low, high in parts
    )


def dominant(shares: Sequence[StrengthShare]) -> StrengthShare | None:
    """The line that carries a blend whichever way its strength turns out, if one does."""
    return next((share for share in shares if share.low >= DOMINANT), None)


def premix(walked: Walk, stage: StageBase) -> Premix | None:
    """What to do where the finest scale cannot weigh the smallest line well enough; None where it can.

    The smallest multiple of the whole blend whose every line is weighed within a twentieth,
    half a division of the scale against the line, and how much of that to dose.
    """
    kitchen = walked.kitchen
    grams = {line.id: float(walked.end.lines[line.id][0]) for line in stage.ingredients if float(walked.end.lines[line.id][0]) > 0}
    if len(grams) < 2 or not kitchen.scales:
        return None
    worst = max(grams, key=lambda id: _error(kitchen, grams[id]))
    error = _error(kitchen, grams[worst])
    if error <= COARSE_SHARE:
        return None
    for times in range(2, _LARGEST_PREMIX + 1):
        then = max(_error(kitchen, times * g) for g in grams.values())
        if then <= COARSE_SHARE:
            total = sum(grams.values())
            scale = min(kitchen.scales, key=lambda s: s.resolution_g)
            return Premix(worst, walked.method.titles[worst], grams[worst], scale.name, error, times, times * total, total, then)
    return None


def _error(kitchen: Kitchen, grams: float) -> float:
    return 0.5 * resolution_g(kitchen, grams) / grams
