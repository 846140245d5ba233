"""How long a product is where germs grow, over everything that ends in it, and whether it is thrown away for it."""

from __future__ import annotations

from dataclasses import dataclass

from jugcore.keeping.exposure import DISCARD_S, SAID_S, Exposure
from jugcore.keeping.two_stage_cooling import ALL_S, FROM_C
from jugcore.method.walk import Walk
from jugcore.reading.keeping.cooling_stages import CoolingReport, cooling_report, exposures


@dataclass(frozen=True)
class Between:
    """Minutes between cold and hot holding, whether so long that it is thrown away, what to say, and the way into the cold."""

    minutes: float
    stop: bool
    words: str
    cooling: CoolingReport | None


NOTHING = Between(0.0, False, "", None)


def between_of(walk: Walk) -> Between:
    """By the likely times; where only the slow ones are too long, that it may be."""
    found = exposures(walk)
    _, likely, slow = found
    seconds, stop, words = _judged(likely, slow, f"between {walk.kitchen.holding_c:g} and {FROM_C:g} °C")
    words = " ".join(part for part in (words, _reheat_words(likely)) if part)
    return Between(seconds / 60.0, stop, words, cooling_report(walk, found))


def _judged(likely: Exposure, slow: Exposure, limits: str) -> tuple[float, bool, str]:
    warm = f"at {FROM_C:g} °C or above, or in the fridge"
    if likely.between_s > DISCARD_S:
        words = f"It is {_hours(likely.between_s)} {limits}: after four hours there it is thrown away. Keep it {warm}."
        return likely.between_s, True, words
    if likely.way_down_s > ALL_S:
        words = f"It cools for {_hours(likely.way_down_s)} {limits}: after six hours it is thrown away. Cool it in ice water or shallow tubs."
        return likely.way_down_s, True, words
    if slow.between_s > DISCARD_S:
        words = f"It may be {_hours(slow.between_s)} {limits}: after four hours there it is thrown away. Keep that shorter and write the times down."
        return slow.between_s, False, words
    if likely.between_s >= SAID_S:
        return likely.between_s, False, f"It is {_hours(likely.between_s)} {limits}: germs grow there. Keep that short, or keep it {warm}."
    return likely.between_s, False, ""


def _hours(seconds: float) -> str:
    return f"{seconds / 3600:.1f} h"


def _reheat_words(found: Exposure) -> str:
    if found.reheated_c is None:
        return ""
    return f"It had cooled and is warmed to {found.reheated_c:.0f} °C again: to hold it hot, bring it to 74 °C within two hours first."
