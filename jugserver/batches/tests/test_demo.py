"""The demo's forty batches: believable, and the same wherever they are loaded."""

from __future__ import annotations

from collections import Counter
from datetime import UTC, datetime, timedelta

from django.test import TestCase

from jugserver.accounts.models import Site
from jugserver.batches.lists import page_of
from jugserver.batches.models import Batch, LogEntry
from jugserver.demo.load import load, load_batches


class DemoBatches(TestCase):
    @classmethod
    def setUpTestData(cls) -> None:
        load()
        cls.now = datetime(2026, 3, 2, 12, tzinfo=UTC)
        load_batches(cls.now)
        load_batches(cls.now)  # a second start loads nothing twice
        cls.cards = page_of(Site.objects.get()).items

    def test_forty_batches_of_nine_weeks(self) -> None:
        self.assertEqual(len(self.cards), 40)
        first, last = min(c.started_at for c in self.cards), max(c.started_at for c in self.cards)
        self.assertTrue(timedelta(days=55) < last - first < timedelta(days=63), last - first)
        self.assertLess(last, self.now)
        self.assertEqual(sorted(c.number for c in self.cards), list(range(1, 41)))

    def test_most_go_well_and_some_do_not(self) -> None:
        by_status = Counter(c.status for c in self.cards)
        self.assertEqual((by_status["finished"], by_status["stopped"]), (39, 1))
        off = sum(c.off_plan > 0 for c in self.cards)
        self.assertTrue(3 <= off <= 20, off)
        self.assertEqual(sum(c.questions for c in self.cards), 0)
        kinds = Counter(LogEntry.objects.values_list("kind", flat=True))
        self.assertTrue(kinds["put_right"] >= 2 and kinds["wasted"] >= 1 and kinds["noted"] >= 4, kinds)

    def test_yields_scatter_below_what_the_walk_promises_and_not_far(self) -> None:
        filled = [c for c in self.cards if c.status == "finished" and c.yield_measured]
        self.assertGreater(len(filled), 20)
        shares = sorted(c.yield_g / c.planned_yield_g for c in filled)
        middle = shares[len(shares) // 2]
        self.assertTrue(0.97 < middle < 1.0, middle)
        self.assertTrue(shares[0] > 0.8 and shares[-1] < 1.06, (shares[0], shares[-1]))

    def test_every_log_is_numbered_without_a_gap(self) -> None:
        for batch in Batch.objects.all():
            self.assertEqual(list(batch.entries.values_list("seq", flat=True)), list(range(1, batch.last_seq + 1)))
