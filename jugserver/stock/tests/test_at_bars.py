"""What a bar sees of its bottles: those at its place, in doses; the second label; the opened life; all of it as a table."""

from __future__ import annotations

import csv
import json
from datetime import timedelta
from io import BytesIO, StringIO
from typing import Any
from uuid import uuid4

from django.utils import timezone
from pypdf import PdfReader

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import entry
from jugserver.config.tests.shop import ShopCase
from jugserver.drinks.served import catch_up
from jugserver.formulas.made_here import made_key
from jugserver.stock.models import Container, Place, ProductDose
from jugserver.stock.services import keep_doses


class AtBars(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")
        self.kitchen = Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        self.lane = Place.objects.create(site=self.site, name="Kiln Lane")
        lines = [{"id": "w", "substance": "water", "amount": "500 g"}, {"id": "s", "substance": "white_sugar", "amount": "500 g"}]
        fill = {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 500}
        document = {
            "name": "Bridge Simple", "stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": lines}, fill], "keeping": {"opened_days": 3},
        }  # fmt: skip
        self.formula = self.ask("POST", "/api/v1/formulas", {"document": document})["id"]
        self.ask("POST", f"/api/v1/formulas/{self.formula}/versions", {"draft": 1, "note": "First."})

    def ask(self, method: str, path: str, body: Any = None, who: str | None = None) -> Any:
        answer = self.send(self.client_ if who is None else self.signed_in(who), method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:500])
        return json.loads(answer.content)

    def bottles(self, count: int = 2, each_g: float = 412.0) -> list[Container]:
        batch = start_batch(actor=self.people["lead"], formula_id=self.formula, version=1)
        what = {"kind": "bottled", "stage": "fill", "count": count, "each_g": each_g}
        append(actor=self.people["lead"], batch_id=batch.pk, events=[Event.model_validate(entry(what, by="lead"))])
        keep_state(Batch.objects.in_full().get(pk=batch.pk))
        return list(Container.objects.filter(batch=batch).order_by("number"))

    def said(self, container: Container, **what: Any) -> None:
        movement = {"id": str(uuid4()), "at": timezone.now().isoformat(), "what": what}
        self.ask("POST", "/api/v1/stock/entries", {"entries": [{"container": str(container.pk), "movement": movement}]})

    def test_doses_by_what_is_served_whole_ones_out_of_each_bottle(self) -> None:
        """15 g and 25 g in two sizes: a dose is 20 g in the middle; 412 g are 20 doses, twice."""
        self.bottles()
        self.assertIsNone(self.ask("GET", "/api/v1/stock")["on_hand"][0]["doses"])
        sizes = [{"id": id, "name": id, "cup_ml": 300} for id in ("short", "long")]
        amounts = {"short": "15 g", "long": "25 g"}
        document = {"name": "Ferry Latte", "sizes": sizes, "components": [
            {"id": "dose", "role": "dose", "substance": made_key(self.formula, 1), "amounts": amounts},
            {"id": "shot", "role": "coffee", "substance": "espresso", "amounts": {"short": "60 g", "long": "60 g"}},
        ]}  # fmt: skip
        drink = self.ask("POST", "/api/v1/drinks", {"document": document})["id"]
        self.ask("POST", f"/api/v1/drinks/{drink}/versions", {"draft": 1, "note": "First."})
        self.ask("POST", f"/api/v1/drinks/{drink}/versions/1/ready", {"ready": True, "reason": "Known."})
        there = self.ask("GET", "/api/v1/stock")["on_hand"][0]
        self.assertEqual((round(there["dose_g"], 6), there["doses"]), (20.0, 40))
        before = list(ProductDose.objects.values_list("low_g", "likely_g", "high_g"))
        ProductDose.objects.all().delete()
        catch_up()
        self.assertEqual(list(ProductDose.objects.values_list("low_g", "likely_g", "high_g")), before)
        self.ask("POST", f"/api/v1/drinks/{drink}/versions/1/ready", {"ready": False, "reason": "Not any more."})
        self.assertIsNone(self.ask("GET", "/api/v1/stock")["on_hand"][0]["doses"])

    def test_what_it_keeps_once_opened_ends_it_and_never_lengthens_it(self) -> None:
        one, other = self.bottles()
        own = one.last_day
        self.said(one, kind="opened")
        one.refresh_from_db()
        opened_until = timezone.localdate() + timedelta(days=2)
        self.assertEqual(one.good_until, opened_until if own is None else min(own, opened_until))
        self.assertIn("Opened", one.why)
        other.refresh_from_db()
        self.assertEqual(other.good_until, own)

    def test_the_second_label_says_when_it_was_opened_and_until_when_it_is_good(self) -> None:
        one, other = self.bottles()
        self.said(one, kind="opened")
        one.refresh_from_db()
        bar = self.signed_in("bar")
        written, blank = (
            PdfReader(BytesIO(bar.get(f"/api/v1/stock/containers/{each.pk}/label.pdf").content)).pages[0].extract_text() for each in (one, other)
        )
        assert one.good_until is not None
        self.assertIn(f"Opened: {timezone.localtime(one.opened_at):%a %d %b %Y}", written)
        self.assertIn(f"Use by: {one.good_until:%a %d %b %Y}", " ".join(written.split()))
        self.assertIn("Opened on: ____", blank)
        self.assertEqual(self.signed_in(self.stranger).get(f"/api/v1/stock/containers/{one.pk}/label.pdf").status_code, 404)

    def test_a_bar_sees_what_stands_at_its_place(self) -> None:
        here, _ = self.bottles()
        self.said(here, kind="moved", place=str(self.lane.pk))
        self.assertEqual(len(self.ask("GET", "/api/v1/stock", who="bar")["on_hand"]), 2)  # nobody placed it yet
        bars = self.ask("PUT", "/api/v1/places/bars/bar", {"place": self.lane.pk})
        self.assertEqual([(each["username"], each["place"]) for each in bars], [("bar", self.lane.pk)])
        found = self.ask("GET", "/api/v1/stock", who="bar")
        self.assertEqual((found["here"], [each["place"] for each in found["on_hand"]]), (self.lane.pk, [self.lane.pk]))
        self.assertIsNone(self.ask("GET", "/api/v1/stock")["here"])
        lead = self.signed_in("lead")
        self.assert_problem(self.send(lead, "PUT", "/api/v1/places/bars/bar", {"place": 999_999}), 422, field="place")
        self.assertEqual(self.send(lead, "PUT", "/api/v1/places/bars/prep", {"place": None}).status_code, 404)
        self.ask("PUT", "/api/v1/places/bars/bar", {"place": None})
        self.assertIsNone(self.ask("GET", "/api/v1/stock", who="bar")["here"])

    def test_as_a_table(self) -> None:
        one, _ = self.bottles()
        self.said(one, kind="opened")
        rows = list(csv.DictReader(StringIO(self.client_.get("/api/v1/stock/containers.csv").content.decode("utf-8-sig"))))
        self.assertEqual([(row["product"], row["state"], row["grams"]) for row in rows],
                         [("Bridge Simple", "opened", "412"), ("Bridge Simple", "closed", "412")])  # fmt: skip

    def test_doses_of_one_site_are_none_of_another(self) -> None:
        keep_doses(self.site, {})
        self.assertEqual(ProductDose.objects.count(), 0)
