"""How much of the spice, tea and herbs that were weighed goes into the product's pot.

Of a blend of which only a part is used, only that part seasons. What a sieve or a press
takes out again has seasoned all the same and counts as it was weighed in.
"""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.method.amounts import All
from jugcore.method.stages import Fill, StageBase, Step
from jugcore.method.walk import Walk, once


def made_g(walk: Walk) -> Floats:
    """Grams (K,) that there were of the product when it was filled: what no bottle was entered for is of the same strength.

    By the walk alone that is the product; where filling was weighed, what stayed behind besides the film counts too.
    """
    total = walk.product.total_g
    for stage, step in walk.each(Fill):
        if stage.into == walk.method.product and stage.gives_g is not None:
            total = total + np.maximum(step.figures["film_g"] - walk.kitchen.film_g, 0.0)
    return total


@once
def seasoning_g(walk: Walk) -> Floats:
    """Grams of seasoning weighed in for what ends as the product, (K,)."""
    shares = {id: _seasoning_share(walk, id) for id in walk.method.lines}
    seasons = {id for id, share in shares.items() if share > 0 and id in walk.end.lines}
    in_vessel: dict[str, Floats] = {}
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        source = stage.reads()
        if stage.ingredients:
            own = [walk.end.lines[line.id] * shares[line.id] for line in stage.ingredients if line.id in seasons]
            seasons -= {line.id for line in stage.ingredients}
            if own:
                in_vessel[stage.vessel] = in_vessel.get(stage.vessel, np.zeros(walk.cases)) + np.sum(own, axis=0)
        elif source in in_vessel:
            there = in_vessel[source]
            moved = there * _share(walk, stage, source, step)
            in_vessel[source] = there - moved
            in_vessel[stage.vessel] = in_vessel.get(stage.vessel, np.zeros(walk.cases)) + moved
        elif stage.writes() != stage.vessel and stage.vessel in in_vessel:
            in_vessel[stage.writes()] = in_vessel.get(stage.writes(), np.zeros(walk.cases)) + in_vessel.pop(stage.vessel)
    # What was in before a walk that goes on from a state: it lies where the product does.
    before = np.sum([walk.end.lines[id] * shares[id] for id in seasons], axis=0) if seasons else np.zeros(walk.cases)
    return np.asarray(before + in_vessel.get(walk.method.product, np.zeros(walk.cases)))


def _seasoning_share(walk: Walk, line: str) -> float:
    """Grams of seasoning in a gram of a line: all of a spice, none of sugar, of what was made here what went into it."""
    return sum(each.grams_per_g for each in walk.method.contents_of(line) if each.book.is_seasoning)


def _share(walk: Walk, stage: StageBase, source: str, step: Step) -> Floats:
    """The share of a vessel that a join brings over, (K,); the film that sticks to the wall is not counted against it."""
    if isinstance(walk.method.amounts[stage.id], All) and f"lines.{stage.id}.grams" not in walk.given:
        return np.ones(walk.cases)
    left, moved = step.after.vessels[source].total_g, step.after.lines[stage.id]
    there = left + moved
    return np.where(there > 0, moved / np.where(there > 0, there, 1.0), 0.0)
