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


class BarOut(Schema):
    """A bar's own sign-in, and the place it stands at."""

    username: str
    name: str
    place: int | None


class BarIn(Schema):
    """Where a bar's sign-in stands."""

    place: int | None = Field(None, ge=1, le=9_000_000_000)


class ContainerOut(Schema):
    """A container as it stands."""

    id: UUID
    name: str = Field(description="What is in it.")
    batch: UUID
    batch_number: int
    number: int = Field(description="Counted within its batch.")
    kind: Literal["bottle", "rest", "aside"] = Field(description="A bottle, a kept rest, or what a step left beside the product.")
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
    stage: str = Field(description="Of what was kept aside, the step that left it; else empty.")
    name: str
    place: int | None
    containers: int
    rests: int = Field(description="Of those, what was kept in something else than a bottle.")
    mass_g: float
    doses: int | None = Field(description="Whole doses out of each container; none where nothing that is served says what a dose is.")
    dose_g: float | None
    frozen_g: float
    throw: int = Field(description="Containers that must be thrown away; none of them is counted.")
    first: date | None = Field(description="The earliest last day.")


class StockOut(Schema):
    """What is on hand, and what must go."""

    today: date
    here: int | None = Field(description="The place of the bar that asks; all of it is what stands there.")
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


class RecalledBatch(Schema):
    """A batch that a lot is in, or may be in where nobody said which lot went in."""

    id: UUID
    number: int
    name: str
    started_at: datetime
    sure: bool
    how: Literal["weighed", "not said", "made with"]
    grams: float
    via: int | None = Field(description="The batch it was made with, by number.")


class RecalledContainer(Schema):
    """A container of such a batch, there or gone."""

    sure: bool
    served_g: float
    poured_g: float
    container: ContainerOut


class RecallOut(Schema):
    """From a lot to every batch and container."""

    ingredient: Id
    title: str
    lot: str
    known: bool = Field(description="Whether the pantry knows the lot; else it goes by what was said at the hob.")
    supplier: str
    supplier_contact: str = Field(description="How to reach them.")
    received_on: date | None
    used_up_on: date | None
    mass_g: float | None
    weighed_g: float = Field(description="Of it, by the logs.")
    batches: list[RecalledBatch]
    containers: list[RecalledContainer] = Field(description="What is still there first.")
    places: list[PlaceOut]
    there: int
    gone: int
    words: str


class OriginLot(Schema):
    """An ingredient of a batch and its lot; the code is empty where nobody said."""

    ingredient: Id
    title: str
    code: str
    supplier: str
    grams: float


class OriginBatch(Schema):
    """A batch and what went into it; those it was made with stand behind it."""

    id: UUID
    number: int
    name: str
    started_at: datetime
    lots: list[OriginLot]


class OriginOut(Schema):
    """Back from a batch, or a container of it, to every lot."""

    batches: list[OriginBatch]


class OpenLot(Schema):
    """A lot that may be what stands open: offered at the hob."""

    code: str
    opened: bool
    best_before: date | None
    last_used: bool = Field(description="Whether it went into the newest batch that said so.")
    chosen: bool = Field(description="Whether it is taken unless the cook says otherwise: it alone stands open.")


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
