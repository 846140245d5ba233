"""A drink ready to walk: in the site's kitchen, with what the site has of its own; and what may be asked of it without keeping anything."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from jugcore.drinks.cup import Cup, cup_of
from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.report import asked_for, drink_sizes_report, drink_ways_report, even_out_report, swaps_report
from jugcore.drinks.schema import DrinkSizesReport, DrinkWaysRequest, EvenOutRequest, SwapsRequest
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import own_substances
from jugserver.stock.rates import made_in, rates_of


def in_pantry(drinks: Sequence[DrinkDocument], site: Site, also: Iterable[str] = ()) -> list[DrinkDocument]:
    """Drinks with the site's kitchen, what it pays, and what they name of the site's own pantry in them, all in one query; what they carry stays."""
    named = [{each.substance for each in drink.components} | {each.substance for each in drink.levels} | set(also) for drink in drinks]
    own = own_substances(site, set().union(*(keys - drink.substances.keys() for keys, drink in zip(named, drinks, strict=True))))
    kitchen = kitchen_of(site).kitchen
    carried = [
        {**{key: own[key] for key in sorted(keys) if key in own}, **drink.substances} for keys, drink in zip(named, drinks, strict=True)
    ]  # fmt: skip
    # A version carries what was paid when it was kept: only the others ask.
    asks = [substances for substances, drink in zip(carried, drinks, strict=True) if drink.rates is None]
    rates = rates_of(site, set().union(*map(made_in, asks))) if asks else None
    return [
        drink.model_copy(update={"kitchen": drink.kitchen or kitchen, "rates": drink.rates or rates, "substances": substances})
        for substances, drink in zip(carried, drinks, strict=True)
    ]


def cup_in(drink: DrinkDocument, site: Site, also: Iterable[str] = ()) -> Cup:
    """A drink ready to walk at a site."""
    return cup_of(in_pantry([drink], site, also)[0])


def sizes_of_drink(*, actor: User, document: DrinkDocument) -> DrinkSizesReport:
    """Everything read of a drink over its sizes."""
    return drink_sizes_report(_cup(actor, document))


def even_out_drink(*, actor: User, document: DrinkDocument, ask: EvenOutRequest) -> str:
    """Doses that bring a reading to the same value in every size."""
    return work_out(actor.pk, even_out_report, _cup(actor, document), ask, document)


def ways_of_drink(*, actor: User, document: DrinkDocument, ask: DrinkWaysRequest) -> str:
    """Ways to bring a reading of one size to a value."""
    return work_out(actor.pk, drink_ways_report, _cup(actor, document), ask, document)


def swaps_in_drink(*, actor: User, document: DrinkDocument, ask: SwapsRequest) -> str:
    """Other things in place of one component."""
    return work_out(actor.pk, swaps_report, _cup(actor, document, asked_for(ask)), ask, document)


def _cup(actor: User, document: DrinkDocument, also: Iterable[str] = ()) -> Cup:
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None  # the policy refuses people without one
    return cup_in(document, site, also)
