"""Reads an amount as a person writes it. Knows units and forms, not ingredients.

The forms: a quantity (``430 g``, ``1 1/2 cups``, ``½ tsp``, ``2–3 tbsp``), as much
as other lines (``as the juice``, ``twice the water``, ``as both``), grams per kilo
of something (``22 g per kg``, ``5 % of the milk``), up to a total (``up to 100 g``)
and everything there is (``all``).
"""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass

from jugcore.errors import NotUnderstood
from jugcore.measures.systems import UNIT_OF_WORD

EXAMPLES = "Write, for example, 430 g, 1 1/2 cups, ½ tsp, as the juice, or 22 g per kg."


@dataclass(frozen=True)
class Quantity:
    """A number or a range, with the unit it was written in (None: no unit written)."""

    low: float
    high: float
    unit: str | None

    @property
    def middle(self) -> float:
        return 0.5 * (self.low + self.high)


@dataclass(frozen=True)
class Likeness:
    """As much as the things named, times a factor."""

    names: tuple[str, ...]
    factor: float
    #: All the names as they were written, before they were taken apart.
    whole: str = ""


@dataclass(frozen=True)
class Rate:
    """Grams per kilogram of ``of``; None where nothing was named."""

    grams_per_kg: float
    of: str | None


@dataclass(frozen=True)
class Total:
    """Made up to a total mass in the vessel."""

    grams: float


@dataclass(frozen=True)
class Everything:
    """All there is."""


Parsed = Quantity | Likeness | Rate | Total | Everything

_WORD_NUMBERS = {"a": 1.0, "an": 1.0, "one": 1.0, "two": 2.0, "three": 3.0, "four": 4.0, "half": 0.5, "quarter": 0.25}
_FACTORS = {"twice": 2.0, "double": 2.0, "half": 0.5, "triple": 3.0, "a third of": 1 / 3, "a quarter of": 0.25}
_FACTOR_WORDS = "|".join(sorted(_FACTORS, key=len, reverse=True))
_DECIMAL = r"\d+(?:\.\d+)?|\.\d+"
_NUMBER = rf"(?:\d+\s+\d+/\d+|\d+/\d+|{_DECIMAL})"
_UNIT_WORDS = "|".join(sorted((re.escape(w) for w in UNIT_OF_WORD), key=len, reverse=True))

_ALL = re.compile(r"(?:all|all of it|everything|the lot)")
_TOTAL = re.compile(r"(?:made\s+)?up\s+to\s+(?P<amount>.+)")
_RATE = re.compile(
    rf"(?P<number>{_NUMBER})\s*(?:(?P<unit>mg|g|gram|grams)\s*(?:per|/|a)\s*(?P<per>kg|kilo|kilogram|100\s*g)|(?P<percent>%|percent))"
    r"(?:\s+(?:of\s+)?(?P<of>.+))?"
)
_LIKENESS = re.compile(
    rf"(?:(?P<factor>{_NUMBER}\s*(?:x|×|times)|{_FACTOR_WORDS})\s+)?(?:(?:as\s+much|same|equal)\s+(?:as|to)\s+|as\s+|the\s+)?(?P<names>.+)"
)
_QUANTITY = re.compile(
    rf"(?P<first>{_NUMBER}|a|an|one|two|three|four|half(?:\s+an?)?|quarter)(?:\s*(?:-|–|to)\s*(?P<second>{_NUMBER}))?\s*(?P<unit>{_UNIT_WORDS})?"
)


def _tidy(text: str) -> str:
    """Lower case, single spaces, unicode fractions and commas made plain."""
    spread = "".join(
        f" {unicodedata.normalize('NFKC', ch).replace('⁄', '/')} " if unicodedata.decomposition(ch).startswith("<fraction>") else ch for ch in text
    )
    tidy = re.sub(r"\s+", " ", spread.strip().lower())
    tidy = re.sub(r"(?<=\d),(?=\d{3}(?!\d))", "", tidy)  # 1,200 is twelve hundred
    tidy = re.sub(r"(?<=\d),(?=\d)", ".", tidy)  # 1,5 is one and a half
    return re.sub(r"\bfl\.?\s*oz\b\.?", "floz", tidy)


