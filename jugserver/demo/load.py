"""Load the demo: the site, its people, its kitchen, its formulas. Safe to call again."""

from __future__ import annotations

import json
from pathlib import Path

from django.db import transaction

from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugserver.accounts import demo as people
from jugserver.accounts.models import User
from jugserver.formulas.models import Formula
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.kitchen.models import SiteKitchen
from jugserver.kitchen.services import save_kitchen

_HERE = Path(__file__).parent
#: Loaded in this order, so that the last is the one lately touched.
FORMULAS = (
    "saline", "malic-citric-six", "tin-sweet-half", "fennel-sweet-cream", "damson-bay", "weir-simple", "ferrymans-spice",
)  # fmt: skip
#: Kept as a first version, and why.
VERSIONS = {"ferrymans-spice": "First for the bars: clear school, cooked towards 2 : 1."}


@transaction.atomic
def load() -> None:
    """Make what is missing; what somebody changed or archived stays as they left it."""
    site = people.load()
    lead = User.objects.get(username="ines")
    if not SiteKitchen.objects.filter(site=site).exists():
        save_kitchen(actor=lead, number=0, kitchen=demo_kitchen())
    for name in FORMULAS:
        document = demo_document(name)
        if not Formula.objects.filter(site=site, name=document.name).exists():
            kept = start_formula(actor=lead, document=document)
            if name in VERSIONS:
                save_version(actor=lead, id=kept.id, draft=kept.draft, note=VERSIONS[name])


def demo_kitchen() -> Kitchen:
    """The demo's kitchen."""
    return Kitchen.model_validate_json((_HERE / "kitchen.json").read_text(encoding="utf-8"))


def demo_document(name: str) -> MethodDocument:
    """One of the demo's formulas as a document."""
    return MethodDocument.model_validate(json.loads((_HERE / "formulas" / f"{name}.json").read_text(encoding="utf-8")))
