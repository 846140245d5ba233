"""What is drawn once and kept is what would be drawn again."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase, mock

from jugserver.config.tests import drawn


def described(most: int) -> dict[str, Any]:
    grams = {"type": "object", "required": ["grams"], "properties": {"grams": {"type": "integer", "minimum": 0, "maximum": most}}}
    body = {"required": True, "content": {"application/json": {"schema": grams}}}
    answers = {"200": {"description": "weighed"}}
    return {
        "openapi": "3.1.0", "info": {"title": "A scale", "version": "1"},
        "paths": {"/api/weighed": {"post": {"requestBody": body, "responses": answers}, "get": {"responses": answers}}},
    }  # fmt: skip


class Requests(TestCase):
    def setUp(self) -> None:
        home = self.enterContext(tempfile.TemporaryDirectory())
        self.enterContext(mock.patch.dict(os.environ, {"OAKENJUG_DATA": home}))
        self.kept = Path(home) / "made-for-tests"

    def test_kept_and_drawn_again_they_are_the_same(self) -> None:
        made = drawn.requests(described(9), 8)
        self.assertEqual(set(made), {"POST /api/weighed", "GET /api/weighed"})
        self.assertGreater(len({each.body for each in made["POST /api/weighed"]}), 3)
        with mock.patch.object(drawn, "_draw", side_effect=AssertionError("it was kept")):
            self.assertEqual(drawn.requests(described(9), 8), made)
        next(self.kept.iterdir()).unlink()
        self.assertEqual(drawn.requests(described(9), 8), made)

    def test_another_description_or_more_examples_are_drawn_anew_and_what_is_long_unused_goes(self) -> None:
        drawn.requests(described(9), 8)
        old = next(self.kept.iterdir())
        os.utime(old, (0, 0))
        self.assertGreater(len(drawn.requests(described(9), 20)["POST /api/weighed"]), 8)
        self.assertFalse(old.exists())
        drawn.requests(described(99), 20)
        self.assertEqual(len(list(self.kept.iterdir())), 2)
