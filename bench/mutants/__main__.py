"""Try the sample of faults.

Run with ``.venv/bin/python -m bench.mutants [--most N] [--again [FILE …]] [--processes N]``. The sample is fixed by
its seed; what has been tried is kept in bench/mutants.json and gone on from, and the score
with every survivor is written to bench/mutants.md.
"""

from __future__ import annotations

import argparse
import json
import sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

from bench.mutants.faults import ROOT, SAMPLE, SEED, mutants
from bench.mutants.reach import measured
from bench.mutants.trial import MOST_S, judged, ready

KEPT, REPORT = ROOT / "bench" / "mutants.json", ROOT / "bench" / "mutants.md"
#: So many times the code is tried with no fault in it.
_CONTROLS = 12


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--most", type=int, default=SAMPLE)
    asked.add_argument("--again", nargs="*", metavar="FILE", help="try the survivors once more with the tests of today, all or those of some files")
    asked.add_argument("--processes", type=int, default=2)
    chosen = asked.parse_args()
    reach = measured()
    ready()
    known = json.loads(KEPT.read_text(encoding="utf-8")) if KEPT.exists() else []
    sample = mutants()
    # What was tried on code that has changed since says nothing of today's.
    keys = {m["key"] for m in sample}
    known = [m for m in known if m.get("key") in keys]
    if chosen.again is not None:
        known = [m for m in known if m["fate"] not in ("survived", "unreached") or (chosen.again and m["file"] not in chosen.again)]
    tried = {m["key"] for m in known}
    todo = [m for m in sample if m["key"] not in tried][: chosen.most]
    with ThreadPoolExecutor(chosen.processes) as pool:
        controls = [{**mutant, "site": ~mutant["site"]} for mutant in todo[:: max(1, len(todo) // _CONTROLS)]]
        for control in pool.map(lambda mutant: judged(mutant, reach), controls):
            print(f"   control {control['fate']:9} {control['file']}:{control['line']}", flush=True)
            if control["fate"] not in ("survived", "unreached"):
                sys.exit("The tests notice a fault where there is none: nothing they say of faults would count.")
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
