"""Batches over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from ninja import Query, Router, Status

from jugcore.batch.requests import BatchDocument, RescueReport
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.batches import files, lists, log, services
from jugserver.batches.schemas import BatchesOut, BatchesQuery, BatchOut, BatchStart, EntriesIn, EntriesKept, EntriesOut, LabelRequest, RescueIn
from jugserver.exchange.tables import csv_pages
from jugserver.http.media import media
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem
from jugserver.http.streaming import sent_by_and_by

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}


@router.get("", response={200: BatchesOut, **_REFUSALS, 422: Problem}, operation_id="batches_list")
def list_batches(request: HttpRequest, ask: Query[BatchesQuery], cursor: Cursor = "") -> BatchesOut:
    """The site's batches, the newest first, those that are asked for; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return lists.page_of(site, _filter(ask), cursor)


@router.get("/table.csv", response={200: bytes, **_REFUSALS, 422: Problem}, operation_id="batches_table", openapi_extra=media("text/csv"))
def table(request: HttpRequest, ask: Query[BatchesQuery]) -> StreamingHttpResponse:
    """The same list as CSV, all of it, plan against actual."""
    user, site = signed_in(request)
    policies.require(user, "read")
    pages = ([files.batch_row(card) for card in page] for page in lists.all_of(site, _filter(ask)))
    response = StreamingHttpResponse(sent_by_and_by(request, csv_pages(files.BATCHES_HEAD, pages)), content_type="text/csv; charset=utf-8")
    response["Content-Disposition"] = 'attachment; filename="batches.csv"'
    return response


def _filter(ask: BatchesQuery) -> lists.Filter:
    return lists.Filter(ask.q, ask.status, ask.off_plan, ask.since, ask.until, ask.cooling, ask.use_by, ask.flow, ask.kind)


@router.post("", response={201: BatchOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="batches_start")
def start_batch(request: HttpRequest, payload: BatchStart) -> Status[BatchOut]:
    """Start a batch of a version in the kitchen of today."""
    user, site = signed_in(request)
    batch = services.start_batch(
        actor=user, formula_id=payload.formula, version=payload.version, scale=payload.scale, id=payload.id, practice=payload.practice
    )
    return Status(201, services.batch_of(site, batch.pk))


@router.get("/{uuid:batch_id}", response={200: BatchOut, **_REFUSALS, 404: Problem}, operation_id="batches_get")
def get_batch(request: HttpRequest, batch_id: UUID) -> BatchOut:
    """A batch as it is: its run sheet, its walk, its log."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.batch_of(site, batch_id)


@router.post(
    "/{uuid:batch_id}/entries",
    response={200: EntriesKept, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="batches_append",
)
def append(request: HttpRequest, batch_id: UUID, payload: EntriesIn) -> EntriesKept:
    """Keep entries made on a tablet, each once; those kept before answer with their number."""
    user, _ = signed_in(request)
    return log.append(actor=user, batch_id=batch_id, events=payload.events, how=log.Sending(payload.marks, payload.clock))


@router.get("/{uuid:batch_id}/entries", response={200: EntriesOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="batches_entries")
def entries(request: HttpRequest, batch_id: UUID, after: int = Query(0, ge=0, le=2_147_483_647)) -> EntriesOut:
    """Entries of a batch behind a number."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.log_of(site, batch_id, after)


@router.get(
    "/{uuid:batch_id}/label.pdf",
    response={200: bytes, **_REFUSALS, 404: Problem, 422: Problem},
    operation_id="batches_label",
    openapi_extra=media("application/pdf"),
)
def label(request: HttpRequest, batch_id: UUID, ask: Query[LabelRequest]) -> HttpResponse:
    """Labels for its bottles. The code on them leads to the bottles of the batch, at an address nobody can guess."""
    user, site = signed_in(request)
    policies.require(user, "read")
    address = request.build_absolute_uri(f"/bottles/of/{batch_id}")
    return _handed_out(files.label_of(site, batch_id, ask, address))


@router.get(
    "/{uuid:batch_id}/run-sheet.pdf",
    response={200: bytes, **_REFUSALS, 404: Problem},
    operation_id="batches_run_sheet",
    openapi_extra=media("application/pdf"),
)
def run_sheet(request: HttpRequest, batch_id: UUID) -> HttpResponse:
    """The run sheet on paper."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _handed_out(files.run_sheet_of(site, batch_id))


@router.get(
    "/{uuid:batch_id}/log.csv", response={200: bytes, **_REFUSALS, 404: Problem}, operation_id="batches_log_csv", openapi_extra=media("text/csv")
)
def log_table(request: HttpRequest, batch_id: UUID) -> HttpResponse:
    """Its log, a row an entry."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _handed_out(files.log_csv(site, batch_id))


@router.get("/{uuid:batch_id}/batch.json", response={200: BatchDocument, **_REFUSALS, 404: Problem}, operation_id="batches_json")
def batch_file(request: HttpRequest, batch_id: UUID) -> HttpResponse:
    """The batch whole, as the engine reads it from a shell."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _handed_out(files.batch_json(site, batch_id))


def _handed_out(file: files.File) -> HttpResponse:
    response = HttpResponse(file.data, content_type=file.type)
    response["Content-Disposition"] = f'attachment; filename="{file.name}"'
    return response


@router.post("/{uuid:batch_id}/rescue", response={200: RescueReport, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="batches_rescue")
def rescue(request: HttpRequest, batch_id: UUID, payload: RescueIn) -> HttpResponse:
    """What can be done about something that is off plan, from where the batch stands. Nothing is kept."""
    user, _ = signed_in(request)
    found = services.rescue_batch(actor=user, id=batch_id, about=payload.about, value=payload.value)
    return HttpResponse(found, content_type="application/json")
