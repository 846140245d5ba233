"""Reading and changing a site's kitchen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import connection, transaction
from django.db.models import Prefetch
from django.http import Http404
from django.utils import timezone

from jugcore.batch.sheet.equipment import Met
from jugcore.errors import BadDocument
from jugcore.matter.substance import EU_ALLERGENS
from jugcore.method.kitchen import Kitchen
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.http.problems import Conflict
from jugserver.kitchen.models import Burner, GearCleaned, GearMet, Pot, Scale, SharedGear, Sieve, SiteKitchen, Thing
from jugserver.kitchen.schemas import KitchenOut
from jugserver.kitchen.signals import kitchen_saved
from jugserver.process.kept import Kept

_PLAIN = (
    "altitude_m",
    "room_c",
    "fridge_c",
    "measures",
    "film_g",
    "cake_uptake_g_per_g",
    "efficiency_spread",
    "pump_ml",
    "holding_c",
    "chilled_days",
)


@dataclass(frozen=True)
class _Rows:
    """Where a kitchen's things of one sort are kept: their table, its name seen from the kitchen, and field → column."""

    model: type[Thing]
    related: str
    columns: Mapping[str, str]


def _rows(model: type[Thing], related: str, *fields: str, **named: str) -> _Rows:
    return _Rows(model, related, {field: field for field in fields} | named)


_THINGS: dict[str, _Rows] = {
    "pots": _rows(Pot, "pots", "tare_g", "diameter_cm", "capacity_ml"),
    "burners": _rows(Burner, "burners", "power_w", "efficiency"),
    "scales": _rows(Scale, "scales", "capacity_g", "resolution_g"),
    "sieves": _rows(Sieve, "sieves", "mesh_um"),
    "equipment": _rows(SharedGear, "shared", "holds_ml", kind="gear", allergens_met="saw"),
}


def kitchen_of(site: Site) -> KitchenOut:
    """A site's kitchen as the core knows it; a plain one until somebody sets it.

    Kept in this process by its number and time of change, so that a walk costs one
    small query instead of five. The time is needed beside the number: a change that
    is rolled back leaves its number to another.
    """
    stamp = SiteKitchen.objects.filter(site=site).values_list("number", "changed_at").first()
    known = _known.get((site.pk, stamp))
    return known if known is not None else _known.keep((site.pk, stamp), _read(site))


_known: Kept[tuple[int, tuple[int, datetime] | None], KitchenOut] = Kept(64)


def _read(site: Site) -> KitchenOut:
    there = [Prefetch(rows.related, _all_of(rows.model).filter(archived_at__isnull=True)) for rows in _THINGS.values()]
    row = SiteKitchen.objects.filter(site=site).prefetch_related(*there).first()
    if row is None:
        return KitchenOut(number=0, kitchen=Kitchen())
    return KitchenOut(number=row.number, kitchen=_as_core(row))


def _met_since_cleaned(site_id: int) -> dict[str, list[dict[str, str]]]:
    """Piece → what it met at batches since it was last washed by the allergen clean, each allergen once, the last batch named."""
    found: dict[str, list[dict[str, str]]] = {}
    with connection.cursor() as cursor:
        cursor.execute(_LAST_MET, [site_id, sorted(EU_ALLERGENS), site_id, site_id])
        for piece, allergen, title in cursor.fetchall():
            found.setdefault(piece, []).append({"allergen": allergen, "at": title})
    return found


#: Of each piece and allergen the newest batch alone is looked up, however many there were.
_LAST_MET = """
    SELECT piece.key, allergen.name, met.title
    FROM (SELECT s.key FROM kitchen_sharedgear s JOIN kitchen_sitekitchen k ON k.id = s.kitchen_id
        WHERE k.site_id = %s AND s.archived_at IS NULL) piece
    CROSS JOIN unnest(%s::text[]) allergen(name)
    CROSS JOIN LATERAL (
        SELECT title, at FROM kitchen_gearmet WHERE site_id = %s AND piece = piece.key AND allergen = allergen.name ORDER BY at DESC LIMIT 1
    ) met
    WHERE met.at > coalesce((SELECT max(at) FROM kitchen_gearcleaned WHERE site_id = %s AND piece = piece.key), '-infinity')
    ORDER BY piece.key, allergen.name
"""


@transaction.atomic
def note_met(*, site: Site, batch: UUID, title: str, met: Sequence[Met]) -> None:
    """Keep what a batch's equipment met, in place of what was kept of that batch before; kitchens read since know it."""
    kept = {(row.piece, row.allergen, row.at) for row in GearMet.objects.filter(site=site, batch=batch)}
    now = {(each.piece, each.allergen, each.at) for each in met}
    if kept == now:
        return
    # Two requests may read one batch's log at once: what both found is the same, and neither may fail over the other.
    pairs = {(piece, allergen) for piece, allergen, _ in now}
    gone = [row.pk for row in GearMet.objects.filter(site=site, batch=batch) if (row.piece, row.allergen) not in pairs]
    GearMet.objects.filter(pk__in=gone).delete()
    GearMet.objects.bulk_create(
        [GearMet(site=site, batch=batch, title=title, piece=piece, allergen=allergen, at=at) for piece, allergen, at in sorted(now)],
        update_conflicts=True, update_fields=["at", "title"], unique_fields=["site", "batch", "piece", "allergen"],
    )  # fmt: skip
    _touch(site)


