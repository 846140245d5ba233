"""CSV that a spreadsheet opens and does not run: a cell that would begin a formula is text."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Iterator, Sequence
from datetime import date, datetime
from io import StringIO

#: What a spreadsheet takes for the beginning of a formula, blanks before it or not.
_BEGINS = ("=", "+", "-", "@", "\t", "\r")

Cell = str | float | int | date | bool | None


def cell(value: Cell) -> str:
    """A value as a cell: text that a spreadsheet would run gets an apostrophe before it; numbers stay numbers."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, int | float):
        return f"{value:.10g}"
    text = value.replace("\x00", "")
    return f"'{text}" if text.lstrip(" \n").startswith(_BEGINS) else text


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A CSV file with a head; a byte order mark so that spreadsheets read its letters right."""
    return "".join(csv_pages(head, [rows]))


def csv_pages(head: Sequence[str], pages: Iterable[Iterable[Sequence[Cell]]]) -> Iterator[str]:
    """The same by and by: the head with the first page, then page by page."""
    first = True
    for page in pages:
        out = StringIO()
        writer = csv.writer(out, lineterminator="\r\n")
        if first:
            out.write("\ufeff")
            writer.writerow(head)
            first = False
        for row in page:
            writer.writerow([cell(value) for value in row])
        yield out.getvalue()
