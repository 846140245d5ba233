"""Funnel trials: entered at a batch, read by the bench of any formula with starch, and by no other site's."""

from __future__ import annotations

import json

from jugserver.accounts.models import User
from jugserver.batches.lists import page_of
from jugserver.batches.models import Batch
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document


class Flow(ShopCase):
    def walk(self, role: str, name: str = "chicory-cocoa-plain") -> dict[str, object]:
        return self.walk_of(self.people[role], name)

    def walk_of(self, who: User, name: str = "chicory-cocoa-plain") -> dict[str, object]:
        client = self.signed_in(who)
        found: dict[str, object] = json.loads(self.send(client, "POST", "/api/v1/walk", demo_document(name).model_dump(mode="json")).content)
        return found

    def enter(self, batch: Batch, **what: object) -> int:
        client = self.signed_in("prep")
        body = {"events": [entry({"kind": "flowed", **what})]}
        return self.send(client, "POST", f"/api/v1/batches/{batch.pk}/entries", body).status_code

    def test_a_trial_of_one_batch_is_told_of_the_next_formula(self) -> None:
        self.assertIsNone(self.walk("lead")["flow"])
        batch = begun_batch(self.people["lead"], "chicory-cocoa-plain")
        self.assertEqual(self.enter(batch, seconds=17), 200)
        found = self.walk("lead")["flow"]
        assert isinstance(found, dict)
        self.assertIn("17 s", str(found["words"]))
        self.assertIn(f"{batch.number:04d}", str(found["trials"]))
        self.assertIsNone(self.walk("lead", "weir-simple")["flow"])
        self.assertTrue(page_of(batch.site).items)

    def test_nothing_of_it_reaches_another_site(self) -> None:
        batch = begun_batch(self.people["lead"], "chicory-cocoa-plain")
        self.enter(batch, seconds=17)
        self.assertIsNone(self.walk_of(self.stranger)["flow"])

    def test_no_time_at_all_is_refused_and_stuck_is_taken(self) -> None:
        batch = begun_batch(self.people["lead"], "chicory-cocoa-plain")
        self.assertEqual(self.enter(batch, seconds=0), 422)
        self.assertEqual(self.enter(batch, seconds=0, stuck=True), 200)
        found = self.walk("lead")["flow"]
        assert isinstance(found, dict)
        self.assertTrue(found["sticks"])
