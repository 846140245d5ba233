"""Times the walk: one case, 31 cases, resuming, and the endpoint's parts. Prints ratios.

Run with ``.venv/bin/python -m bench.walk``; it writes bench/results.md.
"""

from __future__ import annotations

import json
import platform
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import Any

import numpy as np

from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.report import report

HERE = Path(__file__).parent
ROUNDS = 200


def fifteen_lines() -> dict[str, Any]:
    """Ferryman's Spice with seven more lines: fifteen in eight stages."""
    raw: dict[str, Any] = json.loads((HERE.parent / "docs" / "examples" / "ferrymans-spice.json").read_text(encoding="utf-8"))
    more = ("cassia", "clove", "nutmeg", "black_pepper", "fennel_seed", "ground_ginger", "true_cinnamon")
    blend = next(stage for stage in raw["stages"] if stage["kind"] == "blend")
    blend["lines"] += [{"id": f"more-{s}", "substance": s, "amount": "1 g per kg started"} for s in more]
    return raw


def timed(work: Callable[[], object], rounds: int = ROUNDS) -> tuple[float, float]:
    """Least and median milliseconds."""
    work()
    spent = []
    for _ in range(rounds):
        began = time.perf_counter()
        work()
        spent.append(1000 * (time.perf_counter() - began))
    return min(spent), median(spent)


def main() -> None:
    raw = fifteen_lines()
    method = parse_document(raw)
    assert len(method.lines) == 15, len(method.lines)
    grams = np.linspace(400, 460, 31)
    halfway = walk(method).state_after("spice")
    found = walk(method)
    rows: list[tuple[str, tuple[float, float]]] = [
        ("check a document, 15 lines", timed(lambda: parse_document(raw))),
        ("walk, 15 lines, 1 case", timed(lambda: walk(method))),
        ("walk, 15 lines, 31 cases", timed(lambda: walk(method, given={"lines.juice.grams": grams}))),
        ("resume behind the fifth stage", timed(lambda: walk(method, start=halfway, after="spice"))),
        ("report of a walk", timed(lambda: report(found.__class__(**{k: getattr(found, k) for k in found.__dataclass_fields__})))),
        ("walk, 1,000 cases", timed(lambda: walk(method, given={"lines.juice.grams": np.linspace(400, 460, 1000)}), 20)),
    ]
    one, many = rows[1][1], rows[2][1]
    lines = [
        "# Benchmark of the walk",
        "",
        f"Python {platform.python_version()}, numpy {np.__version__}, {ROUNDS} rounds. Milliseconds belong to the machine; the ratios travel.",
        "",
        "| What | least | median |",
        "|---|---:|---:|",
        *(f"| {name} | {low:.2f} | {middle:.2f} |" for name, (low, middle) in rows),
        "",
        f"31 cases against one: {many[0] / one[0]:.2f} times (least), {many[1] / one[1]:.2f} times (median); wanted under 2.",
        f"1,000 cases against one: {rows[5][1][1] / one[1]:.1f} times.",
        "",
    ]
    (HERE / "results.md").write_text("\n".join(lines), encoding="utf-8")
    print("\n".join(lines))


if __name__ == "__main__":
    main()
