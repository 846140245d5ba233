"""Benchmarks over the API: written down once, read, and aimed at."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

from django.http import HttpResponse

from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version

_LABEL = {"kind": "syrup", "figures": {"sugars": "65"}}


class Benchmarks(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client = self.signed_in("prep")

    def _send(self, method: str, path: str = "", body: Any = None) -> HttpResponse:
        return self.send(self.client, method, f"/api/v1/benchmarks{path}", body)

    def _kept(self, **facts: Any) -> dict[str, Any]:
        response = self._send("POST", "", {"document": {"name": f"B {uuid4()}", **facts}})
        self.assertEqual(response.status_code, 201, response.content[:300])
        found: dict[str, Any] = json.loads(response.content)
        return found

    def test_kept_and_given_back_as_typed(self) -> None:
        kept = self._kept(label=_LABEL, sheets=[{"by": "Mina", "tasted": [{"attribute": "colour", "words": "brown"}]}])
        again = json.loads(self._send("GET", f"/{kept['id']}").content)
        self.assertEqual(again["document"]["sheets"], kept["document"]["sheets"])
        cards = json.loads(self._send("GET").content)["items"]
        self.assertEqual([(card["has_label"], card["sheets"]) for card in cards if card["id"] == kept["id"]], [(True, 1)])

    def test_two_people_at_once(self) -> None:
        kept = self._kept()
        path, changed = f"/{kept['id']}", {**kept["document"], "note": "One."}
        self.assertEqual(self._send("PUT", path, {"number": 1, "document": changed}).status_code, 200)
        clash = self._send("PUT", path, {"number": 1, "document": {**changed, "note": "Two."}})
        self.assert_problem(clash, 409)
        self.assertEqual(json.loads(clash.content)["theirs"]["document"]["note"], "One.")

    def test_names_are_needed_and_taken_once(self) -> None:
        kept = self._kept()
        for name, words in ((" ", "no name yet"), (kept["document"]["name"], "already a benchmark")):
            response = self._send("POST", "", {"document": {"name": name}})
            self.assert_problem(response, 422)
            self.assertIn(words, json.loads(response.content)["problems"][0]["message"])
        self._send("DELETE", f"/{kept['id']}")
        self.assertEqual(self._send("POST", "", {"document": {"name": kept["document"]["name"]}}).status_code, 201)

    def test_a_version_that_is_not_there(self) -> None:
        response = self._send("POST", "", {"document": {"name": "B", "beside": {"formula": str(uuid4()), "version": 1}}})
        self.assert_problem(response, 422)
        self.assertIn("not there", json.loads(response.content)["problems"][0]["message"])

    def test_another_sites_version_is_not_there(self) -> None:
        other = start_formula(actor=self.stranger, document=self.document.model_copy(update={"name": "Theirs"}))
        save_version(actor=self.stranger, id=other.id, draft=1, note="Theirs.")
        response = self._send("POST", "/read", {"document": {"name": "B", "beside": {"formula": str(other.id), "version": 1}}})
        self.assert_problem(response, 422)

    def test_the_version_it_was_tasted_beside_stays(self) -> None:
        """“Sweeter than ours” means than what ours was then: aiming at it twice does not chase itself."""
        lead = self.people["lead"]
        ours = start_formula(actor=lead, document=self.document.model_copy(update={"name": "Ours"}))
        save_version(actor=lead, id=ours.id, draft=1, note="As tasted.")
        sheet = {"tasted": [{"attribute": "sweetness", "than_ours": 1}]}
        kept = self._kept(beside={"formula": str(ours.id), "version": 1}, sheets=[sheet])
        aimed = json.loads(self._send("POST", f"/{kept['id']}/aim", {"document": self.raw()}).content)
        self.assertEqual(aimed["solution"]["status"], "solved", aimed["solution"]["words"])
        again = json.loads(self._send("POST", f"/{kept['id']}/aim", {"document": aimed["solution"]["document"]}).content)
        self.assertTrue(again["already"], again["report"]["aims"])
        self.assertEqual(again["report"]["ranges"], aimed["report"]["ranges"])

    def test_read_beside_ours(self) -> None:
        ours = start_formula(actor=self.people["lead"], document=self.document.model_copy(update={"name": "Ours"}))
        report = json.loads(self._send("POST", "/read", {"document": {"name": "B", "label": _LABEL}, "ours": str(ours.id)}).content)
        axis = next(axis for axis in report["axes"] if axis["reading"] == "sugars_100g")
        self.assertEqual(axis["bands"][0], {"low": 64.5, "high": 65.5})
        self.assertEqual(len(axis["values"]), 2)
