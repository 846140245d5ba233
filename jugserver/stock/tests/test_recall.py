"""Recall through bottles: from a lot to every bottle, through what was made with it, and back; as tables; what the hob offers."""

from __future__ import annotations

import csv
import json
from datetime import timedelta
from io import StringIO
from typing import Any

from django.utils import timezone

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import entry
from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.made_here import made_key
from jugserver.stock.models import Container, LotUse, Place


class Recalls(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")
        Place.objects.create(site=self.site, name="Kitchen", kitchen=True)
        fill = {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 500}
        self.simple = self.kept("Bridge Simple", [("water", "500 g"), ("white_sugar", "500 g")], fill)
        self.cream = self.kept("Bridge Cream", [("heavy_cream", "300 g"), (made_key(self.simple, 1), "200 g")], fill)

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:500])
        return json.loads(answer.content)

    def kept(self, name: str, lines: list[tuple[str, str]], *more: dict[str, Any]) -> str:
        listed = [{"id": f"l{n}", "substance": key, "amount": amount} for n, (key, amount) in enumerate(lines)]
        stages = [{"id": "mixed", "kind": "add", "vessel": "pot", "lines": listed}, *more]
        made = self.ask("POST", "/api/v1/formulas", {"document": {"name": name, "vessels": [], "stages": stages}})
        self.ask("POST", f"/api/v1/formulas/{made['id']}/versions", {"draft": 1, "note": "First."})
        return str(made["id"])

    def enter(self, batch: Batch, *whats: dict[str, Any]) -> None:
        append(actor=self.people["lead"], batch_id=batch.pk, events=[Event.model_validate(entry(what, by="lead")) for what in whats])
        keep_state(Batch.objects.in_full().get(pk=batch.pk))

    def syrup(self, *lots: tuple[float, str | None], days_ago: int = 0) -> Batch:
        """A batch of the syrup with sugar of some lots, in two bottles."""
        at = timezone.now() - timedelta(days=days_ago)
        batch = start_batch(actor=self.people["lead"], formula_id=self.simple, version=1, at=at)  # type: ignore[arg-type]
        weighed = [{"kind": "weighed", "line": "l1", "reads_g": g, "tare_g": 0.0, "more": n > 0, "lot": lot} for n, (g, lot) in enumerate(lots)]
        self.enter(batch, *weighed, {"kind": "bottled", "stage": "fill", "count": 2, "each_g": 300.0})
        return batch

    def lot(self, code: str, **more: Any) -> None:
        self.ask("POST", "/api/v1/substances/white_sugar/lots", {"code": code, "supplier": "Quay Provisions", "mass_g": 10000, **more})

    def recall(self, lot: str) -> Any:
        return self.ask("GET", f"/api/v1/stock/recall?ingredient=white_sugar&lot={lot}")

    def test_from_a_lot_to_every_bottle_through_what_was_made_with_it(self) -> None:
        self.lot("S 17")
        sure, other, unsaid = self.syrup((500, "S 17")), self.syrup((500, "S18")), self.syrup()
        bottle = Container.objects.filter(batch=sure).first()
        assert bottle is not None
        takes = [{"line": "l1", "containers": [str(bottle.pk)]}]
        cream = self.ask("POST", "/api/v1/stock/batches", {"formula": self.cream, "version": 1, "takes": takes})
        self.enter(Batch.objects.in_full().get(pk=cream["id"]), {"kind": "bottled", "stage": "fill", "count": 1, "each_g": 450.0})
        found = self.recall("s17")
        self.assertEqual(
            [(each["number"], each["sure"], each["how"], each["via"]) for each in found["batches"]],
            [(sure.number, True, "weighed", None), (cream["number"], True, "made with", sure.number), (unsaid.number, False, "not said", None)],
        )
        self.assertNotIn(other.number, [each["number"] for each in found["batches"]])
        self.assertEqual((found["known"], found["mass_g"], found["weighed_g"]), (True, 10000, 500.0))
        self.assertEqual((found["there"], found["gone"]), (5, 0))
        self.assertIn("may be in 1 more where nobody noted the lot; 5 containers", found["words"])
        rows = list(csv.DictReader(StringIO(self.client_.get("/api/v1/stock/recall.csv?ingredient=white_sugar&lot=s17").content.decode("utf-8-sig"))))
        self.assertEqual([row["sure"] for row in rows], ["sure", "sure", "sure", "may be", "may be"])
        self.assertEqual({row["where"] for row in rows}, {"Kitchen"})

    def test_back_from_a_bottle_to_every_lot(self) -> None:
        self.lot("S17")
        syrup = self.syrup((300, "S17"), (200, "S19"))
        bottle = Container.objects.filter(batch=syrup).first()
        assert bottle is not None
        takes = [{"line": "l1", "containers": [str(bottle.pk)]}]
        cream = self.ask("POST", "/api/v1/stock/batches", {"formula": self.cream, "version": 1, "takes": takes})
        self.enter(Batch.objects.in_full().get(pk=cream["id"]), {"kind": "bottled", "stage": "fill", "count": 1, "each_g": 450.0})
        mine = Container.objects.get(batch=cream["id"])
        found = self.ask("GET", f"/api/v1/stock/containers/{mine.pk}/origin")["batches"]
        self.assertEqual([each["number"] for each in found], [cream["number"], syrup.number])
        self.assertEqual([(lot["title"], lot["code"]) for lot in found[0]["lots"]], [("Heavy cream", "")])
        self.assertEqual(
            [(lot["code"], lot["grams"], lot["supplier"]) for lot in found[1]["lots"]], [("S17", 300.0, "Quay Provisions"), ("S19", 200.0, "")]
        )
        text = self.client_.get(f"/api/v1/stock/batches/{cream['id']}/origin.csv").content.decode("utf-8-sig")
        self.assertEqual([row["lot"] for row in csv.DictReader(StringIO(text))], ["not noted", "S17", "S19"])

    def test_a_lot_that_was_used_up_is_in_nothing_that_was_made_later(self) -> None:
        today = timezone.localdate()
        self.lot("S17", received_on=str(today - timedelta(days=20)), used_up_on=str(today - timedelta(days=10)))
        early, late = self.syrup(days_ago=12), self.syrup(days_ago=3)
        self.assertEqual([each["number"] for each in self.recall("S17")["batches"]], [early.number])
        self.assertEqual({row.code for row in LotUse.objects.filter(batch=late)}, {""})

    def test_what_is_taken_back_in_the_log_is_taken_back_here(self) -> None:
        batch = self.syrup((500, "S17"))
        entry_id = next(str(each.id) for each in batch.entries.all() if each.kind == "weighed")
        self.assertTrue(self.recall("S17")["batches"][0]["sure"])
        self.enter(batch, {"kind": "undone", "entry": entry_id})
        self.assertEqual([each["sure"] for each in self.recall("S17")["batches"]], [False])

    def test_what_the_hob_offers(self) -> None:
        today = timezone.localdate()
        for code, more in (
            ("NEW", {}),
            ("OPEN", {"opened_on": str(today)}),
            ("OTHER", {"opened_on": str(today)}),
            ("GONE", {"used_up_on": str(today)}),
        ):
            self.lot(code, **more)
        self.syrup((500, "OTHER"))
        batch = start_batch(actor=self.people["lead"], formula_id=self.simple, version=1)  # type: ignore[arg-type]
        found = self.ask("GET", f"/api/v1/stock/batches/{batch.pk}/lots")
        self.assertEqual([each["code"] for each in found["l1"]], ["OTHER", "OPEN", "NEW"])
        self.assertEqual(set(found), {"l1"})

    def test_another_site_and_a_bar_find_nothing(self) -> None:
        batch = self.syrup((500, "S17"))
        container = Container.objects.filter(batch=batch).first()
        assert container is not None
        stranger, bar = self.signed_in(self.stranger), self.signed_in("bar")
        self.assertEqual(json.loads(self.send(stranger, "GET", "/api/v1/stock/recall?ingredient=white_sugar&lot=S17").content)["batches"], [])
        self.assertEqual(self.send(stranger, "GET", "/api/v1/stock/recall?ingredient=no_such&lot=S17").status_code, 404)
        for path in (f"containers/{container.pk}/origin", f"batches/{batch.pk}/origin.csv", f"batches/{batch.pk}/lots"):
            self.assertEqual(self.send(stranger, "GET", f"/api/v1/stock/{path}").status_code, 404)
            self.assertEqual(self.send(bar, "GET", f"/api/v1/stock/{path}").status_code, 403)
