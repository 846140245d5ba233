"""Texts that lists are searched in, and how a word of somebody's is looked for in them."""

from __future__ import annotations

from django.db.models import Q

#: Shorter words are looked for where a word begins: the index of words is made of three letters each.
_ANYWHERE_FROM = 3


def searched(text: str) -> str:
    """A text as it is kept to be searched: in small letters, a space before every word."""
    return f" {' '.join(text.lower().replace(chr(0), '').split())} "


def has_word(word: str) -> Q:
    """Rows whose ``search`` has a word, anywhere in it or, a short one, where a word begins."""
    return Q(search__contains=word if len(word) >= _ANYWHERE_FROM else f" {word}")
