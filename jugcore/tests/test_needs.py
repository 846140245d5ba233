"""What drinks need: by hand, through products in products, and what bottles lost beside it."""

from __future__ import annotations

import unittest
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import BadDocument
from jugcore.method.compile import compile_document
from jugcore.method.load_document import load_document
from jugcore.method.walk import walk
from jugcore.planning.forecast.together import Together
from jugcore.planning.needs.needs import CupsAhead, needs_of
from jugcore.planning.needs.of_versions import recipes_of
from jugcore.planning.needs.over_pour import Level, Open, levels_of, lost_between, over_pour
from jugcore.planning.needs.recipes import Recipe, depth, grams_in
from jugcore.stock import movements as m
from jugcore.tests.nested import nested

#: Sweet cream is 225 g/kg of syrup, foam 958 g/kg of sweet cream.
RECIPES = {"foam": Recipe({"cream": 0.958}, {"rose": 0.01}), "cream": Recipe({"syrup": 0.225}, {"dairy": 0.775}), "syrup": Recipe({}, {"sugar": 0.5})}
APART = Together(0.0, 0.0, 0.0)


def cups(place: str, drink: str, *mean: float) -> CupsAhead:
    return CupsAhead(place, drink, "long", np.array(mean), np.full(len(mean), 0.05))


class ByHand(unittest.TestCase):
    def test_products_in_products(self) -> None:
        """10 lattes of 20 g of foam, 5 of 12 g of cream: foam 200, cream 200 × 0.958 + 60 = 251.6, syrup 0.225 of that = 56.6."""
        self.assertEqual(grams_in("foam", RECIPES), {"foam": 1.0, "cream": 0.958, "syrup": 0.958 * 0.225})
        needs = {each.product: each for each in needs_of(
            [cups("quay", "latte", 10, 0), cups("weir", "mocha", 5, 1)], {("latte", "long"): {"foam": 20}, ("mocha", "long"): {"cream": 12}}, RECIPES, APART)}  # fmt: skip
        self.assertAlmostEqual(needs["foam"].whole.mean[0], 200)
        self.assertAlmostEqual(needs["cream"].days.mean[0], 251.6)
        self.assertAlmostEqual(needs["cream"].days.mean[1], 12)
        self.assertAlmostEqual(needs["syrup"].whole.mean[0], (251.6 + 12) * 0.225)
        self.assertAlmostEqual(needs["cream"].direct_g, 72)
        self.assertAlmostEqual(needs["cream"].within["foam"], 191.6)
        self.assertAlmostEqual(needs["cream"].places["weir"].mean[0], 60)
        self.assertEqual([depth(id, RECIPES) for id in ("syrup", "cream", "foam")], [0, 1, 2])

    def test_a_circle_is_refused(self) -> None:
        with self.assertRaises(BadDocument):
            grams_in("a", {"a": Recipe({"b": 1.0}, {}), "b": Recipe({"a": 0.1}, {})})

    def test_a_dose_of_nothing_ours_needs_nothing(self) -> None:
        self.assertEqual(needs_of([cups("quay", "tea", 10)], {}, RECIPES, APART), [])

    def test_a_recipe_is_what_is_weighed_in(self) -> None:
        """Grams of lines for a gram of product, whatever stays in cakes and films; what is made here beside what is bought."""
        for seed in range(4):
            document = load_document(nested(seed, 1).made)
            walked = walk(compile_document(document))
            found = recipes_of([("top", document)]).recipes[0]
            total = float(walked.product.total_g[0])
            made = {line for line, each in walked.method.lines.items() if walked.method.substances[each.substance].made is not None}
            water = {line for line, each in walked.method.lines.items() if walked.method.substances[each.substance].kind == "water"}
            grams = {line: float(walked.end.lines[line][0]) / total for line in walked.method.lines}
            self.assertAlmostEqual(sum(found.products.values()), sum(grams[line] for line in made), places=9)
            self.assertAlmostEqual(sum(found.bought.values()), sum(grams[line] for line in grams if line not in made | water), places=9)
            self.assertTrue(found.products)

    @settings(max_examples=60, deadline=None)
    @given(st.lists(st.lists(st.floats(0, 80), min_size=3, max_size=3), min_size=1, max_size=5), st.floats(0, 0.02), st.floats(1, 50))
    def test_places_and_days_add_up_and_twice_the_dose_is_twice_the_need(self, means: list[list[float]], shared: float, dose: float) -> None:
        ahead = [cups(f"place {n}", "latte", *mean) for n, mean in enumerate(means)]
        together = Together(shared, shared, shared)
        one, two = (
            {each.product: each for each in needs_of(ahead, {("latte", "long"): {"foam": grams}}, RECIPES, together)} for grams in (dose, 2 * dose)
        )
        for product, need in one.items():
            np.testing.assert_allclose(sum(place.mean for place in need.places.values()), need.days.mean, atol=1e-9)
            np.testing.assert_allclose(need.days.mean.sum(), need.whole.mean[0], atol=1e-9)
            np.testing.assert_allclose(two[product].days.high, 2 * need.days.high, rtol=1e-9, atol=1e-6)
            self.assertTrue(np.all(need.days.low <= need.days.high) and np.all(need.days.low <= need.days.mean + 1e-9))
            # Of next to nothing most days bring none, and the mean lies above nine days of ten.
            sold = np.sum(means, axis=0) > 3
            self.assertTrue(np.all((need.days.mean <= need.days.high)[sold]))

    def test_days_that_miss_together_widen_the_sum(self) -> None:
        ahead = [cups("quay", "latte", 40, 40), cups("weir", "latte", 40, 40)]
        doses = {("latte", "long"): {"foam": 20.0}}
        apart, together = (needs_of(ahead, doses, RECIPES, parts)[0].whole for parts in (APART, Together(0.01, 0.01, 0.0)))
        self.assertAlmostEqual(apart.mean[0], together.mean[0])
        self.assertGreater(together.high[0] - together.low[0], apart.high[0] - apart.low[0])


