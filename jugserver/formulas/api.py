"""Formulas and the walk over HTTP."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Status

from jugcore.families.starters import Starters, starters
from jugcore.formula.asks import OvershotReport, ScaleReport, SolveReport, WaysReport
from jugcore.formula.compare import CompareReport
from jugcore.formula.shapes import WalkReport
from jugcore.method.document import MethodDocument
from jugserver.accounts import policies
from jugserver.config.problems import Problem
from jugserver.config.session import signed_in
from jugserver.formulas import services, versions
from jugserver.formulas.schemas import (
    CompareIn,
    DraftBase,
    DraftIn,
    FormulaCard,
    FormulaNew,
    FormulaOut,
    OvershotIn,
    ScaleIn,
    SolveIn,
    VersionCard,
    VersionIn,
    VersionOut,
    VersionsOut,
    WaysIn,
)

router = Router()
walk_router = Router()
solve_router = Router()
ways_router = Router()
scale_router = Router()
compare_router = Router()
overshot_router = Router()

_REFUSALS = {401: Problem, 403: Problem}


@walk_router.post("", response={200: WalkReport, **_REFUSALS, 422: Problem}, operation_id="walk")
def post_walk(request: HttpRequest, document: MethodDocument) -> HttpResponse:
    """Walk a document in the site's kitchen and report everything read off it."""
    user, _ = signed_in(request)
    report = services.walk_document(actor=user, document=document)
    # Written as it is: to be checked against its own schema again would double the time.
    return HttpResponse(report.model_dump_json(), content_type="application/json")


@solve_router.post("", response={200: SolveReport, **_REFUSALS, 422: Problem}, operation_id="solve")
def post_solve(request: HttpRequest, payload: SolveIn) -> HttpResponse:
    """What to change in a document so that targets hold; where they cannot, what collides and the nearest formula."""
    user, _ = signed_in(request)
    found = services.solve_document(actor=user, document=payload.document, ask=payload.ask)
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@ways_router.post("", response={200: WaysReport, **_REFUSALS, 422: Problem}, operation_id="ways")
def post_ways(request: HttpRequest, payload: WaysIn) -> HttpResponse:
    """Ways to make a reading come to a value, each with the document that does it."""
    user, _ = signed_in(request)
    found = services.ways_of_document(actor=user, document=payload.document, reading=payload.reading, value=payload.value)
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@scale_router.post("", response={200: ScaleReport, **_REFUSALS, 422: Problem}, operation_id="scale")
def post_scale(request: HttpRequest, payload: ScaleIn) -> HttpResponse:
    """A document scaled, split into cooks that pots and scales can take, and what to weigh for one of them."""
    user, _ = signed_in(request)
    found = services.scale_document(actor=user, document=payload.document, ask=payload.ask)
    return HttpResponse(found.model_dump_json(), content_type="application/json")


@overshot_router.post("", response={200: OvershotReport, **_REFUSALS, 422: Problem}, operation_id="overshot")
def post_overshot(request: HttpRequest, payload: OvershotIn) -> OvershotReport:
    """What can be done when more of a line went into a blend than was asked for."""
    user, _ = signed_in(request)
    return services.overshot_in_document(actor=user, document=payload.document, ask=payload.ask)


@router.get("", response={200: list[FormulaCard], **_REFUSALS}, operation_id="formulas_list")
def list_formulas(request: HttpRequest) -> list[FormulaCard]:
    """The site's formulas, lately touched first."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.cards_of(site)


@router.post("", response={201: FormulaOut, **_REFUSALS, 422: Problem}, operation_id="formulas_start")
def start_formula(request: HttpRequest, payload: FormulaNew) -> Status[FormulaOut]:
    """Keep a new formula."""
    user, _ = signed_in(request)
    return Status(201, services.start_formula(actor=user, document=payload.document))


@router.get("/starters", response={200: Starters, **_REFUSALS}, operation_id="formulas_starters")
def list_starters(request: HttpRequest) -> Starters:
    """What a new formula or a new stage may start from."""
    user, _ = signed_in(request)
    policies.require(user, "read")
    return starters()


@router.get("/{uuid:formula_id}", response={200: FormulaOut, **_REFUSALS, 404: Problem}, operation_id="formulas_get")
def get_formula(request: HttpRequest, formula_id: UUID) -> FormulaOut:
    """One formula with its draft."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.formula_of(site, formula_id)


@router.put(
    "/{uuid:formula_id}/draft",
    response={200: FormulaOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="formulas_save_draft",
)
def save_draft(request: HttpRequest, formula_id: UUID, payload: DraftIn) -> FormulaOut:
    """Save a draft; 409 with theirs if somebody saved first."""
    user, _ = signed_in(request)
    return services.save_draft(actor=user, id=formula_id, draft=payload.draft, document=payload.document)


@router.get("/{uuid:formula_id}/versions", response={200: VersionsOut, **_REFUSALS, 404: Problem}, operation_id="versions_list")
def list_versions(request: HttpRequest, formula_id: UUID) -> VersionsOut:
    """A formula's versions, newest first."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return versions.versions_of(site, formula_id)


@router.post(
    "/{uuid:formula_id}/versions",
    response={201: VersionCard, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="versions_save",
)
def save_version(request: HttpRequest, formula_id: UUID, payload: VersionIn) -> Status[VersionCard]:
    """Keep the draft as a version, frozen whole."""
    user, _ = signed_in(request)
    return Status(201, versions.save_version(actor=user, id=formula_id, draft=payload.draft, note=payload.note))


@router.get("/{uuid:formula_id}/versions/{int:number}", response={200: VersionOut, **_REFUSALS, 404: Problem}, operation_id="versions_get")
def get_version(request: HttpRequest, formula_id: UUID, number: Annotated[int, Path(ge=1, le=2_147_483_647)]) -> VersionOut:
    """One version, whole."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return versions.version_of(site, formula_id, number)


@router.post(
    "/{uuid:formula_id}/versions/{int:number}/draft",
    response={200: FormulaOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="versions_make_draft",
)
def make_draft_again(request: HttpRequest, formula_id: UUID, number: Annotated[int, Path(ge=1, le=2_147_483_647)], payload: DraftBase) -> FormulaOut:
    """Save a version as the next draft; 409 with theirs if somebody saved first."""
    user, _ = signed_in(request)
    return versions.make_draft_again(actor=user, id=formula_id, number=number, draft=payload.draft)


@compare_router.post("", response={200: CompareReport, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="compare")
def post_compare(request: HttpRequest, payload: CompareIn) -> CompareReport:
    """Two to four versions or drafts side by side: by line, by stage, by reading."""
    user, _ = signed_in(request)
    return versions.compare_sides(actor=user, sides=payload.sides)


@router.delete("/{uuid:formula_id}", response={204: None, **_REFUSALS, 404: Problem}, operation_id="formulas_archive")
def archive_formula(request: HttpRequest, formula_id: UUID) -> Status[None]:
    """Take a formula out of the lists."""
    user, _ = signed_in(request)
    services.archive_formula(actor=user, id=formula_id)
    return Status(204, None)


@router.post("/{uuid:formula_id}/bring-back", response={200: FormulaOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="formulas_bring_back")
def bring_back_formula(request: HttpRequest, formula_id: UUID) -> FormulaOut:
    """Put an archived formula back into the lists."""
    user, _ = signed_in(request)
    return services.bring_back_formula(actor=user, id=formula_id)
