"""A batch on the tablet by the hob: cooked, overshot, put right, filled, labelled."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, expect
from pypdf import PdfReader

from e2e.browser import TABLET
from e2e.hob_case import FERRYMAN, MOVED, HobCase
from jugserver.batches.models import Batch, LogEntry

#: Where the page is wider than its window: what stands over the side, and how far. [px]
_OVER_THE_SIDE = """() => {
  const { scrollWidth, clientWidth } = document.documentElement;
  if (scrollWidth <= clientWidth) return [];
  const over = [...document.body.querySelectorAll('*')].filter((each) => each.getBoundingClientRect().right > clientWidth + 0.5);
  return [`the page: ${scrollWidth - clientWidth}`,
    ...over.map((each) => `${each.tagName}.${each.className} “${each.textContent.slice(0, 40)}”: ${Math.round(each.getBoundingClientRect().right - clientWidth)}`)];
}"""


class Cooking(HobCase):
    def test_a_whole_batch_overshot_and_put_right(self) -> None:
        page = self.open(TABLET)
        self.sign_in("rafe", page)
        self.go_to("Batches", page)
        page.get_by_role("button", name="Start a batch").click()
        page.get_by_role("combobox", name="Formula").fill("Ferry")
        page.get_by_role("option", name=FERRYMAN).click()
        page.get_by_role("button", name="Start", exact=True).click()
        page.get_by_role("navigation", name="Steps").wait_for()
        self.assert_accessible(page)
        # The juice came short: water and sugar follow it.
        self.weigh(page, "Pear juice", 410)
        expect(self.line(page, "Pear juice")).to_contain_text("20 g short of 430")
        expect(self.line(page, "Water")).to_contain_text("410")
        self.line(page, "Pear juice").click()
        expect(self.weighing(page, "Pear juice")).to_contain_text("More Pear juice")
        self.weigh(page, "Pear juice", 20)
        expect(self.line(page, "Water")).to_contain_text("430")
        self.weigh(page, "Water", 430)
        self.weigh(page, "Golden", 860)
        self.press(page, "It is on the heat")
        page.get_by_role("button", name="Probe").click()
        self.show(page, 61)
        self.press(page, "It has reached 60 °C")
        self.as_asked(page, "Green cardamom", "Mace", "Long pepper", "Star anise", "Dried orange peel")
        self.press(page, "Done, go on")
        self.press(page, "It is on the heat")
        stop = self.stop_g(page)
        expect(page.get_by_text("Hot sugar burns deeply")).to_be_visible()
        self.assert_accessible(page)
        # A slip of the finger is said and not reckoned with; then too early to order anything, then past the stop.
        page.get_by_role("button", name="Weigh the pot").click()
        self.show(page, 9000)
        expect(page.get_by_role("alert").filter(has_text="more than everything that went in")).to_be_visible()
        expect(page.get_by_role("button", name="Take it off the heat")).to_have_count(0)
        page.get_by_role("button", name="Weigh the pot").click()
        self.show(page, stop + 60)
        expect(page.get_by_text("grams to go")).to_be_visible()
        expect(page.get_by_role("button", name="I have taken it off")).to_be_visible()
        page.get_by_role("button", name="Weigh the pot").click()
        self.show(page, stop - 90)
        expect(page.get_by_text("grams past the stop")).to_be_visible()
        self.press(page, "Take it off the heat")
        page.get_by_role("button", name=re.compile("^Put right")).click()
        page.get_by_role("region", name="°Brix").get_by_role("button", name="What can be done").click()
        page.get_by_role("button", name="Apply: Stir in 90 g of water after the boil").click()
        expect(page.get_by_role("heading", name="Weigh 90 g more water into Wide pot")).to_be_visible()
        self.weigh(page, "More water", 90)
        page.get_by_role("button", name="Weigh what it gave").click()
        self.show(page, 1390)
        self.press(page, "Done, go on")
        for _ in range(2):
            page.get_by_role("button", name="One filled", exact=True).click()
            page.get_by_role("button", name=re.compile("^As asked")).click()
        page.get_by_role("button", name="Left over, kept").click()
        self.show(page, 100)
        self.assert_accessible(page)
        self.press(page, "Done, finish the batch")
        expect(page.get_by_role("heading", name="Finished")).to_be_visible()
        batch = Batch.objects.get()
        weighed = page.get_by_text(re.compile("g filled and kept")).inner_text()
        sums = sum(
            e["what"].get("each_g", 0) + e["what"].get("mass_g", 0) for e in LogEntry.objects.filter(batch=batch).values_list("event", flat=True)
        )
        self.assertIn(f"{sums:,.0f} g filled and kept", weighed)
        page.get_by_role("link", name="To all batches").click()
        expect(page.get_by_role("region", name="Cooked")).to_contain_text(FERRYMAN)

    def test_the_wrong_sugar_a_weak_juice_and_a_batch_given_up(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.weigh(page, "Pear juice", 430)

        def went_in(name: str) -> Locator:
            page.get_by_role("button", name=re.compile("^Put right")).click()
            region = page.get_by_role("region", name="What really went in")
            region.get_by_role("combobox", name="Of these").click()
            page.get_by_role("option", name=re.compile(f"^{name}")).click()
            return region

        region = went_in("Golden")
        region.get_by_role("combobox", name="Something else went in").fill("Demerara")
        page.get_by_role("option", name=re.compile("^Demerara")).first.click()
        region.get_by_role("button", name="That went in").click()
        region = went_in("Pear juice")
        region.get_by_label("A drop of it on the refractometer").fill("9.5")
        region.get_by_role("button", name="Use this value").click()
        self.settled(batch, 3)
        page.get_by_role("button", name="Add sugar: to do").click()
        expect(page.get_by_role("heading", name=re.compile("demerara sugar into Wide pot"))).to_be_visible()
        page.get_by_role("button", name=re.compile("^Put right")).click()
        expect(page.get_by_role("dialog")).to_contain_text("Near enough")
        again = page.get_by_role("region", name="Start again")
        expect(again.get_by_role("button", name="Stop this batch")).to_be_disabled()
        again.get_by_label("Why this batch is stopped").fill("dropped the pot")
        again.get_by_label("How much of it there is").fill("1290")
        expect(again.get_by_text("more than there is by what was entered", exact=False)).to_be_visible()
        expect(again.get_by_role("button", name="Stop this batch")).to_be_disabled()
        again.get_by_label("How much of it there is").fill("425 g")
        again.get_by_role("button", name="Stop this batch").click()
        expect(page.get_by_role("heading", name="Stopped: dropped the pot")).to_be_visible()
        expect(page.get_by_text(re.compile("· 425 g thrown away$"))).to_be_visible()
        self.settled(batch, 5)
        self.assert_accessible(page)
        page.get_by_role("button", name="Start again").click()
        page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
        expect(page.get_by_text(f"batch {batch.number + 1:04d}")).to_be_visible()

    def test_a_spice_poured_too_freely_makes_more_of_the_same_blend(self) -> None:
        page = self.tablet(self.begin_batch())
        for _ in ("Juice and water", "Add sugar"):
            self.press(page, "All in as asked, not weighed here")
        self.press(page, "It is on the heat")
        self.press(page, "It has reached 60 °C")
        self.as_asked(page, "Green cardamom")
        self.weigh(page, "Mace", 4.5)
        self.press(page, "Put right (1)")
        mace = page.get_by_role("region", name=re.compile("^Mace"))
        mace.get_by_role("button", name="What can be done").click()
        expect(mace).to_contain_text("12 % of what is put together, instead of 9 %")
        mace.get_by_role("button", name=re.compile("^Apply: Make more of the same blend.*keep the rest$")).click()
        expect(self.line(page, "Long pepper")).to_contain_text("9.00")
        expect(page.get_by_role("button", name="Put right", exact=True)).to_be_visible()  # it is dealt with
        self.as_asked(page, "Long pepper", "Star anise", "Dried orange peel")
        self.press(page, "All in, go on")
        self.as_asked(page, "More green cardamom")
        expect(page.get_by_role("heading", name="Weigh 37.84 g of Ferryman blend into Wide pot")).to_be_visible()
        # Another time it is left as it is, and no longer asked about.
        other = self.tablet(self.begin_batch())
        self.weigh(other, "Pear juice", 450)
        other.get_by_role("button", name=re.compile(r"^Put right \(")).click()
        juice = other.get_by_role("region", name=re.compile("^Pear juice"))
        juice.get_by_role("button", name="What can be done").click()
        juice.get_by_role("button", name="Leave it as it is").click()
        expect(other.get_by_role("dialog")).to_contain_text("Pear juice, pressed 450 g left as it is")
        expect(juice).to_have_count(0)

    def test_a_timer_rings_until_it_is_turned_off_and_not_where_ringing_is_off(self) -> None:
        batch = self.begin_batch()
        page = self.open(TABLET)
        page.add_init_script(
            "window.struck = 0; const start = OscillatorNode.prototype.start; OscillatorNode.prototype.start = function (at) { window.struck += 1; start.call(this, at); };"
        )
        page.clock.install()  # nobody waits for a timer here: its time is moved on
        page.add_init_script(MOVED)
        self.sign_in("rafe", page, f"/batches/{batch.pk}")
        page.get_by_role("button", name="Set a timer").click()
        self.show(page, 0.1)
        expect(page.get_by_role("timer")).to_contain_text(re.compile("00:0[0-6]"))
        self.move(page, 6500)
        expect(page.get_by_role("timer")).to_contain_text("time is up")
        page.wait_for_function("() => window.struck === 2")  # two tones
        self.move(page, 6500)
        page.wait_for_function("() => window.struck === 4")  # and again after a while
        page.get_by_role("button", name=re.compile("^Turn off")).click()
        expect(page.get_by_role("timer")).to_have_count(0)
        self.move(page, 20_000, every_tick=True)
        self.assertEqual(page.evaluate("window.struck"), 4)
        ring = page.get_by_role("button", name="Ring when a timer runs out")
        ring.click()
        expect(ring).to_have_attribute("aria-pressed", "false")
        page.get_by_role("button", name="Set a timer").click()
        self.show(page, 0.1)
        self.move(page, 6500)
        expect(page.get_by_role("timer")).to_contain_text("time is up")
        self.move(page, 20_000, every_tick=True)
        self.assertEqual(page.evaluate("window.struck"), 4)
        # Else a later answer would have brought the page's time back to today's.
        self.assertGreater(page.evaluate("window.movedAnswers"), 0)

    def test_a_temperature_that_was_missed_is_made_up_for(self) -> None:
        page = self.tablet(self.begin_batch())
        for name in ("All in as asked, not weighed here", "All in as asked, not weighed here", "It is on the heat"):
            self.press(page, name)
        page.get_by_role("button", name="Probe").click()
        self.show(page, 52)
        self.press(page, "Go on at 52.0 °C")
        page.get_by_role("button", name=re.compile(r"^Put right \(")).click()
        missed = page.get_by_role("region", name="Dissolve")
        expect(missed).to_contain_text("52 °C instead of 60 °C")
        missed.get_by_role("button", name="What can be done").click()
        missed.get_by_role("button", name="Apply: Warm it to 60 °C once more").click()
        expect(page.get_by_role("button", name="Dissolve, again: now")).to_be_visible()
        expect(page.get_by_role("heading", name="Warm to 60 °C, stirring")).to_be_visible()

    def test_the_other_pots_and_their_timers_are_in_sight(self) -> None:
        tea = self.begin_batch("Weir Simple")
        page = self.tablet(tea)
        page.get_by_role("button", name="Set a timer").click()
        page.get_by_role("dialog").get_by_role("button", name="3 min").click()
        other = self.tablet(self.begin_batch())
        pot = other.get_by_role("region", name="The other pots").get_by_role("link")
        expect(pot).to_contain_text("Weir Simple")
        expect(pot.get_by_role("timer")).to_contain_text(re.compile("0[23]:"))
        self.assert_accessible(other)
        pot.click()
        expect(other.get_by_role("heading", name="Weir Simple")).to_be_visible()
        expect(other.get_by_role("region", name="The other pots").get_by_role("link")).to_contain_text(FERRYMAN)

    def test_what_a_cook_looks_for_at_the_boil_is_in_sight_in_both_sizes(self) -> None:
        batch = self.begin_batch()
        for size in (TABLET, (1280, 800)):
            page = self.open(size)
            self.sign_in("rafe", page, f"/batches/{batch.pk}")
            if size == TABLET:
                for name in ("All in as asked, not weighed here", "All in as asked, not weighed here", "It is on the heat", "It has reached 60 °C"):
                    self.press(page, name)
                for name in ("All in as asked, not weighed here", "Done, go on", "It is on the heat"):
                    self.press(page, name)
                page.get_by_role("button", name="Weigh the pot").click()
                self.show(page, self.stop_g(page) + 150)
            foot = page.get_by_role("contentinfo").bounding_box()
            assert foot is not None
            for what in (
                page.get_by_text("grams to go"), page.get_by_text("Hot sugar burns"), page.get_by_text("stop at", exact=False).first,
                page.get_by_text("ready about", exact=True), page.get_by_text("by weight, not measured"), page.get_by_role("button", name="Probe"),
                page.get_by_role("button", name="Set a timer"), page.get_by_role("button", name="A drop on the glass"),
            ):  # fmt: skip
                expect(what).to_be_visible()
                box = what.bounding_box()
                assert box is not None
                self.assertLessEqual(box["y"] + box["height"], foot["y"], (size, what))

    def test_labels_go_out_and_into_the_log(self) -> None:
        batch = self.begin_batch("Weir Simple")
        page = self.tablet(batch)
        self.to_the_filling(page)
        self.press(page, "Done, finish the batch")
        labels = page.get_by_role("region", name="Labels")
        labels.get_by_text("For the day one is opened").click()
        labels.get_by_role("combobox", name="Once it is open").click()
        page.get_by_role("option", name=re.compile("^Discard four hours")).click()
        labels.get_by_role("combobox", name="Printed on").click()
        page.get_by_role("option", name="Sheets of A4, to cut").click()
        labels.get_by_label("How many").fill("3")
        with page.expect_download() as download:
            labels.get_by_role("link", name="Labels, PDF").click()
        self.assertIn("opened-label", download.value.suggested_filename)
        pages = PdfReader(download.value.path()).pages
        self.assertEqual((len(pages), " ".join(pages[0].extract_text().split()).count("Discard four hours after leaving the cold.")), (1, 3))
        self.press(page, "Record waste")
        page.get_by_role("dialog").get_by_label("How much").fill("55")
        page.get_by_role("dialog").get_by_label("Why").fill("a bottle cracked")
        self.press(page, "Save")
        expect(page.get_by_text(re.compile("55 g thrown away$"))).to_be_visible()
        page.get_by_text(re.compile("^Log, .* entries")).click()
        expect(page.get_by_role("listitem").filter(has_text="3 labels for the day it is opened handed out")).to_be_visible()
        self.assert_accessible(page)

    def test_a_wet_press_is_taken_back_by_holding(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        page.clock.install()
        self.weigh(page, "Pear juice", 430)
        undo = page.get_by_role("button", name=re.compile("^Undo: 430 g of pear juice"))
        undo.click()  # a short press does nothing
        self.settled(batch, 1)
        box = undo.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.mouse.down()
        page.clock.fast_forward(1200)
        page.mouse.up()
        expect(self.line(page, "Pear juice")).to_contain_text("to weigh")
        self.settled(batch, 2)

    def test_every_press_can_be_made_from_a_keyboard(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.line(page, "Pear juice").focus()
        page.keyboard.press("Enter")
        expect(self.weighing(page, "Pear juice").get_by_role("textbox")).to_be_focused()
        page.keyboard.type("430")
        page.keyboard.press("Enter")
        expect(self.line(page, "Pear juice")).to_contain_text("weighed")
        page.get_by_role("button", name=re.compile("^Undo: 430 g")).focus()
        page.keyboard.press("Enter")
        expect(self.line(page, "Pear juice")).to_contain_text("to weigh")
        page.get_by_role("button", name="All in as asked, not weighed here").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=re.compile("golden granulated sugar"))).to_be_visible()

    def test_a_whole_batch_overshot_and_put_right_without_a_pointer(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)

        def type_in(value: float | str) -> None:
            expect(page.get_by_role("dialog").get_by_role("textbox")).to_be_focused()
            page.keyboard.type(str(value))
            page.keyboard.press("Enter")
            expect(page.get_by_role("dialog")).to_have_count(0)

        self.key(page, re.compile("^Pear juice"))
        for name, grams in (("Pear juice", 430), ("Water", 431)):  # the keys go on with the next line
            expect(self.weighing(page, name).get_by_role("textbox")).to_be_focused()
            page.keyboard.type(str(grams))
            page.keyboard.press("Enter")
        for name in ("All in as asked, not weighed here", "It is on the heat", "It has reached 60 °C", "All in as asked, not weighed here"):
            self.key(page, name)
        for name in ("Done, go on", "It is on the heat", "Weigh the pot"):
            self.key(page, name)
        type_in(self.stop_g(page) - 90)
        self.key(page, "Take it off the heat")
        self.key(page, re.compile(r"^Put right \("))
        self.key(page, "What can be done")
        self.key(page, re.compile("^Apply: Stir in .* of water after the boil$"))
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.key(page, re.compile("^As asked: .*, go on$"))
        self.key(page, "Weigh what it gave")
        type_in(1380)
        self.key(page, "Done, go on")
        self.key(page, "One filled")
        type_in(633)
        for name in ("Done, finish the batch", "It was never there: the yield is what was filled"):
            self.key(page, name)
        expect(page.get_by_role("heading", name="Finished")).to_be_visible()
        expect(page.get_by_text(re.compile("^633 g filled and kept"))).to_be_visible()
        self.assert_accessible(page)

    def test_at_four_hundred_percent_nothing_runs_off_the_side(self) -> None:
        batch = self.begin_batch()
        page = self.open((320, 640))
        self.sign_in("rafe", page, f"/batches/{batch.pk}")
        for stage in ("Juice and water", "Dissolve", "Boil", "Strain", "Fill"):
            page.get_by_role("button", name=re.compile(f"^{stage}: ")).click()
            self.assertEqual(page.evaluate(_OVER_THE_SIDE), [], stage)

    def test_the_bars_may_look_and_not_enter(self) -> None:
        page = self.tablet(self.begin_batch(), "bars")
        expect(page.get_by_role("heading", name="Weigh 2 things into Wide pot")).to_be_visible()
        expect(page.get_by_role("button", name=re.compile("All in"))).to_have_count(0)
        expect(self.line(page, "Pear juice")).to_be_disabled()

    def test_a_shared_tablet_passes_from_hand_to_hand(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        self.weigh(page, "Pear juice", 430)
        self.settled(batch, 1)
        self.allowed = ["status of 422"]  # the wrong PIN
        page.get_by_role("button", name="Rafe Oduya is cooking: somebody else").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Mina Thorsen").click()
        nine, whole = dialog.get_by_role("button", name="9", exact=True).bounding_box(), dialog.bounding_box()
        assert nine is not None and whole is not None
        self.assertLessEqual(nine["x"] + nine["width"], whole["x"] + whole["width"])
        for pin in ("1111", "3690"):
            for key in pin:
                dialog.get_by_role("button", name=key, exact=True).click()
            dialog.get_by_role("button", name="Mina Thorsen goes on").click()
            if pin == "1111":
                expect(dialog.get_by_role("alert")).to_contain_text("is wrong")
        expect(page.get_by_role("button", name="Mina Thorsen is cooking: somebody else")).to_be_visible()
        self.weigh(page, "Water", 432)
        self.settled(batch, 3)
        entries = LogEntry.objects.filter(batch=batch, kind="weighed").select_related("sent_by")
        self.assertEqual([(e.event["by"], e.sent_by.username) for e in entries], [("rafe", "rafe"), ("mina", "mina")])
        page.get_by_text("Log, 3 entries").click()
        expect(page.get_by_role("listitem").filter(has_text="432 g of water")).to_contain_text("Mina Thorsen")

    def test_a_timer_runs_on_every_tablet(self) -> None:
        batch = self.begin_batch()
        page, other = self.tablet(batch), self.tablet(batch, "mina")
        page.get_by_role("button", name="Set a timer").click()
        self.show(page, 3)
        expect(page.get_by_role("timer")).to_contain_text(re.compile("0[23]:"))
        expect(other.get_by_role("timer")).to_contain_text(re.compile("0[23]:"))
        other.get_by_role("button", name=re.compile("^Turn off")).click()
        expect(page.get_by_role("timer")).to_have_count(0)