@transaction.atomic
def clean_gear(*, actor: User, key: str) -> KitchenOut:
    """Log that a piece of equipment was washed by the site's allergen clean. Raises Http404 for none of this kitchen's."""
    policies.require(actor, "cook")
    site = actor.site
    assert site is not None
    if not SharedGear.objects.filter(kitchen__site=site, key=key, archived_at__isnull=True).exists():
        raise Http404
    GearCleaned.objects.create(site=site, piece=key, at=timezone.now(), by=actor)
    _touch(site)
    return kitchen_of(site)


def _touch(site: Site) -> None:
    """The kitchen is another now, though nobody edited it: what was kept of it in a process is read anew."""
    SiteKitchen.objects.filter(site=site).update(changed_at=timezone.now())


def _as_core(row: SiteKitchen) -> Kitchen:
    plain: dict[str, Any] = {name: getattr(row, name) for name in _PLAIN}
    for band in ("simmer_kg_m2h", "steady_kg_m2h"):
        if getattr(row, band):
            plain[band] = getattr(row, band)
    things = {
        name: [
            {"id": t.key, "name": t.name, **{f: getattr(t, column) for f, column in rows.columns.items()}} for t in getattr(row, rows.related).all()
        ]
        for name, rows in _THINGS.items()
    }
    met = _met_since_cleaned(row.site_id) if things["equipment"] else {}
    for piece in things["equipment"]:
        piece["met_at_batches"] = met.get(piece["id"], [])
    # What nobody described is left out, so that versions of before stay the same.
    return Kitchen.model_validate({**plain, **things, "equipment": things["equipment"] or None})


@transaction.atomic
def save_kitchen(*, actor: User, number: int, kitchen: Kitchen) -> KitchenOut:
    """Replace the kitchen of the actor's site, if nobody changed it since ``number``."""
    policies.require(actor, "edit_kitchen")
    site = actor.site
    assert site is not None  # the policy refuses people without one
    for name in _THINGS:
        keys = [thing.id for thing in getattr(kitchen, name) or ()]
        twice = next((key for key in keys if keys.count(key) > 1), None)
        if twice is not None:
            raise BadDocument(f"kitchen.{name}", f"The id “{twice}” is used twice.", "Give each its own.")
    # Locked, so that two saves at once cannot both see the old number.
    Site.objects.select_for_update().get(pk=site.pk)
    row = SiteKitchen.objects.filter(site=site).first()
    now = row.number if row else 0
    if now != number:
        raise Conflict(
            "kitchen", "Somebody changed the kitchen while you were at it.", "Look at theirs, then save yours again.",
            theirs=kitchen_of(site).model_dump(mode="json"),
        )  # fmt: skip
    values = {name: getattr(kitchen, name) for name in _PLAIN}
    values |= {band: getattr(kitchen, band).model_dump() for band in ("simmer_kg_m2h", "steady_kg_m2h")}
    row, _ = SiteKitchen.objects.update_or_create(site=site, defaults={**values, "number": number + 1})
    for name in _THINGS:
        _keep_things(row, name, getattr(kitchen, name) or ())
    kitchen_saved.send(SiteKitchen, site=site)
    return kitchen_of(site)


def _keep_things(row: SiteKitchen, name: str, things: Sequence[Any]) -> None:
    """A kitchen's pots, or what else, as they are now; what did not change is left alone, so that what is kept of changes is what changed."""
    rows = _THINGS[name]
    all_of = _all_of(rows.model)
    kept = {thing.key: thing for thing in all_of.filter(kitchen=row)}
    gone = kept.keys() - {thing.id for thing in things}
    all_of.filter(kitchen=row, key__in=gone, archived_at__isnull=True).update(archived_at=timezone.now())
    for position, thing in enumerate(things):
        values = {"name": thing.name, "position": position, **{column: getattr(thing, field) for field, column in rows.columns.items()}}
        values["archived_at"] = None
        before = kept.get(thing.id)
        if before is None:
            all_of.create(kitchen=row, key=thing.id, **values)
        elif any(getattr(before, field) != value for field, value in values.items()):
            all_of.filter(pk=before.pk).update(**values)


def _all_of(model: type[Thing]) -> Any:
    """Every row of a sort of things, archived or not: each of the models has a kitchen; their common base has not."""
    return model._default_manager.all()
