"""Drinks over their sizes: worked by hand, against the same drink poured alone, and by what must hold of every drink."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.calculators.base import calculate
from jugcore.calculators.catalogue import CALCULATORS
from jugcore.drinks.contains import contains_of
from jugcore.drinks.cup import Cup, cup_of
from jugcore.drinks.document import load_drink
from jugcore.drinks.even_out import even_out, with_doses
from jugcore.drinks.layers import layers_of
from jugcore.drinks.poured import pour
from jugcore.drinks.readings import likely_of, read, reading_ids
from jugcore.drinks.report import drink_sizes_report
from jugcore.drinks.search import without_ranges
from jugcore.drinks.swaps import MILKS
from jugcore.drinks.ways import ways_to
from jugcore.errors import DomainError
from jugcore.matter.library import library
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.walk import walk
from jugcore.physics.ice import FUSION_J_G
from jugcore.tests.drinks import SIZES, drink, latte, likely, made, part, poured, priced, syrup


def _span(low: float, likely: float, high: float) -> dict[str, float]:
    return {"low": low, "likely": likely, "high": high}


class ByHand(unittest.TestCase):
    def test_a_latte(self) -> None:
        """Regular: 15 g of syrup (7.5 g of sugar), 30 g of espresso, and milk to 256 ml.

        The rest is 256 − 15/1.23 − 30/0.98 ≈ 213 ml of milk, 220 g at 1.034: 10.5 g of lactose. Sugars 18.0 g in 254 ml at 20 °C:
        7.1 g in 100 ml. Caffeine 30 × 2.12 = 64 mg. Cost 7.5 × 1.20 + 30 × 2.00 + 220 × 1.10 a kilogram = 0.311.
        """
        found = poured(latte())
        milk = float(found.grams("milk")[1])
        self.assertAlmostEqual(milk, 220, delta=2)
        self.assertAlmostEqual(likely(found, "added_sugars")[1], 7.5 * 0.998, places=6)  # white sugar is 99.8 % sucrose
        self.assertAlmostEqual(likely(found, "sugars")[1], 7.5 + 0.048 * milk, delta=0.05)
        self.assertAlmostEqual(likely(found, "sugars_100ml")[1], 7.1, delta=0.1)
        self.assertAlmostEqual(likely(found, "caffeine")[1], 63.6, delta=0.1)
        self.assertAlmostEqual(likely(found, "cost")[1], (7.5 * 1.2 + 30 * 2.0 + milk * 1.1) / 1000, places=6)
        self.assertAlmostEqual(likely(found, "margin")[1], 100 * (1 - likely(found, "cost")[1] / 4.35), places=6)
        self.assertAlmostEqual(likely(found, "fat")[1], 0.0325 * milk + 0.0018 * 30, delta=0.02)

    def test_energy_by_the_regulation(self) -> None:
        """Annex XIV: 4 kcal or 17 kJ a gram of carbohydrate and protein, 9 or 37 of fat. 100 g of sugar water, 100 g of milk."""
        found = poured(drink(part("sugar", "white_sugar", "10 g"), part("milk", "whole_milk", "100 g"), sizes=SIZES[:1]))
        carbohydrate, fat, protein = 10 + 4.8, 3.25, 3.15
        self.assertAlmostEqual(likely(found, "energy")[0], 4 * carbohydrate + 9 * fat + 4 * protein, delta=0.3)
        self.assertAlmostEqual(likely(found, "energy_kj")[0], 17 * carbohydrate + 37 * fat + 17 * protein, delta=1.2)
        wine = poured(drink(part("syrup", "agave_syrup", "10 g"), part("milk", "oat_drink", "100 g"), sizes=SIZES[:1]))
        self.assertAlmostEqual(likely(wine, "energy_kj")[0] / likely(wine, "energy")[0], 4.18, delta=0.06)

    def test_ice_by_hand(self) -> None:
        """200 g of water at 20 °C give 200 × 4.187 × 20 = 16,747 J: at 0 °C that melts 50.2 of 100 g of ice."""
        found = poured(drink(part("w", "water", "200 g", poured_c=20.0), part("i", "water", "100 g", "ice"), sizes=SIZES[:1]))
        at_zero = list(found.cup.uncertain[-1].paths)
        self.assertEqual(at_zero, ["stages.on-ice.ice_c"])
        wet = found.ice.total_g.reshape(-1)[-1]  # the last case has ice at 0 °C
        self.assertAlmostEqual(float(wet), 100 - 200 * 4.1868 * 20 / FUSION_J_G, places=2)
        self.assertEqual([round(t, 9) for t in likely(found, "temperature")], [0.0])
        # Twice the water, hot: all of it melts, and (400 × 4.1868 × 60 − 100 × 333.6 − 100 × 2.1 × 4) / (500 × 4.1868) = 31.7 °C.
        warm = poured(drink(part("w", "water", "400 g", poured_c=60.0), part("i", "water", "100 g", "ice"), sizes=[("short", 900, 800)]))
        self.assertEqual(float(warm.ice.total_g[0]), 0.0)
        self.assertAlmostEqual(likely(warm, "temperature")[0], (400 * 4.1868 * 60 - 100 * FUSION_J_G - 100 * 2.1 * 4) / (500 * 4.1868), places=2)

    def test_steam_stays_in_the_milk(self) -> None:
        """200 g of milk from 4 to 60 °C: 200 × 3.9 × 56 J over 2,244 + 4.19 × 45 J a gram of steam is 18 g of water, a tenth short."""
        found = poured(drink(part("m", "whole_milk", "200 g", "milk", steamed_c=60.0), sizes=[("short", 270, 256)]))
        steam = float(found.walk.end.lines["steam-m"][0])
        self.assertAlmostEqual(steam, 200 * 3.9 * 56 / (2244 + 4.19 * 45), delta=0.6)
        self.assertAlmostEqual(likely(found, "temperature")[0], 60.0, places=6)
        self.assertAlmostEqual(float(found.liquid.total_g[0]), 200 + steam, places=9)

    def test_espresso_out_of_ground_coffee(self) -> None:
        """18 g in, 36 g out: a fifth of 18 g dissolved is 10 %; 18 × 1.2 % of caffeine, nine tenths of it out: 194 mg. Coffee at 20 a kilogram."""
        found = poured(
            drink(part("shot", "ground_coffee", "36 g", "coffee", brew={"out_per_in": 2.0}), sizes=SIZES[:1],
                  substances={"ground_coffee": priced("ground_coffee", 20.0)})
        )  # fmt: skip
        self.assertAlmostEqual(float(found.liquid.brix[0]), 10.0, delta=0.8)  # its oil is not dissolved
        self.assertAlmostEqual(likely(found, "caffeine")[0], 18 * 12 * 0.9, delta=0.5)
        self.assertAlmostEqual(likely(found, "cost")[0], 18 * 20 / 1000, places=9)
        band = read(found, "caffeine")
        self.assertLess(float(band.low[0]), 130)
        self.assertGreater(float(band.high[0]), 250)

    def test_layers_lie_by_their_weight(self) -> None:
        foam = part("foam", "heavy_cream", "20 g | 20 g | 20 g | 20 g", "foam", air={"low": 60, "likely": 100, "high": 130})
        raw = latte()
        raw["components"].append(foam)
        found = poured(raw)
        self.assertEqual([each.component.id for each in layers_of(found)], ["dose", "milk", "shot", "foam"])
        top = layers_of(found)[-1]
        self.assertAlmostEqual(float(top.ml[0]), 2 * 20 / 1.0, delta=1.0)  # a litre of cream weighs nearly a kilogram, twice that with its air
        total = sum(float(layer.ml[1]) for layer in layers_of(found))
        self.assertAlmostEqual(total, 256, delta=2.5)  # warm and cold as they are poured, against the whole as warm as it comes out


class OverTheSizes(unittest.TestCase):
    def test_a_size_beside_others_is_that_size_alone(self) -> None:
        together = poured(latte())
        for index, size in enumerate(SIZES):
            raw = latte()
            raw["sizes"] = [raw["sizes"][index]]
            for each in raw["components"]:
                each["amounts"] = {id: text for id, text in each["amounts"].items() if id == size[0]}
            alone = poured({**raw, "components": [each for each in raw["components"] if each["amounts"]]})
            for id in reading_ids():
                with self.subTest(size=size[0], reading=id):
                    a, b = float(read(together, id).likely[index]), float(read(alone, id).likely[0])
                    self.assertTrue(np.isclose(a, b, rtol=1e-9, atol=1e-9, equal_nan=True), (a, b))

    def test_what_goes_in_is_in_the_cup_or_floats(self) -> None:
        found = poured(latte())
        np.testing.assert_allclose(found.walk.came_in_g(), found.walk.stands_g(), atol=1e-9)
        np.testing.assert_allclose(found.liquid.mass_g + found.ice.mass_g, found.walk.came_in_g(), atol=1e-9)

    def test_to_the_line(self) -> None:
        found = poured(latte())
        np.testing.assert_allclose(found.fills_ml[:4], [fill for _, _, fill in SIZES], rtol=1e-9)
        full = latte()
        full["components"][1]["amounts"] = {id: "500 g" for id, _, _ in SIZES}
        report = drink_sizes_report(cup_of(load_drink(full)))
        self.assertEqual({fault.code for fault in report.faults}, {"already_over"})
        self.assertEqual(report.faults[0].sizes, [id for id, _, _ in SIZES])
        self.assertTrue(any("runs over" in note for note in report.notes))

    def test_ice_that_melts_leaves_the_level_where_it_is(self) -> None:
        warm = poured(latte())
        for ice_c in (-18.0, 0.0):
            cup = warm.cup
            found = pour(without_ranges(cup), {"stages.on-ice.ice_c": np.full(4, ice_c), "lines.milk.grams": warm.grams("milk")})
            self.assertAlmostEqual(float(found.fills_ml[3]), 436, delta=1.0)

    def test_only_what_is_in_a_size_counts_there(self) -> None:
        raw = latte()
        raw["components"].append(part("foam", "oat_cream", " | 10 g |  | ", "foam"))
        raw["components"].append(part("nut", "hazelnut_paste" if "hazelnut_paste" in library() else "almond_drink", "  |  | 5 g | ", "garnish"))
        found = contains_of(poured(raw))
        sizes = {each.allergen: each.sizes for each in found.allergens if each.certain}
        self.assertEqual(sizes["milk"], ("short", "regular", "long", "iced"))
        self.assertEqual(sizes["gluten"], ("regular",))
        self.assertEqual(sizes["nuts"], ("long",))

    def test_where_it_is_not_for_sure_the_pack_is_to_be_looked_at(self) -> None:
        """Soya in one size for sure, in another only maybe: both are told, each for its size."""
        maybe = next(id for id, book in sorted(library().items()) if "soybeans" in book.check_pack_for and "soybeans" not in book.allergens)
        raw = drink(
            part("water", "water", "100 g | 100 g | 100 g | "), part("soy", "soy_drink", "50 g |  |  | "), part("m", maybe, "5 g | 5 g |  | "),
        )  # fmt: skip
        found = {(each.certain, each.sizes) for each in contains_of(poured(raw)).allergens if each.allergen == "soybeans"}
        self.assertEqual(found, {(True, ("short",)), (False, ("regular",))})

    def test_caffeine_that_may_be_too_much_is_said(self) -> None:
        """2.12 mg a gram: 80 g of espresso have 170 mg, 119 to 220 by the bean; 120 g have 254."""
        report = drink_sizes_report(cup_of(load_drink(drink(part("shot", "espresso", "40 g | 80 g | 120 g | ", "coffee"), sizes=SIZES[:3]))))
        said = [" ".join(size.cautions) for size in report.sizes]
        self.assertNotIn("caffeine", said[0])
        self.assertIn("may be more than the 200 mg", said[1])
        self.assertIn("254 mg of caffeine in one drink: more than", said[2])

    def test_made_here_through_any_depth(self) -> None:
        """A cream sweetened with a syrup of ours: its sugar is added, its price that of the sugar and the cream, its milk is named."""
        inner = syrup("Weir Simple")
        cream = made("sweet-cream", "Sweet Cream", ("heavy_cream", "800 g", 5.0), ("syrup", "200 g", 0.0), substances={"syrup": inner})
        found = poured(
            drink(part("foam", "sweet-cream", "50 g"), part("c", "espresso", "30 g", "coffee"), sizes=SIZES[:1],
                  substances={"sweet-cream": cream, "espresso": priced("espresso", 0.0)})
        )  # fmt: skip
        self.assertAlmostEqual(likely(found, "added_sugars")[0], 50 * 0.2 * 0.5 * 0.998, places=6)
        self.assertAlmostEqual(likely(found, "cost")[0], 50 * (0.8 * 5.0 + 0.2 * 0.5 * 1.2) / 1000, places=6)
        milk = next(each for each in contains_of(found).allergens if each.allergen == "milk")
        self.assertIn("Heavy cream in Sweet Cream", milk.brought_by)

    def test_what_its_making_takes_costs_too(self) -> None:
        """15 g of a syrup whose kilogram takes 4 (3 to 6) minutes of hands, 0.1 kWh and two bottles, of which a fifth is poured away."""
        simple = syrup()
        simple["made_from"]["work"] = [
            {"through": ["syrup-formula"], "kwh_per_kg": _span(0.1, 0.1, 0.1), "hands_min_per_kg": _span(3, 4, 6), "containers_per_kg": 2}
        ]
        rates = {"energy_kwh": 0.3, "wage_h": 18.0, "container": 0.4, "label": 0.1, "waste": {"syrup-formula": 0.2}}
        raw = latte(rates=rates)
        raw["substances"]["syrup"] = simple
        found = poured(raw)
        for end, minutes in (("low", 3), ("likely", 4), ("high", 6)):
            making = 0.015 * (0.1 * 0.3 + minutes / 60 * 18 + 2 * 0.5)
            wasted = (making + 0.0075 * 1.2) * (1 / 0.8 - 1)
            cost = getattr(read(found, "cost_made"), end)[1]
            self.assertAlmostEqual(cost, likely(found, "cost")[1] + making + wasted, places=6)
            self.assertAlmostEqual(
                getattr(read(found, "margin_made"), {"low": "high", "high": "low"}.get(end, end))[1], 100 * (1 - cost / 4.35), places=6
            )
        no_wage = drink_sizes_report(cup_of(load_drink({**raw, "rates": {**rates, "wage_h": None}})))
        cost = next(each for each in no_wage.readings if each.id == "cost_made")
        self.assertEqual(([each.likely for each in cost.sizes], cost.why_not), ([None] * 4, "What an hour of work costs is not entered."))

    def test_a_margin_is_poor_by_what_is_left_after_making(self) -> None:
        """The syrup's hands take it below what the shop asks for, which its ingredients alone would not."""
        simple = syrup()
        simple["made_from"]["work"] = [
            {"through": ["syrup-formula"], "kwh_per_kg": _span(0, 0, 0), "hands_min_per_kg": _span(60, 60, 60), "containers_per_kg": 0}
        ]
        raw = latte(least_margin=88)
        raw["substances"]["syrup"] = simple
        said = [" ".join(drink_sizes_report(cup_of(load_drink({**raw, "rates": {"wage_h": wage}}))).notes) for wage in (0.0, 20.0)]
        self.assertNotIn("the shop asks for", said[0])
        self.assertIn("of the price after ingredients and making, less than the 88 % the shop asks for.", said[1])

    def test_a_missing_price_is_named_and_not_nothing(self) -> None:
        raw = latte()
        del raw["substances"]["whole_milk"]
        report = drink_sizes_report(cup_of(load_drink(raw)))
        cost = next(each for each in report.readings if each.id == "cost")
        self.assertEqual([each.likely for each in cost.sizes], [None] * 4)
        self.assertIn("whole milk", cost.why_not)

    def test_ice_thins_it_within_ten_minutes_and_no_other_size(self) -> None:
        found = poured(latte())
        now, later = read(found, "sugars_100ml"), read(found, "sugars_100ml_later")
        np.testing.assert_allclose(now.likely[:3], later.likely[:3], rtol=1e-9)
        self.assertLess(float(later.high[3]), float(now.likely[3]))
        self.assertLess(float(later.low[3]), float(later.likely[3]))
        hot = poured(drink(part("m", "whole_milk", "200 g", "milk", steamed_c=65.0), sizes=[("short", 270, 256)]))
        after = read(hot, "temperature_later")
        self.assertTrue(40 < float(after.low[0]) < float(after.likely[0]) < float(after.high[0]) < 65, after)


