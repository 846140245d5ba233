"""Drinks over their sizes, over HTTP."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router, Status

from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.schema import DrinkSizesReport, DrinkWaysReport, EvenOutReport, SwapsReport
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.drinks import cards, pouring, services, using, versions
from jugserver.drinks.schemas import (
    DosesOut,
    DrinkBase,
    DrinkDraftIn,
    DrinkNew,
    DrinkOut,
    DrinkReadyIn,
    DrinksOut,
    DrinkVersionCard,
    DrinkVersionIn,
    DrinkVersionOut,
    DrinkVersionsOut,
    DrinkWaysIn,
    EvenOutIn,
    InDrinkUse,
    SwapsIn,
)
from jugserver.exchange.drink_cards import Paper
from jugserver.http.as_json import as_json
from jugserver.http.media import media
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem

router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_COMPUTED = {422: Problem, 503: Problem}
_Number = Annotated[int, Path(ge=1, le=2_147_483_647)]


@router.get("", response={200: DrinksOut, **_REFUSALS, 422: Problem}, operation_id="drinks_list")
def list_drinks(request: HttpRequest, q: Annotated[str, Query(max_length=200)] = "", cursor: Cursor = "") -> DrinksOut:
    """The site's drinks, lately touched first; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.drinks_of(site, q, cursor)


@router.post("", response={201: DrinkOut, **_REFUSALS, 422: Problem}, operation_id="drinks_start")
def start_drink(request: HttpRequest, payload: DrinkNew) -> Status[DrinkOut]:
    """Keep a new drink."""
    user, _ = signed_in(request)
    return Status(201, services.start_drink(actor=user, document=payload.document))


@router.get("/doses", response={200: DosesOut, **_REFUSALS}, operation_id="drinks_doses")
def get_doses(request: HttpRequest) -> HttpResponse:
    """Doses of everything that is served, over its sizes: what a bar's tablet shows."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return as_json(DosesOut.model_validate(asdict(cards.doses_of(site))))


@router.get("/doses.pdf", response={200: bytes, **_REFUSALS, 422: Problem}, operation_id="drinks_dose_card", openapi_extra=media("application/pdf"))
def get_dose_card(request: HttpRequest, paper: Paper = "A5") -> HttpResponse:
    """The dose card: drinks over sizes, in strokes or grams."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return _paper("doses", cards.doses_on_paper(site, paper))


@router.get("/sheet.pdf", response={200: bytes, **_REFUSALS, 422: Problem}, operation_id="drinks_sheet", openapi_extra=media("application/pdf"))
def get_sheet(request: HttpRequest, paper: Paper = "A4") -> HttpResponse:
    """Allergens and nutrition of everything that is served."""
    user, site = signed_in(request)
    policies.require(user, "see_stock")
    return _paper("allergens-and-nutrition", cards.sheet_on_paper(site, paper))


