"""A backup a day: once, whole, tried again after a failure, and the oldest taken away."""

from __future__ import annotations

import contextlib
import io
import os
import tempfile
import unittest
from datetime import date, timedelta
from pathlib import Path
from unittest import mock

from jugtool.daily import KEPT_DAYS, Daily
from jugtool.places import SHOP
from jugtool.say import Failed


class Backups(unittest.TestCase):
    def setUp(self) -> None:
        scratch = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(mock.patch.dict(os.environ, {"OAKENJUG_DATA": scratch}))
        self.day, self.now = date(2026, 3, 2), 0.0
        self.written: list[str] = []
        self.fails = False
        self.daily = Daily(SHOP, self.write, lambda: self.day, lambda: self.now)

    def write(self, target: Path) -> None:
        self.written.append(target.name)
        if self.fails:
            raise Failed("Backing up", "the disk is full", "make room.")
        target.write_text("x", encoding="ascii")

    def look(self) -> None:
        self.daily.look()
        self.daily.wait()

    def test_one_a_day_and_so_many_kept(self) -> None:
        (SHOP.home / "backups").mkdir(parents=True)
        by_hand = SHOP.home / "backups" / "before-the-move.backup"
        by_hand.write_text("x", encoding="ascii")
        for _ in range(KEPT_DAYS + 6):
            self.look()
            self.look()
            self.day += timedelta(days=1)
        self.assertEqual(len(self.written), KEPT_DAYS + 6)
        kept = sorted(path.name for path in self.daily.home.glob("2026-*.backup"))
        self.assertEqual((len(kept), kept[-1]), (KEPT_DAYS, self.written[-1]))
        self.assertTrue(by_hand.exists(), "what somebody put there is not taken away")

    def test_one_that_fails_is_said_and_tried_again_after_an_hour(self) -> None:
        self.fails = True
        with contextlib.redirect_stderr(io.StringIO()) as said:
            self.look()
            self.look()
            self.assertEqual(len(self.written), 1)
            self.assertIn("the disk is full", said.getvalue())
            self.now += 3601
            self.look()
        self.assertEqual(len(self.written), 2)
        self.fails, self.now = False, self.now + 3601
        self.look()
        self.assertEqual([path.name for path in self.daily.home.iterdir()], ["2026-03-02.backup"])


if __name__ == "__main__":
    unittest.main()
