"""After the heat, as a cook does it: the cooling log at the pot and behind the end, and the freezer."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from e2e.hob_case import HobCase


class After(HobCase):
    def _to_the_cooling(self, page: Page) -> None:
        for _ in range(40):
            press = page.locator("footer button").last
            if press.inner_text() == "It is cooling":
                press.click()
                return
            before = page.locator("nav[aria-label=Steps]").inner_html() + press.inner_text()
            press.click()
            page.wait_for_function(
                "was => document.querySelector('nav[aria-label=Steps]').innerHTML + [...document.querySelectorAll('footer button')].pop().innerText !== was",
                arg=before,
            )
        self.fail("It never cools.")

    def _probe(self, page: Page, shows: float) -> None:
        page.get_by_role("button", name=re.compile("^Probe")).click()
        self.show(page, shows)

    def test_both_marks_are_logged_and_the_freezer_pauses_the_days(self) -> None:
        batch = self.begin_batch("Toasted Hazelnut")
        page = self.tablet(batch)
        expect(page.get_by_role("region", name="Cooling log")).to_have_count(0)
        self._to_the_cooling(page)
        log = page.get_by_role("region", name="Cooling log")
        expect(log.get_by_role("listitem")).to_have_count(2)
        expect(log.get_by_role("listitem").first).to_contain_text(re.compile(r"21 °C by \d\d:\d\d.*not shown yet"))
        self._probe(page, 30)
        expect(log).to_contain_text("Probed: 30.0 °C")
        self._probe(page, 20)
        expect(log.get_by_role("listitem").first).to_contain_text("in time")
        self.assert_whole(page)
        self.assert_accessible(page)
        desk = self.open((1280, 800))
        self.sign_in("mina", desk)
        card = desk.get_by_role("region", name="Cooling")
        expect(card.get_by_role("link", name="Toasted Hazelnut")).to_be_visible()
        self.assert_accessible(desk)
        self.cook(page, "Toasted Hazelnut")
        page.get_by_role("heading", name="Finished").wait_for()
        self._probe(page, 4.1)
        expect(log.get_by_role("listitem").nth(1)).to_contain_text("in time")
        expect(card).to_have_count(0)
        self.press(page, "Into the freezer")
        page.get_by_text(re.compile("^Frozen ")).wait_for()
        self.press(page, "Out of the freezer, to thaw")
        page.get_by_text(re.compile("^Frozen .*, thawed ")).wait_for()
        expect(page.get_by_role("button", name="Into the freezer")).to_be_visible()
        self.assert_whole(page)
