"""Which substances bring starch that swells and thickens, and over what temperatures it does."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from jugcore.matter.substance import Range, Substance

_FILE = Path(__file__).parent / "data" / "starches.csv"


@dataclass(frozen=True)
class Starch:
    """Starch that is free to swell: where it gelatinises in plain water [°C], in how many minutes all but a third of it has
    (water must reach it first: cocoa's lies in its grains), and whether its maker has done that already.
    """

    gels_c: Range
    minutes: float
    pregelled: bool
    source: str


@cache
def _table() -> dict[tuple[str, str], Starch]:
    with _FILE.open(newline="", encoding="utf-8") as file:
        return {(row["which"], row["of"]): _of_row(row) for row in csv.DictReader(file)}


def _of_row(row: dict[str, str]) -> Starch:
    window = Range(float(row["gel_from_c"]), float(row["gel_to_c"]))
    return Starch(window, float(row["minutes"]), row["pregelled"] == "yes", row["source"])


def starch_of(substance: Substance) -> Starch | None:
    """The free starch of a substance, by its id and else by its kind; None of one whose starch stays in its cells.

    Spices, nuts, fruit and teas hold starch too, which boiling does not set free to speak of (common practice, no source).
    """
    table = _table()
    return table.get(("substance", substance.id)) or table.get(("kind", substance.kind))
