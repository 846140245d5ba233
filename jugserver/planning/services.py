"""Verbs on what somebody knows better than a forecast."""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.planning.models import DrinkLike, ForecastOverride
from jugserver.planning.schemas import LikeIn, OverrideIn
from jugserver.sales.known import drinks_sold
from jugserver.stock.models import Place


@transaction.atomic
def override(*, actor: User, told: OverrideIn) -> None:
    """Say what days to come will bring, and why. Raises Http404, and BadDocument for days that were, and for both or neither of two figures."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    if told.last < told.first:
        raise BadDocument("last", "It ends before it begins.", "Swap the days.")
    if told.last < timezone.localdate():
        raise BadDocument("last", "These days are over.", "Choose days to come; what was sold is corrected in Sales.")
    if (told.times is None) == (told.count is None):
        raise BadDocument("count", "Give either how many a day, or how many times as many.", "Type one of the two.")
    if told.place is not None and not Place.objects.filter(site=site, pk=told.place, archived_at__isnull=True).exists():
        raise Http404
    if told.drink is not None:
        drink = next((each for each in drinks_sold(site) if each.id == told.drink), None)
        if drink is None:
            raise Http404
        if told.size and told.size not in {size.id for size in drink.sizes}:
            raise BadDocument("size", f"{drink.name} has no such size.", "Choose one of the list.")
    elif told.size:
        raise BadDocument("size", "A size is of a drink.", "Choose the drink too.")
    ForecastOverride.objects.create(
        site=site, first=told.first, last=told.last, place_id=told.place, drink_id=told.drink, size=told.size or "", times=told.times,
        count=told.count, reason=told.reason, by=actor,
    )  # fmt: skip


def undo_override(*, actor: User, id: int) -> None:
    """What was said does nothing any more. Raises Http404."""
    policies.require(actor, "plan")
    row = ForecastOverride.objects.filter(site=_site_of(actor), pk=id, undone_at__isnull=True).first()
    if row is None:
        raise Http404
    row.undone_at = timezone.now()
    row.save()


@transaction.atomic
def take_like(*, actor: User, told: LikeIn) -> None:
    """Take a new drink to sell as a share of another. Raises Http404, and BadDocument for itself, or for one that is taken like another."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    if told.drink == told.like:
        raise BadDocument("like", "A drink cannot be taken to sell like itself.", "Choose another.")
    names = {each.id: each.name for each in drinks_sold(site)}
    if told.drink not in names or told.like not in names:
        raise Http404
    if DrinkLike.objects.filter(site=site, drink=told.like).exists():
        raise BadDocument("like", f"{names[told.like]} is taken to sell like another drink itself.", "Choose one whose sales are known.")
    DrinkLike.objects.update_or_create(
        drink_id=told.drink, defaults={"site": site, "like_id": told.like, "share": told.share, "instead": told.instead}
    )


def stop_like(*, actor: User, drink: UUID) -> None:
    """A drink is taken to sell like no other. Raises Http404."""
    policies.require(actor, "plan")
    row = DrinkLike.objects.filter(site=_site_of(actor), drink=drink).first()
    if row is None:
        raise Http404
    row.delete()


def _site_of(actor: User) -> Site:
    assert actor.site is not None  # the policies refuse people without one
    return actor.site
