"""Drinks as plain data: the published form of what is asked and answered."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from jugcore.dosing.drink import base_document, drink_of
from jugcore.method.document import Method, MethodDocument, compile_document
from jugcore.method.fields import Id, Part, Text
from jugcore.method.kitchen import Kitchen
from jugcore.method.walk import walk


class InCup(Part):
    """Something else in the cup, and how much of it, as written."""

    substance: Id
    amount: Text


class DrinkAsk(Part):
    """A dose of a formula, and what it goes into."""

    dose: Text = Field(description="As written: 20 g, 2 pumps, 1 tbsp.")
    base: tuple[InCup, ...] = Field((), max_length=12)
    at_c: float = Field(20.0, ge=0, le=100, description="How warm it is served [°C].")


class FigureReport(BaseModel):
    id: str
    title: str
    value: float | None
    unit: str
    digits: int
    low: float | None
    high: float | None
    why_not: str


class SideReport(BaseModel):
    """One side of the balance, with where drinks mostly stand (common practice, no source)."""

    id: str
    title: str
    value: float
    unit: str
    digits: int
    low: float
    high: float
    usual_low: float
    usual_high: float
    word: str


class NudgeMove(BaseModel):
    side: str
    before: float
    after: float


class NudgeReport(BaseModel):
    """Something that could be done, and the sides it moves."""

    words: str
    moves: list[NudgeMove]


class CurdlingReport(BaseModel):
    """How far the acid goes towards curdling: shares of the way, an estimate."""

    low: float
    high: float
    tone: Literal["fine", "look", "stop"]
    words: str


class DrinkReport(BaseModel):
    """A drink with its dose."""

    dose_g: float
    dose_low_g: float
    dose_high_g: float
    dose_ml: float | None
    reading: str = Field(description="How the dose was read.")
    figures: list[FigureReport]
    sides: list[SideReport]
    nudges: list[NudgeReport]
    curdling: CurdlingReport | None
    advice: list[str] = Field(description="What practice does about the sides that are off.")


def drink_report(method: Method, ask: DrinkAsk, base: MethodDocument | None = None) -> DrinkReport:
    """A drink, as plain data. ``base`` is the document of what else is in the cup, where it was put together with a pantry."""
    kitchen = method.document.kitchen or Kitchen()
    cup = base if base is not None else cup_document(ask)
    other = walk(compile_document(cup.model_copy(update={"kitchen": kitchen}))) if cup.stages else None
    found = drink_of(walk(method), other, ask.dose, kitchen.measures, kitchen.pump_ml, ask.at_c)
    return DrinkReport(
        dose_g=found.dose_g, dose_low_g=found.dose_low_g, dose_high_g=found.dose_high_g, dose_ml=found.dose_ml, reading=found.reading,
        figures=[FigureReport(**{name: getattr(f, name) for name in FigureReport.model_fields}) for f in found.figures],
        sides=[SideReport(**{name: getattr(s, name) for name in SideReport.model_fields}) for s in found.sides],
        nudges=[NudgeReport(words=n.words, moves=[NudgeMove(side=side, before=a, after=b) for side, a, b in n.moves]) for n in found.nudges],
        curdling=None if found.curdling is None else CurdlingReport.model_validate(vars(found.curdling)),
        advice=list(found.advice),
    )  # fmt: skip


def cup_document(ask: DrinkAsk) -> MethodDocument:
    """What else is in the cup, as a document; without stages where there is nothing."""
    if not ask.base:
        return MethodDocument(stages=())
    return MethodDocument.model_validate(base_document([(each.substance, each.amount) for each in ask.base]))
