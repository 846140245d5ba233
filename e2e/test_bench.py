"""The formula bench, done as a person does it: by role and visible name only."""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

from playwright.sync_api import Route, expect

from e2e.browser import TABLET, BrowserCase
from jugserver.accounts.models import Session


class Ferryman(BrowserCase):
    def test_open_change_and_watch_everything_follow(self) -> None:
        self.sign_in_by_form("ines")
        page = self.open_formula("Ferryman's Spice")
        self.expect_reading("°Brix", "64.0")
        self.assertIn("22.0", self.reading("Spice per kg started"))
        for part in ("Method", "Verdicts", "Readings"):
            page.get_by_role("region", name=part).wait_for()
        page.get_by_role("img", name="A jug with").wait_for()
        self.assertIn("2,705 g", page.get_by_role("region", name="Boil").inner_text())
        amount = page.get_by_label("Amount of Pear juice, pressed")
        amount.fill("1 1/2 cups")
        page.get_by_text("± 16", exact=False).first.wait_for()
        self.expect_reading("°Brix", "64.0")
        self.assertEqual(page.get_by_label("Amount of Water", exact=True).input_value(), "as pear juice")
        amount.fill("430 g")
        self.expect_reading("Yield by weight", "1,405")
        page.get_by_label("End of Boil").fill("62")
        self.expect_reading("°Brix", "62.0")
        page.get_by_text("Stage 6, Boil: to 62 °Bx", exact=False).wait_for(state="attached")
        self.assertNotIn("2,705", page.get_by_role("region", name="Boil").inner_text())
        page.get_by_role("button", name="Save").click()
        page.get_by_text("draft 2, saved").wait_for()
        page.reload()
        self.expect_reading("°Brix", "62.0")
        page.get_by_role("button", name="Undo").is_disabled()
        self.assert_accessible()

    def test_a_reading_opens_to_its_working(self) -> None:
        page = self.at_the_bench("bars", "Ferryman's Spice")
        page.get_by_role("button", name="Water activity", exact=True).click()
        page.get_by_text("sucrose by Starzak and Peacock", exact=False).wait_for()
        page.get_by_text("Source: Starzak and Peacock 1997", exact=False).wait_for()

    def test_bad_input_is_answered_at_the_field_and_nothing_is_lost(self) -> None:
        self.allowed = ["422"]
        page = self.at_the_bench("ines", "Ferryman's Spice")
        for typed, sentence in (
            ("-5 g", "cannot be weighed"),
            ("0", "changes nothing"),
            ("1000000000 g", "more than any kitchen cooks"),
            ("3 blobs", "“blobs” is not a unit"),
        ):
            page.get_by_label("Amount of Pear juice, pressed").fill(typed)
            page.get_by_text(sentence, exact=False).wait_for()
            self.assertIn("64.0", self.reading("°Brix"))
        page.get_by_label("Amount of Pear juice, pressed").fill("as the water")
        page.get_by_text("in a circle", exact=False).first.wait_for()
        page.get_by_label("Amount of Pear juice, pressed").fill("430 g")
        page.get_by_label("End of Boil").fill("101")
        page.get_by_text("101 °Bx is not a possible", exact=False).wait_for()
        page.get_by_label("End of Boil").fill("40")
        page.get_by_text("boiling cannot lower that", exact=False).first.wait_for()
        page.get_by_label("End of Boil").fill("64")
        self.expect_reading("°Brix", "64.0")

    def test_what_is_wrong_out_of_sight_is_one_press_away(self) -> None:
        self.allowed = ["422"]
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="Remove Pear juice, pressed").click()
        page.get_by_role("button", name=re.compile("^[0-9]+ problem")).click()
        page.get_by_text("no longer here", exact=False).first.wait_for()
        self.assertEqual(page.evaluate("document.activeElement.getAttribute('aria-invalid')"), "true")

    def test_undo_and_what_was_not_saved_comes_back(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_label("Amount of Pear juice, pressed").fill("600 g")
        self.expect_reading("Yield by weight", "1,9")
        page.keyboard.press("Control+z")
        self.expect_reading("Yield by weight", "1,405")
        page.get_by_role("button", name="Redo").click()
        self.expect_reading("Yield by weight", "1,9")
        page.reload()
        page.get_by_text("Your unsaved changes are back.").wait_for()
        self.go_to("Today", page)
        page.get_by_role("region", name="Not saved yet").get_by_role("link", name="Ferryman's Spice").click()
        page.get_by_text("Your unsaved changes are back.").wait_for()
        self.expect_reading("Yield by weight", "1,9")
        page.get_by_role("button", name="Discard changes").click()
        self.expect_reading("Yield by weight", "1,405")

    def test_two_people_at_one_formula(self) -> None:
        self.allowed = ["409"]
        self.sign_in("ines")
        mine = self.open_formula("Weir Simple")
        theirs = self.open(TABLET)
        self.sign_in("ines", theirs)
        self.open_formula("Weir Simple", theirs)
        theirs.get_by_label("Amount of Water", exact=True).fill("800 g")
        theirs.get_by_role("button", name="Save").click()
        theirs.get_by_text("draft 2, saved").wait_for()
        mine.get_by_label("Amount of Water", exact=True).fill("900 g")
        mine.get_by_role("button", name="Save").click()
        mine.get_by_text("saved this formula while you were at it", exact=False).wait_for()
        mine.get_by_role("button", name="Save mine over it").click()
        mine.get_by_text("draft 3, saved").wait_for()
        self.assertEqual(mine.get_by_label("Amount of Water", exact=True).input_value(), "900 g")

    def test_a_lost_network_says_so_and_goes_on(self) -> None:
        self.allowed = ["ERR_", "Failed to load"]
        page = self.at_the_bench("ines", "Weir Simple")
        page.context.set_offline(True)
        page.get_by_label("Amount of Water", exact=True).fill("1 kg")
        page.get_by_text("cannot be reached", exact=False).wait_for()
        page.context.set_offline(False)
        self.expect_reading("Yield by weight", "1,995")

    def test_a_stale_answer_never_overwrites_a_newer_one(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        delayed: list[Route] = []

        def hold_the_first(route: Route) -> None:
            if not delayed:
                delayed.append(route)
            else:
                route.continue_()

        page.route("**/api/v1/walk", hold_the_first)
        self.allowed = ["ERR_"]
        with page.expect_request("**/api/v1/walk"):  # typed on before that, the first would never be sent
            page.get_by_label("Amount of Water", exact=True).fill("500 g")
        page.get_by_label("Amount of Water", exact=True).fill("1000 g")
        self.expect_reading("Yield by weight", "1,995")
        self.assertEqual(len(delayed), 1)
        delayed[0].continue_()
        page.wait_for_timeout(400)
        self.assertIn("1,995", self.reading("Yield by weight"))

    def test_people_who_may_not_edit_can_read_everything(self) -> None:
        page = self.at_the_bench("rafe", "Ferryman's Spice")
        self.assertFalse(page.get_by_label("Amount of Pear juice, pressed").is_editable())
        self.assertEqual(page.get_by_role("button", name="Save").count(), 0)
        self.assertEqual(page.get_by_role("button", name="Add a stage").count(), 0)


class AtAGlance(BrowserCase):
    """At 1280 by 800 the whole method, its verdicts and what decides of its readings, without scrolling."""

    def test_the_method_the_verdicts_and_the_readings_stand_on_one_screen(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        method, readings = page.get_by_role("region", name="Method"), page.get_by_role("region", name="Readings")
        verdicts = page.get_by_role("region", name="Verdicts")
        for title, words in (
            ("Yield", "1.07 l"), ("Yield", "2 × 500 ml and 110 ml in a third"), ("°Brix", "64.0"), ("Cost", "per kg"), ("Keeping", "7 days"),
            ("Keeping", "answer 3 questions"), ("Allergens", "check packs for sulphites"),
        ):  # fmt: skip
            expect(verdicts.locator("dl").filter(has_text=title)).to_contain_text(words)
        stages = method.locator("ol > li")
        parts = [
            verdicts,
            *(stages.nth(i) for i in range(stages.count())),
            *readings.get_by_role("listitem").all(),
            *readings.locator("summary").all(),
        ]
        self.assertEqual(stages.count(), 8)
        for part in [*parts, page.get_by_role("region", name="What it means")]:
            box = part.bounding_box()
            assert box is not None
            self.assertLessEqual(box["y"] + box["height"], 800, part)
        scrolls = method.evaluate(
            "each => [each, ...each.querySelectorAll('*')].filter((e) => e.scrollHeight > e.clientHeight + 2 && ['auto', 'scroll'].includes(getComputedStyle(e).overflowY)).length"
        )
        self.assertEqual(scrolls, 0)
        # No amount is cut by its field, the long one of the sugar neither; nor is one that somebody types.
        sugar = method.get_by_label("Amount of Golden granulated sugar")
        for words in ("as pear juice and water", "as much as the pear juice, water"):
            sugar.fill(words)
            cut = method.get_by_role("textbox", name=re.compile("^Amount of")).evaluate_all(
                "all => all.filter((each) => each.scrollWidth > each.clientWidth).map((each) => each.value)"
            )
            self.assertEqual(cut, [])

    def test_what_a_word_of_the_trade_means_is_one_press_away(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="What °Brix means").click()
        expect(page.get_by_role("dialog")).to_contain_text("grams of everything dissolved in 100 g")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Water activity", exact=True).click()
        expect(page.get_by_text("How much of the water is free for germs to use", exact=False)).to_be_visible()

    def test_stages_fold_to_one_line_and_open_where_they_are_looked_at(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        mace, water = page.get_by_label("Amount of Mace"), page.get_by_label("Amount of Water", exact=True)
        expect(mace).to_have_count(0)  # a blend in a long method
        expect(page.get_by_role("region", name="Method")).to_contain_text("green cardamom 12.0 g, mace 3.44 g")
        page.get_by_role("button", name="Add to Ferryman blend").click()
        expect(page.get_by_role("combobox", name="Add an ingredient to Ferryman blend")).to_be_focused()
        expect(mace).to_be_visible()
        page.get_by_role("button", name="Fold Juice and water").click()
        expect(water).to_have_count(0)
        page.get_by_role("button", name="Unfold Juice and water").click()
        # What is wrong is never folded away.
        self.allowed = ["422"]
        water.fill("no such amount")
        page.get_by_role("alert").first.wait_for()
        page.get_by_role("button", name="Fold Juice and water").click()
        expect(water).to_be_visible()


class Keeping(BrowserCase):
    def test_put_away_and_brought_back(self) -> None:
        self.sign_in("ines")
        page = self.open_formula("Damson Bay")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Archive").click()
        page.get_by_text("Damson Bay is archived.", exact=False).wait_for()
        page.get_by_role("link", name="Weir Simple").wait_for()
        self.assertEqual(page.get_by_role("link", name="Damson Bay").count(), 0)
        page.get_by_role("button", name="Restore").click()
        page.get_by_role("link", name="Damson Bay").wait_for()

    def test_a_copy_is_a_formula_of_its_own(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Copy").click()
        page.get_by_label("Formula name").and_(page.locator('[value="Weir Simple, copy"]')).wait_for()
        page.get_by_label("Formula name").fill("Weir Rich")
        page.get_by_label("Amount of White granulated sugar").fill("twice the water")
        page.get_by_role("button", name="Save").click()
        page.get_by_text("draft 1, saved").wait_for()
        self.open_formula("Weir Simple")
        self.expect_reading("°Brix", "50.0")
        self.open_formula("Weir Rich")
        self.expect_reading("°Brix", "66.7")

    def test_a_formula_saved_to_a_file_walks_the_same_from_a_shell(self) -> None:
        page = self.at_the_bench("bars", "Ferryman's Spice")
        page.get_by_role("button", name="More for this formula").click()
        with page.expect_download() as saved:
            page.get_by_role("menuitem", name="Export as JSON, with everything").click()
        self.assertEqual(saved.value.suggested_filename, "Ferryman's Spice.json")
        done = subprocess.run(
            [sys.executable, "-m", "jugcore", "walk"],
            input=Path(saved.value.path()).read_text(encoding="utf-8"),
            capture_output=True,
            text=True,
            check=True,
        )
        readings = {r["title"]: r["value"] for r in json.loads(done.stdout)["readings"]}
        self.assertIn(f"{readings['Yield by weight']:,.0f}", self.reading("Yield by weight"))
        self.assertIn(f"{readings['Water activity']:.3f}", self.reading("Water activity"))

    def test_a_session_that_ends_under_the_hands(self) -> None:
        self.allowed = ["401"]
        page = self.at_the_bench("ines", "Weir Simple")
        Session.objects.all().delete()
        page.get_by_label("Amount of Water", exact=True).fill("900 g")
        dialog = page.get_by_role("dialog", name="Sign in to go on")
        dialog.get_by_label("Name you sign in with").fill("ines")
        dialog.get_by_label("Password", exact=True).fill("river-town-demo")
        dialog.get_by_role("button", name="Sign in", exact=True).click()
        dialog.wait_for(state="detached")
        self.assertEqual(page.get_by_label("Amount of Water", exact=True).input_value(), "900 g")
        page.get_by_role("button", name="Save").click()
        page.get_by_text("draft 2, saved").wait_for()
        self.expect_reading("Yield by weight", "1,795")


class FromNothing(BrowserCase):
    def test_a_small_new_syrup_in_at_most_25_actions(self) -> None:
        self.allowed = ["422"]  # half a formula is refused, at its fields, while it is being typed
        self.sign_in("ines")
        page = self.page
        actions = 0

        def did() -> None:
            nonlocal actions
            actions += 1

        self.go_to("Formulas", page)
        did()
        page.get_by_role("link", name="New formula").click()
        did()
        page.get_by_role("link", name="An empty pot").click()
        did()
        page.get_by_label("Formula name").fill("Kiln Lane Syrup")
        did()
        self.add_stage("Add", did)
        for words, title, amount in (
            ("wat", "Water", "600 g"),
            ("demer", "Demerara sugar", "as the water"),
            ("cass", "Cassia bark, ground", "12 g per kg started"),
        ):
            page.get_by_role("combobox", name="Add an ingredient to Add").fill(words)
            did()
            page.get_by_role("option", name=title, exact=True).click()
            did()
            page.get_by_label(f"Amount of {title}").fill(amount)
            did()
        self.add_stage("Boil", did)
        page.get_by_label("End of Boil").fill("62")
        did()
        self.add_stage("Strain", did)
        page.get_by_role("button", name="Save").click()
        did()
        page.get_by_text("draft 1, saved").wait_for()
        self.expect_reading("°Brix", "62.0")
        self.assertLessEqual(actions, 25)
        self.go_to("Formulas", page)
        page.get_by_role("link", name="Kiln Lane Syrup").wait_for()

    def test_whole_lines_typed_one_after_another(self) -> None:
        """“2 tsp blossom water”, Enter, and on: the hands stay on the keys."""
        self.allowed = ["422"]
        self.sign_in("ines", path="/formulas/new/blank")
        page = self.page
        page.get_by_label("Formula name").fill("Ferry Steps Cordial")
        self.add_stage("Add")
        field = page.get_by_role("combobox", name="Add an ingredient to Add")
        field.focus()
        for line in ("600 g water", "demerara as the water", "2 tsp blossom water", "lemon juice"):
            page.keyboard.type(line)
            page.get_by_role("listbox").get_by_role("option").first.wait_for()
            page.keyboard.press("Enter")
            expect(field).to_have_value("")
        expect(page.get_by_label("Amount of Lemon juice")).to_be_focused()
        page.keyboard.type("30 g")  # a name alone leads on to its amount
        page.keyboard.press("Enter")
        page.keyboard.type("pinch of moonlight")
        page.get_by_text("Nothing in the pantry by that name.").wait_for()
        for name, amount in (("Water", "600 g"), ("Demerara sugar", "as the water"), ("Blossom water", "2 tsp"), ("Lemon juice", "30 g")):
            page.get_by_label(f"Amount of {name}", exact=True).and_(page.locator(f'[value="{amount}"]')).wait_for()
        self.expect_reading("Yield by weight", "1,240")
        page.get_by_label("Formula name").focus()
        page.keyboard.press("Control+s")
        page.get_by_text("draft 1, saved").wait_for()

    def test_what_an_ingredient_is_and_another_in_its_place(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="About Golden granulated sugar").click()
        about = page.get_by_role("dialog", name="Golden granulated sugar")
        about.get_by_text("In 100 g: sucrose", exact=False).wait_for()
        self.assert_accessible()
        about.get_by_role("combobox", name="Ingredient", exact=True).fill("honey")
        page.get_by_role("option", name="Honey", exact=True).click()
        page.get_by_label("Amount of Honey").wait_for()
        page.get_by_role("dialog", name="Honey").get_by_label("Called here").fill("River honey")
        page.get_by_label("Amount of River honey").wait_for()
        page.keyboard.press("Escape")
        self.expect_reading("°Brix", "64.0")
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Undo").click()
        page.get_by_label("Amount of Golden granulated sugar").wait_for()

    def test_vessels_of_a_stage(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_label("Strain goes into").select_option("another vessel")
        page.get_by_text("Jug is empty.", exact=False).first.wait_for()  # the bottles are still filled from the old jug
        page.get_by_label("Vessel of Fill").select_option("Jug 2")
        self.expect_reading("Yield by weight", "1,405")

    def test_keyboard_only(self) -> None:
        """Find a formula, change the boil, save: without touching the mouse."""
        self.sign_in("ines")
        page = self.page
        page.keyboard.press("/")
        page.get_by_label("Find a formula, an ingredient or a batch").wait_for()
        page.keyboard.type("ferry")
        page.get_by_role("list", name="Found").get_by_text("Ferryman's Spice").wait_for()
        page.keyboard.press("Enter")
        page.get_by_role("button", name="°Brix", exact=True).wait_for()
        for _ in range(40):
            if (page.evaluate("document.activeElement.innerText") or "").startswith("Boil"):
                break
            page.keyboard.press("Tab")
        else:
            self.fail("The boil cannot be reached on the ribbon with Tab.")
        page.keyboard.press("Enter")
        self.assertEqual(page.evaluate("document.activeElement.getAttribute('aria-label')"), "End of Boil")
        page.keyboard.press("Control+a")
        page.keyboard.type("60")
        self.expect_reading("°Brix", "60.0")
        page.keyboard.press("Control+s")
        page.get_by_text("draft 2, saved").wait_for()
        page.get_by_role("button", name="Undo").focus()
        page.keyboard.press("Enter")
        self.expect_reading("°Brix", "64.0")
        page.keyboard.press("?")
        page.get_by_role("dialog", name="Shortcuts").get_by_text("Save the draft").wait_for()
        page.keyboard.press("Escape")


class Costs(BrowserCase):
    def test_what_it_costs_and_what_drives_it(self) -> None:
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="What it costs").click()
        drawer = page.get_by_role("dialog", name="What it costs")
        expect(drawer.get_by_role("row", name=re.compile("^Hands"))).to_contain_text("min hands-on")
        expect(drawer.get_by_role("row", name=re.compile("^Energy"))).to_contain_text("kWh on the hob")
        dose = drawer.get_by_text("A dose", exact=True).locator("..")
        before = dose.inner_text()
        drawer.get_by_role("textbox", name="A dose is").fill("40")
        expect(dose).not_to_have_text(before.replace("\n", ""))
        expect(drawer.get_by_role("img", name=re.compile("^Hands: "))).to_be_visible()
        self.assert_accessible()

    def test_how_much_to_make_for_the_drinks_that_take_it(self) -> None:
        page = self.at_the_bench("ines", "Ferryman's Spice")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Where it is used").click()
        row = page.get_by_role("dialog", name="Where it is used").get_by_role("row", name=re.compile("^Ferry Latte"))
        expect(row).to_contain_text("Regular 15.8 g")
        self.assert_accessible()
        page.get_by_role("button", name="Close where it is used").click()
        page.get_by_role("button", name="Scale", exact=True).click()
        drawer = page.get_by_role("dialog", name="How much to make")
        drawer.get_by_label("Counted as").select_option(label="drinks that take it")
        drawer.get_by_role("textbox", name=re.compile("^Ferry Latte, Regular")).fill("40")
        expect(drawer).to_contain_text("633 g")
        drawer.get_by_role("textbox", name=re.compile("^Ferry Latte, Long")).fill("20")
        expect(drawer).to_contain_text("1,055 g")
        self.assert_accessible()
        drawer.get_by_label("Counted as").select_option(label="doses")
        drawer.get_by_label("How much").fill("60")
        expect(drawer).to_contain_text("1,200 g")