class Evenness(unittest.TestCase):
    def test_it_is_told_in_words_that_fit(self) -> None:
        def told(amounts: str) -> str:
            raw = drink(part("water", "water", "200 g | 200 g"), part("dose", "white_sugar", amounts), sizes=SIZES[:2])
            return drink_sizes_report(cup_of(load_drink(raw))).evenness.words

        self.assertEqual(told("10 g | "), "Some sizes have none at all.")
        self.assertEqual(told("10 g | 10 g"), "Nobody tells the sizes apart by it.")
        self.assertIn("% more than the least sweet", told("10 g | 13 g"))
        self.assertIn("times as much as the least sweet", told("10 g | 60 g"))


class EvenOut(unittest.TestCase):
    def test_in_grams_every_size_comes_to_it(self) -> None:
        cup = cup_of(load_drink(latte()))
        for target in (6.0, 7.5, 9.0):
            found = even_out(cup, "dose", "sugars_100ml", target)
            self.assertEqual(found.not_reached, ())
            # Half a gram of syrup in the smallest cup is a fortieth of its sweetness.
            self.assertLess(found.in_grams.worst, 0.02)
            again = pour(without_ranges(cup_of(with_doses(cup.drink, "dose", found.in_grams))))
            np.testing.assert_allclose(read(again, "sugars_100ml").likely, found.in_grams.values, rtol=1e-6)

    def test_strokes_agree_with_the_calculator(self) -> None:
        """Whole strokes of 8 ml cannot give 10, 15, 20 and 25 g of syrup, and the sum on the calculators' page says the same."""
        cup = cup_of(load_drink(latte()))
        found = even_out(cup, "dose", "sugars_100ml", 7.0)
        exact = even_out(cup, "dose", "sugars_100ml", 7.0).in_grams.grams
        self.assertFalse(found.in_strokes.even)
        self.assertIn("Whole strokes of 8 ml cannot", found.words[0])
        density = cup.substance_of("dose").density_g_ml
        answer = calculate(
            CALCULATORS["pump"], Kitchen(), {"stroke_g": 8 * density, "sizes": "; ".join(f"{float(g):.2f}" for g in exact)}, "stroke_g"
        )
        told = [int(line.title.split(": ")[1].split(" ")[0]) for line in answer.lines if line.title.startswith("For ")]
        self.assertEqual(told, list(found.in_strokes.strokes or ()))
        self.assertLess(found.best.worst, 0.75 * found.in_strokes.worst)
        again = pour(without_ranges(cup_of(with_doses(cup.drink, "dose", found.best))))
        np.testing.assert_allclose(read(again, "sugars_100ml").likely, found.best.values, rtol=2e-3)

    def test_what_cannot_be_reached_is_said(self) -> None:
        cup = cup_of(load_drink(latte()))
        with self.assertRaises(DomainError) as refused:
            even_out(cup, "dose", "sugars_100ml", 2.0)  # the milk alone has more
        self.assertEqual(refused.exception.field, "target")
        with self.assertRaises(DomainError):
            even_out(cup, "milk", "sugars_100ml", 7.0)  # it fills the cup up
        with self.assertRaises(DomainError):
            even_out(cup, "moon", "sugars_100ml", 7.0)

    def test_the_middle_of_the_window_is_aimed_at(self) -> None:
        cup = cup_of(load_drink(latte(sugars_window={"low": 7.8, "high": 8.6})))
        found = even_out(cup, "dose")
        self.assertAlmostEqual(found.target, 8.2)
        self.assertTrue(bool(np.all((found.in_grams.values >= 7.8) & (found.in_grams.values <= 8.6))))


