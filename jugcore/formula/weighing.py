"""What is put on which scale: rounded grams whose sum still is the sum, and the readings they give."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.formula.edits import resolution_g
from jugcore.method.kitchen import Kitchen, Scale
from jugcore.method.stages import Adding
from jugcore.method.walk import Walk, walk


@dataclass(frozen=True)
class Weighing:
    """One line on a scale: exact and rounded grams, the scale (None where there is none), and in how many goes."""

    line: str
    stage: str
    exact_g: float
    rounded_g: float
    scale: Scale | None
    goes: int

    @property
    def error(self) -> float:
        """Half a division of the scale against what is weighed, relative."""
        step = self.scale.resolution_g if self.scale is not None else 0.0
        return 0.5 * step / self.exact_g if self.exact_g > 0 else 0.0


def scale_for(kitchen: Kitchen, grams: float) -> Scale | None:
    """The finest scale that carries it and what it is weighed in; the one that carries most where none does."""
    if not kitchen.scales:
        return None
    able = [scale for scale in kitchen.scales if scale.carries_g >= grams]
    return min(able, key=lambda s: s.resolution_g) if able else max(kitchen.scales, key=lambda s: s.capacity_g)


def rounded_to_sum(parts: Sequence[float], steps: Sequence[float]) -> list[float]:
    """Parts rounded each to the step of its scale, so that on each scale they sum to the rounded sum.

    Largest remainders go up first; every part stays within one step of itself, and none
    goes below nothing.
    """
    rounded = [0.0] * len(parts)
    for step in set(steps):
        on_it = [i for i in range(len(parts)) if steps[i] == step]
        counts = [math.floor(parts[i] / step + 1e-9) for i in on_it]
        missing = round(sum(parts[i] for i in on_it) / step) - sum(counts)
        by_remainder = sorted(range(len(on_it)), key=lambda k: (counts[k] - parts[on_it[k]] / step, k))
        for k in by_remainder[:missing]:
            counts[k] += 1
        for k, i in enumerate(on_it):
            rounded[i] = round(counts[k] * step, 9)
    return rounded


def weighings(walked: Walk) -> list[Weighing]:
    """Every line on its scale, rounded so that each stage's lines still sum to what the stage adds."""
    kitchen = walked.kitchen
    found: list[Weighing] = []
    for stage in walked.stages:
        if not isinstance(stage, Adding):
            continue
        exact = [float(walked.end.lines[line.id][0]) for line in stage.lines]
        scales = [scale_for(kitchen, grams) for grams in exact]
        steps = [resolution_g(kitchen, grams) for grams in exact]
        rounded = rounded_to_sum(exact, steps)
        for line, grams, whole, scale in zip(stage.lines, exact, rounded, scales, strict=True):
            goes = max(1, math.ceil(whole / scale.carries_g - 1e-9)) if scale is not None else 1
            found.append(Weighing(line.id, stage.id, grams, max(whole, 0.0), scale, goes))
    return found


def as_weighed(walked: Walk, sheet: Sequence[Weighing]) -> Walk:
    """The walk with the rounded grams put in."""
    given = {f"lines.{w.line}.grams": np.array([w.rounded_g]) for w in sheet}
    return walk(walked.method, walked.kitchen, given)
