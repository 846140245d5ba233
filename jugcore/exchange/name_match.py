"""What the words of somebody's recipe name in a pantry, without the amount: a name that stands in them whole, else the nearest."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import zip_longest
from typing import Any, Generic

from jugcore.exchange.line_search import GENERIC, Shelf, T, names_of_the_library, typed_line
from jugcore.exchange.recipe_lines import DESCRIBES, singular
from jugcore.matter.search_text import plain

#: Words looked at; more name no ingredient.
_MOST_WORDS = 9
#: What is before “of” and says how much without saying it: a knob of butter is butter (common practice, no source).
_VAGUE = frozenset((
    "knob", "knobs", "lump", "lumps", "splash", "splashes", "glug", "drizzle", "squeeze", "dollop", "handful", "handfuls", "swirl", "touch", "bit",
    "sprinkle", "sprinkling", "dusting", "drop", "drops", "thumb", "sprig", "sprigs", "bunch", "slice", "slices",
))  # fmt: skip


@dataclass(frozen=True)
class Named(Generic[T]):
    """What is meant, whether that is certain, and what else may be."""

    meant: T | None
    sure: bool
    others: tuple[T, ...]


NOTHING: Named[Any] = Named(None, False, ())


def match_name(shelf: Shelf[T], words: str, *, counted_in: str = "") -> Named[T]:
    """What words name.

    The longest name that stands in them whole is meant, the last of equals: “roasted butternut squash purée” is squash purée. A
    word for many things beside others that are not known, “mango juice”, is none of the things it usually means. ``counted_in``
    are words for pieces: of what they may name, that which is counted so is meant.
    """
    within = re.sub(r"[(\[](?![^)\]]*%)[^)\]]*[)\]]?", " ", words)
    whole, bare = _said(words), _said(within)
    if whole != bare and whole:
        aside = _near(shelf, whole)  # “butter (unsalted)”: what stands aside names it too
        if aside is not None:
            return _counted(aside, counted_in)
    return _counted(_meant(shelf, bare or whole), counted_in)


def _said(words: str) -> list[str]:
    """The words that say what it is."""
    said = plain(re.sub(r"(?<=\d)(?=%)|(?<=[A-Za-z])(?=\d)", " ", words)).split()[:_MOST_WORDS]
    said = [word for word, after in zip_longest(said, said[1:]) if word not in _VAGUE or after != "of"]
    return [word for word in said if word not in DESCRIBES] or said


def _meant(shelf: Shelf[T], said: Sequence[str]) -> Named[T]:
    hit = _whole(shelf, said)
    if hit is not None and not hit[2]:
        row, span, _ = hit
        return Named(row, span not in GENERIC, tuple(each for each in shelf.search(span) if each.key != row.key))
    near = _near(shelf, said)
    if near is not None:
        return near
    if hit is None:
        return Named(None, False, typed_line(shelf, " ".join(said)).found)
    row, span, _ = hit
    others = tuple(each for each in shelf.search(span) if each.key != row.key)
    return Named(None, False, (row, *others)) if span in GENERIC else Named(row, False, others)


def _near(shelf: Shelf[T], said: Sequence[str]) -> Named[T] | None:
    """What has all of the words in its names."""
    for words in (said, [*said[:-1], singular(said[-1])]):
        near = tuple(shelf.search(" ".join(words))) if said else ()
        if near:
            return Named(near[0], _is_called(near, words), near[1:])
    return None


def _whole(shelf: Shelf[T], said: Sequence[str]) -> tuple[T, str, list[str]] | None:
    """The row whose name stands whole in some words, the name, and the words beside it that may make it something else."""
    spans = list(_spans(said))
    own = shelf.own_called([text for text, _, _ in spans])
    library = names_of_the_library()
    for text, begin, end in spans:
        row = own.get(text)
        if row is None and text in library:
            row = shelf.keyed(library[text])
        if row is not None:
            return row, text, [*said[:begin], *said[end:]]
    return None


def _is_called(near: Sequence[T], said: Sequence[str]) -> bool:
    """Whether a name of the nearest is all the words, in its own order: chocolate milk is no milk chocolate.

    The beginning of a title is its name too where no other has it: citric acid is “Citric acid, monohydrate”.
    """
    text = " ".join(said)
    names = {plain(name) for name in (near[0].title, *near[0].other_names)}
    heads = [plain(row.title.split(",")[0]) for row in near]
    return text not in GENERIC and (text in names or (heads[0] == text and heads.count(text) == 1))


def _spans(said: Sequence[str]) -> Iterator[tuple[str, int, int]]:
    for many in range(len(said), 0, -1):
        for begin in range(len(said) - many, -1, -1):
            text = " ".join(said[begin : begin + many])
            yield text, begin, begin + many
            if (one := singular(text)) != text:
                yield one, begin, begin + many


def _counted(found: Named[T], pieces: str) -> Named[T]:
    """Of what may be meant, that which is counted in the pieces that are named."""
    wanted = {singular(word) for word in plain(pieces).split()}
    if not wanted or (found.meant is not None and wanted & set(found.meant.pieces)):
        return found
    fits = next((row for row in found.others if wanted & set(row.pieces)), None)
    if fits is None:
        return found
    rest = (*((found.meant,) if found.meant else ()), *(row for row in found.others if row.key != fits.key))
    return Named(fits, found.sure, rest)