class Ways(unittest.TestCase):
    def test_each_way_comes_to_the_value_on_its_own_drink(self) -> None:
        cup = cup_of(load_drink(latte()))
        for size, reading, value in (
            ("regular", "sugars_100ml", 9.0),
            ("short", "caffeine", 100.0),
            ("long", "energy", 250.0),
            ("iced", "cost", 0.5),
        ):
            ways = ways_to(cup, size, reading, value)
            self.assertTrue(ways, (size, reading))
            for way in ways:
                with self.subTest(size=size, reading=reading, way=way.words):
                    again = pour(without_ranges(cup_of(way.drink)))
                    index = [each.id for each in cup.sizes].index(size)
                    self.assertAlmostEqual(float(likely_of(again, reading)[index]), way.comes_to, delta=2e-3 * value)
                    self.assertAlmostEqual(way.comes_to, value, delta=0.01 * value)

    def test_a_margin_by_another_price(self) -> None:
        cup = cup_of(load_drink(latte()))
        way = ways_to(cup, "regular", "margin", 95.0)[0]
        self.assertIn("price", way.words)
        again = pour(without_ranges(cup_of(way.drink)))
        self.assertAlmostEqual(float(likely_of(again, "margin")[1]), 95.0, delta=0.1)

    def test_what_is_no_size_or_reading_is_refused(self) -> None:
        cup = cup_of(load_drink(latte()))
        for size, reading in (("moon", "energy"), ("short", "moon")):
            with self.assertRaises(DomainError):
                ways_to(cup, size, reading, 1.0)


