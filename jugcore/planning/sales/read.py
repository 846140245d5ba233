"""A table read as sales: counts by day, place, drink and size; what is wrong, row by row; what nobody has said the meaning of."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, timedelta

from jugcore.errors import BadDocument, DomainError
from jugcore.planning.sales.columns import Columns
from jugcore.planning.sales.names import Meant, Names, item_key
from jugcore.planning.sales.table import Cell, Table, text_of
from jugcore.planning.sales.values import count_of, day_of, order_of

#: Problems told one by one; of more there is a number.
MOST_TOLD = 100
#: Nothing older is kept.
_MOST_YEARS = 3
#: Day, place, drink, size.
Key = tuple[date, str, str, str]


@dataclass(frozen=True)
class SaleProblem:
    """What is wrong at a row of the file."""

    row: int
    column: str
    message: str
    remedy: str


@dataclass
class Unknown:
    """A name that nobody has said the meaning of: how many rows have it and how many cups, and what it may mean."""

    drink: str
    size: str
    rows: int = 0
    cups: float = 0.0
    may_be: tuple[str, ...] = ()
    #: The drink, where only the size is open.
    meant: str = ""


@dataclass
class Sales:
    """What a file says. ``covered`` are the days and places it tells of: what it does not name of these was not sold."""

    counts: dict[Key, float] = field(default_factory=dict)
    covered: set[tuple[date, str]] = field(default_factory=set)
    problems: list[SaleProblem] = field(default_factory=list)
    wrong: int = 0
    items: dict[str, Unknown] = field(default_factory=dict)
    places: dict[str, Unknown] = field(default_factory=dict)
    left_out: int = 0
    rows: int = 0
    ask_order: bool = False

    @property
    def whole(self) -> bool:
        """Whether all of it is understood."""
        return not self.wrong and not self.items and not self.places and not self.ask_order


def read_sales(table: Table, columns: Columns, names: Names, today: date) -> Sales:
    """Counts of a table whose columns are known, up to ``today``.

    Raises BadDocument where columns that are needed are missing.
    """
    _require(columns)
    found = Sales(rows=len(table.rows))
    summed: dict[Key, float] = defaultdict(float)
    order = columns.order
    if order is None and columns.day is not None:
        place = table.column(columns.day)
        order, found.ask_order = order_of(row[place] for row in table.rows)
        if found.ask_order:
            return found
    for number, cells in _melted(table, columns):
        try:
            day = day_of(cells["day"], order)
            if day > today:
                raise BadDocument("day", f"{day.isoformat()} has not come yet.", "Leave it out, or correct the date.")
            if day < today - timedelta(days=365 * _MOST_YEARS):
                raise BadDocument("day", f"{day.isoformat()} is more than {_MOST_YEARS} years ago.", "Leave it out, or correct the date.")
            count = count_of(cells["count"]) if "count" in cells else 1.0
        except DomainError as error:
            _problem(found, number, error, cells)
            continue
        at, meant = _place(found, cells, columns, names, count), _item(found, cells, names, count)
        if at is None or meant is None:
            continue
        found.covered.add((day, at))
        if meant.left_out:
            found.left_out += 1
        else:
            summed[(day, at, meant.drink, meant.size)] += count
    for key, count in summed.items():
        if count < 0:
            found.wrong += 1
            found.problems.append(
                SaleProblem(0, "count", f"More of one drink was given back than sold on {key[0].isoformat()}.", "Correct the file.")
            )
    found.counts = dict(summed)
    return found


def _require(columns: Columns) -> None:
    if columns.day is None and columns.spread != "day":
        raise BadDocument("columns.day", "Nobody has said which column holds the day.", "Choose it.")
    if columns.drink is None:
        raise BadDocument("columns.drink", "Nobody has said which column holds the drink.", "Choose it.")
    if columns.place is None and columns.place_id is None and columns.spread != "place":
        raise BadDocument("columns.place", "Nobody has said where this was sold.", "Choose the column that says so, or the place.")
    if columns.spread is not None and not columns.counts:
        raise BadDocument("columns.counts", f"Nobody has said which columns hold a {columns.spread} each.", "Choose them.")


def _melted(table: Table, columns: Columns) -> Iterator[tuple[int, dict[str, Cell]]]:
    """Rows with one count each: their number in the file, and cells by what they say."""
    named = {what: table.column(label) for what in ("day", "place", "drink", "size", "count") if (label := getattr(columns, what)) is not None}
    spread = [(label, table.column(label)) for label in columns.counts] if columns.spread is not None else []
    for number, row in zip(table.numbers, table.rows, strict=True):
        cells = {what: row[place] for what, place in named.items()}
        if columns.spread is None:
            yield number, cells
            continue
        for label, place in spread:
            if text_of(row[place]):
                yield number, {**cells, columns.spread: label, "count": row[place]}


def _place(found: Sales, cells: dict[str, Cell], columns: Columns, names: Names, count: float) -> str | None:
    if "place" not in cells:
        return columns.place_id
    words = text_of(cells["place"])
    at = names.place(words)
    if at:
        return at
    unknown = found.places.setdefault(words, Unknown(words, ""))
    unknown.rows, unknown.cups = unknown.rows + 1, unknown.cups + count
    return None


def _item(found: Sales, cells: dict[str, Cell], names: Names, count: float) -> Meant | None:
    drink, size = text_of(cells["drink"]), text_of(cells.get("size"))
    meant = names.item(drink, size)
    if meant.left_out or (meant.drink and meant.size):
        return meant
    unknown = found.items.setdefault(item_key(drink, size), Unknown(drink, size, may_be=names.near(drink), meant=meant.drink))
    unknown.rows, unknown.cups = unknown.rows + 1, unknown.cups + count
    return None


def _problem(found: Sales, number: int, error: DomainError, cells: dict[str, Cell]) -> None:
    found.wrong += 1
    if len(found.problems) < MOST_TOLD:
        column = error.field if error.field in cells else ""
        found.problems.append(SaleProblem(number, column, error.message, error.remedy))
