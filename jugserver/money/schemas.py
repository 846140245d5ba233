"""Shapes of money. What is worked out is the core's own."""

from __future__ import annotations

from datetime import date
from typing import Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.drinks.money_schema import InDrinkOut
from jugcore.fields import Id
from jugcore.method.document import MethodDocument
from jugcore.money.schema import ChoiceOut
from jugserver.pantry.schemas import PackIn

MOST_CHOICES = 12


class PriceRow(Schema):
    """An ingredient and the pack that gives its price; None where none is entered."""

    substance: str
    title: str
    kind: str
    used_in: int = Field(description="In how many formulas and drinks it stands.")
    name: str | None
    supplier: str | None
    mass_g: float | None
    price: float | None
    since: date | None
    price_per_kg: float | None
    before: float | None = Field(description="The price a kilogram of the pack before it.")


class PricesOut(Schema):
    """Every ingredient that is used or has a price: those used without one first, then by name."""

    rows: list[PriceRow]
    without: int = Field(description="How many are used and have no price.")


class PriceIn(PackIn):
    """A pack that gives an ingredient its price from a day on."""

    substance: Id


class PricesIn(Schema):
    """Prices of many ingredients at once: all of them are kept, or none."""

    rows: list[PriceIn] = Field(min_length=1, max_length=500)


class ChoiceIn(Schema):
    """One of our formulas, or a bought pack that is written down as a benchmark; and a dose of it, grams or the pack's unit."""

    kind: Literal["formula", "benchmark"]
    id: UUID
    dose: float = Field(gt=0, le=100_000, allow_inf_nan=False)


class InDrinkIn(Schema):
    """A drink to see the choices in, in the place of one component."""

    id: UUID
    component: Id


class SideBySideIn(Schema):
    """What to put side by side."""

    choices: list[ChoiceIn] = Field(min_length=1, max_length=MOST_CHOICES)
    drink: InDrinkIn | None = None


class SideBySideOut(Schema):
    """Choices side by side, and what a drink costs with each."""

    choices: list[ChoiceOut]
    sizes: list[str]
    in_drink: list[InDrinkOut]
    drink_words: str
    drink_missing: list[str] = Field(description="What of the rest of the drink is not in its costs.")


class MakeOrBuyIn(Schema):
    """A formula of ours against a bought pack, and a dose of each: grams of ours, the pack's unit of it."""

    formula: UUID
    dose_g: float = Field(gt=0, le=100_000, allow_inf_nan=False)
    benchmark: UUID
    dose: float = Field(gt=0, le=100_000, allow_inf_nan=False)


class PacksIn(Schema):
    """A document to buy for, and in how many days what is left would be needed again."""

    document: MethodDocument
    again_in_days: int = Field(7, ge=1, le=365)
