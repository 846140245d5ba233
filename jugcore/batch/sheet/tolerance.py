"""How near to its grams a line must be: as near as its effect on the product asks for.

Near enough is what moves the product by no more than 0.3 °Bx, and no more than 2 % of
what is weighed, 5 % of a spice, or as much as the amount was left open by how it was
written, as a pinch is (common practice, no source); never finer than the scale.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.method.scales import resolution_g
from jugcore.method.walk import walk

_SHARE, _SPICE_SHARE = 0.02, 0.05
_BRIX = 0.3
_STEP = 1e-3
#: So many times what is asked is more likely a digit too many than a hand too free (common practice, no source).
_SLIP = 3.0


@dataclass(frozen=True)
class Near:
    """The least and the most grams that are near enough."""

    low_g: float
    high_g: float

    def slip_g(self, target_g: float) -> float:
        """From how many grams on a weighing is asked about before it counts: three times the target, and never what is near enough."""
        return max(_SLIP * target_g, float(np.nextafter(self.high_g, np.inf)))


def near_enough(batch: ActualBatch, targets: dict[str, float]) -> dict[str, Near]:
    """For each line the grams that are near enough to what it should be; one walk of a case a line."""
    method, kitchen = batch.method, batch.walk.kitchen
    ids = [id for id, grams in targets.items() if grams > 0 and id in batch.walk.end.lines]
    if not ids:
        return {}
    base = {id: float(batch.walk.end.lines[id][0]) for id in ids}
    given = {}
    for i, id in enumerate(ids):
        grams = np.full(1 + len(ids), base[id])
        grams[1 + i] *= 1 + _STEP
        given[f"lines.{id}.grams"] = grams
    around = walk(method, kitchen, given)
    brix = np.where(around.product.is_liquid, around.product.brix, np.nan)
    found = {}
    for i, id in enumerate(ids):
        spice = id in method.lines and method.substances[method.lines[id].substance].is_seasoning
        written = batch.followed.weighed.get(id)  # what was put on the scale since leaves nothing open
        open_share = (written.high_g - written.low_g) / (2 * written.grams) if written is not None and written.grams > 0 else 0.0
        most = max(_SPICE_SHARE if spice else _SHARE, open_share) * targets[id]
        slope = abs(float(brix[1 + i] - brix[0])) / (_STEP * base[id]) if base[id] > 0 else 0.0
        if np.isfinite(slope) and slope > 0:
            most = min(most, _BRIX / slope)
        step = resolution_g(kitchen, targets[id])
        most = max(np.floor(most / step + 1e-9) * step, step)
        found[id] = Near(round(max(targets[id] - most, 0.0), 6), round(targets[id] + most, 6))
    return found
