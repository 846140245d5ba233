"""A batch on the tablet by the hob: cooked, overshot, put right; entered twice, offline, and while the server is killed."""

from __future__ import annotations

import re
import time

from playwright.sync_api import Locator, Page, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.accounts.models import User
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.services import start_batch
from jugserver.formulas.models import Formula

FERRYMAN = "Ferryman's Spice"


class HobCase(BrowserCase):
    def begin_batch(self, name: str = FERRYMAN, who: str = "rafe") -> Batch:
        formula = Formula.objects.get(name=name)
        return Batch.objects.get(pk=start_batch(actor=User.objects.get(username=who), formula_id=formula.pk, version=1).id)

    def tablet(self, batch: Batch, who: str = "rafe") -> Page:
        page = self.open(TABLET)
        self.sign_in(who, page)
        page.goto(f"{self.live_server_url}/batches/{batch.pk}")
        page.get_by_role("navigation", name="Steps").wait_for()
        return page

    def show(self, page: Page, value: float | str) -> None:
        """Types what the scale, the probe or the glass shows."""
        field = page.get_by_role("dialog").get_by_role("textbox")
        field.fill(str(value))
        field.press("Enter")
        expect(page.get_by_role("dialog")).to_have_count(0)

    def line(self, page: Page, name: str) -> Locator:
        return page.get_by_role("list", name=re.compile("^What to weigh")).get_by_role("button", name=re.compile(f"^{name}"))

    def press(self, page: Page, name: str) -> None:
        page.get_by_role("button", name=name, exact=True).click()

    def weigh(self, page: Page, name: str, grams: float) -> None:
        self.line(page, name).click()
        self.show(page, grams)
        expect(self.line(page, name)).to_contain_text("weighed")

    def to_the_boil(self, page: Page) -> None:
        """Everything as asked up to the boil."""
        for name in ("Pear juice", "Water"):
            self.weigh(page, name, 430)
        self.press(page, "All in, go on")
        self.weigh(page, "Golden", 860)
        self.press(page, "All in, go on")
        self.press(page, "It is on the heat")
        self.press(page, "It has reached 60 °C")
        self.press(page, "All in as asked, not weighed here")
        self.press(page, "Done, go on")
        self.press(page, "It is on the heat")
        page.get_by_role("button", name="Weigh the pot").wait_for()

    def stop_g(self, page: Page) -> int:
        title = page.get_by_role("heading", name=re.compile("^Boil until the pot weighs")).inner_text()
        return int(re.sub(r"\D", "", title))

    def settled(self, batch: Batch, entries: int) -> None:
        """Waits until the server has so many entries, numbered without a gap."""
        deadline = time.monotonic() + 20
        while LogEntry.objects.filter(batch=batch).count() < entries and time.monotonic() < deadline:
            time.sleep(0.05)
        self.assertEqual(list(LogEntry.objects.filter(batch=batch).values_list("seq", flat=True)), list(range(1, entries + 1)))


