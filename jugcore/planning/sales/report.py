"""A file of sales as it is shown before it is kept: its columns, its first rows, its counts, what is wrong and what is not known."""

from __future__ import annotations

import base64
from datetime import date
from hashlib import sha256
from typing import Annotated

from pydantic import BaseModel, Field

from jugcore.errors import BadDocument
from jugcore.fields import NO_NUL, Part
from jugcore.planning.sales.columns import Columns, guess
from jugcore.planning.sales.names import KnownDrink, Meant, Names, most_said
from jugcore.planning.sales.read import Sales, Unknown, read_sales
from jugcore.planning.sales.table import MOST_BYTES, Table, read_table, text_of

_Words = Annotated[str, Field(max_length=400, pattern=NO_NUL)]
_SHOWN_ROWS = 6
_MOST_ASKED = 200


class KnownDrinkIn(Part):
    """A drink that is sold here, and its sizes by id."""

    id: str
    name: str
    sizes: dict[str, str]


class MeantIn(Part):
    """What a name of a till means: a drink and its size, or nothing of ours."""

    drink: str = ""
    size: str = ""
    left_out: bool = False


class LayoutIn(Part):
    """Columns that were chosen before, for files with these headings."""

    labels: tuple[str, ...]
    columns: Columns


class SalesAsk(Part):
    """A file, what is known of names, and the columns where somebody has said which they are."""

    name: _Words = ""
    base64: str = Field(max_length=2 * MOST_BYTES)
    today: date
    columns: Columns | None = None
    layouts: tuple[LayoutIn, ...] = ()
    drinks: tuple[KnownDrinkIn, ...] = ()
    places: dict[str, str] = Field({}, description="Names of places by id.")
    items: dict[str, MeantIn] = {}
    places_said: dict[str, str] = {}


class CountOut(BaseModel):
    """Cups of a size of a drink sold at a place on a day."""

    on: date
    place: str
    drink: str
    size: str
    count: int


class CoveredOut(BaseModel):
    """A day of a place that the file tells of."""

    on: date
    place: str


class RowProblemOut(BaseModel):
    """What is wrong at a row; row 0 is of no single one."""

    row: int
    column: str
    message: str
    remedy: str


class UnknownOut(BaseModel):
    """A name that nobody has said the meaning of."""

    key: str
    drink: str
    size: str
    rows: int
    cups: float
    may_be: list[str]
    meant: str


class SalesReport(BaseModel):
    """What a file of sales says."""

    fingerprint: str = Field(description="SHA-256 of the file.")
    labels: list[str]
    sample: list[list[str]]
    columns: Columns
    remembered: bool = Field(description="Whether the columns are those of a file like it.")
    lacking: str = Field(description="What has to be said before it can be read; empty where nothing is.")
    lacking_remedy: str
    lacking_field: str
    ask_order: bool
    rows: int
    counts: list[CountOut]
    covered: list[CoveredOut]
    left_out: int
    wrong: int
    problems: list[RowProblemOut]
    items: list[UnknownOut]
    places: list[UnknownOut]


def read_file(ask: SalesAsk) -> SalesReport:
    """Read a file of sales. Raises BadDocument for what is no table."""
    try:
        data = base64.b64decode(ask.base64, validate=True)
    except ValueError:
        raise BadDocument("file", "The file did not arrive whole.", "Choose it again.") from None
    table = read_table(ask.name, data)
    names = _names(ask)
    kept = next((each.columns for each in ask.layouts if set(each.labels) == set(table.labels)), None)
    columns = ask.columns or kept or guess(table, most_said(names.drinks), [name for _, name in names.places])
    lacking: BadDocument | None = None
    try:
        sales = read_sales(table, columns, names, ask.today)
    except BadDocument as error:
        sales, lacking = Sales(rows=len(table.rows)), error
    return _report(ask, sha256(data).hexdigest(), table, columns, sales, lacking, kept is not None and ask.columns is None)


def _names(ask: SalesAsk) -> Names:
    return Names(
        drinks=tuple(KnownDrink(each.id, each.name, tuple(each.sizes.items())) for each in ask.drinks),
        places=tuple(ask.places.items()),
        items={key: Meant(each.drink, each.size, each.left_out) for key, each in ask.items.items()},
        places_said=ask.places_said,
    )


def _report(
    ask: SalesAsk, fingerprint: str, table: Table, columns: Columns, sales: Sales, lacking: BadDocument | None, remembered: bool
) -> SalesReport:  # fmt: skip
    return SalesReport(
        fingerprint=fingerprint, labels=list(table.labels), sample=[[text_of(cell)[:80] for cell in row] for row in table.rows[:_SHOWN_ROWS]],
        columns=columns, remembered=remembered, lacking=lacking.message if lacking else "",
        lacking_remedy=lacking.remedy if lacking else "", lacking_field=lacking.field if lacking else "", ask_order=sales.ask_order, rows=sales.rows,
        counts=[CountOut(on=on, place=place, drink=drink, size=size, count=round(count))
                for (on, place, drink, size), count in sorted(sales.counts.items()) if count >= 0],
        covered=[CoveredOut(on=on, place=place) for on, place in sorted(sales.covered)], left_out=sales.left_out, wrong=sales.wrong,
        problems=[RowProblemOut(row=each.row, column=each.column, message=each.message, remedy=each.remedy) for each in sales.problems],
        items=[_unknown(key, each) for key, each in sorted(sales.items.items(), key=lambda each: -each[1].cups)][:_MOST_ASKED],
        places=[_unknown(words, each) for words, each in sorted(sales.places.items(), key=lambda each: -each[1].cups)][:_MOST_ASKED],
    )  # fmt: skip


def _unknown(key: str, unknown: Unknown) -> UnknownOut:
    return UnknownOut(
        key=key, drink=unknown.drink, size=unknown.size, rows=unknown.rows, cups=unknown.cups, may_be=list(unknown.may_be), meant=unknown.meant
    )
