"""Stages whose names say another heat than they are set to: “Below 70 °C”, set to 80."""

from __future__ import annotations

import re
from collections.abc import Iterator

from jugcore.figures import shown
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk
from jugcore.reading.consequence import Consequence

_SAID = re.compile(
    r"(?P<how>below|under|not (?:above|over)|no(?:t)? more than|at most|max(?:imum|\.)?|up to|<|above|over|at least|min(?:imum|\.)?|>|to|at)?\s*"
    r"(?P<value>\d{1,3}(?:[.,]\d+)?)\s*(?:°\s*|degrees?\s*)(?P<unit>[CF])?(?P<after>\s*(?:or|and|to)\s+(?:above|over|more|hotter|warmer|higher|below|under|less|cooler|lower)|\s*(?:min|max)\b)?",
    re.I,
)
_MOST = ("below", "under", "not above", "not over", "not more than", "no more than", "at most", "max", "up to", "<")
_LEAST = ("above", "over", "at least", "min", ">")
#: As near as a person rounds. [K]
_NEAR_K = 1.0


def named_otherwise(walk: Walk) -> Iterator[Consequence]:
    """A remark for every stage that is set to another temperature than its name says."""
    for stage in walk.stages:
        set_c = _set_c(walk, stage)
        if set_c is None or not stage.name:
            continue
        for said in _SAID.finditer(stage.name):
            value = float(said["value"].replace(",", "."))
            said_c = (value - 32) * 5 / 9 if (said["unit"] or "C").upper() == "F" else value
            how, after = (said["how"] or "").lower().rstrip("."), (said["after"] or "").lower()
            most = how.startswith(_MOST) or bool(re.search(r"below|under|less|cooler|lower|max", after))
            least = how.startswith(_LEAST) or bool(re.search(r"above|over|more|hotter|warmer|higher|min", after))
            over, under = set_c > said_c + _NEAR_K, set_c < said_c - _NEAR_K
            if (over and not least) or (under and not most):
                yield Consequence(
                    f"named-{stage.id}", "look", f"“{stage.name}” is set to {shown(round(set_c, 1))} °C. Change one of them: a cook goes by both.",
                    "What a stage is called against what it is set to.", stage.id, 1,
                )  # fmt: skip
                break


def _set_c(walk: Walk, stage: StageBase) -> float | None:
    """What a stage is set to; of a hold without a figure and an addition, how warm the walk has it."""
    for field in ("to_c", "at_c"):
        value = getattr(stage, field, None)
        if value is not None:
            return float(value)
    until = getattr(stage, "until", None)
    if until is not None and until.kind == "temperature_c":
        return float(until.value)
    if stage.kind in ("add", "hold", "steep", "mix"):
        held = walk.step(stage.id).after.vessels.get(stage.writes())
        return None if held is None or not float(held.total_g[0]) > 0 else float(held.warmth_c[0])
    return None
