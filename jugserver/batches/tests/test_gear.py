"""Equipment remembers: what a batch's tools met counts for the next product until they were washed."""

from __future__ import annotations

import json
from io import BytesIO
from typing import Any
from uuid import uuid4

from django.test import TransactionTestCase
from pypdf import PdfReader

from jugcore.batch.log.events import Event
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.lists import page_of
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.services import start_batch
from jugserver.batches.states import state_of
from jugserver.batches.tests.kitchen import entry
from jugserver.config.tests.at_once import at_once
from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.kitchen.models import GearCleaned, GearMet
from jugserver.kitchen.services import kitchen_of, save_kitchen


def formula(name: str, substance: str, tool: str = "stick_blender") -> MethodDocument:
    return MethodDocument.model_validate({
        "name": f"{name} {uuid4().hex}",
        "stages": [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": [{"id": "base", "substance": substance, "amount": "500 g"}]},
            {"id": "blend", "kind": "mix", "vessel": "jug", "tool": tool},
        ],
    })  # fmt: skip


class Gear(ShopCase):
    def setUp(self) -> None:
        lead = self.people["lead"]
        self.site = lead.site
        assert self.site is not None
        pieces = [{"id": "green", "name": "Green handle", "kind": "stick_blender", "allergens_met": []}]
        save_kitchen(actor=lead, number=kitchen_of(self.site).number, kitchen=Kitchen.model_validate({"equipment": pieces}))

    def started(self, document: MethodDocument) -> Batch:
        lead = self.people["lead"]
        kept = start_formula(actor=lead, document=document)
        save_version(actor=lead, id=kept.id, draft=1, note="First.")
        return start_batch(actor=lead, formula_id=kept.id, version=1)

    def enter(self, batch: Batch, *whats: dict[str, Any]) -> None:
        answer = self.send(self.signed_in("prep"), "POST", f"/api/v1/batches/{batch.pk}/entries", {"events": [entry(w) for w in whats]})
        self.assertEqual(answer.status_code, 200, answer.content[:300])

    def cook(self, batch: Batch) -> None:
        self.enter(batch, {"kind": "done", "stage": "in"}, {"kind": "done", "stage": "blend"}, {"kind": "closed", "outcome": "finished"})

    def read(self, batch: Batch) -> Any:
        return json.loads(self.signed_in("prep").get(f"/api/v1/batches/{batch.pk}").content)

    def label(self, batch: Batch) -> str:
        pdf = PdfReader(BytesIO(self.signed_in("prep").get(f"/api/v1/batches/{batch.pk}/label.pdf").content))
        return " ".join(pdf.pages[0].extract_text().split())

    def met(self) -> list[str]:
        shared = json.loads(self.signed_in("prep").get("/api/v1/kitchen").content)["kitchen"]["equipment"]
        return [each["allergen"] for each in shared[0]["met_at_batches"]]

    def test_the_next_products_caution_and_label_follow_until_it_was_washed(self) -> None:
        nuts = self.started(formula("Nut milk", "almond_drink"))
        self.assertEqual(self.met(), [])
        self.cook(nuts)
        after = self.started(formula("Syrup", "water"))
        self.assertEqual(self.met(), ["nuts"])
        blend = next(step for step in self.read(after)["report"]["sheet"]["steps"] if step["id"] == "blend")
        self.assertTrue(any(f"met nuts at {nuts.name} {nuts.number:04d}" in words for words in blend["cautions"]))
        self.assertIn("Made on equipment that meets nuts", self.label(after))
        walked = self.send(self.signed_in("lead"), "POST", "/api/v1/walk", formula("Draft", "water").model_dump(mode="json"))
        self.assertEqual([each["allergen"] for each in json.loads(walked.content)["cross_contact"]], ["nuts"])

        answer = self.send(self.signed_in("prep"), "POST", "/api/v1/kitchen/equipment/green/cleaned", None)
        self.assertEqual((answer.status_code, self.met()), (200, []))
        clean = self.started(formula("Syrup", "water"))
        self.assertNotIn("nuts", self.label(clean))
        self.assertIn("nuts", self.label(after), "what was made on it before stays what it was")
        row = GearCleaned.objects.get()
        self.assertEqual((row.piece, row.by), ("green", self.people["prep"]))
        self.cook(self.started(formula("Nut milk", "almond_drink")))
        page_of(self.people["lead"].site)
        self.assertEqual(self.met(), ["nuts"], "it meets them again")

    def test_what_was_taken_back_met_nothing_and_reading_again_doubles_nothing(self) -> None:
        nuts = self.started(formula("Nut milk", "almond_drink"))
        done = entry({"kind": "done", "stage": "blend"})
        self.send(self.signed_in("prep"), "POST", f"/api/v1/batches/{nuts.pk}/entries", {"events": [done]})
        for _ in range(2):
            state_of(Batch.objects.in_full().get(pk=nuts.pk))
        self.assertEqual((GearMet.objects.count(), self.met()), (1, ["nuts"]))
        self.enter(nuts, {"kind": "undone", "entry": done["id"]})
        state_of(Batch.objects.in_full().get(pk=nuts.pk))
        self.assertEqual((GearMet.objects.count(), self.met()), (0, []))

    def test_saving_the_kitchen_does_not_wash_it(self) -> None:
        self.cook(self.started(formula("Nut milk", "almond_drink")))
        page_of(self.people["lead"].site)
        found = json.loads(self.signed_in("lead").get("/api/v1/kitchen").content)
        bare = {**found["kitchen"], "equipment": [{**piece, "met_at_batches": []} for piece in found["kitchen"]["equipment"]]}
        answer = self.send(self.signed_in("lead"), "PUT", "/api/v1/kitchen", {"number": found["number"], "kitchen": bare})
        self.assertEqual((answer.status_code, self.met()), (200, ["nuts"]))

    def test_only_who_cooks_and_only_what_there_is(self) -> None:
        self.assert_problem(self.send(self.signed_in("view"), "POST", "/api/v1/kitchen/equipment/green/cleaned", None), 403)
        self.assert_problem(self.send(self.signed_in("prep"), "POST", "/api/v1/kitchen/equipment/none/cleaned", None), 404)
        self.assertEqual(GearCleaned.objects.count(), 0)


class AtOnce(TransactionTestCase):
    def test_two_lists_read_at_once_fail_over_nothing(self) -> None:
        """Two pages ask for the list while a batch is behind: both read its log and note what its equipment met."""
        site = Site.objects.create(name="Weir kitchen")
        lead = User.objects.create_user("lead", password="a-long-test-password", site=site, role=Role.LEAD, display_name="Lead")
        pieces = [{"id": "green", "name": "Green handle", "kind": "stick_blender", "allergens_met": []}]
        save_kitchen(actor=lead, number=0, kitchen=Kitchen.model_validate({"equipment": pieces}))
        kept = start_formula(actor=lead, document=formula("Nut milk", "almond_drink"))
        save_version(actor=lead, id=kept.id, draft=1, note="First.")
        failed: list[BaseException] = []
        for _ in range(5):
            batch = start_batch(actor=lead, formula_id=kept.id, version=1)
            append(actor=lead, batch_id=batch.pk, events=[Event.model_validate(entry({"kind": "done", "stage": "blend"}, by="lead"))])
            failed += [each for each in at_once(4, lambda: len(page_of(site).items)) if isinstance(each, BaseException)]
        self.assertEqual(failed, [])
        self.assertEqual(GearMet.objects.filter(site=site).count(), 5)
