"""Which tests run which lines of the core, and how long each takes: measured once, then asked.

A fault can be noticed only by a test that runs its line. Asking those alone, the quick ones
first, makes a sample of hundreds a matter of an hour.
"""

from __future__ import annotations

import hashlib
import json
import os
import sys
import tempfile
import time
import unittest
from pathlib import Path

import coverage

from bench.mutants.faults import CORE, ROOT

_KEPT = Path(tempfile.gettempdir()) / f"oakenjug-reach-{os.getuid()}.json"


class Reach:
    """Tests by the line they run, and their seconds."""

    def __init__(self, lines: dict[str, dict[str, list[str]]], seconds: dict[str, float]) -> None:
        self._lines, self._seconds = lines, seconds

    def tests(self, file: str, lines: range) -> list[str]:
        """The tests that run any of the lines, quickest first; every test where the line runs on import."""
        found = {test for line in lines for test in self._lines.get(file, {}).get(str(line), [])}
        if "" in found:
            found = set(self._seconds)
        return sorted(found, key=lambda test: (self._seconds[test], test))

    def seconds(self, tests: list[str]) -> float:
        return sum(self._seconds[test] for test in tests)


def every_test() -> list[unittest.TestCase]:
    return _flat(unittest.TestLoader().discover(str(CORE / "tests"), top_level_dir=str(ROOT)))


def _flat(suite: unittest.TestSuite) -> list[unittest.TestCase]:
    found: list[unittest.TestCase] = []
    for each in suite:
        found += _flat(each) if isinstance(each, unittest.TestSuite) else [each]
    return found


def _state() -> str:
    """Of the core and its tests: a map of other code says nothing of this."""
    parts = [path.read_bytes() for path in sorted(CORE.rglob("*")) if path.suffix in (".py", ".csv", ".json", ".lark")]
    return hashlib.sha256(b"".join(parts)).hexdigest()


def measured() -> Reach:
    """The map of today's code, from the last measurement or a new one (some minutes)."""
    if _KEPT.exists():
        kept = json.loads(_KEPT.read_text(encoding="utf-8"))
        if kept["state"] == _state():
            return Reach(kept["lines"], kept["seconds"])
    # In a process of its own, since a line already imported is not seen being imported.
    pid = os.fork()
    if not pid:
        _measure()
        os._exit(0)
    if os.waitstatus_to_exitcode(os.waitpid(pid, 0)[1]):
        sys.exit("The tests could not be measured; they must pass before faults are put in.")
    return measured()


def _measure() -> None:
    watch = coverage.Coverage(data_file=None, config_file=False, include=[f"{CORE}/*"], omit=[f"{CORE}/tests/*"])
    watch.start()
    tests, seconds = every_test(), dict[str, float]()
    for test in tests:
        watch.switch_context(test.id())
        start, result = time.perf_counter(), unittest.TestResult()
        unittest.TestSuite([test]).run(result)
        seconds[test.id()] = round(time.perf_counter() - start, 3)
        if not result.wasSuccessful():
            print(test.id(), *(text for _, text in result.failures + result.errors), file=sys.stderr)
            os._exit(1)
        print(f"{len(seconds):4} of {len(tests)} {seconds[test.id()]:7.2f} s {test.id()}", flush=True)
    watch.stop()
    data = watch.get_data()
    lines = {
        str(Path(file).relative_to(ROOT)): {str(line): tests for line, tests in data.contexts_by_lineno(file).items()}
        for file in data.measured_files()
    }
    _KEPT.write_text(json.dumps({"state": _state(), "lines": lines, "seconds": seconds}), encoding="utf-8")
