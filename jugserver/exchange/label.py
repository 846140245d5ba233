"""The label of a bottle: what it is, when it was made, how it is kept, what it may do to whom.

Use by reads “not assessed” until the app can assess keeping: a date that nobody worked out
is worse than none.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from io import BytesIO
from typing import Literal

import segno
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jugserver.exchange.paper import BOLD, PLAIN, Box, write

Size = Literal["90x60", "62x40"]
Store = Literal["chilled", "cool", "frozen"]
STORE_WORDS = {"chilled": "Keep chilled.", "cool": "Keep cool and dark.", "frozen": "Keep frozen; thaw in the fridge."}
USE_BY = "Use by: not assessed"


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
    list_name: str
    address: str


@dataclass(frozen=True)
class Layout:
    """Where things stand on a label of a size. [mm]"""

    width: float
    height: float
    boxes: dict[str, Box]
    scale: float


LAYOUTS: dict[Size, Layout] = {
    "90x60": Layout(90, 60, {
        "name": Box(4, 43, 56, 13), "batch": Box(4, 37, 56, 5), "made": Box(4, 32, 56, 5), "use_by": Box(4, 27, 56, 5), "opened": Box(4, 21, 82, 5),
        "store": Box(4, 16, 82, 5), "allergens": Box(4, 8, 82, 8), "dose": Box(4, 3, 82, 5), "code": Box(62, 30, 24, 24),
    }, 1.0),
    "62x40": Layout(62, 40, {
        "name": Box(2.5, 29, 38, 9), "batch": Box(2.5, 25, 38, 3.6), "made": Box(2.5, 21.4, 38, 3.6), "use_by": Box(2.5, 17.8, 38, 3.6),
        "opened": Box(2.5, 14, 57, 3.6), "store": Box(2.5, 10.4, 57, 3.6), "allergens": Box(2.5, 4.9, 57, 5.5), "dose": Box(2.5, 1.3, 57, 3.6),
        "code": Box(42, 19.5, 18, 18),
    }, 0.72),
}  # fmt: skip


def texts(label: Label) -> dict[str, str]:
    """What stands in each box."""
    allergens = f"Contains: {', '.join(label.contains)}." if label.contains else f"None of the {label.list_name} in the formula."
    if label.may_contain:
        allergens += f" Check the packs for: {', '.join(label.may_contain)}."
    return {
        "name": label.name,
        "batch": f"Batch {label.batch:04d}",
        "made": f"Made: {label.made:%a %d %b %Y}",
        "use_by": USE_BY,
        "opened": "Opened on: ____________  Never top up.",
        "store": STORE_WORDS[label.store],
        "allergens": allergens,
        "dose": f"Dose: {label.dose}" if label.dose else "",
    }


def label_pdf(label: Label, size: Size = "90x60", copies: int = 1) -> bytes:
    """A PDF with a page of exactly the label's size for each copy."""
    layout = LAYOUTS[size]
    out = BytesIO()
    canvas = Canvas(out, pagesize=(layout.width * mm, layout.height * mm), pageCompression=1)
    canvas.setTitle(f"{label.name}, batch {label.batch:04d}")
    code = segno.make(label.address, error="m", micro=False)
    for _ in range(copies):
        _draw(canvas, layout, texts(label), code)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _draw(canvas: Canvas, layout: Layout, words: dict[str, str], code: segno.QRCode) -> None:
    bold = {"name", "allergens"}
    for name, text in words.items():
        if text:
            base = 17.0 if name == "name" else 9.5
            write(canvas, layout.boxes[name], text, font=BOLD if name in bold else PLAIN, size=base * layout.scale)
    box = layout.boxes["code"]
    matrix = [list(row) for row in code.matrix]
    cell = box.width * mm / len(matrix)
    for row, cells in enumerate(matrix):
        for column, dark in enumerate(cells):
            if dark:
                canvas.rect(box.x * mm + column * cell, (box.y + box.height) * mm - (row + 1) * cell, cell, cell, stroke=0, fill=1)
