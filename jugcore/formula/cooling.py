"""Whether a method cools its product fast enough for the two-stage rule, over the range of its times. Indicative."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from jugcore.keeping.cooling import ALL_S, FIRST_S, Cooled, cooled
from jugcore.method.stages import Cool
from jugcore.method.stages.warm import COLD_WATER_C
from jugcore.method.walk import Walk

Stands = Literal["yes", "maybe", "no", "not_there"]


class CoolingReport(BaseModel):
    """Both stages: seconds from 57 °C, the quickest and the slowest, and whether that is soon enough."""

    middle_low_s: float | None
    middle_high_s: float | None
    middle: Stands
    cold_low_s: float | None
    cold_high_s: float | None
    cold: Stands
    ends_c: float
    words: str = Field(description="What to do, in words.")


def cooling_report(walk: Walk) -> CoolingReport | None:
    """The product's way down from 57 °C; None of what is never that hot."""
    found = [cooled(_course(walk, j), walk.kitchen.holding_c) for j in (0, 2)]
    quick, slow = found
    if quick is None or slow is None:
        return None
    ends = float(walk.product.warmth_c[0])
    middle, cold = _stands(quick.middle_s, slow.middle_s, FIRST_S), _stands(quick.cold_s, slow.cold_s, ALL_S)
    return CoolingReport(
        middle_low_s=quick.middle_s, middle_high_s=slow.middle_s, middle=middle, cold_low_s=quick.cold_s, cold_high_s=slow.cold_s, cold=cold,
        ends_c=ends, words=_words(walk, quick, slow, middle, cold, ends),
    )  # fmt: skip


def _course(walk: Walk, j: int) -> list[tuple[float, float]]:
    """Seconds and temperatures along the way to the product, by the quick (0) or the slow (2) end of each stage's time."""
    at, warm = 0.0, None
    points: list[tuple[float, float]] = []
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        held = step.after.vessels.get(stage.writes())
        if stage.id not in walk.method.trunk or held is None or not float(held.total_g[0]) > 0:
            continue
        ends, long = float(held.warmth_c[0]), float(step.duration_s[0, j])
        if warm is None:
            points.append((at, ends))
        elif isinstance(stage, Cool) and warm > ends:
            around = {"air": walk.kitchen.room_c, "cold_water": COLD_WATER_C, "fridge": walk.kitchen.fridge_c}[stage.how]
            low = min(around, ends - 0.01)
            for share in np.linspace(0.0, 1.0, 13)[1:]:
                points.append((at + long * float(share), low + (warm - low) * ((ends - low) / (warm - low)) ** float(share)))
        else:
            if step.trace is not None:
                points.append((at + 0.5 * long, float(step.trace.temperature_c[0].max())))
            points.append((at + long, ends))
        at, warm = at + long, ends
    return points


def _stands(quick: float | None, slow: float | None, allowed: float) -> Stands:
    if quick is None:
        return "not_there"
    if slow is None or slow > allowed:
        return "maybe" if quick <= allowed else "no"
    return "yes"


def _words(walk: Walk, quick: Cooled, slow: Cooled, middle: Stands, cold: Stands, ends: float) -> str:
    limit = f"{walk.kitchen.holding_c:g} °C"
    rule = f"From 57 °C to 21 °C within 2 h, and to {limit} within 6 h in all"
    if middle in ("no", "maybe"):
        worst = slow.middle_s or quick.middle_s or 0.0
        return (
            f"{rule}: to 21 °C this may take {worst / 3600:.1f} h. Stand it in cold water and stir, or in shallow tubs. Probe it and write it down."
        )
    if middle == "not_there" or cold == "not_there":
        advice = "Into the fridge in shallow tubs, or cold water first; probe it at both marks and write it down."
        return f"{rule}: the method leaves it at {ends:.0f} °C. {advice}"
    if cold in ("no", "maybe"):
        worst = slow.cold_s or quick.cold_s or 0.0
        return f"{rule}: to {limit} this may take {worst / 3600:.1f} h. Smaller or shallower, and not stacked; probe it at both marks."
    return f"{rule}: this method does. Probe it at both marks and write it down."
