"""Days and counts as files write them."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date, datetime, timedelta
from typing import Literal

from jugcore.errors import NotUnderstood
from jugcore.planning.sales.table import Cell, text_of

#: Which of the first two numbers of 3/4/2031 is the day.
Order = Literal["day first", "month first"]
_MONTHS = {name: n for n, name in enumerate(("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"), 1)}
_NUMBERS = re.compile(r"^(\d{1,4})[./\- ](\d{1,2})[./\- ](\d{1,4})(?:[T ,].*)?$")
_NAMED = re.compile(r"^(?:[a-z]{2,9}\.?,? )?(\d{1,2})(?:st|nd|rd|th)?[ .\-]+([a-z]{3,9})[ .,\-]+(\d{2,4})(?: .*)?$")
_NAMED_FIRST = re.compile(r"^(?:[a-z]{2,9}\.?,? )?([a-z]{3,9})[ .\-]+(\d{1,2})(?:st|nd|rd|th)?[ .,\-]+(\d{2,4})(?: .*)?$")
#: Days of a workbook are counted from here.
_WORKBOOK_FIRST = date(1899, 12, 30)
_WORKBOOK_DAYS = (30_000.0, 80_000.0)
MOST_COUNT = 100_000.0


def order_of(cells: Iterable[Cell]) -> tuple[Order | None, bool]:
    """How the days of a column are written, where any of them shows it; and whether that has to be asked."""
    first = second = False
    either = False
    for cell in cells:
        if isinstance(cell, str) and (found := _NUMBERS.match(cell.strip())):
            one, two = int(found[1]), int(found[2])
            if len(found[1]) == 4:
                continue
            either = True
            first, second = first or one > 12, second or two > 12
    if first and not second:
        return "day first", False
    if second and not first:
        return "month first", False
    return None, either and not (first and second)


def day_of(cell: Cell, order: Order | None) -> date:
    """The day a cell says; the hour beside it is left out.

    Raises NotUnderstood for what is no day, and for one that may be two.
    """
    if isinstance(cell, date):
        return cell.date() if isinstance(cell, datetime) else cell
    if isinstance(cell, float):
        if _WORKBOOK_DAYS[0] <= cell <= _WORKBOOK_DAYS[1]:
            return _WORKBOOK_FIRST + timedelta(days=int(cell))
        raise _no_day(text_of(cell))
    text = " ".join((cell or "").split())
    try:
        if found := _NUMBERS.match(text):
            return _of_numbers(*(found[n] for n in (1, 2, 3)), order=order)
        small = text.casefold()
        if found := _NAMED.match(small):
            return date(_year(found[3]), _MONTHS[found[2][:3]], int(found[1]))
        if found := _NAMED_FIRST.match(small):
            return date(_year(found[3]), _MONTHS[found[1][:3]], int(found[2]))
    except (ValueError, KeyError):
        raise _no_day(text) from None
    raise _no_day(text)


def _of_numbers(one: str, two: str, three: str, *, order: Order | None) -> date:
    if len(one) == 4:
        return date(int(one), int(two), int(three))
    first, second = int(one), int(two)
    if order is None and first <= 12 and second <= 12 and first != second:
        raise NotUnderstood("day", f"“{one}/{two}/{three}” may be two days.", "Say whether the day or the month comes first.")
    day, month = (first, second) if order == "day first" or (order is None and first > 12) else (second, first)
    return date(_year(three), month, day)


def _year(text: str) -> int:
    return int(text) + (2000 if len(text) <= 2 else 0)


def _no_day(text: str) -> NotUnderstood:
    return NotUnderstood("day", f"“{text[:40]}” is no day." if text else "There is no day.", "Write it as 2031-05-24.")


def count_of(cell: Cell) -> float:
    """The cups a cell says; what was given back is below 0, nothing is 0.

    Raises NotUnderstood for what is no whole number.
    """
    if isinstance(cell, float):
        value = cell
    elif cell is None or (isinstance(cell, str) and cell.strip() in ("", "-", "–")):
        return 0.0
    else:
        value = _number(text_of(cell))
    if abs(value - round(value)) > 1e-9:
        raise NotUnderstood("count", f"{value:g} is no whole number of cups.", "Choose the column that counts drinks, not money.")
    if abs(value) > MOST_COUNT:
        raise NotUnderstood("count", f"{value:,.0f} cups are more than a shop sells.", "Choose the column that counts drinks.")
    return float(round(value))


def _number(text: str) -> float:
    plain = text.replace(" ", "").replace("\u00a0", "").replace("\u202f", "").replace("'", "").replace("’", "").replace("−", "-")
    if re.fullmatch(r"\(\d+\)", plain):  # as books write what is below 0
        plain = f"-{plain[1:-1]}"
    if re.fullmatch(r"-?\d{1,3}(?:[.,]\d{3})+", plain):
        plain = plain.replace(",", "").replace(".", "")
    elif re.fullmatch(r"-?\d+[.,]\d+", plain):
        plain = plain.replace(",", ".")
    if not re.fullmatch(r"-?\d+(?:\.\d+)?", plain):
        raise NotUnderstood("count", f"“{text[:40]}” is no number.", "Type how many were sold, such as 12.")
    return float(plain)
