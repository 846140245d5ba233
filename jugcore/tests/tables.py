"""Reads the published tables that ship beside the tests."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

DATA = Path(__file__).parent / "data"


@dataclass(frozen=True)
class Row:
    """One row of a table: its inputs as text, the value and what it may miss by."""

    id: str
    cells: dict[str, str]
    value: float
    tolerance: float | None

    def number(self, column: str) -> float:
        return float(self.cells[column])

    def __getitem__(self, column: str) -> str:
        return self.cells[column]

    def allowance(self, stated_error: float) -> float:
        """The larger of the row's tolerance and 1.5 times a model's stated error."""
        return max(self.tolerance or 0.0, 1.5 * stated_error) + 1e-12


def rows(table: str) -> Iterator[Row]:
    with (DATA / f"{table}.csv").open(newline="", encoding="utf-8") as file:
        for cells in csv.DictReader(file):
            value = float(cells["value"])
            tolerance = float(cells["tol"]) if cells["tol"] else None
            if tolerance is not None and cells["tol_kind"] == "rel":
                tolerance *= abs(value)
            yield Row(cells["id"], cells, value, tolerance)
