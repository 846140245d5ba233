"""Letters of any script on paper: which font has a letter, letters put together as their script wants, and the order words are read in.

Latin, Greek and Cyrillic letters come first in the font of the paper's own; other scripts in fonts that Debian packages (Noto,
Droid for Chinese and Japanese, Nanum for Korean) and ``./jug`` installs. Letters are joined and stacked by HarfBuzz.
"""

from __future__ import annotations

import unicodedata
from dataclasses import dataclass
from functools import cache, lru_cache
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

import reportlab
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont, shapeStr
from reportlab.pdfgen.canvas import Canvas

PLAIN, BOLD = "Vera", "VeraBd"
#: Printed for a letter that no font here has.
NO_LETTER = "□"
_NOTO = Path("/usr/share/fonts/truetype/noto")
_DROID = Path("/usr/share/fonts/truetype/droid/DroidSansFallbackFull.ttf")
_NANUM = Path("/usr/share/fonts/truetype/nanum/NanumGothic.ttf")
#: What the name of a letter begins with → the font of its script, where that is not called the same.
_HAN = frozenset(("CJK", "HIRAGANA", "KATAKANA", "BOPOMOFO", "IDEOGRAPHIC", "FULLWIDTH", "HALFWIDTH", "KANGXI"))


@dataclass(frozen=True)
class Run:
    """Letters that stand beside each other in one font, in the order they are read."""

    font: str
    text: str
    right_to_left: bool


@cache
def use_fonts() -> None:
    """Make the paper's own fonts known, once a process."""
    home = Path(reportlab.__file__).parent / "fonts"
    for name in (PLAIN, BOLD):
        pdfmetrics.registerFont(TTFont(name, str(home / f"{name}.ttf"), shapable=False))


@cache
def _font(path: Path) -> str | None:
    """A font by its file, known from then on; None where it is not installed."""
    if not path.is_file():
        return None
    pdfmetrics.registerFont(TTFont(path.stem, str(path)))
    return path.stem


def _has(font: str, letter: str) -> bool:
    known: Any = pdfmetrics.getFont(font)
    return ord(letter) in known.face.charToGlyph


@lru_cache(maxsize=8192)
def font_of(letter: str, own: str) -> str | None:
    """The font that has a letter: the paper's own if it can, else that of its script. None where none here has it."""
    use_fonts()
    if _has(own, letter):
        return own
    weight = "Bold" if own == BOLD else "Regular"
    script = unicodedata.name(letter, "").split(" ")[0].split("-")[0]
    files = [_NOTO / f"NotoSans-{weight}.ttf", _NOTO / f"NotoSans{script.title()}-{weight}.ttf", _NOTO / f"NotoSans{script.title()}-Regular.ttf"]
    if script == "HANGUL":
        files = [_NANUM.with_name("NanumGothicBold.ttf") if own == BOLD else _NANUM]
    elif script in _HAN:
        files = [_DROID]
    files += [_NOTO / f"NotoSans{more}-Regular.ttf" for more in ("Symbols", "Symbols2", "Math")] + [_DROID]
    return next((font for font in map(_font, files) if font is not None and _has(font, letter)), None)


def _right_to_left(letter: str) -> bool:
    return unicodedata.bidirectional(letter) in ("R", "AL")


def drawable(text: str, own: str = PLAIN) -> str:
    """The text with letters that no font here has taken back to their plain form, and what is left marked."""
    made = []
    for letter in text:
        if letter == "\n" or unicodedata.category(letter) in ("Mn", "Cf") or font_of(letter, own) is not None:
            made.append(letter)
            continue
        plain = "".join(part for part in unicodedata.normalize("NFKD", letter) if not unicodedata.combining(part) and font_of(part, own))
        made.append(plain or NO_LETTER)
    return "".join(made)


@lru_cache(maxsize=4096)
def runs(text: str, own: str) -> tuple[Run, ...]:
    """One line of text in parts of one font each, in the order they stand from the left.

    Words that are read from the right stand so among those read from the left, as in a line that begins at the left. (Unicode's
    algorithm in two levels: what is set here is a name among words of ours.)
    """
    use_fonts()
    if text.isascii():
        return (Run(own, text, False),)
    found: list[Run] = []
    for letter in text:
        # What joins or marks a letter goes with it; a space or a sign among words of a script stays among them.
        font = None if unicodedata.category(letter) in ("Mn", "Mc", "Cf") else font_of(letter, own)
        last = found[-1] if found else None
        backwards = _right_to_left(letter)
        if last is not None and (font is None or (not letter.isalnum() and last.right_to_left and _has(last.font, letter))):
            font, backwards = last.font, last.right_to_left
        font = font or own
        if last is not None and last.font == font and last.right_to_left == backwards:
            found[-1] = Run(font, last.text + letter, backwards)
        else:
            found.append(Run(font, letter, backwards))
    return tuple(_from_the_left(found))


def _from_the_left(read: list[Run]) -> list[Run]:
    """Neighbours that are read from the right, turned round; a space at their end belongs to what follows."""
    placed: list[Run] = []
    at = 0
    while at < len(read):
        if not read[at].right_to_left:
            placed.append(read[at])
            at += 1
            continue
        end = at
        while end < len(read) and read[end].right_to_left:
            end += 1
        last = read[end - 1]
        bare = last.text.rstrip()
        placed += [*reversed([*read[at : end - 1], Run(last.font, bare, True)])]
        if len(bare) < len(last.text):
            placed.append(Run(last.font, last.text[len(bare) :], False))
        at = end
    return placed


def marked_up(text: str, own: str) -> str:
    """A text for a paragraph that wraps itself: each part named its font. Words that are read from the right stand in their order as long
    as they are on one line."""
    parts = []
    for run in runs(text, own):
        words = " ".join(reversed(run.text.split(" "))) if run.right_to_left else run.text
        parts.append(escape(words) if run.font == own else f'<font name="{run.font}">{escape(words)}</font>')
    return "".join(parts)


def _shaped(run: Run, size: float) -> Any:
    return run.text if run.font in (PLAIN, BOLD) else shapeStr(run.text, run.font, size)


def _width(run: Run, size: float) -> float:
    shaped = _shaped(run, size)
    data = getattr(shaped, "__shapeData__", None)
    if data is None:
        return float(pdfmetrics.stringWidth(run.text, run.font, size))
    return float(sum(each.x_advance for each in data)) * size / 1000


def width_of(text: str, own: str, size: float) -> float:
    """How wide a line of text is set. [pt]"""
    return sum(_width(run, size) for run in runs(text, own))


def draw(canvas: Canvas, x: float, y: float, text: str, own: str, size: float) -> None:
    """A line of text from a point on."""
    for run in runs(text, own):
        canvas.setFont(run.font, size)
        canvas.drawString(x, y, _shaped(run, size))
        x += _width(run, size)
