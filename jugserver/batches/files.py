"""A batch as files: its label, its run sheet, its log, itself."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import UUID

from django.http import Http404
from django.utils import timezone

from jugcore.batch.actual.label_entries import allergens_on_label, days_on_label, last_day_in_words, shared_on_label
from jugcore.batch.requests import BatchDocument, LoggedDoc
from jugcore.batch.sheet.kept_aside import allergens_aside, kept_aside
from jugcore.batch.sheet.run_sheet import sheet_of
from jugcore.batch.sheet.schema import SheetReport
from jugcore.errors import BadDocument
from jugcore.reading.report import report
from jugserver.accounts.models import Site
from jugserver.batches.models import Batch
from jugserver.batches.reading import reckoned, walked
from jugserver.batches.schemas import BatchCard, LabelRequest
from jugserver.batches.states import last_day_aside, last_day_of
from jugserver.exchange.label import Label, label_pdf
from jugserver.exchange.run_sheet import run_sheet_pdf
from jugserver.exchange.tables import Cell, csv_text


@dataclass(frozen=True)
class File:
    """A file to hand out."""

    name: str
    type: str
    data: bytes


def _batch(site: Site, id: UUID) -> Any:
    batch = Batch.objects.of_site(site).in_full().filter(pk=id).first()
    if batch is None:
        raise Http404
    return batch


def _sheet(batch: Any) -> SheetReport:
    return reckoned(batch, lambda found, log: sheet_of(found, log, timezone.now()))[2]


def _name(batch: Any, ending: str) -> str:
    plain = "".join(letter if letter.isascii() and letter.isalnum() else "-" for letter in batch.name).strip("-").lower()
    return f"{plain or 'batch'}-{batch.number:04d}{ending}"


def label_of(
    site: Site, id: UUID, ask: LabelRequest, address: str, *, opened_at: datetime | None = None, good_until: date | None = None, stage: str = ""
) -> File:
    """The label of a batch, so many times. Allergens are those of what went in; when a container was opened stands on its second label.

    With ``stage`` it is the label of what that step left beside the product and was kept. Raises Http404 where it left nothing.
    """
    batch = _batch(site, id)
    if batch.practised:
        raise BadDocument("batch", "This was only practised: there is nothing to label.", "Start a batch to cook, and label that.")
    found, _ = walked(batch)
    made = timezone.localtime(batch.started_at).date()
    kept = kept_aside(found, stage) if stage else None
    last = last_day_aside(site, batch, found, stage) if stage else last_day_of(site, batch, found)
    if last is None or (stage and kept is None):
        raise Http404
    day, words = last_day_in_words(last, days_on_label(found), frozen=ask.store == "frozen")
    allergens = allergens_on_label(found) if kept is None else allergens_aside(found, kept)
    label = Label(
        name=batch.name if kept is None else f"{batch.name}: {kept.title}",
        batch=batch.number, made=made, use_by=day, use_by_words=words, store=ask.store, dose=ask.dose.strip(),
        contains=tuple(each.allergen for each in allergens if each.certain),
        may_contain=tuple(each.allergen for each in allergens if not each.certain), shared=tuple(shared_on_label(found)),
        list_name="14 EU allergens", address=address,
        unknown=tuple(swap.substance.replace("_", " ") for swap in found.record.swaps.values() if not found.knows(swap)),
        which=ask.which, opened=ask.opened, opened_at=None if opened_at is None else timezone.localtime(opened_at), good_until=good_until,
    )  # fmt: skip
    ending = "-label.pdf" if ask.which == "made" else "-opened-label.pdf"
    return File(_name(batch, ending), "application/pdf", label_pdf(label, ask.size, ask.copies, ask.paper))


def run_sheet_of(site: Site, id: UUID) -> File:
    """The run sheet of a batch on paper, with what was entered so far."""
    batch = _batch(site, id)
    sheet, (found, _) = _sheet(batch), walked(batch)
    started = timezone.localtime(batch.started_at)
    cold_c = found.walk.kitchen.holding_c if report(found.walk).keeping.cooling is not None else None
    data = run_sheet_pdf(
        name=batch.name, batch=batch.called, version=batch.version.number, started=started, by=str(batch.started_by), sheet=sheet, cold_c=cold_c
    )
    return File(_name(batch, "-run-sheet.pdf"), "application/pdf", data)


def log_csv(site: Site, id: UUID) -> File:
    """Every entry of a batch's log, a row each, what was taken back among them."""
    batch = _batch(site, id)
    sheet = _sheet(batch)
    head = (
        "number", "at", "by", "tablet", "kind", "step", "entry", "taken back", "arrived", "sent by", "named", "tablet's time", "time cannot be",
        "not counted",
    )  # fmt: skip
    rows = [
        (
            line.seq, line.at, line.by, line.device, line.kind, line.stage, line.words, line.undone, line.received_at, line.sent_by, line.said_by,
            line.said_at, line.time_cannot_be, line.aside,
        )
        for line in sheet.log
    ]  # fmt: skip
    return File(_name(batch, "-log.csv"), "text/csv; charset=utf-8", csv_text(head, rows).encode())


def batch_json(site: Site, id: UUID) -> File:
    """A batch as the engine reads it from a shell: what it was started from, and its whole log."""
    batch = _batch(site, id)
    found, log = walked(batch)
    whole = BatchDocument(document=found.document, log=tuple(LoggedDoc(seq=entry.seq, event=entry.event, arrival=entry.arrival) for entry in log))
    return File(_name(batch, ".json"), "application/json", whole.model_dump_json(indent=1, exclude_none=True).encode())


#: The head of a list of batches, plan against actual.
BATCHES_HEAD = (
    "batch", "formula", "version", "status", "started", "started by", "ended", "planned g", "yield g", "weighed", "planned °Bx", "°Bx",
    "off plan", "thrown away g", "use by", "notes",
)  # fmt: skip


def batch_row(card: BatchCard) -> tuple[Cell, ...]:
    """A batch as a row of that list."""
    return (
        card.number, card.name, card.version, card.status, card.started_at, card.started_by, card.closed_at, round(card.planned_yield_g, 1),
        round(card.yield_g, 1), card.yield_measured, _one(card.planned_brix), _one(card.brix), card.off_plan, round(card.waste_g, 2), card.use_by,
        card.words,
    )  # fmt: skip


def _one(value: float | None) -> float | None:
    return None if value is None else round(value, 1)
