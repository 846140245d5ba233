"""CSV that a spreadsheet opens and does not run: a cell that would begin a formula is text."""

from __future__ import annotations

import csv
from collections.abc import Iterable, Sequence
from datetime import datetime
from io import StringIO

#: What a spreadsheet takes for the beginning of a formula, blanks before it or not.
_BEGINS = ("=", "+", "-", "@", "\t", "\r")

Cell = str | float | int | datetime | bool | None


def cell(value: Cell) -> str:
    """A value as a cell: text that a spreadsheet would run gets an apostrophe before it; numbers stay numbers."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, int | float):
        return f"{value:.10g}"
    text = value.replace("\x00", "")
    return f"'{text}" if text.lstrip(" \n").startswith(_BEGINS) else text


def csv_text(head: Sequence[str], rows: Iterable[Sequence[Cell]]) -> str:
    """A CSV file with a head; a byte order mark so that spreadsheets read its letters right."""
    out = StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    for row in rows:
        writer.writerow([cell(value) for value in row])
    return "\ufeff" + out.getvalue()
