"""A benchmark as a person writes it down, and one of ours aimed at it."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import TABLET, BrowserCase


class Benchmark(BrowserCase):
    def test_a_label_and_a_sip_become_a_formula_in_one_step(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/tastings")
        page = self.page
        page.get_by_role("link", name="New benchmark").click()
        page.get_by_text("Nothing becomes a figure yet", exact=False).wait_for()
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
        page.get_by_label("Name", exact=True).fill("Quay creamer")
        page.get_by_label("A pack holds").fill("500")
        page.get_by_label("Price of a pack").fill("4,20")
        for label, figure in (("Fat, g", "9"), ("of which sugars, g", "90"), ("Carbohydrate, g", "30"), ("Protein, g", "2.5")):
            page.get_by_label(label, exact=True).fill(figure)
        # What cannot be right is told, and nothing typed is lost.
        page.get_by_text(re.compile("cannot all be right|does not fit the rest")).first.wait_for()
        page.get_by_label("of which sugars, g", exact=True).fill("27")
        page.get_by_text("dairy to sugar is", exact=False).wait_for()
        page.get_by_role("combobox", name="Tasted beside").fill("toasted")
        page.get_by_role("option", name="Toasted Hazelnut").click()
        page.get_by_label("Version tasted").wait_for()
        page.get_by_role("button", name="Add a tasting sheet").click()
        sheet = page.get_by_role("group", name=re.compile("^Tasting sheet"))
        parts = sheet.get_by_label("Tasted 1 g in so many g")
        parts.fill("-4")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(parts).to_be_focused()
        sheet.get_by_text("Write 1 to 100 g.").wait_for()
        parts.fill("1")
        sheet.get_by_label("Sweetness against ours").select_option("a little more")
        sheet.get_by_label("Grit in words").select_option("gritty")
        sheet.get_by_label("A spice or flavour of ours").select_option("Hazelnuts")
        sheet.get_by_label("Hazelnuts against ours").select_option("a little less")
        page.get_by_role("img", name=re.compile(r"^Hazelnuts: Quay creamer 8\d\.\d \(6\d\.\d to 11\d\.\d\), Toasted Hazelnut 125")).wait_for()
        page.get_by_text("It is bought for", exact=False).wait_for()
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("link", name="Open on the bench").click()
        drawer = page.get_by_role("dialog", name="Aim at a benchmark")
        drawer.get_by_role("heading", name="What to change").wait_for()
        drawer.get_by_text(re.compile("^Hazelnuts: 140 → ")).wait_for()
        self.assert_accessible()
        drawer.get_by_role("button", name="Apply").click()
        page.get_by_text("Applied: aimed at Quay creamer.").wait_for()
        expect(self._value_of("Sugars in 100 g", page)).to_have_value(re.compile(r"^2(6\.[5-9]|7\.[0-5])"))
        page.get_by_role("button", name="Undo").first.click()
        self.expect_reading("Sugars in 100 g", "24.2")

    def test_what_is_typed_stays_and_a_taken_name_is_told(self) -> None:
        self.allowed = ["422"]
        self.sign_in("mina", path="/tastings/benchmarks/new")
        page = self.page
        page.get_by_label("Name", exact=True).fill("Bought hazelnut creamer")
        page.get_by_label("of which sugars, g", exact=True).fill("30")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("There is already a benchmark called", exact=False).wait_for()
        page.reload()
        expect(page.get_by_label("of which sugars, g", exact=True)).to_have_value("30")
        page.get_by_label("Name", exact=True).fill("Weir creamer")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("heading", name="Weir creamer").wait_for()
        page.get_by_role("button", name="Archive").click()
        page.get_by_role("link", name="Bought hazelnut creamer").wait_for()
        expect(page.get_by_role("link", name="Weir creamer")).to_have_count(0)

    def test_the_bars_may_look_and_no_more(self) -> None:
        page = self.open(TABLET)
        self.sign_in("bars", page, path="/tastings")
        page.get_by_role("link", name="Bought hazelnut creamer").click()
        page.get_by_role("heading", name="Bought hazelnut creamer").wait_for()
        expect(page.get_by_role("button", name="Save", exact=True)).to_have_count(0)
        expect(page.get_by_label("Name", exact=True)).to_be_disabled()
        page.get_by_text("dairy to sugar is", exact=False).wait_for()
        self.assert_whole(page)
        self.assert_accessible(page)
