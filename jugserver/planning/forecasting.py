"""What days to come will bring of what is sold: asked of the core with everything that is known, kept until something changes."""

from __future__ import annotations

import hashlib
import json
from collections import defaultdict
from collections.abc import Iterable
from datetime import date, timedelta
from uuid import UUID

from django.utils import timezone

from jugcore import __version__
from jugcore.planning.forecast.report import ForecastReport, forecast
from jugcore.planning.forecast.request import (
    ClosedDoc,
    EventDoc,
    ForecastAsk,
    LikeDoc,
    OverrideDoc,
    PlaceDoc,
    SoldDoc,
)
from jugcore.planning.forecast.series import MOST_DAYS
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.drinks.served import served_versions
from jugserver.kitchen.business import business_of
from jugserver.planning.models import DrinkLike, ForecastMade, ForecastOverride
from jugserver.planning.schemas import ForecastOut, LikeOut, NamedDrink, NamedPlace, NamedSize, OverrideOut
from jugserver.sales.known import drinks_sold
from jugserver.sales.models import CalendarEntry, SaleCount, SalesDay
from jugserver.stock.models import Place

#: So many forecasts of a site are kept.
_KEPT = 6
#: Sales so long ago still count, by their weeks.
_BACK_DAYS = min(126, MOST_DAYS)


def forecast_of(*, actor: User, site: Site, ahead: int) -> ForecastOut:
    """What the days from today on will bring, with what was told of them."""
    ask = forecast_ask(site, ahead)
    report = made(actor, site, ask)
    today = timezone.localdate()
    served = {version.drink_id for version in served_versions(site)}
    foreseen = {UUID(cell.drink) for cell in report.cells}
    drinks = [
        NamedDrink(id=each.id, name=each.name, sizes=[NamedSize(id=size.id, name=size.name) for size in each.sizes], served=each.id in served)
        for each in drinks_sold(site)
    ]
    return ForecastOut(
        report=report, drinks=drinks, places=[NamedPlace(id=int(place.id), name=place.title) for place in ask.places],
        overrides=overrides_of(site, today), likes=likes_of(site), unforeseen=sorted(served - foreseen),
        known_days=len({on for on, in SalesDay.objects.filter(site=site, on__gte=ask.first, on__lt=today).values_list("on")}),
    )  # fmt: skip


def made(actor: User, site: Site, ask: ForecastAsk) -> ForecastReport:
    """The forecast of what is asked, made before or now."""
    asked = _fingerprint(ask)
    kept = ForecastMade.objects.filter(site=site, asked=asked).first()
    if kept is not None:
        return ForecastReport.model_validate(kept.report)
    report = ForecastReport.model_validate_json(work_out(actor.pk, forecast, ask))
    # Somebody may have asked for the same at the same moment.
    ForecastMade.objects.bulk_create([ForecastMade(site=site, asked=asked, report=report.model_dump(mode="json"))], ignore_conflicts=True)
    old = ForecastMade.objects.filter(site=site).order_by("-at").values_list("pk", flat=True)[_KEPT:]
    ForecastMade.objects.filter(pk__in=list(old)).delete()
    return report


def _fingerprint(ask: ForecastAsk) -> str:
    said = json.dumps(ask.model_dump(mode="json"), sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(f"{__version__}:{said}".encode()).hexdigest()


def forecast_ask(site: Site, ahead: int) -> ForecastAsk:
    """Everything that is known of a site's sales up to yesterday, as it is asked of the core."""
    today = timezone.localdate()
    since = today - timedelta(days=_BACK_DAYS)
    known: dict[int, set[date]] = defaultdict(set)
    for place, on in SalesDay.objects.filter(site=site, on__gte=since, on__lt=today).values_list("place", "on"):
        known[place].add(on)
    first = min((on for days in known.values() for on in days), default=today)
    counts: dict[tuple[int, UUID, str], dict[date, float | None]] = defaultdict(dict)
    rows = SaleCount.objects.filter(site=site, on__gte=first, on__lt=today, drink__archived_at__isnull=True)
    for place, drink, size, on, count, sold_out in rows.values_list("place", "drink", "size", "on", "count", "sold_out"):
        counts[place, drink, size][on] = None if sold_out else float(count)
    places = Place.objects.filter(site=site, archived_at__isnull=True, pk__in=known)
    open_on = tuple(business_of(site).business.opening_days)
    there = {place.pk for place in places}
    days = [first + timedelta(days=n) for n in range((today - first).days)]
    return ForecastAsk(
        first=first, today=today, ahead=ahead,
        places=tuple(PlaceDoc(id=str(place.pk), title=place.name, open_on=open_on) for place in places),
        sold=tuple(
            SoldDoc(place=str(place), drink=str(drink), size=size, counts=_counted(days, said, known[place]))
            for (place, drink, size), said in sorted(counts.items(), key=str) if place in there
        ),
        events=tuple(EventDoc(name=row.name, first=row.first, last=row.last, place=_id(row.place_id), times=row.times)
                     for row in _calendar(site, first, "event")),
        closed=tuple(ClosedDoc(first=row.first, last=row.last, place=_id(row.place_id)) for row in _calendar(site, first, "closed")),
        likes=tuple(LikeDoc(drink=str(row.drink_id), like=str(row.like_id), share=row.share, instead=row.instead)
                    for row in DrinkLike.objects.filter(site=site, drink__archived_at__isnull=True, like__archived_at__isnull=True)),
        overrides=tuple(
            OverrideDoc(id=str(row.pk), first=row.first, last=row.last, place=_id(row.place_id), drink=_id(row.drink_id), size=row.size or None,
                        times=row.times, count=row.count)
            for row in _holding(site, today)
        ),
    )  # fmt: skip


def _counted(days: Iterable[date], said: dict[date, float | None], known: set[date]) -> tuple[float | None, ...]:
    """Counts of days: what is not named on a known day, from the first that names it on, was not sold."""
    begun = min(said)
    return tuple(said.get(on, 0.0) if on in known and on >= begun else None for on in days)


def _id(pk: object) -> str | None:
    return None if pk is None else str(pk)


def _calendar(site: Site, first: date, kind: str) -> Iterable[CalendarEntry]:
    return CalendarEntry.objects.filter(site=site, kind=kind, last__gte=first).order_by("first", "pk")


def _holding(site: Site, today: date) -> Iterable[ForecastOverride]:
    return ForecastOverride.objects.filter(site=site, undone_at__isnull=True, last__gte=today).select_related("by").order_by("pk")


def overrides_of(site: Site, today: date) -> list[OverrideOut]:
    """Overrides that hold for days to come, in the order in which they were made."""
    return [
        OverrideOut(
            id=row.pk, first=row.first, last=row.last, place=row.place_id, drink=row.drink_id, size=row.size, times=row.times, count=row.count,
            reason=row.reason, by=str(row.by), at=row.at,
        )
        for row in _holding(site, today)
    ]  # fmt: skip


def likes_of(site: Site) -> list[LikeOut]:
    """Drinks that are taken to sell like another."""
    rows = DrinkLike.objects.filter(site=site).order_by("drink__name")
    return [LikeOut(drink=row.drink_id, like=row.like_id, share=row.share, instead=row.instead) for row in rows]
