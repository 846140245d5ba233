"""Drinks as plain data: the published form of what is asked and answered."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jugcore.dosing.build import Build
from jugcore.dosing.drink import Curdling, Figure, Nudge, Side, base_document, drink_of
from jugcore.fields import Id, Part, Text
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document
from jugcore.method.method import Method
from jugcore.method.walk import walk


class InCup(Part):
    """Something else in the cup, and how much of it, as written."""

    substance: Id
    amount: Text


class DrinkRequest(Part):
    """A dose of a formula, and what it goes into."""

    dose: Text = Field(description="As written: 20 g, 2 pumps, 1 tbsp.")
    base: tuple[InCup, ...] = Field((), max_length=12)
    at_c: float = Field(20.0, ge=0, le=100, description="How warm it is served, before any ice [°C].")
    ice_g: float = Field(0.0, ge=0, le=5000, description="Ice in the cup [g].")
    cup_ml: float | None = Field(None, gt=0, le=5000, description="What the cup holds to the brim [ml].")


class DrinkReport(BaseModel):
    """A drink with its dose."""

    dose_g: float
    dose_low_g: float
    dose_high_g: float
    dose_ml: float | None
    reading: str = Field(description="How the dose was read.")
    figures: tuple[Figure, ...]
    sides: tuple[Side, ...]
    nudges: tuple[Nudge, ...]
    curdling: Curdling | None
    build: Build
    cautions: tuple[str, ...] = Field(description="Caffeine and free sugars of one drink against what EFSA and WHO name.")
    advice: tuple[str, ...] = Field(description="What practice does about the sides that are off.")


def drink_report(method: Method, ask: DrinkRequest, base: MethodDocument | None = None) -> DrinkReport:
    """A drink, as plain data. ``base`` is the document of what else is in the cup, where it was put together with a pantry."""
    kitchen = method.document.kitchen or Kitchen()
    cup = base if base is not None else cup_document(ask)
    other = walk(compile_document(cup.model_copy(update={"kitchen": kitchen}))) if cup.stages else None
    found = drink_of(walk(method), other, ask.dose, kitchen.measures, kitchen.pump_ml, ask.at_c, ice_g=ask.ice_g, cup_ml=ask.cup_ml)
    return DrinkReport(**vars(found))


def cup_document(ask: DrinkRequest) -> MethodDocument:
    """What else is in the cup, as a document; without stages where there is nothing."""
    if not ask.base:
        return MethodDocument(stages=())
    return load_document(base_document([(each.substance, each.amount) for each in ask.base]))
