"""Seconds spent in one kind of work, for those who promise to spend little elsewhere."""

from __future__ import annotations

import time


class Stopwatch:
    """Adds up the time spent inside ``with`` blocks; blocks within blocks count once."""

    def __init__(self) -> None:
        self.seconds = 0.0
        self._depth = 0
        self._began = 0.0

    def __enter__(self) -> None:
        if self._depth == 0:
            self._began = time.perf_counter()
        self._depth += 1

    def __exit__(self, *_: object) -> None:
        self._depth -= 1
        if self._depth == 0:
            self.seconds += time.perf_counter() - self._began
