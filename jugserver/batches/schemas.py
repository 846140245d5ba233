"""Shapes of batches. The document, the entries and the report are the core's own."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from ninja import Schema
from pydantic import AwareDatetime, Field

from jugcore.batch.log.events import Event
from jugcore.batch.requests import BatchReport, LoggedDoc
from jugcore.batch.sheet.summary import BatchSummary
from jugcore.fields import NO_NUL
from jugcore.method.document import MethodDocument
from jugcore.scaling.schema import ScaleRequest

#: Cooked, or only practised.
BatchKind = Literal["real", "practice"]


class BatchStart(Schema):
    """What to cook: a version of a formula, and how much of it; as the version says if that is left out."""

    id: UUID | None = Field(None, description="Made by the tablet, so that starting twice starts once.")
    formula: UUID
    version: int = Field(ge=1, le=2_147_483_647)
    scale: ScaleRequest | None = None
    practice: bool = Field(False, description="Whether it is only practised: it fills no bottle, and nothing of it counts.")


class BatchCard(BatchSummary):
    """A batch in a list."""

    id: UUID
    kind: BatchKind
    number: int
    name: str
    formula: UUID
    version: int
    factor: float | None = Field(None, description="How many times its version it is; unknown of batches of before.")
    started_at: datetime
    started_by: str
    touched_at: datetime
    last_seq: int
    use_by: date | None = Field(None, description="The last day, as far as it was known when it was read.")


class BatchesOut(Schema):
    """A page of batches, the newest first."""

    items: list[BatchCard]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class Who(Schema):
    """Somebody who may cook here, as the log names them."""

    username: str
    name: str


class AllergenOut(Schema):
    """An allergen as its label has it; why, where the version and what was entered differ."""

    allergen: str
    certain: bool
    why: str = ""


class LastTime(Schema):
    """The last finished batch of the same formula, and how long its stages took."""

    number: int
    started_at: datetime
    times: float | None = Field(description="How many times as much of this one it was; unknown where either's factor is.")
    minutes: dict[str, float] = Field(description="Minutes from begun to done, by stage; only of stages with both entries.")


class BatchOut(Schema):
    """A batch as it is."""

    id: UUID
    kind: BatchKind
    number: int
    name: str
    formula: UUID
    version: int
    version_note: str
    factor: float | None = Field(None, description="How many times its version it is; unknown of batches of before.")
    last_time: LastTime | None = Field(None, description="The last finished batch of the same formula before this one.")
    started_at: datetime
    started_by: str
    document: MethodDocument
    report: BatchReport
    use_by: date | None = Field(description="The last day, the day of making being day one.")
    use_by_words: str = Field(description="What stands on the label where there is no day.")
    use_by_why: str = Field(description="What decides it, or what must be known first.")
    allergens: list[AllergenOut] = Field(description="On its label: those of the version and of what was entered.")
    people: list[Who]
    as_of: datetime = Field(description="The server's clock when this was read.")


class EntriesIn(Schema):
    """Entries made on a tablet, in the order they were made."""

    events: list[Event] = Field(min_length=1, max_length=500)
    marks: dict[UUID, Annotated[str, Field(max_length=400)]] = Field(
        {}, max_length=500, description="By entry, the mark of the session it was made in; without one it is its sender's."
    )
    clock: AwareDatetime | None = Field(None, description="What the tablet's clock shows as it sends them.")


class EntryKept(Schema):
    """An entry and the number it has in the log."""

    id: UUID
    seq: int


class EntriesKept(Schema):
    """What was kept, and the newest number of the log."""

    kept: list[EntryKept]
    seq: int


class EntriesOut(Schema):
    """Entries behind a number."""

    seq: int
    entries: list[LoggedDoc]


class RescueIn(Schema):
    """What is off: a reading, or ``line:<id>``; for a reading, what it should be."""

    about: str = Field(max_length=80)
    value: float | None = None


class BatchesQuery(Schema):
    """Which batches are asked for."""

    q: str = Field("", max_length=200, pattern=NO_NUL, description="Words of the name, the number, who started it, notes and reasons.")
    status: Literal["", "running", "ended", "finished", "stopped"] = Field("", description="Ended are those that were finished or stopped.")
    kind: BatchKind = "real"
    off_plan: bool = False
    cooling: bool = Field(False, description="Those that cool and are not shown cold yet.")
    flow: bool = Field(False, description="Those that were timed through a funnel the day after.")
    use_by: date | None = Field(None, description="Those to be used by that day at the latest.")
    since: date | None = None
    until: date | None = None


class LabelRequest(Schema):
    """What stands on a label beside what the batch says itself."""

    dose: str = Field("", max_length=120, pattern=NO_NUL, description="As it is to stand there: 20 g in a Regular.")
    store: Literal["chilled", "cool", "frozen"] = "chilled"
    size: Literal["90x60", "62x40"] = "90x60"
    copies: int = Field(1, ge=1, le=200)
    which: Literal["made", "opened"] = Field("made", description="The bottle's label, or a second one for the day it is opened.")
    opened: Literal["may_stand_out", "keep_chilled", "discard_four_hours"] = Field("keep_chilled", description="What the second one says.")
    paper: Literal["label", "a4"] = Field("label", description="A page a label, or sheets of A4 to cut.")
