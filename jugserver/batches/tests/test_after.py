"""After the hob, over the API: the cooling log until both marks are shown, and days that wait in the freezer."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from io import BytesIO
from typing import Any

from pypdf import PdfReader
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.platypus import Table

from jugcore.method.document import KeepingDoc
from jugserver.batches.services import batch_of
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.exchange.run_sheet import _block
from jugserver.exchange.scripts import PLAIN, use_fonts


class After(ShopCase):
    def setUp(self) -> None:
        self.now = datetime.now(UTC) - timedelta(days=40)
        self.batch = begun_batch(self.people["lead"], "toasted-hazelnut", keeping=KeepingDoc(ph=6.6, heat_treated=False), at=self.now)
        self.client_ = self.signed_in("prep")

    def _enter(self, what: dict[str, Any], after: timedelta = timedelta()) -> None:
        event = {**entry(what), "at": (self.now + after).isoformat()}
        answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [event]})
        self.assertEqual(answer.status_code, 200, answer.content[:400])

    def _batch(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.client_.get(f"/api/v1/batches/{self.batch.id}").content)
        return found

    def _cooling(self) -> list[dict[str, Any]]:
        found: list[dict[str, Any]] = json.loads(self.client_.get("/api/v1/batches?cooling=true").content)["items"]
        return [card for card in found if card["id"] == str(self.batch.id)]

    def _label(self, query: str = "") -> str:
        data = self.client_.get(f"/api/v1/batches/{self.batch.id}/label.pdf?{query}").content
        return PdfReader(BytesIO(data)).pages[0].extract_text()

    def test_it_is_on_the_list_until_it_is_shown_cold(self) -> None:
        self.assertEqual(self._cooling(), [])
        self._enter({"kind": "began", "stage": "cool"})
        self.assertEqual(self._cooling()[0]["cooling"]["at_most_c"], 21)
        self._enter({"kind": "probed", "stage": "cool", "temperature_c": 20.5}, timedelta(hours=1))
        self.assertEqual(self._cooling()[0]["cooling"]["at_most_c"], 5)
        self._enter({"kind": "closed", "outcome": "finished", "reason": "", "again": False}, timedelta(hours=2))
        self._enter({"kind": "probed", "stage": "fill", "temperature_c": 4.2}, timedelta(hours=3))
        self.assertEqual(self._cooling(), [])
        log = self._batch()["report"]["sheet"]["cooling"]
        self.assertEqual([mark["state"] for mark in log["marks"]], ["met", "met"])

    def test_the_run_sheet_has_room_for_it_and_then_what_was_entered(self) -> None:
        def paper() -> str:
            data = self.client_.get(f"/api/v1/batches/{self.batch.id}/run-sheet.pdf").content
            return " ".join(" ".join(page.extract_text() for page in PdfReader(BytesIO(data)).pages).split())

        self.assertIn("At most 21 °C within 2 hours", paper())
        self.assertNotIn("20.5 °C", paper())
        self._enter({"kind": "began", "stage": "cool"})
        self._enter({"kind": "probed", "stage": "cool", "temperature_c": 20.5}, timedelta(hours=1))
        self.assertIn("20.5 °C", paper())

    def test_no_words_on_paper_run_over_the_figure_beside_them(self) -> None:
        """What does not break into lines must fit its column; the boil's own words once lay over its weight."""
        use_fonts()
        batch = begun_batch(self.people["lead"])
        sheet = batch_of(batch.site, batch.pk).report.sheet
        self.assertTrue(any(step.boil for step in sheet.steps))
        for number, step in enumerate(sheet.steps, 1):
            for table in (part for part in _block(number, step) if isinstance(part, Table)):
                for row in table._cellvalues:
                    for cell, width in zip(row, table._argW, strict=True):
                        if isinstance(cell, str):
                            self.assertLess(stringWidth(cell, PLAIN, 9.5) + 12, width, cell)

    def test_freezing_pauses_and_thawing_goes_on(self) -> None:
        self._enter({"kind": "closed", "outcome": "finished", "reason": "", "again": False})
        before = self._batch()
        last = datetime.fromisoformat(before["use_by"]).date()
        self._enter({"kind": "frozen", "how": ""}, timedelta(days=1))
        inside = self._batch()
        self.assertIsNone(inside["use_by"])
        left = (last - self.now.date()).days - 1
        self.assertEqual(inside["use_by_words"], f"{left} days once thawed, that day being day one" if left > 1 else "use it the day it is thawed")
        self.assertIn("never resets", inside["use_by_why"])
        self.assertIn(f"Use by: {inside['use_by_words']}", " ".join(self._label("store=frozen").split()))
        self.assertIn("Thawed on:", self._label("store=frozen"))
        self._enter({"kind": "thawed"}, timedelta(days=11))
        after = self._batch()
        self.assertEqual(datetime.fromisoformat(after["use_by"]).date(), last + timedelta(days=9))

    def test_frozen_after_its_day_is_thrown_away(self) -> None:
        self._enter({"kind": "closed", "outcome": "finished", "reason": "", "again": False})
        self._enter({"kind": "frozen", "how": ""}, timedelta(days=30))
        self.assertIn("throw it away", self._batch()["use_by_why"])
