"""Nothing lost, nothing silent, at the hob: what was typed outlives a touch, a double tap is one, the rest of a filling is asked for."""

from __future__ import annotations

import re
from datetime import timedelta
from uuid import uuid4

from django.utils import timezone
from playwright.sync_api import expect

from e2e.hob_case import HobCase
from jugcore.batch.log.events import Event
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.models import Batch, LogEntry


class NothingSilent(HobCase):
    def kinds(self, batch: Batch) -> list[str]:
        return list(LogEntry.objects.filter(batch=batch).order_by("seq").values_list("kind", flat=True))

    def test_what_was_typed_outlives_a_touch_beside_the_dialog_and_a_reload(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        self.weighing(page, "Water").get_by_role("textbox").fill("743")
        self.press(page, "Note")
        page.get_by_label("What is worth remembering").fill("New sack of sugar.")
        page.mouse.click(6, 600)
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.reload()
        water = self.weighing(page, "Water")
        expect(water.get_by_role("textbox")).to_have_value("743")
        expect(water).to_contain_text("was typed here and not saved")
        page.get_by_role("button", name="Save 743 g").click()
        self.press(page, "Note")
        expect(page.get_by_label("What is worth remembering")).to_have_value("New sack of sugar.")
        self.press(page, "Save")
        self.settled(batch, 2)
        self.line(page, "Water").click()
        expect(water.get_by_role("textbox")).to_have_value("")

    def test_a_double_tap_is_one_step(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        button = page.get_by_role("button", name="All in as asked, not weighed here")
        expect(button).to_be_enabled()
        box = button.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.dblclick(x, y)
        expect(page.get_by_role("button", name="It is on the heat")).to_be_visible()
        page.wait_for_timeout(800)
        self.assertEqual(self.kinds(batch), ["done"])

    def test_any_of_the_last_entries_is_taken_back_and_not_only_the_newest(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        self.weigh(page, "Water", 700)
        self.weigh(page, "White", 750)
        page.get_by_text(re.compile("^Log, 2 entries")).click()
        button = page.get_by_role("button", name=re.compile("^Take back, hold 1 s: 700 g of water"))
        button.hover()
        page.mouse.down()
        page.wait_for_timeout(1200)
        page.mouse.up()
        expect(self.line(page, "Water")).to_contain_text("to weigh")
        expect(self.line(page, "White")).to_contain_text("weighed")
        self.assert_accessible(page)
        self.assertEqual(self.kinds(batch), ["weighed", "weighed", "undone"])

    def test_the_rest_of_a_filling_is_asked_for(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        self.to_the_filling(page)
        for _ in range(2):
            page.get_by_role("button", name="One filled", exact=True).click()
            self.show(page, 610)
        self.press(page, "Done, finish the batch")
        dialog = page.get_by_role("dialog", name=re.compile(r"g are in no bottle$"))
        expect(dialog).to_contain_text("1,220 g are filled or kept")
        self.assert_accessible(page)
        dialog.get_by_role("button", name=re.compile("^Left over and kept")).click()
        page.get_by_role("heading", name="Finished").wait_for()
        self.settled(batch, 10)
        self.assertEqual(self.kinds(batch)[-3:], ["left_over", "done", "closed"])
        expect(page.get_by_text(re.compile(r"^1,4\d\d g filled and kept"))).to_be_visible()

    def test_a_timer_rings_on_every_screen(self) -> None:
        batch = self.begin_batch("Weir Simple", minutes_ago=5)
        what = {"kind": "timer", "timer": "t-1", "title": "Stir it", "seconds": 60}
        at = timezone.now() - timedelta(seconds=75)
        event = {"id": str(uuid4()), "at": at.isoformat(), "by": "rafe", "device": "tablet-2", "seen": 0, "what": what}
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(event)])
        page = self.sign_in("rafe", self.open((1280, 800)), "/pantry")
        over = page.get_by_role("region", name="Timers that are over")
        expect(over).to_contain_text("Stir it: time is up.")
        expect(over.get_by_role("button", name="Ring when a timer runs out")).to_be_visible()
        self.assert_accessible(page)
        over.get_by_role("link", name="To Weir Simple").click()
        page.get_by_role("button", name="Turn off Stir it").click()
        page.go_back()
        expect(over).to_have_count(0)

    def test_without_a_network_no_pin_is_checked_and_it_says_so(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        page.get_by_role("button", name="All in as asked, not weighed here").wait_for()
        page.context.set_offline(True)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        page.get_by_role("button", name="Rafe Oduya is cooking: somebody else").click()
        dialog = page.get_by_role("dialog", name="Who is cooking")
        expect(dialog).to_contain_text("No connection: no PIN can be checked, so entries go on under Rafe Oduya.")
        page.get_by_role("button", name="Go on as Rafe Oduya").click()
        expect(dialog).to_have_count(0)
        page.context.set_offline(False)
