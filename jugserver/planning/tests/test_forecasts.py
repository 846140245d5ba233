"""What days to come bring and need at a site: from what was sold, what was said, and what drinks are made of."""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any
from uuid import uuid4

from django.utils import timezone

from jugcore.stock import movements as m
from jugserver.batches.services import start_batch
from jugserver.planning.forecasting import forecast_ask
from jugserver.planning.models import ForecastMade, VersionRecipe
from jugserver.sales.models import SaleCount
from jugserver.sales.tests.shop import SoldCase
from jugserver.stock.models import Container, Movement
from jugserver.stock.schemas import MovementIn
from jugserver.stock.services import enter


class Forecasts(SoldCase):
    def setUp(self) -> None:
        super().setUp()
        self.ask("POST", "/api/v1/sales/import", self.file(self.weeks(8)))

    def forecast(self, ahead: int = 7) -> Any:
        return self.ask("GET", f"/api/v1/plan/forecast?ahead={ahead}")

    def cups(self, found: Any, drink: str = "", day: int | None = None) -> float:
        cells = [cell for cell in found["report"]["cells"] if drink in ("", cell["drink"])]
        return sum(sum(cell["days"]["mean"]) if day is None else cell["days"]["mean"][day] for cell in cells)

    def test_what_is_sold_every_week_is_foreseen(self) -> None:
        found = self.forecast()
        self.assertEqual(found["known_days"], 56)
        self.assertEqual(len(found["report"]["cells"]), 6)
        week = 4 * 36 + 3 * 54  # at Kiln Lane; half of it at Weir Bridge
        self.assertAlmostEqual(self.cups(found) / (1.5 * week), 1.0, delta=0.05)
        whole = next(each for each in found["report"]["sums"] if each["of"] == "all")
        self.assertLess(whole["week"]["low"][0], whole["week"]["mean"][0])
        self.assertEqual(found["unforeseen"], [])

    def test_it_is_made_once_and_again_when_something_changes(self) -> None:
        first = self.forecast()
        self.assertEqual(ForecastMade.objects.count(), 1)
        self.assertEqual(self.forecast(), first)
        self.assertEqual(ForecastMade.objects.count(), 1)
        said = {"on": str(self.day(2)), "place": self.kiln.pk, "drink": self.latte, "size": "long", "count": 90, "reason": "Counted."}
        self.ask("POST", "/api/v1/sales/corrections", said)
        self.assertNotEqual(self.forecast()["report"], first["report"])
        self.assertEqual(ForecastMade.objects.count(), 2)

    def test_what_is_asked_of_the_core(self) -> None:
        """A day on which a drink is not named was one on which none was sold; of a day that is not known nothing is said; sold out says nothing."""
        SaleCount.objects.filter(on=self.day(3), drink=self.mocha).delete()
        said = {
            "on": str(self.day(2)),
            "place": self.kiln.pk,
            "drink": self.latte,
            "size": "long",
            "count": 11,
            "sold_out": True,
            "reason": "Milk ran out.",
        }
        self.ask("POST", "/api/v1/sales/corrections", said)
        asked = forecast_ask(self.site, 7)
        mocha = next(each for each in asked.sold if each.drink == self.mocha and each.place == str(self.kiln.pk))
        self.assertEqual(mocha.counts[-3], 0.0)
        latte = next(each for each in asked.sold if (each.drink, each.size, each.place) == (self.latte, "long", str(self.kiln.pk)))
        self.assertIsNone(latte.counts[-2])
        self.assertEqual(len(latte.counts), 56)

    def test_today_is_not_over(self) -> None:
        before = forecast_ask(self.site, 7)
        text = f"Day,Place,Item,Size,Sold\n{self.today},Kiln Lane,Ferry Latte,Long,1\n"
        self.ask("POST", "/api/v1/sales/import", self.file(text))
        self.assertEqual(forecast_ask(self.site, 7), before)

    def test_overrides_are_kept_with_their_reason_and_undone_by_one_press(self) -> None:
        plain = self.forecast()
        day = str(self.day(-3))
        told = {"first": day, "last": day, "drink": self.latte, "count": 300, "reason": "A wedding."}
        found = self.ask("POST", "/api/v1/plan/overrides", told)
        self.assertAlmostEqual(self.cups(found, self.latte, 3), 300, delta=0.1)
        self.assertAlmostEqual(self.cups(found, self.mocha), self.cups(plain, self.mocha), places=6)
        self.assertEqual([(each["reason"], each["by"]) for each in found["overrides"]], [("A wedding.", "The lead")])
        back = self.ask("DELETE", f"/api/v1/plan/overrides/{found['overrides'][0]['id']}")
        self.assertEqual(back["report"], plain["report"])
        for change, status in (
            ({"last": str(self.day(5)), "first": str(self.day(6))}, 422), ({"times": 2}, 422), ({"count": None}, 422), ({"drink": str(uuid4())}, 404),
            ({"size": "huge"}, 422), ({"drink": None, "size": "long"}, 422), ({"reason": ""}, 422), ({"place": 10**6}, 404),
        ):  # fmt: skip
            self.refused(status, "POST", "/api/v1/plan/overrides", {**told, **change})

    def test_a_new_drink_sells_like_another_and_needs_what_it_is_made_of(self) -> None:
        new = self.served("Night Latte", f"made-{self.syrup}-1")
        found = self.forecast()
        self.assertEqual(found["unforeseen"], [new])
        before = self.need()
        found = self.ask("PUT", "/api/v1/plan/likes", {"drink": new, "like": self.latte, "share": 0.5, "instead": False})
        self.assertEqual(found["unforeseen"], [])
        self.assertAlmostEqual(self.cups(found, new), 0.5 * self.cups(found, self.latte), delta=0.1)
        self.assertAlmostEqual(self.need()["whole"]["mean"][0], 1.5 * before["whole"]["mean"][0], delta=2)
        self.refused(422, "PUT", "/api/v1/plan/likes", {"drink": new, "like": new, "share": 0.5})
        self.refused(422, "PUT", "/api/v1/plan/likes", {"drink": self.mocha, "like": new, "share": 0.5})
        self.assertEqual(self.ask("DELETE", f"/api/v1/plan/likes/{new}")["unforeseen"], [new])

    def need(self) -> Any:
        found = self.ask("GET", "/api/v1/plan/needs")
        return next(each for each in found["report"]["products"] if each["product"] == self.syrup)

    def test_needs_are_cups_times_doses(self) -> None:
        found = self.forecast()
        grams = {"long": 20.0, "short": 10.0}
        wanted = sum(sum(cell["days"]["mean"]) * grams[cell["size"]] for cell in found["report"]["cells"] if cell["drink"] == self.latte)
        needs = self.ask("GET", "/api/v1/plan/needs")
        self.assertEqual([each["name"] for each in needs["products"]], ["Bridge Simple"])
        self.assertAlmostEqual(self.need()["whole"]["mean"][0], wanted, delta=1)
        sugar = next(each for each in needs["report"]["bought"] if "sugar" in each["title"].lower())
        self.assertAlmostEqual(sugar["grams"], 0.5 * wanted, delta=1)
        self.assertEqual(VersionRecipe.objects.count(), 1)
        self.assertEqual(needs["report"]["without_dose"], [self.mocha])

    def test_nothing_sold_is_no_forecast_and_no_error(self) -> None:
        stranger = self.signed_in(self.stranger)
        answer = self.send(stranger, "GET", "/api/v1/plan/forecast")
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        self.assertEqual(answer.json()["report"]["cells"], [])  # type: ignore[attr-defined]
        self.assertEqual(self.send(stranger, "GET", "/api/v1/plan/needs").json()["report"]["products"], [])  # type: ignore[attr-defined]


