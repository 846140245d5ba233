"""What a site's other formulas put into its equipment, for allergens that are carried over."""

from __future__ import annotations

from datetime import datetime
from functools import lru_cache

from django.db.models import Count, Max

from jugcore.errors import DomainError
from jugcore.formula.shared import SharedAllergen, carried, gear_seen
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import GEAR_TITLES, Gear, Kitchen
from jugcore.method.walk import Walk, walk
from jugserver.accounts.models import Site
from jugserver.formulas.models import Formula
from jugserver.formulas.schemas import GearOut
from jugserver.formulas.services import in_kitchen
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.models import Ingredient
from jugserver.pantry.placing import placed

_Stamp = tuple[int, datetime | None, int, datetime | None]
_Seen = dict[str, dict[Gear, tuple[str, ...]]]
_known: dict[int, tuple[_Stamp, _Seen]] = {}


def shared_of(site: Site, walked: Walk, name: str) -> list[SharedAllergen]:
    """Allergens that may come into a formula by equipment, its own formula of that name left out."""
    elsewhere: dict[Gear, dict[str, list[str]]] = {}
    for other, seen in _seen_by(site).items():
        for gear, allergens in seen.items() if other != name else ():
            for allergen in allergens:
                elsewhere.setdefault(gear, {}).setdefault(allergen, []).append(other)
    return carried(walked, elsewhere)


def gear_of_site(site: Site) -> list[GearOut]:
    """Each kind of equipment that a formula puts an allergen into, and which formulas do."""
    found: dict[Gear, dict[str, list[str]]] = {}
    for name, seen in _seen_by(site).items():
        for gear, allergens in seen.items():
            for allergen in allergens:
                found.setdefault(gear, {}).setdefault(allergen, []).append(name)
    return [GearOut(gear=gear, title=GEAR_TITLES[gear], allergens=found[gear]) for gear in GEAR_TITLES if gear in found]


def _seen_by(site: Site) -> _Seen:
    """Of each formula what it puts into which equipment; kept in this process until a formula, the kitchen or the pantry changes."""
    told = Formula.objects.of_site(site).aggregate(many=Count("pk"), last=Max("touched_at"))
    kitchen = kitchen_of(site)
    pantry = Ingredient.objects.of_site(site).aggregate(last=Max("changed_at"))  # what an ingredient brings may be written down later
    stamp = (told["many"], told["last"], kitchen.number, pantry["last"])
    known = _known.get(site.pk)
    if known is None or known[0] != stamp:
        formulas = list(Formula.objects.of_site(site).with_draft().order_by("name"))
        documents = placed([MethodDocument.model_validate(formula.document) for formula in formulas], site)
        seen = {
            formula.name: _seen_in(document.model_dump_json(exclude_none=True), kitchen.kitchen)
            for formula, document in zip(formulas, documents, strict=True)
        }  # fmt: skip
        known = _known[site.pk] = (stamp, seen)
    return known[1]


@lru_cache(maxsize=4096)
def _seen_in(document: str, kitchen: Kitchen) -> dict[Gear, tuple[str, ...]]:
    try:
        return gear_seen(walk(in_kitchen(MethodDocument.model_validate_json(document), kitchen)))
    except DomainError:
        return {}  # a draft that does not walk says so on its own bench
