"""Formulas: keeping, saving, two people at once, and the walk over HTTP."""

from __future__ import annotations

import json
from typing import Any

from django.db import IntegrityError, connection, transaction
from django.test.utils import CaptureQueriesContext

from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.demo.load import FORMULAS
from jugserver.formulas.models import DraftSave, Formula
from jugserver.formulas.services import start_formula


class Walking(ShopCase):
    def walk(self, raw: dict[str, Any]) -> Any:
        return self.send(self.signed_in("view"), "POST", "/api/v1/walk", raw)

    def test_the_demo_formulas_walk(self) -> None:
        for name in FORMULAS:
            with self.subTest(formula=name):
                answer = self.walk(demo_document(name).model_dump(mode="json"))
                self.assertEqual(answer.status_code, 200)
                self.assertEqual(json.loads(answer.content)["faults"], [])

    def test_it_is_walked_in_the_sites_kitchen(self) -> None:
        raw = demo_document("ferrymans-spice").model_dump(mode="json")
        client = self.signed_in("lead")

        def probe() -> float:
            stages = json.loads(self.send(client, "POST", "/api/v1/walk", raw).content)["stages"]
            return float(next(s["boil"]["probe_c"] for s in stages if s["boil"]))

        low = probe()
        self.send(client, "PUT", "/api/v1/kitchen", {"number": 0, "kitchen": {"altitude_m": 2000}})
        self.assertAlmostEqual(low - probe(), 6.8, delta=0.3)

    def test_bad_input_is_a_sentence_at_the_field(self) -> None:
        def lines(*amounts: str) -> dict[str, Any]:
            each = [{"id": f"l{i}", "substance": s, "amount": a} for i, (s, a) in enumerate(zip(("water", "white_sugar"), amounts, strict=False))]
            return {"stages": [{"id": "s", "kind": "add", "vessel": "pot", "lines": each}]}

        boil = {"id": "b", "kind": "boil", "vessel": "pot", "until": {"brix": 101}}
        cases = [
            (lines("-5 g"), "lines.l0.amount", "above 0"),
            (lines("0 g"), "lines.l0.amount", "above 0"),
            (lines("1000000000 g"), "lines.l0.amount", "1,000 kg"),
            (lines("as the sugar", "as the water"), "lines.l", "circle"),
            ({"stages": []}, "stages", "first"),
            ({"stages": [*lines("1 kg")["stages"], boil]}, "stages.b.until.brix", "101 °Bx"),
            ({}, "stages", "missing"),
        ]
        for raw, field, word in cases:
            with self.subTest(field=field):
                self.assert_problem(self.walk(raw), 422, field=field, word=word)

    def test_nothing_to_boil_off_is_a_fault_in_the_report(self) -> None:
        raw = {"stages": [{"id": "b", "kind": "boil", "vessel": "pot", "until": {"brix": 64}}]}
        faults = json.loads(self.walk(raw).content)["faults"]
        self.assertEqual((faults[0]["code"], faults[0]["field"]), ("nothing_to_boil_off", "stages.b.brix"))

    def test_ways_and_a_solve_over_http(self) -> None:
        raw = self.raw()
        client = self.signed_in("view")
        found = json.loads(self.send(client, "POST", "/api/v1/suggestions", {"document": raw, "reading": "brix", "value": 60}).content)
        self.assertGreaterEqual(len(found["suggestions"]), 2)
        for way in found["suggestions"]:
            self.assertIsNone(way["document"]["kitchen"])  # the site's stays the site's
            readings = json.loads(self.walk(way["document"]).content)["readings"]
            value = next(r["value"] for r in readings if r["id"] == "brix")
            self.assertAlmostEqual(value, 60, delta=way["tolerance"])
        ask = {"targets": [{"reading": "yield_g", "equals": 2000}]}
        solved = json.loads(self.send(client, "POST", "/api/v1/solve", {"document": raw, "ask": ask}).content)
        self.assertEqual((solved["status"], solved["targets"][0]["met"]), ("solved", True))
        self.assertGreater(solved["timing"]["total_s"], 0)
        for path, body, word in (
            ("/api/v1/suggestions", {"document": raw, "reading": "colour", "value": 1}, "not a reading"),
            ("/api/v1/solve", {"document": raw, "ask": {"targets": [{"reading": "brix"}]}}, "asks for nothing"),
            ("/api/v1/solve", {"document": raw, "ask": {"targets": [{"reading": "brix", "equals": 5, "at_least": 2}]}}, "Give one of the two"),
        ):
            with self.subTest(word=word):
                self.assert_problem(self.send(client, "POST", path, body), 422, word=word)

    def test_what_was_not_understood_is_pointed_at_and_offered(self) -> None:
        raw = self.raw()
        raw["stages"][0]["lines"][0]["amount"] = "14 oz"
        problem = json.loads(self.walk(raw).content)["problems"][0]
        self.assertEqual((problem["at"], problem["choices"]), ([3, 5], ["14 fl oz", "14 oz by weight"]))

    def test_a_walk_costs_five_queries(self) -> None:
        client = self.signed_in("lead")
        self.send(client, "POST", "/api/v1/walk", self.raw())
        with CaptureQueriesContext(
            connection,
        ) as asked:
            self.send(client, "POST", "/api/v1/walk", self.raw())
        self.assertLessEqual(len(asked), 5, [q["sql"] for q in asked])


