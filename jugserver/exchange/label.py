"""The labels of a bottle: one when it is made, and one for the day it is opened.

The first says what it is, when it was made, how it is kept and what it may do to whom; the
second when it was opened and what holds from then on.

Use by always carries a day: the one that the batch's keeping comes to, and where something is not known yet the cautious one
with that beside it. Only what waits in the freezer says in words how its days count.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from io import BytesIO
from typing import Literal

import segno
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jugserver.exchange.paper import BOLD, PLAIN, Box, fitted, write

Size = Literal["90x60", "62x40"]
Which = Literal["made", "opened"]
Paper = Literal["label", "a4"]
Opened = Literal["may_stand_out", "keep_chilled", "discard_four_hours"]
Store = Literal["chilled", "cool", "frozen"]
STORE_WORDS = {"chilled": "Keep chilled.", "cool": "Keep cool and dark.", "frozen": "Keep frozen; thaw in the fridge."}
#: What holds once it is open. The app does not choose: food codes differ, and so do products.
OPENED_WORDS: dict[Opened, str] = {
    "may_stand_out": "May stand out.",
    "keep_chilled": "Keep chilled.",
    "discard_four_hours": "Discard four hours after leaving the cold.",
}
#: What is set large, and what bold.
LARGE = frozenset({"name", "rule"})
BOLD_BOXES = frozenset({"name", "rule", "allergens", "more"})
#: What nobody may have to guess is never cut and never set smaller: letters of 0.9 mm (Regulation (EU) 1169/2011, Annex IV, for the
#: smallest packages), which these fonts have at this size. [pt]
LEAST_PT = 4.8
_SECOND = "see the second label"
#: On the second label the rest is set no larger than it need be.
_LARGEST_PT = 9.5


@dataclass(frozen=True)
class Label:
    """What a label says."""

    name: str
    batch: int
    made: date
    store: Store
    dose: str
    contains: tuple[str, ...]
    may_contain: tuple[str, ...]
    #: What equipment may carry over.
    shared: tuple[str, ...]
    list_name: str
    address: str
    #: What went in and nobody knows anything of.
    unknown: tuple[str, ...] = ()
    use_by: date | None = None
    #: What is not known about it, beside the day; or how a frozen one's days count.
    use_by_words: str = ""
    which: Which = "made"
    opened: Opened = "keep_chilled"
    #: Of a container that was opened: when, and the last day that leaves it; written by hand where they are not known.
    opened_at: datetime | None = None
    good_until: date | None = None


@dataclass(frozen=True)
class Layout:
    """Where things stand on a label of a size. [mm]"""

    width: float
    height: float
    boxes: dict[str, Box]
    opened: dict[str, Box]
    second: dict[str, Box]
    scale: float
    columns: int  # on a sheet of A4
    rows: int

    def of(self, which: Which) -> dict[str, Box]:
        return self.boxes if which == "made" else self.opened


LAYOUTS: dict[Size, Layout] = {
    "90x60": Layout(90, 60, {
        "name": Box(4, 43, 56, 13), "batch": Box(4, 37, 56, 5), "made": Box(4, 32, 56, 5), "use_by": Box(4, 26, 56, 6), "opened": Box(4, 21, 82, 5),
        "store": Box(4, 16, 82, 5), "allergens": Box(4, 8, 82, 8), "dose": Box(4, 3, 82, 5), "code": Box(62, 30, 24, 24),
    }, {
        "name": Box(4, 46, 56, 10), "batch": Box(4, 40.5, 56, 5), "rule": Box(4, 25, 56, 14.5), "out": Box(4, 19.5, 82, 5),
        "opened": Box(4, 14, 82, 5), "allergens": Box(4, 8, 82, 5.5), "by": Box(4, 3, 82, 4.6), "code": Box(62, 30, 24, 24),
    }, {"name": Box(4, 49, 82, 8), "batch": Box(4, 43.5, 82, 5), "more": Box(4, 3, 82, 39)}, 1.0, 2, 4),
    "62x40": Layout(62, 40, {
        "name": Box(2.5, 30.2, 38, 7.8), "batch": Box(2.5, 26.6, 38, 3.5), "made": Box(2.5, 23.1, 38, 3.5), "use_by": Box(2.5, 17.3, 38, 5.7),
        "opened": Box(2.5, 13.8, 57, 3.5), "store": Box(2.5, 10.4, 57, 3.4), "allergens": Box(2.5, 4.9, 57, 5.5), "dose": Box(2.5, 1.3, 57, 3.6),
        "code": Box(42, 19.5, 18, 18),
    }, {
        "name": Box(2.5, 31, 38, 7), "batch": Box(2.5, 27.2, 38, 3.6), "rule": Box(2.5, 17, 38, 9.8), "out": Box(2.5, 12.9, 57, 3.6),
        "opened": Box(2.5, 9.2, 57, 3.5), "allergens": Box(2.5, 4.8, 57, 4.3), "by": Box(2.5, 1.3, 57, 3.4), "code": Box(42, 19.5, 18, 18),
    }, {"name": Box(2.5, 32.5, 57, 5.5), "batch": Box(2.5, 28.7, 57, 3.6), "more": Box(2.5, 1.3, 57, 26.7)}, 0.72, 3, 7),
}  # fmt: skip


def texts(label: Label) -> dict[str, str]:
    """What stands in each box."""
    allergens = f"Contains: {', '.join(label.contains)}." if label.contains else f"None of the {label.list_name} in the formula."
    if label.may_contain:
        allergens += f" Check the packs for: {', '.join(label.may_contain)}."
    if label.unknown:
        allergens += f" Not known: {', '.join(label.unknown)}. Ask before it is served."
    if label.shared:
        allergens += f" Made on equipment that meets {', '.join(label.shared)}."
    if label.which == "opened":
        return {
            "name": label.name,
            "batch": f"Batch {label.batch:04d}, made {label.made:%d %b %Y}",
            "rule": OPENED_WORDS[label.opened],
            "out": "Left the cold at: ________  Discard at: ________" if label.opened == "discard_four_hours" else "",
            "opened": _opened(label),
            "allergens": allergens,
            "by": _discard_by(label),
        }
    return {
        "name": label.name,
        "batch": f"Batch {label.batch:04d}",
        "made": f"Made: {label.made:%a %d %b %Y}",
        "use_by": f"Use by: {_use_by(label)}",
        "opened": "Thawed on: ________  Use by: ________" if label.store == "frozen" else "Opened on: ____________  Never top up.",
        "store": STORE_WORDS[label.store],
        "allergens": allergens,
        "dose": f"Dose: {label.dose}" if label.dose else "",
    }


def _opened(label: Label) -> str:
    if label.opened_at is None:
        return "Opened on: ____________  at: ________  by: ________"
    return f"Opened: {label.opened_at:%a %d %b %Y %H:%M}"


def _discard_by(label: Label) -> str:
    if label.opened == "discard_four_hours":
        return "Never top up, never put back."
    if label.good_until is not None:
        return f"Never top up. Use by: {label.good_until:%a %d %b %Y}, or by your local rule if that is sooner."
    return "Never top up. Discard by: ________ (your local rule)"


def _use_by(label: Label) -> str:
    """The day, with what is not known beside it; in words only what waits in the freezer."""
    if label.use_by is None:
        return label.use_by_words
    return f"{label.use_by:%a %d %b %Y}{f', {label.use_by_words}' if label.use_by_words else ''}"


@dataclass(frozen=True)
class Sheet:
    """One label as it is printed: where things stand on it, what they are, and whether its code stands on it."""

    boxes: dict[str, Box]
    words: dict[str, str]


def sheets_of(label: Label, size: Size) -> list[Sheet]:
    """A label, and behind it a second, or more, with what it has no room for in letters that can be read: nothing of what a person may
    have to know is cut."""
    layout, words = LAYOUTS[size], texts(label)
    boxes = dict(layout.of(label.which))
    if label.which == "made" and not words["dose"]:
        # Nobody said a dose: its place is the allergens' too.
        room, free = boxes["allergens"], boxes["dose"]
        boxes["allergens"] = Box(room.x, free.y, room.width, room.y + room.height - free.y)
    rest: list[str] = []
    if not _whole(words["allergens"], boxes["allergens"], "allergens", layout):
        rest.append(words["allergens"])
        words["allergens"] = f"Allergens: {_SECOND}."
    for name in ("use_by", "rule"):
        if name in words and not _whole(words[name], boxes[name], name, layout):
            rest.append(words[name])
            day = f"{label.use_by:%a %d %b %Y}, " if label.use_by is not None else ""
            words[name] = f"Use by: {day}{_SECOND}." if name == "use_by" else f"{_SECOND.capitalize()}."
    return [Sheet(boxes, words), *_second(label, layout, rest)]


def _whole(text: str, box: Box, name: str, layout: Layout) -> bool:
    return fitted(text, box, _font(name), _size(name, layout), LEAST_PT).whole


def _second(label: Label, layout: Layout, rest: list[str]) -> list[Sheet]:
    if not rest:
        return []
    box = layout.second["more"]
    found = fitted("\n".join(rest), box, BOLD, _LARGEST_PT, LEAST_PT)
    parts = [found.lines[at : at + found.room] for at in range(0, len(found.lines), found.room)]
    return [
        Sheet(layout.second, {"name": label.name, "batch": f"Batch {label.batch:04d}, label {number} of {len(parts) + 1}", "more": "\n".join(lines)})
        for number, lines in enumerate(parts, 2)
    ]


def _font(name: str) -> str:
    return BOLD if name in BOLD_BOXES else PLAIN


def _size(name: str, layout: Layout) -> float:
    return _LARGEST_PT if name == "more" else (17.0 if name in LARGE else 9.5) * layout.scale


def label_pdf(label: Label, size: Size = "90x60", copies: int = 1, paper: Paper = "label") -> bytes:
    """A PDF with a page of exactly the label's size for each copy, or sheets of A4 with as many as fit and lines to cut along."""
    layout = LAYOUTS[size]
    out = BytesIO()
    pages = A4 if paper == "a4" else (layout.width * mm, layout.height * mm)
    canvas = Canvas(out, pagesize=pages, pageCompression=1)
    canvas.setTitle(f"{label.name}, batch {label.batch:04d}")
    code = segno.make(label.address, error="m", micro=False)
    printed = [sheet for _ in range(copies) for sheet in sheets_of(label, size)]
    if paper == "label":
        for sheet in printed:
            _draw(canvas, layout, sheet, code, 0.0, 0.0)
            canvas.showPage()
    else:
        places = places_on_a4(layout)
        for first in range(0, len(printed), len(places)):
            for sheet, (x, y) in zip(printed[first:], places, strict=False):
                canvas.setLineWidth(0.2)
                canvas.setDash(1, 2)
                canvas.rect(x * mm, y * mm, layout.width * mm, layout.height * mm, stroke=1, fill=0)
                canvas.setDash()
                _draw(canvas, layout, sheet, code, x, y)
            canvas.showPage()
    canvas.save()
    return out.getvalue()


def places_on_a4(layout: Layout) -> list[tuple[float, float]]:
    """The lower left corner of every label on a sheet of A4, row by row from the top, the whole in the middle. [mm]"""
    width, height = A4[0] / mm, A4[1] / mm
    left = (width - layout.columns * layout.width) / 2
    top = height - (height - layout.rows * layout.height) / 2
    return [(left + c * layout.width, top - (r + 1) * layout.height) for r in range(layout.rows) for c in range(layout.columns)]


def _draw(canvas: Canvas, layout: Layout, sheet: Sheet, code: segno.QRCode, x: float, y: float) -> None:
    for name, text in sheet.words.items():
        if text:
            write(canvas, sheet.boxes[name].moved(x, y), text, font=_font(name), size=_size(name, layout), least=LEAST_PT)
    if "code" not in sheet.boxes:
        return
    box = sheet.boxes["code"].moved(x, y)
    matrix = [list(row) for row in code.matrix]
    cell = box.width * mm / len(matrix)
    for row, cells in enumerate(matrix):
        for column, dark in enumerate(cells):
            if dark:
                canvas.rect(box.x * mm + column * cell, (box.y + box.height) * mm - (row + 1) * cell, cell, cell, stroke=0, fill=1)
