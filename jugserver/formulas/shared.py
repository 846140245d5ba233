"""What a site's other formulas put into its equipment, for allergens that are carried over."""

from __future__ import annotations

from collections.abc import Mapping
from typing import cast

from jugcore.formula.shared import Others, SharedAllergen, carried
from jugcore.matter.library import library
from jugcore.matter.substance import EU_ALLERGENS
from jugcore.method.kitchen import GEAR_TITLES, Gear
from jugcore.method.walk import Walk
from jugserver.accounts.models import Site
from jugserver.config.kept import Kept
from jugserver.formulas.models import Formula, FormulasMoved, FormulaState
from jugserver.formulas.schemas import GearOut
from jugserver.formulas.states import keep_states, with_draft
from jugserver.pantry.models import Ingredient

#: Gear → allergen → names of the formulas that put it there, in their order.
_Seen = Mapping[Gear, Mapping[str, tuple[str, ...]]]
#: By the site and the number of what its formulas put where.
_seen: Kept[tuple[int, int], _Seen] = Kept(16)
#: A list names so many formulas, and says how many more there are.
_MOST_NAMED = 12


def shared_of(site: Site, walked: Walk, name: str) -> list[SharedAllergen]:
    """Allergens that may come into a formula by equipment, its own formula of that name left out."""
    elsewhere: dict[Gear, dict[str, Others]] = {}
    for gear, allergens in _seen_at(site).items():
        for allergen, names in allergens.items():
            others = Others(names, name)
            if others:
                elsewhere.setdefault(gear, {})[allergen] = others
    return carried(walked, elsewhere)


def gear_of_site(site: Site) -> list[GearOut]:
    """Each kind of equipment that a formula puts an allergen into, and which formulas do."""
    found = _seen_at(site)
    return [
        GearOut(gear=gear, title=title, allergens={allergen: _named(names) for allergen, names in found[gear].items()})
        for gear, title in GEAR_TITLES.items()
        if gear in found
    ]


def _named(names: tuple[str, ...]) -> list[str]:
    return list(names) if len(names) <= _MOST_NAMED else [*names[: _MOST_NAMED - 1], f"{len(names) - _MOST_NAMED + 1} more"]


def _seen_at(site: Site) -> _Seen:
    """What the site's formulas put into which equipment; kept in this process until that is another."""
    number = FormulasMoved.objects.filter(pk=site.pk).values_list("number", flat=True).first() or 0
    known = _seen.get((site.pk, number))
    return known if known is not None else _seen.keep((site.pk, number), _read(site))


def _read(site: Site) -> _Seen:
    """Read off what was worked out of each formula. What an ingredient brings is looked up as it is written down today."""
    keep_states(site, list(with_draft(Formula.objects.of_site(site).filter(state__core_version=""))))  # of before there were states
    rows = list(FormulaState.objects.filter(site=site, archived=False).exclude(gear={}).values_list("formula__name", "gear"))
    keys = {key for _, gear in rows for met in gear.values() for key in met["keys"]}
    books = library()
    brings = {key: frozenset(books[key].allergens) for key in keys if key in books}
    own = Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).values_list("key", "document__allergens")
    brings |= {key: frozenset(allergens or ()) for key, allergens in own}
    found: dict[str, dict[str, set[str]]] = {}
    for name, gear in rows:
        for kind, met in gear.items():
            for allergen in {*met["carried"], *(each for key in met["keys"] for each in brings.get(key, ()))}:
                found.setdefault(kind, {}).setdefault(allergen, set()).add(name)
    return {
        cast(Gear, kind): {allergen: tuple(sorted(allergens[allergen])) for allergen in EU_ALLERGENS if allergen in allergens}
        for kind, allergens in found.items()
    }
