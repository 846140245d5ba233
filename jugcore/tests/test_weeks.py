"""Weeks lived through by a plan or by a rule: by hand, by what must add up, and by the newsvendor's published answers."""

from __future__ import annotations

import re
import time
import unittest
from typing import Any

import numpy as np

from jugcore.planning.lots.choose import choose
from jugcore.planning.lots.margins import with_margins
from jugcore.planning.lots.plan import CookOut, LotsPlan, MoneyOut
from jugcore.planning.lots.policies import Policy, by_plan, fixed_weekdays, ratio, to_par_daily
from jugcore.planning.lots.problem import LotsProblem, ProductDoc
from jugcore.planning.lots.simulate import live
from jugcore.tests.depth import often
from jugcore.tests.lots import FIRST, draws_of, random_problem
from jugcore.tests.tables import rows


def product(**more: Any) -> ProductDoc:
    raw = {"id": "p", "needs_g": [100.0] * 4, "life_days": 2, "short_g": 0.1, "cook": {"most_g": 500.0, "money": 2.0, "money_g": 0.01}}
    return ProductDoc.model_validate({**raw, **more})


def problem_of(*products: ProductDoc, **more: Any) -> LotsProblem:
    many = len(products[0].needs_g)
    days = [{"on": FIRST.replace(day=FIRST.day + n)} for n in range(many)]
    return LotsProblem.model_validate({"days": days, "products": [each.model_dump() for each in products], **more})


def always(problem: LotsProblem, grams: float, weeks: int = 2) -> dict[str, np.ndarray]:
    return {each.id: np.full((weeks, len(problem.days)), grams) for each in problem.products}


class ByHand(unittest.TestCase):
    def test_what_is_made_is_used_expires_and_runs_out(self) -> None:
        """250 g made on day 0, good for two days: 100 and 100 are drunk, 50 thrown away on day 2, when there is nothing; 100 made on day 3.

        Money: two cooks of 2, 350 g at 0.01, 100 g short at 0.1, 50 g thrown away at 0.02.
        """
        problem = problem_of(product(waste_g=0.02))
        lived = live(problem, Policy({("p", 0): (250.0, 1), ("p", 3): (100.0, 1)}), always(problem, 100.0))
        self.assertEqual((lived.made_g["p"][0], lived.short_g["p"][0], lived.waste_g["p"][0]), (350.0, 100.0, 50.0))
        self.assertAlmostEqual(lived.money[0], 2 * 2 + 3.5 + 10 + 1.0)
        self.assertEqual(lived.runs_out("p"), 1.0)

    def test_parts_are_taken_first_and_bound_what_is_made_of_them(self) -> None:
        """Foam of half cream: 60 g of cream allow 120 g of foam, whatever its level says."""
        foam = product(id="foam", needs_g=[200.0], parts={"cream": 0.5})
        cream = product(id="cream", needs_g=[0.0])
        problem = problem_of(foam, cream)
        draws = {"foam": np.full((1, 1), 200.0), "cream": np.zeros((1, 1))}
        lived = live(problem, Policy({("cream", 0): (60.0, 1), ("foam", 0): (200.0, 1)}), draws)
        self.assertEqual((lived.made_g["foam"][0], lived.short_g["foam"][0], lived.short_g["cream"][0]), (120.0, 80.0, 0.0))

    def test_a_day_has_room_for_so_much(self) -> None:
        cook = {"most_g": 500.0, "money": 2.0, "hands_min": 30.0}
        problem = problem_of(product(id="a", cook=cook), product(id="b", cook=cook))
        tight = problem.model_copy(update={"days": tuple(day.model_copy(update={"hands_min": 40.0}) for day in problem.days)})
        policy = Policy({("a", 0): (200.0, 1), ("b", 0): (200.0, 1)})
        self.assertEqual([live(each, policy, always(problem, 100.0)).cooks[0] for each in (problem, tight)], [2.0, 1.0])

    def test_rules(self) -> None:
        """Up to par: 1.2 times what today and tomorrow need, no longer than it keeps. On Mondays (the first day here): until the next."""
        problem = problem_of(product(needs_g=[100.0, 50.0, 80.0, 10.0], life_days=3))
        par, fixed = to_par_daily(problem).levels, fixed_weekdays(problem, (0, 3)).levels
        self.assertEqual([round(par["p", day][0]) for day in range(4)], [180, 156, 108, 12])
        self.assertEqual({day: round(level) for (_, day), (level, _) in fixed.items()}, {0: 276, 3: 12})
        short_lived = problem_of(product(needs_g=[100.0, 50.0, 80.0, 10.0], life_days=1))
        self.assertEqual(round(to_par_daily(short_lived).levels["p", 0][0]), 120)


