"""What may be tasted of a thing, which reading that speaks of, and how finely a tongue tells."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from pathlib import Path

#: A spice is tasted by the line of ours that makes it: ``spice:<line>``.
SPICE = "spice:"
#: A smell must change by about this share before it is noticed: sensory texts, from memory.
_SPICE_STEP = 0.25


@dataclass(frozen=True)
class Attribute:
    """One thing to taste for.

    ``reading`` is what it says something of, or ``line:<id>``; None where no figure follows. ``step`` is the share by which
    that must differ to be noticed; ``cup`` what a cup of water holds that it may be likened to, in grams to 100 g;
    ``choices`` words to pick from.
    """

    code: str
    title: str
    reading: str | None
    step: float | None
    cup: str
    choices: tuple[str, ...]
    source: str


@cache
def attributes() -> dict[str, Attribute]:
    """All there is on a tasting sheet, by code, in the sheet's order; spices aside."""
    with (Path(__file__).parent / "data" / "attributes.csv").open(encoding="utf-8", newline="") as file:
        return {row["code"]: _of_row(row) for row in csv.DictReader(file)}


def _of_row(row: dict[str, str]) -> Attribute:
    return Attribute(
        row["code"], row["title"], row["reading"] or None, float(row["step"]) if row["step"] else None, row["cup"],
        tuple(row["choices"].split("|")) if row["choices"] else (), row["source"],
    )  # fmt: skip


def attribute_of(code: str) -> Attribute | None:
    """What a code stands for; None where it stands for nothing."""
    line = code.removeprefix(SPICE)
    if line != code and line:
        return Attribute(code, line, f"line:{line}", _SPICE_STEP, "", (), "difference thresholds of smells about a quarter, from memory")
    return attributes().get(code)
