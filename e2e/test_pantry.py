"""The pantry as a person uses it: find, read a label, price, lots, adapt and give back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import DESK, TABLET, BrowserCase


class Pantry(BrowserCase):
    def find(self, words: str, title: str) -> None:
        page = self.page
        page.get_by_label("Find an ingredient").fill(words)
        page.get_by_role("list", name="Ingredients").get_by_role("link", name=re.compile(f"^{re.escape(title)}")).click()
        page.get_by_role("heading", name=title, exact=True).wait_for()

    def test_found_by_its_first_letters_and_everything_known_of_it(self) -> None:
        self.sign_in("bars", path="/pantry")
        page = self.page
        page.get_by_label("Kind", exact=True).select_option("Spices")
        page.get_by_role("link", name=re.compile("^Allspice, ground")).wait_for()
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("link", name=re.compile("^Liquorice root")).wait_for()
        self.find("cass gro", "Cassia bark, ground")
        page.get_by_text("Cassia carries coumarin", exact=False).wait_for()
        page.get_by_text("US list of 9", exact=False).wait_for()
        self.assert_accessible()
        page.get_by_role("link", name="The same, whole").click()
        page.get_by_role("heading", name="Cassia bark, whole").wait_for()
        for word in ("New ingredient", "Adapt for our kitchen"):
            expect(page.get_by_role("link", name=word)).to_have_count(0)
        page.get_by_label("Find an ingredient").fill("zzz")
        page.get_by_text("Nothing by that name.", exact=False).wait_for()
        page.keyboard.press("Escape")
        page.keyboard.press("Tab")
        page.goto(self.live_server_url + "/pantry/amylase_bacterial")
        page.get_by_text("no hold is promised", exact=False).wait_for()

    def test_a_pack_makes_a_price_and_the_formula_says_what_it_costs(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/pantry/caster_sugar")
        page = self.page
        page.get_by_role("button", name="Add a pack").click()
        page.get_by_label("Pack", exact=True).fill("10 kg sack")
        page.get_by_label("Holds, in g").fill("ten")
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
        page.get_by_label("Holds, in g").fill("10000")
        page.get_by_label("Price", exact=True).fill("16")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("1.60 per kg").wait_for()
        page.goto(self.live_server_url + "/formulas/new/blank")
        page.get_by_label("Formula name").fill("Yard Plain")
        self.add_stage("Add")
        field = page.get_by_role("combobox", name="Add an ingredient to Add")
        for line in ("500 g caster sugar", "500 g water"):
            field.focus()
            page.keyboard.insert_text(line)
            page.keyboard.press("Enter")
            expect(field).to_have_value("")
        self.expect_reading("Ingredient cost per kg", "0.80")
        self.assertEqual(self.reading("As sweet as sucrose")[:2], "50")

    def test_a_label_with_a_small_serving_says_how_little_it_says_and_is_kept(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/pantry/label")
        page = self.page
        page.get_by_label("Name", exact=True).fill("Quay creamer")
        page.get_by_label("Stated for").select_option("a serving")
        page.get_by_label("A serving is").fill("15")
        for label, figure in (("Energy, kcal", "35"), ("Fat, g", "1.5"), ("Carbohydrate, g", "5"), ("of which sugars, g", "5"), ("Protein, g", "0")):
            page.get_by_label(label, exact=True).fill(figure)
        page.get_by_text("is anything from 4.5 to 5.5 g: 26 to 33 g in 100 g", exact=False).wait_for()
        self.assert_accessible()
        page.get_by_label("Energy, kcal", exact=True).fill("90")
        page.get_by_text(re.compile("cannot all be right|does not fit the rest")).first.wait_for()
        expect(page.get_by_role("button", name="Save as an ingredient")).to_be_disabled()
        page.get_by_label("Energy, kcal", exact=True).fill("35")
        page.get_by_role("button", name="Save as an ingredient").click()
        page.get_by_text("in 100 g", exact=False).first.wait_for()
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("heading", name="Quay creamer", exact=True).wait_for()
        page.get_by_text("label: its own label", exact=False).wait_for()
        page.get_by_text("Contains milk", exact=False).first.wait_for()

    def test_lots_side_by_side_on_a_tablet(self) -> None:
        page = self.page = self.open(TABLET)
        self.sign_in("rafe", path="/pantry/green_cardamom")
        page.get_by_text("Eucalyptus first", exact=False).wait_for()
        page.get_by_text("Softer and sweeter", exact=False).wait_for()
        page.get_by_role("button", name="Add a lot").click()
        page.get_by_label("Lot code").fill("GC-063")
        page.get_by_label("Tasting notes").fill("Sharp.")
        page.get_by_label("Opened", exact=True).fill("2020-01-01")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("It was opened before it came.", exact=False).first.wait_for()
        self.allowed = ["422"]
        self.complaints.clear()
        page.get_by_label("Opened", exact=True).fill("")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("columnheader", name="GC-063").wait_for()
        page.get_by_role("button", name="What is new of lot GC-063").click()
        page.get_by_label("Used up").fill("2030-01-01")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_role("columnheader", name="GC-063")).to_have_count(0)
        page.get_by_role("button", name="Show 1 used up").click()
        page.get_by_role("columnheader", name="GC-063, used up").wait_for()
        self.assert_accessible()
        page.get_by_role("link", name="All", exact=True).click()
        page.get_by_label("Find an ingredient").wait_for()

    def test_the_table_adapted_for_this_kitchen_and_given_back(self) -> None:
        self.sign_in("ines", path="/pantry/pear_juice")
        page = self.page
        page.get_by_role("link", name="Adapt for our kitchen").click()
        page.get_by_label("Grams of fructose").fill("9.6")
        page.get_by_text("They must add up to 100 g", exact=False).wait_for()
        expect(page.get_by_role("button", name="Save", exact=True)).to_be_disabled()
        page.get_by_role("button", name="Fill up with water").click()
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_role("heading", name="Pear juice, pressed").wait_for()
        page.get_by_text("our own, estimate", exact=False).wait_for()
        page.get_by_text("15.0", exact=False).first.wait_for()
        page.get_by_role("button", name="Use the values of the table").click()
        page.get_by_role("link", name="Adapt for our kitchen").wait_for()

    def test_a_look_elsewhere_loses_nothing_that_was_typed(self) -> None:
        self.sign_in("ines", path="/pantry/label")
        page = self.page
        page.get_by_label("Fat, g", exact=True).fill("3.6")
        self.go_to("Formulas", page)
        page.goto(self.live_server_url + "/pantry/label")
        expect(page.get_by_label("Fat, g", exact=True)).to_have_value("3.6")
        page.get_by_role("button", name="Another pack").click()
        expect(page.get_by_label("Fat, g", exact=True)).to_have_value("")
        page.goto(self.live_server_url + "/pantry/new")
        page.get_by_label("Name", exact=False).first.fill("Yard honey")
        page.get_by_label("Grams of water").fill("18")
        page.reload()
        expect(page.get_by_label("Name", exact=False).first).to_have_value("Yard honey")
        expect(page.get_by_label("Grams of water")).to_have_value("18")
        page.get_by_role("button", name="Discard changes").click()
        expect(page.get_by_label("Grams of water")).to_have_value("100")

    def test_two_who_change_an_ingredient_at_once(self) -> None:
        path = "/pantry/pear_juice/edit"
        self.sign_in("ines", path=path)
        one, two = self.page, self.open(DESK)
        self.sign_in("ines", two, path=path)
        for page, note in ((one, "First."), (two, "Second.")):
            page.get_by_label("Note", exact=True).fill(note)
        one.get_by_role("button", name="Save", exact=True).click()
        one.get_by_role("heading", name="Pear juice, pressed").wait_for()
        self.allowed = ["409"]
        two.get_by_role("button", name="Save", exact=True).click()
        two.get_by_text("Somebody changed pear juice", exact=False).wait_for()
        self.assert_accessible(two)
        two.get_by_role("button", name="Use theirs").click()
        expect(two.get_by_label("Note", exact=True)).to_have_value("First.")
        two.get_by_label("Note", exact=True).fill("Both.")
        two.get_by_role("button", name="Save", exact=True).click()
        two.get_by_text("Both.", exact=True).wait_for()

    def test_a_pack_is_removed_at_the_second_word(self) -> None:
        self.sign_in("ines", path="/pantry/white_sugar")
        page = self.page
        packs = page.get_by_role("button", name=re.compile("^Remove "))
        packs.first.wait_for()
        before = packs.count()
        packs.first.click()
        page.get_by_role("button", name="Cancel", exact=True).click()
        expect(packs).to_have_count(before)
        packs.first.click()
        page.get_by_role("button", name="Remove it", exact=True).click()
        expect(packs).to_have_count(before - 1)


class Swaps(BrowserCase):
    def test_honey_for_sugar_with_brix_and_yield_held(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        self.expect_reading("°Brix", "50.0")
        grams = self.reading("Yield by weight")
        page.get_by_role("button", name="About White granulated sugar").click()
        page.get_by_role("button", name="Swap it, with readings held").click()
        drawer = page.get_by_role("dialog", name="In place of white granulated sugar")
        drawer.get_by_role("combobox", name="Replace with").fill("honey")
        page.get_by_role("option", name="Honey", exact=True).click()
        ways = drawer.get_by_role("list", name="Ways to swap")
        ways.get_by_role("heading", name=re.compile("^With °Brix and Yield by weight held: 90. g of honey")).wait_for()
        drawer.get_by_text("floral, waxy").wait_for()
        self.assert_accessible()
        drawer.get_by_role("checkbox", name="As sweet as sucrose").check()
        drawer.get_by_role("checkbox", name="°Brix").uncheck()
        ways.get_by_role("heading", name=re.compile("^With Yield by weight and As sweet")).wait_for()
        drawer.get_by_role("checkbox", name="As sweet as sucrose").uncheck()
        drawer.get_by_role("checkbox", name="°Brix").check()
        ways.get_by_role("button", name=re.compile("^Apply: With")).click()
        page.get_by_label("Amount of Honey").wait_for()
        self.expect_reading("°Brix", "50.0")
        self.expect_reading("Yield by weight", grams)
        page.get_by_role("button", name="Undo").first.click()
        page.get_by_label("Amount of White granulated sugar").wait_for()


class Drinks(BrowserCase):
    def test_a_dose_in_a_drink_and_what_would_move_it(self) -> None:
        self.allowed = ["422"]
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="In a drink").click()
        drawer = page.get_by_role("dialog", name="In a drink")
        drawer.get_by_text("The whole drink costs").wait_for()
        expect(drawer.get_by_text("is missing")).to_have_count(0)
        drawer.get_by_label("Dose", exact=True).fill("15 g")
        drawer.get_by_text("15.0 g", exact=True).wait_for()
        drawer.get_by_role("img", name=re.compile("^Sweet: ")).wait_for()
        self.assert_accessible()
        drawer.get_by_label("Dose", exact=True).fill("2 moons")
        drawer.get_by_text("is not a unit known here", exact=False).wait_for()
        drawer.get_by_label("Dose", exact=True).fill("2 pumps")
        drawer.get_by_text("19.7 g", exact=True).wait_for()
        drawer.get_by_text("3.9 g more of it", exact=False).or_(drawer.get_by_text("4 g more of it", exact=False)).wait_for()
        drawer.get_by_role("combobox", name="Add to the cup").fill("lemon ju")
        page.get_by_role("option", name="Lemon juice").click()
        drawer.get_by_label("How much lemon juice").fill("40 g")
        drawer.get_by_text("enough to curdle its milk", exact=False).wait_for()
        drawer.get_by_role("button", name="Without whole milk").click()
        expect(drawer.get_by_text("curdle its milk", exact=False)).to_have_count(0)
