"""What a site's other formulas put into its equipment, for allergens that are carried over."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, cast
from uuid import UUID

from django.db.models import Count, QuerySet, Sum

from jugcore.matter.library import library
from jugcore.matter.substance import EU_ALLERGENS
from jugcore.method.kitchen import EQUIPMENT_TITLES, EquipmentKind
from jugcore.method.walk import Walk
from jugcore.reading.equipment.cross_contact import CrossContact, Others, cross_contact
from jugserver.accounts.models import Site
from jugserver.formulas.models import Formula, FormulasMoved, FormulaState
from jugserver.formulas.schemas import EquipmentOut
from jugserver.formulas.states import keep_states, with_draft
from jugserver.pantry.models import Ingredient
from jugserver.process.kept import Kept

#: EquipmentKind → allergen → names of the formulas that put it there, in their order.
_Seen = Mapping[EquipmentKind, Mapping[str, tuple[str, ...]]]
#: Of one formula: kind, which ingredients it meets, which allergens of those that the document carries itself.
_Equipment = tuple[tuple[EquipmentKind, tuple[str, ...], frozenset[str]], ...]
#: When that was last another [µs], what the formula is called, and that.
_Row = tuple[int, str, _Equipment]
_NOTHING: frozenset[str] = frozenset()
#: A list names so many formulas, and says how many more there are.
_MOST_NAMED = 12


def cross_contact_of(site: Site, walked: Walk, name: str) -> list[CrossContact]:
    """Allergens that may come into a formula by equipment, its own formula of that name left out."""
    elsewhere: dict[EquipmentKind, dict[str, Others]] = {}
    for kind, allergens in _seen_at(site).items():
        for allergen, names in allergens.items():
            others = Others(names, name)
            if others:
                elsewhere.setdefault(kind, {})[allergen] = others
    return cross_contact(walked, elsewhere)


def equipment_of_site(site: Site) -> list[EquipmentOut]:
    """Each kind of equipment that a formula puts an allergen into, and which formulas do."""
    found = _seen_at(site)
    return [
        EquipmentOut(kind=kind, title=title, allergens={allergen: _named(names) for allergen, names in found[kind].items()})
        for kind, title in EQUIPMENT_TITLES.items()
        if kind in found
    ]


def _named(names: tuple[str, ...]) -> list[str]:
    return list(names) if len(names) <= _MOST_NAMED else [*names[: _MOST_NAMED - 1], f"{len(names) - _MOST_NAMED + 1} more"]


@dataclass(frozen=True)
class _Held:
    """What a site's formulas put where, as it was at a time; never changed, only followed by another."""

    at: int | None
    rows: Mapping[UUID, _Row]
    #: The times of the rows added up.
    total: int
    brings: Mapping[str, frozenset[str]]
    seen: _Seen


_held: Kept[int, _Held] = Kept(16)
_FROM_NOTHING = _Held(None, {}, 0, {}, {})


def _seen_at(site: Site) -> _Seen:
    """What the site's formulas put into which equipment; kept in this process until that is another."""
    at = FormulasMoved.objects.filter(pk=site.pk).values_list("at", flat=True).first()
    held = _held.get(site.pk)
    return (held if held is not None and held.at == at else _held.keep(site.pk, _read(site, held or _FROM_NOTHING))).seen


def _read(site: Site, held: _Held) -> _Held:
    """Read off what was worked out of those formulas that are others since. What an ingredient brings is looked up as it is written
    down today; where that is another, everything is put together anew."""
    keep_states(site, list(with_draft(Formula.objects.of_site(site).filter(state__core_version=""))))  # of before there were states
    at = FormulasMoved.objects.filter(pk=site.pk).values_list("at", flat=True).first()
    states = FormulaState.objects.filter(site=site)
    since = {} if held.at is None else {"gear_at__gt": held.at}
    rows, changed, total = dict(held.rows), set(), held.total
    for pk, since_at, name, put_away, equipment in states.filter(**since).values_list("pk", "gear_at", "name", "archived", "gear"):
        total -= rows.pop(pk)[0] if pk in rows else 0
        changed.add(pk)
        if since_at is not None and not put_away:
            rows[pk] = since_at, name, _equipment(equipment)
    # What stands of before must be what was held, but for what was changed: else that is of a transaction that was rolled back.
    if held.at is not None and (len(rows) - len(changed & rows.keys()), total) != _sum_in(states, held.at):
        return _read(site, _FROM_NOTHING)
    total += sum(rows[pk][0] for pk in changed & rows.keys())
    keys = {*held.brings, *(key for pk in changed & rows.keys() for _, keys, _ in rows[pk][2] for key in keys)}
    brings = _brought(site, keys)
    if any(brings[key] != known for key, known in held.brings.items() if key in brings):
        held, changed = _FROM_NOTHING, set(rows)
    less, more = (_places(held.rows, changed, held.brings), _places(rows, changed, brings))
    seen = {kind: dict(allergens) for kind, allergens in held.seen.items()}
    for place in less.keys() | more.keys():
        kind, allergen = place
        names = set(seen.get(kind, {}).get(allergen, ())) - less.get(place, set()) | more.get(place, set())
        seen.setdefault(kind, {})[allergen] = tuple(sorted(names))
    ordered = {kind: {allergen: allergens[allergen] for allergen in EU_ALLERGENS if allergens.get(allergen)} for kind, allergens in seen.items()}
    return _Held(at, rows, total, brings, {kind: allergens for kind, allergens in ordered.items() if allergens})


def _sum_in(states: QuerySet[FormulaState], until: int) -> tuple[int, int]:
    """How many rows are of before a time, and their times added up."""
    found = states.filter(archived=False, gear_at__lte=until).aggregate(many=Count("gear_at"), sum=Sum("gear_at"))
    return found["many"], int(found["sum"] or 0)


def _places(rows: Mapping[UUID, _Row], of: set[UUID], brings: Mapping[str, frozenset[str]]) -> dict[tuple[EquipmentKind, str], set[str]]:
    """By kind and allergen, the names of those formulas that put it there."""
    found: dict[tuple[EquipmentKind, str], set[str]] = {}
    for pk in of & rows.keys():
        _, name, equipment = rows[pk]
        for kind, keys, carried_in in equipment:
            for allergen in carried_in.union(*(brings.get(key, _NOTHING) for key in keys)):
                found.setdefault((kind, allergen), set()).add(name)
    return found


def _equipment(kept: dict[str, Any]) -> _Equipment:
    return tuple((cast(EquipmentKind, kind), tuple(met["keys"]), frozenset(met["carried"])) for kind, met in kept.items())


def _brought(site: Site, keys: set[str]) -> dict[str, frozenset[str]]:
    """The allergens of some ingredients, by this site's pantry and by the library."""
    books = library()
    brings = {key: frozenset(books[key].allergens) for key in keys if key in books}
    own = Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).values_list("key", "document__allergens")
    return brings | {key: frozenset(allergens or ()) for key, allergens in own}
