"""What is asked and answered about drinks."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from ninja import Field, Schema

from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.schema import DrinkWaysRequest, EvenOutRequest, SwapsRequest
from jugcore.fields import NO_NUL


class DoseRowOut(Schema):
    """A product in a drink: how much of it goes into each size; None where a size has none."""

    drink: str
    product: str
    stroke_ml: float | None
    amounts: list[str | None]


class DosesOut(Schema):
    """Doses of everything that is served: drinks over sizes."""

    sizes: list[str]
    rows: list[DoseRowOut]


class DrinkNew(Schema):
    """A new drink."""

    document: DrinkDocument


class DrinkDraftIn(Schema):
    """A change to a drink's draft, based on the draft it was read at."""

    draft: int = Field(ge=1, le=2_147_483_647)
    document: DrinkDocument


class DrinkBase(Schema):
    """The draft a change is based on."""

    draft: int = Field(ge=1, le=2_147_483_647)


class DrinkReadyOut(Schema):
    """That a version of a drink may be served, or no longer: who said so, and why if something was against it."""

    ready: bool
    said_by: str
    said_at: datetime
    reason: str
    unanswered: list[str]


class DrinkOut(Schema):
    """A drink with its draft, and the version that is served."""

    id: UUID
    name: str
    draft: int
    touched_at: datetime
    saved_by: str
    newest_version: int | None
    served_version: int | None = Field(description="The newest version that is ready for service.")
    drafted_from: int | None = Field(description="The newest version, if the draft still is what it was.")
    document: DrinkDocument


class DrinkSizeCard(Schema):
    """A size in the list of drinks."""

    name: str
    cup_ml: float
    price: float | None


class DrinkCard(Schema):
    """A drink in the list."""

    id: UUID
    name: str
    draft: int
    touched_at: datetime
    sizes: list[DrinkSizeCard]
    newest_version: int | None
    served_version: int | None
    made_with: list[str] = Field(description="What of ours goes in.")
    trouble: str | None = Field(description="Why its draft cannot be worked out.")


class DrinksOut(Schema):
    """A page of the site's drinks, lately touched first."""

    items: list[DrinkCard]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class DrinkVersionIn(Schema):
    """The draft to keep as a version, and why."""

    draft: int = Field(ge=1, le=2_147_483_647)
    note: str = Field(min_length=1, max_length=500, pattern=NO_NUL, description="What is new in it, or why it is kept.")


class DrinkReadyIn(Schema):
    """Whether a version of a drink may be served; a reason where something is against it."""

    ready: bool
    reason: str = Field("", max_length=500, pattern=NO_NUL)


class DrinkVersionCard(Schema):
    """A version of a drink in a list."""

    number: int
    draft: int
    note: str
    saved_by: str
    saved_at: datetime
    fingerprint: str
    core_version: str
    service: DrinkReadyOut | None = Field(None, description="What was said last of serving it.")


class DrinkVersionOut(DrinkVersionCard):
    """A version of a drink, whole."""

    document: DrinkDocument


class DrinkVersionsOut(Schema):
    """A drink's versions, newest first."""

    id: UUID
    name: str
    draft: int
    versions: list[DrinkVersionCard]
    next: str | None


class EvenOutIn(Schema):
    """A drink, and which reading is to be the same in every size."""

    document: DrinkDocument
    ask: EvenOutRequest


class UseInSize(Schema):
    """How much of it is in a cup of a size; none where it is not in that size."""

    id: str
    name: str
    grams: float | None


class InDrinkUse(Schema):
    """A drink that a formula goes into."""

    drink: UUID
    name: str
    version: int | None = Field(description="The version that is served; none of a draft.")
    uses: int = Field(description="Which version of the formula.")
    sizes: list[UseInSize]


class DrinkWaysIn(Schema):
    """A drink, and what a reading of one size is to come to."""

    document: DrinkDocument
    ask: DrinkWaysRequest


class SwapsIn(Schema):
    """A drink, and what is tried in place of one component."""

    document: DrinkDocument
    ask: SwapsRequest
