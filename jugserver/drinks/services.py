"""Verbs on drinks: start, save, archive; the list."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.db.models import Exists, Max, OuterRef, Q, Subquery
from django.http import Http404
from django.utils import timezone

from jugcore import __version__
from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import DrinkDocument, load_drink
from jugcore.errors import BadDocument, DomainError
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.drinks.models import Drink, DrinkReadiness, DrinkSave, DrinkVersion
from jugserver.drinks.pouring import in_pantry
from jugserver.drinks.schemas import DrinkCard, DrinkOut, DrinkSizeCard, DrinksOut
from jugserver.drinks.served import doses_served
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.http.problems import Conflict
from jugserver.stock.services import keep_doses

#: On a page.
PAGE = 50


def drinks_of(site: Site, words: str = "", cursor: str = "") -> DrinksOut:
    """A page of a site's drinks, lately touched first, those whose name has all the words."""
    after = cursor_at(cursor, tuple[datetime, UUID])
    found: Any = _with_versions(Drink.objects.of_site(site))
    for word in words.split():
        found = found.filter(name__icontains=word)
    if after is not None:
        at, id = after
        found = found.filter(touched_at__lte=at).filter(Q(touched_at__lt=at) | Q(pk__lt=id))
    rows = list(found.order_by("-touched_at", "-pk")[: PAGE + 1])
    last = rows[PAGE - 1] if len(rows) > PAGE else None
    return DrinksOut(items=_cards(rows[:PAGE], site), next=cursor_of(last.touched_at, last.pk) if last else None)


def drink_of(site: Site, id: UUID) -> DrinkOut:
    """One drink with its draft. Raises Http404 for another site's."""
    found: Any = _with_versions(Drink.objects.of_site(site)).filter(pk=id).first()
    if found is None:
        raise Http404
    return _out(found)


@transaction.atomic
def start_drink(*, actor: User, document: DrinkDocument) -> DrinkOut:
    """Keep a new drink with its first draft."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    name = _name_of(document)
    try:
        with transaction.atomic():
            drink = Drink.objects.create(site=site, name=name, touched_at=timezone.now())
    except IntegrityError:
        raise _name_taken(name) from None
    _keep(drink, document, actor)
    return drink_of(site, drink.pk)


@transaction.atomic
def save_draft(*, actor: User, id: UUID, draft: int, document: DrinkDocument) -> DrinkOut:
    """Save a draft, if nobody saved since the one it is based on."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    drink = locked(site, id)
    if drink.draft != draft:
        theirs = drink_of(site, id)
        raise Conflict(
            "draft", f"{theirs.saved_by} saved this drink while you were at it.", "Look at theirs, keep yours, or take theirs.",
            theirs=theirs.model_dump(mode="json"),
        )  # fmt: skip
    drink.name = _name_of(document)
    drink.draft += 1
    drink.touched_at = timezone.now()
    try:
        with transaction.atomic():
            drink.save(update_fields=["name", "draft", "touched_at"])
    except IntegrityError:
        raise _name_taken(drink.name) from None
    _keep(drink, document, actor)
    return drink_of(site, id)


@transaction.atomic
def archive_drink(*, actor: User, id: UUID) -> None:
    """Take a drink out of every list; its saves and versions stay."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    if not Drink.objects.of_site(site).filter(pk=id).update(archived_at=timezone.now()):
        raise Http404
    keep_doses(site, doses_served(site))


@transaction.atomic
def bring_back_drink(*, actor: User, id: UUID) -> DrinkOut:
    """Put an archived drink back into the list, unless its name has been taken meanwhile."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    drink = Drink.objects.filter(site=site, pk=id).first()
    if drink is None:
        raise Http404
    try:
        with transaction.atomic():
            Drink.objects.filter(pk=id).update(archived_at=None)
    except IntegrityError:
        raise _name_taken(drink.name) from None
    keep_doses(site, doses_served(site))
    return drink_of(site, id)


def locked(site: Site, id: UUID) -> Drink:
    """A drink held against everybody else until the transaction ends. Raises Http404."""
    drink: Drink | None = Drink.objects.of_site(site).select_for_update().filter(pk=id).first()
    if drink is None:
        raise Http404
    return drink


def _with_versions(drinks: Any) -> Any:
    """Drinks with their draft, their newest version and the newest that is ready for service."""
    saved = DrinkSave.objects.filter(drink=OuterRef("pk"), number=OuterRef("draft"))
    said = DrinkReadiness.objects.filter(drink_version=OuterRef("pk")).order_by("-id")
    served = DrinkVersion.objects.filter(drink=OuterRef("pk")).filter(Exists(said)).annotate(ready=Subquery(said.values("ready")[:1]))
    newest = DrinkVersion.objects.filter(drink=OuterRef("pk")).order_by("-number")
    return drinks.annotate(
        document=Subquery(saved.values("document")[:1]),
        saved_by_name=Subquery(saved.values("saved_by__display_name")[:1]),
        newest_version=Max("versions__number"),
        newest_draft=Subquery(newest.values("draft")[:1]),
        served_version=Subquery(served.filter(ready=True).order_by("-number").values("number")[:1]),
    )


def _out(found: Any) -> DrinkOut:
    return DrinkOut(
        id=found.id, name=found.name, draft=found.draft, touched_at=found.touched_at, saved_by=found.saved_by_name,
        newest_version=found.newest_version, served_version=found.served_version,
        drafted_from=found.newest_version if found.newest_draft == found.draft else None, document=load_drink(found.document),
    )  # fmt: skip


def _cards(rows: Sequence[Any], site: Site) -> list[DrinkCard]:
    poured = in_pantry([load_drink(row.document) for row in rows], site)
    return [_card(row, drink) for row, drink in zip(rows, poured, strict=True)]


def _card(row: Any, document: DrinkDocument) -> DrinkCard:
    made: list[str] = []
    trouble = None
    try:
        cup = cup_of(document)
        made = [cup.method.titles[each.id] for each in cup.components if cup.substance_of(each.id).made is not None]
    except DomainError as error:
        trouble = error.message
    return DrinkCard(
        id=row.id, name=row.name, draft=row.draft, touched_at=row.touched_at, newest_version=row.newest_version, served_version=row.served_version,
        sizes=[DrinkSizeCard(name=size.name, cup_ml=size.cup_ml, price=size.price) for size in document.sizes],
        made_with=list(dict.fromkeys(made)), trouble=trouble,
    )  # fmt: skip


def _keep(drink: Drink, document: DrinkDocument, actor: User) -> None:
    raw = document.model_dump(mode="json", exclude_none=True)
    DrinkSave.objects.create(drink=drink, number=drink.draft, document=raw, saved_by=actor, core_version=__version__)


def _name_of(document: DrinkDocument) -> str:
    name = document.name.strip()
    if not name:
        raise BadDocument("name", "The drink has no name yet.", "Type one.")
    return name


def _name_taken(name: str) -> BadDocument:
    return BadDocument("name", f"There is already a drink called {name}.", "Choose another name.")
