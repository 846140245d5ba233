"""Verbs on the pantry: write an ingredient of one's own, put it away, what it is bought in, the lots that stand there."""

from __future__ import annotations

import re
from datetime import date
from decimal import Decimal
from typing import Any
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.search_text import plain, searchable
from jugcore.matter.substance import MADE
from jugcore.matter.substance_document import MadeDoc, SubstanceDoc
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.http.problems import Conflict
from jugserver.pantry.models import Ingredient, Lot, Pack
from jugserver.pantry.schemas import LotIn, PackIn
from jugserver.pantry.signals import ingredient_saved, lot_saved
from jugserver.pantry.suppliers import supplier_called


def ingredient_of(site: Site, key: str) -> Ingredient:
    """A site's ingredient, put away or not, or the library's where it has none. Raises Http404."""
    row: Ingredient | None = Ingredient.objects.of_site(site).filter(key=key).first() or Ingredient.objects.library().filter(key=key).first()
    if row is None:
        raise Http404
    return row


def _made_here(field: str) -> BadDocument:
    return BadDocument(field, "This is made here and follows its formula.", "Change the formula and save a version; nothing of it is bought.")


@transaction.atomic
def keep_made_here(*, actor: User, key: str, document: SubstanceDoc) -> None:
    """Have a version of a formula among the ingredients. The versions before it are found no more, and formulas that use them keep them."""
    assert document.made_from is not None
    site = _of_site(actor)
    formula = UUID(document.made_from.version.formula)
    earlier = Ingredient.objects.of_site(site).filter(made_from=formula)
    earlier.filter(archived_at__isnull=True).exclude(key=key).update(archived_at=timezone.now())
    Ingredient.objects.update_or_create(
        site=site, key=key,
        defaults={
            "title": document.title, "kind": MADE, "made_from": formula, "basis": document.basis, "sort": plain(document.title)[:220],
            "words": searchable((document.title, *document.also_called)), "changed_by": actor, "archived_at": None,
            # Its price is that of what is in it, on the day it is asked for.
            "document": document.model_copy(update={"price_per_kg": None}).model_dump(mode="json", exclude_none=True),
        },
    )  # fmt: skip


def add_to_made_here(*, site: Site, key: str, made: MadeDoc) -> None:
    """Have with a version among the ingredients what was not known when it was kept: what making it takes, and what travels in it."""
    row = Ingredient.objects.of_site(site).get(key=key)
    before, now = row.document["made_from"], made.model_dump(mode="json")
    # What was traced then stays as it was.
    traced = {**now["tracers_g_per_g"], **before["tracers_g_per_g"]}
    Ingredient.objects.filter(pk=row.pk).update(
        document={**row.document, "made_from": {**before, "work": before.get("work", now["work"]), "tracers_g_per_g": traced}}
    )


def find_made_here(*, site: Site, formula: UUID, found: bool) -> None:
    """Have the newest version of a formula found among the ingredients, or none: its formula was archived, or brought back."""
    rows = Ingredient.objects.of_site(site).filter(made_from=formula)
    newest = rows.order_by("-id").first()
    if newest is not None:
        Ingredient.objects.filter(pk=newest.pk).update(archived_at=None if found else timezone.now())


def _of_site(actor: User) -> Site:
    assert actor.site is not None  # the policies refuse people without one
    return actor.site


@transaction.atomic
def save_ingredient(*, actor: User, key: str | None, number: int, document: SubstanceDoc) -> Ingredient:
    """Write an ingredient of the site's own, or its own reading of one of the library; ``number`` is that it was read at, 0 for none.

    Raises Conflict if somebody changed it since, and what its composition raises.
    """
    policies.require(actor, "edit_pantry")
    site = _of_site(actor)
    title = document.title.strip()
    if not title:
        raise BadDocument("document.title", "The ingredient has no name yet.", "Type one.")
    key = key or _new_key(site, title)
    load_substance(key, document)
    if document.kind == MADE or document.made_from is not None:
        raise _made_here("document.kind")
    Site.objects.select_for_update().get(pk=site.pk)  # so that two saves at once cannot both see the old number
    row = Ingredient.objects.of_site(site).filter(key=key).first()
    now = 0 if row is None or row.follows_library else row.number
    if now != number:
        theirs = None if row is None else {"number": now, "document": row.document}
        raise Conflict("document", "Somebody changed this ingredient while you were at it.", "Look at theirs, then save yours again.", theirs=theirs)
    twin = Ingredient.objects.seen_by(site).filter(title__iexact=title).exclude(key=key).first()
    if twin is not None:
        raise BadDocument("document.title", f"There is already an ingredient called {twin.title}.", "Choose another name.")
    row = row or Ingredient(site=site, key=key)
    if row.kind == MADE:
        raise _made_here("document")
    before = _allergens(row, key)
    row.title, row.kind, row.basis = title, document.kind, document.basis
    row.sort = plain(title)[:220]
    row.words = searchable((title, *document.also_called))
    # Prices come of packs, and stand in their own column.
    row.document = document.model_copy(update={"title": title, "price_per_kg": None}).model_dump(mode="json", exclude_none=True)
    row.follows_library, row.archived_at = False, None
    row.number = number + 1
    row.changed_by = actor
    row.save()
    ingredient_saved.send(Ingredient, site=site, key=key, allergens=_allergens(row, key) != before)
    return row


def _allergens(row: Ingredient, key: str) -> set[str]:
    """The allergens of a row as it is, of one that is not there yet those of the library."""
    of_library = library().get(key)
    return set(row.document.get("allergens", ()) if row.document else of_library.allergens if of_library is not None else ())


