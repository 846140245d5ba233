"""Holds, foams, keeping and service, as a person meets them: at the desk, in a cup, and at the hob."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.hob_case import HobCase
from jugserver.batches.models import LogEntry
from jugserver.formulas.models import Readiness


class AtTheDesk(HobCase):
    def test_a_hold_is_compared_in_every_place_and_the_chosen_one_is_written(self) -> None:
        page = self.at_the_bench("ines", "Chicory Cocoa")
        page.get_by_role("button", name=re.compile("^Hold, wrapped")).first.click()
        page.get_by_role("button", name="Compare where to keep it").click()
        drawer = page.get_by_role("dialog", name="Where to keep it")
        expect(drawer.get_by_text("in a warmed vacuum flask", exact=False)).to_be_visible()
        self.assert_accessible(page)
        drawer.get_by_role("button", name="Use this: on the hob").click()
        expect(page.get_by_label("Kept where, Hold, wrapped")).to_have_value("hob")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_label("Kept where, Hold, wrapped")).to_have_value("wrapped")

    def test_a_foam_shows_its_air_and_a_cup_its_layers_ice_and_room(self) -> None:
        page = self.at_the_bench("ines", "Rose Cardamom Foam")
        expect(page.get_by_text("l foamed", exact=False)).to_be_visible()
        page.get_by_role("button", name="In a drink").click()
        drawer = page.get_by_role("dialog", name="In a drink")
        drawer.get_by_label("Dose").fill("40 g")
        drawer.get_by_label("Served at").fill("8")
        drawer.get_by_label("Ice", exact=True).fill("150")
        drawer.get_by_label("The cup holds").fill("300")
        layers = drawer.get_by_role("list", name="Layers, the top one first").get_by_role("listitem")
        expect(layers.first).to_contain_text("Rose Cardamom Foam")
        expect(drawer.get_by_text("The ice takes up", exact=False)).to_be_visible()
        expect(drawer.get_by_text("It runs over by", exact=False)).to_be_visible()
        self.assert_accessible(page)

    def test_keeping_asks_then_says_its_days_and_only_then_is_it_ready_for_service(self) -> None:
        self.allowed = ["422"]  # what is not answered is refused, with what it is
        page = self.at_the_bench("ines", "Fennel Sweet Cream")
        card = page.get_by_role("region", name="Keeping")
        expect(card).to_contain_text("No verdict on keeping yet")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Versions, side by side").click()
        page.get_by_role("button", name="Ready for service: version 1").click()
        expect(page.get_by_text("What is its pH?", exact=False)).to_be_visible()
        expect(page.get_by_role("button", name="Ready anyway: version 1")).to_be_disabled()
        page.get_by_label("Why it may be served anyway").fill("Measured at 6.6 on Monday; the sheet is by the fridge.")
        page.get_by_role("button", name="Ready anyway: version 1").click()
        expect(page.get_by_text("anyway, with no answer to", exact=False)).to_be_visible()
        self.assertEqual(Readiness.objects.get().reason, "Measured at 6.6 on Monday; the sheet is by the fridge.")
        self.assert_accessible(page)
        page.get_by_role("link", name="To the bench").click()
        card.get_by_text(re.compile("^Answer ")).click()
        card.get_by_label("pH, measured").fill("6.6")
        expect(card).to_contain_text("Keep chilled")
        expect(card).to_contain_text("heavy cream, once opened")
        card.get_by_label("All of it at 72 °C or more, nothing in after").select_option("no")
        self.assert_accessible(page)


class AtTheHob(HobCase):
    def test_a_hold_begins_with_its_timer_and_ends_with_how_long_it_stood(self) -> None:
        batch = self.begin_batch("Lemongrass Ginger")
        page = self.tablet(batch)
        for words in ("All in as asked", "It is on the heat", "It has reached"):
            page.get_by_role("button", name=re.compile(f"^{words}")).click()
        page.get_by_role("button", name=re.compile("^It stands now")).click()
        expect(page.get_by_role("timer", name="Steep, covered")).to_be_visible()
        self.press(page, "Probe")
        self.show(page, 84)
        expect(page.get_by_text("84.0 °C", exact=True)).to_be_visible()
        self.assert_accessible(page)
        page.get_by_role("button", name=re.compile("^Go on after")).click()
        expect(page.get_by_role("timer", name="Steep, covered")).to_have_count(0)
        self.settled(batch, 8)
        self.assertEqual(LogEntry.objects.filter(batch=batch).order_by("seq").values_list("kind", flat=True)[6], "timer_off")

    def test_a_chocolate_that_was_tried_in_the_funnel_speaks_on_the_bench(self) -> None:
        batch = self.begin_batch("Chicory Cocoa, plain")
        page = self.tablet(batch)
        self.cook(page, batch.name)
        self.press(page, "Time it through the funnel")
        self.show(page, 17)
        page.get_by_text(re.compile("^Log, [0-9]")).click()
        expect(page.get_by_text("ran in 17 s through the funnel at 4 °C", exact=True)).to_be_visible()
        self.sign_in("ines")
        self.open_formula("Chicory Cocoa, plain")
        expect(self.page.get_by_text("By your own trials", exact=False)).to_contain_text("17 s")
