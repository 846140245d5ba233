"""Into how many cooks a batch must be split: by the pots with room to foam, and by what the scale carries."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from jugcore.errors import OutOfRange, shown
from jugcore.formula.consequences import FOAM_FACTOR, walk_volume_into
from jugcore.formula.scale import LEAST, MOST, Scaling, scale_by, scale_to
from jugcore.method.document import Method
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk

#: A pot that is only stirred is filled to this share of its brim (common practice, no source).
FULL = 0.9
MOST_COOKS = 50


@dataclass(frozen=True)
class Limit:
    """Something a cook may not exceed: how much of it is used, in words, and where."""

    stage: str
    kind: str  # "pot" or "scale"
    used: float
    words: str


@dataclass(frozen=True)
class Cooks:
    """A batch in so many equal cooks: one of them scaled, and the limits that decided."""

    count: int
    one: Scaling
    limits: tuple[Limit, ...]


def limits(walked: Walk) -> Iterator[Limit]:
    """How far each pot and the scale under it are used, 1 being all of it; pots that are named only."""
    kitchen, method = walked.kitchen, walked.method
    carries = max((scale for scale in kitchen.scales), key=lambda s: s.capacity_g, default=None)
    for stage, step in zip(walked.stages, walked.steps, strict=True):
        pot = next((p for p in kitchen.pots if p.id == method.pot_id(stage.vessel)), None)
        if pot is None:
            continue
        held = step.after.vessels.get(stage.vessel)
        if isinstance(stage, Boil):
            volume = walk_volume_into(walked, stage)
            if np.isfinite(volume):
                wants = volume * FOAM_FACTOR
                litres = f"{shown(round(volume / 1000, 2))} l that foams wants {shown(round(wants / 1000, 2))} l"
                yield Limit(stage.id, "pot", wants / pot.capacity_ml, f"{pot.name}: {litres}, and it holds {shown(pot.capacity_ml / 1000)} l")
            if carries is not None:
                reads = float(step.figures["pot_reads_g"][0])
                weight = f"pot and contents weigh {shown(round(reads))} g when {(stage.name or stage.title).lower()} ends"
                yield Limit(stage.id, "scale", reads / carries.capacity_g, f"{carries.name}: {weight}, and it carries {shown(carries.capacity_g)} g")
        elif held is not None and stage.writes() == stage.vessel:
            volume = float(held.volume_ml(held.warmth_c)[0])
            if np.isfinite(volume) and volume > 0:
                words = f"{pot.name}: {shown(round(volume / 1000, 2))} l in its {shown(pot.capacity_ml / 1000)} l"
                yield Limit(stage.id, "pot", volume / (FULL * pot.capacity_ml), words)


def too_much(walked: Walk) -> list[Limit]:
    """The limits that are exceeded, worst first."""
    return sorted((limit for limit in limits(walked) if limit.used > 1 + 1e-9), key=lambda limit: -limit.used)


def most_in_one(method: Method, kitchen: Kitchen | None = None) -> float:
    """The largest factor at which one cook still fits its pots and its scale.

    Found by halving between 1/1,000 and 1,000: the limits rise with the batch.
    """
    low, high = LEAST, MOST
    for _ in range(40):
        middle = float(np.sqrt(low * high))
        low, high = (low, middle) if too_much(scale_by(method, middle, kitchen).walk) else (middle, high)
    return low


def in_cooks(
    method: Method,
    kitchen: Kitchen | None = None,
    *,
    factor: float | None = None,
    measure: Callable[[Walk], float] | None = None,
    wanted: float = 0.0,
) -> Cooks:
    """The fewest equal cooks in which a batch can be made.

    Either ``factor`` times the formula, or as much as makes ``measure`` (grams, litres,
    bottles) of all cooks together come to ``wanted``. Each cook leaves its own film and
    cake, so the more cooks, the more goes in. Raises OutOfRange above 50 cooks.
    """
    place = kitchen or method.document.kitchen or Kitchen()
    decided: list[Limit] = []
    for count in range(1, MOST_COOKS + 1):
        one = scale_by(method, (factor or 1.0) / count, place) if measure is None else scale_to(method, measure, wanted / count, place)
        exceeded = too_much(one.walk)
        if not exceeded:
            return Cooks(count, one, tuple(decided))
        if not decided:
            decided = exceeded
    worst = decided[0].words
    raise OutOfRange("scale", f"That would take more than {MOST_COOKS} cooks. {worst}.", "Ask for less, or use a larger pot or scale.")
