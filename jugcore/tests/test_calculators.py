"""Small sums: worked examples of the trade and of the tables, both ways, and what cannot be."""

from __future__ import annotations

import json
import math
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.calculators.catalogue import CALCULATORS, CalculatorReport, calculator_report
from jugcore.dosing.strokes import best_stroke, strokes_for
from jugcore.errors import DomainError
from jugcore.matter.library import library
from jugcore.method.compile import compile_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.walk import walk
from jugcore.physics import boiling, sucrose
from jugcore.physics.boiling import pressure_at_altitude_pa
from jugcore.reading.catalogue import READING_OF

DEMO = Kitchen.model_validate(
    json.loads((Path(__file__).resolve().parents[2] / "docs" / "examples" / "ferrymans-spice.json").read_text(encoding="utf-8"))["kitchen"]
)


def go(id: str, typed: str = "", kitchen: Kitchen = DEMO, **values: Any) -> CalculatorReport:
    return calculator_report(id, kitchen, values, typed)


def field(report: CalculatorReport, id: str) -> float:
    return float(next(f.value for f in report.fields if f.id == id))


def line(report: CalculatorReport, title: str) -> float:
    return next(x.value for x in report.lines if x.title.startswith(title))


class Examples(unittest.TestCase):
    def test_ratio(self) -> None:
        """1 : 1 and 2 : 1 are 50.0 and 66.7 °Bx; 1 : 1 by cups of granulated sugar is 45.9."""
        self.assertAlmostEqual(field(go("ratio", "ratio", ratio=1), "brix"), 50.0, delta=0.05)
        self.assertAlmostEqual(field(go("ratio", "ratio", ratio=2), "brix"), 66.7, delta=0.05)
        self.assertAlmostEqual(field(go("ratio", "cups", cups=1), "brix"), 45.9, delta=0.1)
        half = go("ratio", "brix", brix=50)
        self.assertAlmostEqual(field(half, "g_l"), 50 * 1.2296 * 10, delta=1.5)
        self.assertIn("1.03 to 1.34", half.words[0])
        self.assertAlmostEqual(field(go("ratio", "ratio", ratio=1, sugar="honey"), "brix"), 50 * (1 - 0.1708), delta=0.3)

    def test_cooking_down_keeps_the_sugar(self) -> None:
        made = go("cook-down", "want_brix", have_g=2000, have_brix=50, want_brix=64)
        self.assertAlmostEqual(field(made, "left_g"), 2000 * 50 / 64, delta=0.6)
        self.assertAlmostEqual(field(made, "left_g") + field(made, "off_g"), 2000, places=6)
        self.assertAlmostEqual(line(made, "Wide 8 l pot then reads"), field(made, "left_g") + 1243, places=6)
        with self.assertRaises(DomainError) as refused:
            go("cook-down", "left_g", have_g=2000, have_brix=50, left_g=2500)
        self.assertEqual(refused.exception.field, "left_g")

    def test_diluting_and_enriching(self) -> None:
        self.assertAlmostEqual(field(go("dilute", "want_brix", have_g=1000, have_brix=66, want_brix=60), "add_g"), 100, delta=0.5)
        richer = go("dilute", "want_brix", have_g=1000, have_brix=50, want_brix=60)
        self.assertAlmostEqual(field(richer, "add_g"), -250, delta=0.5)
        self.assertIn("Warm it", richer.words[0])

    def test_refractometer(self) -> None:
        self.assertAlmostEqual(field(go("refractometer", "reads", at_c=30, reads=60), "brix"), float(sucrose.corrected_reading(60, 30)), places=9)

    def test_a_refractometer_at_the_ends_of_its_correction(self) -> None:
        """At 20 °C there is nothing to correct, and plain water is 0 °Bx."""
        self.assertEqual(field(go("refractometer", "brix", brix=0, at_c=20), "reads"), 0)

    def test_the_square(self) -> None:
        """18 % between cream of 36.08 and milk of 3.25: 14.75 parts to 18.08."""
        made = go("fat", "fat", fat=18, total_g=1000)
        self.assertAlmostEqual(field(made, "a_g"), 1000 * 14.75 / 32.83, delta=0.05)
        assert made.square is not None
        self.assertAlmostEqual(made.square.parts_a, 14.75, places=6)
        for bad in ({"fat": 40}, {"fat": 1}, {"b": "heavy_cream"}):
            with self.assertRaises(DomainError):
                go("fat", "fat", **bad)

    def test_six_in_a_hundred_and_six_plus_a_hundred(self) -> None:
        made = go("acid", "percent", acid="citric_acid", percent=6, total_g=100)
        self.assertAlmostEqual(field(made, "acid_g"), 6.0, places=9)
        self.assertAlmostEqual(field(go("acid", "acid_g", acid="citric_acid", acid_g=6, total_g=100), "percent"), 6, places=9)
        weaker = go("acid", "percent", acid="citric_acid", percent=6, total_g=100, purity=98)
        self.assertAlmostEqual(field(weaker, "acid_g"), 6 / 0.98, places=6)
        self.assertTrue(any("of 98.0 % is 6.00 g of acid" in words for words in weaker.words))
        self.assertFalse(any("of acid." in words for words in made.words))
        self.assertIn("5.66 %", made.words[0])
        self.assertTrue(1.7 < line(made, "pH") < 1.95)

    def test_orange_brought_to_six(self) -> None:
        """The exact balance: 100 (6 − 1.05) / (99.7 − 6) g, a little more than the trade's 5."""
        made = go("acid-adjust", "want", want=6, juice_g=100, has=1.05)
        self.assertAlmostEqual(field(made, "acid_g"), 100 * 4.95 / (100 - 6), delta=0.003)
        self.assertEqual(field(go("acid-adjust", "want", juice="lime_juice", has=8, want=6), "acid_g"), 0)
        titrated = go("acid-adjust", "want", want=6, juice_g=100, has=0.8)
        self.assertGreater(field(titrated, "acid_g"), field(made, "acid_g"))

    def test_saline(self) -> None:
        made = go("saline", "water_parts", water_parts=5, drink_g=150)
        self.assertAlmostEqual(field(made, "percent"), 100 / 6, places=6)
        self.assertAlmostEqual(line(made, "At most in that drink"), 1.5)

    def test_tin_levels(self) -> None:
        """2 : 1, 1 : 1, 1 : 2 called full, half, quarter: true added sugar 28.9, 21.7, 14.5 g in 100 g of a milk with 43.4."""
        for level, share in (("full", 2 / 3), ("half", 1 / 2), ("quarter", 1 / 3), ("none", 0.0)):
            self.assertAlmostEqual(field(go("tin", "level", level=level), "sugar"), 43.4 * share, delta=0.05)
        self.assertAlmostEqual(field(go("tin", "sugar", sugar=21.7), "ratio"), 1, delta=0.003)
        with self.assertRaises(DomainError):
            go("tin", "sugar", sugar=44)

    def test_whipped_coffee(self) -> None:
        made = go("whipped-coffee", "coffee_g", coffee_g=8)
        self.assertEqual((field(made, "sweet_g"), field(made, "water_g")), (16, 15))
        self.assertEqual(field(go("whipped-coffee", "coffee_g", school="sweet", coffee_g=10), "sweet_g"), 100)
        honey = go("whipped-coffee", "coffee_g", school="honey", coffee_g=8)
        shares = library()["honey"].mass_fraction
        self.assertAlmostEqual(field(honey, "sweet_g") * float(shares @ c.SUGARS), 16, places=6)
        self.assertAlmostEqual(field(honey, "water_g") + field(honey, "sweet_g") * float(shares[c.WATER]), 15, places=6)

    def test_boiling_here_and_at_the_sea(self) -> None:
        self.assertEqual(field(go("boiling"), "altitude_m"), DEMO.altitude_m)
        self.assertAlmostEqual(field(go("boiling", "brix", brix=64, altitude_m=0), "probe_c"), 103.6, delta=0.05)
        self.assertAlmostEqual(
            line(go("boiling", "brix", altitude_m=640), "Water boils"), float(boiling.boiling_point_c(0, pressure_at_altitude_pa(640))), places=9
        )

    def test_cold_limit(self) -> None:
        made = go("cold-limit", "fridge_c", fridge_c=4, have_brix=66.667)
        self.assertAlmostEqual(field(made, "brix"), float(sucrose.solubility_brix(4)), places=9)
        self.assertAlmostEqual(line(made, "May crystallise at 66.667 °Bx"), 53, delta=1)

    def test_small_weighings(self) -> None:
        """0.75 g on a 1 g scale: ± 67 %, within 5 % from 10 g."""
        made = go("scale-step", "step", grams=0.75, step=1)
        self.assertAlmostEqual(field(made, "error"), 100 * 0.5 / 0.75, places=6)
        self.assertEqual(line(made, "Within 5 %"), 10)
        self.assertIn("14 times", made.words[0])
        self.assertEqual(go("scale-step", "step", grams=50, step=1).words, [])

    def test_bottle_shrinks(self) -> None:
        """350 ml at 85 °C are 338 at 4 °C."""
        self.assertAlmostEqual(field(go("bottle", "size_ml", size_ml=350, fill_c=85, brix=64), "cold_ml"), 338, delta=1)
        cold = go("bottle", "size_ml", size_ml=350, fill_c=20, brix=64)
        self.assertAlmostEqual(field(cold, "bottle_g"), 350 * float(sucrose.density_kg_m3(64, 20)) / 1000, delta=0.4)

    def test_what_no_formula_takes_is_refused_at_what_was_typed(self) -> None:
        """A bottle that would have to be larger than any stage fills."""
        with self.assertRaises(DomainError) as refused:
            go("bottle", "bottle_g", bottle_g=200_000)
        self.assertEqual(refused.exception.field, "bottle_g")

    def test_spoons(self) -> None:
        self.assertAlmostEqual(field(go("spoons", "amount", of="white_sugar", amount="1 cup"), "grams"), 250 * 0.845, places=6)
        back = go("spoons", "grams", of="white_sugar", grams=211.25)
        self.assertEqual(next(f.value for f in back.fields if f.id == "amount"), "1 cup")
        with self.assertRaises(DomainError) as refused:
            go("spoons", "amount", amount="two moons")
        self.assertEqual(refused.exception.field, "amount")


