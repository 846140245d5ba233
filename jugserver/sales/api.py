"""What was sold, over HTTP."""

from __future__ import annotations

from datetime import date
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Query, Router, Status

from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.problems import Problem
from jugserver.sales import imports, services, tills
from jugserver.sales.schemas import (
    CalendarIn,
    CalendarOut,
    CorrectionOut,
    FetchedOut,
    SaleCorrectionIn,
    SalesDayOut,
    SalesFileIn,
    SalesImportIn,
    SalesImportOut,
    SalesOut,
    SalesPreview,
    SoldNameOut,
    TillIn,
    TillOut,
)

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_ID = Annotated[int, Path(ge=1, le=9_000_000_000)]


@router.get("", response={200: SalesOut, **_REFUSALS, 422: Problem}, operation_id="sales")
def get_sales(request: HttpRequest, weeks: Annotated[int, Query(ge=1, le=services.MOST_WEEKS)] = 9) -> SalesOut:
    """What was sold over the last weeks, by day and place; imports; days that are not like others."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.sales_of(site, weeks)


@router.post("/read", response={200: SalesPreview, **_REFUSALS, 422: Problem, 503: Problem}, operation_id="sales_read")
def post_read(request: HttpRequest, payload: SalesFileIn) -> SalesPreview:
    """What a file of sales says and what it would change. Nothing is kept."""
    user, _ = signed_in(request)
    return imports.preview(actor=user, file=payload)


@router.post("/import", response={200: SalesImportOut, **_REFUSALS, 422: Problem, 503: Problem}, operation_id="sales_import")
def post_import(request: HttpRequest, payload: SalesImportIn) -> SalesImportOut:
    """Keep what a file says; the same file twice changes nothing."""
    user, _ = signed_in(request)
    return imports.import_sales(actor=user, file=payload)


@router.post("/imports/{uuid:import_id}/undo", response={200: SalesOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_undo_import")
def post_undo(request: HttpRequest, import_id: UUID) -> SalesOut:
    """Take out what the newest import brought."""
    user, site = signed_in(request)
    imports.undo_import(actor=user, id=import_id)
    return services.sales_of(site, 9)


@router.get("/day", response={200: SalesDayOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_day")
def get_day(request: HttpRequest, on: date, place: Annotated[int, Query(ge=1, le=9_000_000_000)]) -> SalesDayOut:
    """What was sold at a place on a day."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.day_of(site, on, place)


@router.get("/corrections", response={200: list[CorrectionOut], **_REFUSALS}, operation_id="sales_corrections")
def list_corrections(request: HttpRequest) -> list[CorrectionOut]:
    """Counts that were corrected by hand lately."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return list(services.corrections_of(site))


@router.post("/corrections", response={200: SalesDayOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_correct")
def post_correction(request: HttpRequest, payload: SaleCorrectionIn) -> SalesDayOut:
    """Set a count by hand, with a reason."""
    user, _ = signed_in(request)
    return services.correct(actor=user, correction=payload)


@router.post("/calendar", response={201: list[CalendarOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_calendar_add")
def add_calendar(request: HttpRequest, payload: CalendarIn) -> Status[list[CalendarOut]]:
    """Mark days on which something goes on or a place is closed."""
    user, _ = signed_in(request)
    return Status(201, services.save_calendar(actor=user, id=None, entry=payload))


@router.put("/calendar/{int:id}", response={200: list[CalendarOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_calendar_save")
def save_calendar(request: HttpRequest, id: _ID, payload: CalendarIn) -> list[CalendarOut]:
    """Change how days are marked."""
    user, _ = signed_in(request)
    return services.save_calendar(actor=user, id=id, entry=payload)


@router.delete("/calendar/{int:id}", response={204: None, **_REFUSALS, 404: Problem}, operation_id="sales_calendar_delete")
def delete_calendar(request: HttpRequest, id: _ID) -> Status[None]:
    """Days are like others again."""
    user, _ = signed_in(request)
    services.delete_calendar(actor=user, id=id)
    return Status(204, None)


@router.get("/names", response={200: list[SoldNameOut], **_REFUSALS}, operation_id="sales_names")
def list_names(request: HttpRequest) -> list[SoldNameOut]:
    """What names of tills are taken to mean."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return list(services.names_of(site))


@router.delete("/names", response={200: list[SoldNameOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="sales_forget_name")
def forget_name(request: HttpRequest, key: Annotated[str, Query(min_length=1, max_length=500)]) -> list[SoldNameOut]:
    """Ask again what a name means when it comes next."""
    user, _ = signed_in(request)
    return list(services.forget_name(actor=user, key=key))


@router.get("/tills", response={200: list[TillOut], **_REFUSALS}, operation_id="tills_list")
def list_tills(request: HttpRequest) -> list[TillOut]:
    """Tills that can be asked what they sold."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return list(services.tills_of(site))


@router.post("/tills", response={201: list[TillOut], **_REFUSALS, 422: Problem}, operation_id="tills_add")
def add_till(request: HttpRequest, payload: TillIn) -> Status[list[TillOut]]:
    """Name a till and where it answers."""
    user, _ = signed_in(request)
    return Status(201, list(services.save_till(actor=user, id=None, till=payload)))


@router.put("/tills/{int:id}", response={200: list[TillOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="tills_save")
def save_till(request: HttpRequest, id: _ID, payload: TillIn) -> list[TillOut]:
    """Rename a till, or say where it answers now."""
    user, _ = signed_in(request)
    return list(services.save_till(actor=user, id=id, till=payload))


@router.delete("/tills/{int:id}", response={200: list[TillOut], **_REFUSALS, 404: Problem}, operation_id="tills_archive")
def archive_till(request: HttpRequest, id: _ID) -> list[TillOut]:
    """Ask a till no more."""
    user, _ = signed_in(request)
    return list(services.archive_till(actor=user, id=id))


@router.post("/tills/{int:id}/fetch", response={200: FetchedOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="tills_fetch")
def post_fetch(request: HttpRequest, id: _ID) -> FetchedOut:
    """Ask a till what it sold; its answer is a file to look at and import."""
    user, _ = signed_in(request)
    return tills.fetch(actor=user, id=id)
