"""The demo's drinks: twelve over four sizes, of what is made here, with the prices of their cups."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from jugcore.drinks.document import DrinkDocument, load_drink
from jugserver.accounts.models import Site, User
from jugserver.demo.documents import demo_document
from jugserver.drinks.models import Drink
from jugserver.drinks.services import start_drink
from jugserver.drinks.versions import save_version, say_ready
from jugserver.formulas.made_here import made_key
from jugserver.formulas.models import Formula

_TOLD = Path(__file__).parent / "drinks.json"
#: The one that is looked at first is loaded last.
_SERVED = "Ferry Latte"
#: Tried still: its cream is near to curdling in the tea.
_NOT_YET = frozenset({"Pear Cream Tea"})


def load_drinks(lead: User) -> bool:
    """Keep the drinks, each as a first version, unless the site has any; whether it had none."""
    site = lead.site
    assert site is not None
    if Drink.objects.filter(site=site).exists():
        return False
    told = json.loads(_TOLD.read_text(encoding="utf-8"))
    for drink in sorted(told["drinks"], key=lambda each: each["name"] == _SERVED):
        kept = start_drink(actor=lead, document=_document(drink, told["sizes"], site))
        save_version(actor=lead, id=kept.id, draft=1, note="On the board.")
        if drink["name"] not in _NOT_YET:
            say_ready(actor=lead, id=kept.id, number=1, ready=True, reason="Served since the festival; what is in it is made fresh.")
    return True


def _document(told: dict[str, Any], sizes: list[dict[str, Any]], site: Site) -> DrinkDocument:
    more = {name: value for name, value in told.items() if name not in ("name", "prices", "components", "levels")}
    return load_drink({
        "name": told["name"],
        "sizes": [{**size, "price": price} for size, price in zip(sizes, told["prices"], strict=True)],
        "components": [_substance(each, site) for each in told["components"]],
        "levels": [_substance(each, site) for each in told.get("levels", ())],
        **more,
    })  # fmt: skip


def _substance(told: dict[str, Any], site: Site) -> dict[str, Any]:
    """What is told, with the newest version of the formula of the demo that it is made of, where it names one."""
    if "made" not in told:
        return told
    formula = Formula.objects.get(site=site, name=demo_document(told["made"]).name)
    found = {name: value for name, value in told.items() if name != "made"}
    return {**found, "substance": made_key(formula.pk, formula.versions.first().number)}  # type: ignore[union-attr]  # the demo kept a version of each
