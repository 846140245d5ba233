"""Whether a method gets its product into the cold soon enough, by both of the food code's rules, over the range of its times. Indicative."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from jugcore.keeping.exposure import AMBIENT_S, Exposure, exposure
from jugcore.keeping.two_stage_cooling import ALL_S, FIRST_S, Cooled
from jugcore.method.walk import Walk, once
from jugcore.reading.keeping.temperature_courses import course_of

Stands = Literal["yes", "maybe", "no", "not_there"]
#: Nearer to the limit than a probe shows. [K]
_THERE_K = 0.05


class CoolingReport(BaseModel):
    """Seconds from 57 °C to both marks, or of what was never hot to the cold, the quickest and the slowest; and whether that is soon enough."""

    rule: Literal["from_hot", "from_ambient"]
    middle_low_s: float | None
    middle_high_s: float | None
    middle: Stands | None = Field(description="None of what was never hot: there is one mark.")
    cold_low_s: float | None
    cold_high_s: float | None
    cold: Stands
    ends_c: float
    words: str = Field(description="What to do, in words.")


@once
def exposures(walk: Walk) -> tuple[Exposure, Exposure, Exposure]:
    """What its course means to germs, by the quick, the likely and the slow end of its times."""
    # What a walk brings to the limit itself is there: it comes to it from above, by less and less.
    there = walk.kitchen.holding_c + _THERE_K
    quick, likely, slow = (exposure(course_of(walk, j), there) for j in range(3))
    return quick, likely, slow


def cooling_report(walk: Walk, found: tuple[Exposure, Exposure, Exposure]) -> CoolingReport | None:
    """The product's way into the cold; None of what was never hot and is cold soon enough."""
    quick, _, slow = found
    ends = float(walk.product.warmth_c[0])
    if quick.cooled is not None and slow.cooled is not None:
        middle = _stands(quick.cooled.middle_s, slow.cooled.middle_s, FIRST_S)
        cold = _stands(quick.cooled.cold_s, slow.cooled.cold_s, ALL_S)
        return CoolingReport(
            rule="from_hot", middle_low_s=quick.cooled.middle_s, middle_high_s=slow.cooled.middle_s, middle=middle,
            cold_low_s=quick.cooled.cold_s, cold_high_s=slow.cooled.cold_s, cold=cold, ends_c=ends,
            words=_from_hot(walk, quick.cooled, slow.cooled, middle, cold, ends),
        )  # fmt: skip
    cold = _stands(quick.to_cold_s, slow.to_cold_s, AMBIENT_S)
    if cold == "yes":
        return None
    return CoolingReport(
        rule="from_ambient", middle_low_s=None, middle_high_s=None, middle=None, cold_low_s=quick.to_cold_s, cold_high_s=slow.to_cold_s, cold=cold,
        ends_c=ends, words=_from_ambient(walk, slow, cold, ends),
    )  # fmt: skip


def _stands(quick: float | None, slow: float | None, allowed: float) -> Stands:
    if quick is None:
        return "not_there"
    if slow is None or slow > allowed:
        return "maybe" if quick <= allowed else "no"
    return "yes"


def _from_hot(walk: Walk, quick: Cooled, slow: Cooled, middle: Stands, cold: Stands, ends: float) -> str:
    limit = f"{walk.kitchen.holding_c:g} °C"
    rule = f"From 57 °C to 21 °C within 2 h, and to {limit} within 6 h in total"
    if middle in ("no", "maybe"):
        worst = slow.middle_s or quick.middle_s or 0.0
        return (
            f"{rule}: to 21 °C this may take {worst / 3600:.1f} h. Stand it in cold water and stir, or in shallow tubs. Probe it and write it down."
        )
    if middle == "not_there" or cold == "not_there":
        advice = "Into the fridge in shallow tubs, or cold water first; probe it at both times and log it."
        return f"{rule}: the method leaves it at {_at(ends, walk.kitchen.holding_c)}. {advice}"
    if cold in ("no", "maybe"):
        worst = slow.cold_s or quick.cold_s or 0.0
        return f"{rule}: to {limit} this may take {worst / 3600:.1f} h. Smaller or shallower, and not stacked; probe it at both times."
    return f"{rule}: this method does. Probe it at both times and log it."


def _from_ambient(walk: Walk, slow: Exposure, cold: Stands, ends: float) -> str:
    limit = f"{walk.kitchen.holding_c:g} °C"
    rule = f"Never hot: to {limit} within 4 h of when it was first out of the cold"
    if cold == "not_there":
        return f"{rule}: the method leaves it at {_at(ends, walk.kitchen.holding_c)}. Into the fridge at once, in shallow tubs."
    return f"{rule}: this may take {(slow.to_cold_s or 0.0) / 3600:.1f} h. Start with cold parts, or chill it in shallow tubs."


def _at(ends_c: float, limit_c: float) -> str:
    """A temperature, told apart from the limit it is held against."""
    return f"{ends_c:.1f} °C" if abs(ends_c - limit_c) < 1.0 else f"{ends_c:.0f} °C"
