"""What is put on which scale: rounded grams whose sum still is the sum, and the readings they give."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.method.kitchen import Scale
from jugcore.method.scales import resolution_g, rounded_to_sum, scale_for
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


def weighings(walked: Walk) -> list[Weighing]:
    """Every line on its scale, rounded so that each stage's lines still sum to what the stage adds."""
    kitchen = walked.kitchen
    found: list[Weighing] = []
    for stage in walked.stages:
        exact = [float(walked.end.lines[line.id][0]) for line in stage.ingredients]
        scales = [scale_for(kitchen, grams) for grams in exact]
        steps = [resolution_g(kitchen, grams) for grams in exact]
        rounded = rounded_to_sum(exact, steps)
        for line, grams, whole, scale in zip(stage.ingredients, exact, rounded, scales, strict=True):
            goes = max(1, math.ceil(whole / scale.carries_g - 1e-9)) if scale is not None else 1
            found.append(Weighing(line.id, stage.id, grams, max(whole, 0.0), scale, goes))
    return found


def as_weighed(walked: Walk, sheet: Sequence[Weighing]) -> Walk:
    """The walk with the rounded grams put in."""
    given = {f"lines.{w.line}.grams": np.array([w.rounded_g]) for w in sheet}
    return walk(walked.method, walked.kitchen, given)