class AsWritten(unittest.TestCase):
    def test_strokes_spoons_seconds_and_millilitres(self) -> None:
        raw = drink(
            part("dose", "syrup", "2 strokes", "dose", stroke_ml=4.0), part("milk", "whole_milk", "150 ml", "milk"),
            part("foam", "heavy_cream", "3 s", "foam", siphon_g_s=6.0), part("sugar", "white_sugar", "1 tsp"),
            sizes=SIZES[:1], substances={"syrup": syrup()},
        )  # fmt: skip
        cup = cup_of(load_drink(raw))
        found = pour(cup)
        self.assertAlmostEqual(float(found.grams("dose")[0]), 8 * cup.substance_of("dose").density_g_ml, places=9)
        self.assertAlmostEqual(float(found.grams("milk")[0]), 150 * 1.032, places=6)
        self.assertAlmostEqual(float(found.grams("foam")[0]), 18.0, places=9)
        self.assertEqual(cup.written["dose", "short"].strokes, 2.0)

    def test_what_is_wrong_is_said_where_it_is(self) -> None:
        def wrong(field: str, raw: dict[str, Any]) -> None:
            with self.subTest(field=field), self.assertRaises(DomainError) as refused:
                cup_of(load_drink(raw))
            self.assertTrue(refused.exception.field.startswith(field), refused.exception.field)
            self.assertTrue(refused.exception.remedy)

        wrong("components.a.amounts.short", drink(part("a", "whole_milk", "some")))
        wrong("components.a.amounts.short", drink(part("a", "whole_milk", "3 s")))
        wrong("components.a.substance", drink(part("a", "moon_dust", "3 g")))
        wrong("components.a.brew", drink(part("a", "ground_coffee", "36 g", "coffee")))
        wrong("components.b.amounts", drink(part("a", "whole_milk", "to the line"), part("b", "oat_drink", "to the line")))
        wrong("components.a.amounts", drink(part("a", "whole_milk", "to the line | 20 g")))
        wrong("components", drink(part("a", "water", "100 g", "ice")))
        wrong("components", drink())
        wrong("components.a.amounts", drink(part("a", "water", "to the line", "ice"), part("b", "whole_milk", "5 g")))
        no_line = drink(part("a", "whole_milk", "to the line"))
        no_line["sizes"][0]["fill_ml"] = None
        wrong("components.a.amounts.short", no_line)
        above = drink(part("a", "whole_milk", "10 g"))
        above["sizes"][0]["fill_ml"] = 900
        wrong("sizes.short", above)
        with self.assertRaises(DomainError):
            load_drink({**latte(), "sizes": []})
        with self.assertRaises(DomainError):
            load_drink({**latte(), "format": "oakenjug.drink/9"})

    def test_up_to_a_volume_in_a_formula(self) -> None:
        """Sugar made up to a litre with water: 500 g of sugar and 690 g of water, by the density of 42 °Bx (1.187)."""
        raw: dict[str, Any] = {"stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": [
            {"id": "s", "substance": "white_sugar", "amount": "500 g"}, {"id": "w", "substance": "water", "amount": "up to 1 l"}]}]}  # fmt: skip
        method = parse_document(raw)
        self.assertEqual(method.amount_texts["w"], "up to 1000 ml")
        found = walk(method)
        self.assertEqual(found.faults, ())
        self.assertAlmostEqual(float(found.product.volume_ml()[0]), 1000, places=6)
        self.assertAlmostEqual(float(found.end.lines["w"][0]), 687, delta=3)
        raw["stages"][0]["lines"][0]["amount"] = "2 kg"
        self.assertEqual([fault.code for fault in walk(parse_document(raw)).faults], ["already_over"])


