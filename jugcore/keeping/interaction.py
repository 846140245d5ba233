"""Whether a food is held by time and temperature: the food code's two tables of water activity against pH.

FDA Food Code 2022, 1-201.10: table A for what was heated to destroy vegetative cells and then packaged, table B for the rest.
“Product assessment” counts as controlled until somebody qualified has assessed it.
"""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Literal

Table = Literal["A", "B"]
#: Finer than any meter or model.
_DIGITS = 6
_FILE = Path(__file__).parent / "data" / "tcs.csv"


@dataclass(frozen=True)
class Stretch:
    """A stretch of an axis with its ends in or out, as the table prints them."""

    above: float | None
    to: float | None
    ends: str

    def meets(self, low: float, high: float) -> bool:
        """Whether a band from ``low`` to ``high`` touches it. A figure without a band is in or out as the table prints its ends.

        Rounded first: 4.1 and 0.1 make 4.2, whatever floats say.
        """
        low, high = round(low, _DIGITS), round(high, _DIGITS)
        if low < high:
            return (self.above is None or high >= self.above) and (self.to is None or low <= self.to)
        over = self.above is None or (high >= self.above if self.ends.startswith("ge") else high > self.above)
        under = self.to is None or (low < self.to if self.ends == "lt" else low <= self.to)
        return over and under


@dataclass(frozen=True)
class Cell:
    """A field of a table: its stretch of water activity and of pH, and whether it is controlled there."""

    table: Table
    water_activity: Stretch
    ph: Stretch
    controlled: bool


def _number(cell: str) -> float | None:
    return float(cell) if cell else None


@cache
def cells() -> tuple[Cell, ...]:
    """Every field of both tables."""
    with _FILE.open(newline="", encoding="utf-8") as file:
        return tuple(
            Cell(
                "A" if row["table"] == "A" else "B", Stretch(_number(row["aw_above"]), _number(row["aw_to"]), row["aw_open"]),
                Stretch(_number(row["ph_above"]), _number(row["ph_to"]), row["ph_open"]), row["class"] != "non-TCS",
            )
            for row in csv.DictReader(file)
        )  # fmt: skip


@lru_cache(256)
def verdicts(table: Table, aw_low: float, aw_high: float, ph_low: float, ph_high: float) -> frozenset[bool]:
    """Whether it is controlled, over every field that a band of water activity and of pH touches: one answer, or both."""
    return frozenset(
        cell.controlled for cell in cells() if cell.table == table and cell.water_activity.meets(aw_low, aw_high) and cell.ph.meets(ph_low, ph_high)
    )
