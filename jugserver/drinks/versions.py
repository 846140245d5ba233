"""Verbs on versions of drinks: save one, list them, say whether it may be served."""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from django.http import Http404

from jugcore import __version__
from jugcore.drinks.cup import Cup
from jugcore.drinks.document import load_drink
from jugcore.drinks.freeze import drink_fingerprint, freeze_drink, thaw_drink
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.report import drink_sizes_report
from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.drinks.models import DrinkPart, DrinkReadiness, DrinkSave, DrinkVersion
from jugserver.drinks.pouring import cup_in
from jugserver.drinks.schemas import DrinkOut, DrinkReadyOut, DrinkVersionCard, DrinkVersionOut, DrinkVersionsOut
from jugserver.drinks.served import doses_served
from jugserver.drinks.services import drink_of, locked, save_draft
from jugserver.formulas.models import Version
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.http.problems import Conflict
from jugserver.pantry.pantry_overlay import own_keys
from jugserver.stock.services import keep_doses

#: On a page.
PAGE = 50


@transaction.atomic
def save_version(*, actor: User, id: UUID, draft: int, note: str) -> DrinkVersionCard:
    """Keep the draft as a version, frozen with the kitchen and everything that goes in.

    Raises Conflict if somebody saved a newer draft, and BadDocument for a draft that cannot be poured, that is the newest version
    already, or without a reason.
    """
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    drink = locked(site, id)  # so that two people cannot both make version 3
    if drink.draft != draft:
        raise Conflict("draft", "Somebody has saved this drink since then.", "Look at the draft as it is now, then save the version.")
    said = note.strip()
    if not said:
        raise BadDocument("note", "A version says why it is kept.", "Write what is new in it.")
    cup = cup_in(load_drink(DrinkSave.objects.get(drink=drink, number=draft).document), site)
    found = drink_sizes_report(cup)
    if found.faults:
        fault = found.faults[0]
        raise BadDocument(fault.field, f"This draft does not work out yet: {fault.message}", fault.remedy)
    keeps = freeze_drink(cup)
    newest = drink.versions.first()
    if newest is not None and newest.fingerprint == drink_fingerprint(keeps):
        raise BadDocument("draft", f"Nothing has changed since version {newest.number}.", "Change something first.")
    version = DrinkVersion.objects.create(
        drink=drink, number=newest.number + 1 if newest else 1, draft=draft, note=said,
        document=keeps.model_dump(mode="json", exclude_none=True), fingerprint=drink_fingerprint(keeps),
        readings=[
            {"id": r.id, "title": r.title, "unit": r.unit, "digits": r.digits, "values": [size.likely for size in r.sizes]} for r in found.readings
        ],
        saved_by=actor, core_version=__version__,
    )  # fmt: skip
    _keep_parts(version, pour(cup), site)
    return _card(version)


def _keep_parts(version: DrinkVersion, poured: Poured, site: Site) -> None:
    """Have it known which versions of ours go into each size, and how much: a row each."""
    grams: dict[tuple[str, int], dict[str, float]] = {}
    for (formula, number), component in _made_in(poured.cup):
        each = grams.setdefault((formula, number), {size.id: 0.0 for size in poured.cup.sizes})
        for size, g in zip(poured.cup.sizes, poured.grams(component), strict=True):
            each[size.id] += float(g)
    rows = Version.objects.filter(formula__site=site, formula__in={UUID(formula) for formula, _ in grams}).only("id", "formula_id", "number")
    known = {(str(row.formula_id), row.number): row for row in rows}
    DrinkPart.objects.bulk_create(
        DrinkPart(drink_version=version, uses=known[used], grams=each) for used, each in grams.items() if used in known
    )  # fmt: skip


def _made_in(cup: Cup) -> list[tuple[tuple[str, int], str]]:
    found = []
    for component in cup.components:
        made = cup.substance_of(component.id).made
        if made is not None:
            found.append(((made.version.formula, made.version.version), component.id))
    return found


