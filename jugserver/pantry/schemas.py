"""Shapes of the pantry. What an ingredient is made of is the core's own document."""

from __future__ import annotations

from datetime import date

from ninja import Schema
from pydantic import Field

from jugcore.fields import Text, Title
from jugcore.matter.substance import KnownBy
from jugcore.matter.substance_document import StrengthDoc, SubstanceDoc


class HitOut(Schema):
    """An ingredient in a list."""

    id: str
    title: str
    kind: str
    basis: KnownBy
    character: str
    allergens: list[str]
    other_form: str | None = Field(description="The same ground, of something whole; the same whole, of something ground.")
    is_ground: bool
    own: bool = Field(description="Whether its composition is the site's own.")
    price_per_kg: float | None


class FoundOut(Schema):
    """A page of ingredients."""

    hits: list[HitOut]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class TypedOut(Schema):
    """A typed line, parted: what may be meant, and what is left of it as an amount."""

    hits: list[HitOut]
    amount: str


class HazardOut(Schema):
    code: str
    words: str
    grave: bool


class PackOut(Schema):
    id: int
    name: str
    supplier: str
    mass_g: float
    price: float
    since: date


class LotOut(Schema):
    """A lot, and until when it is good: the earlier of its best-before and what it keeps once opened."""

    id: int
    code: str
    supplier: str
    origin: str
    mass_g: float | None
    received_on: date | None
    opened_on: date | None
    best_before: date | None
    used_up_on: date | None
    tasting_notes: str
    strength: StrengthDoc | None
    brix: float | None
    ph: float | None
    good_until: date | None
    good_until_why: str


class SubstanceOut(Schema):
    """An ingredient with everything known of it and how it is known."""

    id: str
    number: int = Field(description="Rises with every change of the site's own; send it back when saving. 0 while it is the library's.")
    own: bool
    in_library: bool
    put_away: bool
    document: SubstanceDoc
    brix: float | None = Field(description="Dissolved solids in 100 g of its liquid, where it is one.")
    sugars_g_per_100g: float
    fat_g_per_100g: float
    hazards: list[HazardOut]
    allergens_by_list: dict[str, list[str]] = Field(description="By the title of the list that names them.")
    packs: list[PackOut]
    lots: list[LotOut]


class SubstanceIn(Schema):
    """An ingredient as it shall be, based on the number it was read at."""

    number: int = Field(0, ge=0, le=2_147_483_647)
    document: SubstanceDoc


class SupplierOut(Schema):
    """Whom the site buys from, and how many packs and lots are from them."""

    id: int
    name: str
    contact: str
    packs: int
    lots: int


class SupplierIn(Schema):
    """What a supplier is called, and how to reach them."""

    name: Title = Field(min_length=1)
    contact: Title = ""
    together: bool = Field(False, description="Whether to put both together where another has that name already.")


class PackIn(Schema):
    """What it is bought in."""

    name: Title = Field(min_length=1)
    supplier: Title = ""
    mass_g: float = Field(gt=0, le=1_000_000, allow_inf_nan=False)
    price: float = Field(ge=0, le=1_000_000, allow_inf_nan=False)
    since: date | None = None


class LotIn(Schema):
    """What is known of a lot."""

    code: Title = Field(min_length=1, max_length=100)
    supplier: Title = ""
    origin: Title = ""
    mass_g: float | None = Field(None, gt=0, le=10_000_000, allow_inf_nan=False, description="How much of it came.")
    received_on: date | None = None
    opened_on: date | None = None
    best_before: date | None = None
    used_up_on: date | None = None
    tasting_notes: Text = ""
    strength: StrengthDoc | None = None
    brix: float | None = Field(None, ge=0, le=95, allow_inf_nan=False)
    ph: float | None = Field(None, ge=0, le=14, allow_inf_nan=False)
