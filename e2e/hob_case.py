"""What the tests of the hob share: a batch begun, a tablet signed in at it, and the presses of a cook."""

from __future__ import annotations

import re
import time
from datetime import timedelta

from django.utils import timezone
from playwright.sync_api import Locator, Page, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.accounts.models import User
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.services import start_batch
from jugserver.formulas.models import Formula

FERRYMAN = "Ferryman's Spice"
#: For pages whose time is moved: a batch says what time it is on the server, as if that had moved as far.
MOVED = """window.movedMs = 0;
window.movedAnswers = 0;
const ask = window.fetch;
window.fetch = async (...asked) => {
  const answer = await ask(...asked);
  if (!answer.ok || !/\\/api\\/v1\\/batches\\/[0-9a-f-]{36}$/.test(answer.url)) return answer;
  window.movedAnswers += 1;
  const batch = await answer.json();
  batch.as_of = new Date(Date.parse(batch.as_of) + window.movedMs).toISOString();
  return new Response(JSON.stringify(batch), { status: answer.status, headers: answer.headers });
};"""
#: Presses a batch may take; more is a circle.
_MOST = 60


class HobCase(BrowserCase):
    def begin_batch(self, name: str = FERRYMAN, who: str = "rafe", minutes_ago: float = 0) -> Batch:
        formula = Formula.objects.get(name=name)
        at = timezone.now() - timedelta(minutes=minutes_ago)
        return Batch.objects.get(pk=start_batch(actor=User.objects.get(username=who), formula_id=formula.pk, version=1, at=at).id)

    def tablet(self, batch: Batch, who: str = "rafe") -> Page:
        return self.sign_in(who, self.open(TABLET), f"/batches/{batch.pk}")

    def move(self, page: Page, ms: int, *, every_tick: bool = False) -> None:
        """Moves the time of a page on, and the server's with it as it is told there: a tablet that is off goes by the server's."""
        page.evaluate("ms => { window.movedMs += ms; }", ms)
        (page.clock.run_for if every_tick else page.clock.fast_forward)(ms)

    def show(self, page: Page, value: float | str) -> None:
        """Types what the scale, the probe or the glass shows."""
        dialog = page.get_by_role("dialog")
        title = dialog.get_by_role("heading", level=2).inner_text()
        self.assert_whole(page)
        dialog.get_by_role("textbox").fill(str(value))
        dialog.get_by_role("textbox").press("Enter")
        # By its name: another may open at once, such as the one that asks who is there.
        expect(page.get_by_role("dialog", name=title, exact=True)).to_have_count(0)

    def line(self, page: Page, name: str) -> Locator:
        return page.get_by_role("list", name=re.compile("^What to weigh")).get_by_role("button", name=re.compile(f"^{name}"))

    def press(self, page: Page, name: str) -> None:
        page.get_by_role("button", name=name, exact=True).click()

    def weigh(self, page: Page, name: str, grams: float) -> None:
        """Types what the scale shows of a line; the last one of a step that is near enough moves the batch on."""
        self.line(page, name).click()
        panel = self.weighing(page, name)
        panel.get_by_role("textbox").fill(str(grams))
        panel.get_by_role("textbox").press("Enter")
        expect(panel).to_have_count(0)

    def weighing(self, page: Page, name: str) -> Locator:
        """Where a line is weighed: its amount, its keys."""
        return page.get_by_role("region", name=re.compile(f"^Weigh {name}"))

    def as_asked(self, page: Page, *names: str) -> None:
        """Puts lines in as they are asked for."""
        for name in names:
            self.line(page, name).click()
            self.weighing(page, name).get_by_role("button", name=re.compile("^As asked")).click()
            expect(self.weighing(page, name)).to_have_count(0)

    def key(self, page: Page, name: str | re.Pattern[str], exact: bool = True) -> None:
        """Reaches a button with Tab alone, as a person without a pointer does, and presses Enter."""
        button = page.get_by_role("button", name=name, exact=exact and isinstance(name, str)).first
        button.wait_for()
        expect(button).to_be_enabled()  # a step's press is dead for a moment after its screen appeared
        for _ in range(120):
            if button.evaluate("each => each === document.activeElement"):
                expect(button).to_be_enabled()  # what was just entered may have to reach the server first
                page.keyboard.press("Enter")
                return
            page.keyboard.press("Tab")
        self.fail(f"Tab does not reach {name}")

    def to_the_filling(self, page: Page) -> None:
        """A plain syrup, everything as asked, up to the filling."""
        for words in ("All in as asked", "It is on the heat", "It has reached", "It is cooling", "It has reached"):
            page.get_by_role("button", name=re.compile(f"^{words}")).click()
        page.get_by_role("button", name="One filled", exact=True).wait_for()

    def to_the_boil(self, page: Page) -> None:
        """Everything as asked up to the boil."""
        for name in ("Pear juice", "Water"):
            self.weigh(page, name, 430)
        self.weigh(page, "Golden", 860)
        self.press(page, "It is on the heat")
        self.press(page, "It has reached 60 °C")
        self.press(page, "All in as asked, not weighed here")
        self.press(page, "Done, go on")
        self.press(page, "It is on the heat")
        page.get_by_role("button", name="Weigh the pot").wait_for()

    def cook(self, page: Page, name: str) -> None:
        """Every step as asked, until the batch is finished."""
        for _ in range(_MOST):
            press = page.locator("footer button").last
            words = press.inner_text()
            before = page.locator("nav[aria-label=Steps]").inner_html() + words
            press.click()
            if words.endswith("inish the batch"):
                return
            page.wait_for_function(
                "was => document.querySelector('nav[aria-label=Steps]').innerHTML + [...document.querySelectorAll('footer button')].pop().innerText !== was",
                arg=before,
                polling=50,  # else the page is laid out anew for every frame
            )
        self.fail(f"{name} never ends")

    def stop_g(self, page: Page) -> int:
        title = page.get_by_role("heading", name=re.compile("^Boil until the pot weighs")).inner_text()
        return int(re.sub(r"\D", "", title))

    def settled(self, batch: Batch, entries: int) -> None:
        """Waits until the server has so many entries, numbered without a gap."""
        deadline = time.monotonic() + 20
        while LogEntry.objects.filter(batch=batch).count() < entries and time.monotonic() < deadline:
            time.sleep(0.05)
        self.assertEqual(list(LogEntry.objects.filter(batch=batch).values_list("seq", flat=True)), list(range(1, entries + 1)))
