"""Ingredients looked up by words: the site's own and the library's, in the order of their titles."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass

from jugcore.matter.search_text import plain
from jugserver.accounts.models import Site
from jugserver.pantry.models import Ingredient
from jugserver.process.planned import planned_anew

#: Shown at most, first page.
MOST = 20


#: Where a page ended: whether its last title begins as was typed, the title as lists go by it, and its key.
After = tuple[bool, str, str]


def search(site: Site, typed: str, *, kind: str = "", after: After | None = None, most: int = MOST) -> list[Ingredient]:
    """Ingredients whose names have a word that begins with each word typed; titles that begin as typed come first."""
    return _found(site, plain(typed), plain(typed).split(), kind=kind, after=after, most=most)


def ended_at(row: Ingredient, typed: str) -> After:
    """Where a page ended whose last row this is."""
    return row.sort.startswith(plain(typed)), row.sort, row.key


_COLUMNS = "id, key, title, sort, kind, basis, site_id, follows_library, price_per_kg, document"
#: The site's own in use; and what of the library no row of the site stands before.
_SCOPES = (
    "i.site_id = %s AND i.archived_at IS NULL",
    "i.site_id IS NULL AND NOT EXISTS (SELECT 1 FROM pantry_ingredient o WHERE o.site_id = %s AND o.key = i.key)",
)


class Asked:
    """What a pantry was asked already, and every word it has: for as long as it does not change, as while a file is read."""

    def __init__(self, site: Site) -> None:
        seen = Ingredient.objects.seen_by(site)
        self._words = sorted({word for words in seen.values_list("words", flat=True) for word in words.split()})
        self.own: dict[str, int] = dict(seen.filter(site=site).values_list("sort", "pk"))
        self.found: dict[tuple[object, ...], list[Ingredient]] = {}
        self.rows: dict[tuple[str, object], Ingredient | None] = {}

    def may_have(self, word: str) -> bool:
        """Whether any name has a word that begins so; with a space behind it, that is so."""
        wanted = word.rstrip()
        at = bisect_left(self._words, wanted)
        return at < len(self._words) and (self._words[at] == wanted if word != wanted else self._words[at].startswith(wanted))


_asked: ContextVar[Asked | None] = ContextVar("asked", default=None)


@contextmanager
def asked_once(site: Site) -> Iterator[None]:
    """While many lines are read at once: what was looked for is not looked for again, and not at all where no name has the word."""
    token = _asked.set(Asked(site))
    try:
        yield
    finally:
        _asked.reset(token)


def row_of(site: Site, **what: object) -> Ingredient | None:
    """The one row in use that is called or keyed so."""
    known = _asked.get()
    ((name, value),) = what.items()
    if known is None:
        return Ingredient.objects.seen_by(site).filter(**what).first()
    if (name, value) not in known.rows:
        known.rows[name, value] = Ingredient.objects.seen_by(site).filter(**what).first()
    return known.rows[name, value]


def own_sorted(site: Site, texts: Sequence[str]) -> dict[str, Ingredient]:
    """The site's own rows whose whole title is one of some texts."""
    known = _asked.get()
    if known is None:
        return {row.sort: row for row in Ingredient.objects.seen_by(site).filter(site=site, sort__in=texts)}
    found = {text: row_of(site, pk=known.own[text]) for text in texts if text in known.own}
    return {text: row for text, row in found.items() if row is not None}


def _found(site: Site, typed: str, words: Sequence[str], *, kind: str = "", after: After | None = None, most: int = MOST) -> list[Ingredient]:
    """A page of what is named so, from what was found before where it was."""
    known = _asked.get()
    if known is None:
        return _looked_up(site, typed, words, kind, after, most)
    if not all(known.may_have(word) for word in words):
        return []
    key = (typed, tuple(words), kind, after, most)
    if key not in known.found:
        known.found[key] = _looked_up(site, typed, words, kind, after, most)
    return known.found[key]


