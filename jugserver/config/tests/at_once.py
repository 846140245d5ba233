"""The same thing done by several at the same moment, for tests."""

from __future__ import annotations

from collections.abc import Callable
from threading import Barrier, Thread
from typing import TypeVar

from django.db import connections

_T = TypeVar("_T")


def at_once(hands: int, do: Callable[[], _T]) -> list[_T | BaseException]:
    """What came of it for each, or what it raised; each has a connection of its own."""
    gate = Barrier(hands)
    came: list[_T | BaseException] = []

    def run() -> None:
        try:
            gate.wait()
            came.append(do())
        except BaseException as error:  # told to the test
            came.append(error)
        finally:
            connections.close_all()

    threads = [Thread(target=run) for _ in range(hands)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return came
