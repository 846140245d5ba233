"""Choices about money: packs, make or buy, side by side, changed prices; each worked by hand or against the whole cost."""

from __future__ import annotations

import itertools
import unittest
from dataclasses import replace

import numpy as np

from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import load_drink
from jugcore.drinks.drink_money import counted_in, drink_then_now, with_doses_of
from jugcore.drinks.poured import pour
from jugcore.drinks.readings import likely_of
from jugcore.errors import BadDocument
from jugcore.matter.library import library
from jugcore.matter.made_today import Today
from jugcore.matter.substance import Opened, Range
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.money.costing import batch_cost
from jugcore.money.make_or_buy import Pack, make_or_buy, make_or_buy_words
from jugcore.money.packs import PackOf, cheapest, purchases
from jugcore.money.price_changes import prices_differ
from jugcore.money.rates import Rates
from jugcore.money.side_by_side import as_sweet_dose, choice_bought, choice_made, scored
from jugcore.tests.drinks import latte, syrup
from jugcore.tests.test_money import FILL, HEAT, KITCHEN, RATES, cooked, priced

SMALL, LARGE = PackOf("Bag", 1000.0, 1.5), PackOf("Sack", 5000.0, 6.0)


class Packs(unittest.TestCase):
    def test_whole_packs_and_what_is_left(self) -> None:
        """600 g of sugar out of bags of 1 kg at 1.50: one bag, 400 g left, of the 1.50 0.90 goes in."""
        found, made = purchases(cooked(HEAT, prices={"white_sugar": 1.5}, grams={"white_sugar": 600, "water": 400}), {"white_sugar": [SMALL]}, 7)
        self.assertEqual((len(found), made), (1, []))  # water is from the tap
        sugar = found[0]
        self.assertEqual([(each.pack.name, each.count) for each in sugar.packs], [("Bag", 1)])
        self.assertAlmostEqual(sugar.left_g, 400.0, places=9)
        self.assertEqual((sugar.price, round(sugar.used or 0, 9)), (1.5, 0.9))

    def test_the_cheapest_of_one_kind_or_two_against_every_way(self) -> None:
        """Random packs: no way of buying one kind or two is cheaper, and none as cheap holds less."""
        rng = np.random.default_rng(19)
        for seed in range(60):
            packs = [PackOf(f"p{n}", float(rng.integers(1, 20)) * 100, float(rng.integers(50, 900)) / 100) for n in range(3)]
            needs = float(rng.integers(1, 6000))
            bought = cheapest(needs, packs)
            price = sum(each.count * each.pack.price for each in bought)
            holds = sum(each.count * each.pack.mass_g for each in bought)
            self.assertGreaterEqual(holds, needs - 1e-6)
            for a, b in itertools.permutations(packs, 2):
                for count in range(min(int(needs / a.mass_g) + 2, 60)):
                    rest = max(int(np.ceil((needs - count * a.mass_g) / b.mass_g - 1e-9)), 0)
                    other = (count * a.price + rest * b.price, count * a.mass_g + rest * b.mass_g)
                    if other[1] >= needs:
                        self.assertLessEqual((round(price, 6), holds), (round(other[0], 6), other[1] + 1e-9), (seed, needs, packs))

    def test_what_is_left_keeps_or_is_asked_about(self) -> None:
        """Milk keeps three to five days once opened: not till next week, by the least. Of sugar nobody said: that is asked."""
        milk = replace(library()["whole_milk"], opened=Opened(Range(3, 5), "chilled"))
        sugar = replace(library()["white_sugar"], opened=None)
        walked = cooked(HEAT, prices={}, grams={"white_sugar": 300, "whole_milk": 600})
        method = replace(walked.method, substances={**walked.method.substances, "whole_milk": milk, "white_sugar": sugar})
        again = walk(method, walked.kitchen)
        packs = {"whole_milk": [PackOf("Bottle", 1030, 1.2)], "white_sugar": [SMALL]}
        for days, keeps in ((3, "yes"), (4, "no"), (7, "no")):
            by_id = {each.substance: each for each in purchases(again, packs, days)[0]}
            self.assertEqual((by_id["whole_milk"].keeps, by_id["white_sugar"].keeps), (keeps, "ask"))

    def test_no_pack_is_said_and_what_is_ours_must_be_made_first(self) -> None:
        lines = [{"id": "s", "substance": "made-syrup", "amount": "200 g"}, {"id": "c", "substance": "heavy_cream", "amount": "300 g"}]
        raw = {
            "kitchen": KITCHEN, "stages": [{"id": "in", "kind": "add", "vessel": "pot", "lines": lines}],
            "substances": {"made-syrup": syrup("Weir Simple"), "heavy_cream": priced("heavy_cream", 6.0)},
        }  # fmt: skip
        found, made = purchases(walk(parse_document(raw)), {}, 7)
        self.assertEqual([(each.substance, each.price, each.keeps) for each in found], [("heavy_cream", None, "ask")])
        self.assertEqual([(each.name, each.needs_g) for each in made], [("Weir Simple", 200.0)])

    def test_a_pack_that_is_used_up_leaves_nothing(self) -> None:
        found, _ = purchases(cooked(HEAT, prices={}, grams={"white_sugar": 5000, "water": 400}), {"white_sugar": [SMALL, LARGE]}, 7)
        self.assertEqual((found[0].keeps, found[0].left_g, found[0].price), ("none left", 0.0, 6.0))


