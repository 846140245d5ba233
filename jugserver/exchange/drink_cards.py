"""Cards for the bar on paper: doses, how a drink is built, what drinks contain and give. A4, A5 and A6."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from io import BytesIO
from itertools import pairwise
from typing import Any, Literal

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4, A5, A6, landscape
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from jugcore.drinks.cards import BuildCard, CupLayers, DoseCard, Sheet
from jugcore.figures import shown
from jugcore.reading.keeping.assessment import DEFERS
from jugserver.exchange.scripts import BOLD, PLAIN, draw, drawable, marked_up, use_fonts

Paper = Literal["A4", "A5", "A6"]
_PAPERS = {"A4": A4, "A5": A5, "A6": A6}
#: How large the text of a card is against that on A4: what hangs at the bar is read from an arm's length.
_SCALE = {"A4": 1.0, "A5": 0.74, "A6": 0.52}
_MARGIN_MM = {"A4": 12.0, "A5": 9.0, "A6": 6.0}
_COLOURS = {
    "dose": "#dba645", "coffee": "#7d4a26", "tea": "#b98a63", "milk": "#f0e2b6", "foam": "#e9e6dc", "other": "#b9d7d9", "garnish": "#b98a63",
}  # fmt: skip
_HEAD = colors.HexColor("#f1ebdd")


def dose_card_pdf(card: DoseCard, *, paper: Paper, site: str, printed: date) -> bytes:
    """Drinks × sizes, as large as the paper allows."""
    scale = _SCALE[paper]
    wide = _inner(paper, lying=True)
    first = 0.34 * wide
    rows: list[list[Any]] = [[_text("Drink", PLAIN, 13 * scale), *(_text(size, BOLD, 15 * scale, centred=True) for size in card.sizes)]]
    last = ""
    for row in card.rows:
        stroke = f", pump of {shown(row.stroke_ml)} ml" if row.stroke_ml is not None else ""
        name = [_text(row.drink, BOLD, 16 * scale)] if row.drink != last else []
        rows.append([
            [*name, _text(f"{row.product}{stroke}", PLAIN, 11 * scale)],
            *(_text(amount or "–", BOLD, 18 * scale, centred=True) for amount in row.amounts),
        ])  # fmt: skip
        last = row.drink
    table = _grid(rows, [first, *[(wide - first) / max(len(card.sizes), 1)] * len(card.sizes)], scale)
    return _printed([_text(f"Doses, {site}", BOLD, 20 * scale), Spacer(1, 3 * mm * scale), table], "Doses", paper, printed, lying=True)


def build_card_pdf(card: BuildCard, *, paper: Paper, version: str, printed: date) -> bytes:
    """How a drink is built: cups with their layers, steps in the order of pouring, cautions."""
    scale = _SCALE[paper]
    wide = _inner(paper)
    first = 0.4 * wide
    each = (wide - first) / max(len(card.sizes), 1)
    rows: list[list[Any]] = [["", *(_text(size, BOLD, 13 * scale, centred=True) for size in card.sizes)]]
    rows.append(["", *(_Cup(cup, max(one.cup_ml for one in card.cups), each, 62 * mm * scale) for cup in card.cups)])
    for number, step in enumerate(card.steps, 1):
        how = [_text(step.how, PLAIN, 9.5 * scale)] if step.how else []
        rows.append([
            [_text(f"{number}  {step.title}", BOLD, 12.5 * scale), *how],
            *(_text(amount or "–", BOLD, 12.5 * scale, centred=True) for amount in step.amounts),
        ])  # fmt: skip
    story = [
        _text(card.drink, BOLD, 22 * scale), _text(version, PLAIN, 9.5 * scale), Spacer(1, 2 * mm * scale),
        _grid(rows, [first, *[each] * len(card.sizes)], scale), Spacer(1, 3 * mm * scale), _text(card.contains, BOLD, 11.5 * scale),
        *(_text(f"Note: {words}", PLAIN, 10.5 * scale) for words in card.cautions),
    ]  # fmt: skip
    return _printed(story, card.drink, paper, printed)


def sheet_pdf(sheet: Sheet, *, paper: Paper, site: str, printed: date) -> bytes:
    """What drinks contain, and what a cup of each gives."""
    scale = 0.8 * _SCALE[paper] if paper != "A6" else _SCALE[paper] * 0.75
    wide = _inner(paper, lying=True)
    rows: list[list[Any]] = [[_text(title, BOLD, 12 * scale) for title in ("Drink", "Contains", "Check the packs for")]]
    for row in sheet.allergens:
        told = (", ".join(row.contains) or "–", ", ".join(row.check) or "–")
        rows.append([_text(row.drink, BOLD, 12 * scale), *(_text(each, PLAIN, 12 * scale) for each in told)])
    head = [_text(each, BOLD, 9 * scale, centred=True) for each in sheet.head]
    figures: list[list[Any]] = [[_text("Drink and size", BOLD, 10.5 * scale), *head]]
    for cup in sheet.nutrition:
        each = [_text(figure, PLAIN, 11 * scale, centred=True) for figure in cup.figures]
        figures.append([_text(f"{cup.drink}, {cup.size}", PLAIN, 11 * scale), *each])
    first = 0.26 * wide
    story = [
        _text(f"Allergens and nutrition, {site}", BOLD, 20 * scale), Spacer(1, 2 * mm),
        _grid(rows, [0.3 * wide, 0.35 * wide, 0.35 * wide], scale), Spacer(1, 2 * mm),
        _text(
            "By the recipes. What equipment is shared, and what a pack says, is to be looked at besides. " + DEFERS, PLAIN, 10.5 * scale,
        ),
        Spacer(1, 4 * mm), _text("In a cup", BOLD, 15 * scale), Spacer(1, 1 * mm),
        _grid(figures, [first, *[(wide - first) / len(sheet.head)] * len(sheet.head)], scale),
        _text(
            "Energy by Regulation (EU) 1169/2011, Annex XIV. All calculated from the recipes: milk, fruit and seeds differ.", PLAIN, 10 * scale,
        ),
    ]  # fmt: skip
    return _printed(story, "Allergens and nutrition", paper, printed, lying=True)


class _Cup(Flowable):
    """A cup with its layers, to the scale of the largest beside it."""

    def __init__(self, cup: CupLayers, largest_ml: float, width: float, height: float) -> None:
        super().__init__()
        self.cup, self.share, self.width, self.height = cup, (cup.cup_ml / largest_ml) ** (1 / 3), width, height

    def wrap(self, _width: float, _height: float) -> tuple[float, float]:
        return self.width - 8, self.height

    def draw(self) -> None:
        canvas: Canvas = self.canv
        tall, wide = 0.9 * self.height * self.share, min(0.42 * self.height, 0.78 * self.width) * self.share
        left, foot = (self.width - 8 - wide) / 2, 0.13 * wide
        at = 0.0
        # What floats takes its room in what there is most of.
        most = max(self.cup.layers, key=lambda layer: layer[2], default=None)
        floats = self.cup.fills_ml - sum(ml for _, _, ml in self.cup.layers)
        for layer in self.cup.layers:
            _, role, poured = layer
            ml = max(poured + (floats if layer is most else 0.0), 0.0)
            low, high = (tall * min(each, self.cup.cup_ml) / self.cup.cup_ml for each in (at, at + ml))
            canvas.setFillColor(colors.HexColor(_COLOURS.get(role, "#b9d7d9")))
            path = canvas.beginPath()
            slope = [foot * (1 - each / tall) for each in (low, high)]
            path.moveTo(left + slope[0], low)
            path.lineTo(left + wide - slope[0], low)
            path.lineTo(left + wide - slope[1], high)
            path.lineTo(left + slope[1], high)
            path.close()
            canvas.drawPath(path, stroke=0, fill=1)
            at += ml
        canvas.setStrokeColor(colors.HexColor("#2b211b"))
        canvas.setLineWidth(max(0.6, self.height / 120))
        corners = ((left, tall), (left + foot, 0), (left + wide - foot, 0), (left + wide, tall))
        for one, other in pairwise(corners):
            canvas.line(*one, *other)
        canvas.setFillColor(colors.HexColor("#6b5f54"))
        size = max(4.5, self.height / 17)
        draw(canvas, left, tall + size * 0.5, drawable(f"{self.cup.fills_ml:.0f} ml", PLAIN), PLAIN, size)


def _inner(paper: Paper, *, lying: bool = False) -> float:
    size = landscape(_PAPERS[paper]) if lying else _PAPERS[paper]
    return float(size[0] - 2 * _MARGIN_MM[paper] * mm)


def _printed(story: Sequence[Any], title: str, paper: Paper, printed: date, *, lying: bool = False) -> bytes:
    use_fonts()
    out = BytesIO()
    margin = _MARGIN_MM[paper] * mm
    size = landscape(_PAPERS[paper]) if lying else _PAPERS[paper]
    document = SimpleDocTemplate(out, pagesize=size, leftMargin=margin, rightMargin=margin, topMargin=margin, bottomMargin=margin, title=title)

    def foot(canvas: Canvas, _: Any) -> None:
        canvas.setFillColor(colors.HexColor("#6b5f54"))
        draw(canvas, margin, margin * 0.45, f"Printed {printed:%d %b %Y}; a later version makes this one void.", PLAIN, 7.5 * max(_SCALE[paper], 0.7))

    document.build(list(story), onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()


def _text(text: str, font: str, size: float, *, centred: bool = False) -> Paragraph:
    use_fonts()
    style = ParagraphStyle(f"{font}-{size}-{centred}", fontName=font, fontSize=size, leading=size * 1.22, shaping=1, alignment=1 if centred else 0)
    return Paragraph(marked_up(drawable(text, font), font), style)


def _grid(rows: list[list[Any]], widths: list[float], scale: float) -> Table:
    table = Table(rows, colWidths=widths, hAlign="LEFT", repeatRows=1)
    pad = 4 * scale
    table.setStyle(
        TableStyle([
            ("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LINEBELOW", (0, 0), (-1, -1), 0.5, colors.grey), ("BACKGROUND", (0, 0), (-1, 0), _HEAD),
            ("TOPPADDING", (0, 0), (-1, -1), pad), ("BOTTOMPADDING", (0, 0), (-1, -1), pad), ("LEFTPADDING", (0, 0), (-1, -1), 4),
            ("RIGHTPADDING", (0, 0), (-1, -1), 4),
        ])
    )  # fmt: skip
    return table
