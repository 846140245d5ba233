"""A line as people type it, “2 tsp blossom water”, parted into the ingredient it names and the amount that is left."""

from __future__ import annotations

import re
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from typing import Generic, Protocol, TypeVar

from jugcore.exchange.recipe_lines import line_words, piece_amount
from jugcore.matter.library import library
from jugcore.matter.search_text import plain
from jugcore.measures.systems import SHAPES, UNIT_OF_WORD

#: Words of a line that are looked at; a longer one is no line of a formula.
_MOST_WORDS = 14


class Thing(Protocol):
    """An ingredient as a pantry has it."""

    @property
    def key(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def other_names(self) -> Sequence[str]: ...
    @property
    def pieces(self) -> Collection[str]:
        """What it is counted in."""

    @property
    def of_site(self) -> bool:
        """Whether it is the pantry's own, and not the library's."""


T = TypeVar("T", bound=Thing)
T_co = TypeVar("T_co", bound=Thing, covariant=True)


class Shelf(Protocol[T_co]):
    """Where things are looked up: a pantry with the library beside it."""

    def search(self, typed: str) -> Sequence[T_co]:
        """Things whose names have a word that begins with each word typed; titles that begin as typed come first."""

    def like(self, typed: str, words: Sequence[str]) -> Sequence[T_co]:
        """The same by words that are looked for as they are: one with a space behind it is a whole word."""

    def keyed(self, key: str) -> T_co | None:
        """The one thing of an id."""

    def own_called(self, titles: Sequence[str]) -> Mapping[str, T_co]:
        """The pantry's own things whose whole title, plainly written, is one of some."""


@dataclass(frozen=True)
class TypedLine(Generic[T]):
    """Ingredients that may be meant, the likeliest first, and what of the line is left as its amount."""

    found: tuple[T, ...]
    amount: str


def typed_line(shelf: Shelf[T], text: str) -> TypedLine[T]:
    """Part a typed line.

    The words that name something are the ingredient, the rest is the amount, for the core to understand. Whole words at
    the beginning go first, since no amount begins with an ingredient; beside an amount a letter or two may be its unit:
    “g” is no ginger.
    """
    # A sign stands by its number: “30 %” is one word of an amount.
    said = re.sub(r"(?<=\d)\s+(?=%)", "", text).split()[:_MOST_WORDS]
    if not said:
        return TypedLine(tuple(shelf.search("")), "")
    shorter = range(1, len(said))
    # (from, to, how like a name its words must be)
    tries = [(0, len(said), _begins)]
    tries += [(0, to, _equals) for to in reversed(shorter)]
    tries += [(begin, len(said), _begun_enough) for begin in shorter]
    tries += [(0, to, _begun_enough) for to in reversed(shorter)]
    for begin, to, like in tries:
        wanted = " ".join(said[begin:to])
        words = plain(wanted).split()
        if not words or (like is not _begins and all(_says_how_much(word) for word in words)):
            continue
        matches = shelf.like(plain(wanted), [like(word) for word in words])
        if matches:
            # “A pinch of salt” is a pinch; an amount that says of what goes on after its “of”.
            before = said[: begin - 1] if begin and to == len(said) and said[begin - 1] == "of" else said[:begin]
            return TypedLine(_usual_first(shelf, plain(wanted), matches), " ".join((*before, *said[to:])))
    return TypedLine((), "")


def recipe_line(shelf: Shelf[T], text: str) -> TypedLine[T]:
    """A typed line as recipes write them: packs, grams beside cups, fruits and how it is packed are taken for what they are; a bare
    number of what is counted in pieces is pieces."""
    line = line_words(text)
    found = typed_line(shelf, line.words if line.kind == "line" else text)
    amount = line.amount or found.amount
    if found.found and not line.amount:
        amount = piece_amount(amount, line.words, tuple(found.found[0].pieces)) or amount
    return TypedLine(found.found, amount)


def _usual_first(shelf: Shelf[T], wanted: str, matches: Sequence[T]) -> tuple[T, ...]:
    """What is called just so before what only has the word in its name: of many sugars “sugar” is the usual one."""
    own = [row for row in matches if row.of_site and plain(row.title) == wanted]
    id = names_of_the_library().get(wanted)
    usual = own or [row for row in matches if row.key == id]
    if not usual and id is not None:
        usual = [row for row in [shelf.keyed(id)] if row is not None]
    first = {row.key for row in usual}
    return (*usual, *(row for row in matches if row.key not in first))


@cache
def names_of_the_library() -> dict[str, str]:
    """What the library calls each thing, by every one of its names, titles before other names."""
    books = library().values()
    other = {plain(name): book.id for book in books for name in book.also_called}
    return other | {plain(book.title): book.id for book in books}


#: Words for many things: what they are taken for is a guess.
GENERIC = frozenset((
    "sugar", "milk", "milk powder", "cream", "cocoa", "cocoa powder", "coffee", "tea", "black tea", "juice", "vanilla", "syrup", "butter", "pepper",
    "cinnamon", "starch", "glucose", "chocolate", "ginger", "orange", "lemon", "lime", "pear", "peel", "anise", "caramel", "coconut",
))  # fmt: skip
_NUMBER = re.compile(r"[\d½¼¾⅓⅔.,/-]+")
_AMOUNT_WORDS = (
    frozenset(UNIT_OF_WORD)
    | frozenset(SHAPES)
    | frozenset(("a", "an", "the", "of", "half", "quarter", "third", "one", "two", "three", "four", "about"))
)


def _says_how_much(word: str) -> bool:
    """Whether a word belongs to an amount: “half” is no half-and-half."""
    return bool(_NUMBER.fullmatch(word)) or word in _AMOUNT_WORDS


def _begins(word: str) -> str:
    return word


def _equals(word: str) -> str:
    return f"{word} "


def _begun_enough(word: str) -> str:
    return word if len(word) > 2 else f"{word} "
