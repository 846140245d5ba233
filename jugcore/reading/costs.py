"""What the ingredients in each vessel cost: a blend kept back is a cost of its own and none of the product's."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk, once


@once
def costs_of(walk: Walk) -> dict[str, Floats]:
    """Vessel → cost (K,) of what is in it at the end, in the site's currency; a missing price counts nothing.

    Formula: grams × price go with the matter. What is joined takes its share by weight, and the rest stays behind as what was
    kept back. A sieve, a press or a pour takes all of it along: cake and film are thrown away, and somebody has paid for them.
    """
    found: dict[str, Floats] = {}
    state = walk.start
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        for flow in step.flows:
            kind, _, target = flow.target.partition(":")
            source_kind, _, source = flow.source.partition(":")
            if kind != "vessel":
                continue
            if source_kind == "line" and source in walk.method.lines:
                price = walk.method.substances[walk.method.lines[source].substance].price_per_kg or 0.0
                found[target] = found.get(target, np.zeros(walk.cases)) + walk.end.lines[source] * price / 1e3
            elif source_kind == "vessel" and source != target and source in found and not target.startswith("cake:"):
                share = np.ones(walk.cases)
                held = state.vessels.get(source)
                if stage.reads() is not None and held is not None:
                    there = held.total_g
                    share = np.where(there > 0, np.minimum(flow.mass_g.sum(axis=1) / np.where(there > 0, there, 1.0), 1.0), 0.0)
                moved = found[source] * share
                found[source] = found[source] - moved
                found[target] = found.get(target, np.zeros(walk.cases)) + moved
        state = step.after
    return found


@once
def product_cost(walk: Walk) -> tuple[Floats, Floats]:
    """What the product's ingredients cost, and those of all that was kept back (K,)."""
    found = dict(costs_of(walk))
    own = found.pop(walk.method.product, np.zeros(walk.cases))
    return own, np.asarray(sum(found.values(), np.zeros(walk.cases)))