class Newsvendor(unittest.TestCase):
    def test_published(self) -> None:
        """Price 12, cost 5, salvage 2: a unit short costs 7, one left over 3. The ratio, and the level of a discrete demand."""
        seen = 0
        for row in rows("lot_sizing"):
            if row["problem"] != "newsvendor":
                continue
            p = product(needs_g=[11.0], life_days=1, short_g=10.0, cook={"most_g": 1e5, "money_g": 3.0, "least_g": 0.0})
            if row["asked"] == "critical fractile":
                seen += 1
                self.assertAlmostEqual(ratio(p, spoils=True), row.value, places=9)
            elif row["asked"] == "Q*":
                seen += 1
                shares = [float(share) for share in re.findall(r"\.\d+", row["case"].split("p=")[1].split(",")[0])]
                demand = np.repeat(np.arange(8, 8 + len(shares)), np.round(np.array(shares) * 100).astype(int)).astype(float)
                plan = LotsPlan(
                    status="optimal", cost=0, bound=0, gap=0, money=MoneyOut(cooks=0, ingredients=0, holding=0, short=0, waste=0, kept=0),
                    cooks=[CookOut(product="p", day=0, cooks=1, grams=11, used=[], kept_g=0, waste_g=0)], from_stock=[], short=[], seconds=0,
                )  # fmt: skip
                policy = by_plan(problem_of(p), plan, {"p": demand[:, None]})
                self.assertAlmostEqual(policy.levels["p", 0][0], row.value, delta=0.51)  # a quantile between two numbers
        self.assertEqual(seen, 2)

    def test_a_margin_is_more_where_running_short_costs_more(self) -> None:
        problem = problem_of(product())
        draws = {"p": np.random.default_rng(1).gamma(9, 100 / 9, (1000, 4))}
        dear = problem_of(product(short_g=5.0))
        one, other = (sum(with_margins(each, draws).products[0].margin_g) for each in (problem, dear))
        self.assertGreater(other, 1.5 * one)
        sure = {"p": np.full((1000, 4), 100.0)}
        self.assertAlmostEqual(sum(with_margins(problem, sure).products[0].margin_g), 0.0, places=6)


class Always(unittest.TestCase):
    def test_grams_add_up_whatever_is_done(self) -> None:
        """What was there and made is drunk, taken by parents, thrown away, or good at the end; in every week of random kitchens."""
        for seed in range(often(30, daily=6)):
            problem = random_problem(seed, 5, 9, tight=1.5)
            draws = draws_of(problem, seed, 50)
            policies = [to_par_daily(problem), fixed_weekdays(problem, (1, 4))]
            for policy in policies:
                lived = live(problem, policy, draws)
                for each in problem.products:
                    there = sum(stock.grams for stock in problem.stock if stock.product == each.id) + lived.made_g[each.id]
                    taken = sum(other.parts.get(each.id, 0.0) * lived.made_g[other.id] for other in problem.products)
                    drunk = draws[each.id].sum(axis=1) - lived.short_g[each.id]
                    np.testing.assert_allclose(
                        drunk + taken + lived.waste_g[each.id] + lived.kept_g[each.id], there, atol=1e-6, err_msg=f"seed {seed}"
                    )
                    self.assertTrue(np.all(lived.short_g[each.id] >= -1e-9) and np.all(lived.waste_g[each.id] >= -1e-9))

    def test_a_plan_is_no_dearer_than_the_better_rule(self) -> None:
        """Two kitchens; the benchmark does eight at three sizes of room, with the time that it takes."""
        for seed in (2, 5):
            problem = random_problem(seed, 4, 7, tight=2.0)
            found = choose(problem, draws_of(problem, seed, 600), 8.0, time.monotonic)
            assert found is not None
            self.assertLess(found.of_better_rule(), 1.0)
            self.assertTrue(0.0 <= found.lived.anything_runs_out() <= 1.0)

    def test_what_cannot_be_is_not_chosen(self) -> None:
        problem = random_problem(1, 3, 5, tight=2.0)
        pins = [{"product": "p0", "day": 1, "cooks": 1}, {"product": "p0", "day": 1, "cooks": 0}]
        pinned = LotsProblem.model_validate({**problem.model_dump(), "pins": pins})
        self.assertIsNone(choose(pinned, draws_of(pinned, 1, 100), 2.0, time.monotonic))
