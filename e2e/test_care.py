"""What could hurt someone, as a cook meets it: a stop before it, a hold that is told at once, a label that carries a day."""

from __future__ import annotations

import re
from datetime import timedelta
from io import BytesIO
from uuid import uuid4

from django.utils import timezone
from playwright.sync_api import expect
from pypdf import PdfReader

from e2e.browser import TABLET
from e2e.hob_case import HobCase
from jugcore.batch.log.events import Event
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.models import Batch


class Care(HobCase):
    def entered(self, batch: Batch, *whats: dict[str, object], minutes_ago: float = 0) -> None:
        """Entries of another tablet, a while ago."""
        at = timezone.now() - timedelta(minutes=minutes_ago)
        events = [
            Event.model_validate({"id": str(uuid4()), "at": at.isoformat(), "by": "rafe", "device": "tablet-2", "seen": 0, "what": what})
            for what in whats
        ]
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=events)

    def done_to(self, batch: Batch, stage: str) -> None:
        ids = [each["id"] for each in batch.document["stages"]]
        self.entered(batch, *({"kind": "done", "stage": id} for id in ids[: ids.index(stage)]), minutes_ago=60)

    def test_an_enzyme_is_stopped_before_a_pot_that_kills_it_and_a_hold_tells_what_is_off(self) -> None:
        batch = self.begin_batch("Chicory Cocoa")
        self.done_to(batch, "below")
        self.entered(batch, {"kind": "probed", "stage": "below", "temperature_c": 84}, {"kind": "done", "stage": "below"}, minutes_ago=9)
        page = self.tablet(batch)
        expect(page.get_by_role("alert")).to_contain_text(re.compile("84 °C.*hotter kills it.*72 °C or below"))
        self.assert_whole(page)
        self.assert_accessible(page)
        self.entered(batch, {"kind": "probed", "stage": "enzyme", "temperature_c": 69})
        expect(page.get_by_role("alert")).to_have_count(0)
        self.press(page, "All in as asked, not weighed here")
        page.get_by_role("button", name=re.compile("^It stands now")).click()
        self.press(page, "Probe")
        self.show(page, 55)
        expect(page.get_by_role("alert")).to_contain_text("55 °C: warm it to 63 °C or above")
        expect(page.get_by_role("button", name=re.compile(r"^Put right \(\d\)"))).to_be_visible()
        self.press(page, "Probe")
        self.show(page, 66)
        expect(page.get_by_role("alert")).to_have_count(0)

    def test_a_label_carries_the_cautious_day_and_what_is_measured_of_the_batch_counts(self) -> None:
        batch = self.begin_batch("Weir Simple")
        self.entered(batch, *({"kind": "done", "stage": each["id"]} for each in batch.document["stages"]), {"kind": "closed", "outcome": "finished"})
        page = self.tablet(batch)
        page.get_by_role("heading", name="Finished").wait_for()
        labels = page.get_by_role("region", name="Labels")
        expect(labels).to_contain_text("pH not measured”")
        keeping = page.get_by_role("region", name="Keeping of this batch")
        keeping.get_by_label("pH, measured").fill("3,9")
        keeping.get_by_role("radiogroup", name="All of it at 72").get_by_text("no", exact=True).click()
        self.press(page, "Save for this batch")
        # A cook's answer that allows more than the answers before it waits for somebody who may say what is served.
        expect(page.get_by_role("alert").filter(has_text="counts once a lead has entered it too")).to_contain_text("pH 3.9, not all of it heated")
        expect(labels).to_contain_text("pH not measured”")
        self.assert_accessible(page)
        desk = self.sign_in("ines", self.open(TABLET), f"/batches/{batch.pk}")
        of_lead = desk.get_by_role("region", name="Keeping of this batch")
        of_lead.get_by_label("pH, measured").fill("3,9")
        of_lead.get_by_role("radiogroup", name="All of it at 72").get_by_text("no", exact=True).click()
        self.press(desk, "Save for this batch")
        expect(labels).to_contain_text("no shelf trial yet”")
        expect(keeping).to_contain_text("does not need to be kept cold")
        expect(page.get_by_text("counts once a lead")).to_have_count(0)
        answer = page.request.get(f"{self.live_server_url}/api/v1/batches/{batch.pk}/label.pdf")
        text = " ".join(PdfReader(BytesIO(answer.body())).pages[0].extract_text().split())
        self.assertRegex(text, r"Use by: \w{3} \d\d \w{3} \d{4}, no shelf trial yet")

    def test_an_entry_that_cannot_be_counted_is_said_and_taken_back_and_nothing_else_suffers(self) -> None:
        batch = self.begin_batch("Weir Simple")
        other = self.begin_batch()
        document = {**batch.document, "stages": []}
        self.entered(batch, {"kind": "put_right", "title": "Begin anew", "document": document})
        page = self.tablet(batch)
        notice = page.get_by_role("alert").filter(has_text="Entry 1 is not counted")
        expect(notice).to_contain_text("There is no stage yet.")
        self.assert_accessible(page)
        desk = self.sign_in("ines", self.open((1280, 800)), "/batches")
        row = desk.get_by_role("listitem").filter(has_text=f"batch {batch.number:04d}")
        expect(row).to_contain_text("1 entry not counted")
        expect(desk.get_by_role("listitem").filter(has_text=f"batch {other.number:04d}")).to_contain_text("g planned")
        # What cannot be meant is refused at the key, with what was typed still there.
        page.get_by_role("list", name=re.compile("^What to weigh")).get_by_role("button").first.click()
        dialog = page.get_by_role("region", name=re.compile("^Weigh "))
        dialog.get_by_role("textbox").fill("0")
        expect(dialog.get_by_role("alert")).to_contain_text("That is 0 g, which is nothing.")
        dialog.get_by_role("textbox").press("Enter")
        expect(dialog.get_by_role("textbox")).to_have_value("0")
        button = notice.get_by_role("button", name=re.compile("^Take back, hold 1 s"))
        button.focus()
        page.keyboard.down("Enter")
        expect(notice).to_have_count(0)
        page.keyboard.up("Enter")
        expect(row).not_to_contain_text("not counted")

    def test_the_log_says_who_sent_what_as_whom_and_which_time_cannot_be(self) -> None:
        batch = self.begin_batch("Weir Simple", minutes_ago=90)
        later = (timezone.now() + timedelta(hours=5)).isoformat()
        for at, by in ((later, "ines"), ((timezone.now() - timedelta(hours=1)).isoformat(), "rafe")):
            told = {"id": str(uuid4()), "at": at, "by": by, "device": "tablet-2", "seen": 0, "what": {"kind": "noted", "text": "foams"}}
            append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(told)])
        page = self.tablet(batch)
        page.get_by_text("Log, 2 entries").click()
        rows = page.get_by_role("listitem").filter(has_text="foams")
        expect(rows.nth(0)).to_contain_text("arrived")
        expect(rows.nth(1)).to_contain_text("which cannot be · sent as Ines Calloway")
        expect(rows.nth(1)).to_contain_text("Rafe Oduya")
        self.assert_accessible(page)

    def test_what_was_not_shown_cold_stays_on_today_until_somebody_says_why(self) -> None:
        batch = self.begin_batch("Dark Cocoa Orange", minutes_ago=60 * 51)
        stages = [{"kind": "done", "stage": each["id"]} for each in batch.document["stages"]]
        self.entered(batch, *stages, {"kind": "closed", "outcome": "finished"}, minutes_ago=60 * 50)
        desk = self.sign_in("rafe", self.open((1280, 800)))
        card = desk.get_by_role("region", name="Cooling")
        expect(card).to_contain_text("Past its time: probe it, or say why not.")
        self.assert_accessible(desk)
        page = self.sign_in("mina", self.open(TABLET), f"/batches/{batch.pk}")
        self.press(page, "Say why not in time")
        page.get_by_label("What happened, and what became of it").fill("The probe was flat: thrown away.")
        self.press(page, "Save")
        expect(page.get_by_role("region", name="Cooling log")).to_contain_text("Not shown in time: The probe was flat: thrown away.")
        expect(card).to_have_count(0)

    def test_an_answer_falls_with_the_line_it_rests_on(self) -> None:
        page = self.at_the_bench("ines", "Smoked Tea")
        keeping = page.get_by_role("region", name="Keeping")
        keeping.get_by_text(re.compile("^Answer ")).click()
        keeping.get_by_label("pH, measured").fill("4.1")
        keeping.get_by_label("pH, measured").blur()
        expect(keeping).not_to_contain_text("What is its pH?")
        page.get_by_role("textbox", name=re.compile("^Amount of .*water", re.IGNORECASE)).first.fill("1500 g")
        page.keyboard.press("Tab")
        expect(keeping).to_contain_text("The formula has changed since the answers on pH: answer again.")
        expect(keeping.get_by_label("pH, measured")).to_have_value("")


if __name__ == "__main__":
    import unittest

    unittest.main()
