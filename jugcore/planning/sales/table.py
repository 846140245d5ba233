"""A file of rows and columns, as text, CSV or XLSX, read into cells; nothing in it is understood yet."""

from __future__ import annotations

import csv
import re
import zipfile
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from io import BytesIO, StringIO
from itertools import islice
from typing import Any

from jugcore.errors import BadDocument

Cell = str | float | date | None

MOST_BYTES = 1_400_000
MOST_ROWS, MOST_COLUMNS = 60_000, 80
#: What an XLSX unpacks to at most. [bytes]
_MOST_UNPACKED = 120_000_000
#: The head is looked for in so many rows.
_HEAD_WITHIN = 20
#: What separates columns in a CSV, the likelier first.
_SEPARATORS = (",", ";", "\t", "|")
#: Words of heads of columns: a row with some of them is the head.
HEAD_WORDS = frozenset((
    "day", "date", "sold on", "business date", "when", "time", "timestamp", "place", "shop", "bar", "outlet", "location", "store",
    "site", "drink", "item", "product", "name", "article", "size", "variant", "portion", "count", "sold", "qty", "quantity", "units",
    "number", "amount", "cups", "pcs", "total",
))  # fmt: skip


@dataclass(frozen=True)
class Table:
    """Columns by label, each once, and rows (N, C) with the number of each in its file."""

    labels: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    numbers: tuple[int, ...]

    def column(self, label: str) -> int:
        """The place of a column. Raises BadDocument where there is none."""
        if label not in self.labels:
            raise BadDocument("columns", f"There is no column “{label}” in this file.", f"Choose one of: {', '.join(self.labels[:12])}.")
        return self.labels.index(label)


def read_table(name: str, data: bytes) -> Table:
    """The cells of a file; its kind is read off its bytes.

    Raises BadDocument for what is no table, is empty, or is too large.
    """
    if len(data) > MOST_BYTES:
        raise BadDocument(
            "file",
            f"{name or 'The file'} is too large: {len(data) / 1e6:.1f} MB.",
            f"Import at most {MOST_BYTES / 1e6:.1f} MB at a time: a month, or sums by day.",
        )
    rows = _of_xlsx(data) if data.startswith(b"PK\x03\x04") else _of_text(data)
    numbered = [(number, row) for number, row in enumerate(rows, 1) if any(_there(cell) for cell in row)]
    if len(numbered) < 2:
        raise BadDocument("file", "There are no rows in this file.", "Choose a CSV or XLSX with a row of headings and a row for each count.")
    head = max(range(min(_HEAD_WITHIN, len(numbered))), key=lambda n: (_is_head(numbered[n][1]), -n))
    width = min(max(len(row) for _, row in numbered[head:]), MOST_COLUMNS)
    labels = _labels(numbered[head][1], width)
    body = numbered[head + 1 :]
    if not body:
        raise BadDocument("file", "There are headings in this file and nothing below them.", "Choose a file with a row for each count.")
    return Table(labels, tuple((*row[:width], *[None] * (width - len(row))) for _, row in body), tuple(number for number, _ in body))


def _there(cell: Cell) -> bool:
    return cell is not None and (not isinstance(cell, str) or bool(cell.strip()))


def _is_head(row: Sequence[Cell]) -> int:
    """How many of a row's cells name a column."""
    return sum(1 for cell in row if isinstance(cell, str) and plain(cell) in HEAD_WORDS)


def plain(text: str) -> str:
    """Small letters and single spaces, without what only separates."""
    return " ".join(re.sub(r"[_\-./:()]+", " ", text.casefold()).split())


def _labels(row: Sequence[Cell], width: int) -> tuple[str, ...]:
    """A label for every column: its heading, numbered where two are one, its letter where it has none."""
    said = [_text(cell) for cell in row[:width]] + [""] * (width - len(row[:width]))
    seen: Counter[str] = Counter()
    found = []
    for n, each in enumerate(said):
        label = (each or f"Column {n + 1}")[:120]
        seen[label] += 1
        found.append(label if seen[label] == 1 else f"{label} ({seen[label]})")
    return tuple(found)


def _text(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:g}"
    return cell.isoformat() if isinstance(cell, date) else " ".join(cell.split())


def text_of(cell: Cell) -> str:
    """A cell as words."""
    return _text(cell)


def _of_text(data: bytes) -> list[list[Cell]]:
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        text = data.decode("utf-16", "replace")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = data.decode("cp1252", "replace")
    if "\x00" in text:
        raise BadDocument("file", "This is neither a CSV nor an XLSX file.", "Save it as one of the two.")
    sample = text[:20_000].splitlines()[:40]
    separator = max(_SEPARATORS, key=lambda each: (_evenness(sample, each), -_SEPARATORS.index(each)))
    try:
        return [list(row) for row in _bounded(csv.reader(StringIO(text), delimiter=separator))]
    except csv.Error as error:
        raise BadDocument("file", f"The file cannot be read as a CSV: {error}.", "Save it again from where it comes from.") from None


def _evenness(lines: Sequence[str], separator: str) -> tuple[int, int]:
    """How many lines have the commonest number of a separator, none not counted; and that number."""
    counted = Counter(count for line in lines if (count := line.count(separator)))
    if not counted:
        return 0, 0
    number, often = max(counted.items(), key=lambda each: (each[1], each[0]))
    return often, number


def _of_xlsx(data: bytes) -> list[list[Cell]]:
    """The fullest sheet of a workbook: values, not formulas."""
    from openpyxl import load_workbook
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        with zipfile.ZipFile(BytesIO(data)) as whole:
            if sum(part.file_size for part in whole.infolist()) > _MOST_UNPACKED:
                raise BadDocument("file", "The workbook unpacks to too much.", "Save the one sheet with the counts as CSV.")
        book = load_workbook(BytesIO(data), read_only=True, data_only=True)
        sheets = [[[_of_workbook(cell) for cell in row] for row in _bounded(sheet.iter_rows(values_only=True))] for sheet in book.worksheets]
        book.close()
    except (zipfile.BadZipFile, InvalidFileException, KeyError, ValueError, EOFError, SyntaxError) as error:
        raise BadDocument("file", "The workbook cannot be read.", "Save it again as XLSX, or as CSV.") from error
    return max(sheets, key=lambda rows: sum(1 for row in rows if any(_there(cell) for cell in row)), default=[])


def _of_workbook(value: Any) -> Cell:
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, int | float):
        return float(value)
    if isinstance(value, datetime):
        return value.date()
    return value if isinstance(value, date | str) or value is None else str(value)


def _bounded(rows: Iterator[Any]) -> list[Any]:
    found = list(islice(rows, MOST_ROWS + 1))
    if len(found) > MOST_ROWS:
        raise BadDocument("file", f"The file has more than {MOST_ROWS:,} rows.", "Import it in parts, a month at a time.")
    return found
