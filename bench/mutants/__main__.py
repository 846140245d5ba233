"""Try the sample of faults.

Run with ``.venv/bin/python -m bench.mutants [--most N] [--again] [--processes N]``. The sample is fixed by
its seed; what has been tried is kept in bench/mutants.json and gone on from, and the score
with every survivor is written to bench/mutants.md.
"""

from __future__ import annotations

import argparse
import importlib.abc
import importlib.machinery
import importlib.util
import json
import multiprocessing
import os
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from types import ModuleType
from typing import Any

from bench.mutants.faults import ROOT, SAMPLE, SEED, mutants, mutated, statement
from bench.mutants.reach import LEFT_OUT, Reach, measured

KEPT, REPORT = ROOT / "bench" / "mutants.json", ROOT / "bench" / "mutants.md"
#: A fault whose quickest test of this many seconds has not noticed it is left to the others.
MOST_S = 60.0
_LIBRARIES = ["numpy", "scipy.optimize", "scipy.sparse", "clarabel", "pydantic", "lark", "hypothesis", "coverage"]


class _Instead(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Loads one module from a changed source."""

    def __init__(self, name: str, source: str) -> None:
        self._name, self._source = name, source

    def find_spec(self, name: str, path: object = None, target: ModuleType | None = None) -> importlib.machinery.ModuleSpec | None:
        if name != self._name:
            return None
        return importlib.util.spec_from_loader(name, self, origin=str(ROOT / (name.replace(".", "/") + ".py")))

    def exec_module(self, module: ModuleType) -> None:
        module.__file__ = str(ROOT / (self._name.replace(".", "/") + ".py"))
        exec(compile(self._source, module.__file__, "exec"), module.__dict__)


def one(file: str, site: int, tests: list[str]) -> None:
    """In a process of its own: leaves with 1 where a test noticed, with 0 where none did."""
    source, _, _ = mutated(file, site)
    sys.meta_path.insert(0, _Instead(file.removesuffix(".py").replace("/", "."), source))
    sys.stdout = sys.stderr = open(os.devnull, "w")  # noqa: SIM115
    try:
        suite = unittest.TestLoader().loadTestsFromNames(tests)
    except Exception:
        os._exit(1)
    result = unittest.TextTestRunner(failfast=True).run(suite)
    os._exit(0 if result.wasSuccessful() else 1)


def judged(mutant: dict[str, Any], reach: Reach) -> dict[str, Any]:
    """A fault with its fate: killed, slow (its tests never ended), unreached (no test runs its line) or survived."""
    file, site = mutant["file"], mutant["site"]
    _, line, what = mutated(file, site)
    tests, spent = [], 0.0
    for test in reach.tests(file, statement(file, site)):
        spent += reach.seconds([test])
        if spent > MOST_S and tests:
            break
        tests.append(test)
    if not tests:
        return {**mutant, "line": line, "what": what, "fate": "unreached"}
    process = multiprocessing.get_context("forkserver").Process(target=one, args=(file, site, tests), daemon=True)
    process.start()
    # Twice the measured time with a watcher in the way, and a machine that does other things too.
    process.join(30 + 3 * reach.seconds(tests))
    if process.is_alive():
        process.kill()
        process.join()
        fate = "slow"
    else:
        fate = "killed" if process.exitcode else "survived"
    return {**mutant, "line": line, "what": what, "fate": fate}


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--most", type=int, default=SAMPLE)
    asked.add_argument("--again", action="store_true", help="try the survivors once more, with the tests of today")
    asked.add_argument("--processes", type=int, default=2)
    chosen = asked.parse_args()
    reach = measured()
    multiprocessing.get_context("forkserver").set_forkserver_preload(_LIBRARIES)
    known = json.loads(KEPT.read_text(encoding="utf-8")) if KEPT.exists() else []
    sample = mutants()
    # What was tried on code that has changed since says nothing of today's.
    keys = {m["key"] for m in sample}
    known = [m for m in known if m.get("key") in keys]
    if chosen.again:
        known = [m for m in known if m["fate"] not in ("survived", "unreached")]
    tried = {m["key"] for m in known}
    todo = [m for m in sample if m["key"] not in tried][: chosen.most]
    with ThreadPoolExecutor(chosen.processes) as pool:
        for done in pool.map(lambda mutant: judged(mutant, reach), todo):
            known.append(done)
            _write(KEPT, json.dumps(known, indent=0, ensure_ascii=False) + "\n")
            print(f"{len(known):4} {done['fate']:9} {done['file']}:{done['line']} {done['what']}", flush=True)
    _write(REPORT, report(known))


def _write(path: Path, text: str) -> None:
    path.write_text(text, encoding="utf-8")


def report(known: list[dict[str, Any]]) -> str:
    """The score and every survivor, by the file it is in."""
    survivors = [m for m in known if m["fate"] in ("survived", "unreached")]
    noticed = len(known) - len(survivors)
    lines = [
        "# Mutants of the core",
        "",
        f"Seed {SEED}; {len(known)} of a sample of {SAMPLE} tried: {noticed} noticed "
        f"({100 * noticed / max(len(known), 1):.1f} %), {len(survivors)} survived.",
        f"Each was shown the tests that run its line, quickest first, for up to {MOST_S:g} s of them. One whose tests do not end counts as noticed.",
        f"Left out, since they take minutes: {', '.join(LEFT_OUT)}.",
        "",
        *(
            f"- `{m['file']}:{m['line']}` {m['what']}" + (" (no test runs this line)" if m["fate"] == "unreached" else "")
            for m in sorted(survivors, key=lambda m: (m["file"], m["line"]))
        ),
        "",
    ]
    print(lines[2])
    return "\n".join(lines)


if __name__ == "__main__":
    main()
