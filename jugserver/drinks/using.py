"""Where a formula goes into drinks, and how much of it into a cup of each size."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from uuid import UUID

from django.db.models import F
from django.http import Http404

from jugcore.drinks.document import DrinkDocument, load_drink
from jugcore.drinks.poured import pour
from jugcore.errors import DomainError
from jugserver.accounts.models import Site
from jugserver.drinks.models import Drink, DrinkSave
from jugserver.drinks.pouring import cup_in
from jugserver.drinks.schemas import InDrinkUse, UseInSize
from jugserver.drinks.served import served_versions
from jugserver.formulas.models import Formula


def drinks_using(site: Site, formula: UUID) -> list[InDrinkUse]:
    """The drinks that any version of a formula goes into: as each is served, else as it is drafted. Raises Http404 for another site's."""
    if not Formula.objects.of_site(site).filter(pk=formula).exists():
        raise Http404
    served = {each.drink_id: each for each in served_versions(site)}
    found = [use for each in served.values() for use in _uses(load_drink(each.document), site, formula, each.drink_id, each.number)]
    drafts: Any = DrinkSave.objects.filter(drink__in=Drink.objects.of_site(site), number=F("drink__draft")).exclude(drink__in=list(served))
    for draft in drafts:
        found += _uses(load_drink(draft.document), site, formula, draft.drink_id, None)
    return sorted(found, key=lambda each: (each.name.casefold(), each.uses))


def _uses(drink: DrinkDocument, site: Site, formula: UUID, id: UUID, version: int | None) -> Iterator[InDrinkUse]:
    """One for each version of the formula that is in the cup; nothing of a draft that cannot be poured yet."""
    prefix = f"made-{formula}-"
    if not any(each.substance.startswith(prefix) for each in drink.components):
        return
    try:
        poured = pour(cup_in(drink, site))
    except DomainError:
        return
    grams: dict[int, list[float]] = {}
    for component in poured.cup.components:
        made = poured.cup.substance_of(component.id).made
        if made is not None and made.version.formula == str(formula):
            so_far = grams.get(made.version.version, [0.0] * poured.sizes)
            grams[made.version.version] = [a + float(b) for a, b in zip(so_far, poured.grams(component.id), strict=True)]
    for number, each in grams.items():
        sizes = [UseInSize(id=size.id, name=size.name, grams=g or None) for size, g in zip(poured.cup.sizes, each, strict=True)]
        yield InDrinkUse(drink=id, name=drink.name, version=version, uses=number, sizes=sizes)
