"""Verbs on what was sold: look, correct, mark days that are not like others, name tills."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, timedelta

from django.db import transaction
from django.db.models import Sum
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.sales.imports import import_out, newest_of
from jugserver.sales.known import drinks_sold
from jugserver.sales.models import CalendarEntry, SaleChange, SaleCount, SalesDay, SalesImport, SoldName, Till
from jugserver.sales.schemas import (
    CalendarIn,
    CalendarOut,
    CorrectionOut,
    SaleCorrectionIn,
    SalesDayOut,
    SalesOut,
    SoldNameOut,
    SoldPlace,
    SoldRow,
    TillIn,
    TillOut,
)
from jugserver.stock.models import Place

MOST_WEEKS = 26
_IMPORTS, _CORRECTIONS = 20, 50


def sales_of(site: Site, weeks: int) -> SalesOut:
    """What was sold over the last weeks, whole ones from a Monday on, today included."""
    today = timezone.localdate()
    first = today - timedelta(days=7 * weeks + today.weekday())
    on = [first + timedelta(days=n) for n in range((today - first).days + 1)]
    cups: dict[tuple[int, date], int] = defaultdict(int)
    sold = SaleCount.objects.filter(site=site, on__gte=first).values("place", "on").annotate(cups=Sum("count")).order_by("place")
    for row in sold:
        cups[row["place"], row["on"]] = row["cups"]
    known = set(SalesDay.objects.filter(site=site, on__gte=first).values_list("place", "on"))
    newest = newest_of(site)
    return SalesOut(
        first=first, on=on,
        places=[
            SoldPlace(id=place.pk, name=place.name, cups=[cups[place.pk, day] if (place.pk, day) in known else None for day in on])
            for place in Place.objects.filter(site=site)
            if any(at == place.pk for at, _ in known) or (place.archived_at is None and not place.kitchen)
        ],
        drinks=drinks_sold(site), calendar=calendar_of(site, first),
        imports=[import_out(row, newest) for row in SalesImport.objects.filter(site=site).select_related("by")[:_IMPORTS]],
    )  # fmt: skip


def day_of(site: Site, on: date, place: int) -> SalesDayOut:
    """What was sold at a place on a day. Raises Http404."""
    _place(site, place)
    rows = SaleCount.objects.filter(site=site, place=place, on=on).order_by("drink__name", "size")
    return SalesDayOut(
        on=on, place=place, known=SalesDay.objects.filter(place=place, on=on).exists(),
        rows=[SoldRow(drink=row.drink_id, size=row.size, count=row.count, by_hand=row.by_hand, sold_out=row.sold_out) for row in rows],
    )  # fmt: skip


@transaction.atomic
def correct(*, actor: User, correction: SaleCorrectionIn) -> SalesDayOut:
    """Set a count by hand, with a reason that is kept. Raises Http404, and BadDocument for a day to come or a size that is not there."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    place = _place(site, correction.place)
    if correction.on > timezone.localdate():
        raise BadDocument("on", f"{correction.on.isoformat()} has not come yet.", "Choose a day that was.")
    drink = next((each for each in drinks_sold(site) if each.id == correction.drink), None)
    if drink is None:
        raise Http404
    if correction.size not in {size.id for size in drink.sizes}:
        raise BadDocument("size", f"{drink.name} has no such size.", "Choose one of the list.")
    Site.objects.select_for_update().get(pk=site.pk)
    row = SaleCount.objects.filter(place=place, on=correction.on, drink=drink.id, size=correction.size).first()
    SaleChange.objects.create(
        site=site, place=place, drink_id=drink.id, size=correction.size, on=correction.on, before=None if row is None else row.count,
        after=correction.count, sold_out=correction.sold_out, reason=correction.reason, by=actor,
    )  # fmt: skip
    if row is None:
        row = SaleCount(site=site, place=place, drink_id=drink.id, size=correction.size, on=correction.on)
    row.count, row.sold_out, row.by_hand = correction.count, correction.sold_out, True
    row.save()
    SalesDay.objects.get_or_create(place=place, on=correction.on, defaults={"site": site})
    return day_of(site, correction.on, place.pk)


def corrections_of(site: Site) -> Sequence[CorrectionOut]:
    """What was corrected by hand lately, the newest first."""
    sizes = {(each.id, size.id): size.name for each in drinks_sold(site) for size in each.sizes}
    rows = SaleChange.objects.filter(site=site, imported__isnull=True).select_related("place", "drink", "by")[:_CORRECTIONS]
    return [
        CorrectionOut(
            on=row.on, place=row.place.name, drink=row.drink.name, size=sizes.get((row.drink_id, row.size), row.size), before=row.before,
            after=row.after, sold_out=row.sold_out, reason=row.reason, by=str(row.by), at=row.at,
        )
        for row in rows
    ]  # fmt: skip


