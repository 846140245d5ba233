"""What processes keep and do by and by, and words that are searched."""

from __future__ import annotations

import threading
from unittest import TestCase

from jugserver.process.by_and_by import ByAndBy
from jugserver.process.kept import Kept


class Bounded(TestCase):
    def test_the_longest_unused_goes_first(self) -> None:
        kept: Kept[str, int] = Kept(2)
        kept.keep("a", 1)
        kept.keep("b", 2)
        self.assertEqual(kept.get("a"), 1)
        kept.keep("c", 3)
        self.assertEqual((kept.get("a"), kept.get("b"), kept.get("c"), len(kept)), (1, None, 3, 2))


class Beside(TestCase):
    def test_each_is_done_once_and_what_fails_takes_no_other_down(self) -> None:
        beside = ByAndBy(after_s=0.05, share=1.0)
        done: list[str] = []
        gate = threading.Event()

        def fails() -> None:
            raise ValueError("not this one")

        beside.do("slow", lambda: gate.wait(5))
        with self.assertLogs("jugserver.process.by_and_by", "ERROR") as logs:
            for _ in range(10):
                beside.do("a", lambda: done.append("a"))
            beside.do("bad", fails)
            beside.do("b", lambda: done.append("b"))
            gate.set()
            self.assertTrue(beside.settled(10))
        self.assertEqual(done, ["a", "b"])
        self.assertIn("not this one", logs.output[0])
        # What is asked for after it was done is done again.
        beside.do("a", lambda: done.append("a"))
        self.assertTrue(beside.settled(10))
        self.assertEqual(done, ["a", "b", "a"])
