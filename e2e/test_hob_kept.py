"""Nothing entered at the hob is lost: without a network, after a reload, while the server is killed, on two tablets at once."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import TABLET
from e2e.hob_case import HobCase
from jugserver.batches.models import LogEntry

#: The server takes whatever an entry says; this stands before it, within the page, where nothing sent can pass it by.
_REFUSES = """const send = window.fetch;
window.fetch = async (...asked) => {
  const body = asked[0] instanceof Request ? await asked[0].clone().text() : '';
  if (!body.includes('refuse me')) return send(...asked);
  const problems = [{ code: 'x', field: 'events', message: 'That cannot be kept.', remedy: 'Say it otherwise.', choices: [] }];
  return new Response(JSON.stringify({ problems }), { status: 422, headers: { 'Content-Type': 'application/problem+json' } });
};"""

#: Waits until the worker has every file of the app, and the page itself.
OPENABLE = """async () => {
  await navigator.serviceWorker.ready;
  while (!(await (await caches.open('page')).match('/'))) await new Promise((go) => setTimeout(go, 50));
}"""


class NothingLost(HobCase):
    works_offline = True

    def test_without_a_network_entries_wait_and_survive_a_reload(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        head = page.get_by_role("banner")
        page.wait_for_function("document.fonts.check('18px \\'Public Sans Variable\\'')")  # until then words are as wide as those of another font
        saved = head.bounding_box()
        page.context.set_offline(True)
        self.weigh(page, "Pear juice", 411)
        self.weigh(page, "Water", 412)
        self.press(page, "All in, go on")
        expect(page.get_by_role("status").filter(has_text="3 entries are kept here and wait")).to_be_visible()
        self.assertEqual(head.bounding_box(), saved, "What waits moves everything below it, beneath the finger of who presses twice.")
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
        page.evaluate(OPENABLE)
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_role("status").filter(has_text="as last seen")).to_be_visible()
        expect(self.line(page, "Pear juice")).to_contain_text("400")
        self.weigh(page, "Water", 401)
        self.press(page, "All in, go on")
        # It says so once the entry is on the tablet's shelf; a page that goes before that has not kept it.
        expect(page.get_by_role("status").filter(has_text="2 entries are kept here and wait")).to_be_visible()
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
        self.settled(batch, 3)
        self.served.kill()
        self.weigh(page, "Golden", 861)
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
        self.weigh(page, "Pear juice", 430)
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
        expect(self.line(two, "Pear juice")).to_contain_text("weighed")
        # Both are cut off and weigh the water; neither knows of the other.
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        for page, grams in ((one, 430), (two, 445)):
            page.context.set_offline(True)
            self.weigh(page, "Water", grams)
        for page in (one, two):
            page.context.set_offline(False)
            page.evaluate("window.dispatchEvent(new Event('online'))")
        self.settled(batch, 4)  # the one that is near enough was the last line, and ended the step
        for page in (one, two):
            expect(page.get_by_role("alert").filter(has_text="Which went in, or did both?")).to_be_visible()
        one.get_by_role("button", name="430 g, Rafe Oduya", exact=True).click()
        expect(two.get_by_role("alert").filter(has_text="Which went in")).to_have_count(0)
        two.get_by_role("button", name="Juice and water: done").click()
        expect(self.line(two, "Water")).to_contain_text("430")
        self.settled(batch, 5)

    def test_one_amount_typed_on_two_tablets_at_once_stands_twice_with_a_question(self) -> None:
        batch = self.begin_batch()
        one, two = self.tablet(batch), self.tablet(batch, "mina")
        for page, grams in ((one, "430"), (two, "445")):
            self.line(page, "Water").click()
            self.weighing(page, "Water").get_by_role("textbox").fill(grams)
        self.weighing(one, "Water").get_by_role("button", name="Save 430 g").click()
        # The other's figure arrives while this one is being typed: it was not on this screen when that began.
        self.settled(batch, 1)
        expect(self.line(two, "Water")).to_contain_text("weighed")
        self.weighing(two, "Water").get_by_role("button", name="Save 445 g").click()
        for page in (one, two):
            expect(page.get_by_role("alert").filter(has_text="Which went in, or did both?")).to_be_visible()
        self.settled(batch, 2)

    def test_two_tablets_fill_at_once_and_somebody_says_whether_it_was_the_same(self) -> None:
        batch = self.begin_batch("Weir Simple")
        one = self.tablet(batch)
        self.to_the_filling(one)
        two = self.tablet(batch, "mina")
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        for page in (one, two):
            page.context.set_offline(True)
            page.get_by_role("button", name="One filled", exact=True).click()
            self.show(page, 480)
        for page in (one, two):
            page.context.set_offline(False)
            page.evaluate("window.dispatchEvent(new Event('online'))")
        for page in (one, two):
            expect(page.get_by_role("alert").filter(has_text="Are they the same, or were both filled?")).to_be_visible()
            expect(page.get_by_text("960 g", exact=True)).to_be_visible()
        two.get_by_role("button", name="480 g filled, Mina Thorsen").click()
        for page in (one, two):
            expect(page.get_by_text("480 g", exact=True)).to_be_visible()
            expect(page.get_by_role("alert").filter(has_text="Are they the same")).to_have_count(0)

    def test_an_entry_that_is_not_taken_is_said_and_can_be_dropped_and_the_others_go(self) -> None:
        batch = self.begin_batch()
        page = self.open(TABLET)
        page.add_init_script(_REFUSES)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        self.sign_in("rafe", page, f"/batches/{batch.pk}")
        page.context.set_offline(True)
        self.weigh(page, "Pear juice", 430)
        page.get_by_role("button", name="Note", exact=True).click()
        page.get_by_role("dialog").get_by_label("What is worth remembering").fill("refuse me")
        self.press(page, "Save")
        self.weigh(page, "Water", 431)
        page.context.set_offline(False)
        page.evaluate("window.dispatchEvent(new Event('online'))")
        alert = page.get_by_role("alert").filter(has_text="was not taken: That cannot be kept.")
        expect(alert).to_be_visible()
        expect(page.get_by_role("status").filter(has_text="One entry was not taken")).to_be_visible()
        self.settled(batch, 3)
        page.reload()  # it is kept until somebody lets it go
        alert.get_by_role("button", name="Discard").click()
        expect(alert).to_have_count(0)
        expect(page.get_by_text(re.compile("^(all saved|saved)"))).to_be_visible()
        self.settled(batch, 3)

    def test_a_browser_that_keeps_nothing_still_enters_and_says_so(self) -> None:
        batch = self.begin_batch()
        page = self.open(TABLET)
        page.add_init_script("indexedDB.open = () => { throw new DOMException('refused', 'SecurityError'); };")
        self.sign_in("rafe", page, f"/batches/{batch.pk}")
        expect(page.get_by_role("status").filter(has_text="This browser keeps nothing")).to_be_visible()
        self.weigh(page, "Pear juice", 430)
        self.settled(batch, 1)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        page.context.set_offline(True)
        self.weigh(page, "Water", 431)
        expect(page.get_by_role("status").filter(has_text="leave this page open")).to_be_visible()
        page.context.set_offline(False)
        page.evaluate("window.dispatchEvent(new Event('online'))")
        self.settled(batch, 3)

    def test_a_tablet_whose_clock_is_wrong_goes_by_the_server(self) -> None:
        batch = self.begin_batch()
        page = self.open(TABLET)
        page.add_init_script("{ const now = Date.now; Date.now = () => now() - 420_000; }")  # seven minutes slow
        self.sign_in("rafe", page, f"/batches/{batch.pk}")
        self.weigh(page, "Pear juice", 430)
        self.settled(batch, 1)
        entry = LogEntry.objects.get()
        self.assertLess(abs((entry.at - entry.received_at).total_seconds()), 5)
