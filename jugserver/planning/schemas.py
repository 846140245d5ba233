"""Shapes of what days to come will bring."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.fields import NO_NUL
from jugcore.planning.forecast.report import ForecastReport

Reason = Annotated[str, Field(min_length=1, max_length=500, pattern=NO_NUL)]


class NamedSize(Schema):
    """A size of a drink."""

    id: str
    name: str


class NamedDrink(Schema):
    """A drink and its sizes."""

    id: UUID
    name: str
    sizes: list[NamedSize]
    served: bool


class NamedPlace(Schema):
    """A place where drinks are sold."""

    id: int
    name: str


class OverrideIn(Schema):
    """What somebody knows better: how many times, or how many a day, of a drink, a size, a place; of all where left out."""

    first: date
    last: date
    place: int | None = Field(None, ge=1, le=9_000_000_000)
    drink: UUID | None = None
    size: str | None = Field(None, max_length=64, pattern=NO_NUL)
    times: float | None = Field(None, ge=0, le=20)
    count: float | None = Field(None, ge=0, le=1_000_000)
    reason: Reason


class OverrideOut(Schema):
    """An override that holds."""

    id: int
    first: date
    last: date
    place: int | None
    drink: UUID | None
    size: str
    times: float | None
    count: float | None
    reason: str
    by: str
    at: datetime


class LikeIn(Schema):
    """A new drink is taken to sell as a share of another."""

    drink: UUID
    like: UUID
    share: float = Field(gt=0, le=10)
    instead: bool = False


class LikeOut(Schema):
    """A drink that is taken to sell like another."""

    drink: UUID
    like: UUID
    share: float
    instead: bool


class ForecastOut(Schema):
    """What days to come will bring, and what it was told."""

    report: ForecastReport
    drinks: list[NamedDrink]
    places: list[NamedPlace]
    overrides: list[OverrideOut]
    likes: list[LikeOut]
    unforeseen: list[UUID] = Field(description="Drinks that are served and of which nothing is known.")
    known_days: int = Field(description="On how many days sales are known, of any place.")
