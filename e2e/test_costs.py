"""Money as a lead does it: prices of many ingredients at once, what they do to what is served, ours beside what can be bought."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import TABLET, BrowserCase


class Costs(BrowserCase):
    def test_prices_are_typed_together_and_what_they_do_is_told(self) -> None:
        page = self.sign_in("ines", path="/pantry/prices")
        save = page.get_by_role("button", name=re.compile("^Save"))
        expect(save).to_be_disabled()
        page.get_by_role("checkbox", name=re.compile("Only without a price")).check()
        expect(page.get_by_role("row")).to_have_count(2)
        price = page.get_by_role("textbox", name="Price of Pandan extract")
        price.fill("-3")
        grams = page.get_by_role("textbox", name="Grams in the pack of Pandan extract")
        for typed, told in (("", "Say how many grams are in the pack."), ("zehn", "Grams: "), ("0", "A pack holds more than nothing."),
                            ("100", "A price is not below nothing.")):  # fmt: skip
            grams.fill(typed)
            expect(page.get_by_role("alert")).to_contain_text(told)
        grams.fill("")
        price.fill("7,90 €")
        expect(page.get_by_role("alert")).to_have_text("Say how many grams are in the pack.")
        expect(save).to_be_disabled()
        page.get_by_role("textbox", name="Grams in the pack of Pandan extract").fill("0.1 kg")
        expect(page.get_by_role("row", name=re.compile("Pandan extract"))).to_contain_text("€79.00")
        page.get_by_role("checkbox", name=re.compile("Only without a price")).uncheck()
        page.get_by_role("textbox", name="Find an ingredient").fill("heavy")
        page.get_by_role("textbox", name=re.compile("^Price of Heavy cream")).fill("19.20")
        # What is typed stays, whatever happens to the page.
        page.reload()
        expect(page.get_by_role("textbox", name="Price of Pandan extract")).to_have_value("7,90 €")
        self.assert_accessible(page)
        page.get_by_role("button", name="Save 2 prices").click()
        expect(page.get_by_role("status")).to_contain_text("Saved.")
        page.get_by_role("link", name="Costs").click()
        latte = page.get_by_role("row", name=re.compile("^Ferry Latte"))
        expect(latte).to_contain_text("Heavy cream")
        expect(page.get_by_text("now below 78 %").first).to_be_visible()
        self.assert_accessible(page)

    def test_two_spellings_of_a_supplier_are_put_together(self) -> None:
        self.allowed = ["422"]
        page = self.sign_in("ines", path="/pantry/prices")
        page.get_by_role("textbox", name="Find an ingredient").fill("malic")
        field = page.get_by_role("combobox", name=re.compile("^Supplier of Malic"))
        field.fill("Quay")
        expect(page.get_by_role("option", name="Quay Provisions")).to_be_visible()
        field.fill("Quay Prov.")
        page.get_by_role("button", name="Save 1 price").click()
        expect(page.get_by_role("status")).to_contain_text("Saved.")
        page.goto(f"{self.live_server_url}/pantry/suppliers")
        page.get_by_label("How to reach them: Quay Provisions").fill("ask for the yard")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("button", name="Archive Quay Provisions")).to_be_visible()
        page.get_by_label("Name of Quay Prov.").fill("quay provisions")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_text("There is already a supplier called Quay Provisions", exact=False)).to_be_visible()
        self.assert_accessible(page)
        page.get_by_role("button", name="Put the two together").click()
        expect(page.get_by_label("Name of Quay Prov.")).to_have_count(0)
        expect(page.get_by_label("How to reach them: Quay Provisions")).to_have_value("ask for the yard")
        page.get_by_role("button", name="Archive Lantern Spice Loft").click()
        expect(page.get_by_label("Name of Lantern Spice Loft")).to_have_count(0)

    def test_ours_beside_what_can_be_bought(self) -> None:
        page = self.sign_in("ines", path="/costs")
        pick = page.get_by_role("combobox", name="Add a formula of ours")
        pick.click()
        pick.fill("Ferryman")
        page.get_by_role("listbox").get_by_role("option", name="Ferryman's Spice").click()
        page.get_by_label("Add a bought pack").select_option(label="Bought hazelnut creamer")
        ours = page.get_by_role("row", name=re.compile("^Ferryman's Spice made here"))
        pack = page.get_by_role("row", name=re.compile("^Bought hazelnut creamer bought"))
        expect(pack).to_contain_text("€9.20")
        expect(ours).to_contain_text("g")
        page.get_by_label("In a drink").select_option(label="Ferry Latte")
        expect(page.get_by_role("columnheader", name="Iced")).to_be_visible()
        expect(ours).to_contain_text("% left")
        before = pack.inner_text()
        pack.get_by_role("button", name=re.compile("^as sweet")).click()
        expect(pack).not_to_have_text(before.replace("\n", ""))
        words = page.get_by_role("region", name="Make or buy")
        expect(words).to_contain_text(re.compile("Making (begins to pay|does not pay|pays in any batch)"))
        self.assert_accessible(page)
        page.get_by_role("button", name="Remove Bought hazelnut creamer").click()
        expect(words).to_have_count(0)

    def test_what_to_buy_for_a_batch(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="What it costs").click()
        bought = page.get_by_role("region", name="What to buy for a batch")
        juice = bought.get_by_role("row", name=re.compile("^Pear juice"))
        expect(juice).to_contain_text("does not keep")
        bought.get_by_role("textbox", name="Made again in").fill("1")
        expect(juice).to_contain_text("left: keeps")
        expect(bought.get_by_role("row", name=re.compile("^All packs"))).to_contain_text("goes into the batch")
        self.assert_accessible(page)

    def test_who_only_looks_changes_no_price(self) -> None:
        page = self.sign_in("bars", self.open(TABLET), "/pantry/prices")
        expect(page.get_by_role("textbox", name=re.compile("^Price of Heavy cream"))).not_to_be_editable()
        expect(page.get_by_role("button", name=re.compile("^Save"))).to_have_count(0)
