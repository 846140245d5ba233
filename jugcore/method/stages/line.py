"""A line of a stage: one ingredient and how much of it."""

from __future__ import annotations

from pydantic import Field

from jugcore.fields import Id, Part, Text, Title
from jugcore.method.amounts import Amount


class LineDoc(Part):
    """One ingredient and how much of it. A string is an amount as typed."""

    id: Id
    substance: Id = Field(description="A substance of this document or of the library.")
    name: Title | None = None
    amount: Amount | Text
    temperature_c: float | None = Field(None, ge=0, le=100, description="As it goes in; else room or fridge by its storage [°C]")
