"""Shapes of the pantry."""

from __future__ import annotations

from typing import Literal

from ninja import Schema
from pydantic import Field


class PieceOut(Schema):
    """What one of something weighs, by the word people count it by."""

    word: str
    grams: float
    spread: float = Field(description="Relative uncertainty, ±.")


class SubstanceOut(Schema):
    """A substance with its facts and how they are known."""

    id: str
    title: str
    kind: str
    basis: Literal["table", "label", "estimate"]
    source: str
    note: str
    storage: Literal["ambient", "chilled"]
    density_g_ml: float
    density_spread: float = Field(description="Relative uncertainty of the density, ±.")
    allergens: list[str]
    check_pack_for: list[str]
    also_called: list[str]
    is_ground: bool
    other_form: str | None = Field(description="The same ground, of something whole; the same whole, of something ground.")
    pieces: list[PieceOut]
    composition_g_per_100g: dict[str, float]
