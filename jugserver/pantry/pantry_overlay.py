"""A site's own ingredients and prices, put into a document before it is walked."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import F, Q

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
    rows = Ingredient.objects.of_site(site).filter(key__in=sorted(keys)).only("key", "document", "price_per_kg")
    return {row.key: as_priced(row) for row in rows}


def own_keys(site: Site, keys: Iterable[str]) -> set[str]:
    """Which of some keys the site's pantry has today."""
    return set(Ingredient.objects.of_site(site).filter(key__in=sorted(keys), archived_at__isnull=True).values_list("key", flat=True))


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
