"""Which column of a table says what: chosen by somebody, or guessed by headings and by what stands below them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Literal

from pydantic import Field

from jugcore.errors import DomainError
from jugcore.fields import Part
from jugcore.planning.sales.table import Cell, Table, plain, text_of
from jugcore.planning.sales.values import Order, count_of, day_of, order_of

#: What several columns of counts are of, where there is one for each.
Spread = Literal["size", "day", "place"]
#: Headings by what they say, the likelier first.
_HEADS: dict[str, tuple[str, ...]] = {
    "day": ("business date", "sold on", "day", "date", "datetime", "timestamp", "time", "when"),
    "place": ("place", "where", "bar", "outlet", "location", "shop", "store", "site", "till"),
    "drink": ("drink", "item", "product", "article", "name", "item name", "product name"),
    "size": ("size", "variant", "portion", "cup", "modifier"),
    "count": ("count", "sold", "qty", "quantity", "cups", "number", "units", "units sold", "quantity sold", "pcs", "number sold"),
}  # fmt: skip
_LOOKED_AT = 200


class Columns(Part):
    """Which column says what, by its heading.

    One column of counts, or several: one for each size, day or place (``spread``, ``counts``). ``place_id`` is where all of it was
    sold, where no column says so.
    """

    day: str | None = Field(None, max_length=130)
    place: str | None = Field(None, max_length=130)
    drink: str | None = Field(None, max_length=130)
    size: str | None = Field(None, max_length=130)
    count: str | None = Field(None, max_length=130)
    spread: Spread | None = None
    counts: tuple[str, ...] = Field((), max_length=80)
    place_id: str | None = Field(None, max_length=64)
    order: Order | None = None


def guess(table: Table, sizes: Sequence[str], places: Sequence[str]) -> Columns:
    """Which column says what, as far as headings and cells tell. ``sizes`` and ``places`` are what the site calls them."""
    free = list(table.labels)
    found: dict[str, str] = {}
    for what in ("day", "count", "place", "size", "drink"):
        label = next((label for word in _HEADS[what] for label in free if plain(label) == word), None)
        if label is not None:
            found[what] = label
            free.remove(label)
    spread, counts = _spread(free, sizes, places) if "count" not in found else (None, ())
    free = [label for label in free if label not in counts]
    if "place" not in found and spread != "place":
        known = {plain(place) for place in places}
        label = next((label for label in free if _mostly(_cells(table, label), lambda cell: plain(text_of(cell)) in known)), None)
        if label is not None:
            found["place"] = label
            free.remove(label)
    if "day" not in found and spread != "day":
        label = next((label for label in free if _mostly(_cells(table, label), _is_day)), None)
        if label is not None:
            found["day"] = label
            free.remove(label)
    if "drink" not in found:
        label = next((label for label in free if _mostly(_cells(table, label), _is_words)), None)
        if label is not None:
            found["drink"] = label
            free.remove(label)
    if "count" not in found and spread is None:
        label = next((label for label in free if _mostly(_cells(table, label), _is_count)), None)
        if label is not None:
            found["count"] = label
    order = order_of(_cells(table, found["day"]))[0] if "day" in found else None
    return Columns(**found, spread=spread, counts=counts, order=order)


def _spread(free: Sequence[str], sizes: Sequence[str], places: Sequence[str]) -> tuple[Spread | None, tuple[str, ...]]:
    """Columns of counts that are headed by sizes, places or days, two at least."""
    known: tuple[tuple[Spread, set[str]], ...] = (("size", {plain(size) for size in sizes}), ("place", {plain(place) for place in places}))
    for spread, words in known:
        counts = tuple(label for label in free if plain(label) in words)
        if len(counts) >= 2:
            return spread, counts
    days = tuple(label for label in free if _is_day(label))
    return ("day", days) if len(days) >= 2 else (None, ())


def _cells(table: Table, label: str) -> list[Cell]:
    place = table.column(label)
    return [row[place] for row in table.rows[:_LOOKED_AT]]


def _mostly(cells: Sequence[Cell], fits: Callable[[Cell], bool]) -> bool:
    said = [cell for cell in cells if text_of(cell)]
    return bool(said) and sum(1 for cell in said if fits(cell)) > 0.8 * len(said)


def _is_day(cell: Cell) -> bool:
    try:
        day_of(cell, "day first")
    except DomainError:
        try:
            day_of(cell, "month first")
        except DomainError:
            return False
    return True


def _is_count(cell: Cell) -> bool:
    try:
        count_of(cell)
    except DomainError:
        return False
    return not _is_day(cell)


def _is_words(cell: Cell) -> bool:
    return isinstance(cell, str) and any(letter.isalpha() for letter in cell) and not _is_day(cell)
