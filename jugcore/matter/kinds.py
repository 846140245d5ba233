"""What an ingredient of a kind usually brings besides its composition: ``data/kinds.csv``, a row a kind."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from jugcore.matter import csv_cells
from jugcore.matter.substance import UNKNOWN, Contributions
from jugcore.matter.substance_document import ContributionsDoc, contributions_from

_FILE = Path(__file__).parent / "data" / "kinds.csv"


@cache
def _table() -> dict[str, Contributions]:
    with _FILE.open(newline="", encoding="utf-8") as file:
        rows = list(csv.DictReader(file))
    return {row["kind"]: contributions_from(ContributionsDoc.model_validate(csv_cells.contributions(row, row["source"]))) for row in rows}


def contributions_of_kind(kind: str) -> Contributions:
    """What a substance of a kind brings where nobody said more; of a kind there is not, what is taken of the unknown."""
    return _table().get(kind, UNKNOWN)
