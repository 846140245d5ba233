"""Reads an amount as a person writes it. Knows units and forms, not ingredients.

The forms: a quantity (``430 g``, ``1 1/2 cups``, ``½ tsp``, ``2–3 heaped tbsp``, ``half a
pod``, ``1 lb 4 oz``), parts of a blend (``3 parts``), as much as other lines (``as the
juice``, ``twice the water``, ``as both``), grams per kilo of something (``22 g per kg``,
``5 % of the milk``), up to a total (``up to 100 g``) and everything there is (``all``).
The grammar is ``amounts.lark`` beside this file.
"""

from __future__ import annotations

import difflib
import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from functools import cache, lru_cache
from pathlib import Path
from typing import Any, cast

from lark import Lark, Token, Transformer, v_args
from lark.exceptions import UnexpectedEOF, UnexpectedInput, UnexpectedToken

from jugcore.errors import NotUnderstood
from jugcore.measures.systems import LITRES, MASS_G, SYSTEM_OF_WORD, UNIT_OF_WORD, WORDS

EXAMPLES = "Write, for example, 430 g, 1 1/2 cups, ½ tsp, as the juice, or 22 g per kg."
_GRAMMAR = Path(__file__).parent / "amounts.lark"
#: Longer than this is no amount, and would only cost time.
_MOST_CHARACTERS = 4000


@dataclass(frozen=True)
class Portion:
    """A number or a range of one measure, as written.

    ``unit`` is None where none was written, ``"piece"`` where ``piece`` says of what:
    “half a pod”. ``shape`` is how a spoon was filled: heaped, rounded, level, scant,
    generous. ``at`` is where the word for the measure stands in the text.
    """

    low: float
    high: float
    unit: str | None
    shape: str | None = None
    piece: str = ""
    at: tuple[int, int] = field(default=(0, 0), compare=False)
    #: Whose cup or pint it is, where the writer said so.
    system: str | None = None

    @property
    def middle(self) -> float:
        return 0.5 * (self.low + self.high)


@dataclass(frozen=True)
class Quantity:
    """Portions that add up: “1 cup plus 2 tbsp” has two.

    ``about`` where the writer said so; ``what`` are words after it, which may name the
    ingredient and may mean that this is no quantity, standing at ``what_at``.
    """

    portions: tuple[Portion, ...]
    about: bool = False
    what: str = ""
    what_at: tuple[int, int] = field(default=(0, 0), compare=False)


@dataclass(frozen=True)
class Parts:
    """Parts of a blend, by weight."""

    parts: float


@dataclass(frozen=True)
class Likeness:
    """As much as the things named, times a factor."""

    names: tuple[str, ...]
    factor: float
    #: All the names as they were written, before they were taken apart.
    whole: str = ""
    at: tuple[int, int] = field(default=(0, 0), compare=False)


@dataclass(frozen=True)
class Rate:
    """Grams per kilogram of ``of``; None where nothing was named. ``percent`` where written as a share."""

    grams_per_kg: float
    of: str | None
    percent: bool = False


@dataclass(frozen=True)
class Total:
    """Made up to a total mass in the vessel."""

    grams: float


@dataclass(frozen=True)
class TotalVolume:
    """Made up to a total volume in the vessel."""

    ml: float


@dataclass(frozen=True)
class Everything:
    """All there is."""


Parsed = Quantity | Parts | Likeness | Rate | Total | TotalVolume | Everything

_COUNTS = {
    "a": 1.0, "an": 1.0, "one": 1.0, "two": 2.0, "three": 3.0, "four": 4.0, "five": 5.0, "six": 6.0, "seven": 7.0,
    "eight": 8.0, "nine": 9.0, "ten": 10.0, "eleven": 11.0, "twelve": 12.0, "dozen": 12.0,
}  # fmt: skip
_FRACTIONS = {"half": 1 / 2, "halves": 1 / 2, "third": 1 / 3, "quarter": 1 / 4, "eighth": 1 / 8}
_MULTIPLES = {"twice": 2.0, "double": 2.0, "thrice": 3.0, "triple": 3.0}
_SHAPES = {"heaping": "heaped", "good": "generous"}
_SMALL = {"pinches": "pinch", "dashes": "dash", "drops": "drop", "smidgens": "smidgen"}

