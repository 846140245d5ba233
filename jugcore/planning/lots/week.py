"""A site's plan for the days to come: from its forecast, its cooks and its stock to a plan in money, with why each cook is there."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date
from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from jugcore.fields import Part, Title
from jugcore.figures import Floats
from jugcore.planning.forecast.counts import Counts
from jugcore.planning.forecast.randomness import Randomness
from jugcore.planning.forecast.report import ForecastReport
from jugcore.planning.forecast.together import Together
from jugcore.planning.lots.choose import Chosen, choose
from jugcore.planning.lots.cooking import CookReport
from jugcore.planning.lots.plan import CookOut, MoneyOut
from jugcore.planning.lots.problem import CookDoc, DayDoc, LotsProblem, PinDoc, ProductDoc, StockDoc
from jugcore.planning.lots.simulate import Lived
from jugcore.planning.lots.solve import solve
from jugcore.planning.needs.report import CupDoseDoc
from jugcore.solving.stopwatch import Clock

#: Weeks drawn: half to choose by, half to judge by.
_WEEKS = 2000
#: A night in the fridge takes room, energy and freshness: so much of what a gram is worth. Estimate; of two plans that cost the same the later
#: cook is meant.
_HOLD = 0.003
_Money = Annotated[float, Field(ge=0, le=100_000)]


class MakesDoc(Part):
    """A product that is made here: what a cook takes, what is paid for what goes into it, what running short of it costs."""

    title: Title
    cook: CookReport
    life_days: int = Field(ge=1, le=400)
    money_g: _Money
    short_g: float = Field(gt=0, le=1_000)


class WeekAsk(Part):
    """Days to plan, what is made, on hand and decided, and what a site pays."""

    days: tuple[DayDoc, ...] = Field(min_length=1, max_length=28)
    makes: tuple[MakesDoc, ...] = Field(max_length=80)
    doses: tuple[CupDoseDoc, ...]
    stock: tuple[StockDoc, ...] = ()
    pins: tuple[PinDoc, ...] = ()
    wage_h: _Money = 0.0
    energy_kwh: _Money = 0.0
    container: _Money = 0.0
    weekdays: tuple[int, ...] = (0, 3)
    seconds: float = Field(8.0, gt=0, le=600)


class PlannedCook(BaseModel):
    """Cooks of a product on a day: how many, how much on average over the weeks, up to what level, and why."""

    product: str
    day: int
    cooks: int
    grams: float
    up_to_g: float
    waste_g: float
    covers: list[int] = Field(description="The days of the plan it is used on.")
    why: str
    pinned: bool


class PlannedProduct(BaseModel):
    """A product over the days: what stands once the day's cooks are made and in the evening, on average; how often it runs out."""

    product: str
    title: str
    life_days: int
    morning_g: list[float]
    evening_g: list[float]
    runs_out: float
    waste_g: float
    hands_min: float
    most_g: float


class LivedReport(BaseModel):
    """What simulated weeks made of a way to decide: money on average, the chance that a product runs out (their mean), kilograms thrown away."""

    money: float
    runs_out: float
    waste_kg: float
    cooks: float


class WeekPlan(BaseModel):
    """A plan for days to come. ``blamed`` are the pins that cannot be together; then there is no plan."""

    on: list[date]
    products: list[PlannedProduct]
    cooks: list[PlannedCook]
    money: MoneyOut
    gap: float
    hands_min: list[float]
    room_min: list[float | None]
    lived: LivedReport
    to_par: LivedReport
    fixed: LivedReport
    blamed: list[int]
    seconds: float


def plan_week(forecast: ForecastReport, ask: WeekAsk, clock: Clock, random: Randomness) -> WeekPlan:
    """The plan for the first days of a forecast; the days after them say what is worth keeping. Clock and randomness are handed in."""
    days = len(ask.days)
    if not ask.makes:
        return _nothing(ask, ())
    draws, beyond = _draws(forecast, ask, days, random)
    problem = _problem(ask, draws, beyond)
    chosen = choose(problem, draws, ask.seconds, clock, weekdays=ask.weekdays)
    if chosen is None:
        return _nothing(ask, solve(problem, 0.1, clock).blamed)
    return _told(ask, chosen)


