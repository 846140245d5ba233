"""What is made and stands somewhere, over HTTP."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router, Status

from jugcore.fields import NO_NUL
from jugcore.scaling.schema import ScaleRequest
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.batches.schemas import BatchOut
from jugserver.batches.services import batch_of
from jugserver.http.media import media
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem
from jugserver.stock import recall, services, starting
from jugserver.stock.schemas import (
    BarIn,
    BarOut,
    ContainersOut,
    ContainerWhole,
    MovementsIn,
    MovementsKept,
    NeedOut,
    OpenLot,
    OriginOut,
    PlaceIn,
    PlaceOut,
    RecallOut,
    StartIn,
    StockOut,
)

router = Router()
places_router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_Number = Annotated[int, Path(ge=1, le=9_000_000_000)]
_Key = Annotated[str, Query(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
_LotCode = Annotated[str, Query(min_length=1, max_length=100, pattern=NO_NUL)]


@router.get("", response={200: StockOut, **_REFUSALS}, operation_id="stock")
def get_stock(request: HttpRequest) -> StockOut:
    """What is on hand by product and place, and what must be thrown away or used today."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return services.stock_of(site, user)


@router.get("/containers.csv", response={200: bytes, **_REFUSALS}, operation_id="stock_csv", openapi_extra=media("text/csv"))
def get_stock_csv(request: HttpRequest) -> HttpResponse:
    """Every container that is there, first to expire first, as a table."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _table("bottles", services.stock_csv(site))


@router.get(
    "/containers/{uuid:container_id}/label.pdf", response={200: bytes, **_REFUSALS, 404: Problem}, operation_id="stock_opened_label",
    openapi_extra=media("application/pdf"),
)  # fmt: skip
def get_opened_label(request: HttpRequest, container_id: UUID) -> HttpResponse:
    """The second label of a container, for the day it is opened: when that was, and until when it is good then."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    file = services.opened_label(site, container_id, request.build_absolute_uri(f"/bottles/{container_id}"))
    answer = HttpResponse(file.data, content_type=file.type)
    answer["Content-Disposition"] = f'inline; filename="{file.name}"'
    return answer


@router.get("/containers", response={200: ContainersOut, **_REFUSALS, 422: Problem}, operation_id="stock_containers")
def list_containers(
    request: HttpRequest, batch: UUID | None = None, formula: UUID | None = None,
    stage: Annotated[str | None, Query(pattern=r"^[A-Za-z0-9_-]{0,64}$")] = None,
    place: Annotated[int | None, Query(ge=1, le=9_000_000_000)] = None, cursor: Cursor = "",
) -> ContainersOut:  # fmt: skip
    """The containers that are there, first to expire first: of a batch, of a formula, at a place."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return services.containers_of(site, batch=batch, formula=formula, stage=stage, place=place, cursor=cursor)


@router.get("/containers/{uuid:container_id}", response={200: ContainerWhole, **_REFUSALS, 404: Problem}, operation_id="stock_container")
def get_container(request: HttpRequest, container_id: UUID) -> ContainerWhole:
    """One container, with all that was entered about it."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return services.container_of(site, container_id)


