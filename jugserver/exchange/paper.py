"""Paper: boxes in millimetres, and text that fits into them."""

from __future__ import annotations

from dataclasses import dataclass

from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jugserver.exchange.scripts import BOLD, PLAIN, draw, drawable, use_fonts, width_of

__all__ = ["BOLD", "PLAIN", "Box", "Set", "drawable", "fitted", "lines_of", "use_fonts", "write"]

_LEADING = 1.18
#: Ascent of the fonts, as a share of their size.
_ASCENT = 0.76


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


@dataclass(frozen=True)
class Set:
    """A text as it is set: how large [pt], its lines, and how many of them its box has room for."""

    size: float
    lines: list[str]
    room: int

    @property
    def whole(self) -> bool:
        """Whether nothing of it is cut."""
        return len(self.lines) <= self.room


def lines_of(text: str, font: str, size: float, width_pt: float) -> list[str]:
    """The text broken into lines no wider than asked; a word that is wider is broken itself."""
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line = ""
        for word in paragraph.split():
            while width_of(word, font, size) > width_pt and len(word) > 1:
                cut = next(n for n in range(len(word) - 1, 0, -1) if width_of(word[:n], font, size) <= width_pt or n == 1)
                if line:
                    lines.append(line)
                    line = ""
                lines.append(word[:cut])
                word = word[cut:]
            longer = f"{line} {word}".strip()
            if width_of(longer, font, size) <= width_pt:
                line = longer
            else:
                lines.append(line)
                line = word
        lines.append(line)
    return lines


def fitted(text: str, box: Box, font: str, size: float, least: float) -> Set:
    """A text set into a box, smaller if it must be, but no smaller than the least."""
    text = drawable(text, font)
    while True:
        lines = lines_of(text, font, size, box.width * mm)
        room = max(1, int(box.height * mm / (size * _LEADING)))
        if len(lines) <= room or size <= least:
            return Set(size, lines, room)
        size = max(least, size - 0.5)


def write(canvas: Canvas, box: Box, text: str, *, font: str = PLAIN, size: float = 9.0, least: float = 4.5) -> None:
    """Write text into a box, smaller if it must be; at the smallest what does not fit ends with “…”."""
    found = fitted(text, box, font, size, least)
    lines, size = found.lines, found.size
    if not found.whole:
        lines = lines[: found.room]
        while lines[-1] and width_of(lines[-1] + "…", font, size) > box.width * mm:
            lines[-1] = lines[-1][:-1]
        lines[-1] += "…"
    y = (box.y + box.height) * mm - _ASCENT * size
    for line in lines:
        draw(canvas, box.x * mm, y, line, font, size)
        y -= size * _LEADING
