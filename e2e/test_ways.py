"""Readings typed over, ways taken; amounts that are asked about."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import TABLET, BrowserCase


class TypedOver(BrowserCase):
    def test_sixty_over_a_boil_that_ends_at_sixty_four(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        self.expect_reading("°Brix", "64.0")
        ways = self.type_over("°Brix", "60")
        titles = ways.get_by_role("heading", level=3).all_inner_texts()
        self.assertTrue(2 <= len(titles) <= 5, titles)
        self.assertIn("End the boil at 60 °Bx instead of 64", titles)
        self.assert_accessible()
        # Every way gets there, and undo brings back what was.
        for number, title in enumerate(titles):
            if number:
                ways = self.type_over("°Brix", "60")
            ways.get_by_role("button", name=f"Apply: {title}").click()
            page.get_by_text(f"Applied: {title}", exact=False).wait_for()
            self.expect_reading("°Brix", "60.0")
            page.get_by_role("status").filter(has_text="Applied").get_by_role("button", name="Undo").click()
            self.expect_reading("°Brix", "64.0")
        self.type_over("°Brix", "60").get_by_role("button", name=re.compile("^Apply: End the boil")).click()
        self.expect_reading("°Brix", "60.0")
        self.assertIn("2,801 g", page.get_by_role("region", name="Boil").inner_text())
        page.get_by_role("button", name="Save").click()
        page.get_by_text("draft 2, saved").wait_for()
        page.reload()
        self.expect_reading("°Brix", "60.0")

    def test_water_stirred_in_late_becomes_a_stage_of_the_method(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        ways = self.type_over("°Brix", "60")
        take = ways.get_by_role("button", name=re.compile(r"^Apply: Stir in \d+ g of water after the boil"))
        take.click()
        self.expect_reading("°Brix", "60.0")
        grams = re.search(r"(\d+) g", page.get_by_text("Applied: Stir in", exact=False).inner_text())
        assert grams is not None
        self.assertEqual(page.get_by_label("Amount of More water").input_value(), f"{grams[1]} g")
        self.assertEqual(page.get_by_label("Amount of Water", exact=True).input_value(), "as pear juice")

    def test_more_of_it_and_what_cannot_be(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        self.type_over("Yield by weight", "3000").get_by_role("button", name=re.compile("^Apply: Make the whole batch larger")).click()
        self.expect_reading("Yield by weight", "3,000")
        self.expect_reading("°Brix", "50.0")
        page.get_by_role("dialog").wait_for(state="detached")
        field = page.get_by_label("°Brix: type what you want")
        field.fill("much")
        self.assertEqual(field.get_attribute("aria-invalid"), "true")
        field.press("Enter")
        self.assertEqual(page.get_by_role("dialog").count(), 0)
        field.press("Escape")
        self.expect_reading("°Brix", "50.0")
        field.fill("101")
        field.press("Enter")
        page.get_by_role("dialog").get_by_text("is not possible", exact=False).wait_for()
        page.keyboard.press("Escape")
        page.get_by_role("dialog").wait_for(state="detached")

    def test_bar_staff_may_ask_but_not_take(self) -> None:
        page = self.open(TABLET)
        self.sign_in("bars", page)
        self.open_formula("Weir Simple", page)
        ways = self.type_over("°Brix", "60", page)
        self.assertGreaterEqual(ways.get_by_role("heading", level=3).count(), 2)
        self.assertEqual(ways.get_by_role("button").count(), 0)
        self.assert_accessible(page)

    def test_others_held_while_one_is_typed_over(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        hold = page.get_by_role("button", name="Hold Yield by weight")
        hold.click()
        self.assertEqual(hold.get_attribute("aria-pressed"), "true")
        grams = self.reading("Yield by weight")
        ways = self.type_over("°Brix", "60")
        page.get_by_text(f"Held: Yield by weight {grams} g.", exact=False).wait_for()
        self.assert_accessible()
        ways.get_by_role("button", name=re.compile("^Apply: .* less golden granulated sugar, end the boil at 60 °Bx")).click()
        self.expect_reading("°Brix", "60.0")
        self.assertAlmostEqual(float(self.reading("Yield by weight").replace(",", "")), float(grams.replace(",", "")), delta=2)
        self.assertEqual(page.get_by_label("Amount of Water", exact=True).input_value(), "as pear juice")
        # What cannot be had together is said, and letting go of one helps.
        page.get_by_role("dialog").wait_for(state="detached")
        page.get_by_role("button", name="Hold Cold margin at 4 °C").click()
        field = self.unfolded(page.get_by_label(re.compile("^True sucrose.*: type what you want$")))
        field.fill("30")
        field.press("Enter")
        page.get_by_role("dialog").get_by_text("Let go of one, or ask for less.", exact=False).wait_for()

    def test_by_keyboard_alone(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="°Brix", exact=True).focus()
        page.keyboard.press("Tab")
        page.keyboard.type("60")
        page.keyboard.press("Enter")
        page.get_by_role("dialog").get_by_role("list", name="Ways to 60 °Bx").wait_for()
        for _ in range(6):
            if page.evaluate("document.activeElement.innerText") == "Apply":
                break
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        self.expect_reading("°Brix", "60.0")


class HowMuch(BrowserCase):
    def test_a_dozen_bottles_take_two_cooks_and_the_formula_is_written_for_one(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="Scale", exact=True).click()
        drawer = page.get_by_role("dialog", name="How much to make")
        drawer.get_by_label("Counted as").select_option("bottles")
        drawer.get_by_label("Each holds").fill("350")
        amount = drawer.get_by_role("textbox", name="How much")
        amount.fill("-3")
        drawer.get_by_text("Write more than 0 bottles.").wait_for()
        amount.fill("12")
        drawer.get_by_text("2 cooks, each the same", exact=False).wait_for()
        drawer.get_by_text("443 g in a full one", exact=False).wait_for()
        self.assertIn("it carries 5,000 g", drawer.inner_text())
        self.assertIn("336 ml once cold", drawer.inner_text())
        self.assert_accessible()
        drawer.get_by_label("Counted as").select_option("line")
        amount.fill("300")
        drawer.get_by_text("One cook:", exact=False).wait_for()
        expect(drawer.get_by_role("row", name="Water").get_by_role("cell").first).to_have_text("300")
        drawer.get_by_role("button", name="Apply to the formula").click()
        self.assertEqual(page.get_by_label("Amount of Pear juice, pressed").input_value(), "300 g")
        self.expect_reading("°Brix", "64.0")
        page.get_by_role("button", name="Undo", exact=True).first.click()
        self.assertEqual(page.get_by_label("Amount of Pear juice, pressed").input_value(), "430 g")


class Amounts(BrowserCase):
    def test_what_is_not_clear_is_asked_and_what_is_wrong_is_pointed_at(self) -> None:
        self.allowed = ["422"]
        page = self.at_the_bench("ines", "Ferryman's Spice")
        water = page.get_by_label("Amount of Water", exact=True)
        water.fill("14 oz")
        page.get_by_text("may mean weight or volume", exact=False).wait_for()
        self.assertEqual(page.locator("mark").inner_text(), "oz")
        self.assert_accessible()
        page.get_by_role("button", name="14 oz by weight").click()
        page.get_by_text("397 g", exact=True).wait_for()
        water.fill("1 heaped cusp")
        page.get_by_role("button", name="1 heaped cup").wait_for()
        self.assertEqual(page.locator("mark").inner_text(), "cusp")
        water.fill("1 1/2 cups plus 2 tbsp")
        page.get_by_text("404 g", exact=False).first.wait_for()
        self.assertEqual(page.locator("mark").count(), 0)


class Blends(BrowserCase):
    def test_by_parts_of_a_load_and_a_spoon_too_many(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="Unfold Ferryman blend").click()
        page.get_by_label("Amount of Ferryman blend, total").fill("22 g per kg started")
        parts = {"Green cardamom": "7 parts", "Mace": "2 parts", "Long pepper": "4 parts", "Star anise": "3 parts", "Dried orange peel": "6 parts"}
        self.allowed = ["422"]  # a total without parts, until the first is typed
        for name, text in parts.items():
            page.get_by_label(f"Amount of {name}").fill(text)
        self.expect_reading("Spice per kg started", "22.0")
        page.get_by_label("Amount of Mace").focus()
        blend = page.get_by_role("region", name="Ferryman blend")
        blend.get_by_text("Too much of one went in").click()
        blend.get_by_label("The scale shows").fill("15")
        blend.get_by_text("Scale the others up.").wait_for()
        self.assertIn("Every other line 1.246 times", blend.inner_text())
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("draft 2, saved").wait_for()
        page.reload()
        self.expect_reading("Spice per kg started", "22.0")
        page.get_by_role("button", name="Unfold Ferryman blend").click()
        self.assertEqual(page.get_by_label("Amount of Mace").input_value(), "2 parts")


class KeptVersions(BrowserCase):
    def test_saved_with_a_reason_laid_side_by_side_and_made_the_draft_again(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_label("End of Boil").fill("60")
        self.expect_reading("°Brix", "60.0")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Save as a version").click()
        dialog = page.get_by_role("dialog", name="Save as a version")
        self.assertTrue(dialog.get_by_role("button", name="Save the version").is_disabled())
        dialog.get_by_label("What is new in it").fill("Thinner, for the cart")
        dialog.get_by_role("button", name="Save the version").click()
        page.get_by_text("Saved as version 2.").wait_for()
        page.get_by_role("link", name="Versions, side by side").click()
        page.get_by_text("Boil: to 64 °Bx, simmer → Boil: to 60 °Bx, simmer.").wait_for()
        page.get_by_role("img", name=re.compile("°Brix: Version 1 64.0, Version 2 60.0")).wait_for()
        self.assertIn("Thinner, for the cart", page.get_by_role("region", name="All versions").inner_text())
        table = page.get_by_role("region", name="Side by side")
        self.assertEqual(table.get_by_role("row", name="Mace").count(), 0)
        table.get_by_role("switch", name="all of it").check()
        table.get_by_role("row", name="Mace").wait_for()
        self.assert_accessible()
        page.get_by_role("button", name="Restore as the draft: version 1").click()
        self.expect_reading("°Brix", "64.0")
        page.get_by_text("draft 3, saved").wait_for()

    def test_bar_staff_look_and_change_nothing(self) -> None:
        page = self.open(TABLET)
        self.sign_in("bars", page)
        self.open_formula("Ferryman's Spice", page)
        page.get_by_role("button", name="More for this formula").click()
        self.assertEqual(page.get_by_role("menuitem", name="Save as a version").count(), 0)
        page.get_by_role("menuitem", name="Versions, side by side").click()
        page.get_by_text("First for the bars", exact=False).wait_for()
        self.assertEqual(page.get_by_role("button", name=re.compile("draft again")).count(), 0)
        self.assert_accessible(page)