#: “Half-and-half” is one name.
_BETWEEN_NAMES = re.compile(r",|(?<![\w-])and(?![\w-])|\+|&")


def _span(token: Token) -> tuple[int, int]:
    return token.start_pos or 0, token.end_pos or 0


def _plain_number(text: str) -> float:
    """“1,200” and “1 200” are twelve hundred, “1,5” one and a half."""
    grouped = re.fullmatch(r"(\d{1,3}(?:[ \u00a0\u202f\u2009'’]\d{3})+)(?:[.,](\d+))?", text)
    if grouped:
        return float(f"{re.sub(r'[^0-9]', '', grouped[1])}.{grouped[2] or 0}")
    if re.fullmatch(r"\d{1,3}(?:,\d{3})+(?:\.\d+)?", text):
        return float(text.replace(",", ""))
    return float(text.replace(",", "."))


def _vulgar(token: Token) -> float:
    text = unicodedata.normalize("NFKC", str(token)).replace("⁄", "/")
    top, _, bottom = text.partition("/")
    if float(bottom) == 0:
        raise NotUnderstood("amount", f"“{token}” divides by nothing.", "Check the fraction.", at=_span(token))
    return float(top) / float(bottom)


def _fraction_word(token: Token) -> float:
    word = str(token).lower()
    return _FRACTIONS.get(word) or _FRACTIONS[word.removesuffix("s")]


def _tidy(text: str) -> str:
    return re.sub(r"\s+", " ", text.strip().lower())


_Count = tuple[float, float]
#: Between a measure system and a unit, while a text is read.
_OF = ":"


def _portion(low: float, high: float, measure: Token) -> Portion:
    system, _, unit = str(measure).rpartition(_OF)
    return Portion(low, high, unit, at=_span(measure), system=system or None)