def calendar_of(site: Site, since: date) -> list[CalendarOut]:
    """Days that are not like others, from a day on; the earliest first."""
    rows = CalendarEntry.objects.filter(site=site, last__gte=since).order_by("first", "pk")
    return [
        CalendarOut.model_validate({
            "id": row.pk, "kind": row.kind, "name": row.name, "first": row.first, "last": row.last, "place": row.place_id, "times": row.times,
        })
        for row in rows
    ]  # fmt: skip


@transaction.atomic
def save_calendar(*, actor: User, id: int | None, entry: CalendarIn) -> list[CalendarOut]:
    """Mark days, or change how they are marked. Raises Http404, and BadDocument for days that end before they begin, an event without a name."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    if entry.last < entry.first:
        raise BadDocument("last", "It ends before it begins.", "Swap the days.")
    if (entry.last - entry.first).days > 366:
        raise BadDocument("last", "That is more than a year.", "Mark fewer days.")
    name = " ".join(entry.name.split())
    if entry.kind == "event" and not name:
        raise BadDocument("name", "The event has no name.", "Name it: sales of days with the same name are compared.")
    if entry.kind == "closed" and entry.times is not None:
        raise BadDocument("times", "A closed place sells nothing.", "Leave out how many times.")
    place = None if entry.place is None else _place(site, entry.place)
    row = CalendarEntry(site=site) if id is None else CalendarEntry.objects.filter(site=site, pk=id).first()
    if row is None:
        raise Http404
    row.kind, row.name, row.first, row.last, row.place, row.times = entry.kind, name, entry.first, entry.last, place, entry.times
    row.save()
    return calendar_of(site, entry.first)


def delete_calendar(*, actor: User, id: int) -> None:
    """Days are like others again. Raises Http404."""
    policies.require(actor, "plan")
    row = CalendarEntry.objects.filter(site=_site_of(actor), pk=id).first()
    if row is None:
        raise Http404
    row.delete()


def names_of(site: Site) -> Sequence[SoldNameOut]:
    """What names of tills are taken to mean."""
    return [SoldNameOut(key=row.key, drink=row.drink_id, size=row.size, left_out=row.left_out) for row in SoldName.objects.filter(site=site)]


def forget_name(*, actor: User, key: str) -> Sequence[SoldNameOut]:
    """Ask again what a name means when it comes next. Raises Http404."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    if not SoldName.objects.filter(site=site, key=key).delete()[0]:
        raise Http404
    return names_of(site)


def tills_of(site: Site) -> Sequence[TillOut]:
    """The tills that can be asked."""
    rows = Till.objects.filter(site=site, archived_at__isnull=True)
    return [TillOut(id=row.pk, name=row.name, address=row.address, fetched_at=row.fetched_at) for row in rows]


@transaction.atomic
def save_till(*, actor: User, id: int | None, till: TillIn) -> Sequence[TillOut]:
    """Name a till and where it answers. Raises Http404, BadDocument for a name that is there already."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    Site.objects.select_for_update().get(pk=site.pk)
    row = Till(site=site) if id is None else Till.objects.filter(site=site, pk=id, archived_at__isnull=True).first()
    if row is None:
        raise Http404
    name = " ".join(till.name.split())
    if not name:
        raise BadDocument("name", "The till has no name.", "Type one.")
    if Till.objects.filter(site=site, name=name, archived_at__isnull=True).exclude(pk=row.pk).exists():
        raise BadDocument("name", f"There is already a till called {name}.", "Choose another name.")
    row.name, row.address = name, till.address
    row.save()
    return tills_of(site)


def archive_till(*, actor: User, id: int) -> Sequence[TillOut]:
    """Ask a till no more. Raises Http404."""
    policies.require(actor, "plan")
    site = _site_of(actor)
    row = Till.objects.filter(site=site, pk=id, archived_at__isnull=True).first()
    if row is None:
        raise Http404
    row.archived_at = timezone.now()
    row.save()
    return tills_of(site)


def _place(site: Site, id: int) -> Place:
    row = Place.objects.filter(site=site, pk=id).first()
    if row is None:
        raise Http404
    return row


def _site_of(actor: User) -> Site:
    assert actor.site is not None  # the policies refuse people without one
    return actor.site
