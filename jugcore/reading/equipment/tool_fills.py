"""In how many goes a tool takes what it is to work on, where the kitchen says what the tool holds."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from jugcore.figures import shown
from jugcore.method.walk import Walk
from jugcore.reading.equipment.cross_contact import pieces_taken
from jugcore.reading.processes.outcomes import before


@dataclass(frozen=True)
class Goes:
    """A stage whose tool holds less than there is [ml]: ``goes`` is how often it is filled."""

    stage: str
    tool: str
    ml: float
    holds_ml: float
    goes: int

    @property
    def words(self) -> str:
        """“900 ml are more than the Siphon takes, 500 ml: in 2 fills.”"""
        return f"{shown(round(self.ml))} ml are more than {self.tool} takes, {shown(round(self.holds_ml))} ml: in {self.goes} fills."


def in_goes(walk: Walk) -> Iterator[Goes]:
    """Every stage of the first case whose tool must be filled more than once. Formula: volume over what the tool holds, rounded up."""
    taken = pieces_taken(walk)
    for stage in walk.stages:
        piece = taken.get(stage.id)
        held = before(walk, stage).vessels.get(stage.vessel)
        if piece is None or piece.holds_ml is None or held is None:
            continue
        ml = float(held.volume_ml(held.warmth_c)[0])
        if np.isfinite(ml) and ml > piece.holds_ml * (1 + 1e-6):
            yield Goes(stage.id, piece.name, ml, piece.holds_ml, math.ceil(ml / piece.holds_ml - 1e-6))
