"""Scaling as plain data, in and out: what a shell, the server and a screen exchange."""

from __future__ import annotations

import math
from typing import Literal, Self

from pydantic import BaseModel, Field, model_validator

from jugcore.editing.edits import as_sent
from jugcore.errors import BadDocument
from jugcore.fields import Id, Part
from jugcore.figures import finite_or_none
from jugcore.method.bottle_fills import into_containers
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.phrases import capital
from jugcore.method.stages import Fill, Step
from jugcore.method.walk import Walk
from jugcore.reading.catalogue import READING_OF, readings
from jugcore.reading.equipment.tool_fills import in_goes
from jugcore.reading.readings.base import Reading
from jugcore.scaling.batch_split import BatchSplit, most_in_one, split_in_batches
from jugcore.scaling.boil_stops import boil_stops
from jugcore.scaling.scale import MOST as MOST_FACTOR
from jugcore.scaling.scale import by_bottles, by_line, by_reading, on_the_scales
from jugcore.scaling.weighing import as_weighed, weighings


class CupsOf(Part):
    """So many cups, each with so much of the product in it."""

    count: float = Field(ge=0, le=1_000_000)
    each_g: float = Field(gt=0, le=100_000)


class ScaleRequest(Part):
    """How much of a formula to make.

    ``by``: ``factor`` so many times it · ``grams`` or ``litres`` of product (litres cold) ·
    ``bottles`` of ``size_ml`` filled at the temperature the method fills at · ``line`` grams
    of an ingredient there is only so much of, or of what a stage trims or presses · ``pot`` as much as one cook can take ·
    ``doses`` of ``dose_g`` · ``drinks``: the ``cups`` it is for.
    """

    by: Literal["factor", "grams", "litres", "bottles", "line", "pot", "doses", "drinks"]
    value: float | None = Field(None, gt=0, le=1_000_000)
    size_ml: float | None = Field(None, gt=0, le=100_000)
    line: Id | None = None
    dose_g: float | None = Field(None, gt=0, le=100_000)
    cups: tuple[CupsOf, ...] | None = Field(None, max_length=100)

    @model_validator(mode="after")
    def _enough(self) -> Self:
        if self.by == "drinks":
            if not any(each.count > 0 for each in self.cups or ()):
                raise ValueError("How many drinks it is for is missing.\nGive a number of cups.")
            return self
        if self.by == "doses" and self.dose_g is None:
            raise ValueError("How much a dose is, is missing.\nGive its grams.")
        if self.by != "pot" and self.value is None:
            raise ValueError("How much is wanted is missing.\nGive a number.")
        if self.by == "bottles" and self.size_ml is None:
            raise ValueError("The size of a bottle is missing.\nGive its millilitres.")
        if self.by == "line" and self.line is None:
            raise ValueError("Which ingredient there is only so much of is missing.\nName a line.")
        return self


class WeighingReport(BaseModel):
    """A line on a scale: rounded grams, on which scale, in how many goes, ± what share of it."""

    line: str
    stage: str
    title: str
    exact_g: float
    rounded_g: float
    scale: str | None
    goes: int
    error: float


class BottleReport(BaseModel):
    """One container: grams in it, at what it is filled, and what it holds once cold."""

    count: int = Field(description="Full ones, of one cook.")
    words: str = Field(description="Of one cook: “2 × 500 ml and 240 ml in a third”.")
    size_ml: float
    per_container_g: float | None
    fill_c: float | None
    cold_ml: float | None
    left_over_g: float


class RoundedReading(BaseModel):
    """A reading by exact grams, and by the grams that will be weighed."""

    reading: str
    title: str
    unit: str
    digits: int
    exact: float | None
    weighed: float | None


class ScaleReport(BaseModel):
    """A formula scaled, split into cooks that pots and scales can take, and what to weigh for one of them."""

    factor: float = Field(description="Of all cooks together.")
    cooks: int
    limits: list[str] = Field(description="Why it takes more than one cook.")
    notes: list[str]
    weighings: list[WeighingReport]
    boils: list[str]
    bottles: BottleReport | None
    yield_g: float = Field(description="Of all cooks together.")
    yield_l: float | None
    readings: list[RoundedReading]
    document: MethodDocument = Field(description="The formula for one cook.")
    document_on_scales: MethodDocument = Field(description="The same with what is written in grams as the kitchen's scales can show it.")


