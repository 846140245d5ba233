"""The plan as a mixed-integer program in the facility-location form: every gram is of a cook and of a day it is used on.

x[p, m, u] grams made on day m and used on day u ≤ m + life − 1; n[p, m] cooks, whole. Links x ≤ need·n make its relaxation near the plan
itself; sums of x, of what is kept and thrown away, lie between least and most of n cooks. Source: Krarup and Bilde 1977, plant location
and lot sizing; products in products as in Pochet and Wolsey 2006, chapter 13.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.problem import LotsProblem, ProductDoc

#: What is left over and good is worth a little less than it cost, so that nothing is made only to be kept.
KEPT_WORTH = 0.97
#: Grams below this are none.
_NOTHING_G = 1e-6


@dataclass
class Columns:
    """Variables by what they are: places in the program."""

    cooks: dict[tuple[str, int], int] = field(default_factory=dict)
    used: dict[tuple[str, int, int], int] = field(default_factory=dict)
    kept: dict[tuple[str, int, int], int] = field(default_factory=dict)
    waste: dict[tuple[str, int], int] = field(default_factory=dict)
    stock_used: dict[tuple[int, int], int] = field(default_factory=dict)
    stock_kept: dict[tuple[int, int], int] = field(default_factory=dict)
    stock_waste: dict[int, int] = field(default_factory=dict)
    short: dict[tuple[str, int], int] = field(default_factory=dict)


@dataclass
class Program:
    """minimise cost·v, low ≤ rows·v ≤ high, least ≤ v ≤ most, some whole."""

    columns: Columns
    cost: Floats
    whole: Floats
    least: Floats
    most: Floats
    rows: Any
    low: Floats
    high: Floats


class _Rows:
    """Rows as they are written."""

    def __init__(self) -> None:
        self.at: list[int] = []
        self.of: list[int] = []
        self.by: list[float] = []
        self.low: list[float] = []
        self.high: list[float] = []

    def add(self, terms: Mapping[int, float], low: float, high: float) -> None:
        row = len(self.low)
        for column, by in terms.items():
            self.at.append(row)
            self.of.append(column)
            self.by.append(by)
        self.low.append(low)
        self.high.append(high)


def wanted_g(product: ProductDoc) -> Floats:
    """(T,) what is planned for by day: needs and margin."""
    needs = np.array(product.needs_g)
    return needs + np.array(product.margin_g) if product.margin_g else needs


def value_g(product: ProductDoc) -> float:
    """What a gram costs in a full cook."""
    return product.cook.money_g + product.cook.money / product.cook.most_g


def program_of(problem: LotsProblem, among: Sequence[ProductDoc] | None = None, *, coupled: bool = True) -> Program:
    """The program of a problem, or of some of its products, which must hold all their parts.

    ``coupled`` False leaves out what products share: hands, burners and the fridge. Its optimum is then a bound of the whole.
    """
    products = list(problem.products if among is None else among)
    days = len(problem.days)
    names = Columns()
    cost: list[float] = []
    whole: list[float] = []
    least: list[float] = []
    most: list[float] = []

    def column(price: float, upper: float = np.inf, *, integer: bool = False) -> int:
        cost.append(price)
        whole.append(1.0 if integer else 0.0)
        least.append(0.0)
        most.append(upper)
        return len(cost) - 1

    by_id = {each.id: each for each in products}
    above: dict[str, list[tuple[ProductDoc, float]]] = defaultdict(list)
    for each in products:
        for inner, share in each.parts.items():
            above[inner].append((each, share))
    # What may at most be wanted of a product on a day: its own needs, and what full cooks of its parents take.
    most_wanted = {each.id: wanted_g(each).copy() for each in products}
    for each in reversed(problem.in_order()):
        if each.id not in by_id:
            continue
        for inner, share in each.parts.items():
            reach = _reach(each, most_wanted[each.id], days)
            most_wanted[inner] = most_wanted[inner] + share * reach
    rows = _Rows()
    made: dict[tuple[str, int], dict[int, float]] = {}
    for each in products:
        for day in range(days):
            closed = problem.days[day].closed
            names.cooks[each.id, day] = column(each.cook.money + problem.days[day].more, 0.0 if closed else float(each.cook.a_day), integer=True)
            terms: dict[int, float] = {}
            for use in range(day + each.ready_days, min(day + each.life_days, days)):
                if most_wanted[each.id][use] > _NOTHING_G:
                    names.used[each.id, day, use] = column(each.cook.money_g + each.hold_g * (use - day))
                    terms[names.used[each.id, day, use]] = 1.0
            # What is kept beyond the plan is used by days there, while it is good.
            for late, wants in enumerate(each.beyond_g):
                if wants > _NOTHING_G and days + late < day + each.life_days and days + late >= day + each.ready_days:
                    names.kept[each.id, day, late] = column(each.cook.money_g + each.hold_g * (days - day) - KEPT_WORTH * value_g(each))
                    terms[names.kept[each.id, day, late]] = 1.0
            names.waste[each.id, day] = column(each.cook.money_g + each.waste_g)
            terms[names.waste[each.id, day]] = 1.0
            made[each.id, day] = terms
            cooks = names.cooks[each.id, day]
            rows.add({**terms, cooks: -each.cook.most_g}, -np.inf, 0.0)
            if each.cook.least_g > 0:
                rows.add({**terms, cooks: -each.cook.least_g}, 0.0, np.inf)
            for use in range(day + each.ready_days, min(day + each.life_days, days)):
                key = (each.id, day, use)
                if key in names.used and most_wanted[each.id][use] < each.cook.most_g:
                    rows.add({names.used[key]: 1.0, cooks: -float(most_wanted[each.id][use])}, -np.inf, 0.0)
    stock_of: dict[str, list[int]] = defaultdict(list)
    for number, stock in enumerate(problem.stock):
        if stock.product not in by_id:
            continue
        stock_of[stock.product].append(number)
        product = by_id[stock.product]
        terms = {}
        for use in range(stock.first_day, min(stock.last_day + 1, days)):
            if most_wanted[stock.product][use] > _NOTHING_G:
                names.stock_used[number, use] = column(product.hold_g * use)
                terms[names.stock_used[number, use]] = 1.0
        for late, wants in enumerate(product.beyond_g):
            if wants > _NOTHING_G and stock.first_day <= days + late <= stock.last_day:
                names.stock_kept[number, late] = column(product.hold_g * days - KEPT_WORTH * value_g(product))
                terms[names.stock_kept[number, late]] = 1.0
        names.stock_waste[number] = column(0.0)  # it was paid for before, whatever is planned
        terms[names.stock_waste[number]] = 1.0
        rows.add(terms, stock.grams, stock.grams)
    for each in products:
        for day in range(days):
            if most_wanted[each.id][day] <= _NOTHING_G:
                continue
            names.short[each.id, day] = column(each.short_g, float(wanted_g(each)[day]))
            terms = {names.short[each.id, day]: 1.0}
            for source in range(days):
                if (each.id, source, day) in names.used:
                    terms[names.used[each.id, source, day]] = 1.0
            for number in stock_of[each.id]:
                if (number, day) in names.stock_used:
                    terms[names.stock_used[number, day]] = 1.0
            for parent, share in above[each.id]:
                for variable, by in made[parent.id, day].items():
                    terms[variable] = terms.get(variable, 0.0) - share * by
            rows.add(terms, float(wanted_g(each)[day]), float(wanted_g(each)[day]))
        for late, wants in enumerate(each.beyond_g):
            terms = {names.kept[each.id, day, late]: 1.0 for day in range(days) if (each.id, day, late) in names.kept}
            terms |= {names.stock_kept[number, late]: 1.0 for number in stock_of[each.id] if (number, late) in names.stock_kept}
            if terms:
                rows.add(terms, -np.inf, wants)
    if coupled:
        _shared(problem, products, names, made, stock_of, rows)
    _pin(problem, names, least, most)
    return Program(
        names, np.array(cost), np.array(whole), np.array(least), np.array(most), _sparse(rows, len(cost)), np.array(rows.low), np.array(rows.high)
    )


def _reach(product: ProductDoc, wanted: Floats, days: int) -> Floats:
    """(T,) the most of a product that it makes sense to make on a day: all that is wanted while it is good, and a cook's least."""
    beyond = np.concatenate([wanted, np.array(product.beyond_g, dtype=np.float64)])
    ends = [float(beyond[day : day + product.life_days].sum()) for day in range(days)]
    found: Floats = np.maximum(np.array(ends), product.cook.least_g) + product.cook.least_g
    return found


