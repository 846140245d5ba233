"""Times the ways to a value typed over a reading: every demo formula, every reading that has a value, a twentieth more and a tenth less.

Run with ``.venv/bin/python -m bench.ways``; it writes bench/ways.md.
"""

from __future__ import annotations

import time
from pathlib import Path
from statistics import median

import numpy as np

from jugcore.errors import DomainError
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.reading.catalogue import readings
from jugcore.reading.equipment.pots import in_its_pots
from jugcore.suggesting.schema import suggestions_report

HERE = Path(__file__).parent
#: The longest that ways may take. [s]
WANTED_S = 2.0
FACTORS = (1.05, 0.9)


def main() -> None:
    spent: list[tuple[float, str, str, float]] = []
    refused = 0
    files = sorted((HERE.parent / "jugserver" / "demo" / "formulas").glob("*.json"))
    for file in files:
        document = MethodDocument.model_validate_json(file.read_text(encoding="utf-8"))
        method = compile_document(document)
        for reading in readings(in_its_pots(method)):
            if not np.isfinite(reading.value[0]):
                continue
            for factor in FACTORS:
                began = time.perf_counter()
                try:
                    suggestions_report(method, reading.id, float(reading.value[0]) * factor, document, [])
                except DomainError:  # what no method can be asked for is said at once
                    refused += 1
                spent.append((time.perf_counter() - began, file.stem, reading.id, factor))
    spent.sort(reverse=True)
    seconds = [each[0] for each in spent]
    lines = [
        "# Benchmark of the ways",
        "",
        f"{len(spent)} values typed over readings of the demo's {len(files)} formulas ({refused} of them refused), one after another.",
        "Seconds belong to the machine.",
        "",
        f"Median {median(seconds):.2f} s, 95 of 100 within {seconds[int(0.05 * len(seconds))]:.2f} s, the longest {seconds[0]:.2f} s "
        f"(wanted: at most {WANTED_S:g} s, {seconds[0] / WANTED_S:.2f} of it).",
        "",
        "| the ten longest | reading | times what it was | s |",
        "|---|---|---:|---:|",
        *(f"| {stem} | {reading} | {factor:g} | {each:.2f} |" for each, stem, reading, factor in spent[:10]),
        "",
    ]
    (HERE / "ways.md").write_text("\n".join(lines), encoding="utf-8")
    print("\n".join(lines))


if __name__ == "__main__":
    main()
