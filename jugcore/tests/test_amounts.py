"""What people write, read as amounts; references among lines; the text twin."""

from __future__ import annotations

import unittest
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import CyclicAmounts, DomainError, NotUnderstood, SeveralProblems
from jugcore.matter.substance import library
from jugcore.measures.density import grams_of
from jugcore.measures.parsing import Everything, Likeness, Quantity, Rate, Total, parse_amount
from jugcore.measures.systems import MASS_G, VOLUME_ML
from jugcore.method.amounts import AsMuchAs
from jugcore.method.document import parse_document
from jugcore.method.walk import walk
from jugcore.tests.tables import rows

SUGAR = library()["white_sugar"]


def document(*lines: tuple[str, str, str], **more: Any) -> dict[str, Any]:
    """One pot with lines (id, substance, amount)."""
    stage = {"id": "first", "kind": "add", "vessel": "pot", "lines": [{"id": i, "substance": s, "amount": a} for i, s, a in lines]}
    return {"stages": [stage, *more.pop("then", [])], **more}


class Reading(unittest.TestCase):
    def test_quantities(self) -> None:
        cases = {
            "430 g": (430, "g"), "430": (430, None), "0.5kg": (0.5, "kg"), "1 1/2 cups": (1.5, "cup"), "1½ cups": (1.5, "cup"),
            "¾ tsp": (0.75, "tsp"), "½ TSP": (0.5, "tsp"), "1,5 kg": (1.5, "kg"), "1,200 g": (1200, "g"), "a cup": (1, "cup"),
            "half a cup": (0.5, "cup"), "10 fl oz": (10, "floz"), "3/4 l": (0.75, "l"), "2 tablespoons": (2, "tbsp"), "  7  g ": (7, "g"),
        }  # fmt: skip
        for text, (value, unit) in cases.items():
            with self.subTest(text=text):
                self.assertEqual(parse_amount(text), Quantity(value, value, unit))

    def test_other_forms(self) -> None:
        self.assertEqual(parse_amount("2–3 tbsp"), Quantity(2, 3, "tbsp"))
        self.assertEqual(parse_amount("22 g per kg"), Rate(22, None))
        self.assertEqual(parse_amount("22 g/kg started"), Rate(22, "started"))
        self.assertEqual(parse_amount("5 % of the milk"), Rate(50, "milk"))
        self.assertEqual(parse_amount("500 mg per kg of water"), Rate(0.5, "water"))
        self.assertEqual(parse_amount("made up to 100 g"), Total(100))
        self.assertEqual(parse_amount("up to 0.3 kg"), Total(300))
        self.assertEqual(parse_amount("all of it"), Everything())
        for text, names, factor in (
            ("as juice", ("juice",), 1.0),
            ("same as juice and water", ("juice", "water"), 1.0),
            ("twice the water", ("water",), 2.0),
            ("1.3 x water", ("water",), 1.3),
        ):
            parsed = parse_amount(text)
            assert isinstance(parsed, Likeness)
            self.assertEqual((parsed.names, parsed.factor), (names, factor))

    def test_what_cannot_be_read_says_which_word(self) -> None:
        for text, word in (("3 blobs", "blobs"), ("1/0 cup", "1/0"), ("", "no amount"), ("-5 g", "-5"), ("5-3 g", "backwards"), ("10 gg", "gg")):
            with self.subTest(text=text):
                with self.assertRaises(NotUnderstood) as caught:
                    parse_amount(text)
                self.assertIn(word, caught.exception.message)
                self.assertTrue(caught.exception.remedy)

    @given(st.text(max_size=60))
    @settings(max_examples=400, derandomize=True, deadline=None)
    def test_no_text_breaks_it(self, text: str) -> None:
        try:
            parse_amount(text)
        except NotUnderstood as refusal:
            self.assertTrue(refusal.message and refusal.remedy)

    @given(st.floats(0.01, 5000), st.sampled_from(["g", "kg", "ml", "tsp", "tbsp", "cup", "l"]))
    @settings(max_examples=200, derandomize=True, deadline=None)
    def test_a_written_number_reads_back(self, value: float, unit: str) -> None:
        parsed = parse_amount(f"{value:.4f} {unit}")
        assert isinstance(parsed, Quantity)
        self.assertAlmostEqual(parsed.middle, round(value, 4))
        self.assertEqual(parsed.unit, unit)


