"""Versions: frozen by the database itself, one number each, side by side."""

from __future__ import annotations

import json
from typing import Any

from django.db import DatabaseError, IntegrityError, transaction

from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.models import Readiness, Version


class Versions(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")
        self.made = self.ask("POST", "/api/v1/formulas", {"document": self.raw(name="Weir Kept")})
        self.path = f"/api/v1/formulas/{self.made['id']}"

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:400])
        return json.loads(answer.content)

    def change(self, draft: int, amount: str) -> None:
        document = self.raw(name="Weir Kept")
        document["stages"][0]["lines"][0]["amount"] = amount
        self.ask("PUT", f"{self.path}/draft", {"draft": draft, "document": document})

    def test_a_version_is_kept_with_its_reason_kitchen_and_readings(self) -> None:
        card = self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "  First.  "})
        self.assertEqual((card["number"], card["note"], card["draft"]), (1, "First.", 1))
        self.assertIn("brix", {reading["id"] for reading in card["readings"]})
        whole = self.ask("GET", f"{self.path}/versions/1")
        self.assertIsNotNone(whole["document"]["kitchen"])
        self.assertTrue(whole["document"]["substances"])
        # A change of the kitchen reaches the draft and not the version.
        kitchen = self.ask("GET", "/api/v1/kitchen")
        self.ask("PUT", "/api/v1/kitchen", {"number": kitchen["number"], "kitchen": {**kitchen["kitchen"], "film_g": 60}})
        walked = self.ask("POST", "/api/v1/walk", whole["document"])
        then = {reading["id"]: reading["value"] for reading in card["readings"]}
        now = {reading["id"]: reading["value"] for reading in walked["readings"]}
        self.assertAlmostEqual(now["yield_g"], then["yield_g"], places=6)

    def test_the_database_refuses_any_change(self) -> None:
        self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "First."})
        version = Version.objects.get()
        for attempt in (lambda: Version.objects.update(note="Changed."), version.delete, version.save):
            with self.subTest(attempt=attempt), self.assertRaises(DatabaseError), transaction.atomic():
                attempt()
        self.assertEqual(Version.objects.get().note, "First.")

    def test_nothing_unanswered_is_ready_for_service_without_a_reason_that_is_kept(self) -> None:
        self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "First."})
        ready = f"{self.path}/versions/1/ready"
        refused = self.send(self.client_, "POST", ready, {"ready": True, "reason": "  "})
        self.assert_problem(refused, 422, field="reason", word="What is its pH?")
        self.assertIsNone(self.ask("GET", f"{self.path}/versions")["versions"][0]["service"])
        said = self.ask("POST", ready, {"ready": True, "reason": "Measured at 6.4 by the laboratory; sheet in the file."})["service"]
        self.assertEqual((said["ready"], said["said_by"]), (True, "The lead"))
        self.assertIn("pH", said["unanswered"][0])
        self.assertIn("laboratory", self.ask("GET", f"{self.path}/versions")["versions"][0]["service"]["reason"])
        self.assertFalse(self.ask("POST", ready, {"ready": False})["service"]["ready"])
        self.assertEqual(Readiness.objects.count(), 2)
        for attempt in (lambda: Readiness.objects.update(reason="Other."), Readiness.objects.all().delete):
            with self.subTest(attempt=attempt), self.assertRaises(DatabaseError), transaction.atomic():
                attempt()
        with self.assertRaises(IntegrityError), transaction.atomic():
            Readiness.objects.create(version=Version.objects.get(), ready=True, questions=["?"], said_by=self.people["lead"])

    def test_what_is_answered_is_ready_without_a_word(self) -> None:
        self.ask("PUT", f"{self.path}/draft", {"draft": 1, "document": self.raw(name="Weir Kept", keeping={"ph": 6.4, "heat_treated": False})})
        self.ask("POST", f"{self.path}/versions", {"draft": 2, "note": "Answered."})
        said = self.ask("POST", f"{self.path}/versions/1/ready", {"ready": True})["service"]
        self.assertEqual((said["ready"], said["unanswered"], said["reason"]), (True, [], ""))

    def test_numbers_follow_and_nothing_is_kept_twice(self) -> None:
        self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "First."})
        again = self.send(self.client_, "POST", f"{self.path}/versions", {"draft": 1, "note": "Again."})
        self.assert_problem(again, 422, field="draft", word="Nothing has changed since version 1")
        self.change(1, "800 g")
        stale = self.send(self.client_, "POST", f"{self.path}/versions", {"draft": 1, "note": "Second."})
        self.assert_problem(stale, 409, field="draft")
        self.assertEqual(self.ask("POST", f"{self.path}/versions", {"draft": 2, "note": "Second."})["number"], 2)
        listed = self.ask("GET", f"{self.path}/versions")
        self.assertEqual(([v["number"] for v in listed["versions"]], listed["drafted_from"]), ([2, 1], 2))
        self.change(2, "850 g")
        self.assertIsNone(self.ask("GET", f"{self.path}/versions")["drafted_from"])

    def test_a_draft_that_does_not_work_out_is_no_version(self) -> None:
        self.change(1, "as the rum")
        answer = self.send(self.client_, "POST", f"{self.path}/versions", {"draft": 2, "note": "Never."})
        self.assert_problem(answer, 422, word="rum")
        for note in ("", "   "):
            self.assert_problem(self.send(self.client_, "POST", f"{self.path}/versions", {"draft": 2, "note": note}), 422)
        self.assertEqual(Version.objects.count(), 0)

    def test_a_version_becomes_the_draft_again(self) -> None:
        self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "First."})
        self.change(1, "800 g")
        back = self.ask("POST", f"{self.path}/versions/1/draft", {"draft": 2})
        self.assertEqual(back["draft"], 3)
        self.assertIsNone(back["document"]["kitchen"])
        self.assertEqual(back["document"]["substances"], {})
        words = self.ask("POST", "/api/v1/compare", {"sides": [{"formula": self.made["id"], "version": 1}, {"formula": self.made["id"]}]})["words"]
        self.assertEqual(words, ["Nothing changed."])
        self.assert_problem(self.send(self.client_, "POST", f"{self.path}/versions/1/draft", {"draft": 1}), 409)

    def test_side_by_side_and_what_is_not_ours(self) -> None:
        self.ask("POST", f"{self.path}/versions", {"draft": 1, "note": "First."})
        self.change(1, "800 g")
        sides = [{"formula": self.made["id"], "version": 1}, {"formula": self.made["id"]}]
        found = self.ask("POST", "/api/v1/compare", {"sides": sides})
        self.assertEqual(found["names"], ["Version 1", "Draft"])
        self.assertTrue(any("800 g" in text for text in found["words"]), found["words"])
        self.assert_problem(self.send(self.client_, "POST", "/api/v1/compare", {"sides": sides[:1]}), 422, word="cannot be compared")
        self.assertEqual(
            self.send(self.client_, "POST", "/api/v1/compare", {"sides": [*sides, {"formula": self.made["id"], "version": 9}]}).status_code, 404
        )
        stranger = self.signed_in(self.stranger)
        for method, path, body in (
            ("GET", f"{self.path}/versions", None), ("GET", f"{self.path}/versions/1", None), ("POST", "/api/v1/compare", {"sides": sides}),
            ("POST", f"{self.path}/versions", {"draft": 2, "note": "Mine."}), ("POST", f"{self.path}/versions/1/draft", {"draft": 2}),
        ):  # fmt: skip
            with self.subTest(path=path):
                self.assertEqual(self.send(stranger, method, path, body).status_code, 404)
