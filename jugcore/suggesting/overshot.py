"""A spoon too many of one spice in a blend: accept it, scale the others up, or top up."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from jugcore.errors import BadDocument, OutOfRange
from jugcore.figures import shown
from jugcore.method.walk import Walk


@dataclass(frozen=True)
class Remedy:
    """One answer to an overshot line: what it is, grams of every line of the stage, and what that makes of the blend."""

    kind: str  # "accept", "scale_up" or "top_up"
    title: str
    grams: dict[str, float]
    add: dict[str, float]
    total_g: float
    words: str


def overshot(walked: Walk, line: str, poured_g: float, weighed: Sequence[str] | None = None) -> tuple[Remedy, ...]:
    """What can be done when more of a spice went into a blend than was asked for.

    ``weighed`` are the lines already in the bowl (all of the stage, if not said).
    *Accept* leaves it; *scale up* weighs every other line in proportion, so that the blend
    is the same and larger; *top up* gives the grams still to add of those already in, and
    the new grams of the rest. Raises BadDocument for no such line in a stage of several,
    OutOfRange where nothing was overshot.
    """
    method = walked.method
    stage = next((s for s in walked.stages if line in {item.id for item in s.ingredients}), None)
    if stage is None or len(stage.ingredients) < 2:
        raise BadDocument("line", f"“{line}” is not a line of a blend.", "Name a line of a stage that puts several things together.")
    asked = {item.id: float(walked.end.lines[item.id][0]) for item in stage.ingredients}
    if not (math.isfinite(poured_g) and poured_g > asked[line] > 0):
        raise OutOfRange(
            "poured_g",
            f"{shown(poured_g)} g is not more than the {shown(round(asked[line], 2))} g asked for.",
            "Give what the scale shows.",
        )
    factor = poured_g / asked[line]
    inside = set(asked) if weighed is None else set(weighed) | {line}
    larger = {id: grams * factor for id, grams in asked.items()}
    taken = {**asked, line: poured_g}
    title = method.short_titles[line]
    share = [grams[line] / sum(grams.values()) for grams in (asked, taken)]
    accept = Remedy(
        "accept", "Accept it", taken, {}, sum(taken.values()),
        f"{title.capitalize()} is then {100 * share[1]:.0f} % of the blend instead of {100 * share[0]:.0f} %.",
    )  # fmt: skip
    rest = {id: grams for id, grams in larger.items() if id != line}
    scale_up = Remedy(
        "scale_up", "Scale the others up", larger, {}, sum(larger.values()),
        f"Every other line {shown(round(factor, 3))} times: the same blend, {shown(round(sum(larger.values()), 2))} g of it; "
        f"use {shown(round(sum(asked.values()), 2))} g and keep the rest.",
    )  # fmt: skip
    add = {id: grams - asked[id] for id, grams in rest.items() if id in inside}
    words = ", ".join(f"{shown(round(g, 2))} g of {method.short_titles[id]}" for id, g in add.items())
    top_up = Remedy(
        "top_up", "Top up what is in the bowl", larger, add, sum(larger.values()), f"Add {words}." if add else "Nothing else is in the bowl yet."
    )
    return accept, scale_up, top_up
