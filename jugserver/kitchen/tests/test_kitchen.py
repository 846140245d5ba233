"""The kitchen: kept whole, changed by one person at a time."""

from __future__ import annotations

import json
from typing import Any

from django.db import IntegrityError, transaction

from jugcore.method.kitchen import Kitchen
from jugserver.config.tests.shop import ShopCase
from jugserver.kitchen.models import Pot, SiteKitchen
from jugserver.kitchen.services import kitchen_of, save_kitchen

POT = {"id": "wide", "name": "Wide", "tare_g": 1243, "diameter_cm": 28, "capacity_ml": 8000}


class KitchenTests(ShopCase):
    def put(self, number: int, kitchen: dict[str, Any]) -> Any:
        return self.send(self.signed_in("lead"), "PUT", "/api/v1/kitchen", {"number": number, "kitchen": kitchen})

    def test_what_goes_in_comes_out(self) -> None:
        whole = {
            "altitude_m": 640, "fridge_c": 5, "measures": "us", "pots": [POT, {**POT, "id": "tall", "name": "Tall"}],
            "burners": [{"id": "g", "name": "Gas", "power_w": 3500, "efficiency": 0.4}],
            "scales": [{"id": "s", "name": "Scale", "capacity_g": 5000, "resolution_g": 1}], "sieves": [{"id": "d", "name": "Drum", "mesh_um": 90}],
            "simmer_kg_m2h": {"low": 10, "typical": 13, "high": 17},
        }  # fmt: skip
        out = json.loads(self.put(0, whole).content)
        self.assertEqual(out["number"], 1)
        self.assertEqual(Kitchen.model_validate(out["kitchen"]), Kitchen.model_validate(whole))
        self.assertEqual([p["id"] for p in out["kitchen"]["pots"]], ["wide", "tall"])
        self.assertEqual(self.put(1, {"pots": []}).status_code, 200)
        self.assertEqual(kitchen_of(self.site).kitchen.pots, ())
        # What is gone is archived: its id is its own, whatever batches remember of it; named again it is there again.
        kept = dict(Pot.objects.filter(archived_at__isnull=False).values_list("key", "pk"))
        self.assertEqual(set(kept), {"wide", "tall"})
        again = json.loads(self.put(2, {"pots": [{**POT, "tare_g": 1250}]}).content)["kitchen"]["pots"]
        self.assertEqual([(pot["id"], pot["tare_g"]) for pot in again], [("wide", 1250)])
        self.assertEqual(Pot.objects.get(archived_at__isnull=True).pk, kept["wide"])

    def test_two_people_at_once(self) -> None:
        self.put(0, {"altitude_m": 100})
        body = self.assert_problem(self.put(0, {"altitude_m": 200}), 409, field="kitchen")
        self.assertEqual(body["theirs"]["kitchen"]["altitude_m"], 100)

    def test_what_cannot_be_is_a_sentence_at_the_field(self) -> None:
        cases = [({"altitude_m": 9000}, "kitchen.altitude_m"), ({"pots": [{**POT, "tare_g": -1}]}, "kitchen.pots.wide.tare_g"),
                 ({"pots": [POT, POT]}, "kitchen.pots"), ({"measures": "cubits"}, "kitchen.measures"), ({"fridge_c": "cold"}, "kitchen.fridge_c")]  # fmt: skip
        for kitchen, field in cases:
            with self.subTest(field=field):
                self.assert_problem(self.put(0, kitchen), 422, field=field)

    def test_a_change_that_is_rolled_back_is_not_remembered(self) -> None:
        lead = self.people["lead"]
        try:
            with transaction.atomic():
                save_kitchen(actor=lead, number=0, kitchen=Kitchen(altitude_m=111))
                self.assertEqual(kitchen_of(self.site).kitchen.altitude_m, 111)
                raise RuntimeError
        except RuntimeError:
            pass
        self.assertEqual(kitchen_of(self.site).kitchen.altitude_m, 0)
        save_kitchen(actor=lead, number=0, kitchen=Kitchen(altitude_m=222))
        self.assertEqual(kitchen_of(self.site).kitchen.altitude_m, 222)

    def test_the_database_holds_its_own_line(self) -> None:
        self.put(0, {})
        row = SiteKitchen.objects.get(site=self.site)
        for values in ({"altitude_m": 9000}, {"measures": "cubits"}, {"fridge_c": -5}):
            with self.subTest(values=values), self.assertRaises(IntegrityError), transaction.atomic():
                SiteKitchen.objects.filter(pk=row.pk).update(**values)

    def test_sites_do_not_see_each_other(self) -> None:
        self.put(0, {"altitude_m": 640})
        other = json.loads(self.signed_in(self.stranger).get("/api/v1/kitchen").content)
        self.assertEqual((other["number"], other["kitchen"]["altitude_m"]), (0, 0))
