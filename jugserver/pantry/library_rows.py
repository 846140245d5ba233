"""The library that ships with the tool, as rows beside those of the sites, so that one search finds both."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from jugcore.matter.library import library
from jugcore.matter.search_text import plain, searchable
from jugcore.matter.substance import Substance
from jugcore.matter.substance_document import as_document
from jugserver.pantry.models import Ingredient


def row_values(substance: Substance) -> dict[str, Any]:
    """A substance as the columns of its row."""
    return {
        "title": substance.title, "kind": substance.kind, "basis": substance.basis,
        "sort": plain(substance.title), "words": searchable((substance.title, *substance.also_called)),
        "document": as_document(substance).model_dump(mode="json", exclude_none=True),
    }  # fmt: skip


@transaction.atomic
def write_library(**_: Any) -> None:
    """Make the library's rows those of this release: new ones in, changed ones changed, dropped ones out.

    What a site wrote itself stays; what follows the library follows it here.
    """
    known = library()
    kept = {row.key: row for row in Ingredient.objects.library()}
    new, changed = [], []
    for key, substance in known.items():
        values = row_values(substance)
        row = kept.get(key)
        if row is None:
            new.append(Ingredient(site=None, key=key, **values))
        elif any(getattr(row, name) != value for name, value in values.items()):
            for name, value in values.items():
                setattr(row, name, value)
            changed.append(row)
    Ingredient.objects.bulk_create(new)
    columns = ["title", "kind", "basis", "sort", "words", "document"]
    Ingredient.objects.bulk_update(changed, columns)
    Ingredient.objects.library().exclude(key__in=known).delete()
    following = [row for row in Ingredient.objects.filter(follows_library=True) if row.key in known]
    for row in following:
        for name, value in row_values(known[row.key]).items():
            setattr(row, name, value)
    Ingredient.objects.bulk_update(following, columns)
