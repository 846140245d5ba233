"""The lots that may be in what was made on a day, and their last days."""

from __future__ import annotations

import unittest
from datetime import date, timedelta

from jugcore.keeping.lots import Lot, lot_dates
from jugcore.matter.library import library

MADE = date(2026, 3, 2)
MILK = library()["whole_milk"].opened


def lot(code: str, **more: date) -> Lot:
    return Lot("whole_milk", "Whole milk", code, MILK, **more)


def day(days: int) -> date:
    return MADE + timedelta(days=days)


class LotDates(unittest.TestCase):
    def test_of_open_ones_and_shut_ones_the_open_ones_count(self) -> None:
        """Common practice, no source."""
        found = lot_dates([lot("A", best_before=day(9)), lot("B", opened_on=day(-1), best_before=day(20))], MADE)
        self.assertEqual([each.title[:18] for each in found], ["Whole milk, lot B:"])
        self.assertLess(found[0].day, day(20), "what it keeps once open comes first")

    def test_none_open_all_that_were_there_count(self) -> None:
        there = [lot("A", best_before=day(9)), lot("B", best_before=day(5), received_on=day(-3))]
        gone = [lot("C", best_before=day(2), used_up_on=day(-1)), lot("D", best_before=day(1), received_on=day(1))]
        self.assertEqual(sorted(each.day for each in lot_dates(there + gone, MADE)), [day(5), day(9)])
        self.assertEqual(len(lot_dates([lot("E", best_before=day(3), used_up_on=MADE)], MADE)), 1, "used up on that very day it may be in it")
        self.assertEqual(len(lot_dates([lot("F", best_before=day(3), received_on=MADE)], MADE)), 1, "and so may what came that day")

    def test_one_past_its_date_was_left_alone_if_there_was_another(self) -> None:
        late, good = lot("A", best_before=day(-2)), lot("B", best_before=day(4))
        self.assertEqual([each.day for each in lot_dates([late, good], MADE)], [day(4)])
        self.assertEqual([each.day for each in lot_dates([late], MADE)], [day(-2)], "the only one counts, past its date or not")

    def test_of_each_ingredient_by_itself(self) -> None:
        cream = Lot("cream", "Cream", "X", None, best_before=day(1))
        self.assertEqual(len(lot_dates([cream, lot("A", opened_on=MADE)], MADE)), 2)
        self.assertEqual(lot_dates([Lot("sugar", "Sugar", "S")], MADE), [])
