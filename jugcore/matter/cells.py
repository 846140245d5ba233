"""What of a nut or a seed stays in its cells when it is steeped and strained: its oil and its protein, in part.

Pastes have no whole cells left and are not in the table. Steeping and chopping let a part out; which part is not well known, so it
is a range, and a reading of fat behind a sieve carries it.
"""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from jugcore.matter.substance import Range

_FILE = Path(__file__).parent / "data" / "cells.csv"


@cache
def _table() -> dict[str, tuple[Range, float]]:
    with _FILE.open(newline="", encoding="utf-8") as file:
        return {row["id"]: (Range(float(row["low"]), float(row["high"])), float(row["likely"])) for row in csv.DictReader(file)}


def comes_out(substance: str) -> tuple[float, float, float] | None:
    """Share of its oil and protein that runs through a sieve with the liquid: least, likely, most; None of what has no such cells."""
    found = _table().get(substance)
    return None if found is None else (found[0].low, found[1], found[0].high)
