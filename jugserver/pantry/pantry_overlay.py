"""A site's own ingredients and prices, put into a document before it is walked."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from django.db.models import F, Q

from jugcore.matter.made_today import Today, as_of_today
from jugcore.matter.substance import MADE
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.document import MethodDocument
from jugserver.accounts.models import Site
from jugserver.pantry.models import Ingredient


def keys_in(document: MethodDocument) -> set[str]:
    """Ids of substances a document's lines name and it does not carry itself."""
    named = {line.substance for stage in document.stages for line in stage.ingredients}
    return named - document.substances.keys()


def own_substances(site: Site, keys: Iterable[str]) -> dict[str, SubstanceDoc]:
    """What a site has of its own under some keys: its compositions, and its prices. One query.

    Put-away ones are among them: a formula that uses one still has to be walked.
    """
    rows = list(Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).only("key", "kind", "document", "price_per_kg"))
    found = {row.key: as_priced(row) for row in rows}
    made = [key for key, document in found.items() if document.made_from is not None]
    return {**found, **_of_today(site, {key: found[key] for key in made})} if made else found


def _of_today(site: Site, made: Mapping[str, SubstanceDoc]) -> dict[str, SubstanceDoc]:
    """What was made here, by today's prices of what it is made of; and an allergen that was found out since counts at once. One query."""
    today = today_of(site, {each.substance for document in made.values() if document.made_from for each in document.made_from.contents})
    return {key: as_of_today(document, today) for key, document in made.items()}


def today_of(site: Site, keys: Iterable[str]) -> dict[str, Today]:
    """Prices and allergens of what a site has of its own under some keys, as they are today. One query."""
    rows = Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).values_list("key", "price_per_kg", "document__allergens")
    return {key: Today(None if price is None else float(price), allergens or ()) for key, price, allergens in rows}


def own_keys(site: Site, keys: Iterable[str]) -> set[str]:
    """Which of some keys the site's pantry has today."""
    there = Q(archived_at__isnull=True) | Q(kind=MADE)  # an earlier version is kept for whoever uses it
    return set(Ingredient.objects.of_site(site).filter(there, key__in=sorted(keys)).values_list("key", flat=True))


def titles_of(site: Site, keys: Iterable[str]) -> dict[str, str]:
    """What some ingredients are called here, the put-away ones too."""
    rows = Ingredient.objects.filter(Q(site=site) | Q(site__isnull=True), key__in=sorted(keys)).order_by(F("site").asc(nulls_first=True))
    return dict(rows.values_list("key", "title"))


def as_priced(row: Ingredient) -> SubstanceDoc:
    """A row as a document carries it, with the price of its pack."""
    return SubstanceDoc.model_validate({**row.document, "price_per_kg": None if row.price_per_kg is None else float(row.price_per_kg)})


def with_pantry(documents: list[MethodDocument], site: Site) -> list[MethodDocument]:
    """Documents with what their lines name of this site's own pantry in them, all in one query."""
    wanted = [keys_in(document) for document in documents]
    own = own_substances(site, set().union(*wanted)) if any(wanted) else {}
    if not own:
        return documents
    return [
        document.model_copy(update={"substances": {**{key: own[key] for key in sorted(keys) if key in own}, **document.substances}})
        for document, keys in zip(documents, wanted, strict=True)
    ]