def at(day: float) -> datetime:
    return datetime(2031, 5, 5, tzinfo=UTC) + timedelta(days=day)


class Bottles(unittest.TestCase):
    def entries(self, *whats: tuple[float, m.What]) -> list[m.Movement]:
        return [m.Movement(id=uuid4(), at=at(day), what=what) for day, what in whats]

    def test_levels(self) -> None:
        """750 g opened on day 1; 100 g taken for a batch, 400 left on day 3, 50 poured away, then emptied: 250 + 350 g served."""
        entries = self.entries(
            (0.5, m.MovedEntry(place="2")), (1, m.OpenedEntry()), (2, m.TakenEntry(mass_g=100, batch=uuid4())), (3, m.WeighedEntry(mass_g=400)),
            (4, m.PouredAwayEntry(mass_g=50, reason="spilt")), (5, m.EmptiedEntry()),
        )  # fmt: skip
        levels, still_open = levels_of(750, at(1), entries)
        self.assertEqual([each.mass_g for each in levels], [750, 650, 400, 350, 0])
        self.assertIsNone(still_open)
        lost, variance = lost_between([levels], [], at(0), at(7))
        self.assertEqual(lost, 600)
        self.assertAlmostEqual(variance, 8.0)

    def test_what_lies_across_the_end_of_a_week_is_shared_out_and_doubted(self) -> None:
        levels = [Level(at(5), 700, False), Level(at(9), 100, True)]
        first, second = lost_between([levels], [], at(0), at(7)), lost_between([levels], [], at(7), at(14))
        self.assertAlmostEqual(first[0], 300)
        self.assertAlmostEqual(first[0] + second[0], 600)
        self.assertAlmostEqual(first[1], 600**2 * 0.25 / 3 + 8)

    def test_an_open_bottle_that_nobody_weighs_may_hold_anything(self) -> None:
        levels, still_open = levels_of(600, at(1), self.entries((1, m.OpenedEntry())))
        assert still_open is not None
        lost, variance = lost_between([levels], [still_open], at(0), at(7))
        self.assertEqual(lost, 300)
        self.assertAlmostEqual(variance**0.5, 600 / 12**0.5)
        self.assertEqual(over_pour(300, lost, variance).verdict, "even")

    def test_verdicts(self) -> None:
        for served, lost, verdict in (
            (1000, 1100, "over"),
            (1000, 900, "under"),
            (1000, 1010, "even"),
            (1000, 300, "unknown"),
            (1000, 2500, "unknown"),
            (20, 25, "unknown"),
        ):
            found = over_pour(served, lost, 20.0**2, 0.01)
            self.assertEqual(found.verdict, verdict, (served, lost))
            self.assertTrue(found.words)
            self.assertAlmostEqual(found.over_g, lost - served)
        self.assertEqual(over_pour(1000, 1100, 20.0**2, 0.2).verdict, "even")  # a dose nobody weighed may be the whole of it

    def test_a_bar_that_pours_a_tenth_more_is_found_out(self) -> None:
        """Simulated weeks with known truth: bottles weighed at odd hours; 90 % intervals hold the truth in 85 to 97 of a hundred."""
        random = np.random.default_rng(9)
        held = said = 0
        for _ in range(200):
            served, over = 4000.0, random.choice([0.0, 0.1])
            rate = served * (1 + over) / 7
            bottles: list[list[Level]] = []
            still: list[Open] = []
            day = -random.uniform(0, 1.0)
            while day < 7:
                lasts = 750 / rate
                cut = day + lasts * random.uniform(0.2, 0.8)
                levels = [
                    Level(at(day), 750, False),
                    Level(at(cut), 750 - rate * (cut - day) + random.normal(0, 2), True),
                    Level(at(day + lasts), 0, True),
                ]
                bottles.append(levels)
                day += lasts
            found = over_pour(served, *lost_between(bottles, still, at(0), at(7)))
            held += found.low_g <= served * over <= found.high_g
            said += (found.verdict == "over") == (over > 0)
        self.assertGreaterEqual(held, 180)
        self.assertGreaterEqual(said, 170)
