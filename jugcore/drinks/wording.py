"""How the things in a cup are called within a sentence."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence


def in_a_sentence(title: str) -> str:
    """A title as a sentence goes on with it: up to its comma, without its capital where it is no name of somebody's own.

    >>> in_a_sentence("Oat drink, barista"), in_a_sentence("Rose Cardamom Foam")
    ('oat drink', 'Rose Cardamom Foam')
    """
    short = title.split(",")[0]
    return short if short[1:] != short[1:].lower() else short[:1].lower() + short[1:]


def told_apart(titles: Sequence[str]) -> list[str]:
    """Titles as a sentence goes on with them; those that would sound alike whole, without the comma."""
    short = [in_a_sentence(title) for title in titles]
    often = Counter(short)
    return [each if often[each] == 1 else in_a_sentence(title.replace(",", "")) for each, title in zip(short, titles, strict=True)]


def pouring_order(titles: Sequence[str]) -> str:
    """“Pour Weir Simple, then espresso, then whole milk.”; empty for one thing alone."""
    names = told_apart(titles)
    return f"Pour {names[0]}, then {', then '.join(names[1:])}." if len(names) > 1 else ""
