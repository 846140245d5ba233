"""Plans against published lot sizes, an exact dynamic program, an independent check of every plan, and what must hold of any of them."""

from __future__ import annotations

import json
import re
import time
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from jugcore.planning.lots.plan import LotsPlan
from jugcore.planning.lots.problem import LotsProblem
from jugcore.planning.lots.solve import solve
from jugcore.tests.depth import often
from jugcore.tests.lots import FIRST, random_problem
from jugcore.tests.plan_check import check
from jugcore.tests.shell import run
from jugcore.tests.tables import rows

#: Enough for plans of a few products.
SECONDS = 20.0


def planned(problem: LotsProblem, seconds: float = SECONDS) -> LotsPlan:
    return solve(problem, seconds, time.monotonic)


def simple(needs: list[float], setups: list[float], hold: float, life: int = 400, **more: Any) -> LotsProblem:
    """One product, any amount a cook, one cook a day."""
    least = min(setups)
    product = {
        "id": "p", "needs_g": needs, "life_days": life, "hold_g": hold, "short_g": 900.0, "cook": {"most_g": 100_000, "money": least, "a_day": 1}, **more,
    }  # fmt: skip
    return LotsProblem.model_validate({"days": [{"on": FIRST, "more": setup - least} for setup in setups], "products": [product]})


def exact(needs: list[float], setups: list[float], hold: float, life: int, short: float) -> float:
    """The least cost by going through the days: each is served by the newest cook that is good still, or short of all it needs."""
    many = len(needs)

    def served(last: int, first: int, until: int) -> float:
        """Days from ``first`` up to before ``until``, when the newest cook was on day ``last`` (-1 for none)."""
        good = (hold * (day - last) if last >= 0 and day - last < life else float("inf") for day in range(first, until))
        return sum(min(short, each) * needs[day] for day, each in enumerate(good, first))

    # The least with a cook on each day and everything before it served.
    value: list[float] = []
    for day in range(many):
        before = [value[last] + served(last, last, day) for last in range(day)]
        value.append(min([served(-1, 0, day), *before]) + setups[day])
    return min([served(-1, 0, many), *(value[day] + served(day, day, many) for day in range(many))])


class Published(unittest.TestCase):
    def test_wagner_whitin(self) -> None:
        """The published optima of 1958 and of the textbook example: cost, and what is ordered when."""
        plans: dict[str, LotsPlan] = {}
        seen = 0
        for row in rows("lot_sizing"):
            if row["problem"] != "Wagner-Whitin":
                continue
            if "demand" in row["case"]:
                needs, setups = ([float(x) for x in found.split(",")] for found in re.findall(r"\[([\d, ]+)\]", row["case"] + " [0]")[:2])
                hold = 1.0
                if len(setups) == 1:
                    setup, hold = (float(x) for x in re.findall(r"setup ([\d.]+); holding ([\d.]+)", row["case"])[0])
                    setups = [setup] * len(needs)
                plans[row["case"][:4]] = planned(simple(needs, setups, hold))
                found = plans[row["case"][:4]].cost
            else:
                period = int(re.findall(r"period (\d+)", row["asked"])[0])
                found = next(cook.grams for cook in plans["1958"].cooks if cook.day == period - 1)
            seen += 1
            self.assertAlmostEqual(found, row.value, delta=row.tolerance or 0.01, msg=row.id)
        self.assertGreaterEqual(seen, 6)
        self.assertTrue(all(plan.status == "optimal" for plan in plans.values()))

    def test_an_exact_program(self) -> None:
        """Whatever life, holding and price of running short: the plan costs what going through the days costs."""
        for seed in range(40):
            random = np.random.default_rng(seed)
            many = int(random.integers(2, 15))
            needs = [float(x) for x in random.integers(0, 90, many)]
            setups = [float(x) for x in random.integers(10, 120, many)]
            hold, life, short = float(random.choice([0.0, 0.2, 1.0])), int(random.integers(1, 8)), float(random.choice([0.5, 2.0, 900.0]))
            found = planned(simple(needs, setups, hold, life, short_g=short))
            self.assertAlmostEqual(found.cost, exact(needs, setups, hold, life, short), delta=0.02 + 2e-4 * found.cost, msg=str(seed))
            self.assertEqual(found.status, "optimal")


