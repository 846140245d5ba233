"""Where the lines of a walk went: how much of each stands behind what is in a vessel, for its cost and for what it is made of."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk, once


@once
def carried(walk: Walk) -> dict[str, dict[str, Floats]]:
    """Vessel → line → grams (K,) weighed in for what is in it at the end.

    What is joined takes its share by weight of every line, and the rest stays behind as what was kept back. A sieve, a press or a
    pour takes all of it along: cake and film are thrown away, somebody has paid for them, and they have touched the rest.
    """
    found: dict[str, dict[str, Floats]] = {}
    state = walk.start
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        for flow in step.flows:
            kind, _, target = flow.target.partition(":")
            source_kind, _, source = flow.source.partition(":")
            if kind != "vessel":
                continue
            if source_kind == "line" and source in walk.method.lines:
                _put(found.setdefault(target, {}), source, walk.end.lines[source])
            elif source_kind == "vessel" and source != target and source in found and not target.startswith("cake:"):
                share = np.ones(walk.cases)
                held = state.vessels.get(source)
                if stage.reads() is not None and held is not None:
                    there = held.total_g
                    share = np.where(there > 0, np.minimum(flow.mass_g.sum(axis=1) / np.where(there > 0, there, 1.0), 1.0), 0.0)
                for line, grams in list(found[source].items()):
                    moved = grams * share
                    found[source][line] = grams - moved
                    _put(found.setdefault(target, {}), line, moved)
        state = step.after
    return found


def _put(into: dict[str, Floats], line: str, grams: Floats) -> None:
    into[line] = into[line] + grams if line in into else grams