@router.get(
    "/{uuid:drink_id}/build.pdf", response={200: bytes, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="drinks_build_card",
    openapi_extra=media("application/pdf"),
)  # fmt: skip
def get_build_card(request: HttpRequest, drink_id: UUID, paper: Paper = "A5") -> HttpResponse:
    """How a drink is built: cups with their layers, the order of pouring, cautions."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return _paper("build", cards.build_on_paper(site, drink_id, paper))


def _paper(name: str, data: bytes) -> HttpResponse:
    """A PDF that opens in the browser."""
    response = HttpResponse(data, content_type="application/pdf")
    response["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return response


@router.get("/using/{uuid:formula_id}", response={200: list[InDrinkUse], **_REFUSALS, 404: Problem}, operation_id="drinks_using")
def list_using(request: HttpRequest, formula_id: UUID) -> list[InDrinkUse]:
    """The drinks that any version of a formula goes into, as they are served or else drafted, with how much of it in each size."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return using.drinks_using(site, formula_id)


@router.post("/sizes", response={200: DrinkSizesReport, **_REFUSALS, 422: Problem}, operation_id="drinks_sizes")
def post_sizes(request: HttpRequest, document: DrinkDocument) -> HttpResponse:
    """Walk a drink over its sizes and report everything read off it. Nothing is kept."""
    user, _ = signed_in(request)
    return as_json(pouring.sizes_of_drink(actor=user, document=document))


@router.post("/even-out", response={200: EvenOutReport, **_REFUSALS, **_COMPUTED}, operation_id="drinks_even_out")
def post_even_out(request: HttpRequest, payload: EvenOutIn) -> HttpResponse:
    """Doses that bring a reading to the same value in every size: in grams, in strokes, and with the stroke that does it best."""
    user, _ = signed_in(request)
    return as_json(pouring.even_out_drink(actor=user, document=payload.document, ask=payload.ask))


@router.post("/ways", response={200: DrinkWaysReport, **_REFUSALS, **_COMPUTED}, operation_id="drinks_ways")
def post_ways(request: HttpRequest, payload: DrinkWaysIn) -> HttpResponse:
    """Ways to bring a reading of one size to a value, each with the drink that does it."""
    user, _ = signed_in(request)
    return as_json(pouring.ways_of_drink(actor=user, document=payload.document, ask=payload.ask))


@router.post("/swaps", response={200: SwapsReport, **_REFUSALS, **_COMPUTED}, operation_id="drinks_swaps")
def post_swaps(request: HttpRequest, payload: SwapsIn) -> HttpResponse:
    """Other things in place of one component: another milk, a creamer at the same fat; what changes by each."""
    user, _ = signed_in(request)
    return as_json(pouring.swaps_in_drink(actor=user, document=payload.document, ask=payload.ask))


@router.get("/{uuid:drink_id}", response={200: DrinkOut, **_REFUSALS, 404: Problem}, operation_id="drinks_get")
def get_drink(request: HttpRequest, drink_id: UUID) -> DrinkOut:
    """One drink with its draft."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return services.drink_of(site, drink_id)


@router.put(
    "/{uuid:drink_id}/draft", response={200: DrinkOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="drinks_save_draft"
)
def save_draft(request: HttpRequest, drink_id: UUID, payload: DrinkDraftIn) -> DrinkOut:
    """Save a draft; 409 with theirs if somebody saved first."""
    user, _ = signed_in(request)
    return services.save_draft(actor=user, id=drink_id, draft=payload.draft, document=payload.document)


@router.delete("/{uuid:drink_id}", response={204: None, **_REFUSALS, 404: Problem}, operation_id="drinks_archive")
def archive_drink(request: HttpRequest, drink_id: UUID) -> Status[None]:
    """Take a drink out of the list."""
    user, _ = signed_in(request)
    services.archive_drink(actor=user, id=drink_id)
    return Status(204, None)


@router.post("/{uuid:drink_id}/bring-back", response={200: DrinkOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="drinks_bring_back")
def bring_back_drink(request: HttpRequest, drink_id: UUID) -> DrinkOut:
    """Put an archived drink back into the list."""
    user, _ = signed_in(request)
    return services.bring_back_drink(actor=user, id=drink_id)


@router.get(
    "/{uuid:drink_id}/versions", response={200: DrinkVersionsOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="drink_versions_list"
)
def list_versions(request: HttpRequest, drink_id: UUID, cursor: Cursor = "") -> DrinkVersionsOut:
    """A drink's versions, newest first; fifty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return versions.versions_of(site, drink_id, cursor)


@router.post(
    "/{uuid:drink_id}/versions", response={201: DrinkVersionCard, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="drink_versions_save",
)  # fmt: skip
def save_version(request: HttpRequest, drink_id: UUID, payload: DrinkVersionIn) -> Status[DrinkVersionCard]:
    """Keep the draft as a version, frozen whole."""
    user, _ = signed_in(request)
    return Status(201, versions.save_version(actor=user, id=drink_id, draft=payload.draft, note=payload.note))


@router.get("/{uuid:drink_id}/versions/{int:number}", response={200: DrinkVersionOut, **_REFUSALS, 404: Problem}, operation_id="drink_versions_get")
def get_version(request: HttpRequest, drink_id: UUID, number: _Number) -> DrinkVersionOut:
    """One version of a drink, whole."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return versions.version_of(site, drink_id, number)


@router.post(
    "/{uuid:drink_id}/versions/{int:number}/draft", response={200: DrinkOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem},
    operation_id="drink_versions_make_draft",
)  # fmt: skip
def make_draft_again(request: HttpRequest, drink_id: UUID, number: _Number, payload: DrinkBase) -> DrinkOut:
    """Save a version as the next draft; 409 with theirs if somebody saved first."""
    user, _ = signed_in(request)
    return versions.make_draft_again(actor=user, id=drink_id, number=number, draft=payload.draft)


@router.post(
    "/{uuid:drink_id}/versions/{int:number}/ready", response={200: DrinkVersionCard, **_REFUSALS, 404: Problem, 422: Problem},
    operation_id="drink_versions_ready",
)  # fmt: skip
def say_ready(request: HttpRequest, drink_id: UUID, number: _Number, payload: DrinkReadyIn) -> DrinkVersionCard:
    """Say that a version may be served, or no longer; what speaks against it wants a reason, which is kept."""
    user, _ = signed_in(request)
    return versions.say_ready(actor=user, id=drink_id, number=number, ready=payload.ready, reason=payload.reason)
