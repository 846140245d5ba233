"""Reading and changing a site's kitchen."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from django.db import transaction

from jugcore.errors import BadDocument
from jugcore.method.kitchen import Kitchen
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.config.problems import Conflict
from jugserver.kitchen.models import Burner, Pot, Scale, SharedGear, Sieve, SiteKitchen, Thing
from jugserver.kitchen.schemas import KitchenOut

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
_THINGS: dict[str, tuple[type[Thing], tuple[str, ...]]] = {
    "pots": (Pot, ("tare_g", "diameter_cm", "capacity_ml")),
    "burners": (Burner, ("power_w", "efficiency")),
    "scales": (Scale, ("capacity_g", "resolution_g")),
    "sieves": (Sieve, ("mesh_um",)),
    "shared": (SharedGear, ("gear", "saw")),
}


def kitchen_of(site: Site) -> KitchenOut:
    """A site's kitchen as the core knows it; a plain one until somebody sets it.

    Kept in this process by its number and time of change, so that a walk costs one
    small query instead of five. The time is needed beside the number: a change that
    is rolled back leaves its number to another.
    """
    stamp = SiteKitchen.objects.filter(site=site).values_list("number", "changed_at").first()
    known = _known.get(site.pk)
    if known is None or known[0] != stamp:
        known = (stamp, _read(site))
        _known[site.pk] = known
    return known[1]


_known: dict[int, tuple[tuple[int, datetime] | None, KitchenOut]] = {}


def _read(site: Site) -> KitchenOut:
    row = SiteKitchen.objects.filter(site=site).prefetch_related(*_THINGS).first()
    if row is None:
        return KitchenOut(number=0, kitchen=Kitchen())
    return KitchenOut(number=row.number, kitchen=_as_core(row))


def _as_core(row: SiteKitchen) -> Kitchen:
    plain: dict[str, Any] = {name: getattr(row, name) for name in _PLAIN}
    for band in ("simmer_kg_m2h", "steady_kg_m2h"):
        if getattr(row, band):
            plain[band] = getattr(row, band)
    things = {
        name: [{"id": t.key, "name": t.name, **{f: getattr(t, f) for f in fields}} for t in getattr(row, name).all()]
        for name, (_, fields) in _THINGS.items()
    }
    # What nobody described is left out, so that versions of before stay the same.
    return Kitchen.model_validate({**plain, **things, "shared": things["shared"] or None})


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
    for name, (model, fields) in _THINGS.items():
        things: Any = model._default_manager  # each model of the table has a kitchen; their common base has not
        things.filter(kitchen=row).delete()
        things.bulk_create(
            things.model(kitchen=row, key=t.id, name=t.name, position=i, **{f: getattr(t, f) for f in fields})
            for i, t in enumerate(getattr(kitchen, name) or ())
        )
    return kitchen_of(site)
