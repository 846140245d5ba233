"""Whom a site buys from: found by the name people type, renamed, put together, archived."""

from __future__ import annotations

from collections.abc import Sequence

from django.db import transaction
from django.db.models import Count
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.pantry.models import Lot, Pack, Supplier
from jugserver.pantry.schemas import SupplierIn, SupplierOut


def suppliers_of(site: Site) -> Sequence[SupplierOut]:
    """Every supplier that is not archived, by name, with how many packs and lots are from them."""
    rows = Supplier.objects.filter(site=site, archived_at__isnull=True)
    counted = rows.annotate(packs_count=Count("packs", distinct=True), lots_count=Count("lots", distinct=True))
    return [SupplierOut(id=row.pk, name=row.name, contact=row.contact, packs=row.packs_count, lots=row.lots_count) for row in counted]


def supplier_called(site: Site, name: str, before: Supplier | None = None) -> Supplier | None:
    """The supplier of a name, however its letters and spaces are written; a new one is kept. None of no name.

    ``before`` stays where the name is still theirs, archived or not. One that was archived and is typed again is bought from again.
    """
    name = " ".join(name.split())
    if not name:
        return None
    if before is not None and before.name.casefold() == name.casefold():
        return before
    Site.objects.select_for_update().get(pk=site.pk)  # so that a name typed on two tablets is kept once
    named = Supplier.objects.filter(site=site, name__iexact=name)
    row: Supplier | None = named.filter(archived_at__isnull=True).first() or named.order_by("-archived_at").first()
    if row is None:
        return Supplier.objects.create(site=site, name=name)
    if row.archived_at is not None:
        row.archived_at = None
        row.save()
    return row


@transaction.atomic
def save_supplier(*, actor: User, id: int, supplier: SupplierIn) -> None:
    """Rename a supplier, or say how to reach them. ``together`` with a name that another has puts both together.

    Raises Http404, and BadDocument where another has that name.
    """
    row = _row(actor, id)
    name = " ".join(supplier.name.split())
    if not name:
        raise BadDocument("name", "The supplier has no name.", "Type one.")
    other = Supplier.objects.filter(site=row.site, name__iexact=name, archived_at__isnull=True).exclude(pk=row.pk).first()
    if other is None:
        row.name, row.contact = name, supplier.contact.strip()
        row.save()
        return
    if not supplier.together:
        raise BadDocument("name", f"There is already a supplier called {other.name}.", "Choose another name, or put the two together.")
    other.contact = supplier.contact.strip() or other.contact
    other.save()
    Pack.objects.filter(supplier=row).update(supplier=other)
    Lot.objects.filter(supplier=row).update(supplier=other)
    row.archived_at = timezone.now()
    row.save()


@transaction.atomic
def archive_supplier(*, actor: User, id: int) -> None:
    """Offer a supplier no more where one is typed. Packs and lots keep them. Raises Http404."""
    row = _row(actor, id)
    row.archived_at = timezone.now()
    row.save()


def _row(actor: User, id: int) -> Supplier:
    policies.require(actor, "edit_pantry")
    assert actor.site is not None  # the policies refuse people without one
    Site.objects.select_for_update().get(pk=actor.site.pk)
    row = Supplier.objects.filter(site=actor.site, pk=id, archived_at__isnull=True).first()
    if row is None:
        raise Http404
    return row
