"""How many of the seeds a run goes through: those chosen for every day, or with ``./jug test --deep`` all of them.

``bench/seeds.py`` chooses: as few as it takes to run every line and branch that all of them run, and to meet every stage,
every form of amount, every reading aimed at and every outcome that they meet, filled up with the most unlike.
"""

from __future__ import annotations

import json
import os
import unittest
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

DEEP = os.environ.get("OAKENJUG_DEEP") == "1"
CHOSEN = Path(__file__).parent / "data" / "chosen_seeds.json"
#: Of random methods: so many are solved for targets, and so many of these walked through every invariant.
METHODS, WALKED = 1170, 500
#: So many values are typed over readings of random methods.
TYPED, TYPED_DAILY = 200, 8


def chosen(name: str) -> list[int]:
    """Seeds for every day: “methods”, or “typed” of those whose readings are typed over."""
    found: list[int] = json.loads(CHOSEN.read_text(encoding="utf-8"))[name]
    return found


def unsolved() -> frozenset[int]:
    """Seeds of methods whose targets were not met when the seeds were chosen."""
    return frozenset(json.loads(CHOSEN.read_text(encoding="utf-8"))["unsolved"])


def few_ways() -> frozenset[int]:
    """Seeds of typed values to which there were fewer than two ways when the seeds were chosen."""
    return frozenset(json.loads(CHOSEN.read_text(encoding="utf-8"))["few_ways"])


def methods(upto: int = METHODS) -> list[int]:
    """Seeds of random methods for this run."""
    return list(range(upto)) if DEEP else chosen("methods")


def typed() -> list[int]:
    """Seeds of methods whose readings are typed over in this run; each takes a second or two."""
    return chosen("all_typed") if DEEP else chosen("typed")[:TYPED_DAILY]


def often(deep: int, *, daily: int) -> int:
    """How many rounds of something that has no seeds to choose from."""
    return deep if DEEP else daily


def in_parts(case: type[unittest.TestCase], name: str, seeds: Sequence[int], at_most: int, check: Callable[[Any, list[int]], None]) -> None:
    """Give a test case a test for each few of the seeds, so that processes can share them and the quick ones can be asked first.

    ``check`` is called with the test case and the seeds of its part.
    """
    parts = max(1, -(-len(seeds) // at_most))
    for part in range(parts):

        def test(self: unittest.TestCase, mine: list[int] = list(seeds[part::parts])) -> None:  # noqa: B006
            check(self, mine)

        setattr(case, f"test_{name}_{part + 1:02d}_of_{parts:02d}", test)
