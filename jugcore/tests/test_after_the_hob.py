"""After the heat: the cooling log with its two marks, and days that wait in the freezer."""

from __future__ import annotations

import unittest
from datetime import date, timedelta
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.sheet.cooling_log import cooling_log
from jugcore.batch.sheet.freezer import frozen_spans
from jugcore.batch.sheet.schema import CoolingLog
from jugcore.keeping.days import Frozen, paused, use_by
from jugcore.method.document import MethodDocument
from jugcore.tests.batches import START, Book

_DAYS = st.integers(0, 30)


def creamer(**changes: Any) -> MethodDocument:
    """Hot dairy, cooled in water and then in the fridge: held by time and temperature."""
    raw = {
        "name": "Creamer",
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "milk", "substance": "half_and_half", "amount": "900 g"}]},
            {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 75},
            {"id": "bath", "kind": "cool", "vessel": "pot", "to_c": 20, "how": "cold_water"},
            {"id": "chill", "kind": "cool", "vessel": "pot", "to_c": 5, "how": "fridge"},
        ],
        "kitchen": {"holding_c": 5},
        **changes,
    }  # fmt: skip
    return MethodDocument.model_validate(raw)


class Log(unittest.TestCase):
    def setUp(self) -> None:
        self.book = Book(creamer())
        for stage in ("in", "warm"):
            self.book.enter("done", minute=0, stage=stage)

    def _log(self) -> CoolingLog:
        found = cooling_log(self.book.actual_batch())
        assert found is not None
        return found

    def _states(self) -> list[str]:
        return [mark.state for mark in self._log().marks]

    def test_the_clock_starts_with_the_cooling_and_runs_over_both_stages(self) -> None:
        self.assertIsNone(cooling_log(self.book.actual_batch()))
        self.book.enter("began", minute=10, stage="bath")
        found = self._log()
        self.assertEqual(
            [(mark.at_most_c, mark.by) for mark in found.marks], [(21.0, START + timedelta(minutes=130)), (5.0, START + timedelta(minutes=370))]
        )
        self.book.enter("probed", minute=60, stage="bath", temperature_c=20)
        self.book.enter("done", minute=61, stage="bath")
        self.assertEqual((self._states(), self._log().stage, self._log().open), (["met", "open"], "chill", True))
        self.book.enter("probed", minute=200, stage="chill", temperature_c=4.6)
        self.assertEqual((self._states(), self._log().open), (["met", "met"], False))

    def test_too_late_is_told_from_not_shown(self) -> None:
        self.book.enter("began", minute=10, stage="bath")
        self.book.enter("probed", minute=140, stage="bath", temperature_c=25)
        self.assertEqual(self._states(), ["missed", "open"])
        self.assertIn("74 °C", self._log().marks[0].words)
        self.book.enter("probed", minute=150, stage="bath", temperature_c=20)
        self.assertEqual(self._states()[0], "missed")
        other = Book(creamer())
        other.enter("began", minute=10, stage="bath")
        other.enter("probed", minute=140, stage="bath", temperature_c=19)
        found = cooling_log(other.actual_batch())
        assert found is not None
        self.assertEqual(found.marks[0].state, "late")

    def test_it_goes_on_after_the_batch_is_finished(self) -> None:
        self.book.enter("began", minute=10, stage="bath")
        self.book.enter("closed", minute=30, outcome="finished")
        self.book.enter("probed", minute=60, stage="chill", temperature_c=4)
        self.assertEqual(self._states(), ["met", "met"])

    def test_what_is_filled_hot_cools_from_the_end(self) -> None:
        raw = creamer().model_dump(mode="json")["stages"][:2]
        book = Book(creamer(stages=raw))
        book.enter("done", minute=0, stage="in")
        book.enter("done", minute=20, stage="warm")
        self.assertIsNone(cooling_log(book.actual_batch()))
        book.enter("closed", minute=25, outcome="finished")
        found = cooling_log(book.actual_batch())
        assert found is not None
        self.assertEqual((found.began, found.stage), (START + timedelta(minutes=20), "warm"))

    def test_the_first_probe_starts_the_clock_as_well_as_the_press(self) -> None:
        self.book.enter("probed", minute=14, stage="bath", temperature_c=55)
        self.assertEqual(self._log().began, START + timedelta(minutes=14))
        self.book.enter("began", minute=30, stage="bath")
        self.assertEqual(self._log().began, START + timedelta(minutes=14), "the first sign counts")

    def test_a_cooling_that_was_passed_over_is_counted_from_when_it_was_last_hot(self) -> None:
        self.book.enter("closed", minute=30, outcome="finished")
        self.assertEqual((self._log().began, self._log().open), (START, True))

    def test_it_cannot_vanish(self) -> None:
        """Neither by a probe that says it was never hot, nor by what makes it look like something that needs no cold."""
        self.book.enter("probed", minute=1, stage="warm", temperature_c=40)
        self.book.enter("began", minute=10, stage="bath")
        self.assertTrue(self._log().open)
        self.book.enter("swapped", minute=11, line="milk", substance="white_sugar")
        self.assertTrue(self._log().open)
        for minute, stage in ((12, "bath"), (13, "chill")):
            self.book.enter("done", minute=minute, stage=stage)
        self.book.enter("closed", minute=14, outcome="finished")
        self.assertTrue(self._log().open)

    def test_a_probe_that_belongs_to_an_earlier_stage_takes_nothing_away(self) -> None:
        """Entered at the bath when it stands in the fridge already: colder than any bath, and no reason to call it hot."""
        self.book.enter("began", minute=10, stage="bath")
        self.book.enter("probed", minute=60, stage="bath", temperature_c=20)
        for minute, stage in ((61, "bath"), (62, "chill")):
            self.book.enter("done", minute=minute, stage=stage)
        self.book.enter("closed", minute=63)
        self.book.enter("probed", minute=200, stage="bath", temperature_c=4.1)
        self.assertEqual((self._states(), self._log().stages), (["met", "met"], ["bath", "chill"]))
        walked = self.book.actual_batch().walk
        self.assertLess(float(walked.product.warmth_c[0]), 6.0)

    def test_it_stays_open_until_both_marks_are_met_or_somebody_says_why_not(self) -> None:
        self.book.enter("began", minute=10, stage="bath")
        self.book.enter("probed", minute=140, stage="bath", temperature_c=25)
        self.book.enter("probed", minute=300, stage="chill", temperature_c=4)
        self.assertEqual((self._states(), self._log().open), (["missed", "met"], True))
        self.book.enter("accepted", minute=301, about="cooling", actual=4, title="Cooling", why="Thrown away.")
        self.assertEqual((self._log().open, self._log().why), (False, "Thrown away."))

    def test_a_stopped_batch_waits_for_no_mark(self) -> None:
        self.book.enter("began", minute=10, stage="bath")
        self.book.enter("closed", minute=14, outcome="stopped", reason="burnt")
        self.assertFalse(self._log().open)

    def test_a_hold_that_is_hot_does_not_start_the_clock(self) -> None:
        """Cooled from the boil to 68 °C and held there: it cools once it leaves that."""
        raw = creamer().model_dump(mode="json", exclude_none=True)["stages"]
        down = {"id": "down", "kind": "cool", "vessel": "pot", "to_c": 68, "how": "cold_water"}
        hold = {"id": "hold", "kind": "hold", "vessel": "pot", "where": "hob", "for_min": 20}
        book = Book(creamer(stages=[raw[0], {**raw[1], "to_c": 95}, down, hold, *raw[2:]]))
        book.cook_to("down")
        book.enter("began", minute=5, stage="down")
        book.enter("probed", minute=9, stage="down", temperature_c=68)
        book.enter("done", minute=9, stage="down")
        book.enter("began", minute=10, stage="hold")
        self.assertIsNone(cooling_log(book.actual_batch()))
        book.enter("done", minute=30, stage="hold")
        book.enter("began", minute=31, stage="bath")
        found = cooling_log(book.actual_batch())
        assert found is not None
        self.assertEqual((found.began, found.stages), (START + timedelta(minutes=31), ["bath", "chill"]))

    def test_dairy_that_was_only_warmed_and_bottled_at_30_is_logged_too(self) -> None:
        raw = creamer().model_dump(mode="json", exclude_none=True)["stages"]
        fill = {"id": "fill", "kind": "fill", "vessel": "pot", "into": "tubs", "size_ml": 250}
        book = Book(creamer(stages=[raw[0], {**raw[1], "to_c": 30}, fill]))
        book.enter("weighed", minute=2, line="milk", reads_g=900)
        for minute, stage in ((3, "in"), (12, "warm"), (20, "fill")):
            book.enter("done", minute=minute, stage=stage)
        found = cooling_log(book.actual_batch())
        assert found is not None
        self.assertFalse(found.hot)
        self.assertEqual([(mark.at_most_c, mark.by) for mark in found.marks], [(5.0, START + timedelta(minutes=2 + 240))])
        self.assertTrue(found.open)
        cold = Book(creamer(stages=[raw[0], fill]))
        cold.cook_to("fill")
        self.assertIsNone(cooling_log(cold.actual_batch()))

    def test_a_syrup_that_need_not_be_held_cold_has_no_log(self) -> None:
        stages = [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [
                {"id": "s", "substance": "white_sugar", "amount": "800 g"}, {"id": "w", "substance": "water", "amount": "300 g"}]},
            {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 95},
            {"id": "bath", "kind": "cool", "vessel": "pot", "to_c": 20, "how": "air"},
        ]  # fmt: skip
        book = Book(creamer(stages=stages))
        book.enter("began", minute=10, stage="bath")
        self.assertIsNone(cooling_log(book.actual_batch()))


