"""What a site's other formulas put into its equipment, for allergens that are carried over."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, cast
from uuid import UUID

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
#: Of one formula: kind, which ingredients it meets, which allergens of those that the document carries itself.
_Gear = tuple[tuple[Gear, tuple[str, ...], frozenset[str]], ...]
_NOTHING: frozenset[str] = frozenset()
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


@dataclass(frozen=True)
class _Held:
    """What a site's formulas put where, read up to a number; never changed, only followed by another."""

    number: int
    rows: Mapping[UUID, tuple[str, _Gear]]
    brings: Mapping[str, frozenset[str]]
    seen: _Seen


_held: Kept[int, _Held] = Kept(16)
_FROM_NOTHING = _Held(0, {}, {}, {})


def _seen_at(site: Site) -> _Seen:
    """What the site's formulas put into which equipment; kept in this process until that is another."""
    number = FormulasMoved.objects.filter(pk=site.pk).values_list("number", flat=True).first() or 0
    held = _held.get(site.pk)
    # A number that went back is of a transaction that was not kept.
    if held is None or held.number > number:
        held = _FROM_NOTHING
    return (held if held.number == number and number else _held.keep(site.pk, _read(site, number, held))).seen


def _read(site: Site, number: int, held: _Held) -> _Held:
    """Read off what was worked out of those formulas that are others since. What an ingredient brings is looked up as it is written
    down today; where that is another, everything is put together anew."""
    keep_states(site, list(with_draft(Formula.objects.of_site(site).filter(state__core_version=""))))  # of before there were states
    rows, changed = dict(held.rows), set()
    found = FormulaState.objects.filter(site=site, gear_number__gt=held.number)
    for pk, name, put_away, gear in found.values_list("pk", "name", "archived", "gear"):
        rows.pop(pk, None)
        changed.add(pk)
        if gear and not put_away:
            rows[pk] = name, _gear(gear)
    brings = _brought(site, {key for _, gear in rows.values() for _, keys, _ in gear for key in keys})
    if any(brings[key] != known for key, known in held.brings.items() if key in brings):
        held, changed = _FROM_NOTHING, set(rows)
    less, more = (_places(held.rows, changed, held.brings), _places(rows, changed, brings))
    seen = {kind: dict(allergens) for kind, allergens in held.seen.items()}
    for place in less.keys() | more.keys():
        kind, allergen = place
        names = set(seen.get(kind, {}).get(allergen, ())) - less.get(place, set()) | more.get(place, set())
        seen.setdefault(kind, {})[allergen] = tuple(sorted(names))
    ordered = {kind: {allergen: allergens[allergen] for allergen in EU_ALLERGENS if allergens.get(allergen)} for kind, allergens in seen.items()}
    return _Held(number, rows, brings, {kind: allergens for kind, allergens in ordered.items() if allergens})


def _places(rows: Mapping[UUID, tuple[str, _Gear]], of: set[UUID], brings: Mapping[str, frozenset[str]]) -> dict[tuple[Gear, str], set[str]]:
    """By gear and allergen, the names of those formulas that put it there."""
    found: dict[tuple[Gear, str], set[str]] = {}
    for pk in of & rows.keys():
        name, gear = rows[pk]
        for kind, keys, carried_in in gear:
            for allergen in carried_in.union(*(brings.get(key, _NOTHING) for key in keys)):
                found.setdefault((kind, allergen), set()).add(name)
    return found


def _gear(kept: dict[str, Any]) -> _Gear:
    return tuple((cast(Gear, kind), tuple(met["keys"]), frozenset(met["carried"])) for kind, met in kept.items())


def _brought(site: Site, keys: set[str]) -> dict[str, frozenset[str]]:
    """The allergens of some ingredients, by this site's pantry and by the library."""
    books = library()
    brings = {key: frozenset(books[key].allergens) for key in keys if key in books}
    own = Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).values_list("key", "document__allergens")
    return brings | {key: frozenset(allergens or ()) for key, allergens in own}
