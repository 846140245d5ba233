"""The demo's sales, kept as if a file of nine weeks had been imported; its festival, past and to come; its till."""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta

from django.utils import timezone

from jugserver.accounts.models import User
from jugserver.demo.sold import FESTIVAL_WAS, sold
from jugserver.drinks.models import Drink
from jugserver.sales.models import CalendarEntry, SaleChange, SaleCount, SalesDay, SalesImport, Till
from jugserver.stock.models import Place

FESTIVAL = "River festival"
#: In how many days it comes again.
_COMES = (4, 5)


def load_sales(lead: User) -> None:
    """Keep the nine weeks, unless the site has any sales; the festival is in the calendar, past and to come."""
    site = lead.site
    assert site is not None
    if SalesDay.objects.filter(site=site).exists():
        return
    today = timezone.localdate()
    places = {place.name: place for place in Place.objects.filter(site=site)}
    drinks = {drink.name: drink for drink in Drink.objects.filter(site=site)}
    rows = [each for each in sold(today) if each.bar in places and each.drink in drinks]
    if not rows:
        return
    days = sorted({(each.bar, each.on) for each in rows})
    imported = SalesImport.objects.create(
        site=site, name="nine-weeks.csv", fingerprint="", rows=len(rows), left_out=0, added=len(rows), changed=0, same=0, first_on=rows[0].on,
        last_on=rows[-1].on, by=lead,
    )  # fmt: skip
    SalesDay.objects.bulk_create([SalesDay(site=site, place=places[bar], on=on, imported=imported) for bar, on in days])
    SaleCount.objects.bulk_create(
        [SaleCount(site=site, place=places[each.bar], drink=drinks[each.drink], size=each.size, on=each.on, count=each.count) for each in rows],
        batch_size=2000,
    )
    SaleChange.objects.bulk_create(
        [SaleChange(site=site, place=places[each.bar], drink=drinks[each.drink], size=each.size, on=each.on, after=each.count, imported=imported,
                    by=lead) for each in rows], batch_size=2000,
    )  # fmt: skip
    was, comes = [today - timedelta(days=ago) for ago in FESTIVAL_WAS], [today + timedelta(days=to) for to in _COMES]
    for first, last in (was, comes):
        CalendarEntry.objects.create(site=site, kind="event", name=FESTIVAL, first=first, last=last)


def load_till(lead: User, till: Callable[[str], str]) -> None:
    """Start the simulated till and name where it answers now; nothing is written where that is as before."""
    site = lead.site
    assert site is not None
    row = Till.objects.filter(site=site, name="Tannery till", archived_at__isnull=True).first() or Till(site=site, name="Tannery till")
    address = till(row.address)
    if row.address != address:
        row.address = address
        row.save()