class RandomDrinks(unittest.TestCase):
    """Drinks from seeds: what is in the cup is what went in, every figure is possible, and the ranges hold the likely figure."""

    def test_what_must_hold(self) -> None:
        rng = np.random.default_rng(1924)
        milks = [id for id in MILKS if id != "whole_milk"]
        for seed in range(40):
            with self.subTest(seed=seed):
                self._holds(_random(rng, milks))

    def _holds(self, cup: Cup) -> None:
        found = pour(cup)
        np.testing.assert_allclose(found.walk.came_in_g(), found.walk.stands_g(), atol=1e-9)
        heat = found.liquid.enthalpy_j + found.ice.enthalpy_j
        self.assertTrue(bool(np.isfinite(heat).all()))
        self.assertTrue(bool((found.liquid.warmth_c >= -1e-9).all()))
        for id in ("sugars", "caffeine", "energy", "fat", "sugars_100ml", "temperature", "fills"):
            values = read(found, id)
            self.assertTrue(bool(np.all(values.low <= values.likely + 1e-9) and np.all(values.likely <= values.high + 1e-9)), id)
            self.assertTrue(bool(np.all(values.likely >= -1e-9)), id)
        sugars = found.liquid.mass_g @ c.SUGARS
        self.assertTrue(bool(np.all(found.liquid.tracer[:, 0] <= sugars + 1e-6)))


def _random(rng: np.random.Generator, milks: list[str]) -> Cup:
    def amounts(low: float, high: float) -> str:
        return " | ".join(f"{rng.uniform(low, high):.1f} g" for _ in range(4))

    parts = [
        part("dose", str(rng.choice(["honey", "maple_syrup", "agave_syrup"])), amounts(4, 30), "dose", poured_c=float(rng.uniform(2, 60))),
        part("shot", "ground_coffee", amounts(20, 60), "coffee", brew={"out_per_in": float(rng.uniform(1.5, 16))}),
        part("milk", str(rng.choice(milks)), "to the line | to the line | to the line | to the line", "milk"),
    ]
    if rng.random() < 0.5:
        parts[-1] = part("milk", str(rng.choice(milks)), amounts(20, 200), "milk", steamed_c=float(rng.uniform(40, 70)))
    if rng.random() < 0.6:
        parts.append(part("foam", "heavy_cream", amounts(5, 25), "foam", air={"low": 20, "likely": 60, "high": 110}))
    if rng.random() < 0.6:
        parts.append(part("ice", "water", f" |  |  | {rng.uniform(20, 200):.0f} g", "ice"))
    return cup_of(load_drink(drink(*parts)))
