"""How a kitchen decides each morning: by a plan made up to its levels, or by plain rules. All give, by day, up to what level to make."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats
from jugcore.planning.lots.model import value_g
from jugcore.planning.lots.plan import LotsPlan
from jugcore.planning.lots.problem import LotsProblem, ProductDoc

#: Of what is left when the next cook comes and is good still, so much is lost all the same: it is older, and some of it expires unused. Estimate.
_LEFT_LOST = 0.2
#: A cook that is planned is made unless next to nothing lacks; a share of what is worth a cook.
_PLAN_WAITS = 0.1
#: A rule of kitchens: what today and tomorrow need, and a fifth more (common practice, no source).
_PAR_DAYS, _PAR_MORE = 2, 1.2


@dataclass(frozen=True)
class Policy:
    """Up to what level [g] a product is made on a day, and in how many cooks at most; on other days it is not made.

    What lacks less than the share ``waits`` of what is worth a cook waits for the next.
    """

    levels: Mapping[tuple[str, int], tuple[float, int]]
    waits: float = 0.5


def ratio(product: ProductDoc, spoils: bool) -> float:
    """With what chance a level should last: what running short costs beside what is left over (newsvendor), 0.5 to 0.995.

    ``spoils``: whether what is left when the next cook comes is thrown away.
    """
    worth = value_g(product) + product.waste_g
    over = worth if spoils else _LEFT_LOST * worth
    under = max(product.short_g - value_g(product), 0.1 * product.short_g)
    return float(np.clip(under / (under + over), 0.5, 0.995))


def by_plan(problem: LotsProblem, plan: LotsPlan, draws: Mapping[str, Floats]) -> Policy:
    """A plan's cooks, each made up to the level that lasts until the next with the chance that its money says.

    Parameters: the plan; draws (K, T) of what each product's drinks need by day. What its parents take is as planned.
    """
    days = len(problem.days)
    cooks = {(cook.product, cook.day): cook for cook in plan.cooks if cook.cooks}
    levels: dict[tuple[str, int], tuple[float, int]] = {}
    taken = _taken(problem, plan)
    for product in problem.products:
        mine = sorted(day for id, day in cooks if id == product.id)
        for n, day in enumerate(mine):
            first = day + product.ready_days
            following = mine[n + 1] + product.ready_days if n + 1 < len(mine) else days
            last = min(following, day + product.life_days, days)
            chance = ratio(product, spoils=day + product.life_days <= following)
            needs = draws[product.id][:, first:last].sum(axis=1) + float(taken[product.id][first:last].sum())
            # What stands until this is ready is used up by then, so far as anybody knows.
            before = float(draws[product.id][:, day:first].mean(axis=0).sum()) if first > day else 0.0
            level = float(np.quantile(needs, chance)) + before
            if n + 1 == len(mine):  # and what is needed after the plan, as far as it was planned for
                level += sum(cooks[product.id, each].kept_g for each in mine)
            many = cooks[product.id, day].cooks
            levels[product.id, day] = max(level, many * product.cook.least_g), many
    return Policy(levels, waits=_PLAN_WAITS)


def to_par_daily(problem: LotsProblem) -> Policy:
    """Every open morning up to par: what today and tomorrow need and a fifth more, no longer than it keeps."""
    return _rule(problem, lambda product, day: (day, min(_PAR_DAYS, product.life_days)))


def fixed_weekdays(problem: LotsProblem, weekdays: Sequence[int]) -> Policy:
    """On the same weekdays (0 is Monday), enough until the next of them and a fifth more, no longer than it keeps."""
    on = [day for day, each in enumerate(problem.days) if each.on.weekday() in weekdays and not each.closed]

    def reach(product: ProductDoc, day: int) -> tuple[int, int] | None:
        if day not in on:
            return None
        following = next((each for each in on if each > day), len(problem.days))
        return day, min(following - day, product.life_days)

    return _rule(problem, reach)


def _rule(problem: LotsProblem, reach: object) -> Policy:
    assert callable(reach)
    levels: dict[tuple[str, int], tuple[float, int]] = {}
    whole = _with_parents(problem)
    for product in problem.products:
        for day, each in enumerate(problem.days):
            found = None if each.closed else reach(product, day)
            if found is not None:
                first, many = found
                needs = float(whole[product.id][first : first + many].sum())
                levels[product.id, day] = _PAR_MORE * needs, product.cook.a_day
    return Policy(levels)


def _with_parents(problem: LotsProblem) -> dict[str, Floats]:
    """(T,) what each product needs by day, what its parents take counted on the day their drinks are sold."""
    found = {each.id: np.array(each.needs_g) for each in problem.products}
    for each in reversed(problem.in_order()):
        for inner, share in each.parts.items():
            found[inner] = found[inner] + share * found[each.id]
    return found


def _taken(problem: LotsProblem, plan: LotsPlan) -> dict[str, Floats]:
    """(T,) what parents take of each product by day, as planned."""
    found: dict[str, Floats] = defaultdict(lambda: np.zeros(len(problem.days)))
    parts = {each.id: each.parts for each in problem.products}
    for cook in plan.cooks:
        for inner, share in parts[cook.product].items():
            found[inner][cook.day] += share * cook.grams
    return found