class Weighing(unittest.TestCase):
    def test_measure_systems_are_the_definitions(self) -> None:
        names = {"teaspoon": "tsp", "tablespoon": "tbsp", "fluid ounce": "floz", "cup": "cup", "pint, liquid": "pint", "quart, liquid": "quart"}
        systems = {"US customary": "us", "metric": "metric", "metric (AU/NZ/CA)": "metric", "Australian": "australian"}
        checked = 0
        for row in rows("measures"):
            system, unit = systems.get(row["system"]), names.get(row["unit_name"])
            if row["system"] == "imperial":
                system, unit = (
                    "imperial",
                    {"fluid ounce": "floz", "cup (10 imp fl oz)": "cup", "pint": "pint", "quart": "quart"}.get(row["unit_name"]),
                )
            if row["system"] == "avoirdupois":
                self.assertAlmostEqual(MASS_G[{"ounce": "oz", "pound": "lb"}[row["unit_name"]]], row.value, places=5)
                checked += 1
            elif system and unit:
                self.assertAlmostEqual(VOLUME_ML[system][unit], row.value, delta=row.value * 1e-6)
                checked += 1
        self.assertGreaterEqual(checked, 15)

    def test_a_cup_of_sugar_is_200_g_give_or_take(self) -> None:
        """USDA household weight: 200 ± 26 g for a US cup."""
        weighed = grams_of(Quantity(1, 1, "cup"), SUGAR, "us")
        self.assertAlmostEqual(weighed.grams, 200, delta=26)
        self.assertLess(weighed.low_g, 200)
        self.assertGreater(weighed.high_g, 200)

    def test_instant_coffee_against_sugar_by_the_spoon(self) -> None:
        """Common practice, no source: 1 : 2; household tables 1 : 4."""
        spoon = Quantity(1, 1, "tbsp")
        ratio = grams_of(spoon, SUGAR, "metric").grams / grams_of(spoon, library()["instant_coffee"], "metric").grams
        self.assertTrue(2 <= ratio <= 4.1)

    def test_ounces_of_something_that_pours_are_asked_about(self) -> None:
        with self.assertRaises(NotUnderstood) as caught:
            grams_of(Quantity(10, 10, "oz"), library()["whole_milk"], "us")
        self.assertIn("weight or volume", caught.exception.message)
        self.assertAlmostEqual(grams_of(Quantity(10, 10, "oz"), SUGAR, "us").grams, 283.5, places=1)

    def test_absurd_amounts_are_refused(self) -> None:
        for quantity in (Quantity(0, 0, "g"), Quantity(1e9, 1e9, "g"), Quantity(1e9, 1e9, "cup")):
            with self.subTest(quantity=quantity), self.assertRaises(NotUnderstood):
                grams_of(quantity, SUGAR, "metric")


