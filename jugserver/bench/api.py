"""What may be asked of a document, over HTTP. Nothing here is kept."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from ninja import Router

from jugcore.dosing.schema import DrinkReport
from jugcore.method.document import MethodDocument
from jugcore.money.schema import CostReport
from jugcore.reading.schema import WalkReport
from jugcore.scaling.schema import ScaleReport
from jugcore.solving.schema import SolveReport
from jugcore.suggesting.hold_plans import HoldPlansReport
from jugcore.suggesting.schema import OvershotReport, SubstituteReport, SuggestionsReport
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.bench import requests
from jugserver.formulas import imports
from jugserver.formulas.cross_contact import equipment_of_site
from jugserver.formulas.import_schemas import ImportFormula, ImportIn, ImportOut, RowsIn
from jugserver.formulas.schemas import (
    CostIn,
    DrinkIn,
    EquipmentOut,
    ExportIn,
    ExportOut,
    HoldIn,
    OvershotIn,
    ScaleIn,
    SolveIn,
    SubstituteIn,
    SuggestionsIn,
)
from jugserver.http.as_json import as_json
from jugserver.http.problems import Problem

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}


@router.post("/walk", response={200: WalkReport, **_REFUSALS, 422: Problem}, operation_id="walk")
def post_walk(request: HttpRequest, document: MethodDocument) -> HttpResponse:
    """Walk a document in the site's kitchen and report everything read off it."""
    user, _ = signed_in(request)
    return as_json(requests.walk_document(actor=user, document=document))


@router.post("/solve", response={200: SolveReport, **_REFUSALS, **_COMPUTED}, operation_id="solve")
def post_solve(request: HttpRequest, payload: SolveIn) -> HttpResponse:
    """What to change in a document so that targets hold; where they cannot, what collides and the nearest formula."""
    user, _ = signed_in(request)
    return as_json(requests.solve_document(actor=user, document=payload.document, ask=payload.ask))


@router.post("/suggestions", response={200: SuggestionsReport, **_REFUSALS, **_COMPUTED}, operation_id="suggestions")
def post_ways(request: HttpRequest, payload: SuggestionsIn) -> HttpResponse:
    """Ways to make a reading come to a value, each with the document that does it."""
    user, _ = signed_in(request)
    return as_json(requests.ways_of_document(actor=user, document=payload.document, reading=payload.reading, value=payload.value, hold=payload.hold))


@router.post("/substitute", response={200: SubstituteReport, **_REFUSALS, **_COMPUTED}, operation_id="substitute")
def post_swap(request: HttpRequest, payload: SubstituteIn) -> HttpResponse:
    """One ingredient for another or a blend: what to weigh so that readings stay, and what changes all the same."""
    user, _ = signed_in(request)
    return as_json(requests.swap_in_document(actor=user, document=payload.document, ask=payload.ask))


@router.post("/drink", response={200: DrinkReport, **_REFUSALS, **_COMPUTED}, operation_id="drink")
def post_drink(request: HttpRequest, payload: DrinkIn) -> HttpResponse:
    """A dose of a document's product in a drink: what is in the cup, how it is balanced, and what would move that."""
    user, _ = signed_in(request)
    return as_json(requests.drink_of_document(actor=user, document=payload.document, ask=payload.ask))


@router.post("/scale", response={200: ScaleReport, **_REFUSALS, **_COMPUTED}, operation_id="scale")
def post_scale(request: HttpRequest, payload: ScaleIn) -> HttpResponse:
    """A document scaled, split into cooks that pots and scales can take, and what to weigh for one of them."""
    user, _ = signed_in(request)
    return as_json(requests.scale_document(actor=user, document=payload.document, ask=payload.ask))


@router.post("/cost", response={200: CostReport, **_REFUSALS, 422: Problem}, operation_id="cost")
def post_cost(request: HttpRequest, payload: CostIn) -> HttpResponse:
    """What a batch of a document costs: ingredients, energy, hands, bottles, what is poured away; and what drives it."""
    user, _ = signed_in(request)
    return as_json(requests.cost_of_document(actor=user, document=payload.document, formula=payload.formula, dose_g=payload.dose_g))


@router.post("/holds", response={200: HoldPlansReport, **_REFUSALS, **_COMPUTED}, operation_id="holds")
def post_holds(request: HttpRequest, payload: HoldIn) -> HttpResponse:
    """A hold of a document on the hob, wrapped, in a flask, as it stands: its course and what comes of it."""
    user, _ = signed_in(request)
    return as_json(requests.hold_plans_of_document(actor=user, document=payload.document, stage=payload.stage))


@router.post("/export", response={200: ExportOut, **_REFUSALS, 422: Problem}, operation_id="export")
def post_export(request: HttpRequest, payload: ExportIn) -> ExportOut:
    """A document as a schema.org recipe or as a table of lines, and what that cannot hold."""
    user, _ = signed_in(request)
    return requests.export_document(actor=user, document=payload.document, form=payload.form)


@router.get("/equipment", response={200: list[EquipmentOut], **_REFUSALS}, operation_id="allergens_met_by_equipment")
def get_gear(request: HttpRequest) -> list[EquipmentOut]:
    """Each kind of equipment that the site's formulas put an allergen into, and which do."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return equipment_of_site(site)


@router.post("/import/read", response={200: ImportOut, **_REFUSALS, 422: Problem}, operation_id="import_read")
def post_import(request: HttpRequest, payload: ImportIn) -> ImportOut:
    """A file's formulas, each line with what it is taken for and what is wrong at it. Nothing is kept."""
    user, _ = signed_in(request)
    return imports.read_import(actor=user, asked=payload)


@router.post("/import/rows", response={200: ImportFormula, **_REFUSALS, 422: Problem}, operation_id="import_rows")
def post_import_rows(request: HttpRequest, payload: RowsIn) -> ImportFormula:
    """Lines as somebody says they are meant, and the formula they make. Nothing is kept."""
    user, _ = signed_in(request)
    return imports.read_rows(actor=user, asked=payload)


@router.post("/overshot", response={200: OvershotReport, **_REFUSALS, **_COMPUTED}, operation_id="overshot")
def post_overshot(request: HttpRequest, payload: OvershotIn) -> HttpResponse:
    """What can be done when more of a line went into a blend than was asked for."""
    user, _ = signed_in(request)
    return as_json(requests.overshot_in_document(actor=user, document=payload.document, ask=payload.ask))
