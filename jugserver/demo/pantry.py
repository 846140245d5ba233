"""The demo's pantry: packs with their prices, lots, and one bought thing known by its label."""

from __future__ import annotations

import json
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from django.utils import timezone

from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.label_document import LabelDoc, label_report
from jugserver.accounts.models import User
from jugserver.pantry.models import Ingredient
from jugserver.pantry.schemas import LotIn, PackIn
from jugserver.pantry.services import add_pack, save_ingredient, save_lot

_TOLD = Path(__file__).parent / "pantry.json"


def load_pantry(lead: User) -> None:
    """Fill the site's pantry, unless it holds anything already."""
    if Ingredient.objects.filter(site=lead.site).exists():
        return
    told = json.loads(_TOLD.read_text(encoding="utf-8"))
    today = timezone.localdate()
    for pack in told["packs"]:
        _pack(lead, pack["key"], pack, today)
    for lot in told["lots"]:
        facts = {name: value for name, value in lot.items() if name not in ("key", "received", "opened", "best_before")}
        dates = {
            field: None if lot[name] is None else today - timedelta(days=lot[name])
            for field, name in (("received_on", "received"), ("opened_on", "opened"), ("best_before", "best_before"))
        }
        save_lot(actor=lead, key=lot["key"], lot_id=None, lot=LotIn.model_validate({**facts, **dates}))
    for bought in told["labels"]:
        read = label_report(LabelDoc.model_validate(bought["label"]))
        document = SubstanceDoc(
            title=bought["title"], kind=bought["kind"], basis="label", source="its own label", storage="chilled", character=bought["character"],
            allergens=tuple(bought["allergens"]), composition_g_per_100g=read.composition_g_per_100g,
            free_sugars_g_per_100g=read.free_sugars_g_per_100g,
            density_g_ml=round(read.density_g_ml.likely, 3), density_spread=0.03, note=" ".join((bought["note"], *read.says_little)),
        )  # fmt: skip
        _pack(lead, save_ingredient(actor=lead, key=None, number=0, document=document).key, bought["pack"], today)


def load_new_prices(lead: User) -> None:
    """What has become dearer since the drinks' versions were kept."""
    for pack in json.loads(_TOLD.read_text(encoding="utf-8"))["dearer"]:
        _pack(lead, pack["key"], pack, timezone.localdate())


def _pack(lead: User, key: str, told: dict[str, Any], today: date) -> None:
    facts = {name: told[name] for name in ("name", "supplier", "mass_g", "price")}
    add_pack(actor=lead, key=key, pack=PackIn(**facts, since=today - timedelta(days=told["days_ago"])))
