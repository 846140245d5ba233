"""Until when: one code path, always a day, the cautious one, with what is not known beside it."""

from __future__ import annotations

import unittest
from datetime import date, timedelta
from itertools import combinations
from typing import Any

from jugcore.batch.actual.label_entries import last_day_in_words, stricter
from jugcore.keeping.days import Frozen
from jugcore.keeping.lots import LotDate
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.keeping.use_by import UseBy, last_day
from jugcore.reading.report import report
from jugcore.tests.batches import Book
from jugcore.tests.random_methods import random_method

MADE = date(2026, 3, 2)


def keeping(*lines: tuple[str, str], **document: Any) -> KeepingReport:
    ids = [{"id": f"l{i}", "substance": substance, "amount": amount} for i, (substance, amount) in enumerate(lines)]
    return report(walk(parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": ids}], **document}))).keeping


class OnALabel(unittest.TestCase):
    """One last day of two, and how a label says it."""

    def test_the_stricter_of_two_stands(self) -> None:
        batch = Book().actual_batch()
        early, late = UseBy(MADE, "", "a"), UseBy(MADE + timedelta(days=2), "", "b")
        past, one, five = UseBy(None, "", "c"), UseBy(None, "", "d", left=1), UseBy(None, "", "e", left=5)
        in_order = (past, one, five, early, late)
        for first, second in combinations(in_order, 2):
            with self.subTest(first=first.why, second=second.why):
                self.assertIs(stricter(first, second, batch), first)
                self.assertIs(stricter(second, first, batch), first)

    def test_days_wait_in_the_freezer_and_only_there(self) -> None:
        dated = UseBy(MADE, "said", "why")
        self.assertEqual(last_day_in_words(dated, 5, frozen=True), (None, "5 days unfrozen in total; freezing pauses them"))
        self.assertEqual(last_day_in_words(dated, 5, frozen=False), (MADE, "said"))
        self.assertEqual(last_day_in_words(dated, None, frozen=True), (MADE, "said"))
        self.assertEqual(last_day_in_words(UseBy(None, "past", "why"), 5, frozen=True), (None, "past"))


class LastDay(unittest.TestCase):
    def test_a_day_stands_there_whatever_is_known(self) -> None:
        met = set()
        for seed in range(80):
            walked = walk(parse_document(random_method(seed)))
            if not float(walked.product.total_g[0]) > 0:
                continue
            found = last_day(report(walked).keeping, MADE)
            self.assertIsNotNone(found.day, seed)
            self.assertTrue(found.why.endswith("decide."))
            met.add(bool(found.words))
        self.assertIn(True, met)

    def test_what_is_not_known_stands_beside_the_cautious_day(self) -> None:
        cream = keeping(("heavy_cream", "300 g"), ("white_sugar", "60 g"))
        found = last_day(cream, MADE)
        self.assertEqual((found.day, found.words), (date(2026, 3, 4), "pH not measured"))
        self.assertIn("like food that is held safe by time and temperature", found.why)
        syrup = last_day(keeping(("white_sugar", "600 g"), ("water", "400 g")), MADE)
        self.assertEqual((syrup.day, syrup.words), (date(2026, 3, 8), "heat, packaging and pH not known"))

    def test_where_no_table_gives_days_the_local_rule_does_until_a_trial(self) -> None:
        rich = keeping(("white_sugar", "1200 g"), ("water", "600 g"))
        self.assertIsNone(rich.days)
        found = last_day(rich, MADE)
        self.assertEqual((found.day, found.words), (date(2026, 3, 8), "no shelf trial yet"))
        four = last_day(keeping(("white_sugar", "1200 g"), ("water", "600 g"), kitchen={"chilled_days": 4}), MADE)
        self.assertEqual(four.day, date(2026, 3, 5))

    def test_what_is_dry_keeps_as_its_parts_do(self) -> None:
        found = last_day(keeping(("cassia", "20 g"), ("white_sugar", "200 g")), MADE)
        assert found.day is not None
        self.assertGreater(found.day, MADE + timedelta(days=60))

    def test_the_first_lot_decides_and_one_past_its_date_is_said(self) -> None:
        cream = keeping(("heavy_cream", "300 g"), keeping={"ph": 6.6, "heat_treated": False})
        sooner = last_day(cream, MADE, [LotDate(date(2026, 3, 3), "Cream, lot C1"), LotDate(date(2026, 3, 20), "Milk, lot M1")])
        self.assertEqual((sooner.day, sooner.words), (date(2026, 3, 3), ""))
        self.assertIn("Cream, lot C1 decides", sooner.why)
        self.assertEqual(last_day(cream, MADE, [LotDate(date(2026, 3, 20), "Milk, lot M1")]).day, date(2026, 3, 4))
        past = last_day(cream, MADE, [LotDate(date(2026, 2, 20), "Cream, lot C0")])
        self.assertEqual((past.day, past.words), (date(2026, 2, 20), "a part was past its date"))

    def test_the_freezer_pauses_and_never_lengthens(self) -> None:
        cream = keeping(("heavy_cream", "300 g"))
        out = last_day(cream, MADE, frozen=[Frozen(date(2026, 3, 3), date(2026, 3, 9))])
        self.assertEqual((out.day, out.words), (date(2026, 3, 9), "pH not measured"))
        inside = last_day(cream, MADE, frozen=[Frozen(date(2026, 3, 3), None)])
        self.assertEqual((inside.day, inside.left), (None, 1))
        late = last_day(cream, MADE, frozen=[Frozen(date(2026, 3, 30), None)])
        self.assertIn("past its day", late.words)


class AtTheBatch(unittest.TestCase):
    def test_ph_heat_and_packaging_are_given_where_they_are_known(self) -> None:
        book = Book()
        first = report(book.actual_batch().walk).keeping
        self.assertEqual((first.verdict, first.ph_measured), ("ask", False))
        book.enter("assessed", ph=3.9)
        book.enter("assessed", heat_treated=False)
        found = report(book.actual_batch().walk).keeping
        self.assertEqual((found.verdict, found.ph_measured, found.questions), ("not_controlled", True, []))
        self.assertIn("pH 3.9", book.sheet().log[0].words)

    def test_the_newest_holds_and_one_taken_back_does_not(self) -> None:
        book = Book()
        book.enter("assessed", ph=3.9)
        wrong = book.enter("assessed", ph=5.5)
        self.assertAlmostEqual(report(book.actual_batch().walk).keeping.ph_high or 0, 5.6)
        book.enter("undone", entry=wrong)
        self.assertAlmostEqual(report(book.actual_batch().walk).keeping.ph_high or 0, 4.0)

    def test_an_answer_of_the_formula_falls_where_the_batch_went_another_way(self) -> None:
        raw = Book().document.model_dump(mode="json", exclude_none=True)
        told = parse_document({**raw, "keeping": {"ph": 3.9, "heat_treated": True, "packaged": True}}).document
        as_asked = Book(told)
        self.assertTrue(report(as_asked.actual_batch().walk).keeping.ph_measured)
        as_asked.enter("weighed", line="sugar", reads_g=1700)
        self.assertIn("ph", report(as_asked.actual_batch().walk).keeping.fallen)
        as_asked.enter("assessed", ph=4.1)
        self.assertTrue(report(as_asked.actual_batch().walk).keeping.ph_measured)


class SomethingElse(unittest.TestCase):
    """An ingredient that was put in by hand keeps what is known of it."""

    OWN = {
        "title": "Yard nut milk", "kind": "plant", "storage": "chilled", "allergens": ["nuts"], "composition_g_per_100g": {"water": 95, "other_fat": 3, "protein": 2},
        "opened": {"low": 2, "high": 3, "storage": "chilled"},
    }  # fmt: skip

    def test_facts_go_through_to_walk_allergens_and_date(self) -> None:
        book = Book()
        book.enter("swapped", line="water", substance="yard_nut_milk", facts=self.OWN)
        found = report(book.actual_batch().walk)
        self.assertIn("nuts", [each.allergen for each in found.allergens if each.certain])
        self.assertEqual(found.keeping.dated, ["pear_juice", "yard_nut_milk"] if "pear_juice" in found.keeping.dated else ["yard_nut_milk"])
        self.assertEqual(found.keeping.days, 2)

    def test_facts_of_today_stand_beside_those_the_batch_was_frozen_with(self) -> None:
        """The batch knows white sugar by the library; the site's own reading of it says that it carries sulphites."""
        book = Book()
        mine = {"title": "White sugar, ours", "kind": "sugar", "allergens": ["sulphites"], "composition_g_per_100g": {"water": 1, "sucrose": 99}}
        raw = book.document.model_dump(mode="json", exclude_none=True)
        library = {"title": "Water", "kind": "water", "composition_g_per_100g": {"water": 100}}
        raw["substances"] = {
            "white_sugar": {"title": "White granulated sugar", "kind": "sugar", "composition_g_per_100g": {"sucrose": 100}},
            "water": library,
        }
        frozen = Book(parse_document(raw).document)
        frozen.enter("swapped", line="water", substance="white_sugar", facts=mine)
        batch = frozen.actual_batch()
        self.assertIn("sulphites", [each.allergen for each in report(batch.walk).allergens])
        sugar = batch.method.substances[batch.method.lines["sugar"].substance]
        self.assertEqual(sugar.allergens, (), "the other line stays what it was")
        other = batch.method.substances[batch.method.lines["water"].substance]
        self.assertEqual((other.of, other.title), ("white_sugar", "White sugar, ours"))

    def test_a_weaker_lot_is_dated_by_what_it_is(self) -> None:
        book = Book()
        book.enter("swapped", line="water", substance="yard_nut_milk", facts={**self.OWN, "composition_g_per_100g": {"water": 90, "sucrose": 10}})
        book.enter("refracted", stage="juice", line="water", reading_brix=7.0)
        self.assertIn("yard_nut_milk", report(book.actual_batch().walk).keeping.dated)

    def test_what_nobody_knows_is_a_question_and_no_silence(self) -> None:
        book = Book()
        book.enter("swapped", line="water", substance="mystery_juice")
        asked = book.sheet().questions
        self.assertEqual([each.id for each in asked], ["unknown:water"])
        self.assertIn("nothing is known of it", asked[0].words)
        self.assertIn("mystery juice", asked[0].words)
        book.enter("swapped", line="water", substance="whole_milk")
        self.assertEqual(book.sheet().questions, [])


if __name__ == "__main__":
    unittest.main()
