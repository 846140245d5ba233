"""What days to come need of each product and ingredient, and what bottles lost beside what was served."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, datetime, time, timedelta
from uuid import UUID

from django.utils import timezone

from jugcore.planning.needs.over_pour import DOSE_DOUBT, Level, Open, levels_of, lost_between, over_pour
from jugcore.planning.needs.report import BoughtDoc, CupDoseDoc, NeedsAsk, needs_report
from jugcore.stock import movements as m
from jugserver.accounts.models import Site, User
from jugserver.drinks.models import DrinkPart
from jugserver.drinks.served import served_versions
from jugserver.formulas.models import Version
from jugserver.pantry.pantry_overlay import today_of
from jugserver.planning.forecasting import forecast_ask, made
from jugserver.planning.models import DrinkLike
from jugserver.planning.recipes import recipes_for
from jugserver.planning.schemas import NamedProduct, NeedsOut, OverPourOut, OverPoursOut
from jugserver.sales.models import SaleCount, SalesDay
from jugserver.stock.models import Container, Movement, Place
from jugserver.stock.standing import WHAT

#: Weeks of which bottles are looked at.
_WEEKS = 4


def doses_served(site: Site) -> dict[tuple[UUID, str], dict[UUID, float]]:
    """Grams of each formula in a cup, by drink and size, of what is served; of a drink that is to be served soon as its newest version says."""
    versions = {version.pk: version.drink_id for version in served_versions(site)}
    new = DrinkLike.objects.filter(site=site, drink__archived_at__isnull=True).exclude(drink__in=versions.values()).values_list("drink", flat=True)
    for drink in new:
        newest = (
            DrinkPart.objects.filter(drink_version__drink=drink).order_by("-drink_version__number").values_list("drink_version", flat=True).first()
        )
        if newest is not None:
            versions[newest] = drink
    found: dict[tuple[UUID, str], dict[UUID, float]] = defaultdict(dict)
    for version, formula, grams in DrinkPart.objects.filter(drink_version__in=versions).values_list("drink_version", "uses__formula", "grams"):
        for size, each in grams.items():
            dose = found[versions[version], size]
            dose[formula] = dose.get(formula, 0.0) + each
    return dict(found)


def needs_of(*, actor: User, site: Site, ahead: int) -> NeedsOut:
    """What the days from today on need."""
    forecast = made(actor, site, forecast_ask(site, ahead))
    doses = doses_served(site)
    versions, recipes, titles = recipes_for(actor, site, {formula for dose in doses.values() for formula in dose})
    prices = today_of(site, {id for recipe in recipes for id in recipe.bought})
    ask = NeedsAsk(
        doses=tuple(CupDoseDoc(drink=str(drink), size=size, grams={str(id): grams for id, grams in dose.items()})
                    for (drink, size), dose in doses.items()),
        recipes=tuple(recipes),
        bought=tuple(BoughtDoc(id=id, title=title, price_per_kg=prices[id].price_per_kg if id in prices else None) for id, title in titles.items()),
    )  # fmt: skip
    places = Place.objects.filter(site=site).in_bulk()
    return NeedsOut(
        first=forecast.first, on=forecast.on, events=forecast.events, report=needs_report(forecast, ask),
        products=[NamedProduct(id=id, name=version.formula.name, version=version.number, ready=bool(getattr(version, "may_be_served", False)))
                  for id, version in sorted(versions.items(), key=lambda each: each[1].formula.name)],
        places={str(id): place.name for id, place in places.items()},
        drinks={str(version.drink_id): version.drink.name for version in served_versions(site)},
    )  # fmt: skip


def over_pours_of(*, actor: User, site: Site) -> OverPoursOut:
    """What bottles lost beside what was served, by product and whole week, the newest week first."""
    today = timezone.localdate()
    monday = today - timedelta(days=today.weekday())
    weeks = [(monday - timedelta(days=7 * (n + 1)), monday - timedelta(days=7 * n + 1)) for n in range(_WEEKS)]
    doses = doses_served(site)
    versions, _, _ = recipes_for(actor, site, {formula for dose in doses.values() for formula in dose})
    served = _served(site, weeks, doses)
    bottles, still_open = _bottles(site, list(versions), weeks[-1][0])
    known = _known_days(site, weeks)
    found = []
    for formula, version in versions.items():
        price = _price(version)
        for first, last in weeks:
            begin, end = _midnight(first), _midnight(last + timedelta(days=1))
            lost, variance = lost_between(bottles[formula], still_open[formula], begin, end)
            grams = served.get((formula, first), 0.0)
            if not grams and not lost:
                continue
            over = over_pour(grams, lost, variance, DOSE_DOUBT)
            whole = known[first]
            found.append(OverPourOut(
                product=formula, name=version.formula.name, first=first, last=last, served_g=round(grams, 1), lost_g=round(lost, 1),
                over_g=round(over.over_g, 1), low_g=round(over.low_g, 1), high_g=round(over.high_g, 1), verdict=over.verdict if whole else "unknown",
                words=over.words if whole else "Sales of some days of this week are not known.",
                price=None if price is None else round(over.over_g * price / 1e3, 4),
            ))  # fmt: skip
    return OverPoursOut(rows=sorted(found, key=lambda each: (-each.first.toordinal(), each.name)))


def _served(
    site: Site, weeks: list[tuple[date, date]], doses: dict[tuple[UUID, str], dict[UUID, float]]
) -> dict[tuple[UUID, date], float]:  # fmt: skip
    """Grams of each formula by week: cups × dose."""
    found: dict[tuple[UUID, date], float] = defaultdict(float)
    rows = SaleCount.objects.filter(site=site, on__gte=weeks[-1][0], on__lte=weeks[0][1]).values_list("drink", "size", "on", "count")
    for drink, size, on, count in rows:
        for formula, grams in doses.get((drink, size), {}).items():
            found[formula, on - timedelta(days=on.weekday())] += count * grams
    return found


def _known_days(site: Site, weeks: list[tuple[date, date]]) -> dict[date, bool]:
    """Whether what was sold is known of every day of a week, at every place that sold anything in these weeks."""
    rows = set(SalesDay.objects.filter(site=site, on__gte=weeks[-1][0], on__lte=weeks[0][1]).values_list("place", "on"))
    places = {place for place, _ in rows}
    return {first: bool(places) and all((place, first + timedelta(days=n)) in rows for place in places for n in range(7)) for first, _ in weeks}


def _bottles(site: Site, formulas: list[UUID], since: date) -> tuple[dict[UUID, list[list[Level]]], dict[UUID, list[Open]]]:
    """What was in each bottle when, by formula; and what of those that are open nobody has weighed since."""
    rows = Container.objects.filter(site=site, formula__in=formulas, stage="", voided_at__isnull=True, opened_at__isnull=False)
    rows = rows.exclude(gone_at__lt=_midnight(since))
    movements: dict[UUID, list[Movement]] = defaultdict(list)
    for each in Movement.objects.filter(container__in=rows).order_by("container", "at", "seq"):
        movements[each.container_id].append(each)
    levels: dict[UUID, list[list[Level]]] = defaultdict(list)
    still_open: dict[UUID, list[Open]] = defaultdict(list)
    for row in rows:
        assert row.opened_at is not None
        entries = [m.Movement(id=each.id, at=each.at, what=WHAT.validate_python(each.what)) for each in movements[row.pk]]
        of, is_open = levels_of(row.filled_g, row.opened_at, entries)
        levels[row.formula_id].append(of)
        if is_open is not None:
            still_open[row.formula_id].append(is_open)
    return levels, still_open


def _midnight(on: date) -> datetime:
    return timezone.make_aware(datetime.combine(on, time()))


def _price(version: Version) -> float | None:
    """What a kilogram of a version came to when it was kept."""
    return next((reading["value"] for reading in version.readings if reading["id"] == "cost_kg"), None)
