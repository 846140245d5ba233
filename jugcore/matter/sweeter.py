"""Syrups whose sweetness is published as a whole: by how much it is more than their sugars' added up."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics.sweetness import LEAST, MOST, USUAL

_FILE = Path(__file__).parent / "data" / "sweetness.csv"


@cache
def _published() -> dict[str, tuple[bool, tuple[float, float, float]]]:
    """Id → whether it is stated of the dry matter, and the range against sucrose."""
    with _FILE.open(newline="", encoding="utf-8") as file:
        return {row["id"]: (row["of"] == "dry", (float(row["least"]), float(row["usual"]), float(row["most"]))) for row in csv.DictReader(file)}


def sweeter_than_its_sugars(id: str, fraction: Floats) -> tuple[float, float, float] | None:
    """Grams of sucrose a gram of a substance is sweeter (less sweet below 0) than the sum of its sugars: least, usual, most.

    None of what is not published as a whole. ``fraction`` is its composition (C,) as shares of 1.

    Formula: published range × share it is stated of − Σ mᵢ·sᵢ. Source: ``data/sweetness.csv``, row by row. Accuracy: the range.
    """
    found = _published().get(id)
    if found is None:
        return None
    of_dry, stated = found
    share = 1.0 - float(fraction[c.WATER]) if of_dry else 1.0
    least, usual, most = (share * value - float(fraction @ sums) for value, sums in zip(stated, (LEAST, USUAL, MOST), strict=True))
    return least, usual, most