class References(unittest.TestCase):
    def grams(self, raw: dict[str, Any]) -> dict[str, float]:
        return {k: float(v[0]) for k, v in walk(parse_document(raw)).end.lines.items()}

    def test_the_old_rule_of_the_syrup(self) -> None:
        """Water as the juice, sugar as both: 1 : 1 : 2."""
        got = self.grams(document(("j", "pear_juice", "430 g"), ("w", "water", "as the juice"), ("s", "white_sugar", "as both")))
        self.assertEqual(got, {"j": 430.0, "w": 430.0, "s": 860.0})

    def test_the_foam_that_was_poured_too_far(self) -> None:
        """Common practice, no source: milk 20, cream 30, syrup 20; 30 of milk poured gives 45 and 30."""
        raw = document(("m", "whole_milk", "20 g"), ("c", "heavy_cream", "1.5 x milk"), ("s", "honey", "as the milk"))
        poured = walk(parse_document(raw), given={"lines.m.grams": 30.0}).end.lines
        self.assertEqual([float(poured[k][0]) for k in "mcs"], [30.0, 45.0, 30.0])

    def test_six_grams_in_a_hundred_is_not_six_and_a_hundred(self) -> None:
        made_up = walk(parse_document(document(("a", "citric_acid", "6 g"), ("w", "water", "up to 100 g"))))
        beside = walk(parse_document(document(("a", "citric_acid", "6 g"), ("w", "water", "100 g"))))
        share = [float(x.product.mass_g[0, 19] / x.product.total_g[0]) / 0.997 for x in (made_up, beside)]
        self.assertAlmostEqual(share[0], 0.06, places=6)
        self.assertAlmostEqual(share[1], 0.0566, places=4)

    def test_forward_references_close(self) -> None:
        then = [
            {"id": "late", "kind": "add", "vessel": "pot", "lines": [{"id": "v", "substance": "vanilla_extract", "amount": "10 g per kg finished"}]}
        ]
        found = walk(parse_document(document(("w", "water", "990 g"), then=then)))
        self.assertAlmostEqual(float(found.end.lines["v"][0]), 10.0, places=8)
        self.assertEqual(found.faults, ())

    def test_one_that_asks_for_more_than_it_makes_is_a_fault(self) -> None:
        then = [
            {"id": "late", "kind": "add", "vessel": "pot", "lines": [{"id": "v", "substance": "vanilla_extract", "amount": "1200 g per kg finished"}]}
        ]
        found = walk(parse_document(document(("w", "water", "990 g"), then=then)))
        self.assertEqual([f.code for f in found.faults], ["does_not_close"])
        self.assertEqual(found.faults[0].field, "lines.v.amount")

    def test_a_line_may_refer_to_a_later_one(self) -> None:
        got = self.grams(document(("s", "white_sugar", "twice the water"), ("w", "water", "300 g")))
        self.assertEqual(got, {"s": 600.0, "w": 300.0})

    def test_a_circle_names_its_lines(self) -> None:
        with self.assertRaises(CyclicAmounts) as caught:
            parse_document(document(("a", "water", "as the sugar"), ("b", "white_sugar", "as the honey"), ("c", "honey", "as the water")))
        for name in ("Water", "White granulated sugar", "Honey"):
            self.assertIn(name, caught.exception.message)
        self.assertRegex(caught.exception.field, r"lines\.[abc]\.amount")

    def test_names_that_fit_none_or_several(self) -> None:
        for text, word in (("as the rum", "rum"), ("as the syrup", "several")):
            with self.assertRaises(NotUnderstood) as caught:
                parse_document(document(("m", "maple_syrup", "5 g"), ("a", "agave_syrup", "5 g"), ("w", "water", text)))
            self.assertIn(word, caught.exception.message)
            self.assertEqual(caught.exception.field, "lines.w.amount")

    def test_what_is_neither_amount_nor_line_says_how_to_write_one(self) -> None:
        for text, word in (("a pinch", "neither an amount"), ("as the water", "this line itself")):
            with self.subTest(text=text), self.assertRaises(NotUnderstood) as caught:
                parse_document(document(("w", "water", text)))
            self.assertIn(word, caught.exception.message)
            self.assertTrue(caught.exception.remedy)

    def test_figures_no_amount_can_have(self) -> None:
        cases = {
            "999999 g per kg finished": "100,000", "0 g per kg": "above 0", "20000 x the sugar": "10,000", "0 x the sugar": "above 0",
            "up to 5000 kg": "1,000,000", "up to 0 g": "above 0", "5 g per kg after " + "x" * 300: "Stages", f"{'0' * 150}5 g": "120",
        }  # fmt: skip
        for text, words in cases.items():
            with self.subTest(text=text[:40]), self.assertRaises(NotUnderstood) as caught:
                parse_document(document(("s", "white_sugar", "100 g"), ("w", "water", text)))
            self.assertIn(words, f"{caught.exception.message} {caught.exception.remedy}")
            self.assertEqual(caught.exception.field, "lines.w.amount")

    def test_every_wrong_line_is_reported_at_once(self) -> None:
        with self.assertRaises(SeveralProblems) as caught:
            parse_document(document(("a", "water", "3 blobs"), ("b", "white_sugar", "-2 g"), ("c", "honey", "as the rum")))
        self.assertEqual([p.field for p in caught.exception.problems], ["lines.a.amount", "lines.b.amount", "lines.c.amount"])

    def test_the_text_twin_reads_back_as_the_same_amount(self) -> None:
        texts = [
            "as the pear juice",
            "twice the water",
            "a third of the water",
            "as pear juice and cocoa powder, 10–12 %",
            "22 g per kg started",
            "5 % of the water",
            "7 g per kg of pear juice and water",
            "3 g per kg finished",
            "12 g per kg",
        ]
        for text in texts:
            lines = [
                ("j", "pear_juice", "430 g"),
                ("w", "water", "100 g"),
                ("c", "cocoa_low_fat", "20 g"),
                ("d", "cocoa_high_fat", "20 g"),
                ("x", "green_cardamom", text),
            ]
            if "cocoa powder, 10" in text:
                lines[4] = ("x", "green_cardamom", "as cocoa powder, 10–12 % fat")
            first = parse_document(document(*lines))
            twin = first.amount_texts["x"]
            lines[4] = ("x", "green_cardamom", twin)
            with self.subTest(text=text, twin=twin):
                self.assertEqual(parse_document(document(*lines)).amounts["x"], first.amounts["x"])

    def test_lines_of_one_name_are_told_apart_by_their_stage(self) -> None:
        raw = document(("w", "water", "100 g"), ("s", "white_sugar", "50 g"))
        raw["stages"].append({"id": "late", "kind": "add", "name": "Second sugar", "vessel": "pot", "lines": [
            {"id": "t", "substance": "white_sugar", "amount": "20 g"}, {"id": "x", "substance": "honey", "amount": "as white sugar"}]})  # fmt: skip
        with self.assertRaises(NotUnderstood) as caught:
            parse_document(raw)
        self.assertIn("in second sugar", caught.exception.message)
        cases = {"as white sugar in second sugar": "t", "as sugar in add": "s", "as white sugar in stage 2": "t"}
        for name in ("Second sugar", None):  # without a name both stages are called Add
            raw["stages"][1]["name"] = name
            for text, line in cases.items():
                if name is None and "stage" not in text:
                    continue
                with self.subTest(text=text, name=name):
                    raw["stages"][1]["lines"][1]["amount"] = text
                    method = parse_document(raw)
                    self.assertEqual(method.amounts["x"], AsMuchAs(lines=(line,)))
                    raw["stages"][1]["lines"][1]["amount"] = method.amount_texts["x"]
                    self.assertEqual(parse_document(raw).amounts["x"], AsMuchAs(lines=(line,)))


