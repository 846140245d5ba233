"""What one drink has of caffeine and free sugars against what EFSA and WHO name, in every size."""

from __future__ import annotations

from jugcore.dosing.drink import CAFFEINE_DOSE_MG, cautions
from jugcore.drinks.contains import case_of
from jugcore.drinks.poured import Poured
from jugcore.drinks.readings import read


def drink_cautions(poured: Poured) -> list[list[str]]:
    """Cautions by size; where only the range of its caffeine goes over, that is said as well. No advice to a person."""
    caffeine = read(poured, "caffeine")
    found = []
    for index in range(poured.sizes):
        said = list(cautions(case_of(poured.liquid, index)))
        likely, most = float(caffeine.likely[index]), float(caffeine.high[index])
        if likely <= CAFFEINE_DOSE_MG < most:
            named = f"{CAFFEINE_DOSE_MG:.0f} mg that EFSA names for a single dose"
            said.insert(0, f"Up to {most:.0f} mg of caffeine if it is strong: that may be more than the {named}.")
        found.append(said)
    return found
