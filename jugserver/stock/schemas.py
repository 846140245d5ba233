"""Shapes of what is made and stands somewhere."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.fields import Id, Title
from jugcore.stock.movements import Movement, What
from jugserver.batches.schemas import BatchStart


class PlaceOut(Schema):
    id: int
    name: str
    kitchen: bool = Field(description="Where what was filled stands first.")


class PlaceIn(Schema):
    name: Title = Field(min_length=1)
    kitchen: bool = False


class ContainerOut(Schema):
    """A container as it stands."""

    id: UUID
    name: str = Field(description="What is in it.")
    batch: UUID
    batch_number: int
    number: int = Field(description="Counted within its batch.")
    kind: Literal["bottle", "rest"]
    made_on: date
    filled_g: float
    mass_g: float
    place: int | None
    opened_at: datetime | None
    frozen: bool
    gone: Literal["", "emptied", "poured away", "missing"]
    good_until: date | None
    left_days: int | None = Field(description="Of what is frozen: days once it is thawed.")
    why: str
    haste: Literal["throw", "today", "soon", "keeps", "frozen"]


class OnHandOut(Schema):
    """Of one product at one place: what may still be served."""

    formula: UUID
    name: str
    place: int | None
    containers: int
    mass_g: float
    frozen_g: float
    throw: int = Field(description="Containers that must be thrown away; none of them is counted.")
    first: date | None = Field(description="The earliest last day.")


class StockOut(Schema):
    """What is on hand, and what must go."""

    today: date
    places: list[PlaceOut]
    must_go: list[ContainerOut] = Field(description="To be thrown away or used today, in the order they are to be used.")
    on_hand: list[OnHandOut]


class ContainersOut(Schema):
    """Containers in the order they are to be used."""

    items: list[ContainerOut]
    places: list[PlaceOut]
    next: str | None


class NeedOut(Schema):
    """What a batch takes of something made here, and the bottles it may come out of, the first to use first."""

    line: str
    formula: UUID
    name: str
    version: int
    mass_g: float
    bottles: list[ContainerOut]
    offered: list[UUID] = Field(description="Those to take unless somebody chooses: of the first batch that holds enough; none where none does.")
    short_g: float = Field(description="So much must be made first, where all bottles together hold too little.")


class TakeIn(Schema):
    """The bottles a line comes out of, all of one batch."""

    line: Id
    containers: list[UUID] = Field(min_length=1, max_length=20)


class StartIn(BatchStart):
    """What to cook, and out of which bottles what is made here comes."""

    takes: list[TakeIn] = Field([], max_length=50)


class MovementOut(Schema):
    """An entry about a container."""

    id: UUID
    at: datetime
    by: str
    what: What


class ContainerWhole(Schema):
    """A container with all that was entered about it."""

    container: ContainerOut
    places: list[PlaceOut]
    movements: list[MovementOut]


class MovementIn(Schema):
    """An entry about a container."""

    container: UUID
    movement: Movement


class MovementsIn(Schema):
    """Entries, as they were made on one phone."""

    entries: list[MovementIn] = Field(min_length=1, max_length=200)


class MovementsKept(Schema):
    """The containers they were about, as they stand now."""

    containers: list[ContainerOut]
