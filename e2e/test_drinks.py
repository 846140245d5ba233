"""Drinks on the desk and on a tablet: one built from nothing, evened out, kept as a version; another milk; and who may only look."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.drinks.models import Drink, DrinkVersion


class Drinks(BrowserCase):
    def add(self, page: Page, typed: str, option: str, amounts: dict[str, str]) -> None:
        """Put something into the cup, and say how much of it in each size."""
        box = page.get_by_role("combobox", name="Add to the cup")
        box.click()
        box.fill(typed)
        page.get_by_role("option", name=option, exact=True).click()
        for size, amount in amounts.items():
            page.get_by_role("textbox", name=size, exact=True).fill(amount)
        page.get_by_role("button", name=re.compile("^Close ")).click()
        expect(page.get_by_role("dialog")).to_have_count(0)

    def test_a_latte_from_nothing_evened_out_and_kept(self) -> None:
        self.allowed = ["422"]  # what is half typed has no amount yet
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="New drink").click()
        page.get_by_role("textbox", name="Drink name").fill("Weir Latte")
        sizes = ("Short", "Regular", "Long", "Iced")
        self.add(page, "weir", "Weir Simple, made here", dict(zip(sizes, ("10 g", "15 g", "20 g", "25 g"), strict=True)))
        self.add(page, "espresso", "Espresso", dict(zip(sizes, ("30 g", "30 g", "60 g", "60 g"), strict=True)))
        self.add(page, "whole milk", "Whole milk", {"Iced": "to the line"})
        expect(page.get_by_role("img", name=re.compile("^Regular, filled to 256 of 270 ml: .*Weir Simple"))).to_be_visible()
        expect(page.get_by_text("Contains milk", exact=False)).to_be_visible()
        self.assert_accessible(page)
        # Whole strokes of the kitchen's pump cannot; a press takes the one that can.
        even = page.get_by_role("region", name="Even out the sweetness")
        expect(even).to_contain_text("cannot: they miss by")
        even.get_by_role("button", name="Use grams").click()
        expect(page.get_by_role("textbox", name="Dose in Regular")).not_to_have_value("15 g")
        expect(even.get_by_role("button", name="Use grams")).to_be_disabled()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("textbox", name="Dose in Regular")).to_have_value("15 g")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("draft 1, saved")).to_be_visible()
        page.get_by_role("button", name="More for this drink").click()
        page.get_by_role("menuitem", name="Save as a version").click()
        page.get_by_role("textbox", name="What is new in it").fill("For the board.")
        page.get_by_role("button", name="Save the version").click()
        expect(page.get_by_text("version 1, not served yet")).to_be_visible()
        page.get_by_role("button", name="More for this drink").click()
        page.get_by_role("menuitem", name="Versions and service").click()
        page.get_by_role("button", name="Ready for service: version 1").click()
        expect(page.get_by_text("Weir Simple, version 1, is not marked as ready for service.", exact=False)).to_be_visible()
        page.get_by_role("textbox", name="Why it may be served anyway").fill("Known for years.")
        page.get_by_role("button", name="Ready anyway: version 1").click()
        expect(page.get_by_role("button", name="No longer ready for service: version 1")).to_be_visible()
        self.assert_accessible(page)
        self.assertEqual(DrinkVersion.objects.get(drink__name="Weir Latte").readiness.get().reason, "Known for years.")

    def test_a_figure_is_typed_over_and_another_milk_poured(self) -> None:
        self.allowed = ["422"]
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="Ferry Latte").click()
        page.get_by_role("button", name=re.compile("^Sugars in 100 ml in Regular")).click()
        page.get_by_role("textbox", name="It should be").fill("7.5")
        page.get_by_role("button", name=re.compile("^Apply: Less Ferryman's Spice")).click()
        expect(page.get_by_role("button", name=re.compile("^Sugars in 100 ml in Regular: 7.5 g"))).to_be_visible()
        expect(page.get_by_text("outside the shop's window", exact=False)).to_be_visible()
        page.get_by_role("button", name="Another milk").click()
        expect(page.get_by_text("now contains gluten", exact=False).first).to_be_visible()
        self.assert_accessible(page)
        page.get_by_role("button", name="Use it: Soya drink, unsweetened").click()
        expect(page.get_by_text("Contains milk, soybeans", exact=False).or_(page.get_by_text("Contains soybeans, milk", exact=False))).to_be_visible()
        # What is not an amount is said where it stands, and the cups stay as they were.
        page.get_by_role("textbox", name="Dose in Short").fill("some")
        expect(page.get_by_text("“some” is neither", exact=False).or_(page.get_by_text("“some”", exact=False)).first).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("^Short, filled to"))).to_be_visible()
        self.assertEqual(Drink.objects.get(name="Ferry Latte").draft, 1)

    def test_two_ways_to_one_creaminess_side_by_side(self) -> None:
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="Smoked Oat").click()
        page.get_by_role("button", name="Another milk").click()
        drawer = page.get_by_role("dialog", name="Another milk")
        drawer.get_by_role("checkbox", name=re.compile("^As much of each as keeps the fat")).check()
        other = drawer.get_by_role("combobox", name=re.compile("^Or with something else"))
        other.click()
        other.fill("heavy cream")
        page.get_by_role("listbox").get_by_role("option", name=re.compile("^Heavy cream")).first.click()
        first = drawer.get_by_role("listitem").first
        expect(first).to_contain_text("Heavy cream")
        expect(first).to_contain_text(re.compile(r"takes [\d.]+ g"))
        expect(first).to_contain_text("share of coffee or tea")
        expect(first).to_contain_text("now contains milk")
        self.assert_accessible(page)

    def test_levels_of_sweetness_say_what_they_really_are(self) -> None:
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="Tin Sweet Coffee").click()
        page.get_by_role("button", name="More for this drink").click()
        page.get_by_role("menuitem", name="Levels of sweetness").click()
        drawer = page.get_by_role("dialog", name="Levels of sweetness")
        expect(drawer.get_by_role("group", name="Level Half")).to_contain_text("truly 81 % of the first level")
        self.assert_accessible(page)
        drawer.get_by_role("button", name="Add a level").click()
        fresh = drawer.get_by_role("group").last
        fresh.get_by_role("textbox", name="The shop calls it").fill("")
        expect(fresh).to_contain_text("Name it.")
        self.allowed = ["422"]
        fresh.get_by_role("textbox", name="The shop calls it").fill("Same again")
        expect(drawer.get_by_role("group", name="Level Same again")).to_contain_text("of sugars in 100 ml")
        drawer.get_by_role("button", name="Remove the level Same again").click()
        expect(drawer.get_by_role("group", name="Level Same again")).to_have_count(0)

    def test_awkward_input_is_told_where_it_stands(self) -> None:
        self.allowed = ["422"]
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="Ferry Latte").click()
        page.get_by_role("textbox", name="Drink name").fill("A name that goes on and on for the board " * 3)
        page.get_by_role("textbox", name="Dose in Iced").fill("900 g")
        expect(page.get_by_text("Iced runs over by", exact=False)).to_be_visible()
        self.assert_whole(page)
        page.get_by_role("button", name="Sizes", exact=True).click()
        page.get_by_role("textbox", name="Fill line").first.fill("900")
        expect(page.get_by_role("dialog").get_by_text("Its fill line is above its brim.", exact=False)).to_be_visible()
        page.get_by_role("textbox", name="Fill line").first.fill("166")
        page.get_by_role("button", name="Remove Iced").click()
        page.get_by_role("button", name="Close the sizes").click()
        expect(page.get_by_text("Iced runs over by", exact=False)).to_have_count(0)
        expect(page.get_by_role("heading", name="Three sizes, to scale")).to_be_visible()

    def test_what_was_not_saved_stays_in_this_browser(self) -> None:
        page = self.sign_in("ines", path="/drinks")
        page.get_by_role("link", name="Damson Cooler").click()
        page.get_by_role("textbox", name="Dose in Short").fill("18 g")
        page.reload()
        expect(page.get_by_role("textbox", name="Dose in Short")).to_have_value("18 g")
        expect(page.get_by_text("not saved yet")).to_be_visible()
        page.goto(self.live_server_url)
        page.get_by_role("region", name="Not saved yet").get_by_role("link", name="Damson Cooler").click()
        expect(page.get_by_role("textbox", name="Dose in Short")).to_have_value("18 g")

    def test_who_only_looks_changes_nothing(self) -> None:
        page = self.sign_in("bars", self.open(TABLET), "/drinks")
        expect(page.get_by_role("link", name="New drink")).to_have_count(0)
        page.get_by_role("link", name="Ferry Latte").click()
        expect(page.get_by_role("img", name=re.compile("^Iced, filled to .*ice 110 g|^Iced, filled to"))).to_be_visible()
        expect(page.get_by_role("button", name="Save", exact=True)).to_have_count(0)
        expect(page.get_by_role("button", name="Use grams")).to_have_count(0)
        self.assertIsNotNone(page.get_by_role("textbox", name="Dose in Short").get_attribute("readonly"))
        page.get_by_role("button", name="More for this drink").click()
        page.get_by_role("menuitem", name="All readings").click()
        expect(page.get_by_role("row", name=re.compile("Caffeine"))).to_contain_text("64")
        self.assert_accessible(page)

    def test_a_bar_reads_its_doses(self) -> None:
        page = self.sign_in("kiln", self.open(TABLET))
        page.get_by_role("navigation", name="Main").get_by_role("link", name="Doses").click()
        row = page.get_by_role("row", name=re.compile("^Ferry Latte Ferryman's Spice, pump of 4.0 ml"))
        expect(row).to_contain_text("2 strokes")
        expect(page.get_by_role("row", name=re.compile("^Rose Cardamom Foam"))).to_contain_text("26 g")
        self.assert_accessible(page)
        address = page.get_by_role("link", name="Dose card").get_attribute("href")
        answer = page.request.get(f"{page.url.split('/drinks')[0]}{address}")
        self.assertEqual((answer.status, answer.headers["content-type"]), (200, "application/pdf"))
