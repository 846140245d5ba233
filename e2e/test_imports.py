"""Bringing formulas in as a person does: pasted lines mended one by one, a table, and our own file back again."""

from __future__ import annotations

import json
import re

from playwright.sync_api import FilePayload, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.demo.documents import demo_document

_LINES = "For the cream:\n900 g half-and-half\n230 g sugar\n2 tsp moon dust\na pinch of salt\n"


class Imports(BrowserCase):
    def _file(self, name: str, text: str, kind: str) -> None:
        payload: FilePayload = {"name": name, "mimeType": kind, "buffer": text.encode()}
        with self.page.expect_file_chooser() as chosen:
            self.page.get_by_role("button", name="Choose a file").click()
        chosen.value.set_files(payload)

    def test_pasted_lines_are_mended_and_walk(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/formulas")
        page = self.page
        page.get_by_role("link", name="Import").click()
        expect(page.get_by_role("button", name="Read", exact=True)).to_be_disabled()
        page.get_by_label("Paste it here").fill("[1, 2")
        page.get_by_role("button", name="Read", exact=True).click()
        page.get_by_text("stops making sense", exact=False).wait_for()
        page.get_by_label("Paste it here").fill(_LINES)
        page.get_by_role("button", name="Read", exact=True).click()
        page.get_by_text("4 lines, one is not understood", exact=False).wait_for()
        self.assert_accessible()
        expect(page.get_by_role("button", name="Import")).to_be_disabled()
        # What is looked at next takes its place.
        page.get_by_label("Paste it here").fill('{"@type": "Recipe", "name": "Tea", "recipeIngredient": ["1 1/2 cups water"]}')
        page.get_by_role("button", name="Read", exact=True).click()
        page.get_by_role("region", name="Tea").get_by_text("1 1/2 cups water", exact=True).wait_for()
        expect(page.get_by_label("Amount of line 4")).to_have_count(0)
        page.get_by_label("Paste it here").fill(_LINES)
        # What was pasted stays when one looks elsewhere.
        page.reload()
        expect(page.get_by_label("Paste it here")).to_have_value(_LINES)
        page.get_by_role("button", name="Read", exact=True).click()
        page.get_by_role("combobox", name="Line 4 means").fill("vanilla extr")
        page.get_by_role("option", name="Vanilla extract", exact=True).click()
        expect(page.get_by_role("combobox", name="Line 4 means")).to_have_value("vanilla_extract")
        page.get_by_role("combobox", name="Line 3 means").select_option("something else …")
        page.get_by_role("combobox", name="Line 3 means").fill("white gran")
        page.get_by_role("option", name="White granulated sugar").click()
        amount = page.get_by_label("Amount of line 3")
        amount.fill("lots")
        amount.press("Enter")
        page.get_by_role("alert").wait_for()
        page.get_by_label("Amount of line 3").fill("0,25 kg")
        page.get_by_label("Amount of line 3").press("Enter")
        page.get_by_text("250 g", exact=True).wait_for()
        page.get_by_role("button", name=re.compile("line 5")).click()
        expect(page.get_by_label("Amount of line 5")).to_have_count(0)
        page.get_by_label("Name", exact=True).fill("Quay cream")
        page.get_by_role("button", name="Import").click()
        page.get_by_role("link", name="Open it on the bench").click()
        self.expect_reading("Sugars in 100 g", "25.0")
        page.get_by_label(re.compile("Amount of Vanilla extract")).wait_for()

    def test_our_own_file_comes_back_whole(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/formulas/import")
        page = self.page
        document = demo_document("chicory-cocoa").model_dump(mode="json", exclude_none=True)
        self._file("mine.json", json.dumps([document, {**document, "name": "Broken", "stages": [{"kind": "boil"}]}]), "application/json")
        page.get_by_text("There is one of that name already", exact=False).wait_for()
        broken = page.get_by_role("region", name="Broken")
        expect(broken.get_by_role("button", name="Import")).to_be_disabled()
        mine = page.get_by_role("region", name="Chicory Cocoa")
        mine.get_by_label("Name").fill("Chicory again")
        page.get_by_role("region", name="Chicory again").get_by_role("button", name="Import").click()
        page.get_by_role("link", name="Open it on the bench").click()
        page.get_by_label("Formula name").wait_for()
        expect(page.get_by_label("Formula name")).to_have_value("Chicory again")

    def test_a_table_of_two_formulas_on_a_tablet(self) -> None:
        self.page = self.open(TABLET)
        self.sign_in("ines", self.page, path="/formulas/import")
        self._file(
            "week.csv", "formula;stage;ingredient;amount\nOne;In;water;500 g\nOne;In;white granulated sugar;500 g\nTwo;In;honey;1,2 kg\n", "text/csv"
        )
        page = self.page
        page.get_by_role("region", name="Two").get_by_text("1,200 g").wait_for()
        self.assert_whole(page)
        self.assert_accessible(page)
        for name in ("One", "Two"):
            page.get_by_role("region", name=name).get_by_role("button", name="Import").click()
            page.get_by_text(f"{name} is in.").wait_for()

    def test_who_may_not_change_formulas_is_not_asked_to(self) -> None:
        self.sign_in("rafe", path="/formulas")
        self.page.get_by_role("link", name="Ferryman's Spice").wait_for()
        expect(self.page.get_by_role("link", name="Import")).to_have_count(0)
