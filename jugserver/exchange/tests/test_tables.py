"""CSV cells: nothing a spreadsheet would run, and nothing lost."""

from __future__ import annotations

import csv
from datetime import UTC, datetime
from io import StringIO

from django.test import SimpleTestCase

from jugserver.exchange.tables import cell, csv_text


class Tables(SimpleTestCase):
    def test_what_would_be_a_formula_is_text(self) -> None:
        for text in ("=1+1", "+49 30", "-2", "@SUM(A1)", "\t=1", " =1", "\r=1", "  @x", "=cmd|' /C calc'!A0"):
            with self.subTest(text=text):
                self.assertTrue(cell(text).startswith("'"))
                self.assertEqual(cell(text)[1:], text)

    def test_numbers_times_and_nothing(self) -> None:
        self.assertEqual([cell(v) for v in (-2.5, 0, 1e6, None, True, False, datetime(2026, 3, 2, 6, 5, tzinfo=UTC))],
                         ["-2.5", "0", "1000000", "", "yes", "", "2026-03-02T06:05:00+00:00"])  # fmt: skip
        self.assertEqual(cell("a = b"), "a = b")

    def test_it_reads_back_as_it_was(self) -> None:
        rows = [["one, two", 'a "quoted" word', "two\nlines", "Ottílie"], ["=1", "", "x", "y"]]
        text = csv_text(["a", "b", "c", "d"], rows)
        back = list(csv.reader(StringIO(text.removeprefix("\ufeff"))))
        self.assertEqual(back[1], rows[0])
        self.assertEqual(back[2], ["'=1", "", "x", "y"])
