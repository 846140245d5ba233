"""Energy that a body gets from a mixture, by the factors a label goes by."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import ArrayLike

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics.masses import masses_of

#: kcal a gram (Regulation (EU) 1169/2011, Annex XIV): carbohydrate that is digested, fat, protein, fibre, alcohol, polyols, organic acid.
CARBOHYDRATE, FAT, PROTEIN, FIBRE, ALCOHOL, POLYOL, ACID = 4.0, 9.0, 4.0, 2.0, 7.0, 2.4, 3.0
_OTHER = {
    # What coffee, molasses and caramel hold besides sugars is digested for the most part, and labels count it so.
    "other_soluble_carbohydrate": CARBOHYDRATE,
    "dextrin": CARBOHYDRATE,
    "starch": CARBOHYDRATE,
    "protein": PROTEIN,
    "ethanol": ALCOHOL,
    "sorbitol": POLYOL,
    "pectin_and_gums": FIBRE,
    "insoluble": FIBRE,
}
#: kcal a gram of each component, (C,).
KCAL: Floats = CARBOHYDRATE * c.SUGARS + FAT * c.FAT + ACID * c.ACIDS
for _name, _per in _OTHER.items():
    KCAL[c.INDEX[_name]] = _per
#: The same in kJ, by the table's own factors. [kJ/g]
_KJ_OTHER = {
    "other_soluble_carbohydrate": 17.0, "dextrin": 17.0, "starch": 17.0, "protein": 17.0, "ethanol": 29.0, "sorbitol": 10.0,
    "pectin_and_gums": 8.0, "insoluble": 8.0,
}  # fmt: skip
#: kJ a gram of each component, (C,).
KJ: Floats = 17.0 * c.SUGARS + 37.0 * c.FAT + 13.0 * c.ACIDS
for _name, _per in _KJ_OTHER.items():
    KJ[c.INDEX[_name]] = _per


def energy_kcal(masses_g: Mapping[str, ArrayLike]) -> Floats:
    """Energy of a mixture [kcal].

    Parameters: masses_g, component name → grams (scalars or arrays that broadcast).
    Raises OutOfRange for an unknown component or a negative mass.

    Formula: Σ mᵢ·kᵢ. Range: any. Source: Regulation (EU) 1169/2011, Annex XIV. Accuracy: against tables that use other factors
    (USDA), within 8 %; chicory fibre counts as carbohydrate here and as fibre there, twice too much of it.

    >>> float(energy_kcal({"sucrose": 100}))
    400.0
    """
    return np.asarray(masses_of(masses_g) @ KCAL)
