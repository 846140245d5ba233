"""A real browser against a real server; fails on console errors, failed and foreign requests."""

from __future__ import annotations

import json
import re
import sys
from collections.abc import Callable
from functools import cached_property
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
from django.test import TransactionTestCase
from playwright.sync_api import BrowserContext, Locator, Page, expect
from playwright.sync_api import Error as PlaywrightError

from e2e.running import PATIENCE_MS, Running, running
from jugcore.tests.banned_words import banned_in
from jugserver.accounts.models import User
from jugserver.accounts.session_store import SessionStore
from jugserver.formulas.models import Formula

ROOT = Path(__file__).resolve().parent.parent
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
#: Desk and tablet at the hob.
DESK, TABLET = (1280, 800), (820, 1180)
_FOCUS = "document.activeElement?.outerHTML.slice(0, 300)"


#: Every line that is read on a page, and every name, hint and title that is heard.
_TEXTS = """() => [
  ...document.body.innerText.split('\\n'),
  ...[...document.querySelectorAll('[aria-label], [placeholder], [title]')].flatMap((each) =>
    ['aria-label', 'placeholder', 'title'].map((name) => each.getAttribute(name) ?? '')),
].filter((text) => text.trim())"""
#: What stands over an edge and cannot be scrolled to, or is written over the edge of a drawing: its name and how far it stands over. [px]
_CUT_OFF = """() => {
  const over = [];
  for (const each of document.querySelectorAll('button, a[href], input, select, textarea, [role=button]')) {
    const box = each.getBoundingClientRect();
    // Away to the left stands what only shows itself to the keyboard.
    if (box.width < 2 || box.right <= 0 || !each.checkVisibility({ visibilityProperty: true, opacityProperty: true })) continue;
    let holder = each.parentElement;
    while (holder && holder !== document.body && holder.getAttribute('role') !== 'dialog' && !['auto', 'scroll'].includes(getComputedStyle(holder).overflowX))
      holder = holder.parentElement;
    const scrolls = holder && holder.getAttribute('role') !== 'dialog' && holder !== document.body;
    if (scrolls && holder.scrollWidth > holder.clientWidth && (holder.querySelector('table') || holder.hasAttribute('data-sideways'))) continue;
    const edge = holder && holder !== document.body ? holder.getBoundingClientRect() : { left: 0, right: window.innerWidth };
    const by = Math.max(box.right - edge.right, edge.left - box.left);
    if (by > 2) over.push(`${each.getAttribute('aria-label') || each.textContent.trim().slice(0, 40) || each.outerHTML.slice(0, 80)}: ${Math.round(by)}`);
  }
  // What is written in a drawing is drawn no further than its edge.
  for (const each of document.querySelectorAll('svg text')) {
    const [box, edge] = [each.getBoundingClientRect(), each.ownerSVGElement.getBoundingClientRect()];
    if (box.width < 1 || edge.width < 1 || getComputedStyle(each.ownerSVGElement).overflow === 'visible') continue;
    const by = Math.max(box.right - edge.right, edge.left - box.left, edge.top - box.top, box.bottom - edge.bottom);
    if (by > 1.5) over.push(`“${each.textContent}” in a drawing: ${Math.round(by)}`);
  }
  return over;
}"""


#: Every rule on all of the page; what lies veiled behind a dialog shows no colours that could be compared, and takes half the time.
#: Or the rules named alone; some may be left out.
_AXE_RUN = """async ([rules, but]) => {
  if (rules) return (await axe.run(document, {runOnly: {type: 'rule', values: rules}, resultTypes: ['violations']})).violations;
  const all = {runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'], resultTypes: ['violations']};
  all.rules = Object.fromEntries(but.map((rule) => [rule, { enabled: false }]));
  const dialog = document.querySelector('[role=dialog][aria-modal=true]');
  if (!dialog) return (await axe.run(document, all)).violations;
  const rest = await axe.run(document, {...all, rules: {'color-contrast': {enabled: false}}});
  const colours = await axe.run(dialog, {runOnly: {type: 'rule', values: ['color-contrast']}, resultTypes: ['violations']});
  return [...rest.violations, ...colours.violations];
}"""

#: What can be wrong in one theme and right in the other.
_OF_COLOURS = ["color-contrast", "link-in-text-block"]

