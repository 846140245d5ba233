"""What is served: the newest version of every drink that is ready for it, and what of ours a cup of those takes."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db.models import OuterRef, Subquery

from jugcore.drinks.doses import doses_by_product
from jugserver.accounts.models import Site
from jugserver.drinks.models import Drink, DrinkPart, DrinkReadiness, DrinkVersion
from jugserver.stock.models import ProductDose
from jugserver.stock.services import keep_doses


def served_versions(site: Site) -> list[DrinkVersion]:
    """The newest version that is ready for service of every drink, by name."""
    said = DrinkReadiness.objects.filter(drink_version=OuterRef("pk")).order_by("-id")
    ready: Any = DrinkVersion.objects.filter(drink__site=site, drink__archived_at__isnull=True).annotate(ready=Subquery(said.values("ready")[:1]))
    newest: dict[UUID, DrinkVersion] = {}
    for version in ready.filter(ready=True).select_related("drink").order_by("number"):
        newest[version.drink_id] = version
    return sorted(newest.values(), key=lambda each: each.drink.name)


def doses_served(site: Site) -> dict[UUID, tuple[float, float, float]]:
    """What a dose of each formula weighs in what is served [g]: least, in the middle, most."""
    parts = DrinkPart.objects.filter(drink_version__in=[each.pk for each in served_versions(site)]).values_list("uses__formula", "grams")
    return doses_by_product((formula, grams.values()) for formula, grams in parts)


def catch_up() -> None:
    """Have doses known of what was served before they were kept."""
    for site in Site.objects.filter(pk__in=Drink.objects.values("site")).exclude(pk__in=ProductDose.objects.values("site")):
        keep_doses(site, doses_served(site))