def _draws(forecast: ForecastReport, ask: WeekAsk, days: int, random: Randomness) -> tuple[dict[str, Floats], dict[str, Floats]]:
    """What each product's drinks need by day: weeks drawn (K, T), and what the days after the plan need (L,)."""
    parts = Together(forecast.together.week, forecast.together.day, forecast.together.level)
    doses = {(each.drink, each.size): each.grams for each in ask.doses}
    drawn = {each.cook.product: np.zeros((_WEEKS, days)) for each in ask.makes}
    later = {each.cook.product: np.zeros(max(len(forecast.on) - days, 0)) for each in ask.makes}
    counts = [Counts(np.array(cell.days.mean)[:days], np.array(cell.alpha)[:days]) for cell in forecast.cells]
    if counts:
        cups = parts.draws(counts, random, _WEEKS)
        for n, cell in enumerate(forecast.cells):
            for product, grams in doses.get((cell.drink, cell.size), {}).items():
                if product in drawn:
                    drawn[product] += grams * cups[:, n]
                    later[product] += grams * np.array(cell.days.mean)[days:]
    return drawn, later


def _problem(ask: WeekAsk, draws: Mapping[str, Floats], beyond: Mapping[str, Floats]) -> LotsProblem:
    known = {each.cook.product for each in ask.makes}
    products = []
    for each in ask.makes:
        cook = each.cook
        products.append(ProductDoc(
            id=cook.product, title=each.title, needs_g=tuple(float(grams) for grams in draws[cook.product].mean(axis=0)),
            beyond_g=tuple(float(grams) for grams in beyond[cook.product][: max(each.life_days - 1, 0)]), life_days=each.life_days,
            short_g=each.short_g, hold_g=_HOLD * (each.money_g + 1e-4), parts={id: grams for id, grams in cook.parts_g.items() if id in known},
            cook=CookDoc(
                most_g=cook.most_g, least_g=cook.least_g, bottle_g=cook.bottle_g, hands_min=cook.hands_min, burner_min=cook.burner_min, a_day=4,
                money=ask.wage_h * cook.hands_min / 60.0 + ask.energy_kwh * cook.energy_kwh,
                money_g=each.money_g + ask.container * cook.bottles / cook.most_g,
            ),
        ))  # fmt: skip
    return LotsProblem(days=ask.days, products=tuple(products), stock=ask.stock, pins=ask.pins)


def _told(ask: WeekAsk, chosen: Chosen) -> WeekPlan:
    problem, plan, lived = chosen.problem, chosen.plan, chosen.lived
    makes = {each.cook.product: each for each in ask.makes}
    pinned = {(pin.product, pin.day) for pin in ask.pins}
    hands = [0.0] * len(ask.days)
    cooks = []
    for each in sorted(plan.cooks, key=lambda cook: (cook.day, cook.product)):
        hands[each.day] += each.cooks * makes[each.product].cook.hands_min
        level = chosen.policy.levels.get((each.product, each.day), (each.grams, each.cooks))[0]
        cooks.append(PlannedCook(
            product=each.product, day=each.day, cooks=each.cooks,
            grams=round(float(lived.batch_g[each.product][each.day]), 1), up_to_g=round(level, 1), waste_g=each.waste_g,
            covers=[use.day for use in each.used], why=_why(problem, plan.cooks, each), pinned=(each.product, each.day) in pinned,
        ))  # fmt: skip
    return WeekPlan(
        on=[day.on for day in ask.days], cooks=cooks, money=plan.money, gap=plan.gap, hands_min=[round(each, 1) for each in hands],
        products=[
            PlannedProduct(
                product=each.id, title=each.title, life_days=each.life_days, morning_g=_round(lived.morning_g[each.id]),
                evening_g=_round(lived.evening_g[each.id]), runs_out=round(lived.runs_out(each.id), 4),
                waste_g=round(float(lived.waste_g[each.id].mean()), 1),
                hands_min=round(each.cook.hands_min, 1), most_g=round(each.cook.most_g, 1),
            )
            for each in problem.products
        ],
        room_min=[day.hands_min for day in ask.days], lived=_lived(lived), to_par=_lived(chosen.rules["to par daily"]),
        fixed=_lived(chosen.rules["fixed weekdays"]), blamed=[], seconds=plan.seconds,
    )  # fmt: skip


