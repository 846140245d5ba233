"""Benchmarks over HTTP."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Status

from jugcore.tasting.aim import AimReport
from jugcore.tasting.attributes import attributes
from jugcore.tasting.benchmark import BenchmarkReport
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.as_json import as_json
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem
from jugserver.tastings import services
from jugserver.tastings.schemas import AttributeOut, BenchmarkAimIn, BenchmarkIn, BenchmarkOut, BenchmarkReadIn, BenchmarksOut

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}


@router.get("", response={200: BenchmarksOut, **_REFUSALS, 422: Problem}, operation_id="benchmarks_list")
def list_benchmarks(request: HttpRequest, q: str = Query("", max_length=200, description="Words of the name."), cursor: Cursor = "") -> BenchmarksOut:
    """The site's benchmarks by name; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.page_of(site, q, cursor)


@router.get("/attributes", response={200: list[AttributeOut], **_REFUSALS}, operation_id="benchmarks_attributes")
def list_attributes(request: HttpRequest) -> list[AttributeOut]:
    """What stands on a tasting sheet, spices aside: those are the lines of the formula it is tasted beside."""
    user, _ = signed_in(request)
    policies.require(user, "read")
    return [
        AttributeOut(code=each.code, title=each.title, cup=each.cup, choices=list(each.choices), becomes_figure=each.step is not None)
        for each in attributes().values()
    ]


@router.post("", response={201: BenchmarkOut, **_REFUSALS, 422: Problem}, operation_id="benchmarks_new")
def new_benchmark(request: HttpRequest, payload: BenchmarkIn) -> Status[BenchmarkOut]:
    """Write a benchmark down."""
    user, _ = signed_in(request)
    return Status(201, services.save_benchmark(actor=user, id=None, number=0, document=payload.document))


@router.post("/read", response={200: BenchmarkReport, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="benchmarks_read")
def read_benchmark(request: HttpRequest, payload: BenchmarkReadIn) -> HttpResponse:
    """What a benchmark comes to, and how one of ours stands against it. Nothing is kept."""
    user, _ = signed_in(request)
    return as_json(services.read_benchmark(actor=user, document=payload.document, ours=payload.ours))


@router.get("/{uuid:benchmark_id}", response={200: BenchmarkOut, **_REFUSALS, 404: Problem}, operation_id="benchmarks_get")
def get_benchmark(request: HttpRequest, benchmark_id: UUID) -> BenchmarkOut:
    """One benchmark."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.benchmark_of(site, benchmark_id)


@router.put(
    "/{uuid:benchmark_id}", response={200: BenchmarkOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="benchmarks_save"
)
def save_benchmark(request: HttpRequest, benchmark_id: UUID, payload: BenchmarkIn) -> BenchmarkOut:
    """Change a benchmark; 409 with theirs if somebody changed it first."""
    user, _ = signed_in(request)
    return services.save_benchmark(actor=user, id=benchmark_id, number=payload.number, document=payload.document)


@router.delete("/{uuid:benchmark_id}", response={204: None, **_REFUSALS, 404: Problem}, operation_id="benchmarks_put_away")
def put_benchmark_away(request: HttpRequest, benchmark_id: UUID) -> Status[None]:
    """Take a benchmark out of the list."""
    user, _ = signed_in(request)
    services.put_benchmark_away(actor=user, id=benchmark_id)
    return Status(204, None)


@router.post("/{uuid:benchmark_id}/aim", response={200: AimReport, **_REFUSALS, 404: Problem, **_COMPUTED}, operation_id="benchmarks_aim")
def aim_at_benchmark(request: HttpRequest, benchmark_id: UUID, payload: BenchmarkAimIn) -> HttpResponse:
    """A formula as it would be to come near a benchmark, with both on common axes. Nothing is kept."""
    user, _ = signed_in(request)
    found = services.aim_at_benchmark(actor=user, id=benchmark_id, document=payload.document, chosen=payload.chosen, same_size=payload.same_size)
    return as_json(found)