def _new_key(site: Site, title: str) -> str:
    """An id for documents, made of the name and kept for ever."""
    stem = re.sub(r"[^a-z0-9]+", "_", plain(title)).strip("_")[:48] or "ingredient"
    taken = set(Ingredient.objects.filter(key__startswith=f"own_{stem}", site=site).values_list("key", flat=True)) | library().keys()
    key, n = f"own_{stem}", 1
    while key in taken:
        n += 1
        key = f"own_{stem}_{n}"
    return key


@transaction.atomic
def put_away(*, actor: User, key: str) -> None:
    """Take an ingredient of the site's own out of every list; what was adapted is the library's again. Formulas keep theirs."""
    policies.require(actor, "edit_pantry")
    site = _of_site(actor)
    row = Ingredient.objects.of_site(site).filter(key=key, archived_at__isnull=True).select_for_update().first()
    if row is None or row.follows_library:
        raise Http404
    if row.kind == MADE:
        raise _made_here("key")
    before = _allergens(row, key)
    if key in library():
        _follow(row)
    else:
        row.archived_at = timezone.now()
    row.number += 1
    row.changed_by = actor
    row.save()
    ingredient_saved.send(Ingredient, site=site, key=key, allergens=_allergens(row, key) != before)


def _follow(row: Ingredient) -> None:
    """Give a site's row what the library has under its key."""
    of_library = Ingredient.objects.library().get(key=row.key)
    for name in ("title", "kind", "basis", "sort", "words", "document"):
        setattr(row, name, getattr(of_library, name))
    row.follows_library = True


def _own_row(actor: User, key: str) -> Ingredient:
    """The site's row of a key, made where only the library has one: packs and lots hang on it."""
    site = _of_site(actor)
    Site.objects.select_for_update().get(pk=site.pk)
    row = Ingredient.objects.of_site(site).filter(key=key).first()
    if row is not None and row.kind == MADE:
        raise _made_here("key")
    if row is not None:
        return row
    if key not in library():
        raise Http404
    row = Ingredient(site=site, key=key, changed_by=actor)
    _follow(row)
    row.save()
    return row


#: Nothing a shop buys costs more.
MOST_PER_KG = 1_000_000


@transaction.atomic
def add_pack(*, actor: User, key: str, pack: PackIn) -> Ingredient:
    """What it is bought in and for how much, from a day on."""
    policies.require(actor, "edit_pantry")
    row = _own_row(actor, key)
    since = pack.since or timezone.localdate()
    if since > timezone.localdate():
        raise BadDocument("since", "That day has not come yet.", "Add it on the day it holds from: until then the price stays as it is.")
    mass_g, price = Decimal(str(round(pack.mass_g, 2))), Decimal(str(round(pack.price, 4)))
    if not mass_g:
        raise BadDocument("mass_g", "A pack holds at least a hundredth of a gram.", "Give what is in it in grams.")
    if price * 1000 / mass_g > MOST_PER_KG:
        raise BadDocument("price", f"That comes to more than {MOST_PER_KG:,} per kg.", "Check the grams of the pack and its price.")
    supplier = supplier_called(_of_site(actor), pack.supplier)
    Pack.objects.create(ingredient=row, name=pack.name.strip(), supplier=supplier, since=since, mass_g=mass_g, price=price)
    return _repriced(row)


@transaction.atomic
def remove_pack(*, actor: User, key: str, pack_id: int) -> Ingredient:
    """Take a pack out that was wrong, or is bought no more."""
    policies.require(actor, "edit_pantry")
    pack = Pack.objects.filter(pk=pack_id, ingredient__site=_of_site(actor), ingredient__key=key).select_related("ingredient").first()
    if pack is None:
        raise Http404
    row = pack.ingredient
    pack.delete()
    return _repriced(row)


def _repriced(row: Ingredient) -> Ingredient:
    """The price a kilogram of its newest pack, beside it."""
    newest = row.packs.first()
    row.price_per_kg = None if newest is None else (newest.price * 1000 / newest.mass_g).quantize(Decimal("0.0001"))
    row.save(update_fields=["price_per_kg", "changed_at"])
    return row


@transaction.atomic
def save_lot(*, actor: User, key: str, lot_id: int | None, lot: LotIn) -> Lot:
    """Write down a lot, or what is new of it."""
    policies.require(actor, "keep_lots")
    row = _own_row(actor, key)
    kept = Lot(ingredient=row) if lot_id is None else Lot.objects.filter(ingredient=row, pk=lot_id).select_for_update().first()
    if kept is None:
        raise Http404
    values: dict[str, Any] = lot.model_dump()
    strength = values.pop("strength")
    kept.supplier = supplier_called(_of_site(actor), values.pop("supplier"), kept.supplier)
    kept.strength_low, kept.strength_high = (strength["low"], strength["high"]) if strength else (None, None)
    for name, value in values.items():
        setattr(kept, name, value.strip() if isinstance(value, str) else value)
    _require_possible(kept.received_on, kept.opened_on)
    try:
        with transaction.atomic():
            kept.save()
    except IntegrityError:
        raise BadDocument("code", f"There is already a lot {kept.code} of {row.title}.", "Give it a code of its own.") from None
    lot_saved.send(Lot, site=row.site, key=key)
    return kept


def _require_possible(received_on: date | None, opened_on: date | None) -> None:
    if received_on and opened_on and opened_on < received_on:
        raise BadDocument("opened_on", "It was opened before it came.", "Check the two dates.")
