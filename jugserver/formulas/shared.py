"""What a site's other formulas put into its equipment, for allergens that are carried over."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from django.db import connection

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
from jugserver.pantry.placing import placed

#: What the answer depends on: formulas, pantry, kitchen.
_Stamp = tuple[int, datetime | None, datetime | None, Kitchen]
_Seen = dict[str, dict[Gear, tuple[str, ...]]]
_known: dict[int, tuple[_Stamp, _Seen]] = {}
#: What one draft puts where, by the draft, the pantry and the kitchen it was walked with.
_each: dict[tuple[UUID, int, datetime | None, Kitchen], dict[Gear, tuple[str, ...]]] = {}
_MOST_KNOWN = 8192
#: Written out, since to put it together anew would take longer than to run it.
_STAMPED = """
    SELECT (SELECT count(*) FROM formulas_formula WHERE site_id = %s AND archived_at IS NULL),
           (SELECT max(touched_at) FROM formulas_formula WHERE site_id = %s AND archived_at IS NULL),
           (SELECT max(changed_at) FROM pantry_ingredient WHERE site_id = %s)
"""


def shared_of(site: Site, walked: Walk, name: str) -> list[SharedAllergen]:
    """Allergens that may come into a formula by equipment, its own formula of that name left out."""
    elsewhere: dict[Gear, dict[str, list[str]]] = {}
    for other, seen in _seen_by(site, walked.kitchen).items():
        for gear, allergens in seen.items() if other != name else ():
            for allergen in allergens:
                elsewhere.setdefault(gear, {}).setdefault(allergen, []).append(other)
    return carried(walked, elsewhere)


def gear_of_site(site: Site) -> list[GearOut]:
    """Each kind of equipment that a formula puts an allergen into, and which formulas do."""
    found: dict[Gear, dict[str, list[str]]] = {}
    for name, seen in _seen_by(site, kitchen_of(site).kitchen).items():
        for gear, allergens in seen.items():
            for allergen in allergens:
                found.setdefault(gear, {}).setdefault(allergen, []).append(name)
    return [GearOut(gear=gear, title=GEAR_TITLES[gear], allergens=found[gear]) for gear in GEAR_TITLES if gear in found]


def _seen_by(site: Site, kitchen: Kitchen) -> _Seen:
    """Of each formula what it puts into which equipment; kept in this process until a formula, the kitchen or the pantry changes.

    What an ingredient brings may be written down later, so that the pantry counts.
    """
    with connection.cursor() as cursor:
        cursor.execute(_STAMPED, [site.pk] * 3)
        many, last, pantry = cursor.fetchone()
    stamp = (many, last, pantry, kitchen)
    known = _known.get(site.pk)
    if known is None or known[0] != stamp:
        known = _known[site.pk] = (stamp, _of_each(site, pantry, kitchen))
    return known[1]


def _of_each(site: Site, pantry: datetime | None, kitchen: Kitchen) -> _Seen:
    """What each formula puts where; only those are walked whose draft is new."""
    drafts = list(Formula.objects.of_site(site).order_by("name").values_list("pk", "name", "draft"))
    new = [pk for pk, _, draft in drafts if (pk, draft, pantry, kitchen) not in _each]
    if new:
        rows = list(Formula.objects.of_site(site).with_draft().filter(pk__in=new))
        documents = placed([MethodDocument.model_validate(row.document) for row in rows], site)
        if len(_each) > _MOST_KNOWN:
            _each.clear()
            return _of_each(site, pantry, kitchen)
        for row, document in zip(rows, documents, strict=True):
            _each[row.pk, row.draft, pantry, kitchen] = _seen_in(document, kitchen)
    # A draft saved between the two looks is read at the next.
    return {name: _each.get((pk, draft, pantry, kitchen), {}) for pk, name, draft in drafts}


def _seen_in(document: MethodDocument, kitchen: Kitchen) -> dict[Gear, tuple[str, ...]]:
    try:
        return gear_seen(walk(in_kitchen(document, kitchen)))
    except DomainError:
        return {}  # a draft that does not walk says so on its own bench
