"""Names of things as they are looked for: small letters, no accents, no signs."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable


def plain(text: str) -> str:
    """Small letters without accents or signs, words parted by one space."""
    letters = unicodedata.normalize("NFKD", text.lower())
    return " ".join("".join(ch if ch.isalnum() or ch in "%°" else " " for ch in letters if not unicodedata.combining(ch)).split())


def searchable(names: Iterable[str]) -> str:
    """Names as they are searched: a space before every word, so that one that begins a word is found."""
    return " " + " ".join(plain(name) for name in names) + " "
