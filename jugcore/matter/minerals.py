"""What the minerals of an ingredient do to its water: much less, gram for gram, than table salt."""

from __future__ import annotations

import csv
from functools import cache
from pathlib import Path

from jugcore.physics.water_activity import SALT_MOLAR_MASS_G

_FILE = Path(__file__).parent / "data" / "minerals.csv"
#: Two ions a molecule. [osmol/g]
_TABLE_SALT = 2.0 / SALT_MOLAR_MASS_G


@cache
def _osmol_per_g() -> dict[str, float]:
    with _FILE.open(newline="", encoding="utf-8") as file:
        return {row["kind"]: float(row["osmol_per_g"]) for row in csv.DictReader(file)}


def as_table_salt(kind: str) -> float:
    """Grams of table salt that a gram of other ash of a kind of substance acts like, 0 to 1.

    Formula: osmoles a gram ÷ those of sodium chloride, both taken as ideal. Source: ``data/minerals.csv``, kind by kind;
    only milk's is measured (its freezing point), the rest are estimates. Accuracy: half of it, and readings say so.

    >>> round(as_table_salt("dairy"), 2)
    0.47
    """
    return _osmol_per_g()[kind] / _TABLE_SALT