class MakeOrBuy(unittest.TestCase):
    def test_the_boundary_by_hand(self) -> None:
        """A blend that takes its hands once: where hands are shared by n doses, a dose costs hands / n + ingredients, and pays from n on."""
        blend = cooked(prices={"white_sugar": 2.0}, grams={"white_sugar": 500, "water": 500})
        rates = Rates(wage_h=18.0)
        whole = batch_cost(blend, rates, 20.0)
        hands = [float(each or 0) for item in whole.items if item.id == "hands" for each in (item.low, item.likely, item.high)]
        ingredients = 20.0 / 1000 * 0.5 * 2.0
        bought = ingredients + hands[1] / 25.0  # as dear as a dose of a batch of 25
        found = make_or_buy(blend.method, rates, 20.0, Pack(1000.0, "ml", 1000.0 * bought, 1.0))
        low, likely, high = found.pays_from
        assert low is not None and likely is not None and high is not None
        for end, (point, each) in enumerate(zip((low, likely, high), hands, strict=True)):
            self.assertAlmostEqual(point.dose[end], bought, delta=2e-3 * bought)
            self.assertAlmostEqual(each / point.doses + ingredients, bought, delta=0.02 * bought)

    def test_it_says_what_the_whole_cost_says(self) -> None:
        found_of = cooked(HEAT, FILL, prices={"white_sugar": 1.2}, grams={"white_sugar": 500, "water": 500})
        found = make_or_buy(found_of.method, RATES, 20.0, Pack(1000, "ml", 9.5, 15.0))
        self.assertEqual(found.batch.dose, batch_cost(found_of, RATES, 20.0).per_dose)
        self.assertAlmostEqual(found.bought, 9.5 * 15 / 1000, places=12)
        low, likely, high = found.pays_from
        assert low is not None and likely is not None and high is not None
        self.assertTrue(low.amount <= likely.amount <= high.amount)
        words = " ".join(make_or_buy_words(found))
        self.assertIn("Making begins to pay from 0.12 l a batch", words)
        self.assertIn("It keeps 7 days", words)

    def test_it_never_pays_always_pays_or_is_dearer_than_said(self) -> None:
        method = cooked(HEAT, prices={"white_sugar": 1.2}, grams={"white_sugar": 500, "water": 500}).method
        never = make_or_buy(method, RATES, 20.0, Pack(1000, "g", 0.10, 20.0))
        self.assertEqual(never.pays_from, (None, None, None))
        self.assertIn("Making does not pay", make_or_buy_words(never)[0])
        always = make_or_buy(method, Rates(energy_kwh=0, wage_h=0), 20.0, Pack(1000, "g", 900.0, 20.0))
        self.assertIn("pays in any batch", make_or_buy_words(always)[0])
        self.assertIn("dearer than this says", make_or_buy_words(make_or_buy(method, Rates(wage_h=0), 20.0, Pack(1000, "g", 900.0, 20.0)))[-1])

    def test_nothing_to_compare_is_refused(self) -> None:
        method = cooked(HEAT, prices={}, grams={"white_sugar": 500, "water": 500}).method
        for dose, pack in ((0.0, Pack(1000, "g", 1, 20)), (20.0, Pack(1000, "g", 1, 0))):
            with self.assertRaises(BadDocument):
                make_or_buy(method, RATES, dose, pack)


