"""Seconds spent in one kind of work, by a clock that is handed in: the core reads none of its own."""

from __future__ import annotations

from collections.abc import Callable

Clock = Callable[[], float]


def no_clock() -> float:
    """Where nobody asked how long it took."""
    return 0.0


class Stopwatch:
    """Adds up the time spent inside ``with`` blocks; blocks within blocks count once."""

    def __init__(self, clock: Clock = no_clock) -> None:
        self.seconds = 0.0
        self._clock = clock
        self._depth = 0
        self._began = 0.0

    def __enter__(self) -> None:
        if self._depth == 0:
            self._began = self._clock()
        self._depth += 1

    def __exit__(self, *_: object) -> None:
        self._depth -= 1
        if self._depth == 0:
            self.seconds += self._clock() - self._began
