"""How quick this machine is at this moment, for tests that promise a time.

A promise is of a machine of a kitchen's own, two cores of an ordinary computer. A shared machine is at times half as quick
with nothing else to be seen at work; there the same code takes twice as long, and that is no fault of it.
"""

from __future__ import annotations

import os
import subprocess
import sys
import time
from collections.abc import Callable
from statistics import median

#: What the piece of work below takes on the machine that promises are of. [s]
USUAL_S = 0.045
_TRIES = 5


def _work() -> int:
    total = 0
    for n in range(300_000):
        total += n * n % 7
    return total


def slowness(clock: Callable[[], float] = time.perf_counter) -> float:
    """How many times as long as on the machine of the promise plain work takes here and now: 1 or more, by the quickest of a few tries."""
    best = float("inf")
    for _ in range(_TRIES):
        began = clock()
        _work()
        best = min(best, clock() - began)
    return max(best / USUAL_S, 1.0)


def slowness_of_all_cores() -> float:
    """The same while every core works: what a test goes by whose work keeps them all busy. 1 or more.

    A shared machine lends its cores for a moment; one that works alone is often quicker than two at once.
    """
    command = [sys.executable, "-m", "jugtool.testing.speed"]
    working = [subprocess.Popen(command, stdout=subprocess.PIPE, text=True) for _ in range(os.cpu_count() or 1)]
    return max(float(process.communicate(timeout=120)[0]) for process in working)


def _usual_slowness() -> float:
    """How many times as long as usual the middle one of a dozen pieces of work takes."""
    spent = []
    for _ in range(3 * _TRIES):
        began = time.perf_counter()
        _work()
        spent.append(time.perf_counter() - began)
    return max(median(spent) / USUAL_S, 1.0)


if __name__ == "__main__":
    print(_usual_slowness())
