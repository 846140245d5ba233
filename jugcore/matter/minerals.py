"""What the minerals of an ingredient do to its water: much less, gram for gram, than table salt."""

from __future__ import annotations

from jugcore.physics.water_activity import SALT_MOLAR_MASS_G

#: Two ions a molecule. [osmol/g]
_TABLE_SALT = 2.0 / SALT_MOLAR_MASS_G


def as_table_salt(osmol_per_g: float) -> float:
    """Grams of table salt that a gram of other ash acts like, 0 to 1.

    Formula: osmoles a gram ÷ those of sodium chloride, both taken as ideal. Source: ``data/kinds.csv``, kind by kind;
    only milk's is measured (its freezing point), the rest are estimates. Accuracy: half of it, and readings say so.

    >>> round(as_table_salt(0.0161), 2)
    0.47
    """
    return osmol_per_g / _TABLE_SALT
