"""References among lines: as much as, per kilo of, up to a total; what they may and may not name; the text twin."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.errors import CyclicAmounts, NotUnderstood, SeveralProblems
from jugcore.method.amounts import AsMuchAs
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.stages import LineDoc
from jugcore.method.walk import walk


def document(*lines: tuple[str, str, str], **more: Any) -> dict[str, Any]:
    """One pot with lines (id, substance, amount)."""
    stage = {"id": "first", "kind": "add", "vessel": "pot", "lines": [{"id": i, "substance": s, "amount": a} for i, s, a in lines]}
    return {"stages": [stage, *more.pop("then", [])], **more}


class References(unittest.TestCase):
    def grams(self, raw: dict[str, Any]) -> dict[str, float]:
        return {k: float(v[0]) for k, v in walk(parse_document(raw)).end.lines.items()}

    def test_the_old_rule_of_the_syrup(self) -> None:
        """Water as the juice, sugar as both: 1 : 1 : 2."""
        got = self.grams(document(("j", "pear_juice", "430 g"), ("w", "water", "as the juice"), ("s", "white_sugar", "as both")))
        self.assertEqual(got, {"j": 430.0, "w": 430.0, "s": 860.0})

    def test_a_join_brings_what_its_amount_says(self) -> None:
        """From a bowl of 500 g into a pot of 300 g, in each way an amount can be said of a join."""
        cases = {
            "120 g": 120, "up to 450 g": 150, "100 g per kg": 30, "50 g per kg of water": 15, "as the water": 300, "half the water": 150,
            "100 g per kg after base": 50, "20 g per kg finished": 300 / 49, "all": 500,
        }  # fmt: skip
        for text, wanted in cases.items():
            raw = {"kitchen": {"film_g": 0}, "stages": [
                {"id": "base", "name": "Base", "kind": "add", "vessel": "bowl", "lines": [{"id": "h", "substance": "honey", "amount": "500 g"}]},
                {"id": "p", "kind": "add", "vessel": "pot", "lines": [{"id": "w", "substance": "water", "amount": "300 g"}]},
                {"id": "j", "kind": "join", "vessel": "pot", "source": "bowl", "amount": text},
            ]}  # fmt: skip
            with self.subTest(text=text):
                self.assertAlmostEqual(self.grams(raw)["j"], wanted, places=6)

    def test_shares_of_lines_are_said_as_percent_from_five_on(self) -> None:
        for text, twin in (
            ("5 % of the water", "5 % of water"),
            ("49 g per kg of water", "49 g per kg of water"),
            ("120 g per kg of water", "12 % of water"),
        ):
            method = parse_document(document(("w", "water", "300 g"), ("s", "white_sugar", text)))
            self.assertEqual(method.amount_texts["s"], twin)

    def test_the_foam_that_was_poured_too_far(self) -> None:
        """Common practice, no source: milk 20, cream 30, syrup 20; 30 of milk poured gives 45 and 30."""
        raw = document(("m", "whole_milk", "20 g"), ("c", "heavy_cream", "1.5 x milk"), ("s", "honey", "as the milk"))
        poured = walk(parse_document(raw), given={"lines.m.grams": 30.0}).end.lines
        self.assertEqual([float(poured[k][0]) for k in "mcs"], [30.0, 45.0, 30.0])

    def test_six_grams_in_a_hundred_is_not_six_and_a_hundred(self) -> None:
        made_up = walk(parse_document(document(("a", "citric_acid", "6 g"), ("w", "water", "up to 100 g"))))
        beside = walk(parse_document(document(("a", "citric_acid", "6 g"), ("w", "water", "100 g"))))
        share = [float(x.product.mass_g[0, 19] / x.product.total_g[0]) for x in (made_up, beside)]
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
        for text, word in (("some", "neither an amount"), ("as the water", "this line itself")):
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
    """References among hundreds of lines cost what their number says, and never run out of stack: more of them than a document may have."""

    def chain(self, lines: int, refers: int) -> float:
        chained: list[dict[str, Any]] = [{"id": f"l{i}", "substance": "water", "amount": "100 g"} for i in range(refers)]
        for i in range(refers, lines):
            before = [f"l{i - back}" for back in range(1, refers + 1)]
            amount = {"kind": "as_much_as", "lines": before, "factor": 1 / refers}
            chained.append({"id": f"l{i}", "substance": "white_sugar", "amount": amount})
        spice = {"id": "s", "substance": "mace", "amount": "2 g per kg started"}
        document = parse_document({"stages": [
            {"id": "a", "kind": "blend", "vessel": "bowl", "lines": [spice]},  # asks for everything ahead of time
            {"id": "b", "kind": "add", "vessel": "pot", "lines": chained[:refers]},
        ]}).document  # fmt: skip
        blend, add = document.stages
        longer = add.model_copy(update={"lines": tuple(LineDoc.model_validate(line) for line in chained)})
        found = walk(compile_document(document.model_copy(update={"stages": (blend, longer)})))
        return float(found.end.lines["s"][0])

    def test_each_line_as_the_one_before(self) -> None:
        self.assertAlmostEqual(self.chain(500, 1), 2e-3 * 500 * 100, places=6)

    def test_each_line_as_the_two_before(self) -> None:
        self.assertAlmostEqual(self.chain(500, 2), 2e-3 * 500 * 100, places=6)


if __name__ == "__main__":
    unittest.main()