def versions_of(site: Site, id: UUID, cursor: str = "") -> DrinkVersionsOut:
    """A page of a drink's versions, newest first."""
    drink = drink_of(site, id)
    after = cursor_at(cursor, tuple[int])
    found = DrinkVersion.objects.filter(drink=id).select_related("saved_by").prefetch_related("readiness__said_by").defer("document")
    rows = list((found if after is None else found.filter(number__lt=after[0]))[: PAGE + 1])
    return DrinkVersionsOut(
        id=drink.id, name=drink.name, draft=drink.draft, versions=[_card(row) for row in rows[:PAGE]],
        next=cursor_of(rows[PAGE - 1].number) if len(rows) > PAGE else None,
    )  # fmt: skip


def version_of(site: Site, id: UUID, number: int) -> DrinkVersionOut:
    """One version, whole."""
    version = _found(site, id, number)
    return DrinkVersionOut(**_card(version).model_dump(), document=load_drink(version.document))


@transaction.atomic
def say_ready(*, actor: User, id: UUID, number: int, ready: bool, reason: str) -> DrinkVersionCard:
    """Say that a version may be served, or no longer.

    Raises BadDocument where what goes in is not ready itself, or curdles, and no reason is given; with one it is kept with that.
    """
    policies.require(actor, "mark_ready")
    site = actor.site
    assert site is not None
    version = _found(site, id, number)
    said = reason.strip()
    asked = _against(version) if ready else []
    if asked and not said:
        raise BadDocument("reason", " ".join(asked), "Put that right first; or say why it may be served all the same, and that is kept.")
    DrinkReadiness.objects.create(drink_version=version, ready=ready, questions=asked, reason=said, said_by=actor)
    keep_doses(site, doses_served(site))
    return _card(version)


def _against(version: DrinkVersion) -> list[str]:
    """What speaks against serving a version: a product in it that is not ready for service, acid that curdles its milk."""
    found = []
    for part in version.parts.select_related("uses__formula").prefetch_related("uses__readiness"):
        said = next(iter(part.uses.readiness.all()), None)
        if said is None or not said.ready:
            found.append(f"{part.uses.formula.name}, version {part.uses.number}, is not marked as ready for service.")
    report = drink_sizes_report(cup_in(load_drink(version.document), version.drink.site))
    found += [f"{size.name}: {size.curdling.words}" for size in report.sizes if size.curdling is not None and size.curdling.tone != "fine"]
    return found


def make_draft_again(*, actor: User, id: UUID, number: int, draft: int) -> DrinkOut:
    """Save a version's document as the next draft, in the kitchen and by the pantry of today."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    document = load_drink(_found(site, id, number).document)
    return save_draft(actor=actor, id=id, draft=draft, document=thaw_drink(document, own_keys(site, document.substances)))


def _found(site: Site, id: UUID, number: int) -> DrinkVersion:
    found = DrinkVersion.objects.select_related("drink__site", "saved_by").filter(
        drink__site=site, drink__archived_at__isnull=True, drink=id, number=number
    )  # fmt: skip
    version = found.first()
    if version is None:
        raise Http404
    return version


def _card(version: DrinkVersion) -> DrinkVersionCard:
    return DrinkVersionCard(
        number=version.number, draft=version.draft, note=version.note, saved_by=str(version.saved_by), saved_at=version.saved_at,
        fingerprint=version.fingerprint, core_version=version.core_version, service=_service(version),
    )  # fmt: skip


def _service(version: DrinkVersion) -> DrinkReadyOut | None:
    """What was said last of serving it."""
    said = next(iter(version.readiness.all()), None)
    if said is None:
        return None
    return DrinkReadyOut(ready=said.ready, said_by=str(said.said_by), said_at=said.said_at, reason=said.reason, unanswered=said.questions)
