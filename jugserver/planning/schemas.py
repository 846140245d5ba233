"""Shapes of what days to come will bring."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.fields import NO_NUL
from jugcore.planning.forecast.report import ForecastReport
from jugcore.planning.lots.week import WeekPlan
from jugcore.planning.needs.report import NeedsReport

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


class NamedProduct(Schema):
    """A product and the version of it that is made now."""

    id: UUID
    name: str
    version: int
    ready: bool


class NeedsOut(Schema):
    """What days to come need. Names of places and drinks by id."""

    first: date
    on: list[date]
    events: list[str]
    report: NeedsReport
    products: list[NamedProduct]
    places: dict[str, str]
    drinks: dict[str, str]


class OverPourOut(Schema):
    """What bottles of a product lost in a week beside what was served; ``low_g`` to ``high_g`` is a 90 % interval of the difference."""

    product: UUID
    name: str
    first: date
    last: date
    served_g: float
    lost_g: float
    over_g: float
    low_g: float
    high_g: float
    verdict: Literal["over", "under", "even", "unknown"]
    words: str
    price: float | None = Field(description="What the difference came to, in the site's currency.")


class OverPoursOut(Schema):
    """By product and week, the newest first."""

    rows: list[OverPourOut]


class PinIn(Schema):
    """What somebody decided of a plan: so many cooks of a product on a day, exactly or at least; none is a ban."""

    product: UUID
    day: int = Field(ge=0, le=6)
    cooks: int = Field(ge=0, le=4)
    kind: Literal["exactly", "at least"] = "exactly"


class PlanIn(Schema):
    """What was decided before the plan is made."""

    pins: list[PinIn] = Field([], max_length=200)


_Minutes = Annotated[int, Field(ge=0, le=10_000)]


class PlanSettingsDoc(Schema):
    """What a site has room for: hands-on minutes of all people together by weekday (Monday first), minutes a burner is free in a day; of guests
    whose drink is out, what share buys none; its fixed days, where it has any."""

    hands_min: list[_Minutes] = Field(min_length=7, max_length=7)
    burner_min: _Minutes
    lost: float = Field(gt=0, le=1)
    fixed_weekdays: list[Annotated[int, Field(ge=0, le=6)]] = Field(max_length=7)


class PlanWeekOut(Schema):
    """A plan for the next days, and what it rests on."""

    plan: WeekPlan
    events: list[str]
    unpriced: list[str] = Field(description="Products of which an ingredient has no price: they count as cheaper than they are.")
    settings: PlanSettingsDoc
    asks: dict[str, list[str]] = Field(description="What nobody has answered about keeping, by product.")
