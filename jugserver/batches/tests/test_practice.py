"""A batch that is only practised: cooked on the screen like any other, and nothing of it counts."""

from __future__ import annotations

import json
from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.stock.models import Container, LotUse, Place


class Practised(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        self.cooked = begun_batch(self.people["lead"])
        self.prep = self.signed_in("prep")

    def start(self, **more: Any) -> Any:
        body = {"formula": str(self.cooked.formula_id), "version": 1, "practice": True, **more}
        answer = self.send(self.prep, "POST", "/api/v1/batches", body)
        self.assertEqual(answer.status_code, 201, answer.content[:400])
        return json.loads(answer.content)

    def listed(self, query: str = "") -> list[tuple[str, int]]:
        return [(each["kind"], each["number"]) for each in json.loads(self.prep.get(f"/api/v1/batches{query}").content)["items"]]

    def fill(self, batch: Batch) -> None:
        """Two bottles, and sugar of a lot."""
        fills = [stage["id"] for stage in batch.document["stages"] if stage["kind"] == "fill"]
        line = next(line["id"] for stage in batch.document["stages"] for line in stage.get("lines", []) if "sugar" in line["substance"])
        whats = [
            {"kind": "weighed", "line": line, "reads_g": 1000.0, "tare_g": 0.0, "more": False, "lot": "S1"},
            {"kind": "bottled", "stage": fills[0], "count": 2, "each_g": 300.0},
        ]  # fmt: skip
        append(actor=self.people["prep"], batch_id=batch.pk, events=[Event.model_validate(entry(what)) for what in whats])
        keep_state(Batch.objects.in_full().get(pk=batch.pk))

    def test_it_has_a_number_of_its_own_and_stands_in_no_list_but_its_own(self) -> None:
        first, second = self.start(), self.start()
        self.assertEqual([(each["kind"], each["number"]) for each in (first, second)], [("practice", 1), ("practice", 2)])
        self.assertEqual(self.listed(), [("real", self.cooked.number)])
        self.assertEqual(self.listed("?kind=practice&status=running"), [("practice", 2), ("practice", 1)])
        self.assertEqual(begun_batch(self.people["lead"]).number, self.cooked.number + 1, "the next batch counts on from the last cooked")

    def test_it_fills_no_bottle_takes_of_no_lot_and_is_no_last_time(self) -> None:
        practised = Batch.objects.get(pk=self.start()["id"])
        for batch in (practised, self.cooked):
            self.fill(batch)
            closed = {"kind": "closed", "outcome": "finished", "reason": ""}
            append(actor=self.people["prep"], batch_id=batch.pk, events=[Event.model_validate(entry(closed))])
            keep_state(Batch.objects.in_full().get(pk=batch.pk))
        self.assertEqual(Container.objects.filter(batch=self.cooked).count(), 2)
        self.assertEqual(LotUse.objects.filter(batch=self.cooked, code="S1").count(), 1)
        self.assertFalse(Container.objects.filter(batch=practised).exists())
        self.assertFalse(LotUse.objects.filter(batch=practised).exists())
        self.assertEqual(self.start()["last_time"]["number"], self.cooked.number)
        after = begun_batch(self.people["lead"])
        self.assertIsNone(json.loads(self.prep.get(f"/api/v1/batches/{after.pk}").content)["last_time"], "of another formula")

    def test_nothing_is_labelled_and_its_paper_says_what_it_is(self) -> None:
        made = self.start()
        self.assert_problem(self.prep.get(f"/api/v1/batches/{made['id']}/label.pdf"), 422, field="batch", word="only practised")
        sheet = self.prep.get(f"/api/v1/batches/{made['id']}/run-sheet.pdf")
        self.assertEqual(sheet.status_code, 200)
        self.assertIn("practice 0001", str(Batch.objects.get(pk=made["id"])))

    def test_nothing_is_taken_out_of_bottles_for_it(self) -> None:
        body = {"formula": str(self.cooked.formula_id), "version": 1, "practice": True}
        takes = [{"line": "sugar", "containers": [str(self.cooked.pk)]}]
        answer = self.send(self.prep, "POST", "/api/v1/stock/batches", {**body, "takes": takes})
        self.assert_problem(answer, 422, field="takes", word="Nothing is taken out of bottles")

    def test_the_database_fills_nothing_by_it_and_keeps_its_kind(self) -> None:
        practised = Batch.objects.get(pk=self.start()["id"])
        day = timezone.localdate()
        with self.assertRaises(IntegrityError), transaction.atomic():
            Container.objects.create(
                site=self.site,
                batch=practised,
                formula=practised.formula,
                entry=practised.pk,
                number=1,
                kind="bottle",
                made_on=day,
                filled_g=1,
                mass_g=1,
            )
        with self.assertRaises(IntegrityError), transaction.atomic():
            LotUse.objects.create(site=self.site, batch=practised, ingredient="honey", title="Honey", grams=1, on=day)
        with self.assertRaises(IntegrityError), transaction.atomic():
            Batch.objects.filter(pk=practised.pk).update(kind="real")
