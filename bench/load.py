"""Forty heavy requests by one person: what a walk of another takes meanwhile, and what the worst request that is let through costs.

    python -m bench.load

Runs the test that does the first, measures the second by itself, and writes bench/load.md.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
TEST = "jugserver.computing.tests.test_served.Load.test_forty_heavy_requests_slow_nobody_elses_walk"
#: A walk under load may take so many times its idle median.
LIMIT = 3.0
_WORST = """
import json, resource, sys, time
from jugserver.computing.tests.large import CLASH, SOLVE, large
from jugcore.method.document import parse_document
from jugcore.solving.schema import SolveRequest, solve_report, suggestions_report
from jugcore.reading.report import report
from jugcore.reading.equipment.pots import in_its_pots
method = parse_document(large())
began = time.perf_counter()
{
    "walk": lambda: report(in_its_pots(method)),
    "solve": lambda: solve_report(method, SolveRequest.model_validate(SOLVE)),
    "solve that clashes": lambda: solve_report(method, SolveRequest.model_validate(CLASH)),
    "ways": lambda: suggestions_report(method, "brix", 66, hold=["fat", "yield_g"]),
}[sys.argv[1]]()
print(json.dumps([time.perf_counter() - began, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024]))
"""


def main() -> int:
    with tempfile.TemporaryDirectory() as scratch:
        report = Path(scratch) / "load.json"
        environment = {**os.environ, "OAKENJUG_LOAD_REPORT": str(report)}
        done = subprocess.run([str(ROOT / "jug"), "test", "--deep", TEST], env=environment, cwd=ROOT, check=False)
        found = json.loads(report.read_text(encoding="utf-8"))
    rows = []
    for name in ("walk", "solve", "solve that clashes", "ways"):
        told = subprocess.run(
            [sys.executable, "-c", _WORST, name], env={**os.environ, "PYTHONPATH": str(ROOT)}, capture_output=True, text=True, check=True
        )
        seconds, megabytes = json.loads(told.stdout)
        rows.append(f"| {name} | {seconds:.1f} s | {megabytes:.0f} MB |")
    times = found["loaded_s"] / found["idle_s"]
    text = (
        "# Under load\n\nApp, database, computing processes and whoever asks share this machine's two cores.\n\n"
        "| heavy requests under way | a walk of another, idle | meanwhile | times | at most |\n| ---: | ---: | ---: | ---: | ---: |\n"
        f"| {found['heavy']} | {1000 * found['idle_s']:.0f} ms | {1000 * found['loaded_s']:.0f} ms | {times:.2f} | {LIMIT:g} |\n\n"
        "The largest formula that is let through, 120 ingredients in 42 steps, each in a process of its own:\n\n| | time | memory of the process |\n"
        "| --- | ---: | ---: |\n" + "\n".join(rows) + "\n"
    )
    (ROOT / "bench" / "load.md").write_text(text, encoding="utf-8")
    print(text)
    return done.returncode


if __name__ == "__main__":
    sys.exit(main())
