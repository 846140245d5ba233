"""Shapes of formulas. The document and the report are the core's own."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.dosing.schema import DrinkRequest
from jugcore.fields import NO_NUL
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import EquipmentKind
from jugcore.scaling.schema import ScaleRequest
from jugcore.solving.schema import SolveRequest
from jugcore.suggesting.schema import OvershotRequest, SubstituteRequest


class JugMark(Schema):
    """What a small jug is drawn from: the bands of the product, and its yield."""

    bands: dict[str, float] = Field(description="Band → share of the volume (of mass where there is no volume).")
    mass_g: float
    volume_ml: float | None
    brix: float | None
    cost_kg: float | None = Field(None, description="Of its ingredients, per kilogram, where every one has a price.")


class FormulaCard(Schema):
    """A formula in a list."""

    id: UUID
    name: str
    family: str
    school: str
    draft: int
    touched_at: datetime
    saved_by: str | None
    mark: JugMark | None = Field(description="Nothing where the draft does not walk yet.")
    trouble: str | None = Field(description="Why the draft does not walk, if it does not.")
    purpose: str = Field("", description="What its family is for; nothing of a family that is not known here.")
    version: int | None = Field(None, description="Its newest version; nothing while it is a draft only.")
    ready: int | None = Field(None, description="The newest version that may be served.")
    on_hob: int = Field(0, description="Batches of it under way.")
    cooked: int = Field(0, description="Batches of it that were finished.")
    cooked_at: datetime | None = Field(None, description="When the last of them was started.")


class FormulasOut(Schema):
    """A page of formulas, lately touched first."""

    items: list[FormulaCard]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class FormulasQuery(Schema):
    """Which formulas are asked for."""

    q: str = Field("", max_length=200, pattern=NO_NUL, description="Words of the name, the family and the school.")
    troubled: bool = Field(False, description="Those whose draft does not walk, or has a fault.")
    family: str = Field("", max_length=200, pattern=NO_NUL, description="Those of a family, by its name.")
    state: Literal["", "draft", "ready", "on_hob"] = Field("", description="Those without a version, ready for service, or with a batch under way.")
    ids: list[UUID] | None = Field(None, max_length=100, description="These, as far as they are there.")


class CookedBefore(Schema):
    """The last batch of a formula."""

    number: int
    factor: float | None = Field(description="How many times its version it was; unknown of batches of before.")


class FormulaOut(Schema):
    """A formula with its draft."""

    id: UUID
    name: str
    draft: int = Field(description="Send it back when saving: it says which draft the change is based on.")
    touched_at: datetime
    saved_by: str | None
    document: MethodDocument
    cooked: CookedBefore | None = Field(None, description="The last batch of it, to cook as much again; none where there is no batch.")


class FormulaNew(Schema):
    """A new formula; its name is the document's."""

    document: MethodDocument


class DraftIn(Schema):
    """A change to a draft, based on the draft it was read at."""

    draft: int = Field(ge=1, le=2_147_483_647)
    document: MethodDocument


class SolveIn(Schema):
    """A document and what it should come to."""

    document: MethodDocument
    ask: SolveRequest


class SuggestionsIn(Schema):
    """A document, one of its readings, what was typed over it, and readings that must stay where they are."""

    document: MethodDocument
    reading: str = Field(max_length=80)
    value: float = Field(ge=-1e9, le=1e9, allow_inf_nan=False)
    hold: list[str] = Field([], max_length=20)


class UsedInOut(Schema):
    """A formula that another stands in."""

    formula: UUID
    name: str
    version: int | None = Field(description="Its version; nothing where it is the draft.")
    uses: int = Field(description="The version that stands in it.")
    grams_per_g: float | None = Field(description="How much of it for a gram of product; nothing of a draft.")


class DraftBase(Schema):
    """The draft a change is based on."""

    draft: int = Field(ge=1, le=2_147_483_647)


class VersionIn(Schema):
    """The draft to keep as a version, and why."""

    draft: int = Field(ge=1, le=2_147_483_647)
    note: str = Field(min_length=1, max_length=500, pattern=NO_NUL, description="What is new in it, or why it is kept.")


class ReadingThen(Schema):
    """A reading as it was when the version was saved."""

    id: str
    title: str
    unit: str
    digits: int
    value: float | None


class ReadyOut(Schema):
    """That a version may be served, or no longer: who said so, and why if not everything was answered."""

    ready: bool
    said_by: str
    said_at: datetime
    reason: str
    unanswered: list[str] = Field(description="What about its keeping was not answered then.")


class ReadyIn(Schema):
    """Whether a version may be served; a reason where something is not answered."""

    ready: bool
    reason: str = Field("", max_length=500, pattern=NO_NUL)


class VersionCard(Schema):
    """A version in a list."""

    number: int
    draft: int = Field(description="The draft it was saved from.")
    note: str
    saved_by: str
    saved_at: datetime
    fingerprint: str = Field(description="SHA-256 of the frozen document.")
    core_version: str
    readings: list[ReadingThen]
    service: ReadyOut | None = Field(None, description="What was said last of serving it.")


class VersionOut(VersionCard):
    """A version, whole: its document carries the kitchen and the substances it was saved with."""

    document: MethodDocument


class VersionsOut(Schema):
    """A formula's versions, newest first, and its draft's number and what changed in it since."""

    id: UUID
    name: str
    draft: int
    drafted_from: int | None = Field(description="The newest version, if the draft still is what it was.")
    versions: list[VersionCard]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class CompareSide(Schema):
    """One side of a comparison: a version, or the draft where no version is named."""

    formula: UUID
    version: int | None = Field(None, ge=1, le=2_147_483_647)


class CompareIn(Schema):
    """Two to four sides."""

    sides: list[CompareSide] = Field(min_length=1, max_length=8)


class SubstituteIn(Schema):
    """A document, and which of its ingredients is swapped for what."""

    document: MethodDocument
    ask: SubstituteRequest


class DrinkIn(Schema):
    """A document, and the drink a dose of it goes into."""

    document: MethodDocument
    ask: DrinkRequest


class ScaleIn(Schema):
    """A document, and how much of it to make."""

    document: MethodDocument
    ask: ScaleRequest


class CostIn(Schema):
    """A document, the formula it is of, whose log says what is poured away, and a dose."""

    document: MethodDocument
    formula: UUID | None = None
    dose_g: float | None = Field(None, gt=0, le=100_000, allow_inf_nan=False)


class HoldIn(Schema):
    """A document, and the hold of it whose places are to be compared."""

    document: MethodDocument
    stage: str = Field(max_length=64)


class ExportIn(Schema):
    """A document, and the form it is to be given out in."""

    document: MethodDocument
    form: Literal["recipe", "lines"]


class ExportOut(Schema):
    """A formula in another form, and what that form cannot hold."""

    text: str
    media: str
    ending: str
    loses: str


class EquipmentOut(Schema):
    """A kind of equipment, and the allergens that the site's formulas put into it."""

    kind: EquipmentKind
    title: str
    allergens: dict[str, list[str]] = Field(description="Allergen → names of the formulas.")


class OvershotIn(Schema):
    """A document, and the line of it of which too much went in."""

    document: MethodDocument
    ask: OvershotRequest
