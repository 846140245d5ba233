"""A batch as files, and the log searched: the same figures on paper, in CSV, on the screen and from a shell."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from datetime import UTC, date, datetime
from io import BytesIO, StringIO
from typing import Any
from unittest import mock
from uuid import uuid4

from django.test import override_settings
from pypdf import PdfReader

from jugcore.method.document import KeepingDoc
from jugserver.batches.models import Batch, BatchState
from jugserver.batches.services import start_batch
from jugserver.batches.states import catch_up
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.pantry.schemas import LotIn
from jugserver.pantry.services import save_lot


class Files(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"])
        self.client_ = self.signed_in("prep")
        self.enter(
            {"kind": "weighed", "line": "juice", "reads_g": 410}, {"kind": "noted", "text": "=HYPERLINK(1)"}, {"kind": "done", "stage": "press"},
            {"kind": "wasted", "mass_g": 12.5, "reason": "splashed the hob"},
        )  # fmt: skip

    def enter(self, *whats: dict[str, Any]) -> None:
        answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [entry(w) for w in whats]})
        self.assertEqual(answer.status_code, 200, answer.content[:400])

    def get(self, path: str) -> bytes:
        answer = self.client_.get(f"/api/v1/batches/{path}".replace("/?", "?"))
        self.assertEqual(answer.status_code, 200, path)
        return answer.getvalue()

    def rows(self, data: bytes) -> list[dict[str, str]]:
        return list(csv.DictReader(StringIO(data.decode("utf-8-sig"))))

    def test_the_same_figures_everywhere(self) -> None:
        sheet = json.loads(self.get(str(self.batch.id)))["report"]["sheet"]
        row = next(r for r in self.rows(self.get("table.csv")) if r["batch"] == str(self.batch.number))
        self.assertEqual(float(row["yield g"]), round(sheet["yield_g"], 1))
        self.assertEqual(float(row["thrown away g"]), sheet["waste_g"])
        paper = "".join(page.extract_text() for page in PdfReader(BytesIO(self.get(f"{self.batch.id}/run-sheet.pdf"))).pages)
        boil = next(s for s in sheet["steps"] if s["boil"])
        self.assertIn(f"{boil['boil']['stop_reads_g']:,.0f} g", paper)
        self.assertIn("410 g", paper)
        batch = self.get(f"{self.batch.id}/batch.json")
        shell = subprocess.run([sys.executable, "-m", "jugcore", "sheet"], input=batch, capture_output=True, check=True)
        told = json.loads(shell.stdout)
        self.assertEqual(told["yield_g"], sheet["yield_g"])
        self.assertEqual([s["title"] for s in told["steps"]], [s["title"] for s in sheet["steps"]])
        rescued = subprocess.run([sys.executable, "-m", "jugcore", "rescue", "--about", "line:juice"], input=batch, capture_output=True, check=True)
        self.assertIn("20 g more of pear juice", json.loads(rescued.stdout)["suggestions"][0]["title"])

    def test_the_log_as_csv_runs_nothing(self) -> None:
        rows = self.rows(self.get(f"{self.batch.id}/log.csv"))
        self.assertEqual([r["number"] for r in rows], ["1", "2", "3", "4"])
        self.assertEqual(rows[1]["entry"], "'=HYPERLINK(1)")

    def test_a_label_of_the_batch(self) -> None:
        pdf = PdfReader(BytesIO(self.get(f"{self.batch.id}/label.pdf?dose=20 g&copies=2&store=cool")))
        self.assertEqual(len(pdf.pages), 2)
        text = pdf.pages[0].extract_text()
        self.assertIn(f"Batch {self.batch.number:04d}", text)
        # Boiled with fruit, it lies too near an edge: the cautious day, and what must be known beside it.
        self.assertRegex(" ".join(text.split()), r"Use by: \w{3} \d\d \w{3} \d{4}, heat, packaging and pH not known")
        self.assertIn("Dose: 20 g", text)
        self.assert_problem(self.client_.get(f"/api/v1/batches/{self.batch.id}/label.pdf?copies=100000"), 422)

    def test_use_by_stands_on_the_label_once_what_is_asked_is_answered(self) -> None:
        def label(keeping: dict[str, object] | None) -> str:
            document = demo_document("fennel-sweet-cream").model_copy(update={"name": f"Cream {uuid4().hex}"})
            if keeping is not None:
                document = document.model_copy(update={"keeping": KeepingDoc.model_validate(keeping)})
            kept = start_formula(actor=self.people["lead"], document=document)
            save_version(actor=self.people["lead"], id=kept.id, draft=1, note="First.")
            batch = start_batch(actor=self.people["lead"], formula_id=kept.id, version=1, at=datetime(2026, 3, 2, 9, tzinfo=UTC))
            return str(PdfReader(BytesIO(self.get(f"{batch.pk}/label.pdf"))).pages[0].extract_text())

        self.assertIn("Use by: Wed 04 Mar 2026, pH not measured", label(None))
        self.assertIn("Use by: Wed 04 Mar 2026", label({"ph": 6.6, "heat_treated": False}))
        # A lot that ends sooner decides; one past its date is taken to have been left alone while there is another.
        lead = self.people["lead"]
        save_lot(actor=lead, key="whole_milk", lot_id=None, lot=LotIn(code="M1", received_on=date(2026, 2, 20), best_before=date(2026, 3, 3)))
        self.assertIn("Use by: Tue 03 Mar 2026", label({"ph": 6.6, "heat_treated": False}))
        save_lot(actor=lead, key="heavy_cream", lot_id=None, lot=LotIn(code="C0", received_on=date(2026, 2, 1), best_before=date(2026, 2, 20)))
        self.assertIn("Fri 20 Feb 2026, a part was past its date", " ".join(label({"ph": 6.6, "heat_treated": False}).split()))
        save_lot(actor=lead, key="heavy_cream", lot_id=None, lot=LotIn(code="C1", received_on=date(2026, 2, 25), best_before=date(2026, 3, 9)))
        self.assertIn("Use by: Tue 03 Mar 2026", label({"ph": 6.6, "heat_treated": False}))

    def test_what_was_put_in_by_hand_comes_onto_the_label(self) -> None:
        """The site's own reading of an ingredient wins over the library's and over what came along with the entry."""
        own = {"title": "Whole milk of the yard", "kind": "dairy", "basis": "label", "storage": "chilled", "allergens": ["milk", "soybeans"],
               "composition_g_per_100g": {"water": 88, "lactose": 5, "milk_fat": 4, "protein": 3}, "opened": {"low": 2, "high": 2, "storage": "chilled"}}  # fmt: skip
        lead = self.signed_in("lead")
        answer = self.send(lead, "PUT", "/api/v1/substances/whole_milk", {"document": own})
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        forged = {"title": "Harmless", "kind": "water", "composition_g_per_100g": {"water": 100}}
        self.enter({"kind": "swapped", "line": "water", "substance": "whole_milk", "facts": forged})
        text = " ".join(PdfReader(BytesIO(self.get(f"{self.batch.id}/label.pdf"))).pages[0].extract_text().split())
        self.assertIn("Contains: soybeans, milk.", text)
        found = json.loads(self.get(f"{self.batch.id}"))
        self.assertEqual(found["report"]["walk"]["keeping"]["days"], 2)
        self.enter({"kind": "swapped", "line": "water", "substance": "mystery_juice"})
        text = " ".join(PdfReader(BytesIO(self.get(f"{self.batch.id}/label.pdf"))).pages[0].extract_text().split())
        self.assertIn("Not known: mystery juice.", text)

    def test_paper_goes_by_the_time_of_the_kitchen(self) -> None:
        late = datetime(2026, 7, 3, 22, 30, tzinfo=UTC)
        body = {"formula_id": self.batch.formula_id, "version": 1, "at": late}
        batch = start_batch(actor=self.people["lead"], **body)
        with override_settings(TIME_ZONE="Europe/Athens"):
            label = PdfReader(BytesIO(self.get(f"{batch.pk}/label.pdf"))).pages[0].extract_text()
            paper = PdfReader(BytesIO(self.get(f"{batch.pk}/run-sheet.pdf"))).pages[0].extract_text()
        self.assertIn("Sat 04 Jul 2026", label)
        self.assertIn("04 Jul 2026 01:30", paper)

    def test_a_second_label_for_the_day_it_is_opened(self) -> None:
        ask = "which=opened&opened=discard_four_hours&size=62x40&copies=22&paper=a4"
        answer = self.client_.get(f"/api/v1/batches/{self.batch.id}/label.pdf?{ask}")
        self.assertIn("opened-label.pdf", answer["Content-Disposition"])
        pdf = PdfReader(BytesIO(answer.content))
        self.assertEqual(len(pdf.pages), 2)
        self.assertIn("four hours after", " ".join(pdf.pages[0].extract_text().split()))
        self.assert_problem(self.client_.get(f"/api/v1/batches/{self.batch.id}/label.pdf?opened=whenever"), 422)

    def test_the_list_is_searched_and_narrowed(self) -> None:
        other = begun_batch(self.people["lead"], "weir-simple")
        answer = self.send(
            self.client_,
            "POST",
            f"/api/v1/batches/{other.id}/entries",
            {"events": [entry({"kind": "closed", "outcome": "stopped", "reason": "burnt"})]},
        )
        self.assertEqual(answer.status_code, 200)

        def numbers(ask: str) -> list[int]:
            return [card["number"] for card in json.loads(self.get(f"?{ask}"))["items"]]

        one, two = self.batch.number, other.number
        self.assertEqual(numbers(""), [two, one])
        for ask, expected in (
            ("q=weir", [two]), ("q=ferry splashed", [one]), (f"q={one}", [one]), ("q=burnt", [two]), ("q=nothing", []), ("status=stopped", [two]),
            ("status=running", [one]), ("off_plan=true", [one]), ("since=2020-01-01", [two, one]), ("until=2020-01-01", []), ("q=%25", []),
        ):  # fmt: skip
            with self.subTest(ask=ask):
                self.assertEqual(numbers(ask), expected)
        self.assert_problem(self.client_.get("/api/v1/batches?status=lost"), 422)
        self.assertEqual(Batch.objects.behind().count(), 0)

    def test_a_state_kept_for_a_list_of_before_is_made_anew(self) -> None:
        self.enter({"kind": "timer", "timer": "tea", "title": "Tea", "seconds": 300})
        [card] = json.loads(self.get("?status=running"))["items"]
        self.assertEqual([timer["title"] for timer in card["timers"]], ["Tea"])
        summary = {name: value for name, value in BatchState.objects.get().summary.items() if name != "timers"}
        BatchState.objects.update(summary=summary, shape=1)
        [shown] = json.loads(self.get("?status=running"))["items"]
        self.assertEqual((shown["timers"], shown["number"]), ([], card["number"]), "a list waits for nothing: it is shown as it was left")
        done: list[object] = []
        with mock.patch("jugserver.batches.states.by_and_by", side_effect=lambda key, deed: done.append(deed())):
            catch_up()
        self.assertEqual(len(done), 1)
        self.assertEqual(json.loads(self.get("?status=running"))["items"][0]["timers"], card["timers"])

    def test_a_card_of_a_boil_under_way_says_when_it_is_ready(self) -> None:
        self.enter(*({"kind": "done", "stage": s} for s in ("press", "dissolve", "warm", "blend", "spice")), {"kind": "began", "stage": "boil"})
        self.enter({"kind": "pot_weighed", "stage": "boil", "reads_g": 2950, "tare_g": 1243})
        [card] = json.loads(self.get("?status=running"))["items"]
        boil = next(s["boil"] for s in json.loads(self.get(str(self.batch.id)))["report"]["sheet"]["steps"] if s["boil"])
        for name in ("to_go_g", "ready_low", "ready_high", "lift_weigh_at"):
            self.assertEqual(card[name], boil[name])