@v_args(inline=True)
class _Reader(Transformer[Token, Parsed]):
    """What each form of the grammar means."""

    def start(self, parsed: Parsed) -> Parsed:
        return parsed

    def everything(self, _: Token) -> Everything:
        return Everything()

    def total(self, *parts: Any) -> Total | TotalVolume:
        portions = cast(tuple[Portion, ...], parts[-1])
        if all(portion.unit in LITRES for portion in portions):
            return TotalVolume(sum(portion.middle * LITRES[portion.unit or "ml"] for portion in portions))
        for portion in portions:
            if portion.unit not in MASS_G:
                remedy = "Write, for example, up to 100 g or up to 1 l."
                raise NotUnderstood("amount", "A total to make up to is grams or litres.", remedy, at=portion.at)
        return Total(sum(portion.middle * MASS_G[portion.unit or "g"] for portion in portions))

    # how many -----------------------------------------------------------

    def simple(self, token: Token) -> float:
        return _plain_number(token)

    def mixed(self, whole: Token, rest: Token) -> float:
        return _plain_number(whole) + _vulgar(rest)

    def vulgar(self, token: Token) -> float:
        return _vulgar(token)

    def word(self, token: Token) -> float:
        return _COUNTS[_tidy(token).removeprefix("a ")]

    def number(self, value: float) -> float:
        return value

    def and_fraction(self, whole: float, *rest: Token) -> float:
        return whole + _fraction_word(rest[-1])

    def fraction(self, *words: Token) -> float:
        return (self.word(words[0]) if len(words) == 2 else 1.0) * _fraction_word(words[-1])

    def count(self, value: float) -> _Count:
        return value, value

    def range(self, low: float, high: float) -> _Count:
        if high < low:
            raise NotUnderstood("amount", f"The range runs backwards: {low:g} to {high:g}.", "Put the smaller number first.")
        return low, high

    # of what ------------------------------------------------------------

    def unit(self, token: Token) -> Token:
        word = re.sub(r"\s+", " ", re.sub(r"\.", " ", str(token))).strip()
        known = {"TEASPOON": "tsp", "TABLESPOON": "tbsp"}.get(token.type) or UNIT_OF_WORD[word.lower()]
        return token.update(value=known)

    def unit_of(self, system: Token, token: Token) -> Token:
        return self._of_system(token, system)

    def unit_by(self, token: Token, system: Token) -> Token:
        return self._of_system(token, system)

    def _of_system(self, token: Token, system: Token) -> Token:
        word = re.sub(r"[^a-z]", "", str(system).lower())
        known = self.unit(token)
        return known.update(value=f"{SYSTEM_OF_WORD[word]}{_OF}{known}")

    def measure(self, token: Token) -> Token:
        return token.update(value=_SMALL.get(str(token).lower(), str(token).lower())) if token.type == "SMALL" else token

    def measured(self, count: _Count | float, measure: Token) -> Portion:
        low, high = count if isinstance(count, tuple) else (count, count)
        return _portion(low, high, measure)

    def shaped(self, count: _Count | Token, shape: Token, measure: Token) -> Portion:
        low, high = count if isinstance(count, tuple) else (1.0, 1.0)
        word = str(shape).lower()
        return replace(_portion(low, high, measure), shape=_SHAPES.get(word, word), at=_span(shape))

    def shape_first(self, shape: Token, count: _Count, measure: Token) -> Portion:
        return self.shaped(count, shape, measure)

    def one_shaped(self, shape: Token, measure: Token) -> Portion:
        return self.shaped((1.0, 1.0), shape, measure)

    def one_small(self, small: Token) -> Portion:
        return self.measured(1.0, self.measure(small))

    def part_of_one(self, fraction: float, _: Token, measure: Token) -> Portion:
        return self.measured(fraction, measure)

    def pieces(self, count: _Count, piece: Token) -> Portion:
        return Portion(*count, "piece", piece=_tidy(piece), at=_span(piece))

    def part_of_piece(self, fraction: float, _: Token, piece: Token) -> Portion:
        return self.pieces((fraction, fraction), piece)

    def portions(self, *portions: Portion) -> tuple[Portion, ...]:
        return portions

    def trailing(self, names: Token) -> Token:
        return names

    def quantity(self, *parts: Any) -> Quantity:
        about = isinstance(parts[0], Token)
        portions, trailing = cast("tuple[tuple[Portion, ...], Token | None]", parts[-2:])
        if trailing is None:
            return Quantity(portions, about)
        return Quantity(portions, about, _tidy(trailing), _span(trailing))

    def grams_assumed(self, *parts: Any) -> Quantity:
        return Quantity((Portion(*cast(_Count, parts[-1]), None),), len(parts) == 2)

    def parts(self, count: _Count) -> Parts:
        return Parts(0.5 * (count[0] + count[1]))

    # by other lines -----------------------------------------------------

    def rate(self, count: _Count, *parts: Token | None) -> Rate:
        number = 0.5 * (count[0] + count[1])
        found = {token.type: token for token in parts if token is not None}
        if "PERCENT" in found:
            number *= 10
        else:
            number *= MASS_G[UNIT_OF_WORD[str(found["MASS"]).lower().rstrip(".")]] * (10 if "PER100" in found else 1)
        return Rate(number, _tidy(found["NAMES"]) if "NAMES" in found else None, "PERCENT" in found)

    def as_much(self, *parts: Token | None) -> Likeness:
        return self._likeness(1.0, parts[-1])

    def multiple(self, multiple: Token, *parts: Token | None) -> Likeness:
        return self._likeness(_MULTIPLES[str(multiple).lower()], parts[-1])

    def times(self, count: _Count | float, *parts: Token | None) -> Likeness:
        return self._likeness(count if isinstance(count, float) else 0.5 * (count[0] + count[1]), parts[-1])

    def _likeness(self, factor: float, names: Token | None) -> Likeness:
        assert names is not None
        whole = _tidy(names).removeprefix("the ")
        each = tuple(n for n in (part.strip().removeprefix("the ") for part in _BETWEEN_NAMES.split(whole)) if n)
        if not each:
            raise NotUnderstood("amount", f"“{names}” names nothing.", EXAMPLES, at=_span(names))
        return Likeness(each, factor, whole, _span(names))


