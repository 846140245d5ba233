"""Shapes of the kitchen. The kitchen itself is the core's own."""

from __future__ import annotations

from typing import Annotated

from ninja import Schema
from pydantic import Field

from jugcore.fields import NO_NUL
from jugcore.method.kitchen import Kitchen


class KitchenOut(Schema):
    """The site's kitchen and the number of its last change."""

    number: int = Field(description="Rises with every change; send it back when saving.")
    kitchen: Kitchen


class KitchenIn(Schema):
    """A change to the kitchen, based on the number it was read at."""

    number: int = Field(ge=0, le=2_147_483_647)
    kitchen: Kitchen


class Business(Schema):
    """What a site counts in, what energy and hands cost it, when it is open and where it serves."""

    currency: str = Field("", pattern=r"^([A-Z]{3})?$", description="ISO 4217, as EUR; empty where nobody said.")
    time_zone: str = Field("", max_length=64, pattern=NO_NUL, description="As Europe/Dublin; empty for that of the machine it is served from.")
    energy_price_kwh: float | None = Field(None, ge=0, le=1000, allow_inf_nan=False, description="What a kilowatt-hour costs.")
    wage_h: float | None = Field(None, ge=0, le=1_000_000, allow_inf_nan=False, description="What an hour of somebody's work costs.")
    container_price: float | None = Field(None, ge=0, le=1_000_000, allow_inf_nan=False, description="What a bottle costs.")
    label_price: float | None = Field(None, ge=0, le=1_000_000, allow_inf_nan=False, description="What a label costs.")
    least_margin: float | None = Field(None, ge=0, lt=100, allow_inf_nan=False, description="What should be left of a drink's price [%].")
    opening_days: list[Annotated[int, Field(ge=0, le=6)]] = Field(list(range(7)), max_length=7, description="0 is Monday.")
    places: list[Annotated[str, Field(min_length=1, max_length=80, pattern=NO_NUL)]] = Field([], max_length=50, description="Where it serves.")


class BusinessOut(Schema):
    """A site's business and the number of its last change."""

    number: int = Field(description="Rises with every change; send it back when saving.")
    business: Business


class BusinessIn(Schema):
    """A change to the business, based on the number it was read at."""

    number: int = Field(ge=0, le=2_147_483_647)
    business: Business