class Checked(unittest.TestCase):
    def test_every_plan_can_be_done_and_costs_what_it_says(self) -> None:
        """Random kitchens, tight and roomy, products within products, stock with its days: by a check that knows nothing of the planner."""
        for seed in range(often(60, daily=6)):
            random = np.random.default_rng(seed)
            problem = random_problem(
                seed, int(random.integers(2, 8)), int(random.integers(3, 9)), tight=float(random.uniform(0.7, 2.0)), limited=seed % 2 == 0
            )
            if seed % 3 == 0:
                bottled = [p.model_copy(update={"cook": p.cook.model_copy(update={"bottle_g": 700.0})}) for p in problem.products]
                problem = problem.model_copy(update={"chill_l": 14.0, "products": tuple(bottled)})
            plan = planned(problem, 4.0)
            cost, wrong = check(problem.model_dump(mode="json"), plan.model_dump(mode="json"))
            self.assertEqual(wrong, [], f"seed {seed}")
            self.assertAlmostEqual(cost, plan.cost, delta=0.01 + 1e-5 * abs(cost), msg=f"seed {seed}")
            self.assertLessEqual(plan.bound, plan.cost + 1e-6)
            self.assertAlmostEqual(plan.gap, (plan.cost - plan.bound) / abs(plan.cost), delta=1e-4)

    def test_a_check_that_finds_nothing_would_be_none(self) -> None:
        """Spoilt plans are found out."""
        problem = random_problem(2, 5, 6)
        good = planned(problem).model_dump(mode="json")
        told = problem.model_dump(mode="json")
        self.assertEqual(check(told, good)[1], [])
        cook = next(n for n, each in enumerate(good["cooks"]) if each["used"])
        for change in (
            {"grams": good["cooks"][cook]["grams"] + 50},
            {"used": [{"day": good["cooks"][cook]["day"] + 50, "grams": 1.0}]},
            {"cooks": 0},
        ):
            cooks = [{**each, **change} if n == cook else each for n, each in enumerate(good["cooks"])]
            self.assertNotEqual(check(told, {**good, "cooks": cooks})[1], [], change)
        self.assertNotEqual(check(told, {**good, "cooks": [each for n, each in enumerate(good["cooks"]) if n != cook]})[1], [])
        self.assertNotEqual(check(told, {**good, "short": [*good["short"], {"product": "p0", "day": 0, "grams": 900.0}]})[1], [])

    def test_parts_are_made_before_what_they_go_into(self) -> None:
        """Foam of 96 % sweet cream that is good the next morning only: cream is made the day before the foam."""
        cook = {"most_g": 4000, "money": 5.0, "money_g": 0.004}
        problem = LotsProblem.model_validate({
            "days": [{"on": FIRST}] * 4,
            "products": [
                {"id": "foam", "needs_g": [0, 0, 1000, 0], "life_days": 1, "short_g": 1.0, "cook": cook, "parts": {"cream": 0.96}},
                {"id": "cream", "needs_g": [0, 0, 0, 500], "life_days": 3, "ready_days": 1, "short_g": 1.0, "cook": cook},
            ],
        })  # fmt: skip
        plan = planned(problem)
        made = {(each.product, each.day): each.grams for each in plan.cooks}
        self.assertEqual(made, {("foam", 2): 1000.0, ("cream", 1): 1460.0})
        self.assertEqual(plan.short, [])

    def test_what_thaws_is_used_when_it_has(self) -> None:
        cook = {"most_g": 4000, "money": 50.0, "money_g": 0.01}
        for first, wanted in ((1, 1), (0, 0)):
            problem = LotsProblem.model_validate({
                "days": [{"on": FIRST}] * 2, "products": [{"id": "p", "needs_g": [500, 500], "life_days": 1, "short_g": 1.0, "cook": cook}],
                "stock": [{"product": "p", "grams": 1000, "first_day": first, "last_day": 5}],
            })  # fmt: skip
            self.assertEqual(len(planned(problem).cooks), wanted)


