"""A site's plan for the days to come: what is asked of the core, and what it answers."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import date, timedelta
from time import monotonic
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from numpy.random import default_rng

from jugcore import __version__
from jugcore.errors import BadDocument
from jugcore.method.load_document import load_document
from jugcore.planning.lots.cooking import CookReport, CooksReport, cooks_of
from jugcore.planning.lots.problem import DayDoc, PinDoc, StockDoc
from jugcore.planning.lots.week import MakesDoc, WeekAsk, WeekPlan, plan_week
from jugcore.planning.needs.report import CupDoseDoc
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.batches.states import bring_up_to_date
from jugserver.computing.pool import work_out
from jugserver.drinks.served import served_versions
from jugserver.formulas.models import Version
from jugserver.kitchen.business import business_of
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import today_of
from jugserver.planning.forecasting import forecast_ask, made
from jugserver.planning.models import PlanSettings, VersionCook
from jugserver.planning.needs import doses_served
from jugserver.planning.recipes import recipes_for
from jugserver.planning.schemas import PinIn, PlanSettingsDoc, PlanWeekOut
from jugserver.sales.models import CalendarEntry
from jugserver.stock.models import Container
from jugserver.stock.services import there

#: Days that are planned, and days after them that say what is worth keeping.
DAYS, BEYOND = 7, 7
#: Where nothing says what a drink is sold for, running short of a gram costs so many times what it is worth. Estimate.
_TIMES = 8.0
SECONDS = 8.0
#: The same weeks for the same question.
_SEED = 20


def plan_of(*, actor: User, site: Site, pins: Sequence[PinIn]) -> PlanWeekOut:
    """A plan for the next days, within some seconds. Nothing is kept. Raises BadDocument where a pin is of no product that is planned."""
    policies.require(actor, "read")
    forecast = made(actor, site, forecast_ask(site, DAYS + BEYOND))
    doses = doses_served(site)
    versions, recipes, _ = recipes_for(actor, site, {formula for dose in doses.values() for formula in dose})
    cooks = _cooks(actor, site, versions)
    prices = today_of(site, {id for recipe in recipes for id in recipe.bought})
    paid = business_of(site).business
    settings = settings_of(site)
    short = _short(site, settings.lost)
    kitchen = kitchen_of(site)
    makes, unpriced = [], []
    for formula, cook in cooks.items():
        money = sum(grams * (prices[id].price_per_kg or 0.0) / 1000.0 for id, grams in cook.bought_g.items() if id in prices)
        if any(id not in prices or prices[id].price_per_kg is None for id in cook.bought_g):
            unpriced.append(versions[formula].formula.name)
        worth = money + (paid.wage_h or 0.0) * cook.hands_min / 60.0 / cook.most_g
        life = cook.life_days if cook.life_days is not None else kitchen.kitchen.chilled_days
        makes.append(MakesDoc(
            title=versions[formula].formula.name, cook=cook, life_days=life, money_g=money,
            short_g=max(short.get(formula, 0.0), _TIMES * worth, 1e-4),
        ))  # fmt: skip
    known = {each.cook.product for each in makes}
    stray = next((pin for pin in pins if str(pin.product) not in known), None)
    if stray is not None:
        raise BadDocument("pins", "A product that is pinned is none of those that are planned.", "Take the pin out.")
    ask = WeekAsk(
        days=tuple(_days(site, settings, len(kitchen.kitchen.burners))), makes=tuple(makes),
        doses=tuple(CupDoseDoc(drink=str(drink), size=size, grams={str(id): grams for id, grams in dose.items()})
                    for (drink, size), dose in doses.items()),
        stock=tuple(_stock(site, known, kitchen.kitchen.chilled_days)),
        pins=tuple(PinDoc(product=str(pin.product), day=pin.day, cooks=pin.cooks, kind=pin.kind) for pin in pins),
        wage_h=paid.wage_h or 0.0, energy_kwh=paid.energy_price_kwh or 0.0, container=(paid.container_price or 0.0) + (paid.label_price or 0.0),
        weekdays=tuple(settings.fixed_weekdays) or (0, 3), seconds=SECONDS,
    )  # fmt: skip
    plan = WeekPlan.model_validate_json(work_out(actor.pk, plan_week, forecast, ask, monotonic, default_rng(_SEED)))
    return PlanWeekOut(plan=plan, events=forecast.events[:DAYS], unpriced=sorted(set(unpriced)), settings=settings,
                       asks={str(formula): cook.open for formula, cook in cooks.items() if cook.open})  # fmt: skip


def _cooks(actor: User, site: Site, versions: dict[UUID, Version]) -> dict[UUID, CookReport]:
    """Full cooks of versions in the kitchen of today; those not read yet worked out and kept."""
    kitchen = kitchen_of(site)
    there_already = {
        row.version_id: row for row in VersionCook.objects.filter(version__in=versions.values(), core_version=__version__, kitchen=kitchen.number)
    }
    missing = [version for version in versions.values() if version.pk not in there_already]
    if missing:
        documents = dict(Version.objects.filter(pk__in=[version.pk for version in missing]).values_list("pk", "document"))
        asked = [(str(version.formula_id), load_document(documents[version.pk])) for version in missing]
        report = CooksReport.model_validate_json(work_out(actor.pk, cooks_of, asked, kitchen.kitchen))
        found = {each.product: each for each in report.cooks}
        for version in missing:
            cook = found.get(str(version.formula_id))
            kept = {"core_version": __version__, "kitchen": kitchen.number, "cook": None if cook is None else cook.model_dump(mode="json")}
            there_already[version.pk], _ = VersionCook.objects.update_or_create(version=version, defaults=kept)
    rows = {formula: there_already[version.pk] for formula, version in versions.items()}
    return {formula: CookReport.model_validate(row.cook) for formula, row in rows.items() if row.cook is not None}


def _days(site: Site, settings: PlanSettingsDoc, burners: int) -> list[DayDoc]:
    """The days that are planned: closed where the whole site is, with room for hands and burners."""
    today = timezone.localdate()
    open_on = set(business_of(site).business.opening_days)
    shut = list(CalendarEntry.objects.filter(site=site, kind="closed", place__isnull=True, last__gte=today))
    found = []
    for n in range(DAYS):
        on = today + timedelta(days=n)
        closed = on.weekday() not in open_on or any(each.first <= on <= each.last for each in shut)
        found.append(
            DayDoc(on=on, closed=closed, hands_min=settings.hands_min[on.weekday()], burner_min=float(settings.burner_min * max(burners, 1)))
        )
    return found


def _stock(site: Site, known: set[str], cautious_days: int) -> list[StockDoc]:
    """What is on hand of what is planned, by its last day; what is frozen can be used from tomorrow on."""
    bring_up_to_date(site)
    today = timezone.localdate()
    sums: dict[tuple[str, int, int], float] = defaultdict(float)
    for row in there(site).filter(stage=""):
        if str(row.formula_id) in known and row.mass_g > 0 and not row.too_late:
            sums[str(row.formula_id), 1 if row.frozen else 0, _last(row, today, cautious_days)] += row.mass_g
    return [StockDoc(product=product, grams=grams, first_day=first, last_day=last) for (product, first, last), grams in sorted(sums.items())]


def _last(row: Container, today: date, cautious_days: int) -> int:
    """The last day it is good, counted from today; what thaws tomorrow keeps what it has left. Where nothing says, the local rule's days."""
    if row.frozen and row.left_days is not None:
        return max(row.left_days, -1)
    until = row.good_until or row.made_on + timedelta(days=cautious_days - 1)
    return min(max((until - today).days, -1), 999)


