"""What a till's names mean here: a drink and its size, a place, or nothing of ours."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jugcore.planning.sales.table import plain


@dataclass(frozen=True)
class KnownDrink:
    """A drink of the site: its id, its name, and its sizes as (id, name)."""

    id: str
    name: str
    sizes: tuple[tuple[str, str], ...]


@dataclass(frozen=True)
class Meant:
    """What a name means. Neither drink nor ``left_out``: nobody has said; a drink without a size: which of its sizes is not known."""

    drink: str = ""
    size: str = ""
    left_out: bool = False


@dataclass(frozen=True)
class Names:
    """What the site sells and where, and what names were said to mean before: items and places as :func:`item_key` and plain words."""

    drinks: tuple[KnownDrink, ...]
    places: tuple[tuple[str, str], ...]
    items: Mapping[str, Meant]
    places_said: Mapping[str, str]

    def place(self, words: str) -> str:
        """The id of the place that words name; "" where none does."""
        said = plain(words)
        if said in self.places_said:
            return self.places_said[said]
        exact = [id for id, name in self.places if plain(name) == said]
        return exact[0] if len(exact) == 1 else ""

    def item(self, drink: str, size: str) -> Meant:
        """What a drink's and a size's words mean, as somebody said before or as they are called here."""
        key = item_key(drink, size)
        if key in self.items:
            return self.items[key]
        said, of_size = plain(drink), plain(size)
        whole = [each for each in self.drinks if plain(each.name) == said]
        if len(whole) == 1:
            return Meant(whole[0].id, _size(whole[0], of_size))
        if not of_size:  # “Ferry Latte Regular”: the longest drink that it begins or ends with
            parts = [(each, rest) for each in self.drinks if (rest := _without(said, plain(each.name))) is not None]
            parts.sort(key=lambda part: -len(part[0].name))
            if parts:
                return Meant(parts[0][0].id, _size(parts[0][0], parts[0][1]))
        return Meant()

    def near(self, drink: str, most: int = 4) -> tuple[str, ...]:
        """Ids of drinks that share words with a name, the most alike first: what it may mean."""
        words = set(plain(drink).split())
        scored = [(len(words & set(plain(each.name).split())) / len(plain(each.name).split()), each.id) for each in self.drinks]
        return tuple(id for score, id in sorted(scored, key=lambda each: -each[0]) if score > 0)[:most]


def item_key(drink: str, size: str) -> str:
    """Under what a name of a till is remembered."""
    return f"{plain(drink)}|{plain(size)}"


def _without(said: str, name: str) -> str | None:
    """What is left of words that begin or end with a name; None where they do not."""
    if said.startswith(f"{name} "):
        return said[len(name) + 1 :]
    return said[: -len(name) - 1] if said.endswith(f" {name}") else None


def _size(drink: KnownDrink, words: str) -> str:
    """The size that words name: whole, or by its first letter alone; the only one where nothing is said. "" where none is."""
    if not words:
        return drink.sizes[0][0] if len(drink.sizes) == 1 else ""
    exact = [id for id, name in drink.sizes if plain(name) == words or plain(id) == words]
    if not exact:
        exact = [id for id, name in drink.sizes if plain(name) in words.split() or plain(name) == words.split()[0]]
    if not exact and len(words) == 1:
        exact = [id for id, name in drink.sizes if plain(name).startswith(words)]
    return exact[0] if len(exact) == 1 else ""


def most_said(sizes: Sequence[KnownDrink]) -> tuple[str, ...]:
    """Names of all sizes, each once."""
    return tuple(dict.fromkeys(name for drink in sizes for _, name in drink.sizes))
