"""Verbs on versions: save one, list them, lay them side by side."""

from __future__ import annotations

from collections.abc import Sequence
from uuid import UUID

from django.db import transaction
from django.http import Http404

from jugcore import __version__
from jugcore.editing.freeze import fingerprint, freeze, thaw
from jugcore.errors import BadDocument
from jugcore.exchange.compare import CompareReport, Side, compare
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.formulas.compiling import compiled
from jugserver.formulas.made_here import keep_as_ingredient, keep_parts, refuse_circle
from jugserver.formulas.models import DraftSave, Formula, Readiness, Version
from jugserver.formulas.schemas import CompareSide, FormulaOut, ReadingThen, ReadyOut, VersionCard, VersionOut, VersionsOut
from jugserver.formulas.services import save_draft
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.http.problems import Conflict
from jugserver.pantry.pantry_overlay import own_keys


@transaction.atomic
def save_version(*, actor: User, id: UUID, draft: int, note: str) -> VersionCard:
    """Keep the draft as a version, frozen with the kitchen and the substances it reads.

    Raises Conflict if somebody saved a newer draft, and BadDocument for a draft that does
    not walk to its end, that is the newest version already, or without a reason.
    """
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    # Locked, so that two people cannot both make version 3.
    formula = Formula.objects.of_site(site).select_for_update().filter(pk=id).first()
    if formula is None:
        raise Http404
    if formula.draft != draft:
        raise Conflict("draft", "Somebody has saved this formula since then.", "Look at the draft as it is now, then save the version.")
    said = note.strip()
    if not said:
        raise BadDocument("note", "A version says why it is kept.", "Write what is new in it.")
    document = load_document(DraftSave.objects.get(formula=formula, number=draft).document)
    method = compiled(document, site)
    refuse_circle(formula, method)
    walked = walk(method)
    found = report(walked)
    if found.faults:
        fault = found.faults[0]
        raise BadDocument(fault.field, f"This draft does not work out yet: {fault.message}", fault.remedy)
    keeps = freeze(method)
    newest = formula.versions.first()
    # A version that an earlier release froze is compared as this one would freeze it.
    if newest is not None and fingerprint(freeze(compile_document(load_document(newest.document)))) == fingerprint(keeps):
        raise BadDocument("draft", f"Nothing has changed since version {newest.number}.", "Change something first.")
    version = Version.objects.create(
        formula=formula, number=newest.number + 1 if newest else 1, draft=draft, note=said,
        document=keeps.model_dump(mode="json", exclude_none=True), fingerprint=fingerprint(keeps),
        readings=[{"id": r.id, "title": r.title, "unit": r.unit, "digits": r.digits, "value": r.value} for r in found.readings],
        saved_by=actor, core_version=__version__,
    )  # fmt: skip
    keep_parts(version, walked)
    keep_as_ingredient(actor, version, walked)
    return _card(version)


#: On a page.
PAGE = 50


def versions_of(site: Site, id: UUID, cursor: str = "") -> VersionsOut:
    """A page of a formula's versions, newest first."""
    formula = Formula.objects.of_site(site).filter(pk=id).first()
    if formula is None:
        raise Http404
    after = cursor_at(cursor, tuple[int])
    found = formula.versions.select_related("saved_by").prefetch_related("readiness__said_by").defer("document")
    rows = list((found if after is None else found.filter(number__lt=after[0]))[: PAGE + 1])
    newest = formula.versions.only("number", "draft").first()
    return VersionsOut(
        id=formula.id, name=formula.name, draft=formula.draft, drafted_from=newest.number if newest and newest.draft == formula.draft else None,
        versions=[_card(row) for row in rows[:PAGE]], next=cursor_of(rows[PAGE - 1].number) if len(rows) > PAGE else None,
    )  # fmt: skip


def version_of(site: Site, id: UUID, number: int) -> VersionOut:
    """One version, whole."""
    version = _found(site, id, number)
    return VersionOut(**_card(version).model_dump(), document=load_document(version.document))


@transaction.atomic
def say_ready(*, actor: User, id: UUID, number: int, ready: bool, reason: str) -> VersionCard:
    """Say that a version may be served, or no longer.

    Raises BadDocument where something about its keeping is not answered and no reason is given; with one it is
    kept with what was not answered, by whom and when.
    """
    policies.require(actor, "mark_ready")
    site = actor.site
    assert site is not None
    version = _found(site, id, number)
    said = reason.strip()
    keeping = report(walk(compile_document(load_document(version.document)))).keeping
    asked = [question.words for question in keeping.questions] if ready else []
    if asked and not said:
        raise BadDocument(
            "reason", f"Not answered yet: {' '.join(asked)}",
            "Answer it on the bench and save the next version; or say why it may be served all the same, and that is kept.",
        )  # fmt: skip
    Readiness.objects.create(version=version, ready=ready, questions=asked, reason=said, said_by=actor)
    return _card(version)


def make_draft_again(*, actor: User, id: UUID, number: int, draft: int) -> FormulaOut:
    """Save a version's document as the next draft, in the kitchen and by the pantry of today."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    document = load_document(_found(site, id, number).document)
    return save_draft(actor=actor, id=id, draft=draft, document=thaw(document, own_keys(site, document.substances)))


def compare_sides(*, actor: User, sides: Sequence[CompareSide]) -> CompareReport:
    """Versions and drafts of this site side by side, each in its own kitchen."""
    policies.require(actor, "read")
    site = actor.site
    assert site is not None
    formulas = {side.formula for side in sides}
    found = []
    for side in sides:
        name, document = _document(site, side)
        method = compile_document(document) if document.kitchen else compiled(document, site)
        what = f"version {side.version}" if side.version else "draft"
        found.append(Side(what.capitalize() if len(formulas) == 1 else f"{name}, {what}", walk(method)))
    return compare(found)


def _document(site: Site, side: CompareSide) -> tuple[str, MethodDocument]:
    if side.version is not None:
        version = _found(site, side.formula, side.version)
        return version.formula.name, load_document(version.document)
    formula = Formula.objects.of_site(site).filter(pk=side.formula).first()
    if formula is None:
        raise Http404
    return formula.name, load_document(DraftSave.objects.get(formula=formula, number=formula.draft).document)


def _found(site: Site, id: UUID, number: int) -> Version:
    of_site = Version.objects.filter(formula__in=Formula.objects.of_site(site))
    version = of_site.select_related("formula", "saved_by").filter(formula_id=id, number=number).first()
    if version is None:
        raise Http404
    return version


def _card(version: Version) -> VersionCard:
    return VersionCard(
        number=version.number, draft=version.draft, note=version.note, saved_by=str(version.saved_by), saved_at=version.saved_at,
        fingerprint=version.fingerprint, core_version=version.core_version, readings=[ReadingThen(**reading) for reading in version.readings],
        service=_service(version),
    )  # fmt: skip


def _service(version: Version) -> ReadyOut | None:
    """What was said last of serving it."""
    said = next(iter(version.readiness.all()), None)
    if said is None:
        return None
    return ReadyOut(ready=said.ready, said_by=str(said.said_by), said_at=said.said_at, reason=said.reason, unanswered=said.questions)
