"""Lists that are longer than a page, and who changed what: as a person looks through them."""

from __future__ import annotations

from uuid import uuid4

from django.utils import timezone
from playwright.sync_api import expect

from e2e.browser import BrowserCase
from jugcore.batch.log.events import Event
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.models import Batch, BatchState
from jugserver.batches.services import start_batch
from jugserver.batches.states import bring_up_to_date
from jugserver.demo.documents import demo_document
from jugserver.formulas.models import Formula
from jugserver.formulas.services import start_formula


class LongLists(BrowserCase):
    def test_formulas_come_page_by_page_and_are_found_wherever_they_stand(self) -> None:
        lead = User.objects.get(username="ines")
        for n in range(30):
            start_formula(actor=lead, document=demo_document("weir-simple").model_copy(update={"name": f"Weir trial {n}"}))
        self.sign_in("ines", path="/formulas")
        page = self.page
        rows = page.get_by_role("main").get_by_role("listitem")
        expect(rows).to_have_count(50)
        page.get_by_role("button", name="Show more").click()
        expect(rows).to_have_count(59)
        expect(page.get_by_role("button", name="Show more")).to_have_count(0)
        page.get_by_label("Search formulas").fill("chicory")
        expect(rows).to_have_count(2)
        page.get_by_label("Search formulas").fill("nothing of that name")
        page.get_by_text("No formula fits.", exact=False).wait_for()
        self.assert_whole()

    def test_batches_come_page_by_page_and_the_csv_has_all(self) -> None:
        lead = User.objects.get(username="ines")
        cooked_one = start_batch(actor=lead, formula_id=Formula.objects.get(name="Weir Simple").pk, version=1)
        closed = {"id": uuid4(), "at": timezone.now(), "by": "ines", "device": "tablet", "what": {"kind": "closed"}}
        append(actor=lead, batch_id=cooked_one.pk, events=[Event.model_validate(closed)])
        bring_up_to_date(cooked_one.site)
        first = BatchState.objects.get(pk=cooked_one.pk)
        for n in range(64):  # as the first stands in the list, under other numbers
            batch = Batch.objects.get(pk=first.batch_id)
            batch.pk, batch.number = None, 200 + n
            batch._state.adding = True
            batch.id = Batch._meta.get_field("id").get_default()
            batch.save(force_insert=True)
            state = BatchState.objects.get(pk=first.pk)
            state.pk, state.batch, state.number = batch.id, batch, batch.number
            state.save(force_insert=True)
        self.sign_in("ines", path="/batches")
        page = self.page
        cooked = page.get_by_role("region", name="Cooked").get_by_role("listitem")
        expect(cooked).to_have_count(50)
        page.get_by_role("button", name="Show earlier ones").click()
        expect(cooked).to_have_count(65)
        page.get_by_label("Find a batch").fill("207")
        expect(cooked).to_have_count(1)
        page.get_by_text("use by", exact=False).first.wait_for()
        self.assert_whole()

    def test_a_lead_reads_who_changed_what(self) -> None:
        self.sign_in("ines")
        page = self.page
        self.go_to("Site", page)
        page.get_by_label("Altitude").fill("123")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("saved", exact=True).wait_for()
        page.reload()
        newest = page.get_by_role("table", name="Who changed what").get_by_role("row").nth(1)
        expect(newest).to_contain_text("Ines Calloway")
        expect(newest).to_contain_text("→ 123 m")
        page.get_by_role("button", name="Show earlier ones").click()
        self.assert_whole()
        self.sign_in("rafe", path="/site")
        page.get_by_role("heading", name="Site").wait_for()
        expect(page.get_by_role("table", name="Who changed what")).to_have_count(0)
