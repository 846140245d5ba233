"""Holds and steeps at the hob: time counts where the temperature holds, what is off is told at once, and what must wait waits."""

from __future__ import annotations

import unittest
from datetime import timedelta
from typing import Any

from jugcore.batch.requests import rescue_report
from jugcore.batch.sheet.schema import Deviation
from jugcore.batch.sheet.time_held import held_so_far
from jugcore.method.compile import parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.stages import Boil, Holding
from jugcore.tests.batches import START, Book

Doc = dict[str, Any]
ENZYME: Doc = {
    "title": "Amylase, ours", "kind": "enzyme", "composition_g_per_100g": {"dextrin": 90, "protein": 10}, "hazards": ["enzyme_dust"],
    "enzyme": {"source": "bacterial", "works_c": {"low": 63, "high": 72}, "dies_c": 85, "ph": {"low": 4.5, "high": 7}, "activity": 500, "activity_unit": "BAU/g", "sheet": "Sheet 7", "dose_g_kg": {"low": 1, "high": 2}},
}  # fmt: skip


def doc(*stages: Doc, **more: Any) -> MethodDocument:
    return parse_document({"name": "Held", "stages": list(stages), **more}).document


def nut_creamer(at_c: float = 60, minutes: float = 40) -> MethodDocument:
    """Steeped at 60 °C, which is above hot holding."""
    return doc(
        {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "milk", "substance": "half_and_half", "amount": "900 g"}, {"id": "nut", "substance": "hazelnut", "amount": "120 g"}]},
        {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": at_c},
        {"id": "steep", "kind": "steep", "vessel": "pot", "where": "hob", "for_min": minutes},
        {"id": "chill", "kind": "cool", "vessel": "pot", "to_c": 5, "how": "fridge"},
    )  # fmt: skip


def cocoa(into_c: float = 68) -> MethodDocument:
    """The enzyme school: simmered, cooled, dosed, held."""
    return doc(
        {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "water", "substance": "water", "amount": "700 g"}, {"id": "cocoa", "substance": "cocoa_powder", "amount": "150 g"}]},
        {"id": "simmer", "kind": "boil", "vessel": "pot", "until": {"minutes": 15}},
        {"id": "down", "kind": "cool", "vessel": "pot", "to_c": into_c, "how": "cold_water"},
        {"id": "dose", "kind": "add", "vessel": "pot", "lines": [{"id": "enzyme", "substance": "amylase", "amount": "0.5 g"}]},
        {"id": "hold", "kind": "hold", "vessel": "pot", "where": "hob", "for_min": 20},
        {"id": "rest", "kind": "add", "vessel": "pot", "lines": [{"id": "sugar", "substance": "white_sugar", "amount": "500 g"}]},
        substances={"amylase": ENZYME},
    )  # fmt: skip


def off(book: Book, stage: str, minute: float) -> Deviation | None:
    return next((each for each in book.sheet(minute).deviations if each.id == f"stage:{stage}"), None)


