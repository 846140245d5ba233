"""What a pack says, as a composition with its range."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.matter.label import Label, Reading, read_label, us_step, window
from jugcore.matter.library import library
from jugcore.matter.substance import substance_from_composition
from jugcore.tests.depth import often

CREAMER = {"energy_kcal": "35", "fat": "1.5", "carbohydrate": "5", "sugars": "5", "protein": "0"}


def as_label(id: str, digits: int) -> dict[str, str]:
    """What a pack of a substance of the library would say, rounded."""
    shares = 100 * library()[id].mass_fraction
    grams = {
        "fat": shares @ c.FAT,
        "sugars": shares @ c.SUGARS,
        "protein": shares[c.INDEX["protein"]],
        "salt": shares[c.SALT],
        "carbohydrate": shares @ c.SUGARS + shares[c.INDEX["dextrin"]] + shares[c.INDEX["other_soluble_carbohydrate"]],
        "fibre": shares[c.INDEX["insoluble"]] + shares[c.INDEX["pectin_and_gums"]],
    }
    return {name: f"{g:.{digits}f}" for name, g in grams.items()}


class Windows(unittest.TestCase):
    def test_as_wide_as_they_were_rounded(self) -> None:
        for text, low, high in (
            ("5", 4.5, 5.5),
            ("5,2 g", 5.15, 5.25),
            ("0", 0, 0.5),
            ("<0.5", 0, 0.5),
            ("traces", 0, 0.5),
            ("120 mg", 119.5, 120.5),
            ("35kcal", 34.5, 35.5),
        ):
            found = window(text)
            self.assertAlmostEqual(found.low, low)
            self.assertAlmostEqual(found.high, high)

    def test_a_trace_is_next_to_nothing_and_less_than_is_half_of_it(self) -> None:
        self.assertEqual([window("trace").middle, window("0").middle, window("<0.5").middle], [0.0, 0.0, 0.25])

    def test_no_figure_is_refused(self) -> None:
        for text in ("five", "-3", "5..2", "1e9", "", "5 to 6"):
            with self.subTest(text=text), self.assertRaises(BadDocument):
                window(text)

    def test_the_steps_of_other_rules(self) -> None:
        self.assertEqual(
            [us_step("fat", 1.5), us_step("fat", 8), us_step("energy_kcal", 35), us_step("energy_kcal", 120), us_step("salt", 1)], [0.5, 1, 5, 10, 0]
        )


class Packs(unittest.TestCase):
    def read(self, figures: dict[str, str], **how: Any) -> Reading:
        found = read_label(Label(figures, **how))
        self.assertAlmostEqual(sum(found.composition_g_per_100g.values()), 100, places=2)
        for name, (low, high) in found.ranges.items():
            self.assertLessEqual(low - 1e-6, found.composition_g_per_100g.get(name, 0.0), name)
            self.assertGreaterEqual(high + 1e-6, found.composition_g_per_100g.get(name, 0.0), name)
        substance_from_composition(id="own", composition_g_per_100g=found.composition_g_per_100g)
        return found

    def test_a_teaspoon_sized_serving_says_how_little_it_says(self) -> None:
        """5 g in 15 ml, rounded to grams: 30 to 37 g in 100 ml, whatever the weight of 100 ml is."""
        found = self.read(CREAMER, per="serving", serving_ml=15, kind="dairy")
        low, middle, high = found.totals["sugars"]
        self.assertTrue(25 < low < 27 and 29 < middle < 31 and 32 < high < 33.5, found.totals["sugars"])
        self.assertIn("“5 g” of sugars in 15 ml is anything from 4.5 to 5.5 g", found.says_little[0])
        coarser = self.read(CREAMER, per="serving", serving_ml=15, kind="dairy", rules="us")
        self.assertLess(coarser.totals["fat"][0], found.totals["fat"][0] - 0.5)
        finer = self.read({"fat": "10.0", "carbohydrate": "33.3", "sugars": "33.3", "protein": "0.1"}, per="100 ml", kind="dairy")
        self.assertLess(finer.totals["sugars"][2] - finer.totals["sugars"][0], 1.0)
        self.assertEqual(finer.says_little, ())

    def test_milk_is_known_from_its_own_label(self) -> None:
        """What food tables say of a food lies within what its label allows."""
        for id in ("whole_milk", "half_and_half", "heavy_cream", "condensed_milk", "evaporated_milk", "skimmed_milk"):
            for digits in (0, 1):
                with self.subTest(id=id, digits=digits):
                    found = self.read(as_label(id, digits), kind="dairy")
                    table = library()[id]
                    for name, grams in table.composition_g_per_100g().items():
                        low, high = found.ranges.get(name, (0.0, 0.0))
                        self.assertTrue(low - 0.05 <= grams <= high + 0.05, (name, grams, low, high))
                    if digits:
                        miss = 100 * np.abs(
                            table.mass_fraction
                            - substance_from_composition(id="x", composition_g_per_100g=found.composition_g_per_100g).mass_fraction
                        )
                        self.assertLess(float(miss.max()), 0.6)

    def test_sweetened_condensed_milk_parts_into_milk_sugar_and_added_sugar(self) -> None:
        found = self.read(as_label("condensed_milk", 1), kind="dairy")
        low, middle, high = found.totals["added_sugars"]
        self.assertTrue(low < 43.4 < high, found.totals)
        self.assertAlmostEqual(middle, 43.4, delta=1)
        self.assertTrue(any("lactose" in words for words in found.assumptions))

    def test_by_volume_and_by_mass_agree(self) -> None:
        """100 ml of a 65 °Bx syrup weigh 131.6 g (ICUMSA SPS-4) and hold 85.6 g of sugar."""
        found = self.read({"sugars": "85.6", "fat": "0", "protein": "0"}, per="100 ml", kind="syrup")
        self.assertAlmostEqual(found.totals["sugars"][1], 65, delta=0.8)
        self.assertAlmostEqual(found.density_g_ml[1], 1.316, delta=0.012)
        weighed = self.read({"sugars": "85.6", "fat": "0", "protein": "0"}, per="100 ml", kind="syrup", density_g_ml=1.316)
        self.assertAlmostEqual(weighed.totals["sugars"][1], 65, delta=0.35)

    def test_figures_that_cannot_all_be_right_are_named(self) -> None:
        with self.assertRaises(BadDocument) as refused:
            read_label(Label({"energy_kcal": "120", "fat": "0", "carbohydrate": "80", "sugars": "78"}, kind="syrup"))
        self.assertIn("energy", refused.exception.message)
        self.assertEqual(refused.exception.field, "label.energy_kcal")
        with self.assertRaises(BadDocument) as refused:
            read_label(Label({"fat": "60", "sugars": "60"}, kind="dairy"))
        self.assertIn("fat and sugars", refused.exception.message)
        with self.assertRaises(BadDocument):
            read_label(Label({"sugars": "70", "carbohydrate": "60"}, kind="syrup"))

    def test_what_is_missing_or_unknown_is_said(self) -> None:
        for label, field in (
            (Label({}), "label"),
            (Label({"sugars": " "}), "label"),
            (Label({"vitamins": "3"}), "label.vitamins"),
            (Label({"fat": "much"}), "label.fat"),
            (Label({"fat": "3"}, per="serving"), "label.serving"),
            (Label({"fat": "3"}, per="a cup"), "label.per"),
            (Label({"fat": "3"}, rules="mine"), "label.rules"),
            (Label({"sugars": "3"}, sugars_are={"starch": 1.0}), "label.sugars_are"),
        ):
            with self.subTest(field=field), self.assertRaises(BadDocument) as refused:
                read_label(label)
            self.assertEqual(refused.exception.field, field)

    def test_the_sugars_keep_the_shares_that_are_given(self) -> None:
        found = self.read({"sugars": "70", "fat": "0", "protein": "0"}, kind="syrup", sugars_are={"glucose": 1, "fructose": 1})
        self.assertAlmostEqual(found.composition_g_per_100g["glucose"], 35, delta=0.01)
        self.assertAlmostEqual(found.composition_g_per_100g["fructose"], 35, delta=0.01)

    def test_the_sugars_of_a_kind_where_the_pack_names_none(self) -> None:
        """Estimates: of fruit and juice three, three and four tenths; of a plant drink half and half; of anything else sucrose."""
        for kind, shares in (
            ("juice", {"sucrose": 3, "glucose": 3, "fructose": 4}), ("fruit", {"sucrose": 3, "glucose": 3, "fructose": 4}),
            ("plant", {"sucrose": 5, "maltose": 5}), ("syrup", {"sucrose": 10}),
        ):  # fmt: skip
            found = self.read({"sugars": "10", "fat": "0", "protein": "0", "carbohydrate": "10"}, kind=kind)
            for name, grams in shares.items():
                with self.subTest(kind=kind, sugar=name):
                    self.assertAlmostEqual(found.composition_g_per_100g[name], grams, delta=0.01)

    def test_random_foods_lie_within_their_own_labels(self) -> None:
        """Whatever a food is made of, its rounded label allows it, by the gram and by the millilitre."""
        rng = np.random.default_rng(11)
        for _ in range(often(25, daily=10)):
            sugar, fat, protein, fibre = rng.uniform(0, 40), rng.uniform(0, 20), rng.uniform(0, 8), rng.uniform(0, 5)
            ash, salt = rng.uniform(0.1, 0.9), rng.uniform(0, 0.2)
            grams = {"sucrose": sugar, "other_fat": fat, "protein": protein, "insoluble": fibre, "other_ash": ash, "salt": salt}
            grams["water"] = 100 - sum(grams.values())
            ml = sum(g / c.COMPONENTS[c.INDEX[name]].density_kg_m3 * 1000 for name, g in grams.items())
            for per, factor in (("100 g", 1.0), ("100 ml", 100 / ml)):
                figures = {"fat": fat, "sugars": sugar, "carbohydrate": sugar, "protein": protein, "fibre": fibre, "salt": salt}
                found = self.read({name: f"{g * factor:.1f}" for name, g in figures.items()}, per=per)
                for name, g in grams.items():
                    low, high = found.ranges.get(name, (0.0, 0.0))
                    self.assertTrue(low - 0.01 <= g <= high + 0.01, (per, name, g, low, high))


if __name__ == "__main__":
    unittest.main()
