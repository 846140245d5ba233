"""When to stop each boil, in words."""

from __future__ import annotations

from collections.abc import Iterator

from jugcore.figures import shown
from jugcore.method.phrases import spelt_span
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk


def boil_stops(walk: Walk) -> Iterator[str]:
    """When to stop each boil, in words: “Boil: stop when the pot reads 2,705 g, 295 g of water off, 20–27 min”."""
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        if not isinstance(stage, Boil):
            continue
        pot = walk.kitchen.pot(walk.method.pot_id(stage.vessel))
        reads, off = float(step.figures["pot_reads_g"][0]), float(step.figures["off_g"][0])
        if stage.until.kind == "minutes":
            timed = f"boil for {shown(round(stage.until.value, 1))} min, timed from when it boils"
            yield f"{stage.name or stage.title}: {timed}, about {shown(round(off))} g of water off"
            continue
        weight = f"the pot reads {shown(round(reads))} g" if pot.tare_g else f"it weighs {shown(round(reads))} g without the pot"
        yield f"{stage.name or stage.title}: stop when {weight}, {shown(round(off))} g of water off, {spelt_span(step.duration_s)}"