def _why(problem: LotsProblem, cooks: Sequence[CookOut], cook: CookOut) -> str:
    """Why a cook is there: what is on hand lasts until when, what it covers, what of it goes into what."""
    product = next(each for each in problem.products if each.id == cook.product)
    names = {each.id: each.title for each in problem.products}
    before = [each for each in cooks if each.product == cook.product and each.day < cook.day]
    goes: dict[tuple[str, int], float] = defaultdict(float)
    for parent in problem.products:
        share = parent.parts.get(cook.product, 0.0)
        for other in cooks:
            if share and other.product == parent.id and other.day in {use.day for use in cook.used}:
                goes[parent.id, other.day] += share * other.grams
    words = []
    if cook.used:
        first, last = cook.used[0].day, cook.used[-1].day
        covers = _day(problem, first) if first == last else f"{_day(problem, first)} to {_day(problem, last)}"
        stock = any(row.product == cook.product and row.last_day >= first for row in problem.stock)
        if before:
            words.append(f"It covers {covers}; what is made on {_day(problem, before[-1].day)} lasts until then.")
        elif stock:
            words.append(f"It covers {covers}; what is on hand lasts until then.")
        else:
            words.append(f"It covers {covers}; nothing else is on hand.")
    if goes:
        words.append(" ".join(f"{grams / 1000:.1f} kg go into {names[parent]} on {_day(problem, day)}." for (parent, day), grams in goes.items()))
    early = cook.used[0].day - cook.day - product.ready_days if cook.used else 0
    if early > 0 and cook.cooks:
        words.append(f"Made {early} {'day' if early == 1 else 'days'} before it is needed, since {_day(problem, cook.used[0].day)} has less room.")
    if cook.kept_g > 0.05 * cook.grams:
        words.append(f"{cook.kept_g / 1000:.1f} kg are for the days after.")
    if cook.waste_g > 0.02 * cook.grams:
        words.append(f"About {cook.waste_g / 1000:.2f} kg will be thrown away: less is not worth a cook.")
    return " ".join(words) or "It was pinned."


def _day(problem: LotsProblem, day: int) -> str:
    return f"{problem.days[day].on:%A}"


def _lived(lived: Lived) -> LivedReport:
    waste = sum(float(grams.mean()) for grams in lived.waste_g.values()) / 1000.0
    return LivedReport(
        money=round(float(lived.money.mean()), 2), runs_out=round(lived.one_runs_out(), 4), waste_kg=round(waste, 2),
        cooks=round(float(lived.cooks.mean()), 1),
    )  # fmt: skip


def _nothing(ask: WeekAsk, blamed: Sequence[int]) -> WeekPlan:
    none = LivedReport(money=0, runs_out=0, waste_kg=0, cooks=0)
    return WeekPlan(
        on=[day.on for day in ask.days], products=[], cooks=[], money=MoneyOut(cooks=0, ingredients=0, holding=0, short=0, waste=0, kept=0), gap=0,
        hands_min=[], room_min=[], lived=none, to_par=none, fixed=none, blamed=list(blamed), seconds=0,
    )  # fmt: skip


def _round(values: Floats) -> list[float]:
    return [round(float(value), 1) for value in values]