def _looked_up(site: Site, typed: str, words: Sequence[str], kind: str, after: After | None, most: int) -> list[Ingredient]:
    """A page of what is named so, in order: titles that begin as typed before the rest.

    One word may be in many names: titles that begin so are read in their order, and the rest only where the page is not full
    yet. Two words are rarely beside each other: the index of words is read for all of them, and the few that are left are put
    in order. So it takes about as long over many rows as over few.
    """
    if not typed:
        return _page(site, [], "", (), kind, after, most)
    patterns = [f"% {_literal(word)}%" for word in words]
    span = (typed, _after(typed))
    if len(words) > 1:
        return _few(site, span, patterns, kind, after, most)
    # A title that begins as typed has the word begun.
    needless = list(words) == [typed]
    first: list[Ingredient] = []
    if after is None or after[0]:
        first = _page(site, [] if needless else patterns, f"AND {_BEGINS}", span, kind, after, most)
        if len(first) >= most:
            return first
        after = None
    with planned_anew():
        rest = _page(site, patterns, f"AND NOT ({_BEGINS})", span, kind, after, most - len(first))
    return [*first, *rest]


#: Titles between two texts; statements are written out, since to put one together anew would take longer than to run it.
_BEGINS = "i.sort >= %s AND i.sort < %s"


def _page(site: Site, patterns: Sequence[str], begins: str, how: Sequence[str], kind: str, after: After | None, most: int) -> list[Ingredient]:
    """Rows in the order of their titles, the site's own and the library's.

    Either part reads the index of titles in order, or that of words, and stops when it has enough.
    """
    named = " AND i.words LIKE %s" * len(patterns)
    of_kind = " AND i.kind = %s" if kind else ""
    behind = " AND (i.sort, i.key) > (%s, %s)" if after else ""
    parts: list[str] = []
    params: list[object] = []
    for scope in _SCOPES:
        parts.append(f"(SELECT {_COLUMNS} FROM pantry_ingredient i WHERE {scope} {begins}{named}{of_kind}{behind} ORDER BY sort, key LIMIT %s)")
        params += [site.pk, *how, *patterns, *([kind] if kind else []), *(after[1:] if after else ()), most]
    together = f"{' UNION ALL '.join(parts)} ORDER BY sort, key LIMIT %s"
    return list(Ingredient.objects.raw(together, [*params, most]))


def _few(site: Site, span: tuple[str, str], patterns: Sequence[str], kind: str, after: After | None, most: int) -> list[Ingredient]:
    """Rows that have all the words, found first and then put in order."""
    named = " AND i.words LIKE %s" * len(patterns)
    of_kind = " AND i.kind = %s" if kind else ""
    scopes = " OR ".join(f"({scope})" for scope in _SCOPES)
    found = f"SELECT {_COLUMNS} FROM pantry_ingredient i WHERE ({scopes}){named}{of_kind} OFFSET 0"
    behind = f"WHERE (NOT ({_BEGINS}), i.sort, i.key) > (%s, %s, %s)" if after else ""
    together = f"SELECT * FROM ({found}) i {behind} ORDER BY NOT ({_BEGINS}), sort, key LIMIT %s"
    where = [*span, not after[0], *after[1:]] if after else []
    return list(Ingredient.objects.raw(together, [site.pk, site.pk, *patterns, *([kind] if kind else []), *where, *span, most]))


def _after(text: str) -> str:
    """The first text behind all that begin with this one, in the order of their characters: between the two the index is read, whatever was typed."""
    code = ord(text[-1]) + 1
    return text[:-1] + chr(0xE000 if 0xD800 <= code <= 0xDFFF else code)


def _literal(text: str) -> str:
    """Text with nothing in it that LIKE would read."""
    return text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


@dataclass(frozen=True)
class SiteShelf:
    """What a site can name, for the core to read typed lines by."""

    site: Site

    def search(self, typed: str) -> list[Ingredient]:
        return search(self.site, typed)

    def like(self, typed: str, words: Sequence[str]) -> list[Ingredient]:
        return _found(self.site, typed, words)

    def keyed(self, key: str) -> Ingredient | None:
        return row_of(self.site, key=key)

    def own_called(self, titles: Sequence[str]) -> dict[str, Ingredient]:
        return own_sorted(self.site, titles)