class Freezer(unittest.TestCase):
    def _batch(self, *moves: tuple[int, str]) -> ActualBatch:
        book = Book(creamer())
        for minute, kind in moves:
            book.enter(kind, minute=minute)
        return book.actual_batch()

    def test_times_in_the_freezer(self) -> None:
        spans = frozen_spans(self._batch((10, "frozen"), (12, "frozen"), (50, "thawed"), (55, "thawed"), (90, "frozen")).record)
        self.assertEqual([(span.since, span.until) for span in spans], [
            (START + timedelta(minutes=10), START + timedelta(minutes=50)), (START + timedelta(minutes=90), None)])  # fmt: skip

    def test_worked_example(self) -> None:
        """Made Monday, seven days: Sunday. In the freezer on Tuesday (day two), out the Monday after (day three): Friday is day seven."""
        monday = date(2026, 3, 2)
        found = paused(use_by(monday, 7), [Frozen(date(2026, 3, 3), date(2026, 3, 9))])
        self.assertEqual(found.day, date(2026, 3, 13))
        inside = paused(use_by(monday, 7), [Frozen(date(2026, 3, 3), None)])
        self.assertEqual((inside.day, inside.left), (None, 5))

    @settings(max_examples=200, derandomize=True, deadline=None)
    @given(life=st.integers(1, 14), waits=_DAYS, stays=_DAYS)
    def test_freezing_never_resets_and_never_shortens(self, life: int, waits: int, stays: int) -> None:
        """Property: used days before and after together are never more than the days there were, and never fewer."""
        made = date(2026, 3, 2)
        last = use_by(made, life)
        since = made + timedelta(days=waits)
        found = paused(last, [Frozen(since, since + timedelta(days=stays))])
        if since > last:
            self.assertTrue(found.too_late)
            return
        assert found.day is not None
        self.assertGreaterEqual(found.day, last)
        frozen_whole = max(stays - 1, 0)
        self.assertEqual((found.day - made).days + 1 - frozen_whole, life)
        inside = paused(last, [Frozen(since, None)])
        self.assertEqual(inside.left, (last - since).days)

    def test_twice_frozen_pauses_twice(self) -> None:
        spans = [Frozen(date(2026, 3, 10), date(2026, 3, 20)), Frozen(date(2026, 3, 3), date(2026, 3, 9))]
        self.assertEqual(paused(date(2026, 3, 8), spans).day, date(2026, 3, 22))


if __name__ == "__main__":
    unittest.main()
