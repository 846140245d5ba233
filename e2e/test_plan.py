"""Planning as a lead does it in the morning: what was sold goes in, what comes is foreseen, what it needs stands there."""

from __future__ import annotations

import re
from datetime import date, timedelta

from playwright.sync_api import Page, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.demo.sold import as_csv


class Plan(BrowserCase):
    def choose(self, page: Page, text: str, name: str = "sold.csv") -> None:
        page.locator("input[type=file]").set_input_files({"name": name, "mimeType": "text/csv", "buffer": text.encode()})

    def test_sales_go_in_and_what_is_needed_comes_out(self) -> None:
        today = date.today()
        yesterday = today - timedelta(days=1)
        text = as_csv(today).replace("Kiln Lane", "Kiln Ln") + f"{yesterday},Kiln Ln,Butter croissant,,12\r\n" + "Total,,,,15000\r\n"
        page = self.sign_in("ines", path="/plan")
        page.get_by_role("link", name="Import sales").click()
        expect(page.get_by_role("heading", name="Import sales")).to_be_visible()
        self.choose(page, text)
        expect(page.get_by_role("combobox", name="Day", exact=True)).to_have_value("Day")
        # What nobody has said the meaning of is asked, the likeliest first; until then nothing is imported.
        expect(page.get_by_role("button", name=re.compile("^Import"))).to_be_disabled()
        page.get_by_role("combobox", name="Place Kiln Ln means").select_option("Kiln Lane")
        expect(page.get_by_role("combobox", name="Place Kiln Ln means")).to_have_count(0)
        page.get_by_role("combobox", name="Butter croissant means").select_option("Not one of ours: leave it out")
        expect(page.get_by_role("list", name="Rows that are wrong")).to_contain_text("“Total” is no day.")
        self.assert_accessible(page)
        page.get_by_role("button", name="Import, leave out 1 rows").click()
        expect(page.get_by_role("status")).to_contain_text("counts added")
        page.get_by_role("link", name="Plan").last.click()
        spice = page.get_by_role("row", name=re.compile("^Ferryman's Spice"))
        expect(spice).to_contain_text(re.compile(r"\d\.\d kg"), timeout=60_000)
        expect(page.get_by_text(re.compile(r"drinks expected \([\d,]+ to [\d,]+\)"))).to_be_visible()
        self.assert_accessible(page)
        page.get_by_role("button", name="Fennel Sweet Cream").click()
        drawer = page.get_by_role("dialog")
        expect(drawer).to_contain_text("go into Rose Cardamom Foam: make it first")
        expect(drawer.get_by_role("table")).to_contain_text("Kiln Lane")
        self.assert_accessible(page)
        page.keyboard.press("Escape")

        # How much, and when: a plan, why each cook is there, and one moved.
        page.get_by_role("button", name="Make a plan").click()
        levels = page.get_by_role("table", name="Levels in the fridge")
        expect(levels).to_be_visible(timeout=90_000)
        self.assert_accessible(page)
        square = levels.get_by_role("button", name=re.compile("of Burnt Honey Caramel on")).first
        named = square.get_attribute("aria-label") or ""
        square.click()
        why = page.get_by_role("region", name=re.compile("^Burnt Honey Caramel, "))
        expect(why).to_contain_text("It covers")
        self.assert_accessible(page)
        why.get_by_role("button", name="A day later").click()
        expect(page.get_by_role("status")).to_contain_text("Working out a plan")
        expect(page.get_by_role("status")).to_have_count(0, timeout=90_000)
        expect(levels.get_by_role("button", name=named, exact=True)).to_have_count(0)
        expect(levels.get_by_role("button", name=re.compile("of Burnt Honey Caramel on .*, pinned")).first).to_be_visible()
        expect(page.get_by_role("table", name="Over 1,000 simulated weeks").get_by_role("row", name=re.compile("^To par daily"))).to_contain_text("€")
        page.get_by_role("button", name=re.compile("^Undo what was decided")).click()
        expect(levels.get_by_role("button", name=re.compile(", pinned"))).to_have_count(0, timeout=90_000)

        # The lead knows of a wedding: more lattes on one day, and undone again.
        page.get_by_role("link", name="Forecast").click()
        latte = page.get_by_role("row", name=re.compile("^Ferry Latte"))
        before = latte.get_by_role("cell").nth(7).text_content() or ""
        self.assert_accessible(page)
        page.get_by_role("combobox", name="Drink", exact=True).select_option("Ferry Latte")
        page.get_by_role("textbox", name="How many times").fill("3")
        page.get_by_role("textbox", name="Why").fill("A wedding at the mill")
        page.get_by_role("region", name="You know better").get_by_role("button", name="Save").click()
        said = page.get_by_role("list", name="Said of days to come")
        expect(said).to_contain_text("A wedding at the mill")
        expect(latte.get_by_role("cell").nth(7)).not_to_have_text(before)
        said.get_by_role("button", name=re.compile("^Undo")).click()
        expect(latte.get_by_role("cell").nth(7)).to_have_text(before)
        # Of one drink: places and sizes, by which method, how wrong each was.
        latte.get_by_role("button").click()
        expect(page.get_by_role("table", name="By place and size")).to_contain_text("Kiln Lane, Regular")
        page.get_by_role("button", name="All drinks").click()
        # A new drink sells like another.
        page.get_by_role("combobox", name="New drink").select_option("Pear Cream Tea")
        page.get_by_role("combobox", name="Sells like").select_option("Tannery Mocha")
        page.get_by_role("textbox", name=re.compile("^Share")).fill("40")
        page.get_by_role("region", name="New drinks").get_by_role("button", name="Save").click()
        expect(page.get_by_role("row", name=re.compile("^Pear Cream Tea"))).to_be_visible()

        # The same file once more says nothing new, and is known by its headings.
        page.goto(f"{self.live_server_url}/plan/sales/import")
        self.choose(page, text)
        expect(page.get_by_text("as you chose them for files like this")).to_be_visible()
        expect(page.get_by_text(re.compile("^0 counts are new, 0 change"))).to_be_visible()
        page.get_by_role("button", name="Import, leave out 1 rows").click()
        expect(page.get_by_role("status")).to_contain_text("says nothing that was not known")

        # A count that is wrong is put right with a reason, and the file is taken out again.
        page.get_by_role("link", name="Sales").click()
        page.get_by_role("table", name="Sales at Kiln Lane").get_by_role("button").nth(-2).click()
        drawer = page.get_by_role("dialog")
        drawer.get_by_role("combobox", name="Drink").select_option("Ferry Latte")
        drawer.get_by_role("combobox", name="Size").select_option("Long")
        drawer.get_by_role("textbox", name="Sold").fill("0.5")
        expect(drawer.get_by_text("Write a whole number.")).to_be_visible()
        drawer.get_by_role("textbox", name="Sold").fill("77")
        drawer.get_by_role("textbox", name="Why").fill("The till was down at noon")
        drawer.get_by_role("button", name="Save").click()
        expect(drawer.get_by_role("row", name=re.compile("^Ferry Latte"))).to_contain_text("77")
        self.assert_accessible(page)
        page.keyboard.press("Escape")
        expect(page.get_by_role("list", name="Corrected by hand")).to_contain_text("The till was down at noon")
        page.get_by_role("button", name="Add days").click()
        page.get_by_role("combobox", name="Name").fill("River festival")
        page.get_by_role("region", name="Days unlike others").get_by_role("button", name="Save").click()
        expect(page.get_by_role("list", name="Days unlike others")).to_contain_text("River festival")
        self.assert_accessible(page)
        page.get_by_role("button", name="Undo the import of sold.csv").click()
        expect(page.get_by_role("list", name="Imported")).to_contain_text("undone")

    def test_a_cook_looks_and_changes_nothing(self) -> None:
        page = self.sign_in("mina", self.open(TABLET), path="/plan/sales")
        expect(page.get_by_role("heading", name="Sales")).to_be_visible()
        expect(page.get_by_role("table", name="Sales at Kiln Lane")).to_be_visible()
        expect(page.get_by_role("link", name="Import sales")).to_have_count(0)
        expect(page.get_by_role("button", name="Add days")).to_have_count(0)
        self.assert_accessible(page)
        page.goto(f"{self.live_server_url}/plan")
        expect(page.get_by_role("heading", name="Import what was sold first")).to_be_visible()
        self.assert_accessible(page)
