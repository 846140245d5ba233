"""Load the demo: the site, its people, its kitchen, its formulas. Safe to call again."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from django.db import transaction
from django.utils import timezone

from jugcore.batch.log.events import Event
from jugcore.batch.log.load_event import load_event
from jugcore.method.kitchen import Kitchen
from jugserver.accounts import demo as people
from jugserver.accounts.models import User
from jugserver.batches.log import Sending, append
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.batches.states import bring_up_to_date
from jugserver.demo.benchmarks import load_benchmarks
from jugserver.demo.documents import demo_document
from jugserver.demo.drinks import load_drinks
from jugserver.demo.nested import load_nested
from jugserver.demo.pantry import load_new_prices, load_pantry
from jugserver.demo.sales import load_sales, load_till
from jugserver.demo.stock import load_movements, load_places
from jugserver.formulas.models import Formula
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.kitchen.business import save_business
from jugserver.kitchen.models import SiteBusiness, SiteKitchen
from jugserver.kitchen.schemas import Business
from jugserver.kitchen.services import save_kitchen
from jugserver.tracking.who import by_command

_HERE = Path(__file__).parent
#: What the demo pays.
_BUSINESS = {"currency": "EUR", "energy_price_kwh": 0.32, "wage_h": 17.5, "container_price": 0.38, "label_price": 0.04, "least_margin": 70}
#: Loaded in this order, so that the last is the one lately touched.
FORMULAS = (
    "blossom-bridge", "pear-acid", "saline", "malic-citric-six", "tin-sweet-quarter", "tin-sweet-half", "tin-sweet-full", "coffee-crown-honey",
    "coffee-crown-sweet", "coffee-crown", "cold-brew-cream", "burnt-sugar", "dark-cocoa-orange", "malted-barley", "toasted-hazelnut",
    "coconut-pandan-foam", "black-sesame-foam", "rose-cardamom-foam", "pear-drizzle", "quince-drizzle", "burnt-honey-caramel",
    "chicory-cocoa-plain", "chicory-cocoa", "smoked-tea", "lemongrass-ginger", "fennel-sweet-cream", "damson-bay", "weir-simple", "ferrymans-spice",
)  # fmt: skip
#: Kept as a first version, and why.
VERSIONS = {
    "ferrymans-spice": "First for the bars: clear school, cooked towards 2 : 1.", "weir-simple": "Equal parts, for every bar.",
    "damson-bay": "Purée school, dissolved without boiling.", "fennel-sweet-cream": "Base for the week.", "tin-sweet-half": "The shop's half.",
    "malic-citric-six": "6 % for the fruit drinks.", "saline": "One to five.", "blossom-bridge": "Between coffee and fruit.",
    "pear-acid": "As sharp as lemon, and pear.", "tin-sweet-quarter": "The shop's quarter.", "tin-sweet-full": "The shop's full.",
    "coffee-crown-honey": "Honey, its water taken out.", "coffee-crown-sweet": "The sweeter ratio.", "coffee-crown": "The strong ratio.",
    "cold-brew-cream": "Drawn overnight.", "burnt-sugar": "Dark, and salted.", "dark-cocoa-orange": "Pieces melted, cocoa blended in.",
    "malted-barley": "From powder.", "toasted-hazelnut": "Steeped hot, pressed.", "coconut-pandan-foam": "No dairy.",
    "black-sesame-foam": "Paste in sugar first.", "rose-cardamom-foam": "From base, at service.", "pear-drizzle": "Starch, for the week's specials.",
    "quince-drizzle": "Nothing but juice, reduced.", "burnt-honey-caramel": "Honey, taken to gold.", "chicory-cocoa-plain": "Less cocoa, no enzyme.",
    "chicory-cocoa": "Enzyme school, wrapped hold.", "smoked-tea": "Five minutes, no more.", "lemongrass-ginger": "One jug, no hob.",
}  # fmt: skip
#: Lines that are weighed out of a lot of the pantry, its code, and how many days ago it was opened.
OPEN_LOTS = (("cardamom", "GC-041", 50), ("longpepper", "LP-012", 48), ("juice", "HO-118", 1))
#: What was cooked in the nine weeks before, written by :mod:`jugserver.demo.cook`.
BATCHES = _HERE / "batches.json"


@transaction.atomic
def load() -> None:
    """Make what is missing; what somebody changed or archived stays as they left it."""
    with by_command("demo"):
        _load()


def _load() -> None:
    site = people.load()
    lead = User.objects.get(username="ines")
    if not SiteKitchen.objects.filter(site=site).exists():
        save_kitchen(actor=lead, number=0, kitchen=demo_kitchen())
    if not SiteBusiness.objects.filter(site=site).exists():
        save_business(actor=lead, number=0, business=Business.model_validate(_BUSINESS))
    load_pantry(lead)
    load_places(lead)
    for name in FORMULAS:
        if name == FORMULAS[-1]:
            load_nested(lead)
        document = demo_document(name)
        if not Formula.objects.filter(site=site, name=document.name).exists():
            kept = start_formula(actor=lead, document=document)
            if name in VERSIONS:
                save_version(actor=lead, id=kept.id, draft=kept.draft, note=VERSIONS[name])
    if load_drinks(lead):
        load_new_prices(lead)
    kept_as = dict(Formula.objects.filter(site=site, versions__number=1).values_list("name", "pk"))
    load_benchmarks(lead, {name: kept_as[title] for name in FORMULAS if (title := demo_document(name).name) in kept_as})


@transaction.atomic
def load_batches(now: datetime | None = None) -> None:
    """Enter the forty batches of the nine weeks before, unless the site has any."""
    site = people.load()
    if Batch.objects.filter(site=site).exists():
        return
    today = (now or timezone.now()).replace(hour=0, minute=0, second=0, microsecond=0)
    formulas = {name: Formula.objects.get(site=site, name=demo_document(name).name) for name in FORMULAS}
    cooks = {user.username: user for user in User.objects.filter(site=site)}
    for n, told in enumerate(json.loads(BATCHES.read_text(encoding="utf-8"))):
        start = today - timedelta(days=told["days_ago"]) + timedelta(hours=told["hour"])
        batch = start_batch(actor=cooks[told["by"]], formula_id=formulas[told["formula"]].pk, version=1, at=start)
        events = [_entered(_of_its_lot(entry, told["days_ago"]) if n % 4 else entry, start) for entry in told["entries"]]
        append(actor=cooks[told["by"]], batch_id=batch.id, events=events, how=Sending(as_made=True))
    bring_up_to_date(site)  # so that the first look at the list is not the one that reads forty logs
    load_movements(cooks["rafe"])


@transaction.atomic
def load_sold(till: Callable[[str], str]) -> None:
    """Enter the nine weeks of sales, unless the site has any; start the simulated till, told where it answered before, and name it."""
    people.load()
    lead = User.objects.get(username="ines")
    with by_command("demo"):
        load_sales(lead)
        load_till(lead, till)


def _of_its_lot(entry: dict[str, Any], days_ago: int) -> dict[str, Any]:
    """An entry with the lot that stood open then, where the pantry knows it: every fourth batch nobody noted it."""
    what = entry["what"]
    lot = next((code for line, code, opened in OPEN_LOTS if line == what.get("line") and days_ago <= opened), None)
    return entry if lot is None or what["kind"] != "weighed" else {**entry, "what": {**what, "lot": lot}}


def _entered(told: dict[str, Any], start: datetime) -> Event:
    """An entry of the demo at its minute after the start."""
    entry = {name: value for name, value in told.items() if name != "minute"}
    return load_event({**entry, "at": start + timedelta(minutes=told["minute"])})


def demo_kitchen() -> Kitchen:
    """The demo's kitchen."""
    return Kitchen.model_validate_json((_HERE / "kitchen.json").read_text(encoding="utf-8"))
