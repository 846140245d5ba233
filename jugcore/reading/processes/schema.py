"""Shapes of what a hold, a steep, a caramel and a foam come to. Units stand in the field names."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field


class RangeReport(BaseModel):
    """Least, likely and most."""

    low: float
    likely: float
    high: float


class EnzymeReport(BaseModel):
    """How far an enzyme gets while it is held, or why nothing is promised. Indicative."""

    promised: bool
    why_not: str = Field("", description="Why nothing is promised of it.")
    thinned: RangeReport | None = Field(None, description="Share of the starch that went in which is cut, by the end of the hold.")
    before: float | None = Field(None, description="Share that was cut before the hold began, on the way there.")
    leaves_window_min: float | None = Field(None, description="Minutes into the hold after which it is colder than where the enzyme works.")
    alive: float | None = Field(None, description="Share of the enzyme that still works at the end, of what worked when the hold began.")
    enough: Literal["yes", "maybe", "no"] | None = None
    more_min: float | None = Field(None, description="Minutes more that would do, held as it is at the end; none where waiting can never mend it.")
    top_up_g: float | None = Field(None, description="Grams more of the enzyme that would do in another 20 min at its best.")
    words: str = ""


class HoldReport(BaseModel):
    """A hold: where it starts and ends, and over how wide a range."""

    where: str
    for_min: float
    starts_c: float
    ends_c: RangeReport
    enzyme: EnzymeReport | None = None


class DrawnReport(BaseModel):
    """What is steeped, against how long people leave it in."""

    line: str
    title: str
    least_min: float = Field(description="The least minutes usual at the temperature it begins at.")
    most_min: float
    of_least: float = Field(description="What it gets of the least: below 1 it is early.")
    of_most: float = Field(description="What it gets of the most: above 1 it is past it.")
    verdict: Literal["early", "usual", "past"]
    past: str = Field(description="What it turns to beyond.")
    medium: str = Field(description="water, fat, alcohol or syrup: what it is steeped in.")
    medium_words: str = Field(description="What such a liquid takes out of it; empty where practice has no word for it.")


class CaramelReport(BaseModel):
    """Sugar browned: how much of it, the colour, the water that left."""

    to_c: float
    share: RangeReport = Field(description="Share of the sugar that turns.")
    colour: str
    colours: str = Field(description="The lightest and the darkest it may be.")
    water_off_g: float
    browning_off_g: float
    climb_low_s: float
    climb_high_s: float


class FoamReport(BaseModel):
    """A foam: how much air, what it looks like, what it weighs a litre."""

    tool: str
    verdict: Literal["froth", "runs", "mounds", "peaks", "stiff", "whips", "flat"]
    words: str
    why: str
    of_coffee: bool = Field(description="Whipped coffee, which is spooned on.")
    overrun: RangeReport = Field(description="Air against liquid by volume, in percent.")
    air: RangeReport = Field(description="Air of the whole foam by volume, in percent: 100 % overrun is 50 % air.")
    liquid_ml: float
    foam_ml: RangeReport
    density_kg_m3: RangeReport
    needs_low_s: float
    needs_high_s: float
    too_long_s: float = Field(description="From so many seconds it only loses.")
    over: bool = Field(False, description="The method beats it longer than that.")
    stages: list[str] = Field([], description="Of whipped coffee: what it is when, at full speed.")
    floats: str = Field(description="What it floats on and what it sinks in.")
