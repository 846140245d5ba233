"""Verbs on formulas: start, save, archive."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone

from jugcore import __version__
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import BadDocument, DomainError
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.formulas.compiling import compiled
from jugserver.formulas.made_here import refuse_circle
from jugserver.formulas.models import DraftSave, Formula
from jugserver.formulas.schemas import CookedBefore, FormulaOut
from jugserver.formulas.states import archived, keep_states, with_draft
from jugserver.http.problems import Conflict
from jugserver.pantry.services import find_made_here


def formula_of(site: Site, id: UUID) -> FormulaOut:
    """One formula with its draft. Raises Http404 for another site's."""
    formula: Any = with_draft(Formula.objects.of_site(site)).filter(pk=id).first()
    if formula is None:
        raise Http404
    return _out(formula, _told_of(formula.document, site), formula.saved_by_name)


def _told_of(document: dict[str, Any], site: Site) -> dict[str, Any]:
    """A draft to work on: answers from before they said what they rest on say it now, so that the next change lets them fall."""
    keeping = document.get("keeping")
    if not keeping or "rests_on" in keeping:
        return document
    try:
        told = with_basis(compiled(load_document(document), site)).document.keeping
    except DomainError:
        return document
    return document if told is None else {**document, "keeping": told.model_dump(mode="json", exclude_none=True)}


def _out(formula: Formula, document: dict[str, Any], saved_by: str | None) -> FormulaOut:
    batches: Any = formula.batches
    last = batches.order_by("-started_at").values("number", "factor").first()
    return FormulaOut(
        id=formula.id, name=formula.name, draft=formula.draft, touched_at=formula.touched_at, saved_by=saved_by,
        document=load_document(document), cooked=None if last is None else CookedBefore(**last),
    )  # fmt: skip


@transaction.atomic
def start_formula(*, actor: User, document: MethodDocument) -> FormulaOut:
    """Keep a new formula with its first draft."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    name = _name_of(document)
    stored = _stored(document, site)
    try:
        with transaction.atomic():
            formula = Formula.objects.create(site=site, name=name, family=document.family, school=document.school, touched_at=timezone.now())
    except IntegrityError:
        raise _name_taken(name) from None
    _keep(formula, stored, actor)
    _listed(formula, stored)
    return _out(formula, stored, str(actor))


@transaction.atomic
def save_draft(*, actor: User, id: UUID, draft: int, document: MethodDocument) -> FormulaOut:
    """Save a draft, if nobody saved since the one it is based on."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    # Locked, so that two saves based on the same draft cannot both succeed.
    formula = Formula.objects.of_site(site).select_for_update().filter(pk=id).first()
    if formula is None:
        raise Http404
    if formula.draft != draft:
        newest = DraftSave.objects.select_related("saved_by").get(formula=formula, number=formula.draft)
        who = str(newest.saved_by) if newest.saved_by else "Somebody"
        raise Conflict(
            "draft", f"{who} saved this formula while you were at it.", "Look at theirs, keep yours, or take theirs.",
            theirs=_out(formula, newest.document, who).model_dump(mode="json"),
        )  # fmt: skip
    formula.name = _name_of(document)
    formula.family, formula.school = document.family, document.school
    formula.draft += 1
    formula.touched_at = timezone.now()
    stored = _stored(document, site, formula)
    try:
        with transaction.atomic():
            formula.save(update_fields=["name", "family", "school", "draft", "touched_at"])
    except IntegrityError:
        raise _name_taken(formula.name) from None
    _keep(formula, stored, actor)
    _listed(formula, stored)
    return _out(formula, stored, str(actor))


@transaction.atomic
def archive_formula(*, actor: User, id: UUID) -> None:
    """Take a formula out of every list; its saves stay in the database."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    changed = Formula.objects.of_site(site).filter(pk=id).update(archived_at=timezone.now())
    if not changed:
        raise Http404
    find_made_here(site=site, formula=id, found=False)
    archived(site, id, True)


@transaction.atomic
def bring_back_formula(*, actor: User, id: UUID) -> FormulaOut:
    """Put an archived formula back into the lists, unless its name has been taken meanwhile."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    formula: Any = with_draft(Formula.objects.filter(site=site, pk=id)).first()
    if formula is None:
        raise Http404
    try:
        with transaction.atomic():
            Formula.objects.filter(pk=id).update(archived_at=None)
    except IntegrityError:
        raise _name_taken(formula.name) from None
    find_made_here(site=site, formula=id, found=True)
    archived(site, id, False)
    return _out(formula, formula.document, formula.saved_by_name)


def _keep(formula: Formula, document: dict[str, Any], actor: User | None) -> None:
    DraftSave.objects.create(formula=formula, number=formula.draft, document=document, saved_by=actor, core_version=__version__)


def _listed(formula: Any, document: dict[str, Any]) -> None:
    """What lists show of it, and what its equipment meets, with the save itself."""
    formula.document = document
    keep_states(formula.site, [formula])


def _name_of(document: MethodDocument) -> str:
    name = document.name.strip()
    if not name:
        raise BadDocument("name", "The formula has no name yet.", "Type one.")
    return name


def _name_taken(name: str) -> BadDocument:
    return BadDocument("name", f"There is already a formula called {name}.", "Choose another name.")


def _stored(document: MethodDocument, site: Site, formula: Formula | None = None) -> dict[str, Any]:
    """The document as kept: typed amounts as what they were understood to be.

    A draft that does not compile yet is kept as it was typed: nothing is lost. Raises BadDocument where something that
    is made with this formula would go into it.
    """
    raw = document.model_dump(mode="json", exclude_none=True)
    try:
        method = with_basis(compiled(document, site))
    except DomainError:
        return raw
    if formula is not None:
        refuse_circle(formula, method)
    if method.document.keeping is not None:
        raw["keeping"] = method.document.keeping.model_dump(mode="json", exclude_none=True)
    for stage in raw["stages"]:
        for line in stage.get("lines", ()):
            line["amount"] = method.amounts[line["id"]].model_dump(mode="json")
        if "total" in stage:
            stage["total"] = method.amounts[stage["id"]].model_dump(mode="json")
        if "amount" in stage:
            stage["amount"] = method.amounts[stage["id"]].model_dump(mode="json")
    return raw