class Steeping(unittest.TestCase):
    def setUp(self) -> None:
        self.book = Book(nut_creamer())
        self.book.cook_to("steep")
        self.book.enter("began", minute=10, stage="steep")

    def test_as_asked_nothing_is_off(self) -> None:
        self.book.enter("probed", minute=20, stage="steep", temperature_c=60)
        hold = self.book.step("steep", 25).hold
        assert hold is not None
        self.assertEqual((hold.off, hold.off_words, hold.due_at), ("", "", START + timedelta(minutes=50)))
        self.assertAlmostEqual(hold.held_min or 0, 15.0, places=6)
        self.book.enter("done", minute=50, stage="steep")
        self.assertIsNone(off(self.book, "steep", 55))

    def test_without_a_clock_it_goes_to_the_last_entry(self) -> None:
        asked = next(stage for stage in self.book.actual_batch().planned.stages if isinstance(stage, Holding))
        found = held_so_far(self.book.actual_batch(), asked)
        self.assertEqual((found.elapsed_min, found.held_min), (0.0, 0.0))
        self.book.enter("probed", minute=22, stage="steep", temperature_c=60)
        self.assertAlmostEqual(held_so_far(self.book.actual_batch(), asked).elapsed_min or 0, 12.0)

    def test_found_at_49_it_is_warmed_and_never_cooled_first(self) -> None:
        self.book.enter("probed", minute=20, stage="steep", temperature_c=49)
        step = self.book.step("steep", 25)
        assert step.hold is not None
        self.assertEqual((step.hold.off, step.hold.due_at), ("cold", None))
        self.assertIn("warm it to 58 °C or above", step.hold.off_words)
        self.assertEqual(step.faults, [], "what was measured is no fault of the method")
        said = " ".join([step.hold.off_words, step.hold.words, *(fault.remedy for fault in step.faults)])
        self.assertNotIn("Cool it", said)
        found = off(self.book, "steep", 25)
        assert found is not None
        self.assertEqual((found.planned, found.actual, found.unit), (58.0, 49.0, "°C"))
        told = rescue_report(self.book.actual_batch(), "stage:steep", None)
        self.assertEqual(told.suggestions, [])
        self.assertIn("warm it", told.why_not[0])

    def test_only_time_that_is_warm_enough_counts(self) -> None:
        """Ten minutes at 60 °C, a fall to 40 in ten, ten at 40, a rise back in ten: of 50 minutes 10 + 1 + 1 + the last 10 count."""
        for minute, c in ((10, 60), (20, 60), (30, 40), (40, 40), (50, 60)):
            self.book.enter("probed", minute=minute, stage="steep", temperature_c=c)
        hold = self.book.step("steep", 60).hold
        assert hold is not None
        self.assertAlmostEqual(hold.held_min or 0, 10 + 1 + 1 + 10, places=6)
        self.assertEqual(hold.due_at, START + timedelta(minutes=60 + 40 - 22))

    def test_ended_early_it_is_off_plan_and_can_be_held_for_the_rest(self) -> None:
        self.book.enter("done", minute=25, stage="steep")
        hold, found = self.book.step("steep", 26).hold, off(self.book, "steep", 26)
        assert hold is not None and found is not None
        self.assertEqual((hold.off, found.planned, found.unit), ("short", 40.0, "min"))
        self.assertAlmostEqual(found.actual or 0, 15.0)
        told = rescue_report(self.book.actual_batch(), "stage:steep", None)
        self.assertEqual(len(told.suggestions), 1)
        self.assertIn("25 min more", told.suggestions[0].title)
        again = [stage for stage in told.suggestions[0].document.stages if isinstance(stage, Holding)]
        self.assertEqual([stage.for_min for stage in again][-1], 25.0)

    def test_too_cold_to_the_end_it_is_brought_back_and_held_again(self) -> None:
        self.book.enter("probed", minute=12, stage="steep", temperature_c=49)
        self.book.enter("done", minute=50, stage="steep")
        told = rescue_report(self.book.actual_batch(), "stage:steep", None)
        self.assertIn("Bring it to 60 °C and hold it for 40 min more", told.suggestions[0].title)

    def test_left_alone_on_purpose_it_is_not_asked_again(self) -> None:
        self.book.enter("done", minute=25, stage="steep")
        self.book.enter("accepted", minute=27, about="stage:steep", actual=15.0)
        found = off(self.book, "steep", 28)
        assert found is not None
        self.assertEqual(found.dealt, "accepted")

    def test_a_probe_of_the_cooling_after_it_is_no_time_held(self) -> None:
        self.book.enter("done", minute=50, stage="steep")
        self.book.enter("probed", minute=70, stage="chill", temperature_c=30)
        asked = next(stage for stage in self.book.document.stages if isinstance(stage, Holding))
        found = held_so_far(self.book.actual_batch(), asked)
        self.assertEqual((found.off, found.held_min), ("", 40.0))

    def test_before_anything_was_begun_nothing_is_held(self) -> None:
        book = Book(self.book.document)
        asked = next(stage for stage in book.document.stages if isinstance(stage, Holding))
        found = held_so_far(book.actual_batch(), asked)
        self.assertEqual((found.off, found.held_min, found.elapsed_min, found.last_c), ("", None, None, None))