class Pumps(unittest.TestCase):
    def test_an_even_pump_and_a_better_one(self) -> None:
        self.assertIn("keep the sweetness even", go("pump", "ten_g", ten_g=100, sizes="10, 20, 30").words[0])
        made = go("pump", "ten_g", ten_g=105, sizes="12, 16, 20, 24")
        self.assertIn("do not keep", made.words[0])
        self.assertIn("4.0 g", made.words[1])

    def test_the_best_stroke_is_the_best(self) -> None:
        """Against a fine search over every stroke there is."""
        rng = np.random.default_rng(2)
        for _ in range(30):
            wanted = sorted(float(x) for x in rng.uniform(5, 40, int(rng.integers(1, 5))))
            _, counts, miss = best_stroke(wanted, 0.05, 200.0)
            finest = min(strokes_for(wanted, float(s))[1] for s in np.linspace(0.5, 45, 4000))
            self.assertLessEqual(miss, finest + 1e-9, wanted)
            self.assertTrue(all(1 <= n <= 8 for n in counts))

    def test_sizes_with_decimal_commas(self) -> None:
        plain = go("pump", "ten_g", sizes="12.5, 16")
        for text in ("12,5; 16", "12,5 / 16", "12.5;16 g"):
            self.assertEqual(go("pump", "ten_g", sizes=text).lines, plain.lines)

    def test_sizes_that_are_none(self) -> None:
        for bad in ("", "a, b", "0", "1,2,3,4,5,6,7,8,9", "9999"):
            with self.subTest(bad=bad), self.assertRaises(DomainError) as refused:
                go("pump", "ten_g", sizes=bad)
            self.assertEqual(refused.exception.field, "sizes")


