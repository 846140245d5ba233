"""The pantry over HTTP: finding ingredients, writing one's own, packs, lots, and what a label comes to."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from django.http import HttpRequest
from ninja import Path, Query, Router, Status

from jugcore.exchange.line_search import recipe_line
from jugcore.method.label_document import LabelDoc, LabelReport, label_report
from jugserver.accounts import policies
from jugserver.accounts.signed_in import signed_in
from jugserver.http.paging import Cursor, cursor_at, cursor_of
from jugserver.http.problems import Problem
from jugserver.pantry import services, suppliers
from jugserver.pantry.pantry_overlay import titles_of
from jugserver.pantry.schemas import FoundOut, LotIn, PackIn, SubstanceIn, SubstanceOut, SupplierIn, SupplierOut, TypedOut
from jugserver.pantry.search import MOST, After, SiteShelf, ended_at, search
from jugserver.pantry.shapes import hit_out, substance_out

router = Router()
suppliers_router = Router()

_REFUSALS = {401: Problem, 403: Problem}
_Key = Annotated[str, Path(pattern=r"^[A-Za-z0-9_-]{1,64}$")]
_Number = Annotated[int, Path(ge=1, le=9_000_000_000)]


@router.get("", response={200: FoundOut, **_REFUSALS, 422: Problem}, operation_id="substances_find")
def find_substances(request: HttpRequest, q: str = Query("", max_length=100), kind: str = Query("", max_length=20), cursor: Cursor = "") -> FoundOut:
    """Ingredients whose names have a word that begins with each word of ``q``, twenty at a time."""
    user, site = signed_in(request)
    policies.require(user, "read")
    found = search(site, q, kind=kind, after=cursor_at(cursor, After), most=MOST + 1)
    return FoundOut(hits=[hit_out(row) for row in found[:MOST]], next=cursor_of(*ended_at(found[MOST - 1], q)) if len(found) > MOST else None)


@router.get("/typed", response={200: TypedOut, **_REFUSALS}, operation_id="substances_typed")
def part_typed_line(request: HttpRequest, text: str = Query("", max_length=300)) -> TypedOut:
    """A typed line, “2 tsp blossom water”, parted into what it names and the amount that is left."""
    user, site = signed_in(request)
    policies.require(user, "read")
    found = recipe_line(SiteShelf(site), text)
    return TypedOut(hits=[hit_out(row) for row in found.found], amount=found.amount)


@router.get("/titles", response={200: dict[str, str], **_REFUSALS}, operation_id="substances_titles")
def titles_of_substances(request: HttpRequest, ids: str = Query("", max_length=20_000)) -> dict[str, str]:
    """What some ingredients are called, by id; ids are separated by commas, unknown ones left out."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return titles_of(site, {id for id in ids.split(",") if id})


@suppliers_router.get("", response={200: list[SupplierOut], **_REFUSALS}, operation_id="suppliers_list")
def list_suppliers(request: HttpRequest) -> Sequence[SupplierOut]:
    """Whom the site buys from, by name."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return suppliers.suppliers_of(site)


@suppliers_router.put("/{id}", response={200: list[SupplierOut], **_REFUSALS, 404: Problem, 422: Problem}, operation_id="suppliers_save")
def save_supplier(request: HttpRequest, id: _Number, payload: SupplierIn) -> Sequence[SupplierOut]:
    """Rename a supplier, say how to reach them, or put two together."""
    user, site = signed_in(request)
    suppliers.save_supplier(actor=user, id=id, supplier=payload)
    return suppliers.suppliers_of(site)


@suppliers_router.delete("/{id}", response={200: list[SupplierOut], **_REFUSALS, 404: Problem}, operation_id="suppliers_archive")
def archive_supplier(request: HttpRequest, id: _Number) -> Sequence[SupplierOut]:
    """Offer a supplier no more; what came from them stays as it is."""
    user, site = signed_in(request)
    suppliers.archive_supplier(actor=user, id=id)
    return suppliers.suppliers_of(site)


@router.post("/label", response={200: LabelReport, **_REFUSALS, 422: Problem}, operation_id="label_read")
def read_label(request: HttpRequest, payload: LabelDoc) -> LabelReport:
    """What a pack's figures come to, with ranges and what was assumed. Nothing is kept."""
    user, _ = signed_in(request)
    policies.require(user, "walk")
    return label_report(payload)


@router.post("", response={201: SubstanceOut, **_REFUSALS, 409: Problem, 422: Problem}, operation_id="substances_new")
def new_substance(request: HttpRequest, payload: SubstanceIn) -> Status[SubstanceOut]:
    """Keep an ingredient of the site's own."""
    user, _ = signed_in(request)
    return Status(201, substance_out(services.save_ingredient(actor=user, key=None, number=0, document=payload.document)))


@router.get("/{key}", response={200: SubstanceOut, **_REFUSALS, 404: Problem}, operation_id="substances_get")
def get_substance(request: HttpRequest, key: _Key) -> SubstanceOut:
    """One ingredient with everything known of it."""
    user, site = signed_in(request)
    policies.require(user, "read")
    return substance_out(services.ingredient_of(site, key))


@router.put("/{key}", response={200: SubstanceOut, **_REFUSALS, 404: Problem, 409: Problem, 422: Problem}, operation_id="substances_save")
def save_substance(request: HttpRequest, key: _Key, payload: SubstanceIn) -> SubstanceOut:
    """Write an ingredient: one's own, or one's own reading of the library's."""
    user, site = signed_in(request)
    policies.require(user, "edit_pantry")
    services.ingredient_of(site, key)
    return substance_out(services.save_ingredient(actor=user, key=key, number=payload.number, document=payload.document))


@router.delete("/{key}", response={204: None, **_REFUSALS, 404: Problem}, operation_id="substances_put_away")
def put_substance_away(request: HttpRequest, key: _Key) -> Status[None]:
    """Put one's own away; one that was adapted is the library's again."""
    user, _ = signed_in(request)
    services.put_away(actor=user, key=key)
    return Status(204, None)


@router.post("/{key}/packs", response={201: SubstanceOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="packs_add")
def add_pack(request: HttpRequest, key: _Key, payload: PackIn) -> Status[SubstanceOut]:
    """What it is bought in and for how much; the newest gives its price."""
    user, _ = signed_in(request)
    return Status(201, substance_out(services.add_pack(actor=user, key=key, pack=payload)))


@router.delete("/{key}/packs/{pack_id}", response={200: SubstanceOut, **_REFUSALS, 404: Problem}, operation_id="packs_remove")
def remove_pack(request: HttpRequest, key: _Key, pack_id: _Number) -> SubstanceOut:
    """Take a pack out."""
    user, _ = signed_in(request)
    return substance_out(services.remove_pack(actor=user, key=key, pack_id=pack_id))


@router.post("/{key}/lots", response={201: SubstanceOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="lots_add")
def add_lot(request: HttpRequest, key: _Key, payload: LotIn) -> Status[SubstanceOut]:
    """Write down a lot that came."""
    user, _ = signed_in(request)
    return Status(201, substance_out(services.save_lot(actor=user, key=key, lot_id=None, lot=payload).ingredient))


@router.put("/{key}/lots/{lot_id}", response={200: SubstanceOut, **_REFUSALS, 404: Problem, 422: Problem}, operation_id="lots_save")
def save_lot(request: HttpRequest, key: _Key, lot_id: _Number, payload: LotIn) -> SubstanceOut:
    """What is new of a lot: opened, tasted, used up."""
    user, _ = signed_in(request)
    return substance_out(services.save_lot(actor=user, key=key, lot_id=lot_id, lot=payload).ingredient)
