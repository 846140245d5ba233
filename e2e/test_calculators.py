"""Calculators as a person does them: typed either way, sent on as an address, carried into a formula."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import TABLET, BrowserCase


class Calculators(BrowserCase):
    def test_typed_either_way_and_sent_on_as_an_address(self) -> None:
        self.sign_in("bars", path="/calculators")
        page = self.page
        page.get_by_role("link", name=re.compile("^Ratio")).click()
        page.get_by_label("°Brix", exact=True).fill("60")
        expect(page.get_by_label("Sugar to water, by weight")).to_have_value("1.501")
        page.get_by_label("Sugar to water, by cups").fill("1")
        expect(page.get_by_label("°Brix", exact=True)).to_have_value("45.8")
        page.get_by_text("Weigh it.", exact=False).wait_for()
        self.assert_accessible()
        self.assertIn("cups=1", page.url)
        other = self.open(TABLET)
        self.sign_in("bars", other, "/calculators/ratio?brix=66.7&last=brix")
        expect(other.get_by_label("Sugar to water, by weight")).to_have_value(re.compile(r"^2\.00"))
        expect(other.get_by_role("button", name="Use in a new formula")).to_have_count(0)
        self.assert_accessible(other)

    def test_what_cannot_be_says_so_at_its_field_and_keeps_what_was_typed(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/calculators/fat")
        page = self.page
        page.get_by_label("Fat wanted").fill("60")
        page.get_by_text("Between them lie 3.25 to 36.08 % of fat.", exact=False).wait_for()
        self.assertEqual(page.get_by_label("Fat wanted").input_value(), "60")
        page.get_by_label("Fat wanted").fill("much")
        page.get_by_text("is not a number", exact=False).wait_for()
        page.get_by_label("Fat wanted").fill("18")
        page.get_by_role("img", name=re.compile("14.7 parts of the first to 18.1")).wait_for()
        page.get_by_role("combobox", name="First", exact=True).fill("doub")
        page.get_by_role("option", name="Double cream, 48 %").click()
        page.get_by_role("img", name=re.compile("48.0 % and 3.3 % make 18.0 %")).wait_for()
        self.assert_whole()

    def test_carried_into_a_formula(self) -> None:
        self.sign_in("ines", path="/calculators/acid")
        page = self.page
        page.get_by_label("Strength", exact=True).fill("6")
        page.get_by_text("5.66 %", exact=False).wait_for()
        page.get_by_role("button", name="Use in a new formula").click()
        self.expect_reading("Acidity, as citric acid", "5.8")
        page.get_by_label("Formula name").fill("Six, carried")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("draft 1, saved").wait_for()

    def test_every_calculator_opens(self) -> None:
        self.sign_in("ines", path="/calculators")
        page = self.page
        page.get_by_role("list", name="Calculators").get_by_role("link").first.wait_for()
        names = page.get_by_role("list", name="Calculators").get_by_role("link").all()
        self.assertGreaterEqual(len(names), 16)
        for link in names:
            title = link.inner_text().split("\n")[0]
            link.click()
            page.get_by_role("region", name=title, exact=True).wait_for()
            page.get_by_role("region", name="Result").wait_for()
