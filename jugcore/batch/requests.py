"""A batch and what may be asked of it as plain data, in and out."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field, model_validator

from jugcore.batch.actual.actual_batch import ActualBatch, planned_walk
from jugcore.batch.actual.readable_log import readable
from jugcore.batch.log.arrival import Arrival
from jugcore.batch.log.events import Event, Logged
from jugcore.batch.rescue.measurement_check import measurement_checks
from jugcore.batch.rescue.rescue import rescue
from jugcore.batch.sheet.run_sheet import sheet_of
from jugcore.batch.sheet.schema import SheetReport
from jugcore.errors import BadDocument
from jugcore.fields import Part
from jugcore.method.document import MethodDocument
from jugcore.reading.report import report
from jugcore.reading.schema import WalkReport
from jugcore.suggesting.schema import MoveReport, SuggestionReport, move_report, suggestion_report


class LoggedDoc(Part):
    """An entry with its number in the log."""

    seq: int = Field(ge=1)
    event: Event
    arrival: Arrival | None = Field(None, description="How a server kept it.")


class BatchDocument(Part):
    """A batch: the document it was started from, its kitchen with it, and every entry of its log."""

    format: Literal["oakenjug.batch/1"] = "oakenjug.batch/1"
    document: MethodDocument
    log: tuple[LoggedDoc, ...] = Field((), max_length=20_000)

    @model_validator(mode="after")
    def _numbered_without_gaps(self) -> BatchDocument:
        if sorted(entry.seq for entry in self.log) != list(range(1, len(self.log) + 1)):
            raise ValueError("The entries of the log are not numbered 1, 2, 3 and so on.\nSend the whole log.")
        return self

    def logged(self) -> list[Logged]:
        """The log as the core reads it."""
        return [Logged(entry.seq, entry.event, entry.arrival) for entry in self.log]

    def actual_batch(self) -> ActualBatch:
        """The batch, walked as planned and as it is, as far as its log can be read."""
        log = self.logged()
        last = max((entry.event.at for entry in log), default=None)
        return readable(planned_walk(self.document), log, lambda found: None if last is None else sheet_of(found, log, last))[0]

    def sheet(self, now: datetime) -> SheetReport:
        """Its run sheet at a time."""
        log = self.logged()
        return readable(planned_walk(self.document), log, lambda found: sheet_of(found, log, now))[1]


class ExplanationReport(BaseModel):
    """What would make the weights and a reading agree."""

    kind: Literal["reckon", "weigh_again"]
    words: str
    line: str | None
    brix: float | None
    reads_g: float | None


class MeasurementCheckReport(BaseModel):
    """Weight and refractometer disagree by more than both can explain."""

    stage: str
    by_weight: float
    weight_spread: float
    by_reading: float
    reading_spread: float
    words: str
    explanations: list[ExplanationReport]


class RescueReport(BaseModel):
    """Something that is off plan, and what can be done about it from where the batch stands."""

    about: str
    title: str
    unit: str
    digits: int
    planned: float
    actual: float
    suggestions: list[SuggestionReport]
    why_not: list[str]
    left: list[MoveReport] = Field(description="What leaving it as it is makes of the product, against what was planned.")
    left_words: str


class BatchReport(BaseModel):
    """A batch as it is: its run sheet, its walk, and where it is in doubt."""

    sheet: SheetReport
    walk: WalkReport
    measurement_checks: list[MeasurementCheckReport]


def batch_report(batch: ActualBatch, log: list[Logged], now: datetime) -> BatchReport:
    """Everything the tablet and the log show of a batch, at a time."""
    return BatchReport(sheet=sheet_of(batch, log, now), walk=report(batch.walk), measurement_checks=measurement_check_reports(batch))


def measurement_check_reports(batch: ActualBatch) -> list[MeasurementCheckReport]:
    """Where weights and readings disagree."""
    return [MeasurementCheckReport.model_validate(asdict(doubt)) for doubt in measurement_checks(batch)]


def rescue_report(batch: ActualBatch, about: str, value: float | None = None) -> RescueReport:
    """What can be done about a reading or a line that is off plan.

    Raises BadDocument for a batch that is closed, and for what is neither a reading with a
    value nor a line that was weighed.
    """
    if batch.record.status != "running":
        raise BadDocument("batch", "This batch is at its end.", "Look at it in the log, or start another.")
    found = rescue(batch, about, value)
    return RescueReport(
        about=found.about, title=found.title, unit=found.unit, digits=found.digits, planned=found.planned, actual=found.actual,
        suggestions=[suggestion_report(way, batch.walk.method.document) for way in found.suggestions], why_not=list(found.why_not),
        left=[move_report(move) for move in found.left], left_words=found.left_words,
    )  # fmt: skip
