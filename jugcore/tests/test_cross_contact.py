"""Allergens that equipment carries over: by what a kitchen says of it, else by what other formulas put into it."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.batch.sheet.equipment import equipment_met
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.equipment.cross_contact import CrossContact, Others, allergens_met_by_equipment, cross_contact, kept_free, pieces_taken
from jugcore.reading.report import report
from jugcore.tests.batches import Book


def _creamer(substance: str = "half_and_half", shared: list[dict[str, Any]] | None = None) -> Method:
    return parse_document({
        "name": "Creamer", "kitchen": {"equipment": shared} if shared else {},
        "stages": [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": [{"id": "base", "substance": substance, "amount": "900 g"}]},
            {"id": "blend", "kind": "mix", "vessel": "jug", "tool": "blender"},
            {"id": "late", "kind": "add", "vessel": "jug", "lines": [{"id": "nuts", "substance": "hazelnut", "amount": "20 g"}]},
            {"id": "strain", "kind": "strain", "vessel": "jug", "into": "can", "sieve": None},
        ],
    })  # fmt: skip


def _plain(**kitchen: Any) -> Method:
    return parse_document({
        "name": "Syrup", "kitchen": kitchen,
        "stages": [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": [{"id": "water", "substance": "water", "amount": "900 g"}]},
            {"id": "blend", "kind": "mix", "vessel": "jug", "tool": "blender"},
        ],
    })  # fmt: skip


def _piece(name: str, *saw: str, gear: EquipmentKind = "blender") -> dict[str, Any]:
    return {"id": name.lower().replace(" ", "-"), "name": name, "kind": gear, "allergens_met": list(saw)}


def _found_by_equipment(method: Method, elsewhere: Any = None) -> list[CrossContact]:
    return cross_contact(walk(method), elsewhere)


class Seen(unittest.TestCase):
    def test_a_tool_meets_what_is_in_before_it_and_not_what_comes_after(self) -> None:
        seen = allergens_met_by_equipment(walk(_creamer()))
        self.assertEqual(seen["blender"], ("milk",))
        self.assertEqual(seen["sieve"], ("milk", "nuts"))

    def test_what_a_kitchen_says_of_its_blender(self) -> None:
        found = _found_by_equipment(_plain(shared=[_piece("Old blender", "nuts", "sesame")]))
        self.assertEqual([(each.allergen, each.take, each.stages) for each in found], [("nuts", "", ["blend"]), ("sesame", "", ["blend"])])
        self.assertIn("Old blender also meets nuts", found[0].words)

    def test_one_kept_free_is_to_be_taken(self) -> None:
        found = _found_by_equipment(_plain(shared=[_piece("Old blender", "nuts"), _piece("Green blender")]))
        self.assertEqual((found[0].take, found[0].words), ("Green blender", "Take Green blender: Old blender also meets nuts."))

    def test_what_is_in_it_anyway_is_not_found_by_equipment(self) -> None:
        self.assertEqual(_found_by_equipment(_creamer(shared=[_piece("Old blender", "milk", "nuts")])), [])

    def test_other_tools_carry_nothing(self) -> None:
        self.assertEqual(_found_by_equipment(_plain(shared=[_piece("Whisk", "nuts", gear="whisk")])), [])

    def test_other_formulas_count_where_the_kitchen_says_nothing(self) -> None:
        elsewhere = {"blender": {"sesame": ["Black Sesame", "Tahini Foam"]}}
        found = _found_by_equipment(_plain(), elsewhere)
        self.assertIn("Black Sesame and Tahini Foam use it too", found[0].words)
        self.assertEqual(_found_by_equipment(_plain(shared=[_piece("Green blender")]), elsewhere), [])

    def test_the_bench_and_the_hob_say_so_at_the_stage(self) -> None:
        method = _plain(shared=[_piece("Old blender", "nuts")])
        self.assertEqual([each.allergen for each in report(walk(method)).cross_contact], ["nuts"])
        step = Book(method.document).step("blend")
        self.assertTrue(any("Old blender also meets nuts" in each for each in step.cautions))
        self.assertFalse(any("also meets nuts" in each for each in Book(method.document).step("in").cautions))

    def test_no_allergen_that_is_none(self) -> None:
        with self.assertRaisesRegex(Exception, "not one of the allergens"):
            _plain(shared=[_piece("Blender", "dust")])
        with self.assertRaisesRegex(Exception, "has no name"):
            _plain(shared=[{**_piece("Blender"), "name": " "}])


def _met(name: str, *saw: str, met: dict[str, str]) -> dict[str, Any]:
    return {**_piece(name, *saw), "met_at_batches": [{"allergen": allergen, "at": at} for allergen, at in met.items()]}


class Remembered(unittest.TestCase):
    """What a piece met at batches counts until it was washed, and what is clean is kept clean while another can be taken."""

    def test_what_it_met_since_it_was_washed_is_carried_over(self) -> None:
        found = _found_by_equipment(_plain(shared=[_met("Green blender", met={"nuts": "Toasted Hazelnut 0041"})]))
        self.assertEqual([(each.allergen, each.take) for each in found], [("nuts", "")])
        self.assertEqual(found[0].words, "Green blender met nuts at Toasted Hazelnut 0041, was not washed since and may carry it over.")

    def test_the_one_that_is_clean_of_it_now_is_to_be_taken(self) -> None:
        shared = [_met("Green blender", met={"nuts": "Toasted Hazelnut 0041"}), _piece("Blue blender")]
        self.assertEqual(_found_by_equipment(_plain(shared=shared))[0].take, "Blue blender")

    def test_the_only_clean_one_is_not_taken_for_an_allergen_while_another_is_free(self) -> None:
        pieces = [_piece("Green blender"), _piece("Old blender", "milk")]
        for shared in (pieces, pieces[::-1]):
            walked = walk(_creamer(shared=shared))
            self.assertEqual(pieces_taken(walked)["blend"].name, "Old blender")
            self.assertEqual(kept_free(walked)["blend"], "Take Old blender, so that Green blender stays free of milk.")
            self.assertTrue(any("stays free of milk" in each for each in Book(_creamer(shared=shared).document).step("blend").cautions))

    def test_what_must_not_come_in_goes_before_what_must_stay_clean(self) -> None:
        """The old one carries sesame, which is not in it: the clean one is taken, and nothing comes in."""
        walked = walk(_creamer(shared=[_piece("Old blender", "milk", "sesame"), _piece("Green blender")]))
        self.assertEqual(pieces_taken(walked)["blend"].name, "Green blender")

    def test_cooking_tells_what_each_piece_met(self) -> None:
        book = Book(_creamer(shared=[_piece("Green blender"), _piece("Old blender", "milk")]).document)
        self.assertEqual(equipment_met(book.actual_batch()), [])
        book.enter("done", minute=5, stage="blend")
        self.assertEqual([(each.piece, each.allergen) for each in equipment_met(book.actual_batch())], [("old-blender", "milk")])
        offered = book.step("blend").equipment
        assert offered is not None
        self.assertFalse(offered.said)
        self.assertIn("green-blender", [piece.id for piece in offered.pieces])
        book.enter("took", minute=6, stage="blend", piece="green-blender")
        taken = book.step("blend").equipment
        assert taken is not None
        self.assertEqual((taken.taken.id, taken.said), ("green-blender", True))
        self.assertEqual([(each.piece, each.allergen) for each in equipment_met(book.actual_batch())], [("green-blender", "milk")])

    def test_something_that_went_in_instead_counts(self) -> None:
        book = Book(_plain(shared=[_piece("Green blender")]).document)
        book.enter("swapped", line="water", substance="almond_drink")
        book.enter("closed", minute=9)
        self.assertEqual([(each.piece, each.allergen) for each in equipment_met(book.actual_batch())], [("green-blender", "nuts")])


if __name__ == "__main__":
    unittest.main()


class OtherNames(unittest.TestCase):
    def test_are_the_names_without_one(self) -> None:
        names = ("Barley", "Damson", "Fennel", "Quince")
        for without in (*names, "Apple", "Zest", "Elder"):
            with self.subTest(without):
                plain = [name for name in names if name != without]
                others = Others(names, without)
                self.assertEqual((list(others), len(others), others[:2], others[-1]), (plain, len(plain), plain[:2], plain[-1]))
                with self.assertRaises(IndexError):
                    others[len(plain)]
        self.assertEqual(list(Others(("Barley",), "Barley")), [])
