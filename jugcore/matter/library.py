"""The substances that ship with the tool: one CSV a family in ``data/substances``, a row each.

Cells are read by :mod:`jugcore.matter.csv_cells`.
``python -m jugcore.matter.library`` prints how many there are and how they are known.
"""

from __future__ import annotations

import csv
from collections import Counter
from functools import cache
from pathlib import Path

from jugcore.matter import csv_cells
from jugcore.matter.substance import BASES, Substance
from jugcore.matter.substance_document import SubstanceDoc, substance_from

FOLDER = Path(__file__).parent / "data" / "substances"
CALLED = FOLDER.parent / "called.csv"


@cache
def _called() -> dict[str, tuple[str, ...]]:
    """Other names by id, as recipes write them: countries differ (common practice, no source)."""
    with CALLED.open(encoding="utf-8", newline="") as file:
        return {row["id"]: csv_cells.listed(row["names"]) for row in csv.DictReader(file)}


def _of_row(row: dict[str, str]) -> Substance:
    document = SubstanceDoc.model_validate({
        **{name: row[name] for name in ("title", "kind", "basis", "storage", "source", "note")},
        "composition_g_per_100g": csv_cells.composition(row["composition"]),
        "free_sugars_g_per_100g": float(row["free_sugars"]),
        "density_g_ml": float(row["density_g_ml"]),
        "density_spread": float(row["density_spread"]),
        "allergens": csv_cells.listed(row["allergens"]),
        "check_pack_for": csv_cells.listed(row["check_pack_for"]),
        "also_called": (*csv_cells.listed(row["also_called"]), *_called().get(row["id"], ())),
        "is_ground": row["form"] == "ground",
        "other_form": row["other_form"] or None,
        "pieces": csv_cells.pieces(row["pieces"]),
        "strength": csv_cells.span(row["strength"]),
        "character": row["character"] or None,
        "hazards": csv_cells.listed(row["hazards"]) or None,
        "opened": csv_cells.opened(row["opened_days"]),
        "edible_portion": csv_cells.span(row["edible_portion"]),
        "juice_yield": csv_cells.span(row["juice_yield"]),
        "enzyme": csv_cells.enzyme(row["enzyme"]),
        "contributions": csv_cells.contributions(row, row["contributions_source"]),
    })  # fmt: skip
    return substance_from(row["id"], document)


@cache
def library() -> dict[str, Substance]:
    """The substances that ship with the tool, by id. Raises BadDocument for a row that does not sum, ValueError for an id twice."""
    found: dict[str, Substance] = {}
    for path in sorted(FOLDER.glob("*.csv")):
        with path.open(newline="", encoding="utf-8") as file:
            for row in csv.DictReader(file):
                if row["id"] in found:
                    raise ValueError(f"{path.name}: “{row['id']}” stands twice.")
                found[row["id"]] = _of_row(row)
    return found


def count_by_basis() -> dict[str, int]:
    """How many substances there are by how they are known."""
    counted = Counter(substance.basis for substance in library().values())
    return {basis: counted[basis] for basis in BASES}


if __name__ == "__main__":
    print(f"{len(library())} substances: " + ", ".join(f"{number} {basis}" for basis, number in count_by_basis().items()))
