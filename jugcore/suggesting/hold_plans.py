"""One hold in every place it could be kept: on the hob, wrapped, in a flask, as it stands; drawn and compared. Indicative."""

from __future__ import annotations

import numpy as np
from pydantic import BaseModel, Field

from jugcore.errors import BadDocument
from jugcore.figures import Floats
from jugcore.method.compile import compile_document
from jugcore.method.method import Method
from jugcore.method.stages import Holding, Steep
from jugcore.method.stages.hold import PLACE_NAMES, Place
from jugcore.method.walk import walk
from jugcore.reading.processes.outcomes import before, drawn, enzymes_in, histories, hold_report
from jugcore.reading.processes.schema import EnzymeReport, RangeReport

_OFFERED: tuple[Place, ...] = ("hob", "flask", "wrapped", "air", "fridge")
#: Points of a course that are drawn.
_POINTS = 13


class HoldPoint(BaseModel):
    """Minutes since it was put there, and how warm it is then."""

    minutes: float
    low_c: float
    likely_c: float
    high_c: float


class HoldPlan(BaseModel):
    """A place to keep it: the course of its temperature and what comes of it."""

    where: Place
    title: str
    chosen: bool
    course: list[HoldPoint]
    ends_c: RangeReport
    in_window_min: float | None = Field(description="Minutes of it within the window an enzyme works in, likely; none where there is no window.")
    enzyme: EnzymeReport | None
    drawn: str = Field(description="How long it draws there against what is usual, in words; empty where nothing is steeped.")


class HoldPlansReport(BaseModel):
    """A hold in every place."""

    stage: str
    title: str
    for_min: float
    window_low_c: float | None
    window_high_c: float | None
    plans: list[HoldPlan]


def hold_plans(method: Method, stage_id: str) -> HoldPlansReport:
    """A hold or steep of a document, as long as it is, in every place.

    Raises BadDocument where the stage is no hold. What the place does not change (how warm it goes in, how long) stays;
    a hold asked for at a temperature is kept at it on the hob and starts at it elsewhere only if it was brought there.
    """
    asked = next((s for s in method.stages if s.id == stage_id), None)
    if not isinstance(asked, Holding):
        raise BadDocument(f"stages.{stage_id}", f"“{stage_id}” is not a hold.", "Name a stage that holds or steeps.")
    plans = [_plan(method, asked, where) for where in _OFFERED]
    here = walk(method)
    held = before(here, next(s for s in here.stages if s.id == stage_id)).vessels.get(asked.vessel)
    window = next((book.enzyme.works_c for _, book in enzymes_in(here, held) if book.enzyme), None) if held is not None else None
    return HoldPlansReport(
        stage=stage_id, title=asked.name or asked.title, for_min=asked.for_min,
        window_low_c=window.low if window else None, window_high_c=window.high if window else None, plans=plans,
    )  # fmt: skip


def _plan(method: Method, asked: Holding, where: Place) -> HoldPlan:
    other = asked.model_copy(update={"where": where, "at_c": asked.at_c if where == "hob" else None})
    stages = tuple(other if s.id == asked.id else s for s in method.document.stages)
    walked = walk(compile_document(method.document.model_copy(update={"stages": stages})))
    stage = next(s for s in walked.stages if isinstance(s, Holding) and s.id == asked.id)
    found = hold_report(walked, stage, walked.step(stage.id))
    ran = histories(walked, stage)
    if found is None or not ran:
        raise BadDocument(f"stages.{asked.id}.vessel", "There is nothing in it to hold.", "Put something into it first.")
    seconds = ran[1][0][0]
    temps = [temperature[0] for _, temperature in ran]
    every = max((len(seconds) - 1) // (_POINTS - 1), 1)
    course = [
        HoldPoint(
            minutes=float(seconds[i]) / 60, low_c=float(min(t[i] for t in temps)), likely_c=float(temps[1][i]), high_c=float(max(t[i] for t in temps))
        )
        for i in range(0, len(seconds), every)
    ]
    return HoldPlan(
        where=where, title=PLACE_NAMES[where], chosen=where == asked.where, course=course, ends_c=found.ends_c,
        in_window_min=_within(walked.method, found.enzyme, seconds, temps[1]), enzyme=found.enzyme,
        drawn=" ".join(f"{each.title}: {_WORDS[each.verdict]}." for each in drawn(walked, stage)) if isinstance(stage, Steep) else "",
    )  # fmt: skip


_WORDS = {
    "early": "less than is usual at that temperature",
    "usual": "as long as is usual at that temperature",
    "past": "longer than is usual at that temperature",
}


def _within(method: Method, enzyme: EnzymeReport | None, seconds: Floats, temperature_c: Floats) -> float | None:
    """Minutes of the likely course within the window of the enzyme that is in the method."""
    window = next((s.enzyme.works_c for s in method.substances.values() if s.enzyme is not None), None)
    if enzyme is None or window is None:
        return None
    middle = 0.5 * (temperature_c[1:] + temperature_c[:-1])
    return float((np.diff(seconds) * ((middle >= window.low) & (middle <= window.high))).sum() / 60)