@router.post(
    "/entries", response={200: MovementsKept, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="stock_enter"
)  # fmt: skip
def enter_movements(request: HttpRequest, payload: MovementsIn) -> MovementsKept:
    """Enter what became of containers. Every entry has an id of its own: sent twice it is kept once."""
    user, _ = signed_in(request)
    return services.enter(actor=user, entries=payload.entries)


@router.get("/recall", response={200: RecallOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="stock_recall")
def get_recall(request: HttpRequest, ingredient: _Key, lot: _LotCode) -> RecallOut:
    """From a lot of an ingredient to every batch and container it is in or may be in."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return recall.recall_of(site, ingredient, lot)


@router.get(
    "/recall.csv", response={200: bytes, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="stock_recall_csv", openapi_extra=media("text/csv")
)  # fmt: skip
def get_recall_csv(request: HttpRequest, ingredient: _Key, lot: _LotCode) -> HttpResponse:
    """The containers of a recall as a table."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _table("recall", recall.recall_csv(site, ingredient, lot))


@router.get("/containers/{uuid:container_id}/origin", response={200: OriginOut, **_REFUSALS, 404: Problem}, operation_id="stock_origin")
def get_origin(request: HttpRequest, container_id: UUID) -> OriginOut:
    """Back from a container to every lot that is in it, through whatever it was made with."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return recall.origin_of_container(site, container_id)


@router.get(
    "/batches/{uuid:batch_id}/origin.csv", response={200: bytes, **_REFUSALS, 404: Problem}, operation_id="stock_origin_csv",
    openapi_extra=media("text/csv"),
)  # fmt: skip
def get_origin_csv(request: HttpRequest, batch_id: UUID) -> HttpResponse:
    """What went into a batch and into those it was made with, lot by lot, as a table."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _table("origin", recall.origin_csv(site, batch_id))


@router.get("/batches/{uuid:batch_id}/lots", response={200: dict[str, list[OpenLot]], **_REFUSALS, 404: Problem}, operation_id="stock_open_lots")
def get_open_lots(request: HttpRequest, batch_id: UUID) -> dict[str, list[OpenLot]]:
    """By line of a batch, the lots that may be what stands open."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return recall.open_lots(site, batch_id)


def _table(name: str, text: str) -> HttpResponse:
    answer = HttpResponse(text, content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = f'attachment; filename="{name}.csv"'
    return answer


@router.get("/needs", response={200: list[NeedOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="stock_needs")
def get_needs(
    request: HttpRequest, formula: UUID, version: Annotated[int, Query(ge=1, le=2_147_483_647)],
    times: Annotated[float, Query(gt=0, le=1000, allow_inf_nan=False)] = 1.0,
) -> list[NeedOut]:  # fmt: skip
    """What a batch of a version, so many times as much, takes of what is made here, and out of which bottles it may come."""
    user, site = signed_in(request)
    policies.require(user, "read")
    scale = None if times == 1.0 else ScaleRequest(by="factor", value=times)
    return starting.needs_of(site, formula, version, scale)


@router.post("/batches", response={201: BatchOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="stock_start")
def start_from_bottles(request: HttpRequest, payload: StartIn) -> Status[BatchOut]:
    """Start a batch whose own products come out of bottles there are, as these were measured."""
    user, site = signed_in(request)
    return Status(201, batch_of(site, starting.start(actor=user, ask=payload).pk))


@places_router.get("/bars", response={200: list[BarOut], **_REFUSALS}, operation_id="places_bars")
def list_bars(request: HttpRequest) -> list[BarOut]:
    """Who signs in as a bar, and where each stands."""
    user, site = signed_in(request)
    policies.require(user, "edit_kitchen")
    return services.bars_of(site)


@places_router.put("/bars/{username}", response={200: list[BarOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="places_place_bar")
def place_bar(request: HttpRequest, username: Annotated[str, Path(max_length=150, pattern=NO_NUL)], payload: BarIn) -> list[BarOut]:
    """Say at which place a bar's sign-in stands."""
    user, _ = signed_in(request)
    return services.place_bar(actor=user, username=username, place=payload.place)


@places_router.get("", response={200: list[PlaceOut], **_REFUSALS}, operation_id="places_list")
def list_places(request: HttpRequest) -> list[PlaceOut]:
    """Where containers may stand."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return services.places_of(site)


@places_router.post("", response={201: list[PlaceOut], **_REFUSALS, 422: Problem}, operation_id="places_new")
def new_place(request: HttpRequest, payload: PlaceIn) -> Status[list[PlaceOut]]:
    """Name a new place."""
    user, _ = signed_in(request)
    return Status(201, services.save_place(actor=user, id=None, place=payload))


@places_router.put("/{place_id}", response={200: list[PlaceOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="places_save")
def save_place(request: HttpRequest, place_id: _Number, payload: PlaceIn) -> list[PlaceOut]:
    """Rename a place, or make it the kitchen."""
    user, _ = signed_in(request)
    return services.save_place(actor=user, id=place_id, place=payload)


@places_router.delete("/{place_id}", response={200: list[PlaceOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="places_archive")
def archive_place(request: HttpRequest, place_id: _Number) -> list[PlaceOut]:
    """Archive a place where nothing stands."""
    user, _ = signed_in(request)
    return services.archive_place(actor=user, id=place_id)