def _short(site: Site, lost: float) -> dict[UUID, float]:
    """What running short of a gram costs, by formula: what its drinks are sold for, as far as guests then buy none; the mean over its cups."""
    money: dict[UUID, list[float]] = defaultdict(list)
    versions = {version.pk: version for version in served_versions(site)}
    for (drink, size), dose in doses_served(site).items():
        version = next((each for each in versions.values() if each.drink_id == drink), None)
        price = next((each.get("price") for each in version.document["sizes"] if each["id"] == size), None) if version is not None else None
        if price is None:
            continue
        for formula, grams in dose.items():
            if grams > 0:
                money[formula].append(lost * float(price) / grams)
    return {formula: sum(each) / len(each) for formula, each in money.items()}


def settings_of(site: Site) -> PlanSettingsDoc:
    """What a site has room for; what is usual until somebody says."""
    row = PlanSettings.objects.filter(site=site).first() or PlanSettings(site=site)
    return PlanSettingsDoc(hands_min=list(row.hands_min), burner_min=row.burner_min, lost=row.lost, fixed_weekdays=list(row.fixed_weekdays))


@transaction.atomic
def save_settings(*, actor: User, settings: PlanSettingsDoc) -> PlanSettingsDoc:
    """Say what a site has room for."""
    policies.require(actor, "plan")
    site = actor.site
    assert site is not None  # the policy refuses people without one
    values = {**settings.model_dump(), "fixed_weekdays": sorted(set(settings.fixed_weekdays))}
    PlanSettings.objects.update_or_create(site=site, defaults=values)
    return settings_of(site)