def scale_report(method: Method, ask: ScaleRequest, asked: MethodDocument | None = None) -> ScaleReport:
    """Scale, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    cooks = _cooks(method, ask)
    walked = cooks.one.walk
    sheet = weighings(walked)
    weighed = as_weighed(walked, sheet)
    exact, after = readings(walked), {reading.id: reading for reading in readings(weighed)}
    fill = next((step for _, step in walked.each(Fill)), None)
    litres = float(READING_OF["yield_l"](walked).value[0])
    return ScaleReport(
        factor=cooks.one.factor * cooks.count,
        cooks=cooks.count,
        limits=[capital(limit.words) for limit in cooks.limits[:3]],
        notes=[*cooks.one.notes, *(each.words for each in in_goes(walked))],
        weighings=[
            WeighingReport(
                line=w.line, stage=w.stage, title=walked.method.titles[w.line], exact_g=w.exact_g, rounded_g=w.rounded_g,
                scale=w.scale.name if w.scale else None, goes=w.goes, error=w.error,
            )
            for w in sheet
        ],
        boils=list(boil_stops(weighed)),
        bottles=None if fill is None else _bottles(walked, fill, ask),
        yield_g=cooks.count * float(walked.product.total_g[0]),
        yield_l=finite_or_none(cooks.count * litres),
        readings=[_rounded(r, after[r.id]) for r in exact if r.id in after],
        document=as_sent(cooks.one.document, asked or method.document),
        document_on_scales=as_sent(on_the_scales(walked.method, walked.kitchen), asked or method.document),
    )  # fmt: skip


def _rounded(exact: Reading, weighed: Reading) -> RoundedReading:
    now, then = finite_or_none(float(exact.value[0])), finite_or_none(float(weighed.value[0]))
    return RoundedReading(reading=exact.id, title=exact.title, unit=exact.unit, digits=exact.digits, exact=now, weighed=then)


def _cooks(method: Method, ask: ScaleRequest) -> BatchSplit:
    value = ask.value or 0.0
    match ask.by:
        case "factor":
            return split_in_batches(method, factor=value)
        case "pot":
            factor = most_in_one(method)
            if factor >= 0.99 * MOST_FACTOR:
                raise BadDocument("scale", "No pot and no scale of this kitchen limits it.", "Say which pot the method uses, or give an amount.")
            return split_in_batches(method, factor=factor)
        case "line":
            yields = {stage.id for stage in method.stages if stage.yields}
            if ask.line not in method.lines and ask.line not in yields:
                raise BadDocument("scale.line", f"“{ask.line}” is not a line here.", "Name a line of the formula, or what it trims or presses.")
            return split_in_batches(method, measure=by_line(ask.line or ""), wanted=value)
        case "bottles":
            return split_in_batches(method, measure=by_bottles(ask.size_ml or 1.0), wanted=value)
        case "doses":
            return split_in_batches(method, measure=by_reading("yield_g"), wanted=value * (ask.dose_g or 0.0))
        case "drinks":
            return split_in_batches(method, measure=by_reading("yield_g"), wanted=sum(each.count * each.each_g for each in ask.cups or ()))
        case "grams":
            return split_in_batches(method, measure=by_reading("yield_g"), wanted=value)
        case _:
            return split_in_batches(method, measure=by_reading("yield_l"), wanted=value)


def _bottles(walked: Walk, fill: Step, ask: ScaleRequest) -> BottleReport:
    """What one container holds, in the size asked for or the method's own."""
    stage = next(stage for stage, _ in walked.each(Fill))
    share = (ask.size_ml or stage.size_ml) / stage.size_ml
    each, cold = float(fill.figures["per_container_g"][0]) * share, float(fill.figures["cold_ml"][0]) * share
    total = float(fill.figures["containers"][0]) * float(fill.figures["per_container_g"][0]) + float(fill.figures["left_over_g"][0])
    found = into_containers(total, each, stage.size_ml * share)
    count = found.full
    return BottleReport(
        count=count, words=found.words, size_ml=stage.size_ml * share, per_container_g=finite_or_none(each),
        fill_c=finite_or_none(float(fill.figures["fill_c"][0])),
        cold_ml=finite_or_none(cold), left_over_g=max(total - count * (each if math.isfinite(each) else 0.0), 0.0),
    )  # fmt: skip
