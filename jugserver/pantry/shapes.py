"""Rows of the pantry as plain data."""

from __future__ import annotations

from typing import cast

from jugcore import components as c
from jugcore.keeping.opened import good_until
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.matter import brix_of
from jugcore.matter.substance import ALLERGEN_LISTS, MADE, KnownBy, Substance
from jugcore.matter.substance_document import StrengthDoc
from jugcore.matter.substance_hazards import HAZARDS
from jugserver.pantry.models import Ingredient, Lot, Pack
from jugserver.pantry.pantry_overlay import as_priced, own_substances
from jugserver.pantry.schemas import HazardOut, HitOut, LotOut, PackOut, SubstanceOut


def hit_out(row: Ingredient) -> HitOut:
    """An ingredient in a list."""
    document = row.document
    return HitOut(
        id=row.key, title=row.title, kind=row.kind, basis=cast(KnownBy, row.basis), character=document.get("character") or "",
        allergens=document.get("allergens", []), other_form=document.get("other_form"), is_ground=document.get("is_ground", False),
        own=row.site_id is not None and not row.follows_library, price_per_kg=None if row.price_per_kg is None else float(row.price_per_kg),
    )  # fmt: skip


def substance_out(row: Ingredient) -> SubstanceOut:
    """An ingredient with everything known of it."""
    document = own_substances(row.site, [row.key])[row.key] if row.kind == MADE and row.site is not None else as_priced(row)
    substance = load_substance(row.key, document)
    shares = substance.mass_fraction
    of_site = row.site_id is not None
    packs = list(row.packs.select_related("supplier")) if of_site else []
    lots = list(row.lots.select_related("supplier")) if of_site else []
    return SubstanceOut(
        id=row.key, number=row.number if of_site and not row.follows_library else 0, own=of_site and not row.follows_library,
        in_library=row.key in library(), put_away=row.archived_at is not None, document=document, brix=brix_of(shares),
        sugars_g_per_100g=100 * float(shares @ c.SUGARS), fat_g_per_100g=100 * float(shares @ c.FAT),
        hazards=[HazardOut(code=code, words=HAZARDS[code].words, grave=HAZARDS[code].grave) for code in substance.hazards],
        allergens_by_list={title: [a for a in named if a in substance.allergens] for title, named in ALLERGEN_LISTS.values()},
        packs=[pack_out(pack) for pack in packs], lots=[lot_out(lot, substance) for lot in lots],
    )  # fmt: skip


def pack_out(pack: Pack) -> PackOut:
    supplier = str(pack.supplier or "")
    return PackOut(id=pack.pk, name=pack.name, supplier=supplier, mass_g=float(pack.mass_g), price=float(pack.price), since=pack.since)


def lot_out(lot: Lot, substance: Substance) -> LotOut:
    """A lot, and until when it is good."""
    until, why = good_until(substance.opened, opened_on=lot.opened_on, best_before=lot.best_before)
    strength = None
    if lot.strength_low is not None and lot.strength_high is not None:
        strength = StrengthDoc(low=lot.strength_low, high=lot.strength_high)
    return LotOut(
        id=lot.pk, code=lot.code, supplier=str(lot.supplier or ""), origin=lot.origin, mass_g=lot.mass_g,
        received_on=lot.received_on, opened_on=lot.opened_on,
        best_before=lot.best_before, used_up_on=lot.used_up_on, tasting_notes=lot.tasting_notes, strength=strength,
        brix=lot.brix, ph=lot.ph, good_until=until, good_until_why=why,
    )  # fmt: skip