class LongChains(unittest.TestCase):
    """References among hundreds of lines cost what their number says, and never run out of stack."""

    def chain(self, lines: int, refers: int) -> float:
        chained: list[dict[str, Any]] = [{"id": f"l{i}", "substance": "water", "amount": "100 g"} for i in range(refers)]
        for i in range(refers, lines):
            before = [f"l{i - back}" for back in range(1, refers + 1)]
            amount = {"kind": "as_much_as", "lines": before, "factor": 1 / refers}
            chained.append({"id": f"l{i}", "substance": "white_sugar", "amount": amount})
        spice = {"id": "s", "substance": "mace", "amount": "2 g per kg started"}
        found = walk(parse_document({"stages": [
            {"id": "a", "kind": "blend", "vessel": "bowl", "lines": [spice]},  # asks for everything ahead of time
            {"id": "b", "kind": "add", "vessel": "pot", "lines": chained},
        ]}))  # fmt: skip
        return float(found.end.lines["s"][0])

    def test_each_line_as_the_one_before(self) -> None:
        self.assertAlmostEqual(self.chain(500, 1), 2e-3 * 500 * 100, places=6)

    def test_each_line_as_the_two_before(self) -> None:
        self.assertAlmostEqual(self.chain(500, 2), 2e-3 * 500 * 100, places=6)


class Errors(unittest.TestCase):
    def test_every_error_survives_pickling(self) -> None:
        import pickle

        kinds = DomainError.__subclasses__()
        self.assertGreaterEqual(len(kinds), 5)
        for kind in kinds:
            error = kind([NotUnderstood("f", "m", "r")]) if kind is SeveralProblems else kind("f", "m", "r")
            again = pickle.loads(pickle.dumps(error))
            self.assertEqual((type(again), again.field, again.message, again.remedy), (kind, "f", "m", "r"))


if __name__ == "__main__":
    unittest.main()
