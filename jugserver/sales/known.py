"""What a site sells and where: drinks with their sizes, places, and what names of tills were said to mean."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django.db.models import F
from django.utils import timezone

from jugcore.planning.sales.columns import Columns
from jugcore.planning.sales.names import item_key
from jugcore.planning.sales.report import KnownDrinkIn, LayoutIn, MeantIn, SalesAsk
from jugcore.planning.sales.table import plain
from jugserver.accounts.models import Site
from jugserver.drinks.models import Drink, DrinkSave
from jugserver.drinks.served import served_versions
from jugserver.sales.models import SalesLayout, SoldAtName, SoldName
from jugserver.sales.schemas import NameMeans, PlaceMeans, SalesFileIn, SoldDrink, SoldSize
from jugserver.stock.models import Place

#: Layouts that are looked through, the last used first.
_MOST_LAYOUTS = 50


def drinks_sold(site: Site) -> list[SoldDrink]:
    """Every drink that is not archived, with its sizes as it is served, else as it is drafted; by name."""
    documents: dict[Any, dict[str, Any]] = {
        row["drink"]: row["document"]
        for row in DrinkSave.objects.filter(drink__site=site, drink__archived_at__isnull=True, number=F("drink__draft")).values("drink", "document")
    }
    documents |= {version.drink_id: version.document for version in served_versions(site)}
    names = dict(Drink.objects.filter(pk__in=documents).values_list("pk", "name"))
    found = [SoldDrink(id=id, name=names[id], sizes=sizes_of(document)) for id, document in documents.items()]
    return sorted(found, key=lambda each: each.name)


def sizes_of(document: dict[str, Any]) -> list[SoldSize]:
    """The sizes of a drink's document."""
    return [SoldSize(id=size["id"], name=size["name"]) for size in document["sizes"]]


def asked_of(site: Site, file: SalesFileIn) -> SalesAsk:
    """A file with everything this site knows, what is said with it before what was said earlier."""
    items = {
        row.key: MeantIn(drink="" if row.drink_id is None else str(row.drink_id), size=row.size, left_out=row.left_out)
        for row in SoldName.objects.filter(site=site)
    }
    items |= {
        each.key: MeantIn(drink="" if each.drink is None else str(each.drink), size=each.size or "", left_out=each.left_out) for each in file.items
    }
    said = {row.words: str(row.place_id) for row in SoldAtName.objects.filter(site=site, place__archived_at__isnull=True)}
    said |= {plain(each.words): str(each.place) for each in file.places}
    return SalesAsk(
        name=file.name, base64=file.base64, today=timezone.localdate(), columns=file.columns,
        layouts=tuple(LayoutIn(labels=tuple(row.labels), columns=Columns.model_validate(row.columns))
                      for row in SalesLayout.objects.filter(site=site)[:_MOST_LAYOUTS]),
        drinks=tuple(KnownDrinkIn(id=str(each.id), name=each.name, sizes={size.id: size.name for size in each.sizes}) for each in drinks_sold(site)),
        places={str(row.pk): row.name for row in Place.objects.filter(site=site, archived_at__isnull=True)},
        items=items, places_said=said,
    )  # fmt: skip


def remember(site: Site, labels: list[str], columns: Columns, items: Iterable[NameMeans], places: Iterable[PlaceMeans]) -> None:
    """Keep what was said of a file's columns and names for the next one like it."""
    SalesLayout.objects.update_or_create(
        site=site, labels=sorted(labels), defaults={"columns": columns.model_dump(mode="json"), "used_at": timezone.now()}
    )
    for item in items:
        meant = {"drink_id": None, "size": "", "left_out": True} if item.left_out else {"drink_id": item.drink, "size": item.size, "left_out": False}
        SoldName.objects.update_or_create(site=site, key=item.key, defaults=meant)
    for place in places:
        SoldAtName.objects.update_or_create(site=site, words=plain(place.words), defaults={"place_id": place.place})


def key_of(drink: str, size: str = "") -> str:
    """Under what a name is remembered."""
    return item_key(drink, size)
