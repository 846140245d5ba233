"""One report of what the tests that attack the app found: docs/assurance.md.

Run with ``.venv/bin/python -m bench.assurance``; it runs those tests with everything they have, and reads bench/load.md and bench/growth.md.
"""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
TARGET = ROOT / "docs" / "assurance.md"
#: What is run, and what each of them writes down.
TESTS = (
    "jugserver.config.tests.test_roles",
    "jugserver.config.tests.test_surface",
    "jugserver.config.tests.test_hostile",
    "jugserver.batches.tests.test_one_bad_entry",
    "jugserver.config.tests.test_state",
    "jugserver.repeats.tests.test_once",
    "jugserver.audit.tests.test_changes",
    "jugtool.tests.test_running",
    "jugtool.tests.test_disk",
    "jugtool.tests.test_deploy",
)


def main() -> int:
    with tempfile.TemporaryDirectory() as scratch:
        notes = Path(scratch) / "notes"
        notes.mkdir()
        environment = {**os.environ, "OAKENJUG_ASSURANCE": str(notes)}
        tests = [name for name in TESTS if (ROOT / (name.replace(".", "/") + ".py")).exists()]
        done = subprocess.run([str(ROOT / "jug"), "test", "--deep", *tests], env=environment, cwd=ROOT, text=True, capture_output=True, check=False)
        told = [json.loads(line) for file in sorted(notes.iterdir()) for line in file.read_text(encoding="utf-8").splitlines()]
    last = done.stdout.strip().splitlines()[-1]
    print(last)
    text = report(told, last, tests)
    TARGET.write_text(text, encoding="utf-8")
    print(text)
    return done.returncode


def report(told: list[dict[str, Any]], last: str, tests: list[str]) -> str:
    """The report, from what tests wrote down and from the benchmarks that are kept."""
    sums: dict[str, int] = {}
    for each in told:
        for name, count in each.items():
            sums[name] = sums.get(name, 0) + count
    rows = [f"| {name} | {count:,} |" for name, count in sorted(sums.items())]
    load, growth = ((ROOT / "bench" / name).read_text(encoding="utf-8") for name in ("load.md", "growth.md"))
    ratios = [float(found) for found in re.findall(r"\| ([\d.]+) \|$", growth, flags=re.M)]
    return "\n".join([
        "# Assurance", "",
        "Written by `bench/assurance.py`; nothing here is typed. Counts are of one run of the tests that attack the app, with all their seeds "
        f"({', '.join(f'`{name}`' for name in tests)}): **{last}**.", "",
        "| | |", "|---|---:|", *rows, "",
        "## As it grows", "",
        f"{len(ratios)} things are timed at 100 and at 100,000 batches, 100 and 10,000 formulas; the worst takes {max(ratios):.2f} times as long "
        "([all of them](../bench/growth.md)).", "",
        "## Under load, and the worst request that is let through", "", *load.splitlines()[2:], "",
    ])  # fmt: skip


if __name__ == "__main__":
    sys.exit(main())
