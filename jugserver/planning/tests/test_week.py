"""A site's plan: what it makes of sales, stock, pins and settings. What plans are worth the core's tests say."""

from __future__ import annotations

from typing import Any
from uuid import uuid4

from jugserver.batches.services import start_batch
from jugserver.planning.models import VersionCook
from jugserver.sales.tests.shop import SoldCase
from jugserver.stock.models import Container


class Week(SoldCase):
    def setUp(self) -> None:
        super().setUp()
        self.ask("POST", "/api/v1/sales/import", self.file(self.weeks(8)))

    def plan(self, *pins: dict[str, Any]) -> Any:
        return self.ask("POST", "/api/v1/plan/week", {"pins": list(pins)})["plan"]

    def pin(self, day: int, cooks: int, kind: str = "exactly") -> dict[str, Any]:
        return {"product": self.syrup, "day": day, "cooks": cooks, "kind": kind}

    def test_what_is_needed_is_made(self) -> None:
        need = next(each for each in self.ask("GET", "/api/v1/plan/needs")["report"]["products"] if each["product"] == self.syrup)["whole"]["mean"][0]
        plan = self.plan()
        self.assertEqual([each["title"] for each in plan["products"]], ["Bridge Simple"])
        product = plan["products"][0]
        made = sum(cook["grams"] for cook in plan["cooks"])
        self.assertGreater(made, 0.9 * need)
        self.assertTrue(all(cook["grams"] <= cook["cooks"] * product["most_g"] + 1 for cook in plan["cooks"]))
        self.assertTrue(all(cook["why"] for cook in plan["cooks"]))
        self.assertEqual(plan["cooks"][0]["day"], 0)  # nothing is on hand
        self.assertLess(product["runs_out"], 0.5)
        self.assertLessEqual(plan["lived"]["money"], min(plan["to_par"]["money"], plan["fixed"]["money"]) + 1e-6)
        self.assertEqual(VersionCook.objects.count(), 1)

    def test_what_is_on_hand_is_not_made_again(self) -> None:
        batch = start_batch(actor=self.people["lead"], formula_id=self.syrup, version=1)
        for n, (ends, frozen) in enumerate(((4, False), (-1, False))):
            Container.objects.create(
                site=self.site, batch=batch, formula_id=self.syrup, entry=uuid4(), number=n + 1, kind="bottle", made_on=self.today, filled_g=4000.0,
                mass_g=4000.0, place=self.kiln, good_until=self.day(-ends), frozen=frozen,
            )  # fmt: skip
        plan = self.plan()
        self.assertGreater(plan["cooks"][0]["day"], 0)  # 4 kg are good; 4 kg that were good until yesterday are not counted

    def test_what_is_decided_is_kept_and_what_cannot_be_is_named(self) -> None:
        free = self.plan()
        day = free["cooks"][0]["day"]
        moved = self.plan(self.pin(day, 0), self.pin(day + 1, 1, "at least"))
        self.assertNotIn(day, [cook["day"] for cook in moved["cooks"]])
        cook = next(cook for cook in moved["cooks"] if cook["day"] == day + 1)
        self.assertTrue(cook["pinned"])
        self.assertGreaterEqual(moved["lived"]["money"], free["lived"]["money"] - 0.02 * abs(free["lived"]["money"]))
        self.assertEqual(self.plan(self.pin(1, 1), self.pin(2, 1), self.pin(1, 0))["blamed"], [0, 2])
        self.refused(422, "POST", "/api/v1/plan/week", {"pins": [{**self.pin(1, 1), "product": str(uuid4())}]})
        self.refused(422, "POST", "/api/v1/plan/week", {"pins": [self.pin(7, 1)]})

    def test_a_closed_day_and_a_day_without_hands_make_nothing(self) -> None:
        self.ask("POST", "/api/v1/sales/calendar", {"kind": "closed", "first": str(self.today), "last": str(self.today)})
        hands = [240] * 7
        hands[self.day(-1).weekday()] = 0
        settings = {"hands_min": hands, "burner_min": 120, "lost": 0.5, "fixed_weekdays": [4, 4, 1]}
        self.assertEqual(self.ask("PUT", "/api/v1/plan/settings", settings)["fixed_weekdays"], [1, 4])
        plan = self.plan()
        self.assertFalse({0, 1} & {cook["day"] for cook in plan["cooks"]})
        for change in ({"hands_min": [1] * 6}, {"lost": 0}, {"fixed_weekdays": [7]}, {"burner_min": -1}):
            self.refused(422, "PUT", "/api/v1/plan/settings", {**settings, **change})
