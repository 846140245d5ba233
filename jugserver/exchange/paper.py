"""Paper: fonts that ship with the PDF library, boxes in millimetres, and text that fits into them."""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import reportlab
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

PLAIN, BOLD = "Vera", "VeraBd"
_LEADING = 1.18
#: Ascent of the fonts, as a share of their size.
_ASCENT = 0.76


@cache
def use_fonts() -> None:
    """Make the fonts known, once a process."""
    home = Path(reportlab.__file__).parent / "fonts"
    for name in (PLAIN, BOLD):
        pdfmetrics.registerFont(TTFont(name, str(home / f"{name}.ttf")))


def drawable(text: str, font: str = PLAIN) -> str:
    """The text with letters the font lacks taken back to their plain form, and what is left marked."""
    use_fonts()
    known: Any = pdfmetrics.getFont(font)
    glyphs = known.face.charToGlyph
    made = []
    for letter in text:
        if ord(letter) in glyphs:
            made.append(letter)
            continue
        plain = "".join(part for part in unicodedata.normalize("NFKD", letter) if ord(part) in glyphs and not unicodedata.combining(part))
        made.append(plain or "□" if ord("□") in glyphs else plain or "?")
    return "".join(made)


@dataclass(frozen=True)
class Box:
    """A place on the paper, in millimetres from its lower left corner."""

    x: float
    y: float
    width: float
    height: float

    def moved(self, x: float, y: float) -> Box:
        """The same place, so much further right and up."""
        return Box(self.x + x, self.y + y, self.width, self.height)

    def holds(self, x: float, y: float, slack: float = 0.0) -> bool:
        """Whether a point lies in it."""
        return self.x - slack <= x <= self.x + self.width + slack and self.y - slack <= y <= self.y + self.height + slack


def lines_of(text: str, font: str, size: float, width_pt: float) -> list[str]:
    """The text broken into lines no wider than asked; a word that is wider is broken itself."""
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line = ""
        for word in paragraph.split():
            while pdfmetrics.stringWidth(word, font, size) > width_pt and len(word) > 1:
                cut = next(n for n in range(len(word) - 1, 0, -1) if pdfmetrics.stringWidth(word[:n], font, size) <= width_pt or n == 1)
                if line:
                    lines.append(line)
                    line = ""
                lines.append(word[:cut])
                word = word[cut:]
            longer = f"{line} {word}".strip()
            if pdfmetrics.stringWidth(longer, font, size) <= width_pt:
                line = longer
            else:
                lines.append(line)
                line = word
        lines.append(line)
    return lines


def write(canvas: Canvas, box: Box, text: str, *, font: str = PLAIN, size: float = 9.0, least: float = 4.5) -> None:
    """Write text into a box, smaller if it must be; at the smallest what does not fit ends with “…”."""
    use_fonts()
    text = drawable(text, font)
    width, height = box.width * mm, box.height * mm
    while True:
        lines = lines_of(text, font, size, width)
        room = max(1, int(height / (size * _LEADING)))
        if len(lines) <= room or size <= least:
            break
        size = max(least, size - 0.5)
    if len(lines) > room:
        lines = lines[:room]
        while lines[-1] and pdfmetrics.stringWidth(lines[-1] + "…", font, size) > width:
            lines[-1] = lines[-1][:-1]
        lines[-1] += "…"
    canvas.setFont(font, size)
    y = (box.y + box.height) * mm - _ASCENT * size
    for line in lines:
        canvas.drawString(box.x * mm, y, line)
        y -= size * _LEADING
