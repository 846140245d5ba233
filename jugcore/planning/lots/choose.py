"""The plan that is offered: of several that make more or less beyond what is expected, the one that is cheapest over simulated weeks.

It is chosen on one half of the weeks and judged on the other, beside the plain rules on the same weeks.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from jugcore.figures import Floats
from jugcore.planning.lots.margins import with_margins
from jugcore.planning.lots.plan import LotsPlan
from jugcore.planning.lots.policies import Policy, by_plan, fixed_weekdays, to_par_daily
from jugcore.planning.lots.problem import LotsProblem, PinDoc
from jugcore.planning.lots.simulate import Lived, live
from jugcore.planning.lots.solve import solve
from jugcore.solving.stopwatch import Clock

#: How many times the margin that the money of each product alone calls for; what is shared decides between them.
SCALES = (1.0, 0.5, 1.5, 2.0, 3.0)
#: One more cook is worth it from this share of a week's money on.
_WORTH = 0.002
#: The site's fixed weekdays, where nobody says others: Monday and Thursday.
WEEKDAYS = (0, 3)


@dataclass(frozen=True)
class Chosen:
    """A plan, the problem with the margins it was made for, its levels, and what the weeks it had not seen made of it and of the rules."""

    problem: LotsProblem
    plan: LotsPlan
    policy: Policy
    lived: Lived
    rules: Mapping[str, Lived]

    def of_better_rule(self) -> float:
        """What it costs, as a share of the better rule."""
        return float(self.lived.money.mean()) / min(float(each.money.mean()) for each in self.rules.values())


def _with_more_cooks(problem: LotsProblem, scaled: LotsProblem, policy: Policy, seen: Mapping[str, Floats], money: float) -> list[PinDoc]:
    """Cooks that one more of is worth it over the weeks: where a level lies above what the cooks that are planned can bring, each tried in turn."""
    found: list[PinDoc] = []
    decided = {(pin.product, pin.day) for pin in scaled.pins}
    by_id = {each.id: each for each in problem.products}
    for (id, day), (level, many) in sorted(policy.levels.items(), key=lambda each: (each[0][1], each[0][0])):
        if (id, day) in decided or many >= by_id[id].cook.a_day or level <= 0.9 * many * by_id[id].cook.most_g:
            continue
        tried = Policy({**policy.levels, (id, day): (level, many + 1)}, policy.waits)
        cost = float(live(problem, tried, seen).money.mean())
        if cost < money * (1 - _WORTH):
            policy, money = tried, cost
            found.append(PinDoc(product=id, day=day, cooks=many + 1))
    return found


def _held(scaled: LotsProblem, plan: LotsPlan, more: list[PinDoc]) -> LotsProblem:
    """The problem with every cook where it is planned, but for those of which there is one more: what is left to find is found at once."""
    cooks = {(cook.product, cook.day): cook.cooks for cook in plan.cooks} | {(pin.product, pin.day): pin.cooks for pin in more}
    pins = [PinDoc(product=each.id, day=day, cooks=cooks.get((each.id, day), 0)) for each in scaled.products for day in range(len(scaled.days))]
    return scaled.model_copy(update={"pins": tuple(pins)})


def _measured(plan: LotsPlan, before: LotsPlan) -> LotsPlan:
    """A plan with the bound of one that was solved freely."""
    gap = max(plan.cost - before.bound, 0.0) / max(abs(plan.cost), 1e-9)
    return plan.model_copy(update={"bound": before.bound, "gap": round(gap, 6), "status": before.status if gap <= before.gap else "feasible"})


def choose(
    problem: LotsProblem, draws: Mapping[str, Floats], seconds: float, clock: Clock, *, weekdays: tuple[int, ...] = WEEKDAYS
) -> Chosen | None:  # fmt: skip
    """The best plan that is found in some seconds; None where what is pinned cannot be.

    Parameters: the problem without margins; draws (K, T) of what each product's drinks need by day, half of them to choose by, half to
    judge by; seconds; a clock; the weekdays of the second rule.
    """
    half = len(next(iter(draws.values()))) // 2
    seen = {id: each[:half] for id, each in draws.items()}
    unseen = {id: each[half:] for id, each in draws.items()}
    margins = with_margins(problem, seen)
    best: tuple[float, LotsProblem, LotsPlan, Policy] | None = None
    began = clock()
    for n, scale in enumerate(SCALES):
        left = seconds - (clock() - began)
        if best is not None and left <= 0:
            break
        # The first has the most time: what it finds is offered whatever becomes of the others.
        scaled = margins.model_copy(update={"products": tuple(
            each.model_copy(update={"margin_g": tuple(scale * grams for grams in each.margin_g)}) for each in margins.products)})  # fmt: skip
        plan = solve(scaled, max(0.4 * left if n == 0 else left / (len(SCALES) - n), 0.1), clock)
        if plan.status in ("impossible", "too slow"):
            continue
        policy = by_plan(problem, plan, seen)
        money = float(live(problem, policy, seen).money.mean())
        if best is None or money < best[0]:
            best = money, scaled, plan, policy
    if best is None:
        return None
    money, scaled, plan, policy = best
    more = _with_more_cooks(problem, scaled, policy, seen, money)
    if more:
        again = solve(_held(scaled, plan, more), 2.0, clock)
        if again.status not in ("impossible", "too slow"):
            levels = by_plan(problem, again, seen)
            if float(live(problem, levels, seen).money.mean()) < money:
                # How near to the best it is, the plan before it says: what was held is no bound.
                plan, policy = _measured(again, plan), levels
    rules = {"to par daily": to_par_daily(problem), "fixed weekdays": fixed_weekdays(problem, weekdays)}
    return Chosen(scaled, plan, policy, live(problem, policy, unseen), {name: live(problem, rule, unseen) for name, rule in rules.items()})