class Cooking(HobCase):
    def test_a_whole_batch_overshot_and_put_right(self) -> None:
        page = self.open(TABLET)
        self.sign_in("rafe", page)
        page.get_by_role("link", name="Batches", exact=True).click()
        page.get_by_role("button", name="Start a batch").click()
        page.get_by_role("combobox", name="Formula").fill("Ferry")
        page.get_by_role("option", name=FERRYMAN).click()
        page.get_by_role("button", name="Start", exact=True).click()
        page.get_by_role("navigation", name="Steps").wait_for()
        self.assert_accessible(page)
        # The juice came short: water and sugar follow it.
        self.weigh(page, "Pear juice", 410)
        expect(self.line(page, "Pear juice")).to_contain_text("20 g short of 430")
        expect(self.line(page, "Water")).to_contain_text("410")
        self.line(page, "Pear juice").click()
        expect(page.get_by_role("dialog")).to_contain_text("More Pear juice")
        self.show(page, 20)
        expect(self.line(page, "Water")).to_contain_text("430")
        self.weigh(page, "Water", 430)
        self.press(page, "All in, go on")
        self.weigh(page, "Golden", 860)
        self.press(page, "All in, go on")
        self.press(page, "It is on the heat")
        page.get_by_role("button", name="Probe").click()
        self.show(page, 61)
        self.press(page, "It has reached 60 °C")
        for name in ("Green cardamom", "Mace", "Long pepper", "Star anise", "Dried orange peel"):
            self.line(page, name).click()
            page.get_by_role("button", name=re.compile("^As asked")).click()
            expect(self.line(page, name)).to_contain_text("weighed")
        self.press(page, "All in, go on")
        self.press(page, "Done, go on")
        self.press(page, "It is on the heat")
        stop = self.stop_g(page)
        expect(page.get_by_text("Hot sugar burns deeply")).to_be_visible()
        self.assert_accessible(page)
        # Too early to order anything; then past the stop.
        expect(page.get_by_role("button", name="Take it off the heat")).to_have_count(0)
        page.get_by_role("button", name="Weigh the pot").click()
        self.show(page, stop + 60)
        expect(page.get_by_text("grams to go")).to_be_visible()
        expect(page.get_by_role("button", name="I have taken it off")).to_be_visible()
        page.get_by_role("button", name="Weigh the pot").click()
        self.show(page, stop - 90)
        expect(page.get_by_text("grams past the stop")).to_be_visible()
        self.press(page, "Take it off the heat")
        page.get_by_role("button", name=re.compile("^Put right")).click()
        page.get_by_role("region", name="°Brix").get_by_role("button", name="What can be done").click()
        page.get_by_role("button", name="Take it: Stir in 90 g of water after the boil").click()
        expect(page.get_by_role("heading", name="Weigh 90 g more water into Wide pot")).to_be_visible()
        self.weigh(page, "More water", 90)
        self.press(page, "All in, go on")
        page.get_by_role("button", name="Weigh what it gave").click()
        self.show(page, 1390)
        self.press(page, "Done, go on")
        for _ in range(2):
            page.get_by_role("button", name="One filled", exact=True).click()
            page.get_by_role("button", name=re.compile("^As asked")).click()
        page.get_by_role("button", name="Left over, kept").click()
        self.show(page, 100)
        self.assert_accessible(page)
        self.press(page, "Done, go on")
        self.press(page, "Finish the batch")
        expect(page.get_by_role("heading", name="Finished")).to_be_visible()
        batch = Batch.objects.get()
        weighed = page.get_by_text(re.compile("g filled and kept")).inner_text()
        sums = sum(
            e["what"].get("each_g", 0) + e["what"].get("mass_g", 0) for e in LogEntry.objects.filter(batch=batch).values_list("event", flat=True)
        )
        self.assertIn(f"{sums:,.0f} g filled and kept", weighed)
        page.get_by_role("link", name="To all batches").click()
        expect(page.get_by_role("region", name="Cooked")).to_contain_text(FERRYMAN)

    def test_the_wrong_sugar_a_weak_juice_and_a_batch_given_up(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.weigh(page, "Pear juice", 430)

        def went_in(name: str) -> Locator:
            page.get_by_role("button", name=re.compile("^Put right")).click()
            region = page.get_by_role("region", name="What really went in")
            region.get_by_role("combobox", name="Of these").click()
            page.get_by_role("option", name=re.compile(f"^{name}")).click()
            return region

        region = went_in("Golden")
        region.get_by_role("combobox", name="Something else went in").fill("Demerara")
        page.get_by_role("option", name=re.compile("^Demerara")).first.click()
        region.get_by_role("button", name="That went in").click()
        region = went_in("Pear juice")
        region.get_by_label("A drop of it on the refractometer").fill("9.5")
        region.get_by_role("button", name="Reckon with that").click()
        self.settled(batch, 3)
        page.get_by_role("button", name="Add sugar: to do").click()
        expect(page.get_by_role("heading", name=re.compile("demerara sugar into Wide pot"))).to_be_visible()
        page.get_by_role("button", name=re.compile("^Put right")).click()
        expect(page.get_by_role("dialog")).to_contain_text("Near enough")
        again = page.get_by_role("region", name="Start again")
        expect(again.get_by_role("button", name="Stop this batch")).to_be_disabled()
        again.get_by_label("Why this batch is stopped").fill("dropped the pot")
        again.get_by_label("Thrown away").fill("1290")
        again.get_by_role("button", name="Stop this batch").click()
        expect(page.get_by_role("heading", name="Stopped: dropped the pot")).to_be_visible()
        expect(page.get_by_text(re.compile("· 1,290 g thrown away$"))).to_be_visible()
        self.settled(batch, 5)
        self.assert_accessible(page)
        page.get_by_role("button", name="Start it again").click()
        page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
        expect(page.get_by_text(f"batch {batch.number + 1:04d}")).to_be_visible()

    def test_a_wet_press_is_taken_back_by_holding(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.weigh(page, "Pear juice", 430)
        undo = page.get_by_role("button", name=re.compile("^Undo: 430 g of pear juice"))
        undo.click()  # a short press does nothing
        self.settled(batch, 1)
        box = undo.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.wait_for_timeout(1200)
        page.mouse.up()
        expect(self.line(page, "Pear juice")).to_contain_text("to weigh")
        self.settled(batch, 2)

    def test_every_press_can_be_made_from_a_keyboard(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.line(page, "Pear juice").focus()
        page.keyboard.press("Enter")
        page.get_by_role("dialog").get_by_role("textbox").wait_for()
        page.keyboard.type("430")
        page.keyboard.press("Enter")
        expect(self.line(page, "Pear juice")).to_contain_text("weighed")
        page.get_by_role("button", name=re.compile("^Undo: 430 g")).focus()
        page.keyboard.press("Enter")
        expect(self.line(page, "Pear juice")).to_contain_text("to weigh")
        page.get_by_role("button", name="All in as asked, not weighed here").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=re.compile("golden granulated sugar"))).to_be_visible()

    def test_a_keypad_takes_wet_fingers_and_says_what_cannot_be(self) -> None:
        page = self.tablet(self.begin_batch())
        self.line(page, "Pear juice").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_text("Wide pot and what is in it, 1,243 g").click()
        for key in "900":
            dialog.get_by_role("button", name=key, exact=True).click()
        expect(dialog.get_by_role("alert")).to_contain_text("less than what stands on the scale besides")
        dialog.get_by_role("button", name="Take the last figure back").click()
        for key in "5.5":
            dialog.get_by_role("button", name="point" if key == "." else key, exact=True).click()
        expect(dialog.get_by_role("textbox")).to_have_value("905.5")
        dialog.get_by_role("textbox").fill("1673")
        dialog.get_by_role("button", name="Keep 430 g").click()
        expect(self.line(page, "Pear juice")).to_contain_text("weighed")

    def test_at_four_hundred_percent_nothing_runs_off_the_side(self) -> None:
        batch = self.begin_batch()
        page = self.open((320, 640))
        self.sign_in("rafe", page)
        page.goto(f"{self.live_server_url}/batches/{batch.pk}")
        page.get_by_role("navigation", name="Steps").wait_for()
        for stage in ("Juice and water", "Dissolve", "Boil", "Strain", "Fill"):
            page.get_by_role("button", name=re.compile(f"^{stage}: ")).click()
            wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
            self.assertLessEqual(wide, 0, stage)

    def test_the_bars_may_look_and_not_enter(self) -> None:
        page = self.tablet(self.begin_batch(), "bars")
        expect(page.get_by_role("heading", name="Weigh 2 things into Wide pot")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("All in"))).to_have_count(0)
        expect(self.line(page, "Pear juice")).to_be_disabled()

    def test_a_shared_tablet_passes_from_hand_to_hand(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.weigh(page, "Pear juice", 430)
        self.settled(batch, 1)
        self.allowed = ["status of 422"]  # the wrong PIN
        page.get_by_role("button", name="Rafe Oduya is cooking: somebody else").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Mina Thorsen").click()
        for pin in ("1111", "3690"):
            for key in pin:
                dialog.get_by_role("button", name=key, exact=True).click()
            dialog.get_by_role("button", name="Mina Thorsen goes on").click()
            if pin == "1111":
                expect(dialog.get_by_role("alert")).to_contain_text("does not fit")
        expect(page.get_by_role("button", name="Mina Thorsen is cooking: somebody else")).to_be_visible()
        self.weigh(page, "Water", 431)
        self.settled(batch, 2)
        entries = LogEntry.objects.filter(batch=batch).select_related("sent_by")
        self.assertEqual([(e.event["by"], e.sent_by.username) for e in entries], [("rafe", "rafe"), ("mina", "mina")])
        page.get_by_text("Log, 2 entries").click()
        expect(page.get_by_role("listitem").filter(has_text="431 g of water")).to_contain_text("Mina Thorsen")

    def test_a_timer_runs_on_every_tablet(self) -> None:
        batch = self.begin_batch()
        page, other = self.tablet(batch), self.tablet(batch, "mina")
        page.get_by_role("button", name="Set a timer").click()
        self.show(page, 3)
        expect(page.get_by_role("timer")).to_contain_text(re.compile("0[23]:"))
        expect(other.get_by_role("timer")).to_contain_text(re.compile("0[23]:"), timeout=2500)
        other.get_by_role("button", name=re.compile("^Turn off")).click()
        expect(page.get_by_role("timer")).to_have_count(0, timeout=2500)


class NothingLost(HobCase):
    def test_without_a_network_entries_wait_and_survive_a_reload(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        page.context.set_offline(True)
        self.weigh(page, "Pear juice", 411)
        self.weigh(page, "Water", 412)
        self.press(page, "All in, go on")
        expect(page.get_by_role("status").filter(has_text="3 entries are kept here and wait")).to_be_visible()
        expect(page.get_by_role("heading", name=re.compile("golden granulated sugar"))).to_be_visible()
        self.assertEqual(LogEntry.objects.count(), 0)
        page.context.set_offline(False)
        page.reload()
        self.settled(batch, 3)
        expect(page.get_by_role("heading", name=re.compile("823 g of golden granulated sugar"))).to_be_visible()

    def test_the_tablet_opens_the_batch_without_a_network_and_goes_on(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "ERR_FAILED", "Failed to load resource", "Failed to fetch"]
        self.weigh(page, "Pear juice", 400)
        self.settled(batch, 1)
        page.wait_for_function("async () => Boolean(await (await caches.open('page')).match('/'))")
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_role("status").filter(has_text="as last seen")).to_be_visible()
        expect(self.line(page, "Pear juice")).to_contain_text("400")
        self.weigh(page, "Water", 401)
        self.press(page, "All in, go on")
        page.reload()  # asleep and awake again, still no network
        expect(page.get_by_role("status").filter(has_text="2 entries are kept here and wait")).to_be_visible()
        expect(page.get_by_role("heading", name=re.compile("golden granulated sugar"))).to_be_visible()
        page.context.set_offline(False)
        page.evaluate("window.dispatchEvent(new Event('online'))")
        self.settled(batch, 3)
        expect(page.get_by_role("heading", name=re.compile("801 g of golden granulated sugar"))).to_be_visible()

    def test_the_server_killed_between_any_two_lines_loses_and_doubles_nothing(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.allowed = [
            "ERR_CONNECTION_REFUSED",
            "ERR_EMPTY_RESPONSE",
            "ERR_INCOMPLETE_CHUNKED_ENCODING",
            "ERR_CONNECTION_RESET",
            "Failed to load resource",
        ]
        self.weigh(page, "Pear juice", 430)
        self.served.kill()
        self.weigh(page, "Water", 431)
        self.served.start()
        self.settled(batch, 2)
        self.press(page, "All in, go on")
        self.served.kill()
        self.weigh(page, "Golden", 861)
        self.press(page, "All in, go on")
        self.served.start()
        page.reload()  # the tablet was put away and taken out again
        self.settled(batch, 5)
        expect(page.get_by_role("button", name="Dissolve: now")).to_be_visible()
        kinds = list(LogEntry.objects.filter(batch=batch).values_list("kind", flat=True))
        self.assertEqual(kinds, ["weighed", "weighed", "done", "weighed", "done"])

    def test_an_entry_made_after_the_session_ended_waits_for_the_next_person(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.allowed = ["401", "Failed to load resource"]
        page.context.clear_cookies(name="oakenjug_session")
        self.line(page, "Pear juice").click()
        self.show(page, 430)
        page.get_by_role("heading", name="Sign in to go on").wait_for()
        self.assertEqual(LogEntry.objects.count(), 0)
        page.get_by_label("Name you sign in with").fill("mina")
        page.get_by_label("Password", exact=True).fill("river-town-demo")
        page.get_by_role("button", name="Sign in", exact=True).click()
        self.settled(batch, 1)
        entry = LogEntry.objects.get()
        self.assertEqual((entry.event["by"], entry.sent_by.username), ("rafe", "mina"))

    def test_two_tablets_see_each_other_and_disagree_without_losing_either(self) -> None:
        batch = self.begin_batch()
        one, two = self.tablet(batch), self.tablet(batch, "mina")
        self.weigh(one, "Pear juice", 430)
        expect(self.line(two, "Pear juice")).to_contain_text("weighed", timeout=2000)
        # Both are cut off and weigh the water; neither knows of the other.
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        for page, grams in ((one, 430), (two, 445)):
            page.context.set_offline(True)
            self.weigh(page, "Water", grams)
        for page in (one, two):
            page.context.set_offline(False)
            page.evaluate("window.dispatchEvent(new Event('online'))")
        self.settled(batch, 3)
        for page in (one, two):
            expect(page.get_by_role("alert").filter(has_text="Which went in, or did both?")).to_be_visible(timeout=4000)
        one.get_by_role("button", name="430 g", exact=True).click()
        expect(two.get_by_role("alert").filter(has_text="Which went in")).to_have_count(0, timeout=2500)
        expect(self.line(two, "Water")).to_contain_text("430")
        self.settled(batch, 4)