def _shared(
    problem: LotsProblem, products: Sequence[ProductDoc], names: Columns, made: Mapping[tuple[str, int], Mapping[int, float]],
    stock_of: Mapping[str, Sequence[int]], rows: _Rows,
) -> None:  # fmt: skip
    """What a day has room for: hands, burners, and in the evening the fridge."""
    for day, each in enumerate(problem.days):
        if each.hands_min is not None:
            rows.add({names.cooks[p.id, day]: p.cook.hands_min for p in products if p.cook.hands_min > 0}, -np.inf, each.hands_min)
        if each.burner_min is not None:
            rows.add({names.cooks[p.id, day]: p.cook.burner_min for p in products if p.cook.burner_min > 0}, -np.inf, each.burner_min)
        if problem.chill_l is None:
            continue
        terms: dict[int, float] = {}
        for product in products:
            litres = product.chill_l_kg / 1000.0
            if not litres:
                continue
            for source in range(day + 1):
                for variable in made[product.id, source]:
                    terms[variable] = litres
                for use in range(source, day + 1):  # gone by this evening
                    if (product.id, source, use) in names.used:
                        terms.pop(names.used[product.id, source, use], None)
                if source + product.life_days - 1 < day:  # thrown away since
                    terms.pop(names.waste[product.id, source], None)
            for number in stock_of.get(product.id, ()):
                if problem.stock[number].last_day < day:
                    continue
                for (of, use), variable in names.stock_used.items():
                    if of == number and use > day:
                        terms[variable] = litres
                for (of, _), variable in names.stock_kept.items():
                    if of == number:
                        terms[variable] = litres
        if terms:
            rows.add(terms, -np.inf, problem.chill_l)


def _pin(problem: LotsProblem, names: Columns, least: list[float], most: list[float]) -> None:
    """What somebody decided, as bounds of the cooks."""
    for pin in problem.pins:
        variable = names.cooks.get((pin.product, pin.day))
        if variable is None:
            continue
        least[variable] = max(least[variable], float(pin.cooks))
        if pin.kind == "exactly":
            most[variable] = min(most[variable], float(pin.cooks))


def _sparse(rows: _Rows, columns: int) -> Any:
    from scipy.sparse import csr_array

    return csr_array((rows.by, (rows.at, rows.of)), shape=(len(rows.low), columns))
