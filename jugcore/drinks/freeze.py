"""A drink that needs nothing but itself, and a frozen one as a draft again."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Collection

from jugcore.drinks.cup import Cup
from jugcore.drinks.document import DrinkDocument
from jugcore.matter.library import library
from jugcore.matter.substance_document import as_document


def freeze_drink(cup: Cup) -> DrinkDocument:
    """The drink with its kitchen, what the site pays and everything that goes in written into it, so that it comes to the same for ever."""
    substances = {id: as_document(cup.books[id]) for id in sorted(cup.books)}
    return cup.drink.model_copy(update={"kitchen": cup.kitchen, "substances": substances})


def thaw_drink(drink: DrinkDocument, pantry: Collection[str] = ()) -> DrinkDocument:
    """A frozen drink as a draft again: in the kitchen and by the tables of today; what neither library nor ``pantry`` knows stays with it."""
    own = {id: substance for id, substance in drink.substances.items() if id not in library() and id not in pantry}
    return drink.model_copy(update={"kitchen": None, "substances": own, "rates": None})


def drink_fingerprint(drink: DrinkDocument) -> str:
    """SHA-256 of a drink's JSON with its keys in order; what the site pays is none of the drink."""
    kept = drink.model_dump(mode="json", exclude_none=True, exclude={"rates"})
    return hashlib.sha256(json.dumps(kept, sort_keys=True, ensure_ascii=False, separators=(",", ":")).encode()).hexdigest()
