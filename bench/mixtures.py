"""Times 100,000 mixtures in one call against a loop, and a walk over more and more lines. Prints ratios.

Run with ``.venv/bin/python -m bench.mixtures``; it writes bench/mixtures.md.
"""

from __future__ import annotations

import time
from functools import partial
from pathlib import Path
from typing import Any

import numpy as np

from bench.walk import timed
from jugcore.matter.library import library
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF

HERE = Path(__file__).parent
MIXTURES = 100_000
LOOPED = 400
READ = ("brix", "yield_g", "density", "water_activity", "cold_margin", "viscosity", "sweetness", "acidity")
LINES = (5, 25, 100, 250, 500)


def mixture() -> Method:
    """Syrup, juice, acid and cream in a pot: what every reading has something to say of."""
    lines = [
        {"id": id, "substance": substance, "amount": amount}
        for id, substance, amount in (
            ("water", "water", "300 g"), ("sugar", "white_sugar", "400 g"), ("honey", "honey", "80 g"), ("juice", "pear_juice", "200 g"),
            ("acid", "citric_acid", "2 g"), ("cream", "single_cream", "20 g"),
        )
    ]  # fmt: skip
    return parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": lines}]})


def of_lines(count: int) -> dict[str, Any]:
    """A pot of so many lines of different substances."""
    names = [id for id, substance in library().items() if substance.kind not in ("enzyme",)]
    lines = [{"id": f"l{n}", "substance": names[n % len(names)], "amount": "10 g"} for n in range(count - 1)]
    return {"stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": "w", "substance": "water", "amount": "5 kg"}, *lines]}]}


def main() -> None:
    method = mixture()
    rng = np.random.default_rng(1)
    grams = {
        f"lines.{id}.grams": rng.uniform(low, high, MIXTURES)
        for id, (low, high) in {"sugar": (200, 700), "honey": (10, 150), "acid": (0.5, 6)}.items()
    }
    began = time.perf_counter()
    walked = walk(method, given=grams)
    together = {id: np.asarray(READING_OF[id](walked).value) for id in READ}
    one_call = time.perf_counter() - began
    began = time.perf_counter()
    for k in range(LOOPED):
        alone = walk(method, given={path: float(values[k]) for path, values in grams.items()})
        for id in READ:
            value = float(READING_OF[id](alone).value[0])
            assert abs(value - together[id][k]) <= 1e-9 * max(1.0, abs(value)), (id, k)
    each = (time.perf_counter() - began) / LOOPED
    methods = [parse_document(of_lines(n)) for n in LINES]
    rows = [(n, timed(partial(walk, each_method), 30)[1]) for n, each_method in zip(LINES, methods, strict=True)]
    per_line = [(rows[i + 1][1] - rows[i][1]) / (rows[i + 1][0] - rows[i][0]) for i in range(len(rows) - 1)]
    lines = [
        "# Benchmark of mixtures", "",
        f"{MIXTURES:,} mixtures of six lines with eight readings each. Times belong to the machine; the ratios travel.", "",
        "| What | seconds |", "|---|---:|",
        f"| one call | {one_call:.2f} |", f"| a loop ({LOOPED} walked, the rest reckoned) | {each * MIXTURES:.1f} |", "",
        f"The loop takes {each * MIXTURES / one_call:.0f} times as long; its figures are the same to 1e-9.", "",
        "| lines | walk, ms, median | a line more, ms |", "|---:|---:|---:|",
        f"| {rows[0][0]} | {rows[0][1]:.2f} | |",
        *(f"| {n} | {ms:.2f} | {more:.3f} |" for (n, ms), more in zip(rows[1:], per_line, strict=True)), "",
        f"A line between 250 and 500 costs {per_line[-1] / per_line[1]:.2f} times one between 25 and 100: linear is 1.",
    ]  # fmt: skip
    text = "\n".join(lines) + "\n"
    print(text)
    (HERE / "mixtures.md").write_text(text, encoding="utf-8")


if __name__ == "__main__":
    main()
