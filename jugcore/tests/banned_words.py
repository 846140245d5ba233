"""Words and shapes that no text a person meets may have: of the core, of files and of screens."""

from __future__ import annotations

import re

#: Words and shapes that no text of ours has, and what stands in their place.
BANNED: dict[str, str] = {
    r"\bby the walk\b": "calculated",
    r"\bin all\b(?! )": "in total",
    r"\breckon": "taken as, used instead",
    r"\b(?:costs?|for [\d.]+|thicker) a kilogram\b": "per kg",
    r"\b(?:sugars|costs?|[\d.]+) a litre\b": "per litre",
    r"\bnot said\b": "not answered",
    r"\b(?:keep|make) it so\b(?!\s+\w)|\bso it is\b|\bput it away\b": "Use this, Chosen, Archive",
    r"\bas loud as\b": "strength",
    r"\bwants\b": "needs",
    r"\b(?:can|cannot|to) be had\b": "is possible, can be reached",
    r"\bbelow nothing\b": "cannot be weighed, below 0",
    r"\bparted by\b": "separated by",
    r"\bboth marks\b": "both times",
    r"\bthe same again\b": "a percentage",
    r"\b(the|an?|of|on|to|is|and|with)\s+\1\b": "the word once",
    r"(?<![\d.,:–-])(\d[\d.,]*)(?: to |–)\1(?![\d.,]*\d)": "one figure where both ends agree",
}


def banned_in(text: str) -> list[str]:
    """What of a text is banned, each with what stands in its place."""
    return [f"“{found[0]}” in “{text[:120]}”: {instead}" for banned, instead in BANNED.items() if (found := re.search(banned, text, re.I))]
