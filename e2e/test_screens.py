"""The other screens, both themes, the tablet, and small windows."""

from __future__ import annotations

import re
from uuid import uuid4

from django.utils import timezone
from playwright.sync_api import expect

from e2e.browser import DESK, TABLET, BrowserCase
from jugcore.batch.log.events import Event
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.services import start_batch
from jugserver.formulas.models import Formula


class Screens(BrowserCase):
    def test_sign_in_refusals(self) -> None:
        self.allowed = ["401"]
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_label("Name you sign in with").fill("ines")
        page.get_by_label("Password", exact=True).fill("wrong")
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_text("Wrong name or password", exact=False).wait_for()
        self.assertEqual(page.get_by_label("Name you sign in with").input_value(), "ines")
        self.assert_accessible()

    def test_today_leads_on(self) -> None:
        self.sign_in("ines")
        self.page.get_by_role("region", name="Recent").get_by_role("link", name="Ferryman's Spice").click()
        self.page.get_by_role("button", name="°Brix", exact=True).wait_for()

    def test_the_api_describes_itself_from_here(self) -> None:
        self.sign_in("bars")
        self.page.goto(self.live_server_url + "/api/v1/docs")
        # Half a megabyte of description is drawn at once: on a busy machine that takes its time.
        self.page.get_by_role("heading", name="Oaken Jug").wait_for(timeout=90_000)
        self.page.get_by_text("/api/v1/walk", exact=True).wait_for()

    def test_only_what_exists_has_an_entry(self) -> None:
        self.sign_in("ines")
        entries = self.page.get_by_role("navigation", name="Main").get_by_role("link").all_inner_texts()
        self.assertEqual(entries, ["Today", "Plan", "Formulas", "Pantry", "Batches", "Drinks", "Bottles", "Tastings", "Calculators", "Site"])

    def test_higher_up_it_boils_cooler(self) -> None:
        self.sign_in("ines")
        page = self.page
        self.go_to("Site", page)
        page.get_by_label("Altitude").fill("2000")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("saved", exact=True).wait_for()
        self.open_formula("Ferryman's Spice")
        page.get_by_text("probe about 96.9 °C", exact=False).wait_for()

    def test_the_site_refuses_nonsense_and_keeps_it_on_screen(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines")
        page = self.page
        self.go_to("Site", page)
        page.get_by_label("Altitude").fill("90000")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("90,000 m is not a possible altitude", exact=False).wait_for()
        self.assertEqual(page.get_by_label("Altitude").input_value(), "90000")

    def test_a_currency_entered_once_stands_with_every_price(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/site")
        page = self.page
        card = page.get_by_role("region", name="Money, days and places")
        card.get_by_role("combobox", name="Currency").fill("SEK")
        page.get_by_role("option", name=re.compile("^SEK")).click()
        card.get_by_label("An hour of work").fill("210")
        card.get_by_label("An hour of work").blur()
        card.get_by_label("Sun").uncheck()
        card.get_by_label("Places it serves").fill("Tannery Yard\nTannery Yard")
        card.get_by_role("button", name="Save money, days and places").click()
        card.get_by_text("is there twice", exact=False).wait_for()
        card.get_by_label("Places it serves").fill("Tannery Yard\nLock cart")
        card.get_by_role("button", name="Save money, days and places").click()
        card.get_by_text("saved", exact=True).wait_for()
        self.assert_whole()
        self.open_formula("Ferryman's Spice")
        expect(page.get_by_role("region", name="Verdicts")).to_contain_text(re.compile(r"kr ?3\.57 per kg"))
        expect(page.get_by_role("listitem").filter(has_text="Ingredient cost per kg")).to_contain_text("SEK")

    def test_shared_equipment_is_described_and_the_bench_says_what_it_carries(self) -> None:
        self.allowed = ["422"]
        self.sign_in("ines", path="/site")
        page = self.page
        card = page.get_by_role("region", name="Shared equipment")
        card.get_by_role("button", name="Add it: whisk").click()
        names = card.get_by_label("Name of it")
        expect(names.last).to_have_value("Whisk")
        names.last.fill("")
        page.get_by_role("button", name="Save", exact=True).click()
        card.get_by_text("A piece of equipment has no name", exact=False).wait_for()
        names.last.fill("Copper whisk")
        page.get_by_role("button", name="Save", exact=True).click()
        page.get_by_text("saved", exact=True).wait_for()
        self.assert_whole()
        self.open_formula("Pear Drizzle")
        look = page.get_by_text(re.compile("Equipment may carry over .*nuts"))
        look.click()
        page.get_by_text(re.compile("^Copper whisk also meets nuts")).wait_for()

    def test_a_batch_is_found_by_what_was_noted_at_it(self) -> None:
        formula = Formula.objects.get(name="Weir Simple")
        batch = start_batch(actor=User.objects.get(username="rafe"), formula_id=formula.pk, version=1)
        noted = {"id": uuid4(), "at": timezone.now(), "by": "rafe", "device": "t", "what": {"kind": "noted", "text": "a hint of marmalade"}}
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(noted)])
        self.sign_in("bars")
        self.page.keyboard.press("/")
        self.page.get_by_label("Find a formula, an ingredient or a batch").fill("marmalade")
        expect(self.page.get_by_role("list", name="Found")).to_contain_text(f"batch {batch.number:04d}")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("navigation", name="Steps").wait_for()

    def test_a_lead_takes_a_pin_away(self) -> None:
        self.sign_in("ines")
        page = self.page
        self.go_to("Site", page)
        row = page.get_by_role("table", name="People and their PINs").get_by_role("row", name=re.compile("^Rafe Oduya"))
        expect(row).to_contain_text("set")
        row.get_by_role("button", name="Remove PIN of Rafe Oduya").click()
        expect(row).to_contain_text("none")
        self.assert_accessible()
        cook = self.sign_in("rafe", self.open(TABLET))
        self.go_to("Site", cook)
        cook.get_by_text("Your PIN for a shared tablet").wait_for()
        expect(cook.get_by_role("table", name="People and their PINs")).to_have_count(0)

    def test_finding_an_ingredient_shows_its_facts(self) -> None:
        self.sign_in("bars")
        self.page.keyboard.press("/")
        self.page.get_by_label("Find a formula, an ingredient or a batch").fill("hazel")
        self.page.get_by_text("allergens: nuts", exact=False).first.wait_for()
        self.page.get_by_role("button", name=re.compile("^Hazelnuts")).click()
        self.page.get_by_role("heading", name="Hazelnuts", exact=True).wait_for()

    def test_every_screen_is_accessible_in_both_themes_and_on_the_tablet(self) -> None:
        for size in (DESK, TABLET):
            page = self.sign_in("ines", self.open(size))
            for name in ("Today", "Formulas", "Pantry", "Batches", "Bottles", "Tastings", "Calculators", "Site", "bench"):
                with self.subTest(screen=name, size=size):
                    if name == "bench":
                        self.open_formula("Ferryman's Spice", page)
                    else:
                        self.go_to(name, page)
                        page.get_by_role("heading", level=1).wait_for()
                    page.wait_for_timeout(250)
                    self.assert_accessible(page, colours=size == DESK)  # they are those of the desk on a tablet too
                    if size == DESK:
                        self.assert_accessible_in_the_dark(page)

    def test_four_times_as_large_nothing_is_cut_off(self) -> None:
        page = self.sign_in("ines", self.open((320, 700)))
        for name in ("Today", "Formulas", "Batches", "Tastings", "Site"):
            self.go_to(name, page)
            page.get_by_role("heading", level=1).wait_for()
            page.wait_for_timeout(200)
            wide = page.evaluate("Math.max(document.documentElement.scrollWidth, document.querySelector('main').scrollWidth)")
            with self.subTest(screen=name):
                self.assertLessEqual(wide, 321)
        self.open_formula("Weir Simple", page)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 321)

    def test_on_a_phone_no_button_is_cut_and_the_hob_shows_its_figure_at_once(self) -> None:
        batch = start_batch(actor=User.objects.get(username="rafe"), formula_id=Formula.objects.get(name="Ferryman's Spice").pk, version=1)
        page = self.sign_in("ines", self.open((390, 844)))
        formula = f"/formulas/{batch.formula_id}"
        paths = (
            "/",
            "/formulas",
            formula,
            f"{formula}/versions",
            "/batches",
            "/pantry",
            "/pantry/suppliers",
            "/tastings",
            "/calculators",
            "/site",
            f"/batches/{batch.pk}",
        )
        for path in paths:
            with self.subTest(path=path):
                page.goto(self.live_server_url + path)
                page.get_by_role("heading", level=1).wait_for()
                page.wait_for_timeout(400)
                self.assert_whole(page)
        figure = page.get_by_role("heading", name=re.compile("^Pear juice")).bounding_box()
        asked = page.get_by_role("button", name=re.compile("^As asked")).bounding_box()
        assert figure is not None and asked is not None
        self.assertLess(max(figure["y"] + figure["height"], asked["y"] + asked["height"]), 844)
