"""Cells of the library's tables as plain data, in the shapes of :mod:`jugcore.matter.substance_document`.

Lists in a cell are parted by semicolons; ranges are two numbers; a composition names its components in grams per 100 g, and
what is not named is not in it. An empty cell is None.
"""

from __future__ import annotations

from typing import Any


def listed(cell: str) -> tuple[str, ...]:
    """“milk; soybeans” as its parts."""
    return tuple(part.strip() for part in cell.split(";") if part.strip())


def composition(cell: str) -> dict[str, float]:
    """“water 88.13; lactose 4.8” as component → grams."""
    return {name: float(grams) for name, grams in (part.split() for part in listed(cell))}


def pieces(cell: str) -> dict[str, Any]:
    """“tin 397 0.02; jar 500 0.05”: word, grams, relative spread."""
    return {word: {"grams": float(grams), "spread": float(spread)} for word, grams, spread in (part.split() for part in listed(cell))}


def span(cell: str) -> dict[str, float] | None:
    """“6 15” as a range."""
    if not cell:
        return None
    low, high = (float(part) for part in cell.split())
    return {"low": low, "high": high}


def opened(cell: str) -> dict[str, Any] | None:
    """“3 5 chilled”: days, and where."""
    if not cell:
        return None
    low, high, storage = cell.split()
    return {"low": float(low), "high": float(high), "storage": storage}


def enzyme(cell: str) -> dict[str, Any] | None:
    """“source bacterial; works 63 72; dies 85; ph 5.5 7”."""
    if not cell:
        return None
    facts = dict(part.split(" ", 1) for part in listed(cell))
    return {
        "source": facts["source"], "works_c": span(facts.get("works", "")), "dies_c": float(facts["dies"]) if "dies" in facts else None,
        "ph": span(facts.get("ph", "")),
    }  # fmt: skip


def contributions(row: dict[str, str], source: str) -> dict[str, Any]:
    """The columns ``starch``, ``cell_oil``, ``sweetness``, ``minerals`` and ``flags`` of a row.

    “58 68 1 pregelled”: °C, °C, minutes; “0.15 0.35 0.6”: least, likely, most; “dry 0.4 0.47 0.55”; osmol/g; “sugars_not_added”. And
    ``saturates``, “0.06 0.08 0.1” of its other fat; ``salt_of_ash``, g/g.
    """
    flags = listed(row["flags"])
    return {
        "minerals_osmol_per_g": float(row["minerals"]), "starch": _starch(row["starch"]), "cell_oil": _three(row.get("cell_oil", "")),
        "sweetness": _sweetness(row.get("sweetness", "")), "saturates": _three(row["saturates"]), "salt_of_ash": float(row["salt_of_ash"]),
        "sugars_added": "sugars_not_added" not in flags, "strong_gum": "strong_gum" in flags,
        "source": source,
    }  # fmt: skip


def _starch(cell: str) -> dict[str, Any] | None:
    if not cell:
        return None
    low, high, minutes, *more = cell.split()
    return {"gels_c": {"low": float(low), "high": float(high)}, "minutes": float(minutes), "pregelled": more == ["pregelled"]}


def _three(cell: str) -> dict[str, float] | None:
    return dict(zip(("low", "likely", "high"), (float(part) for part in cell.split()), strict=True)) if cell else None


def _sweetness(cell: str) -> dict[str, Any] | None:
    of, _, figures = cell.partition(" ")
    found = _three(figures)
    return None if found is None else {"of": of, **found}
