"""Where the demo's bottles stand: the kitchen and three bars, some open, some nearly empty."""

from __future__ import annotations

from datetime import timedelta
from uuid import uuid5

from django.utils import timezone

from jugcore.stock import movements as m
from jugserver.accounts.models import User
from jugserver.stock.models import Container, Movement, Place
from jugserver.stock.schemas import MovementIn, PlaceIn
from jugserver.stock.services import enter, place_bar, places_of, save_place

#: The kitchen first.
PLACES = ("Tannery Yard", "Kiln Lane", "Weir Bridge", "Ferry Steps")
#: Whose sign-in stands where.
BARS = {"kiln": "Kiln Lane"}


def load_places(lead: User) -> None:
    """Name the places, unless somebody has named any."""
    assert lead.site is not None
    if Place.objects.filter(site=lead.site).exists():
        return
    for n, name in enumerate(PLACES):
        places = save_place(actor=lead, id=None, place=PlaceIn(name=name, kitchen=n == 0))
    for username, bar in BARS.items():
        place_bar(actor=lead, username=username, place=next(place.id for place in places if place.name == bar))


def load_movements(cook: User) -> None:
    """Bring bottles of the last days to the bars in turn, and open every other one of them, unless anything was entered before."""
    site = cook.site
    assert site is not None
    if Movement.objects.filter(container__site=site).exclude(kind="filled").exists():
        return
    bars = [place for place in places_of(site) if not place.kitchen]
    if not bars:
        return
    entries: list[MovementIn] = []
    there = Container.objects.filter(site=site, gone="", voided_at__isnull=True).order_by("batch__number", "number")
    for n, bottle in enumerate(row for row in there if row.number > 1):
        at = timezone.now() - timedelta(hours=20 - n % 7)
        whats: list[m.What] = [m.MovedEntry(place=str(bars[n % len(bars)].id))]
        if n % 2:
            whats += [m.OpenedEntry(), m.WeighedEntry(mass_g=round(bottle.filled_g * (0.25 + 0.1 * (n % 5))))]
        entries += [
            MovementIn(container=bottle.pk, movement=m.Movement(id=uuid5(bottle.pk, str(k)), at=at + timedelta(hours=k), what=what))
            for k, what in enumerate(whats)
        ]
    if entries:
        enter(actor=cook, entries=entries)
