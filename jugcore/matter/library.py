"""The substances that ship with the tool: one CSV a family in ``data/substances``, a row each.

Lists in a cell are parted by semicolons; ranges are two numbers; the composition names its
components in grams per 100 g, and what is not named is not in it.
``python -m jugcore.matter.library`` prints how many there are and how they are known.
"""

from __future__ import annotations

import csv
from collections import Counter
from functools import cache
from pathlib import Path

from jugcore.matter.substance import BASES, Enzyme, Opened, Piece, Range, Substance, substance_from_composition

FOLDER = Path(__file__).parent / "data" / "substances"
CALLED = FOLDER.parent / "called.csv"


def _split(cell: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in cell.split(";") if part.strip())


def composition_in(cell: str) -> dict[str, float]:
    """“water 88.13; lactose 4.8” as component → grams."""
    return {name: float(grams) for name, grams in (part.split() for part in _split(cell))}


def _pieces(cell: str) -> dict[str, Piece]:
    """“tin 397 0.02; jar 500 0.05”: word, grams, relative spread."""
    return {word: Piece(float(grams), float(spread)) for word, grams, spread in (part.split() for part in _split(cell))}


def _range(cell: str) -> Range | None:
    """“6 15” as a range."""
    if not cell:
        return None
    low, high = (float(part) for part in cell.split())
    return Range(low, high)


def _strength(cell: str) -> tuple[float, float] | None:
    found = _range(cell)
    return (found.low, found.high) if found else None


def _opened(cell: str) -> Opened | None:
    """“3 5 chilled”: days, and where."""
    if not cell:
        return None
    low, high, storage = cell.split()
    return Opened(Range(float(low), float(high)), storage)


def _enzyme(cell: str) -> Enzyme | None:
    """“source bacterial; works 63 72; dies 85; ph 5.5 7”."""
    if not cell:
        return None
    facts = dict(part.split(" ", 1) for part in _split(cell))
    return Enzyme(
        source=facts["source"], works_c=_range(facts.get("works", "")), dies_c=float(facts["dies"]) if "dies" in facts else None,
        ph=_range(facts.get("ph", "")),
    )  # fmt: skip


@cache
def _called() -> dict[str, tuple[str, ...]]:
    """Other names by id, as recipes write them: countries differ (common practice, no source)."""
    with CALLED.open(encoding="utf-8", newline="") as file:
        return {row["id"]: _split(row["names"]) for row in csv.DictReader(file)}


def _of_row(row: dict[str, str]) -> Substance:
    return substance_from_composition(
        id=row["id"],
        title=row["title"],
        kind=row["kind"],
        basis=row["basis"],
        composition_g_per_100g=composition_in(row["composition"]),
        free_sugars_g_per_100g=float(row["free_sugars"]),
        density_g_ml=float(row["density_g_ml"]),
        density_spread=float(row["density_spread"]),
        storage=row["storage"],
        allergens=_split(row["allergens"]),
        check_pack_for=_split(row["check_pack_for"]),
        also_called=(*_split(row["also_called"]), *_called().get(row["id"], ())),
        is_ground=row["form"] == "ground",
        other_form=row["other_form"],
        pieces=_pieces(row["pieces"]),
        strength=_strength(row["strength"]),
        character=row["character"],
        hazards=_split(row["hazards"]),
        opened=_opened(row["opened_days"]),
        edible_portion=_range(row["edible_portion"]),
        juice_yield=_range(row["juice_yield"]),
        enzyme=_enzyme(row["enzyme"]),
        source=row["source"],
        note=row["note"],
        where=f"substances.{row['id']}",
    )


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
