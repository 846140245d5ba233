"""What the core said before it says again, in words as in figures."""

from __future__ import annotations

import json
import math
import os
import subprocess
import sys
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jugcore.tests.recorded.__main__ import FOLDER
from jugcore.tests.recorded.cases import CASES

ROOT = Path(__file__).resolve().parents[2]


def differences(was: Any, now: Any, at: str = "") -> Iterator[str]:
    """Where two answers differ; figures may by a millionth, as libraries do from one machine to the next."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key in was.keys() | now.keys():
            if key not in was or key not in now:
                yield f"{at}.{key}: {'new' if key in now else 'gone'}"
            else:
                yield from differences(was[key], now[key], f"{at}.{key}")
    elif isinstance(was, list) and isinstance(now, list):
        if len(was) != len(now):
            yield f"{at}: {len(was)} before, {len(now)} now"
        for n, (one, other) in enumerate(zip(was, now, strict=False)):
            yield from differences(one, other, f"{at}[{n}]")
    elif isinstance(was, int | float) and isinstance(now, int | float) and not isinstance(was, bool):
        if not (math.isnan(was) and math.isnan(now)) and not math.isclose(was, now, rel_tol=1e-6, abs_tol=1e-6):
            yield f"{at}: {was!r} before, {now!r} now"
    elif was != now:
        yield f"{at}: {was!r} before, {now!r} now"


class Recorded(unittest.TestCase):
    def test_every_answer_is_written_down(self) -> None:
        self.assertEqual({path.stem for path in FOLDER.glob("*.json")}, set(CASES))

    def test_every_process_says_it_in_the_same_order(self) -> None:
        """What goes through a set is in another order in each process."""
        say = "import json; from jugcore.tests.recorded.logs import rescues; print(json.dumps(rescues()))"
        told = {
            subprocess.run(
                [sys.executable, "-c", say], capture_output=True, text=True, check=True, cwd=ROOT, env={**os.environ, "PYTHONHASHSEED": seed}
            ).stdout
            for seed in ("0", "1")
        }
        self.assertEqual(len(told), 1)

    def test_it_would_notice(self) -> None:
        was = {"a": [1.0, {"b": "word"}], "c": None}
        self.assertEqual(list(differences(was, {"a": [1.0 + 1e-9, {"b": "word"}], "c": None})), [])
        for now in (
            {"a": [1.1, {"b": "word"}], "c": None},
            {"a": [1.0, {"b": "ward"}], "c": None},
            {"a": [1.0], "c": None},
            {"a": was["a"]},
            {**was, "c": 0},
        ):
            self.assertTrue(list(differences(was, now)), now)


def _of(name: str) -> Any:
    def test(self: unittest.TestCase) -> None:
        now = json.loads(json.dumps(CASES[name]()))
        found = list(differences(json.loads((FOLDER / f"{name}.json").read_text(encoding="utf-8")), now))
        self.assertEqual(found[:8], [], f"{len(found)} differences; if they are meant: python -m jugcore.tests.recorded")

    return test


for _name in CASES:
    setattr(Recorded, f"test_{_name.replace('-', '_')}", _of(_name))


if __name__ == "__main__":
    unittest.main()
