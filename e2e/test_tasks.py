"""Whole jobs, done as a person does who reads only the screen, with the actions counted."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, expect

from e2e.browser import BrowserCase


class Counted(BrowserCase):
    """Clicks, fills and pastes count one each."""

    def setUp(self) -> None:
        super().setUp()
        self.actions = 0

    def click(self, what: Locator) -> None:
        what.click()
        self.actions += 1

    def fill(self, what: Locator, text: str) -> None:
        what.fill(text)
        self.actions += 1

    def paste_line(self, text: str) -> None:
        """A whole line put into the field that adds one to the stage that is looked at, and Enter."""
        field = self.page.get_by_role("combobox", name=re.compile("^Add an ingredient to "))
        field.focus()
        self.page.keyboard.insert_text(text)
        self.page.keyboard.press("Enter")
        expect(field).to_have_value("")
        self.actions += 1

    def did(self) -> None:
        self.actions += 1

    def blank(self, name: str) -> None:
        page = self.page
        self.click(page.get_by_role("link", name="Formulas", exact=True))
        self.click(page.get_by_role("link", name="New formula"))
        self.click(page.get_by_role("link", name="An empty pot"))
        self.fill(page.get_by_label("Formula name"), name)


class Tasks(Counted):
    works_offline = True

    def test_a_simple_syrup_made_richer_at_the_same_yield_and_kept(self) -> None:
        self.sign_in("ines")
        page = self.page
        self.click(page.get_by_role("link", name="Formulas", exact=True))
        self.click(page.get_by_role("link", name="Weir Simple", exact=True))
        self.expect_reading("°Brix", "50.0")
        grams = self.reading("Yield by weight")
        ways = self.type_over("°Brix", "62")
        self.actions += 1
        self.click(ways.get_by_role("button", name=re.compile("^Apply: Keep the yield")))
        self.expect_reading("°Brix", "62.0")
        self.expect_reading("Yield by weight", grams)
        self.click(page.get_by_role("button", name="More for this formula"))
        self.click(page.get_by_role("menuitem", name="Save as a version"))
        dialog = page.get_by_role("dialog", name="Save as a version")
        self.fill(dialog.get_by_label("What is new in it"), "Richer, for the pump")
        self.click(dialog.get_by_role("button", name="Save the version"))
        page.get_by_text("Saved as version", exact=False).wait_for()
        self.assertLessEqual(self.actions, 8)

    def test_only_three_hundred_grams_of_juice(self) -> None:
        self.sign_in("ines")
        page = self.page
        self.click(page.get_by_role("link", name="Formulas", exact=True))
        self.click(page.get_by_role("link", name="Ferryman's Spice", exact=True))
        self.click(page.get_by_role("button", name="Scale", exact=True))
        drawer = page.get_by_role("dialog", name="How much to make")
        drawer.get_by_label("Counted as").select_option("line")
        self.actions += 1
        drawer.get_by_label("Of this").select_option(label="Pear juice, pressed")
        self.actions += 1
        self.fill(drawer.get_by_role("textbox", name="How much"), "300")
        expect(drawer.get_by_role("row", name="Golden granulated sugar").get_by_role("cell").first).to_have_text("600")
        drawer.get_by_text(re.compile(r"Boil: stop when the pot reads [\d,]+ g")).wait_for()
        self.assertLessEqual(self.actions, 6)

    def test_a_blend_by_parts_with_too_much_clove(self) -> None:
        self.allowed = ["422"]  # parts before their total is said
        self.sign_in("ines")
        page = self.page
        self.blank("Towpath Dust")
        self.add_stage("Blend", self.did)
        for line in ("10 parts cassia bark, ground", "6 parts ginger, ground", "1 part clove, ground"):
            self.paste_line(line)
        self.fill(page.get_by_label(re.compile("^Amount of .*, total$")), "25 g")
        page.get_by_text("Weigh clove on", exact=False).wait_for()
        page.get_by_label("Amount of Clove, ground").focus()
        blend = page.get_by_role("region", name="Blend", exact=True)
        blend.get_by_text("Clove", exact=False).first.wait_for()
        self.click(blend.get_by_text("Too much of one went in"))
        blend.get_by_label("What there is too much of").select_option(label="Clove, ground")
        self.actions += 1
        self.fill(blend.get_by_label("The scale shows"), "2.2")
        blend.get_by_text("Scale the others up.").wait_for()
        self.assertIn("Every other line 1.496 times", blend.inner_text())
        self.click(page.get_by_role("button", name="Save", exact=True))
        page.get_by_text("draft 1, saved").wait_for()
        self.assertLessEqual(self.actions, 14)

    def test_pears_as_bought_to_syrup_and_the_juice_comes_short(self) -> None:
        self.allowed = ["422"]  # a stage before its first line
        self.sign_in("ines")
        page = self.page
        self.blank("Lock Cottage Pear")
        self.add_stage("Add", self.did)
        self.paste_line("1 kg pear flesh")
        self.add_stage("Trim", self.did)
        self.fill(page.get_by_label("Least yield of Trim"), "75")
        self.fill(page.get_by_label("Most yield of Trim"), "85")
        self.add_stage("Press", self.did)
        self.add_stage("Add", self.did)
        for line in ("water as the juice", "white granulated sugar as both", "whole clove 20 cloves"):
            self.paste_line(line)
        self.add_stage("Boil", self.did)
        self.add_stage("Strain", self.did)
        self.expect_reading("°Brix", "64.0")
        page.get_by_text("Weigh clove on", exact=False).wait_for()
        page.get_by_text("Clove goes in whole and is strained out", exact=False).wait_for()
        self.click(page.get_by_label("Yield of Trim", exact=True))
        page.get_by_role("region", name="Trim").get_by_text("800 g trimmed, 750 to 850 as the yield falls out", exact=False).wait_for()
        self.assert_accessible()
        self.fill(page.get_by_label("What Press gave"), "350")
        page.get_by_label("Amount of White granulated sugar").focus()
        page.get_by_text("1,169", exact=False).first.wait_for()
        self.expect_reading("°Brix", "64.0")
        self.click(page.get_by_role("button", name="About Clove, whole"))
        self.click(page.get_by_role("button", name="Take it ground"))
        page.keyboard.press("Escape")
        self.fill(page.get_by_label("Amount of Clove, ground"), "1.6 g")
        page.get_by_text("Clove goes in whole", exact=False).wait_for(state="detached")
        self.click(page.get_by_role("button", name="Save", exact=True))
        page.get_by_text("draft 1, saved").wait_for()
        self.assertLessEqual(self.actions, 29)
