"""Cards of what is served: doses, how a drink is built, allergens and nutrition; on paper and on the bar's tablet."""

from __future__ import annotations

from uuid import UUID

from django.utils import timezone

from jugcore.drinks.cards import DoseCard, build_card, dose_card, sheet_of
from jugcore.drinks.cup import Cup
from jugcore.drinks.document import load_drink
from jugcore.drinks.poured import pour
from jugcore.errors import BadDocument
from jugserver.accounts.models import Site
from jugserver.drinks.models import DrinkSave, DrinkVersion
from jugserver.drinks.pouring import cup_in
from jugserver.drinks.served import served_versions
from jugserver.drinks.services import drink_of
from jugserver.exchange.drink_cards import Paper, build_card_pdf, dose_card_pdf, sheet_pdf


def doses_of(site: Site) -> DoseCard:
    """Doses of everything that is served."""
    return dose_card(_served(site))


def doses_on_paper(site: Site, paper: Paper) -> bytes:
    """The dose card."""
    return dose_card_pdf(dose_card(_some(site)), paper=paper, site=site.name, printed=timezone.localdate())


def sheet_on_paper(site: Site, paper: Paper) -> bytes:
    """What is served, with its allergens and what a cup gives."""
    return sheet_pdf(sheet_of([pour(cup) for cup in _some(site)]), paper=paper, site=site.name, printed=timezone.localdate())


def build_on_paper(site: Site, id: UUID, paper: Paper) -> bytes:
    """How a drink is built: by the version that is served, else by its draft, which says so."""
    drink = drink_of(site, id)
    if drink.served_version is not None:
        document = load_drink(DrinkVersion.objects.get(drink=id, number=drink.served_version).document)
        which = f"Version {drink.served_version}"
    else:
        document = load_drink(DrinkSave.objects.get(drink=id, number=drink.draft).document)
        which = f"Draft {drink.draft}, not ready for service"
    card = build_card(pour(cup_in(document, site)))
    return build_card_pdf(card, paper=paper, version=which, printed=timezone.localdate())


def _some(site: Site) -> list[Cup]:
    """What is served. Raises BadDocument where nothing is."""
    found = _served(site)
    if not found:
        raise BadDocument("drinks", "No drink is ready for service yet.", "Save a version of a drink, and mark it as ready for service.")
    return found


def _served(site: Site) -> list[Cup]:
    """The newest version that is ready for service of every drink, by name."""
    # A version carries its kitchen and all that goes in: nothing of today is asked.
    return [cup_in(load_drink(each.document), site) for each in served_versions(site)]