def _number(text: str) -> float:
    text = text.strip()
    if text in _WORD_NUMBERS:
        return _WORD_NUMBERS[text]
    if text.startswith("half"):
        return 0.5
    total = 0.0
    for part in text.split():
        top, _, bottom = part.partition("/")
        if bottom and float(bottom) == 0:
            raise NotUnderstood("amount", f"“{part}” divides by nothing.", "Check the fraction.")
        total += float(top) / float(bottom) if bottom else float(top)
    return total


def _quantity(text: str) -> Quantity | None:
    match = _QUANTITY.fullmatch(text)
    if match is None:
        return None
    first = _number(match["first"])
    second = _number(match["second"]) if match["second"] else first
    if second < first:
        raise NotUnderstood("amount", f"The range runs backwards: {text}.", "Put the smaller number first.")
    unit = UNIT_OF_WORD[match["unit"]] if match["unit"] else None
    return Quantity(first, second, unit)


def parse_amount(text: str) -> Parsed:
    """Read one amount.

    Returns one of Quantity, Likeness, Rate, Total, Everything. Raises NotUnderstood
    with the word that stopped it where no form fits.

    >>> parse_amount("1 1/2 cups")
    Quantity(low=1.5, high=1.5, unit='cup')
    >>> parse_amount("as much as juice and water")
    Likeness(names=('juice', 'water'), factor=1.0, whole='juice and water')
    >>> parse_amount("22 g per kg")
    Rate(grams_per_kg=22.0, of=None)
    """
    tidy = _tidy(text)
    if not tidy:
        raise NotUnderstood("amount", "There is no amount here yet.", EXAMPLES)
    if tidy.startswith(("-", "−")) and any(ch.isdigit() for ch in tidy):
        raise NotUnderstood("amount", f"{text.strip()} is below nothing.", "Give an amount above zero, or remove the line.")
    if _ALL.fullmatch(tidy):
        return Everything()
    if match := _RATE.fullmatch(tidy):
        number = _number(match["number"])
        if match["percent"]:
            number *= 10
        elif match["unit"] == "mg":
            number /= 1000
        if match["per"] and match["per"].startswith("100"):
            number *= 10
        of = match["of"].removeprefix("the ").strip() if match["of"] else None
        return Rate(number, of or None)
    if match := _TOTAL.fullmatch(tidy):
        quantity = _quantity(match["amount"])
        if quantity is None or quantity.unit not in (None, "g", "kg"):
            raise NotUnderstood("amount", f"“{match['amount']}” is not a mass.", "Write, for example, up to 100 g.")
        return Total(quantity.middle * (1000.0 if quantity.unit == "kg" else 1.0))
    if quantity := _quantity(tidy):
        return quantity
    if tidy[0].isdigit() and not re.match(rf"{_NUMBER}\s*(?:x|×|times)\s", tidy):
        rest = re.sub(rf"^{_NUMBER}\s*", "", tidy)
        raise NotUnderstood("amount", f"“{rest or tidy}” is not a unit known here.", EXAMPLES)
    match = _LIKENESS.fullmatch(tidy)
    if match is None:
        raise NotUnderstood("amount", f"“{text.strip()}” could not be read.", EXAMPLES)
    factor_text = match["factor"]
    factor = 1.0
    if factor_text:
        factor = _FACTORS.get(factor_text) or _number(re.sub(r"\s*(x|×|times)$", "", factor_text))
    names = tuple(n for n in (part.strip().removeprefix("the ") for part in re.split(r",|\band\b|\+|&", match["names"])) if n)
    if not names:
        raise NotUnderstood("amount", f"“{text.strip()}” names nothing.", EXAMPLES)
    return Likeness(names, factor, match["names"].strip().removeprefix("the "))
