"""Substances over HTTP."""

from __future__ import annotations

import json

from jugserver.config.tests.shop import ShopCase


class Substances(ShopCase):
    def found(self, words: str) -> list[str]:
        answer = self.signed_in("view").get("/api/substances", {"q": words})
        return [s["title"] for s in json.loads(answer.content)]

    def test_by_the_first_letters_of_a_word(self) -> None:
        self.assertIn("Vanilla extract", self.found("van"))
        self.assertIn("Green cardamom, ground", self.found("card gro"))
        self.assertIn("Whole milk", self.found("milk"))
        self.assertEqual(self.found("zzz"), [])

    def test_facts_come_with_how_they_are_known(self) -> None:
        answer = self.signed_in("view").get("/api/substances", {"q": "pear juice"})
        juice = json.loads(answer.content)[0]
        self.assertEqual((juice["basis"], juice["source"]), ("estimate", ""))
        self.assertAlmostEqual(sum(juice["composition_g_per_100g"].values()), 100, delta=1)
