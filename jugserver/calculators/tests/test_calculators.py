"""Sums over HTTP: with the site's kitchen and pantry, and what cannot be."""

from __future__ import annotations

import json
from typing import Any

from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.kitchen import Kitchen
from jugserver.config.tests.shop import ShopCase
from jugserver.kitchen.services import save_kitchen
from jugserver.pantry.services import save_ingredient


class Sums(ShopCase):
    def work(self, id: str, typed: str = "", **values: Any) -> Any:
        answer = self.send(self.signed_in("view"), "POST", f"/api/v1/calculators/{id}", {"values": values, "typed": typed})
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        found = json.loads(answer.content)
        return {f["id"]: f["value"] for f in found["fields"]}, found

    def test_each_one_listed_works_from_its_start(self) -> None:
        cards = json.loads(self.signed_in("view").get("/api/v1/calculators").content)
        self.assertGreaterEqual(len(cards), 16)
        for card in cards:
            with self.subTest(calculator=card["id"]):
                self.assertTrue(self.work(card["id"])[1]["fields"])

    def test_in_the_kitchen_of_the_site(self) -> None:
        save_kitchen(actor=self.people["lead"], number=0, kitchen=Kitchen(altitude_m=2000, fridge_c=8))
        values, _ = self.work("boiling", "brix", brix=0)
        self.assertAlmostEqual(values["probe_c"], 93.4, delta=0.2)
        self.assertEqual(self.work("cold-limit")[0]["fridge_c"], 8)

    def test_with_the_pantry_of_the_site(self) -> None:
        own = save_ingredient(
            actor=self.people["lead"], key=None, number=0,
            document=SubstanceDoc(title="Yard cream", kind="dairy", composition_g_per_100g={"water": 50, "milk_fat": 50}),
        )  # fmt: skip
        values, found = self.work("fat", "fat", a=own.key, b="skimmed_milk", fat=25, total_g=100)
        self.assertAlmostEqual(values["a_g"], 100 * (25 - 0.08) / (50 - 0.08), delta=0.05)
        self.assertEqual(found["document"]["substances"], {})
        self.assert_problem(
            self.send(self.signed_in(self.stranger), "POST", "/api/v1/calculators/fat", {"values": {"a": own.key}, "typed": "fat"}), 422, field="a"
        )

    def test_what_cannot_be_is_said_at_its_field(self) -> None:
        view = self.signed_in("view")
        for id, values, field in (
            ("ratio", {"brix": "lots"}, "brix"),
            ("pump", {"sizes": "x"}, "sizes"),
            ("nothing", {}, "calculator"),
            ("fat", {"fat": 99}, "fat"),
        ):
            with self.subTest(calculator=id):
                self.assert_problem(
                    self.send(view, "POST", f"/api/v1/calculators/{id}", {"values": values, "typed": next(iter(values), "")}), 422, field=field
                )
