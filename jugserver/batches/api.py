"""Batches over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest
from ninja import Query, Router, Status

from jugcore.batch.asks import RescueReport
from jugserver.accounts import policies
from jugserver.batches import log, services
from jugserver.batches.schemas import BatchCard, BatchOut, BatchStart, EntriesIn, EntriesKept, EntriesOut, RescueIn
from jugserver.config.problems import Problem
from jugserver.config.session import signed_in

router = Router()

_REFUSALS = {401: Problem, 403: Problem}


@router.get("", response={200: list[BatchCard], **_REFUSALS}, operation_id="batches_list")
def list_batches(request: HttpRequest) -> list[BatchCard]:
    """The site's batches, the newest first."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.cards_of(site)


@router.post("", response={201: BatchOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="batches_start")
def start_batch(request: HttpRequest, payload: BatchStart) -> Status[BatchOut]:
    """Start a batch of a version in the kitchen of today."""
    user, _ = signed_in(request)
    batch = services.start_batch(actor=user, formula_id=payload.formula, version=payload.version, scale=payload.scale, id=payload.id)
    return Status(201, batch)


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
    return log.append(actor=user, batch_id=batch_id, events=payload.events)


@router.get("/{uuid:batch_id}/entries", response={200: EntriesOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="batches_entries")
def entries(request: HttpRequest, batch_id: UUID, after: int = Query(0, ge=0, le=2_147_483_647)) -> EntriesOut:
    """Entries of a batch behind a number."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.log_of(site, batch_id, after)


@router.post("/{uuid:batch_id}/rescue", response={200: RescueReport, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="batches_rescue")
def rescue(request: HttpRequest, batch_id: UUID, payload: RescueIn) -> RescueReport:
    """What can be done about something that is off plan, from where the batch stands. Nothing is kept."""
    user, _ = signed_in(request)
    return services.rescue_batch(actor=user, id=batch_id, about=payload.about, value=payload.value)
