"""Whatever is done to a document, it is refused with a sentence or walked to finite numbers; nothing else."""

from __future__ import annotations

import copy
import math
import unittest
import warnings
from collections.abc import Iterable
from typing import Any

import numpy as np

from jugcore.errors import DomainError, SeveralProblems
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugcore.tests.depth import often
from jugcore.tests.random_methods import random_method
from jugcore.tests.test_readings import EXAMPLES, example

ROUNDS = often(2000, daily=700)
#: What a hand, a slip or a script may put in place of anything.
ODD: tuple[Any, ...] = (
    None, True, 0, -1, 1e-12, 1e9, 1e300, -1e300, 64, "", " ", "0", "-5 g", "1e9 g", "all", "as both", "as the water", "twice the lot", "½ tsp",
    "up to 1 g", "99 % of the water", "999999 g per kg finished", "5 g per kg after boil", "10 oz", "cake:strain", "pot", "jug", "water", "∞", "\x00",
    "é" * 300, [], {}, [[]], {"kind": "all"}, {"kind": "per_kg", "grams": 1e5, "of": "finished"}, {"kind": "as_much_as", "lines": ["water"]},
    {"brix": 89.9}, {"minutes": 1440}, {"temperature_c": 149}, {"off_g": 1e6}, {"mass_g": 1e-9},
)  # fmt: skip


def places(value: Any, path: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    """Every place in a document."""
    inner: list[tuple[str | int, ...]] = []
    if isinstance(value, dict):
        inner = [place for key, each in value.items() for place in places(each, (*path, key))]
    elif isinstance(value, list):
        inner = [place for index, each in enumerate(value) for place in places(each, (*path, index))]
    return [path, *inner] if path else inner


def mutated(document: dict[str, Any], rng: np.random.Generator) -> dict[str, Any]:
    """A copy with one or two things made larger or smaller, replaced, removed, doubled or moved."""
    result = copy.deepcopy(document)
    for _ in range(int(rng.integers(1, 3))):
        known = places(result)
        figures = [place for place in known if isinstance(_at(result, place), float | int)]
        gentle = bool(figures) and rng.random() < 0.6
        *way, last = figures[int(rng.integers(len(figures)))] if gentle else known[int(rng.integers(len(known)))]
        holder = _at(result, way)
        deed = int(rng.integers(5))
        if gentle:
            holder[last] = holder[last] * 10 ** rng.uniform(-4, 4)
        elif deed <= 2:
            holder[last] = copy.deepcopy(ODD[int(rng.integers(len(ODD)))])
        elif deed == 3:
            del holder[last]
        elif isinstance(holder, list):
            holder.insert(int(rng.integers(len(holder) + 1)), copy.deepcopy(_at(holder, [last])))
    return result


def _at(document: Any, way: Iterable[str | int]) -> Any:
    here = document
    for step in way:
        here = here[step]
    return here


class Mutated(unittest.TestCase):
    def outcome(self, raw: dict[str, Any]) -> str:
        """Refused or walked; anything else fails the test."""
        try:
            found = walk(parse_document(raw))
        except DomainError as error:
            for each in error.problems if isinstance(error, SeveralProblems) else [error]:
                self.assertTrue(each.field and each.message and each.remedy, each)
            return "refused"
        came, stands = found.came_in_g(), found.stands_g()
        self.assertLessEqual(float(np.abs(came - stands).max()), 1e-9 * max(1.0, float(came.sum())))
        self.assertTrue(np.all(np.isfinite(stands)) and np.all(stands >= 0))
        made = report(found)
        # Not of the JSON: that writes what is no number as null, where the report's type promises a number.
        self.assertEqual(unreal(made.model_dump()), [])
        self.assertTrue(made.model_dump_json())
        return "faulty" if found.faults else "walked"

    def test_nothing_breaks_it(self) -> None:
        rng = np.random.default_rng(20)
        sources = [example(path.stem) for path in sorted(EXAMPLES.glob("*.json"))] + [random_method(seed) for seed in range(30)]
        seen: dict[str, int] = {}
        with warnings.catch_warnings():
            warnings.simplefilter("error")  # an invalid value anywhere is a fault of ours
            for number in range(ROUNDS):
                raw = mutated(sources[number % len(sources)], rng)
                with self.subTest(number=number):
                    kind = self.outcome(raw)
                    seen[kind] = seen.get(kind, 0) + 1
        # All three must happen often, or the mutations say nothing.
        self.assertGreater(min(seen.get(kind, 0) for kind in ("refused", "walked", "faulty")), ROUNDS // 40, seen)


def unreal(value: Any, path: tuple[str | int, ...] = ()) -> list[tuple[str | int, ...]]:
    """Where a number is not finite."""
    if isinstance(value, dict):
        return [place for key, each in value.items() for place in unreal(each, (*path, key))]
    if isinstance(value, list | tuple):
        return [place for index, each in enumerate(value) for place in unreal(each, (*path, index))]
    return [path] if isinstance(value, float) and not math.isfinite(value) else []


if __name__ == "__main__":
    unittest.main()
