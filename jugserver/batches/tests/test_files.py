"""A batch as files, and the log searched: the same figures on paper, in CSV, on the screen and from a shell."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from io import BytesIO, StringIO
from typing import Any

from pypdf import PdfReader

from jugserver.batches.models import Batch
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase


class Files(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"])
        self.client_ = self.signed_in("prep")
        self.enter(
            {"kind": "weighed", "line": "juice", "reads_g": 410}, {"kind": "noted", "text": "=HYPERLINK(1)"}, {"kind": "done", "stage": "press"},
            {"kind": "wasted", "mass_g": 12.5, "reason": "splashed the hob"},
        )  # fmt: skip

    def enter(self, *whats: dict[str, Any]) -> None:
        answer = self.send(self.client_, "POST", f"/api/batches/{self.batch.id}/entries", {"events": [entry(w) for w in whats]})
        self.assertEqual(answer.status_code, 200, answer.content[:400])

    def get(self, path: str) -> bytes:
        answer = self.client_.get(f"/api/batches/{path}".replace("/?", "?"))
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        return bytes(answer.content)

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
        self.assertIn("20 g more of pear juice", json.loads(rescued.stdout)["ways"][0]["title"])

    def test_the_log_as_csv_runs_nothing(self) -> None:
        rows = self.rows(self.get(f"{self.batch.id}/log.csv"))
        self.assertEqual([r["number"] for r in rows], ["1", "2", "3", "4"])
        self.assertEqual(rows[1]["entry"], "'=HYPERLINK(1)")

    def test_a_label_of_the_batch(self) -> None:
        pdf = PdfReader(BytesIO(self.get(f"{self.batch.id}/label.pdf?dose=20 g&copies=2&store=cool")))
        self.assertEqual(len(pdf.pages), 2)
        text = pdf.pages[0].extract_text()
        self.assertIn(f"Batch {self.batch.number:04d}", text)
        self.assertIn("not assessed", text)
        self.assertIn("Dose: 20 g", text)
        self.assert_problem(self.client_.get(f"/api/batches/{self.batch.id}/label.pdf?copies=100000"), 422)

    def test_the_list_is_searched_and_narrowed(self) -> None:
        other = begun_batch(self.people["lead"], "weir-simple")
        answer = self.send(
            self.client_, "POST", f"/api/batches/{other.id}/entries", {"events": [entry({"kind": "closed", "outcome": "stopped", "reason": "burnt"})]}
        )
        self.assertEqual(answer.status_code, 200)

        def numbers(ask: str) -> list[int]:
            return [card["number"] for card in json.loads(self.get(f"?{ask}"))]

        one, two = self.batch.number, other.number
        self.assertEqual(numbers(""), [two, one])
        for ask, expected in (
            ("q=weir", [two]), ("q=ferry splashed", [one]), (f"q={one}", [one]), ("q=burnt", [two]), ("q=nothing", []), ("status=stopped", [two]),
            ("status=running", [one]), ("off_plan=true", [one]), ("since=2020-01-01", [two, one]), ("until=2020-01-01", []), ("q=%25", []),
        ):  # fmt: skip
            with self.subTest(ask=ask):
                self.assertEqual(numbers(ask), expected)
        self.assert_problem(self.client_.get("/api/batches?status=lost"), 422)
        self.assertEqual(Batch.objects.behind().count(), 0)
