"""A row for every supplier that a pack, a lot or their history names, however its letters are written; and the formula of what is made here."""

from __future__ import annotations

from typing import Any

from django.db import migrations
from django.utils import timezone

from jugserver.tracking.seeding import there_before


def make_rows(apps: Any, editor: Any) -> None:
    supplier = apps.get_model("pantry", "Supplier")
    found: dict[tuple[int, str], Any] = {}
    for name, still in (("Pack", True), ("Lot", True), ("PackChange", False), ("LotChange", False)):
        model = apps.get_model("pantry", name)
        sites = dict(apps.get_model("pantry", "Ingredient").objects.filter(site__isnull=False).values_list("id", "site"))
        for row in model.objects.exclude(supplier="").iterator():
            words, site = " ".join(row.supplier.split()), sites.get(row.ingredient_id)
            if not words or site is None:
                continue
            key = site, words.lower()
            if key not in found:
                # Those that only the history names are bought from no more.
                found[key] = supplier.objects.create(site_id=site, name=words, archived_at=None if still else timezone.now())
            model.objects.filter(pk=row.pk).update(supplier_row=found[key])


def take_formula(apps: Any, editor: Any) -> None:
    ingredient = apps.get_model("pantry", "Ingredient")
    for row in ingredient.objects.filter(kind="made").iterator():
        ingredient.objects.filter(pk=row.pk).update(made_from=row.document["made_from"]["version"]["formula"])


class Migration(migrations.Migration):
    dependencies = [("pantry", "0005_suppliers")]

    operations = [
        migrations.RunPython(make_rows, migrations.RunPython.noop),
        migrations.RunPython(take_formula, migrations.RunPython.noop),
        there_before("pantry", "Supplier"),
    ]