class ToBeginWith(unittest.TestCase):
    """The figures that stand in the fields before anything is typed."""

    def test_they_agree_with_one_another(self) -> None:
        for id, calculator in CALCULATORS.items():
            for typed in (each for each in calculator.fields if each.two_way):
                found = calculator_report(id, Kitchen(), {}, typed.id)
                for each in calculator.fields:
                    if each.kind == "number" and id != "spoons":  # a spoon is read in quarters
                        with self.subTest(calculator=id, typed=typed.id, field=each.id):
                            self.assertAlmostEqual(field(found, each.id), float(each.start), delta=2 * 10.0**-each.digits)

    def test_ten_strokes_end_where_ten_times_one_does(self) -> None:
        ten, one = (next(each for each in CALCULATORS["pump"].fields if each.id == id) for id in ("ten_g", "stroke_g"))
        self.assertEqual((ten.low, ten.high), (10 * one.low, 10 * one.high))

    def test_each_lies_within_its_ends_which_are_numbers_one_can_remember(self) -> None:
        for id, calculator in CALCULATORS.items():
            for each in calculator.fields:
                if each.kind == "number":
                    with self.subTest(calculator=id, field=each.id):
                        self.assertLessEqual(each.low, float(each.start))
                        self.assertLessEqual(float(each.start), each.high)
                        self.assertEqual([float(f"{end:.3g}") for end in (each.low, each.high)], [each.low, each.high])