class SideBySide(unittest.TestCase):
    def test_ours_and_a_pack_by_hand(self) -> None:
        """750 ml at 6.00 of 1.2 g/ml and 60 g of sugars in 100 g: 8.00 a litre, 6.67 a kilogram, 15 ml 0.12 and 10.8 g of sugars."""
        pack = choice_bought("b", "Bought", size=750, unit="ml", price=6.0, dose=15.0, density_g_ml=(1.1, 1.2, 1.3), sugars_100g=(55, 60, 65))
        assert pack.per_litre and pack.per_kg and pack.per_dose and pack.sugars_g
        self.assertAlmostEqual(pack.per_litre[1], 8.0)
        self.assertEqual([round(each, 4) for each in pack.per_kg], [round(8 / 1.3, 4), round(8 / 1.2, 4), round(8 / 1.1, 4)])
        self.assertAlmostEqual(pack.per_dose[1], 0.12)
        self.assertAlmostEqual(pack.sugars_g[1], 10.8)
        walked = cooked(HEAT, prices={"white_sugar": 1.2}, grams={"white_sugar": 500, "water": 500})
        ours = choice_made("o", "Ours", walked, RATES, 20.0)
        self.assertEqual(ours.per_dose, batch_cost(walked, RATES, 20.0).per_dose)
        self.assertAlmostEqual((ours.sugars_g or (0, 0, 0))[1], 20 * 0.5 * 0.998, delta=0.02)
        self.assertAlmostEqual(as_sweet_dose(pack, ours) or 0, 15.0 * (ours.sugars_g or (0, 0, 0))[1] / 10.8, places=9)

    def test_what_is_not_known_is_left_unsaid(self) -> None:
        pack = choice_bought("b", "Bought", size=750, unit="ml", price=None, dose=15.0, density_g_ml=None, sugars_100g=(55, 60, 65))
        self.assertEqual((pack.per_litre, pack.per_dose, pack.sugars_g), (None, None, None))
        self.assertIn("What Bought costs is not entered.", pack.missing)
        by_volume = choice_bought("b", "Bought", size=750, unit="ml", price=3.0, dose=15.0, density_g_ml=None, sugars_100g=None)
        self.assertEqual((by_volume.per_litre, by_volume.per_kg), ((4.0, 4.0, 4.0), None))

    def test_whose_dose_the_cup_is_counted_in_and_how_it_was_liked(self) -> None:
        drink = load_drink(latte())
        self.assertEqual(counted_in(drink, "dose", [None, "another", "syrup-formula"]), 2)  # the one that is in it
        self.assertEqual(counted_in(drink, "dose", [None, "another"]), 1)
        self.assertEqual(counted_in(drink, "milk", [None, None]), 0)
        pack = choice_bought("b", "Bought", size=750, unit="ml", price=3.0, dose=15.0, density_g_ml=None, sugars_100g=None)
        self.assertEqual((scored(pack, [6, 7]).score, scored(pack, [6, 7]).tasters, scored(pack, []).score), (6.5, 2, None))

    def test_in_a_drink(self) -> None:
        """The drink with its own dose costs what it costs; with one of half the price, that of the dose less."""
        raw = latte(rates={"wage_h": 18.0})
        raw["substances"]["syrup"]["made_from"]["work"] = []
        drink = load_drink(raw)
        poured = pour(cup_of(drink))
        whole = likely_of(poured, "cost_made")[:4]
        each = 0.015 * 0.5 * 1.2
        (own, cheaper, unknown), missing = with_doses_of(drink, "dose", 15.0, [("own", each), ("cheaper", each / 2), ("unknown", None)])
        self.assertEqual(missing, ())
        np.testing.assert_allclose([float(x or 0) for x in own.cost], whole, rtol=1e-9)
        for index, grams in enumerate((10, 15, 20, 25)):
            self.assertAlmostEqual((own.cost[index] or 0) - (cheaper.cost[index] or 0), grams / 15 * each / 2, places=12)
        self.assertEqual(unknown.cost, (None,) * 4)
        raw["substances"]["espresso"]["price_per_kg"] = None
        (own,), missing = with_doses_of(load_drink(raw), "dose", 15.0, [("own", each)])
        self.assertEqual((own.cost, missing), ((None,) * 4, ("Espresso has no price.",)))
        with self.assertRaises(BadDocument):
            with_doses_of(drink, "nothing", 15.0, [])


