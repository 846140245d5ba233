"""After the heat: the cooling log with its two marks, and days that wait in the freezer."""

from __future__ import annotations

import unittest
from datetime import date, timedelta
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.cooling import cooling_log
from jugcore.batch.freezer import frozen_spans
from jugcore.batch.shapes import CoolingLog
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
        found = cooling_log(self.book.as_it_is())
        assert found is not None
        return found

    def _states(self) -> list[str]:
        return [mark.state for mark in self._log().marks]

    def test_the_clock_starts_with_the_cooling_and_runs_over_both_stages(self) -> None:
        self.assertIsNone(cooling_log(self.book.as_it_is()))
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
        found = cooling_log(other.as_it_is())
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
        self.assertIsNone(cooling_log(book.as_it_is()))
        book.enter("closed", minute=25, outcome="finished")
        found = cooling_log(book.as_it_is())
        assert found is not None
        self.assertEqual((found.began, found.stage), (START + timedelta(minutes=20), "warm"))

    def test_a_syrup_that_need_not_be_held_cold_has_no_log(self) -> None:
        stages = [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [
                {"id": "s", "substance": "white_sugar", "amount": "800 g"}, {"id": "w", "substance": "water", "amount": "300 g"}]},
            {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 95},
            {"id": "bath", "kind": "cool", "vessel": "pot", "to_c": 20, "how": "air"},
        ]  # fmt: skip
        book = Book(creamer(stages=stages))
        book.enter("began", minute=10, stage="bath")
        self.assertIsNone(cooling_log(book.as_it_is()))


class Freezer(unittest.TestCase):
    def _batch(self, *moves: tuple[int, str]) -> AsItIs:
        book = Book(creamer())
        for minute, kind in moves:
            book.enter(kind, minute=minute)
        return book.as_it_is()

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