class BothWays(unittest.TestCase):
    def test_every_field_typed_back_gives_the_same(self) -> None:
        for id in CALCULATORS:
            first = go(id)
            values = {f.id: f.value for f in first.fields}
            for typed in first.fields:
                if not typed.two_way:
                    continue
                again = calculator_report(id, DEMO, values, typed.id)
                for f in again.fields:
                    before = values[f.id]
                    with self.subTest(sum=id, typed=typed.id, field=f.id):
                        if isinstance(before, float):
                            # A spoon is read in quarters.
                            loose = 0.13 if id == "spoons" else 1e-4
                            self.assertAlmostEqual(float(f.value), before, delta=loose * max(1.0, abs(before)))

    def test_a_document_that_is_carried_reads_what_the_sum_said(self) -> None:
        for id, typed, reading in (
            ("ratio", "brix", "brix"),
            ("cook-down", "want_brix", "brix"),
            ("dilute", "want_brix", "brix"),
            ("fat", "fat", "fat"),
        ):
            made = go(id, typed)
            assert made.document is not None
            walked = walk(compile_document(made.document.model_copy(update={"kitchen": DEMO})))
            self.assertEqual(walked.faults, ())
            # Its grams are what the scales show, which moves it by less than it is told to.
            self.assertAlmostEqual(float(READING_OF[reading](walked).value[0]), field(made, typed), delta=0.05)

    def test_what_is_carried_can_be_weighed(self) -> None:
        made = go("fat", "fat", fat="14,5")
        assert made.document is not None
        amounts = [line["amount"] for stage in made.document.model_dump(mode="json")["stages"] for line in stage["lines"]]
        self.assertEqual(amounts, ["343 g", "657 g"])
        saline = go("saline", "percent", percent="16.67", total_g="25")
        assert saline.document is not None
        self.assertIn("4.17 g", saline.document.model_dump_json())

    def test_every_sum_but_that_of_a_scale_carries_a_formula_that_walks(self) -> None:
        for id in CALCULATORS:
            made = go(id)
            with self.subTest(sum=id):
                self.assertEqual(made.document is None, id in ("scale-step", "overrun"))
                if made.document is not None:
                    self.assertEqual(walk(compile_document(made.document.model_copy(update={"kitchen": DEMO}))).faults, ())

    def test_what_cannot_be_is_refused_at_its_field(self) -> None:
        for id, values, at in (
            ("ratio", {"brix": "a lot"}, "brix"),
            ("ratio", {"ratio": -1}, "ratio"),
            ("ratio", {"sugar": "moon_dust"}, "sugar"),
            ("boiling", {"probe_c": 1e9}, "probe_c"),
            ("tin", {"level": "double"}, "level"),
            ("saline", {"water_parts": 0}, "water_parts"),
            ("acid", {"percent": "nan"}, "percent"),
        ):
            with self.subTest(sum=id, values=values), self.assertRaises(DomainError) as refused:
                calculator_report(id, DEMO, values, next(iter(values)))
            self.assertEqual(refused.exception.field, at)
        with self.assertRaises(DomainError):
            calculator_report("no-such-sum", DEMO, {}, "")

    def test_random_figures_are_worked_out_or_refused(self) -> None:
        rng = np.random.default_rng(8)
        for id, which in CALCULATORS.items():
            for _ in range(40):
                values: dict[str, Any] = {}
                for f in which.fields:
                    if f.kind == "number":
                        values[f.id] = float(np.exp(rng.uniform(np.log(max(f.low, 1e-3)), np.log(max(f.high, 2e-3)))))
                    elif f.choices:
                        values[f.id] = str(rng.choice([x.value for x in f.choices]))
                typed = str(rng.choice([f.id for f in which.fields]))
                try:
                    made = calculator_report(id, DEMO, values, typed)
                except DomainError as refused:
                    self.assertTrue(refused.message and refused.remedy)
                    continue
                for out in made.fields:
                    self.assertTrue(not isinstance(out.value, float) or math.isfinite(out.value), (id, typed, values, out.id))


if __name__ == "__main__":
    unittest.main()