class Enzymes(unittest.TestCase):
    def test_into_84_degrees_it_is_stopped_before_it_is_weighed(self) -> None:
        book = Book(cocoa())
        book.cook_to("down")
        book.enter("probed", minute=20, stage="down", temperature_c=84)
        book.enter("done", minute=20, stage="down")
        stops = book.step("dose", 21).stops
        self.assertEqual(len(stops), 1)
        self.assertIn("84 °C", stops[0])
        self.assertIn("72 °C or below", stops[0])
        book.enter("probed", minute=24, stage="dose", temperature_c=69)
        self.assertEqual(book.step("dose", 25).stops, [])

    def test_a_method_that_doses_too_hot_is_stopped_by_itself(self) -> None:
        book = Book(cocoa(into_c=88))
        book.cook_to("dose")
        self.assertEqual(len(book.step("dose", 5).stops), 1)
        right = Book(cocoa())
        right.cook_to("dose")
        self.assertEqual(right.step("dose", 5).stops, [])

    def test_above_and_below_its_window_are_told_at_once(self) -> None:
        for c, which, words in ((78, "hot", "cool it to 72 °C or below"), (55, "cold", "warm it to 63 °C or above")):
            book = Book(cocoa())
            book.cook_to("hold")
            book.enter("began", minute=30, stage="hold")
            book.enter("probed", minute=31, stage="hold", temperature_c=c)
            hold, found = book.step("hold", 32).hold, off(book, "hold", 32)
            assert hold is not None and found is not None
            self.assertEqual(hold.off, which)
            self.assertIn(words, hold.off_words)
            self.assertTrue(found.beyond)
            if which == "hot":
                self.assertIn("dies", hold.off_words)

    def test_a_simmer_of_fifteen_minutes_does_not_end_by_its_weight(self) -> None:
        book = Book(cocoa())
        book.cook_to("simmer")
        book.enter("began", minute=0, stage="simmer")
        boil = book.step("simmer", 1).boil
        assert boil is not None and boil.due_at is not None
        self.assertEqual(boil.for_min, 15.0)
        book.enter("probed", minute=6, stage="simmer", temperature_c=boil.probe_c)
        book.enter("pot_weighed", minute=8, stage="simmer", reads_g=boil.stop_reads_g - 5)
        after = book.step("simmer", 9)
        assert after.boil is not None
        self.assertEqual(after.boil.due_at, START + timedelta(minutes=6 + 15))
        self.assertIsNone(after.boil.lift_weigh_at)
        self.assertIn("Boil for 15 min", after.title)
        self.assertEqual(after.state, "now")
        stage = next(stage for stage in book.actual_batch().walk.stages if stage.id == "simmer")
        assert isinstance(stage, Boil)
        self.assertEqual(stage.until.kind, "minutes")

    def test_dairy_is_not_bottled_warm(self) -> None:
        def at(cold_c: float) -> list[str]:
            raw = nut_creamer().model_dump(mode="json", exclude_none=True)["stages"]
            fill = {"id": "fill", "kind": "fill", "vessel": "pot", "into": "tubs", "size_ml": 250}
            book = Book(doc(*raw[:3], {"id": "chill", "kind": "cool", "vessel": "pot", "to_c": 20, "how": "cold_water"}, fill))
            book.cook_to("chill")
            book.enter("probed", minute=90, stage="chill", temperature_c=cold_c)
            book.enter("done", minute=90, stage="chill")
            return book.step("fill", 91).stops

        self.assertEqual(len(at(30)), 1)
        self.assertIn("30 °C", at(30)[0])
        self.assertEqual(at(12), [])


if __name__ == "__main__":
    unittest.main()
