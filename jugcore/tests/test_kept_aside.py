"""What a step leaves beside the product and is kept: pressed nuts, the rest of a blend, each with a day of its own."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.batch.sheet.kept_aside import allergens_aside, keeping_aside, kept_aside
from jugcore.method.compile import parse_document
from jugcore.method.document import MethodDocument
from jugcore.tests.batches import Book


def nut_milk(**changes: Any) -> MethodDocument:
    """Hazelnuts steeped in milk, strained through a cloth; packed at once and measured sour, as its keeping says."""
    lines = [("milk", "whole_milk", "500 g"), ("nuts", "hazelnut", "100 g"), ("sugar", "white_sugar", "50 g")]
    raw = {
        "name": "Nut milk",
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": id, "substance": of, "amount": amount} for id, of, amount in lines]},
            {"id": "heat", "kind": "heat", "vessel": "pot", "to_c": 85},
            {"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug"},
            {"id": "fill", "kind": "fill", "vessel": "jug", "into": "bottles", "size_ml": 250},
        ],
        **changes,
    }
    return parse_document(raw).document


class Aside(unittest.TestCase):
    def test_what_a_cloth_held_back_is_named_by_what_does_not_dissolve(self) -> None:
        found = kept_aside(Book(nut_milk()).actual_batch(), "strain")
        assert found is not None
        self.assertEqual(found.title, "hazelnuts, strained off")
        # A gram of what does not dissolve keeps its share of liquid: more than the fibre of 100 g of nuts, less than all that went in.
        self.assertTrue(20 < found.grams < 300, found.grams)
        self.assertTrue(650 <= found.most_g < 750, "no more than the 650 g that went in, and a little for what was not weighed")

    def test_where_nothing_is_left_there_is_nothing_to_keep(self) -> None:
        book = Book(nut_milk())
        for stage in ("in", "heat", "fill", "nowhere"):
            with self.subTest(stage):
                self.assertIsNone(kept_aside(book.actual_batch(), stage))
        self.assertIsNone(book.step("heat").kept_aside)
        clear = parse_document({
            "stages": [
                {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "s", "substance": "white_sugar", "amount": "100 g"},
                                                                       {"id": "w", "substance": "water", "amount": "100 g"}]},
                {"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug"},
            ]
        }).document  # fmt: skip
        self.assertIsNone(kept_aside(Book(clear).actual_batch(), "strain"), "a clear syrup leaves nothing in the sieve")

    def test_what_was_answered_of_the_product_says_nothing_of_it(self) -> None:
        answered = nut_milk(keeping={"heat_treated": True, "packaged": True, "ph": 3.6})
        days = []
        for document in (answered, nut_milk()):
            batch = Book(document).actual_batch()
            found = kept_aside(batch, "strain")
            assert found is not None
            keeping = keeping_aside(batch, found)
            self.assertTrue(keeping.questions, "nobody measured the cake")
            self.assertFalse(keeping.dry)
            days.append(keeping.days)
        self.assertEqual(days[0], days[1])
        self.assertIsNotNone(days[0])
        assert days[0] is not None
        self.assertLessEqual(days[0], 7)

    def test_its_allergens_are_of_all_that_touched_it(self) -> None:
        batch = Book(nut_milk()).actual_batch()
        found = kept_aside(batch, "strain")
        assert found is not None
        self.assertEqual({each.allergen for each in allergens_aside(batch, found) if each.certain}, {"milk", "nuts"})

    def test_kept_it_is_no_yield_and_no_waste(self) -> None:
        book = Book(nut_milk())
        before = book.sheet()
        book.cook_to("fill")
        book.enter("kept_aside", stage="strain", mass_g=140)
        after = book.sheet()
        self.assertEqual((after.yield_g, after.waste_g), (before.yield_g, 0.0))
        aside = book.step("strain").kept_aside
        assert aside is not None
        self.assertEqual(aside.kept_g, 140)
        self.assertIn("140 g kept aside at Strain", [line.words for line in after.log])

    def test_two_tablets_that_keep_it_at_once_leave_a_question(self) -> None:
        book = Book(nut_milk())
        book.enter("kept_aside", stage="strain", mass_g=140, device="a", seen=0)
        book.enter("kept_aside", stage="strain", mass_g=120, device="b", seen=0)
        (question,) = book.sheet().questions
        self.assertIn("Is it the same, or was both kept?", question.words)
        self.assertEqual(question.both, "Both were kept")
        book.enter("settled", question=question.id, keep=[str(question.choices[0].entry)])
        self.assertEqual(book.sheet().questions, [])
        self.assertEqual(book.record.kept_aside["strain"].value, 140)

    def test_the_rest_of_a_blend_is_kept_too(self) -> None:
        raw = {
            "stages": [
                {"id": "mix", "kind": "add", "vessel": "blend", "lines": [{"id": "mace", "substance": "mace", "amount": "20 g"},
                                                                          {"id": "anise", "substance": "star_anise", "amount": "20 g"}]},
                {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "w", "substance": "water", "amount": "500 g"}]},
                {"id": "dose", "kind": "join", "source": "blend", "vessel": "pot", "amount": "6 g"},
            ]
        }  # fmt: skip
        batch = Book(parse_document(raw).document).actual_batch()
        found = kept_aside(batch, "dose")
        assert found is not None
        self.assertEqual((found.title, round(found.grams, 6)), ("rest of blend", 34.0))
        self.assertTrue(keeping_aside(batch, found).dry)
        for whole in ("all", " All ", {"kind": "all"}):
            raw["stages"][2]["amount"] = whole  # type: ignore[index]
            self.assertIsNone(kept_aside(Book(parse_document(raw).document).actual_batch(), "dose"), whole)

    def test_a_pressed_cake_says_so(self) -> None:
        loose = nut_milk()
        stages = tuple(stage.model_copy(update={"pressed": True}) if stage.id == "strain" else stage for stage in loose.stages)
        found = kept_aside(Book(loose.model_copy(update={"stages": stages})).actual_batch(), "strain")
        wet = kept_aside(Book(loose).actual_batch(), "strain")
        assert found is not None and wet is not None
        self.assertEqual(found.title, "hazelnuts, pressed")
        self.assertLess(found.grams, wet.grams)
