"""Bringing formulas in: what each line means here, what is wrong at it, and nothing kept before somebody says so."""

from __future__ import annotations

import base64
import json
from typing import Any

from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas.models import Formula


class Imports(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client = self.signed_in("lead")

    def _read(self, **asked: Any) -> dict[str, Any]:
        response = self.send(self.client, "POST", "/api/v1/import/read", asked)
        self.assertEqual(response.status_code, 200, response.content[:400])
        found: dict[str, Any] = json.loads(response.content)
        return found

    def _rows(self, formula: dict[str, Any], **changes: Any) -> dict[str, Any]:
        asked = {key: formula[key] for key in ("name", "family", "school", "notes", "rows")} | changes
        found: dict[str, Any] = json.loads(self.send(self.client, "POST", "/api/v1/import/rows", asked).content)
        return found

    def test_out_and_in_again_is_the_same(self) -> None:
        document = demo_document("toasted-hazelnut").model_dump(mode="json", exclude_none=True)
        formula = self._read(text=json.dumps(document))["formulas"][0]
        sent = {key: value for key, value in formula["document"].items() if value is not None}
        self.assertEqual(type(demo_document("toasted-hazelnut")).model_validate(sent), demo_document("toasted-hazelnut"))
        self.assertEqual(formula["problems"], [])
        self.assertTrue(all(row["grams"] for row in formula["rows"]))
        self.assertEqual(Formula.objects.filter(name="Toasted Hazelnut", site=self.people["lead"].site).count(), 0)

    def test_each_line_is_understood_or_says_why_not(self) -> None:
        text = "900 g half-and-half\n230 g sugar\n2 tsp moon dust\nsalt\n-3 g cinnamon, ground\n"
        formula = self._read(name="Creamer.txt", text=text)["formulas"][0]
        rows = {row["number"]: row for row in formula["rows"]}
        self.assertEqual((rows[1]["title"], rows[1]["sure"], round(rows[1]["grams"])), ("Half-and-half", True, 900))
        self.assertFalse(rows[2]["sure"])  # which sugar is not said
        self.assertGreater(len(rows[2]["others"]), 0)
        self.assertIn("moon dust", rows[3]["problem"]["message"])
        self.assertEqual(rows[3]["amount"], "2 tsp")
        self.assertIn("How much", rows[4]["problem"]["message"])
        self.assertIn("cannot be weighed", rows[5]["problem"]["message"])

    def test_figures_alone_name_nothing(self) -> None:
        row = self._read(text="ingredient,amount\n=1+1,2 g\n")["formulas"][0]["rows"][0]
        self.assertEqual((row["substance"], row["others"]), ("", []))
        self.assertIn("=1+1", row["problem"]["message"])

    def test_mended_rows_make_a_formula(self) -> None:
        formula = self._read(name="Creamer.txt", text="900 g half-and-half\n2 tsp moon dust\n")["formulas"][0]
        rows = [formula["rows"][0], {**formula["rows"][1], "substance": "white_sugar", "amount": "230 g"}]
        mended = self._rows(formula, rows=rows)
        self.assertEqual([row["problem"] for row in mended["rows"]], [None, None])
        self.assertEqual(mended["rows"][1]["title"], "White granulated sugar")
        kept = self.send(self.client, "POST", "/api/v1/formulas", {"document": mended["document"]})
        self.assertEqual(kept.status_code, 201)
        again = self._rows(formula)
        self.assertTrue(again["taken"])

    def test_a_list_without_a_line_that_is_understood(self) -> None:
        formula = self._read(text="nothing here\nnor here")["formulas"][0]
        self.assertIsNone(formula["document"])
        self.assertTrue(all(row["problem"] for row in formula["rows"]))

    def test_bytes_however_they_spell_letters(self) -> None:
        for coding in ("utf-8", "utf-8-sig", "utf-16", "cp1252"):
            raw = base64.b64encode("ingredient;amount\ncrème fraîche;1,5 kg\n".encode(coding)).decode()
            row = self._read(base64=raw)["formulas"][0]["rows"][0]
            self.assertEqual((row["words"], row["title"]), ("crème fraîche", "Crème fraîche"))

    def test_an_ingredient_of_another_site_is_not_there(self) -> None:
        raw = json.dumps({"stages": [{"id": "a", "kind": "add", "vessel": "b", "lines": [{"id": "l", "substance": "theirs", "amount": "1 g"}]}]})
        self.assertIn("theirs", self._read(text=raw)["formulas"][0]["rows"][0]["problem"]["message"] or "")
