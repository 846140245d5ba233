"""The words people meet: none that has to be read twice."""

from __future__ import annotations

import json
import re
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from jugcore.tests.banned_words import banned_in

RECORDED = Path(__file__).parent / "recorded"
#: Texts a sentence may start with though they are no letter: a figure, a quote, a sign.
_SMALL = re.compile(r"^[a-z].*[a-z]\.$", re.S)


def texts(value: Any) -> Iterator[str]:
    """Every text in an answer that is more than a code."""
    if isinstance(value, dict):
        for each in value.values():
            yield from texts(each)
    elif isinstance(value, list):
        for each in value:
            yield from texts(each)
    elif isinstance(value, str) and " " in value:
        yield value


class Words(unittest.TestCase):
    def setUp(self) -> None:
        self.texts = {text for path in sorted(RECORDED.glob("*.json")) for text in texts(json.loads(path.read_text(encoding="utf-8")))}

    def test_there_are_texts(self) -> None:
        self.assertGreater(len(self.texts), 1000)

    def test_no_text_has_a_banned_word_or_shape(self) -> None:
        self.assertEqual([found for text in sorted(self.texts) for found in banned_in(text)], [])

    def test_what_is_banned_is_found(self) -> None:
        for text in ("1,405 g by the walk", "6 h in all.", "1.60 a litre", "3 to 3 h", "12–12 g", "Keep it so", "Not said"):
            self.assertEqual(len(banned_in(text)), 1, text)
        for text in ("3 to 3.5 h", "12–13 g", "2026-03-03", "Make it so sour that it keeps", "all in"):
            self.assertEqual(banned_in(text), [], text)

    def test_no_sentence_starts_small(self) -> None:
        self.assertEqual([text for text in self.texts if _SMALL.match(text)], [])


if __name__ == "__main__":
    unittest.main()
