"""Formulas and the walk over HTTP."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from django.http import HttpRequest
from ninja import Path, Query, Router, Status

from jugcore.exchange.compare import CompareReport
from jugcore.families.starters import Starters, starters
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.formulas import lists, made_here, services, versions
from jugserver.formulas.schemas import (
    CompareIn,
    DraftBase,
    DraftIn,
    FormulaNew,
    FormulaOut,
    FormulasOut,
    FormulasQuery,
    ReadyIn,
    UsedInOut,
    VersionCard,
    VersionIn,
    VersionOut,
    VersionsOut,
)
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem

router = Router()
compare_router = Router()

_REFUSALS = {401: Problem, 403: Problem}


@router.get("", response={200: FormulasOut, **_REFUSALS, 422: Problem}, operation_id="formulas_list")
def list_formulas(request: HttpRequest, ask: Query[FormulasQuery], cursor: Cursor = "") -> FormulasOut:
    """The site's formulas, lately touched first, those that are asked for; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return lists.page_of(site, lists.Filter(ask.q, ask.troubled, ask.ids, ask.family, ask.state), cursor)


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


@router.get("/{uuid:formula_id}/versions", response={200: VersionsOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="versions_list")
def list_versions(request: HttpRequest, formula_id: UUID, cursor: Cursor = "") -> VersionsOut:
    """A formula's versions, newest first; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return versions.versions_of(site, formula_id, cursor)


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


@router.post(
    "/{uuid:formula_id}/versions/{int:number}/ready",
    response={200: VersionCard, **_REFUSALS, 404: Problem, 422: Problem},
    operation_id="versions_ready",
)
def say_ready(request: HttpRequest, formula_id: UUID, number: Annotated[int, Path(ge=1, le=2_147_483_647)], payload: ReadyIn) -> VersionCard:
    """Say that a version may be served, or no longer; an unanswered question about its keeping wants a reason, which is kept."""
    user, _ = signed_in(request)
    return versions.say_ready(actor=user, id=formula_id, number=number, ready=payload.ready, reason=payload.reason)


@router.get("/{uuid:formula_id}/used-in", response={200: list[UsedInOut], **_REFUSALS, 404: Problem}, operation_id="formulas_used_in")
def list_used_in(request: HttpRequest, formula_id: UUID) -> list[UsedInOut]:
    """The formulas that a formula stands in: drafts first, then versions."""
    user, site = signed_in(request)
    policies.require(user, "read")
    services.formula_of(site, formula_id)
    return made_here.used_in(site, formula_id)


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
