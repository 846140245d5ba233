"""That what every browser test relies on notices what it is there for."""

from __future__ import annotations

import time
from unittest import mock

from django.db import connection, transaction
from django.db.backends.utils import CursorWrapper
from playwright.sync_api import Page

from e2e.browser import BrowserCase
from jugserver.config.tests import served

#: What is put into a page: an element, what it says, and how it looks.
_PALE = ("p", "too pale to read", "color: #bbb; background: #fff; position: relative")
_BY_DAY = ("p", "to be read by day", "color: #222; position: relative")
_NAMELESS = ("button", "", "width: 40px; height: 40px")
_PICTURE = ("img", "", "width: 9px; height: 9px")
_PLANT = """([place, [kind, text, style]]) => {
  const planted = Object.assign(document.createElement(kind), {id: 'planted', textContent: text});
  planted.style.cssText = style;
  document.querySelector(place).prepend(planted);
}"""


class Checks(BrowserCase):
    def found(self, page: Page, place: str, what: tuple[str, str, str], *, dark: bool = False) -> str:
        """What the check for accessibility says with something put in a place."""
        page.evaluate(_PLANT, [place, what])
        try:
            if dark:
                self.assert_accessible_in_the_dark(page)
            else:
                self.assert_accessible(page)
        except AssertionError as error:
            return str(error)
        finally:
            page.evaluate("document.getElementById('planted').remove()")
        return ""

    def test_what_cannot_be_read_or_named_is_found_on_a_page_in_a_dialog_and_behind_it(self) -> None:
        page = self.sign_in("bars", path="/calculators")
        page.get_by_role("heading", level=1).wait_for()
        self.assertIn("color-contrast", self.found(page, "main", _PALE))
        self.assertIn("button-name", self.found(page, "main", _NAMELESS))
        self.assertEqual(self.found(page, "main", _BY_DAY), "")
        self.assertIn("color-contrast", self.found(page, "main", _BY_DAY, dark=True))
        page.emulate_media(color_scheme="light")
        page.keyboard.press("?")
        page.get_by_role("dialog", name="Shortcuts").wait_for()
        dialog = "[role=dialog] > :last-child"
        self.assertIn("color-contrast", self.found(page, dialog, _PALE))
        self.assertIn("button-name", self.found(page, dialog, _NAMELESS))
        self.assertIn("image-alt", self.found(page, "body", _PICTURE))
        self.assertEqual(self.found(page, dialog, ("p", "fine", "")), "")

    def test_a_word_in_the_console_and_an_address_elsewhere_are_complained_of(self) -> None:
        page = self.sign_in("bars", path="/calculators")
        page.evaluate("console.error('it broke')")
        with page.expect_event("pageerror"):
            page.evaluate("setTimeout(() => { throw new Error('thrown away') })")
        page.route("http://127.0.0.9/away", lambda route: route.fulfill(body="elsewhere"))
        page.goto("http://127.0.0.9/away")
        for word in ("console: it broke", "page error: thrown away", "foreign request: http://127.0.0.9/away"):
            self.assertTrue(any(word in complaint for complaint in self.complaints), (word, self.complaints))
        self.complaints.clear()

    def test_each_test_finds_the_demo_as_it_was(self) -> None:
        """Whichever of the two comes first, the other must not see what it did."""
        self._rename()

    def test_each_test_finds_the_demo_as_it_was_again(self) -> None:
        self._rename()

    def _rename(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_label("Formula name").fill("Weir Renamed")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("draft 2, saved").wait_for()

    def test_a_request_outlives_its_page_and_is_waited_for(self) -> None:
        page = self.sign_in("bars", path="/calculators")
        with connection.cursor() as cursor, transaction.atomic():
            cursor.execute("lock table formulas_formula in access exclusive mode")
            page.evaluate("void fetch('/api/v1/formulas').catch(() => {})")
            deadline = time.monotonic() + 20
            while not self._waits_for(cursor):
                self.assertLess(time.monotonic(), deadline)
                time.sleep(0.02)
            page.context.close()
            self.assertGreater(self.served.under_way(), 0)
            with mock.patch.object(served, "_SETTLES_WITHIN_S", 0.3), self.assertRaisesRegex(AssertionError, "still at what"):
                self.served.settle()
        self.served.settle()
        self.assertEqual(self.served.under_way(), 0)

    @staticmethod
    def _waits_for(cursor: CursorWrapper) -> bool:
        """Whether a request waits for the table that is locked here."""
        cursor.execute("select 1 from pg_locks where relation = 'formulas_formula'::regclass and not granted")
        return cursor.fetchone() is not None

    def test_the_app_and_the_browser_are_back_after_a_test_that_ended_them(self) -> None:
        self.served.kill()
        self.browser.close()
        self.running.mend()
        self.browser = self.running.browser
        self.sign_in("bars", self.open((1280, 800)), path="/calculators")
