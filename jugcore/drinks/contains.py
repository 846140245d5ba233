"""What a drink contains in each size: allergens with what brings them, and how near its acid is to curdling its milk."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jugcore import components as c
from jugcore.dosing.drink import Curdling, curdling_of
from jugcore.drinks.poured import Poured
from jugcore.matter.matter import Matter
from jugcore.matter.substance import ALLERGEN_LISTS, EU_ALLERGENS


@dataclass(frozen=True)
class Allergen:
    """An allergen, what brings it, the sizes it is in, whether it is certain or only may be there, and the lists that name it."""

    allergen: str
    brought_by: tuple[str, ...]
    sizes: tuple[str, ...]
    certain: bool
    lists: tuple[str, ...]


@dataclass(frozen=True)
class Contains:
    """Allergens of the drink, and how near each size is to curdling: None where there is no milk or no acid to speak of."""

    allergens: tuple[Allergen, ...]
    curdling: tuple[Curdling | None, ...]

    @property
    def certain(self) -> tuple[str, ...]:
        """Allergens that are in it for sure, in any size."""
        return tuple(each.allergen for each in self.allergens if each.certain)


def contains_of(poured: Poured) -> Contains:
    """Allergens and curdling, by size: only what is in the cup of a size counts there, through any depth of what is made here."""
    return Contains(tuple(_allergens(poured)), tuple(_curdling(poured, index) for index in range(poured.sizes)))


def _allergens(poured: Poured) -> list[Allergen]:
    method, sizes = poured.walk.method, poured.cup.sizes
    found = []
    for allergen in EU_ALLERGENS:
        lists = tuple(name for name, (_, each) in ALLERGEN_LISTS.items() if allergen in each)
        sure = np.zeros(poured.sizes, bool)
        for certain in (True, False):
            brings: list[str] = []
            there = np.zeros(poured.sizes, bool)
            for line, content in method.all_contents:
                named = content.book.allergens if certain else content.book.check_pack_for
                if allergen in named:
                    brings.append(content.where)
                    there |= poured.walk.end.lines[line][: poured.sizes] > 0
            # Where it is in for sure nobody need look at a pack; in the other sizes somebody must.
            there &= ~sure
            if there.any():
                ids = tuple(size.id for size, has in zip(sizes, there, strict=True) if has)
                found.append(Allergen(allergen, tuple(dict.fromkeys(brings)), ids, certain, lists))
            sure |= there
    return found


def _curdling(poured: Poured, index: int) -> Curdling | None:
    protein, soya = 0.0, False
    for line, content in poured.walk.method.all_contents:
        grams = float(poured.walk.end.lines[line][index]) * content.grams_per_g
        if content.book.kind in ("dairy", "plant") and grams > 0:
            protein += grams * float(content.book.mass_fraction[c.INDEX["protein"]])
            soya = soya or "soybeans" in content.book.allergens
    # As warm as it was before the ice, where there is some: it meets the acid so.
    warm = float(poured.walk.before("on-ice").vessels["cup"].warmth_c[index]) if _iced(poured) else float(poured.liquid.warmth_c[index])
    return curdling_of(protein, soya, case_of(poured.liquid, index), warm)


def _iced(poured: Poured) -> bool:
    return any(stage.id == "on-ice" for stage in poured.walk.stages)


def case_of(matter: Matter, index: int) -> Matter:
    """One case of a matter alone."""
    at = slice(index, index + 1)
    return Matter(matter.mass_g[at], matter.enthalpy_j[at], matter.extent[at], matter.tracer[at], matter.air_ml[at], matter.touched)
