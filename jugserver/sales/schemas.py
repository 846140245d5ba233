"""Shapes of what was sold."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.fields import NO_NUL, Id, Title
from jugcore.planning.sales.columns import Columns
from jugcore.planning.sales.report import RowProblemOut, UnknownOut
from jugcore.planning.sales.table import MOST_BYTES

_PlaceId = Annotated[int, Field(ge=1, le=9_000_000_000)]
_Words = Annotated[str, Field(max_length=400, pattern=NO_NUL)]
Reason = Annotated[str, Field(min_length=1, max_length=500, pattern=NO_NUL)]


class NameMeans(Schema):
    """What a name of a till means: a drink and its size, or nothing of ours."""

    key: str = Field(max_length=500, pattern=NO_NUL)
    drink: UUID | None = None
    size: str | None = Field(None, max_length=64, pattern=NO_NUL)
    left_out: bool = False


class PlaceMeans(Schema):
    """What place a name of a till means."""

    words: _Words
    place: _PlaceId


class SalesFileIn(Schema):
    """A file of sales, and what somebody says of its columns and names."""

    name: str = Field("", max_length=300, pattern=NO_NUL)
    base64: str = Field(max_length=2 * MOST_BYTES)
    origin: Literal["file", "till"] = "file"
    columns: Columns | None = None
    items: list[NameMeans] = Field([], max_length=500)
    places: list[PlaceMeans] = Field([], max_length=200)


class SalesImportIn(SalesFileIn):
    """A file to keep. ``leave_wrong``: rows that are not understood are left out; ``over_corrections``: what was corrected by hand is overwritten."""

    leave_wrong: bool = False
    over_corrections: bool = False


class ChangedCount(Schema):
    """A count that a file says otherwise than what is kept."""

    on: date
    place: str
    drink: str
    size: str
    before: int | None
    after: int
    by_hand: bool = Field(description="Somebody corrected it before.")


class SalesPreview(Schema):
    """What a file says, and what importing it would change."""

    name: str
    labels: list[str]
    sample: list[list[str]]
    columns: Columns
    remembered: bool
    lacking: str
    lacking_remedy: str
    lacking_field: str
    ask_order: bool
    rows: int
    cups: int
    first_on: date | None
    last_on: date | None
    days: int = Field(description="Days of places that it tells of.")
    left_out: int
    wrong: int
    problems: list[RowProblemOut]
    items: list[UnknownOut]
    places: list[UnknownOut]
    added: int
    changed: int
    same: int
    corrected: int = Field(description="Of those changed, how many somebody corrected by hand; they are left alone unless said otherwise.")
    changes: list[ChangedCount] = Field(description="Some of what would change.")
    whole: bool = Field(description="Whether all of it is understood.")


class SalesImportOut(Schema):
    """A file that was imported."""

    id: UUID
    name: str
    origin: Literal["file", "till"]
    rows: int
    added: int
    changed: int
    same: int
    left_out: int
    first_on: date | None
    last_on: date | None
    by: str
    at: datetime
    undone_at: datetime | None
    may_undo: bool


class SoldSize(Schema):
    """A size of a drink that can be sold."""

    id: str
    name: str


class SoldDrink(Schema):
    """A drink that can be sold."""

    id: UUID
    name: str
    sizes: list[SoldSize]


class SoldPlace(Schema):
    """A place and the cups it sold on each day; null where nobody knows."""

    id: int
    name: str
    cups: list[int | None]


class CalendarIn(Schema):
    """Days that are not like others."""

    kind: Literal["event", "closed"]
    name: str = Field("", max_length=200, pattern=NO_NUL)
    first: date
    last: date
    place: _PlaceId | None = None
    times: float | None = Field(None, gt=0, le=20)


class CalendarOut(Schema):
    id: int
    kind: Literal["event", "closed"]
    name: str
    first: date
    last: date
    place: int | None
    times: float | None


class SalesOut(Schema):
    """What was sold over some weeks: by day and place; where it is known from; days that are not like others."""

    first: date
    on: list[date]
    places: list[SoldPlace]
    drinks: list[SoldDrink]
    calendar: list[CalendarOut]
    imports: list[SalesImportOut]


class SoldRow(Schema):
    """What was sold of a size of a drink."""

    drink: UUID
    size: str
    count: int
    by_hand: bool
    sold_out: bool


class SalesDayOut(Schema):
    """A day of a place."""

    on: date
    place: int
    known: bool
    rows: list[SoldRow]


class SaleCorrectionIn(Schema):
    """A count as it should be, and why. ``sold_out``: more would have been sold."""

    on: date
    place: _PlaceId
    drink: UUID
    size: Id
    count: int = Field(ge=0, le=100_000)
    sold_out: bool = False
    reason: Reason


class CorrectionOut(Schema):
    """A count that somebody corrected."""

    on: date
    place: str
    drink: str
    size: str
    before: int | None
    after: int | None
    sold_out: bool
    reason: str
    by: str
    at: datetime


class SoldNameOut(Schema):
    """What a name of a till is taken to mean."""

    key: str
    drink: UUID | None
    size: str
    left_out: bool


class TillIn(Schema):
    """A till that says over HTTP what it sold."""

    name: Title = Field(min_length=1)
    address: str = Field(min_length=8, max_length=300, pattern=r"^https?://[^\s\x00]+$")


class TillOut(Schema):
    id: int
    name: str
    address: str
    fetched_at: datetime | None


class FetchedOut(Schema):
    """What a till said, as a file to look at and import."""

    name: str
    base64: str