#: Whether the bench shows what came of the newest that was typed, or why nothing came of it.
_ANSWERED = """() => !document.querySelector('[aria-label="Verdicts"][data-stale]')
  || document.querySelector('[aria-label="Readings"]').innerText.includes('of the last method without a problem')"""


def _where(page: Page) -> str:
    """Address, text and focus of a page, for a log that is all there is to go by."""
    try:
        return f"{page.url}\n{page.locator('body').inner_text()[:3000]}\n--- focus: {page.evaluate(_FOCUS)}"
    except PlaywrightError as error:
        return f"not to be read any more: {error}"


class BrowserCase(TransactionTestCase):
    """Each test has the demo's data, a fresh browser context, and a clean console to keep clean.

    The app is served as it is in use, by its own process.
    """

    running: Running
    #: Whether pages get the worker that opens them without a network. It fetches every file of the app beforehand, for each
    #: fresh context anew; most tests are about something else.
    works_offline = False

    @classmethod
    def _fixture_setup(cls) -> None:
        cls.running = running()
        cls.running.mend()
        cls.running.served.settle()  # a request outlives the page that sent it
        cls.running.demo.restore()

    def _fixture_teardown(self) -> None:
        pass  # the next test puts everything back

    def setUp(self) -> None:
        self.served, self.browser = self.running.served, self.running.browser
        self.pages: list[Page] = []
        self.live_server_url = self.served.address
        self.complaints: list[str] = []
        self.allowed: list[str] = []

    @cached_property
    def page(self) -> Page:
        """Where a test that needs only one page is."""
        return self.open(DESK)

    def _callTestMethod(self, method: Callable[[], None]) -> None:
        try:
            super()._callTestMethod(method)  # type: ignore[misc]
        except Exception:
            for page in (page for context in self.browser.contexts for page in context.pages):
                print(f"--- where {self.id()} stood: {_where(page)}", file=sys.stderr)
            raise

    def open(self, size: tuple[int, int]) -> Page:
        """A page in a context of its own, nobody signed in."""
        context: BrowserContext = self.browser.new_context(
            viewport={"width": size[0], "height": size[1]},
            reduced_motion="reduce",
            color_scheme="light",
            service_workers="allow" if self.works_offline else "block",
        )
        self.addCleanup(context.close)
        context.set_default_timeout(PATIENCE_MS)
        page = context.new_page()
        self.pages.append(page)
        page.on("console", lambda message: self._complain(f"console: {message.text}") if message.type == "error" else None)
        page.on("pageerror", lambda error: self._complain(f"page error: {error}"))
        page.on(
            "request",
            lambda request: None if request.url.startswith((self.live_server_url, "data:")) else self._complain(f"foreign request: {request.url}"),
        )
        return page

    def _complain(self, text: str) -> None:
        if not any(word in text for word in self.allowed):
            self.complaints.append(text)

    def tearDown(self) -> None:
        self.assertEqual(self.complaints, [])
        self.assertEqual([found for page in self.pages if not page.is_closed() for found in self.banned_on(page)], [])

    @staticmethod
    def banned_on(page: Page) -> list[str]:
        """What of the words on a page is banned, what is only heard among them; the interface's own description is for programs."""
        if page.url.endswith("/api/v1/docs"):
            return []
        return [found for text in page.evaluate(_TEXTS) for found in banned_in(text)]

    def sign_in(self, name: str, page: Page | None = None, path: str = "/") -> Page:
        """Somebody's session as it is once they have signed in, at a path."""
        page = page or self.page
        session = SessionStore()
        user = User.objects.get(username=name)
        session[SESSION_KEY] = str(user.pk)
        session[BACKEND_SESSION_KEY] = "jugserver.accounts.backends.PersonBackend"
        session[HASH_SESSION_KEY] = user.get_session_auth_hash()
        session.save()
        assert session.session_key is not None  # it has just been saved
        page.context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": session.session_key, "url": self.live_server_url}])
        page.goto(self.live_server_url + path)
        page.get_by_role("navigation", name=re.compile("^(Main|Steps)$")).wait_for()  # the hob has its own
        return page

    def sign_in_by_form(self, name: str, page: Page | None = None, path: str = "/") -> Page:
        """Sign in by name and password, as a person does, and go to a path."""
        page = page or self.page
        page.goto(self.live_server_url + path)
        page.get_by_label("Name you sign in with").fill(name)
        page.get_by_label("Password", exact=True).fill("river-town-demo")
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_role("navigation", name="Main").wait_for()
        return page

    def go_to(self, screen: str, page: Page | None = None) -> None:
        """By the main entries, until it is there: for a moment longer the screen before can be pressed, and may have the same names."""
        entry = (page or self.page).get_by_role("navigation", name="Main").get_by_role("link", name=screen, exact=True)
        entry.click()
        expect(entry).to_have_attribute("aria-current", "page")

    def open_formula(self, name: str, page: Page | None = None) -> Page:
        page = page or self.page
        self.go_to("Formulas", page)
        page.get_by_role("link", name=name, exact=True).click()
        page.get_by_role("button", name="°Brix", exact=True).wait_for()
        return page

    def at_the_bench(self, who: str, name: str) -> Page:
        """Somebody signed in at a formula, for tests that are about what comes then."""
        self.sign_in(who, path=f"/formulas/{Formula.objects.get(name=name).pk}")
        self.page.get_by_role("button", name="°Brix", exact=True).wait_for()
        return self.page

    def reading(self, title: str, page: Page | None = None) -> str:
        """What a reading's value says."""
        return self._value_of(title, page or self.page).input_value()

    def expect_reading(self, title: str, text: str) -> None:
        """Waits until a reading's value begins with this."""
        expect(self._value_of(title, self.page)).to_have_value(re.compile(rf"^{re.escape(text)}"))

    def _value_of(self, title: str, page: Page) -> Locator:
        return self.unfolded(page.get_by_label(re.compile(rf"^{re.escape(title)}.*: type what you want$")).first)

    def unfolded(self, field: Locator) -> Locator:
        """A field, its head opened if it lies folded under one."""
        field.wait_for(state="attached")
        head = field.locator("xpath=ancestor::details[not(@open)]/summary")
        if head.count():
            head.first.click()
        return field

    def add_stage(self, name: str, did: Callable[[], object] = lambda: None) -> None:
        """Puts a stage at the end, once what was typed before it has been answered.

        As it comes in, an answer moves what stands below it, and a press that begins on a button and ends beside it is none.
        """
        self.page.wait_for_function(_ANSWERED)
        self.page.get_by_role("button", name="Add a stage").click()
        did()
        self.page.get_by_role("menuitem", name=re.compile(f"^{name} ")).click()
        did()

    def type_over(self, title: str, value: str, page: Page | None = None) -> Locator:
        """Types over a reading and gives the list of ways."""
        page = page or self.page
        field = self._value_of(title, page)
        field.fill(value)
        field.press("Enter")
        ways = page.get_by_role("dialog").get_by_role("list", name=re.compile("^Ways to "))
        ways.wait_for()
        return ways

    def assert_whole(self, page: Page | None = None) -> None:
        """Nothing that can be pressed or typed into is cut off by the edge of the page or of its dialog."""
        self.assertEqual((page or self.page).evaluate(_CUT_OFF), [])
        self.assertEqual(self.banned_on(page or self.page), [])

    def assert_accessible(self, page: Page | None = None, *, colours: bool = True) -> None:
        """No violation of WCAG 2.2 A and AA that axe can find, and nothing cut off; without ``colours`` they are looked at elsewhere."""
        self.assert_whole(page)
        self._assert_axe_finds_nothing(page or self.page, but=[] if colours else ["color-contrast"])

    def assert_accessible_in_the_dark(self, page: Page) -> None:
        """The same of what the dark theme changes, which is colours."""
        page.emulate_media(color_scheme="dark")
        expect(page.locator("html")).to_have_attribute("data-mantine-color-scheme", "dark")
        self._assert_axe_finds_nothing(page, _OF_COLOURS)
        page.emulate_media(color_scheme="light")

    def _assert_axe_finds_nothing(self, page: Page, rules: list[str] | None = None, but: list[str] | None = None) -> None:
        # Evaluated by the debugger, so the page's own policy stays as strict as it is.
        if not page.evaluate("() => Boolean(window.axe)"):
            page.evaluate(AXE.read_text(encoding="utf-8"))
        found: list[dict[str, Any]] = page.evaluate(_AXE_RUN, [rules, but or []])
        violations = [
            {"rule": v["id"], "help": v["help"], "nodes": [n["html"][:160] + " | " + (n.get("failureSummary") or "")[:200] for n in v["nodes"][:4]]}
            for v in found
        ]
        self.assertEqual(violations, [], json.dumps(violations, indent=1))