class Always(unittest.TestCase):
    def test_more_stock_and_longer_life_never_cost_more(self) -> None:
        for seed in range(often(30, daily=3)):
            problem = random_problem(seed, 4, 6, tight=1.2)
            before = planned(problem)
            room = 2e-4 * abs(before.cost) + 0.01
            more = [*problem.stock, *[row.model_copy(update={"grams": 400.0}) for row in problem.stock[:2]]]
            richer = planned(problem.model_copy(update={"stock": tuple(more)}))
            self.assertLessEqual(richer.cost, before.cost + room, f"seed {seed}: more stock")
            longer = [p.model_copy(update={"life_days": p.life_days + 2}) for p in problem.products]
            kept = planned(problem.model_copy(update={"products": tuple(longer)}))
            self.assertLessEqual(kept.cost, before.cost + room, f"seed {seed}: longer life")
            roomier = [
                day.model_copy(update={"hands_min": (day.hands_min or 0) + 60, "burner_min": (day.burner_min or 0) + 60}) for day in problem.days
            ]
            self.assertLessEqual(planned(problem.model_copy(update={"days": tuple(roomier)})).cost, before.cost + room, f"seed {seed}: more hands")

    def test_pins_are_kept_and_cost_no_less(self) -> None:
        problem = random_problem(4, 5, 6, tight=1.5)
        free = planned(problem)
        for pins in (
            [{"product": "p1", "day": 2, "cooks": 1}], [{"product": "p0", "day": 0, "cooks": 0}, {"product": "p2", "day": 3, "cooks": 1, "kind": "at least"}],
            [{"product": each.product, "day": each.day, "cooks": each.cooks} for each in free.cooks],
        ):  # fmt: skip
            pinned = LotsProblem.model_validate({**problem.model_dump(), "pins": pins})
            plan = planned(pinned)
            self.assertEqual(check(pinned.model_dump(mode="json"), plan.model_dump(mode="json"))[1], [])
            self.assertGreaterEqual(plan.cost, free.cost - 2e-4 * free.cost)
        self.assertAlmostEqual(plan.cost, free.cost, delta=0.01 + 1e-4 * free.cost)  # what was planned, pinned, is the same plan

    def test_what_cannot_be_names_the_fewest_to_blame(self) -> None:
        problem = random_problem(3, 4, 7, tight=6.0)
        self.assertTrue(problem.days[6].closed)
        a_day = problem.products[0].cook.a_day
        hands = problem.days[0].hands_min or 0.0
        each = problem.products[0].cook.hands_min
        self.assertGreater(each * 3, 0)
        for pins, blamed in (
            ([{"product": "p1", "day": 0, "cooks": 1}, {"product": "p0", "day": 6, "cooks": 1}], [1]),
            ([{"product": "p0", "day": 1, "cooks": 1}, {"product": "p0", "day": 1, "cooks": 0}], [0, 1]),
            ([{"product": "p0", "day": 1, "cooks": a_day + 1}], [0]),
            ([{"product": "p0", "day": 1, "cooks": 2}, {"product": "p0", "day": 1, "cooks": 1, "kind": "at least"}], []),
        ):
            plan = planned(LotsProblem.model_validate({**problem.model_dump(), "pins": pins}), 4.0)
            self.assertEqual(plan.blamed, blamed)
            self.assertEqual(plan.status == "impossible", bool(blamed))
        too_many = LotsProblem.model_validate({
            **problem.model_dump(), "days": [{**day.model_dump(), "hands_min": 1.5 * each} for day in problem.days],
            "pins": [{"product": "p1", "day": 0, "cooks": 0}, {"product": "p0", "day": 0, "cooks": 1}, {"product": "p0", "day": 1, "cooks": 2}],
        })  # fmt: skip
        self.assertEqual(planned(too_many).blamed, [2])
        self.assertGreater(hands, 0)

    def test_a_large_plan_is_near_its_bound(self) -> None:
        """What the benchmark measures, once and with room: a plan that keeps every row, within a fifth of its bound after six seconds."""
        problem = random_problem(1, 16, 10, tight=1.4)
        plan = planned(problem, 6.0)
        self.assertEqual(check(problem.model_dump(mode="json"), plan.model_dump(mode="json"))[1], [])
        self.assertLess(plan.gap, 0.2)

    def test_what_is_asked_must_hang_together(self) -> None:
        good = random_problem(1, 4, 4).model_dump()
        first = good["products"][0]
        for change in (
            {"products": [first, first]}, {"products": [{**first, "needs_g": [1.0]}]}, {"products": [{**first, "parts": {"none": 1.0}}]},
            {"products": [{**first, "parts": {first["id"]: 1.0}}]}, {"pins": [{"product": "p0", "day": 9, "cooks": 1}]},
            {"stock": [{"product": "none", "grams": 1, "last_day": 2}]}, {"products": [{**first, "cook": {**first["cook"], "least_g": 1e5}}]},
        ):  # fmt: skip
            with self.assertRaises(ValueError):
                LotsProblem.model_validate({**good, **change})


class FromAShell(unittest.TestCase):
    def test_the_example_can_be_done(self) -> None:
        text = (Path(__file__).parents[2] / "docs" / "examples" / "plans" / "ferry-steps-week.json").read_text(encoding="utf-8")
        code, out, err = run(["plan", "--seconds", "10"], text)
        self.assertEqual((code, err), (0, ""))
        plan = json.loads(out)
        told = LotsProblem.model_validate_json(text).model_dump(mode="json")
        cost, wrong = check(told, plan)
        self.assertEqual((wrong, plan["status"]), ([], "optimal"))
        self.assertAlmostEqual(cost, plan["cost"], places=3)
        self.assertFalse([cook for cook in plan["cooks"] if cook["product"] == "honey" and cook["day"] == 2])
        self.assertEqual(run(["plan"], json.dumps({**json.loads(text), "days": []}))[0], 2)

    def test_the_forecast_of_the_example(self) -> None:
        text = (Path(__file__).parents[2] / "docs" / "examples" / "plans" / "ferry-steps-sold.json").read_text(encoding="utf-8")
        code, out, _ = run(["forecast"], text)
        self.assertEqual(code, 0)
        whole = json.loads(out)["sums"][0]
        self.assertGreater(whole["days"]["mean"][4], 1.2 * whole["days"]["mean"][3])  # the festival
