"""Prices of many ingredients in one table: read, entered, as a file."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from django.db import transaction
from django.db.models import F, Prefetch, Q
from django.http import Http404

from jugcore.errors import BadDocument, DomainError, together
from jugcore.matter.substance import MADE
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.drinks.models import Drink, DrinkSave
from jugserver.exchange.tables import csv_text
from jugserver.formulas.models import FormulaState
from jugserver.money.schemas import PriceIn, PriceRow, PricesOut
from jugserver.pantry.models import Ingredient, Pack
from jugserver.pantry.services import add_pack


def prices_of(site: Site) -> PricesOut:
    """Every ingredient that the site uses or has a price for."""
    used = _used(site)
    known = Q(site=site, price_per_kg__isnull=False) | Q(key__in=list(used))
    found = Ingredient.objects.seen_by(site).exclude(kind__in=[MADE, "water"]).filter(known)
    rows = [
        _row(each, used[each.key])
        for each in found.prefetch_related(Prefetch("packs", Pack.objects.select_related("supplier").order_by("-since", "-id")))
    ]
    rows.sort(key=lambda row: (not (row.used_in and row.price_per_kg is None), row.title.casefold()))
    return PricesOut(rows=rows, without=sum(row.used_in > 0 and row.price_per_kg is None for row in rows))


def _used(site: Site) -> Counter[str]:
    """In how many formulas and drinks each ingredient stands, as they are now."""
    found: Counter[str] = Counter()
    for uses in FormulaState.objects.filter(site=site, archived=False).values_list("uses", flat=True):
        found.update(set(uses))
    drafts: Any = DrinkSave.objects.filter(drink__in=Drink.objects.of_site(site), number=F("drink__draft"))
    for document in drafts.values_list("document", flat=True):
        found.update({each["substance"] for each in document.get("components", ())})
    return found


def _row(row: Ingredient, used_in: int) -> PriceRow:
    packs = list(row.packs.all())
    newest = packs[0] if packs else None
    return PriceRow(
        substance=row.key, title=row.title, kind=row.kind, used_in=used_in,
        name=newest.name if newest else None, supplier=str(newest.supplier or "") if newest else None,
        mass_g=float(newest.mass_g) if newest else None, price=float(newest.price) if newest else None, since=newest.since if newest else None,
        price_per_kg=None if row.price_per_kg is None else float(row.price_per_kg), before=_per_kg(packs[1]) if len(packs) > 1 else None,
    )  # fmt: skip


def _per_kg(pack: Pack) -> float:
    return float(pack.price) * 1000 / float(pack.mass_g)


def save_prices(*, actor: User, rows: Sequence[PriceIn]) -> PricesOut:
    """Keep prices of many ingredients, all or none.

    Raises SeveralProblems (or the single one) with everything that is wrong, each at ``rows.<number>.…``; nothing is kept then.
    """
    policies.require(actor, "edit_pantry")
    problems: list[DomainError] = []
    twice = [substance for substance, count in Counter(row.substance for row in rows).items() if count > 1]
    with transaction.atomic():
        for number, row in enumerate(rows):
            if row.substance in twice:
                problems.append(BadDocument(f"rows.{number}.substance", "This ingredient is there twice.", "Keep one of the two."))
                continue
            try:
                add_pack(actor=actor, key=row.substance, pack=row)
            except DomainError as error:
                problems.append(error.at_field(f"rows.{number}.{error.field}"))
            except Http404:
                problems.append(BadDocument(f"rows.{number}.substance", "There is no such ingredient here.", "Choose one of the list."))
        if problems:
            transaction.set_rollback(True)
    if problems:
        raise together(problems)
    assert actor.site is not None
    return prices_of(actor.site)


def prices_csv(site: Site) -> str:
    """Every price as a table for other programs."""
    head = ["ingredient", "pack", "supplier", "grams", "price", "since", "price per kg", "used in"]
    rows = [
        [row.title, row.name, row.supplier, row.mass_g, row.price, row.since, row.price_per_kg, row.used_in] for row in prices_of(site).rows
    ]  # fmt: skip
    return csv_text(head, rows)
