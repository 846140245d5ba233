"""Recalls: a lot to every batch it is in or may be in, worked by hand; and that none is ever left out."""

from __future__ import annotations

import random
import unittest
from datetime import date, timedelta

from jugcore.stock.lots_offered import LotThere, offered_lots
from jugcore.stock.recall import LotTimes, Reached, TakenFrom, WentIn, reached, same_code, sources, weighed_by_lot

DAY = date(2026, 10, 5)


def went(batch: str, lot: str, on: date = DAY, ingredient: str = "milk", grams: float = 100.0) -> WentIn:
    return WentIn(batch, ingredient, lot, grams, on)


class Reaches(unittest.TestCase):
    def test_weighed_of_it_not_said_and_another_lot(self) -> None:
        rows = [went("a", "M 1"), went("b", "M2"), went("c", ""), went("d", "m-1"), went("e", "M1", ingredient="sugar")]
        found = reached("milk", "M1", LotTimes(), rows, [])
        self.assertEqual(
            [(each.batch, each.sure, each.how) for each in found], [("a", True, "weighed"), ("d", True, "weighed"), ("c", False, "not said")]
        )

    def test_a_lot_nobody_noted_only_while_it_was_there(self) -> None:
        rows = [went(name, "", DAY + timedelta(days=days)) for name, days in (("before", -1), ("first", 0), ("last", 4), ("after", 5))]
        found = reached("milk", "M1", LotTimes(DAY, DAY + timedelta(days=4)), rows, [])
        self.assertEqual([each.batch for each in found], ["first", "last"])
        self.assertEqual(len(reached("milk", "M1", LotTimes(), rows, [])), 4)

    def test_through_what_was_made_with_it(self) -> None:
        """Syrup a into cream b into foam c: all are sure. Syrup m only may hold it, and d with it; b was made with m too, and stays sure."""
        taken = [TakenFrom("a", "b", 200), TakenFrom("b", "c", 50), TakenFrom("m", "b", 10), TakenFrom("m", "d", 30)]
        found = {each.batch: each for each in reached("milk", "M1", LotTimes(), [went("a", "M1"), went("m", "")], taken)}
        self.assertEqual({name: (each.sure, each.how, each.via) for name, each in found.items()}, {
            "a": (True, "weighed", ""), "b": (True, "made with", "a"), "c": (True, "made with", "b"),
            "m": (False, "not said", ""), "d": (False, "made with", "m"),
        })  # fmt: skip

    def test_weighed_twice_is_one_batch_and_both_count(self) -> None:
        self.assertEqual(reached("milk", "M1", LotTimes(), [went("a", "M1"), went("a", "M1")], []), [Reached("a", True, "weighed", 200.0)])

    def test_back(self) -> None:
        taken = [TakenFrom("a", "b", 200), TakenFrom("b", "c", 50), TakenFrom("a", "c", 10), TakenFrom("x", "y", 1)]
        self.assertEqual(sources("c", taken), ["c", "b", "a"])

    def test_there_and_back_on_random_kitchens(self) -> None:
        """A batch is sure exactly where the way back from it leads to one that the lot was weighed into."""
        for seed in range(200):
            draw = random.Random(seed)
            names = [f"b{n}" for n in range(12)]
            rows = [went(name, draw.choice(["M1", "M2", ""])) for name in names if draw.random() < 0.4]
            taken = [TakenFrom(names[i], names[j], 10.0) for i in range(12) for j in range(i + 1, 12) if draw.random() < 0.12]
            found = {each.batch: each.sure for each in reached("milk", "M1", LotTimes(), rows, taken)}
            weighed = {row.batch for row in rows if row.lot == "M1"}
            maybe = {row.batch for row in rows if not row.lot}
            for name in names:
                way = set(sources(name, taken))
                expected = True if way & weighed else False if way & maybe else None
                self.assertEqual(found.get(name), expected, (seed, name))


class Offered(unittest.TestCase):
    def test_the_one_that_stands_open_is_chosen_and_none_where_two_do(self) -> None:
        new, old = LotThere("NEW", False, date(2027, 1, 1)), LotThere("OLD", True, date(2026, 12, 1))
        other, undated = LotThere("OTHER", True, date(2026, 11, 1)), LotThere("UNDATED", False, None)
        alone = offered_lots([undated, new, old], "")
        self.assertEqual([(each.lot.code, each.chosen) for each in alone], [("OLD", True), ("NEW", False), ("UNDATED", False)])
        two = offered_lots([new, other, old], "old")
        self.assertEqual([(each.lot.code, each.last_used, each.chosen) for each in two],
                         [("OLD", True, False), ("OTHER", False, False), ("NEW", False, False)])  # fmt: skip
        self.assertEqual([each.chosen for each in offered_lots([new, undated], "")], [False, False])


class Lots(unittest.TestCase):
    def test_a_code_is_its_letters_and_figures(self) -> None:
        for one, other, same in (
            ("LP-012", "lp 012", True), ("LP/012", "LP012", True), ("LP-012", "LP-0121", False), ("Ä 7", "ä7", True), ("—", "—", True), ("—", "…", False),
        ):  # fmt: skip
            self.assertEqual(same_code(one, other), same, (one, other))

    def test_what_no_lot_was_said_of_is_left_under_none(self) -> None:
        self.assertEqual(weighed_by_lot({}, 430.0), [("", 430.0)])
        self.assertEqual(weighed_by_lot({"A": 300.0}, 430.0), [("A", 300.0), ("", 130.0)])
        self.assertEqual(weighed_by_lot({"A": 429.5}, 430.0), [("A", 429.5)])
        self.assertEqual(weighed_by_lot({"A": 500.0}, 430.0), [("A", 500.0)])


if __name__ == "__main__":
    unittest.main()