class OverPours(SoldCase):
    def test_a_bar_that_pours_more_than_the_dose(self) -> None:
        """Last week's lattes took 9.0 kg at most of one kind by the dose; bottles lost a tenth more, weighed and emptied within the week."""
        monday = self.today - timedelta(days=self.today.weekday() + 7)
        rows = ["Day,Place,Item,Size,Sold"] + [f"{monday + timedelta(days=n)},Kiln Lane,Ferry Latte,Long,20" for n in range(7)]
        self.ask("POST", "/api/v1/sales/import", self.file("\n".join(rows)))
        lead = self.people["lead"]
        batch = start_batch(actor=lead, formula_id=self.syrup, version=1)
        whole = timezone.make_aware(datetime.combine(monday, time(8)))
        for n in range(4):
            bottle = Container.objects.create(site=self.site, batch=batch, formula_id=self.syrup, entry=uuid4(), number=n + 1, kind="bottle",
                                              made_on=monday, filled_g=770.0, mass_g=770.0, place=self.kiln)  # fmt: skip
            at = whole + timedelta(hours=40 * n)
            whats: list[m.What] = [m.OpenedEntry(), m.WeighedEntry(mass_g=400.0), m.EmptiedEntry()]
            entries = [
                MovementIn(container=bottle.pk, movement=m.Movement(id=uuid4(), at=at + timedelta(hours=12 * k), what=what))
                for k, what in enumerate(whats)
            ]
            Movement.objects.create(id=uuid4(), container=bottle, seq=1, kind="filled", what={"kind": "filled", "mass_g": 770.0}, at=whole, by=lead)
            enter(actor=lead, entries=entries)
        found = self.ask("GET", "/api/v1/plan/over-pours")["rows"][0]
        self.assertEqual((found["name"], found["first"]), ("Bridge Simple", str(monday)))
        self.assertAlmostEqual(found["served_g"], 2800.0)
        self.assertAlmostEqual(found["lost_g"], 3080.0, delta=1)
        self.assertEqual(found["verdict"], "over")
        self.assertIn("10 %", found["words"])
        SaleCount.objects.filter(on=monday).delete()
        self.ask("POST", "/api/v1/sales/import", self.file(f"Day,Place,Item,Size,Sold\n{monday},Weir Bridge,Ferry Latte,Long,20\n"))
        self.assertEqual(self.ask("GET", "/api/v1/plan/over-pours")["rows"][0]["verdict"], "unknown")  # a bar of which six days are not known
