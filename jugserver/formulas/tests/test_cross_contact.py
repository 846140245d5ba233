"""Allergens carried over by equipment, over the API: what the site's other formulas put into it, and what the kitchen says of it."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

from jugcore.method.kitchen import Equipment, Kitchen
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas.services import archive_formula, start_formula
from jugserver.kitchen.services import kitchen_of, save_kitchen


def _plain(tool: str = "stick_blender") -> dict[str, Any]:
    line = {"id": "water", "substance": "water", "amount": "900 g"}
    stages = [{"id": "in", "kind": "add", "vessel": "jug", "lines": [line]}, {"id": "mix", "kind": "mix", "vessel": "jug", "tool": tool}]
    return {"name": f"Plain {uuid4()}", "stages": stages}


class Shared(ShopCase):
    def setUp(self) -> None:
        self.lead = self.people["lead"]
        self.client_ = self.signed_in("lead")

    def _walked(self, document: dict[str, Any]) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = json.loads(self.send(self.client_, "POST", "/api/v1/walk", document).content)["cross_contact"]
        return found

    def test_other_formulas_of_the_site_count_until_they_are_put_away(self) -> None:
        self.assertEqual(self._walked(_plain()), [])
        nutty = start_formula(actor=self.lead, document=demo_document("toasted-hazelnut"))
        found = self._walked(_plain())
        self.assertEqual([each["allergen"] for each in found], ["milk", "nuts"])
        self.assertIn("Toasted Hazelnut uses it too", found[1]["words"])
        gear = json.loads(self.client_.get("/api/v1/equipment").content)
        self.assertEqual(
            next(each for each in gear if each["kind"] == "stick_blender")["allergens"], {n: ["Toasted Hazelnut"] for n in ("milk", "nuts")}
        )
        archive_formula(actor=self.lead, id=nutty.id)
        self.assertEqual(self._walked(_plain()), [])

    def test_another_sites_formulas_do_not(self) -> None:
        start_formula(actor=self.stranger, document=demo_document("toasted-hazelnut"))
        self.assertEqual(self._walked(_plain()), [])

    def test_what_the_kitchen_says_stands_before_the_formulas_and_is_kept(self) -> None:
        start_formula(actor=self.lead, document=demo_document("toasted-hazelnut"))
        site = self.lead.site
        assert site is not None
        piece = Equipment(id="green", name="Green stick", kind="stick_blender")
        kept = save_kitchen(actor=self.lead, number=kitchen_of(site).number, kitchen=Kitchen(equipment=(piece,)))
        self.assertEqual(kept.kitchen.equipment, (piece,))
        self.assertEqual(self._walked(_plain()), [])
        old = Equipment(id="old", name="Old stick", kind="stick_blender", allergens_met=("nuts",))
        save_kitchen(actor=self.lead, number=kept.number, kitchen=Kitchen(equipment=(piece, old)))
        self.assertEqual([each["words"] for each in self._walked(_plain())], ["Take Green stick: Old stick also meets nuts."])
