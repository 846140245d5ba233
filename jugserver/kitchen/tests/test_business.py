"""What a site counts in, when it is open and where it serves: saved once, by a lead, and told who changed it."""

from __future__ import annotations

import json
from typing import Any

from django.db import IntegrityError, transaction

from jugserver.config.tests.shop import ShopCase
from jugserver.kitchen.models import SiteBusiness

_URL = "/api/v1/business"


class Businesses(ShopCase):
    def put(self, business: dict[str, Any], number: int = 0, who: str = "lead") -> Any:
        return self.send(self.signed_in(who), "PUT", _URL, {"number": number, "business": business})

    def read(self, who: str = "view") -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.signed_in(who).get(_URL).content)
        return found

    def test_nothing_is_said_until_somebody_says_it(self) -> None:
        self.assertEqual(self.read()["number"], 0)
        self.assertEqual(self.read()["business"]["currency"], "")
        self.assertEqual(self.read()["business"]["opening_days"], [0, 1, 2, 3, 4, 5, 6])

    def test_it_is_kept_with_days_in_order_and_each_once(self) -> None:
        answer = self.put(
            {
                "currency": "EUR", "energy_price_kwh": 0.31, "wage_h": 19.5, "container_price": 0.38, "label_price": 0.04, "least_margin": 65,
                "time_zone": "Europe/Dublin", "opening_days": [5, 1, 1, 0], "places": [" Tannery Yard ", "Lock cart"],
            }
        )  # fmt: skip
        self.assertEqual(answer.status_code, 200, answer.content)
        found = self.read()
        self.assertEqual(found["number"], 1)
        self.assertEqual(
            found["business"],
            {
                "currency": "EUR", "energy_price_kwh": 0.31, "wage_h": 19.5, "container_price": 0.38, "label_price": 0.04, "least_margin": 65,
                "time_zone": "Europe/Dublin", "opening_days": [0, 1, 5], "places": ["Tannery Yard", "Lock cart"],
            },
        )  # fmt: skip

    def test_the_history_tells_a_time_zone(self) -> None:
        self.assertEqual(self.put({"time_zone": "Europe/Dublin"}).status_code, 200)
        changes = json.loads(self.signed_in("lead").get("/api/v1/changes").content)["items"]
        told = [each for change in changes for each in change["differs"] if each["name"] == "time zone"]
        self.assertEqual([(each["before"], each["after"]) for each in told], [("nothing", "Europe/Dublin")])

    def test_only_a_lead_changes_it_and_nobody_over_another(self) -> None:
        for who in ("prep", "view"):
            self.assertEqual(self.put({"currency": "EUR"}, who=who).status_code, 403)
        self.assertEqual(self.put({"currency": "EUR"}).status_code, 200)
        theirs = self.put({"currency": "SEK"})  # from what stood there before
        self.assertEqual(theirs.status_code, 409)
        self.assertEqual(json.loads(theirs.content)["theirs"]["business"]["currency"], "EUR")
        self.assertEqual(self.put({"currency": "SEK"}, number=1).status_code, 200)

    def test_what_cannot_be_is_refused_with_a_sentence(self) -> None:
        for wrong in (
            {"currency": "euro"}, {"wage_h": -1}, {"container_price": -0.1}, {"label_price": 1e9}, {"least_margin": 100}, {"energy_price_kwh": 1e9}, {"opening_days": [7]}, {"places": [""]}, {"places": ["  "]},
            {"places": ["Cart", "cart "]},
        ):  # fmt: skip
            with self.subTest(wrong=wrong):
                self.assert_problem(self.put(wrong), 422)
        self.assertEqual(SiteBusiness.objects.count(), 0)
        self.put({"currency": "EUR"})
        with self.assertRaises(IntegrityError), transaction.atomic():
            SiteBusiness.objects.update(currency="eu")