class Keeping(ShopCase):
    def test_from_nothing_to_saved_and_changed(self) -> None:
        client = self.signed_in("lead")
        made = json.loads(self.send(client, "POST", "/api/v1/formulas", {"document": self.raw(name="Kiln Syrup")}).content)
        self.assertEqual((made["name"], made["draft"]), ("Kiln Syrup", 1))
        changed = {**made["document"], "name": "Kiln Syrup, rich"}
        saved = json.loads(self.send(client, "PUT", f"/api/v1/formulas/{made['id']}/draft", {"draft": 1, "document": changed}).content)
        self.assertEqual((saved["name"], saved["draft"]), ("Kiln Syrup, rich", 2))
        self.assertEqual(DraftSave.objects.filter(formula_id=made["id"]).count(), 2)

    def test_typed_amounts_are_kept_as_understood(self) -> None:
        out = start_formula(actor=self.people["lead"], document=self.document)
        amounts = [line.amount for stage in out.document.stages for line in getattr(stage, "lines", ())]
        self.assertEqual([a.kind for a in amounts if not isinstance(a, str)], ["written", "as_much_as"])

    def test_a_draft_that_does_not_walk_is_kept_as_typed(self) -> None:
        raw = self.raw(name="Half done")
        raw["stages"][0]["lines"][0]["amount"] = "some of it, later"
        client = self.signed_in("lead")
        answer = self.send(client, "POST", "/api/v1/formulas", {"document": raw})
        self.assertEqual(answer.status_code, 201)
        self.assertEqual(json.loads(answer.content)["document"]["stages"][0]["lines"][0]["amount"], "some of it, later")
        cards = json.loads(client.get("/api/v1/formulas").content)["items"]
        self.assertIn("some of it", next(c["trouble"] for c in cards if c["name"] == "Half done"))

    def test_two_people_at_once(self) -> None:
        formula = start_formula(actor=self.people["lead"], document=self.document)
        client = self.signed_in("lead")
        path = f"/api/v1/formulas/{formula.id}/draft"
        self.assertEqual(self.send(client, "PUT", path, {"draft": 1, "document": self.raw(notes="first")}).status_code, 200)
        late = self.send(client, "PUT", path, {"draft": 1, "document": self.raw(notes="second")})
        body = self.assert_problem(late, 409, field="draft", word="The lead saved")
        self.assertEqual((body["theirs"]["draft"], body["theirs"]["document"]["notes"]), (2, "first"))
        again = self.send(client, "PUT", path, {"draft": 2, "document": self.raw(notes="second")})
        self.assertEqual(again.status_code, 200)

    def test_names(self) -> None:
        client = self.signed_in("lead")
        self.assert_problem(self.send(client, "POST", "/api/v1/formulas", {"document": self.raw(name="  ")}), 422, field="name")
        self.send(client, "POST", "/api/v1/formulas", {"document": self.raw(name="Once")})
        self.assert_problem(self.send(client, "POST", "/api/v1/formulas", {"document": self.raw(name="Once")}), 422, field="name", word="already")
        other = self.signed_in(self.stranger)
        self.assertEqual(self.send(other, "POST", "/api/v1/formulas", {"document": self.raw(name="Once")}).status_code, 201)

    def test_archived_formulas_leave_the_lists_and_free_their_name(self) -> None:
        formula = start_formula(actor=self.people["lead"], document=self.document)
        client = self.signed_in("lead")
        self.assertEqual(self.send(client, "DELETE", f"/api/v1/formulas/{formula.id}").status_code, 204)
        self.assertEqual(json.loads(client.get("/api/v1/formulas").content)["items"], [])
        self.assertEqual(DraftSave.objects.filter(formula_id=formula.id).count(), 1)
        start_formula(actor=self.people["lead"], document=self.document)

    def test_an_archived_formula_comes_back_unless_its_name_is_taken(self) -> None:
        formula = start_formula(actor=self.people["lead"], document=self.document)
        client = self.signed_in("lead")
        self.send(client, "DELETE", f"/api/v1/formulas/{formula.id}")
        self.assertEqual(client.get(f"/api/v1/formulas/{formula.id}").status_code, 404)
        back = f"/api/v1/formulas/{formula.id}/bring-back"
        self.assertEqual(json.loads(self.send(client, "POST", back).content)["document"]["name"], formula.name)
        self.assertEqual(client.get(f"/api/v1/formulas/{formula.id}").status_code, 200)
        self.send(client, "DELETE", f"/api/v1/formulas/{formula.id}")
        start_formula(actor=self.people["lead"], document=self.document)
        self.assert_problem(self.send(client, "POST", back), 422, field="name", word="already")
        self.assertEqual(Formula.objects.of_site(self.site).count(), 1)

    def test_the_list_follows_drafts_and_the_kitchen(self) -> None:
        """Little jugs are remembered; what they are read from must not be."""
        formula = start_formula(actor=self.people["lead"], document=demo_document("ferrymans-spice"))
        client = self.signed_in("lead")

        def mark() -> dict[str, Any]:
            found: dict[str, Any] = json.loads(client.get("/api/v1/formulas").content)["items"][0]["mark"]
            return found

        first = mark()
        raw = formula.document.model_dump(mode="json")
        next(s for s in raw["stages"] if s["kind"] == "boil")["until"] = {"brix": 60}
        self.send(client, "PUT", f"/api/v1/formulas/{formula.id}/draft", {"draft": 1, "document": raw})
        second = mark()
        self.assertAlmostEqual(first["brix"] - second["brix"], 4.0, places=6)
        self.send(client, "PUT", "/api/v1/kitchen", {"number": 0, "kitchen": {"film_g": 50}})
        self.assertLess(mark()["mass_g"], second["mass_g"] - 40)

    def test_the_list_costs_the_same_for_one_and_for_many(self) -> None:
        client = self.signed_in("lead")

        def queries() -> int:
            with CaptureQueriesContext(connection) as asked:
                self.assertEqual(client.get("/api/v1/formulas").status_code, 200)
            return len(asked)

        start_formula(actor=self.people["lead"], document=self.document)
        client.get("/api/v1/formulas")
        one = queries()
        for i in range(5):
            start_formula(actor=self.people["lead"], document=self.document.model_copy(update={"name": f"More {i}"}))
        self.assertEqual(queries(), one)

    def test_the_database_holds_its_own_line(self) -> None:
        formula = start_formula(actor=self.people["lead"], document=self.document)
        for make in (
            lambda: Formula.objects.filter(pk=formula.id).update(name=""),
            lambda: DraftSave.objects.create(formula_id=formula.id, number=1, document={}, core_version="x"),
        ):
            with self.assertRaises(IntegrityError), transaction.atomic():
                make()