class ChangedPrices(unittest.TestCase):
    def test_milk_that_doubles(self) -> None:
        """Milk from 1.10 to 2.20: a drink costs its milk's 1.10 a kilogram more, and the size whose margin that takes below the mark is named."""
        kept = load_drink(latte(least_margin=91.0))
        found = drink_then_now(kept, {"whole_milk": Today(2.2), "white_sugar": Today(1.2)}, Rates(wage_h=0, energy_kwh=0))
        self.assertEqual([(each.title, each.then, each.now) for each in found.changes], [("Whole milk", 1.1, 2.2)])
        milk = pour(cup_of(kept)).grams("milk")
        for size, grams in zip(found.sizes, milk, strict=True):
            self.assertAlmostEqual((size.cost_now or 0) - (size.cost_then or 0), float(grams) * 1.1 / 1000, places=9)
            self.assertEqual(size.below, (size.margin_now or 0) < 91)
            self.assertEqual(size.pushed_below, (size.margin_then or 0) >= 91 > (size.margin_now or 0))
        self.assertTrue(any(size.pushed_below for size in found.sizes))
        self.assertAlmostEqual(found.changes[0].adds, float(milk[3]) * 1.1 / 1000, places=9)

    def test_through_what_is_made_here(self) -> None:
        """Sugar is dearer: the syrup is, and so is the drink."""
        found = drink_then_now(load_drink(latte()), {"white_sugar": Today(3.2)}, Rates())
        self.assertEqual([each.substance for each in found.changes], ["white_sugar"])
        self.assertAlmostEqual((found.sizes[1].cost_now or 0) - (found.sizes[1].cost_then or 0), 0.0075 * 2.0, delta=2e-5)

    def test_only_what_has_another_price_is_walked_again(self) -> None:
        """Whether a price differs is known without a walk, at any depth, and never otherwise than the walk then says."""
        kept = load_drink(latte())
        for today, differs in (
            ({}, False), ({"whole_milk": Today(1.1)}, False), ({"whole_milk": Today(None)}, False), ({"honey": Today(9.0)}, False),
            ({"whole_milk": Today(1.2)}, True), ({"white_sugar": Today(2.0)}, True), ({"white_sugar": Today(1.2)}, False),
        ):  # fmt: skip
            with self.subTest(today=today):
                self.assertEqual(prices_differ(kept.substances, today), differs)
                self.assertEqual(bool(drink_then_now(kept, today, Rates()).changes), differs)

    def test_what_has_no_price_today_keeps_its_own_and_nothing_changed_is_said(self) -> None:
        found = drink_then_now(load_drink(latte()), {"whole_milk": Today(None)}, Rates())
        self.assertEqual((found.changes, found.missing), ((), ()))
        self.assertEqual([size.cost_then for size in found.sizes], [size.cost_now for size in found.sizes])


if __name__ == "__main__":
    unittest.main()
