"""What making takes besides ingredients, read off a walk: energy, hands-on time, bottles; its own, and that of what it is made of."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jugcore.figures import Floats
from jugcore.matter.substance import Work
from jugcore.method.stages import Fill
from jugcore.method.walk import Walk
from jugcore.reading.carried import carried
from jugcore.reading.energy import energy_kwh


def hands_s(walk: Walk) -> Floats:
    """Hands-on seconds (K, 3) of all stages: least, likely, most, as each states them."""
    return sum((step.hands_s for step in walk.steps), np.zeros((walk.cases, 3)))


def containers(walk: Walk) -> Floats:
    """How many bottles, jars, tubs (K,) are filled."""
    return sum((step.figures["containers"] for _, step in walk.each(Fill)), np.zeros(walk.cases))


def work_per_gram(walk: Walk, formula: str) -> tuple[Work, ...] | None:
    """What a gram of the first case's product takes, as the work of the formula of that id and of all that stands in it.

    Returns None where something made here stands in it whose work was never written down. What is kept back is made with it, and
    takes none of it.
    """
    total = float(walk.product.total_g[0])
    energy, hands = energy_kwh(walk)[0] / total, hands_s(walk)[0] / total
    own = Work(
        (formula,), (float(energy[0]), float(energy[1]), float(energy[2])), (float(hands[0]), float(hands[1]), float(hands[2])),
        float(containers(walk)[0]) / total,
    )  # fmt: skip
    found = [own]
    product = carried(walk).get(walk.method.product, {})
    for line, work in lines_made_here(walk):
        if work is None:
            return None
        grams = float(product[line][0]) / total if line in product else 0.0
        found += [each.times(grams, formula) for each in work]
    return tuple(found)


def lines_made_here(walk: Walk) -> Iterator[tuple[str, tuple[Work, ...] | None]]:
    """Lines that are a formula of ours and go in, each with the work of a gram of it; None where that was never written down."""
    for id, line in walk.method.lines.items():
        made = walk.method.substances[line.substance].made
        if made is not None and bool((walk.end.lines[id] > 0).any()):
            yield id, made.work