@cache
def _grammar() -> Lark:
    def either(units: Sequence[str]) -> str:
        words = sorted((word for unit in units for word in WORDS[unit]), key=len, reverse=True)
        return "|".join(re.escape(word).replace(r"\ ", r"\.?\s*") for word in words)

    text = _GRAMMAR.read_text(encoding="utf-8")
    by_mass = [unit for unit in WORDS if unit in ("mg", "g", "kg")]
    text = text.replace("@MASS@", either(by_mass)).replace("@UNIT@", either([unit for unit in WORDS if unit not in by_mass]))
    return Lark(text, parser="lalr", lexer="contextual", transformer=_Reader(), maybe_placeholders=True)


@lru_cache(maxsize=8192)
def _read(text: str) -> Parsed | NotUnderstood:
    """The parse, or why there is none; kept, since the same texts are read again at every keystroke."""
    if not text.strip():
        return NotUnderstood("amount", "There is no amount here yet.", EXAMPLES)
    if len(text) > _MOST_CHARACTERS:
        return NotUnderstood("amount", "This is far too long for an amount.", EXAMPLES)
    if re.match(r"\s*[-−]\s*[\d.,¼½¾⅐-⅞]", text):
        return NotUnderstood("amount", f"{text.strip()} cannot be weighed.", "Type an amount above 0, or remove the line.")
    try:
        return cast(Parsed, _grammar().parse(text))
    except NotUnderstood as refusal:
        return refusal
    except UnexpectedInput as error:
        return _refusal(text, error)


def parse_amount(text: str) -> Parsed:
    """Read one amount.

    Returns one of Quantity, Parts, Likeness, Rate, Total, TotalVolume, Everything. Raises NotUnderstood
    where no form fits, with the place of the word that stopped it in ``at``.

    >>> parse_amount("1 1/2 cups").portions
    (Portion(low=1.5, high=1.5, unit='cup', shape=None, piece='', at=(6, 10), system=None),)
    >>> parse_amount("as much as juice and water").names
    ('juice', 'water')
    >>> parse_amount("22 g per kg")
    Rate(grams_per_kg=22.0, of=None, percent=False)
    """
    found = _read(text)
    if isinstance(found, NotUnderstood):
        raise NotUnderstood(found.field, found.message, found.remedy, at=found.at, choices=found.choices)
    return found


def _refusal(text: str, error: UnexpectedInput) -> NotUnderstood:
    """Points at the word that fits no form."""
    ended = isinstance(error, UnexpectedEOF) or (isinstance(error, UnexpectedToken) and error.token.type == "$END")
    if ended:
        at = len(text.rstrip())
        return NotUnderstood("amount", f"“{text.strip()}” stops before it says how much of what.", EXAMPLES, at=(at, at))
    start = error.token.start_pos if isinstance(error, UnexpectedToken) else error.pos_in_stream
    start = min(start or 0, len(text) - 1)
    word = re.match(r"\S+", text[start:])
    end = start + (len(word[0]) if word else 1)
    meant = nearest_unit(text[start:end])
    choices = (text[:start] + meant + text[end:],) if meant else ()
    return NotUnderstood(
        "amount", f"“{text[start:end]}” does not fit there.", EXAMPLES, at=(start, end), choices=tuple(c for c in choices if _reads(c))
    )


def _reads(text: str) -> bool:
    """Whether a choice about to be offered can be read."""
    try:
        _grammar().parse(text)
    except (UnexpectedInput, NotUnderstood):
        return False
    return True


def nearest_unit(word: str, also: Sequence[str] = ()) -> str | None:
    """The word for a unit that was probably meant."""
    near = difflib.get_close_matches(word.lower(), [*(w for w in UNIT_OF_WORD if len(w) > 2), *_SMALL.values(), *also], n=1, cutoff=0.72)
    return near[0] if near else None
