"""A bottle's life on a phone: scanned, opened, weighed without a network, empty; and what there is, on the desk."""

from __future__ import annotations

import re

from django.utils import timezone
from playwright.sync_api import expect

from e2e.browser import TABLET
from e2e.hob_case import HobCase
from jugcore.batch.log.events import Event
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.models import Batch
from jugserver.batches.states import keep_state
from jugserver.batches.tests.kitchen import entry
from jugserver.stock.models import Container, Movement

PHONE = (390, 844)


class Bottled(HobCase):
    """What the tests of bottles share: a batch that was filled into three of them."""

    def filled(self, name: str = "Weir Simple") -> list[Container]:
        batch = self.begin_batch(name)
        what = {"kind": "bottled", "stage": "fill", "count": 3, "each_g": 900.0}
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(entry(what, by="rafe"))])
        keep_state(Batch.objects.in_full().get(pk=batch.pk))
        return list(Container.objects.filter(batch=batch).order_by("number"))


class Phone(Bottled):
    def test_a_bottle_s_life_with_no_network_in_the_middle(self) -> None:
        bottle = self.filled()[0]
        page = self.sign_in("rafe", self.open(PHONE), f"/bottles/of/{bottle.batch_id}")
        page.get_by_role("link", name=re.compile(f"^Bottle {bottle.number}")).click()
        page.get_by_role("button", name="Opened", exact=True).click()
        expect(page.get_by_role("button", name="Opened", exact=True)).to_have_count(0)
        expect(page.get_by_role("list").get_by_text("opened, Rafe Oduya", exact=False)).to_be_visible()
        self.assert_accessible(page)
        self.allowed = ["ERR_INTERNET_DISCONNECTED", "Failed to load resource"]
        page.context.set_offline(True)
        page.get_by_role("button", name="Weigh", exact=True).click()
        page.get_by_label("The empty bottle weighs").fill("88")
        page.get_by_label("What the scale shows").fill("500")
        page.get_by_role("button", name="Save 412 g").click()
        expect(page.get_by_text("Kept on this phone until there is a network: weighs 412 g.", exact=False)).to_be_visible()
        self.assertFalse(Movement.objects.filter(container=bottle, kind="weighed").exists())
        page.context.set_offline(False)
        page.evaluate("window.dispatchEvent(new Event('online'))")
        expect(page.get_by_text("Kept on this phone", exact=False)).to_have_count(0)
        expect(page.get_by_text("412 g of", exact=False)).to_be_visible()
        self.assertEqual(Movement.objects.filter(container=bottle, kind="weighed").count(), 1)
        page.get_by_role("button", name="Pour away").click()
        expect(page.get_by_role("button", name="Spilt")).to_be_visible()
        self.assert_accessible(page)
        page.get_by_role("button", name="Pour away").click()
        page.get_by_role("button", name="Empty", exact=True).click()
        expect(page.get_by_text("emptied", exact=True)).to_be_visible()
        expect(page.get_by_role("button", name="Empty", exact=True)).to_have_count(0)
        self.assertEqual(Container.objects.get(pk=bottle.pk).gone, "emptied")

    def test_a_bottle_is_brought_to_a_bar(self) -> None:
        bottle = self.filled()[0]
        page = self.sign_in("mina", self.open(PHONE), f"/bottles/{bottle.pk}")
        page.get_by_role("button", name="Move", exact=True).click()
        page.get_by_role("button", name="Ferry Steps").click()
        expect(page.get_by_text(re.compile(r"batch \d{4}, .* · Ferry Steps"))).to_be_visible()
        # Whoever only looks is offered nothing to press.
        looking = self.sign_in("bars", self.open(PHONE), f"/bottles/{bottle.pk}")
        looking.get_by_role("heading", level=1).wait_for()
        expect(looking.get_by_role("button", name="Empty", exact=True)).to_have_count(0)

    def test_a_bar_sees_its_bottles_and_nothing_else(self) -> None:
        bottle = self.filled()[0]
        page = self.sign_in("kiln", self.open(PHONE), "/formulas")
        expect(page).to_have_url(re.compile("/bottles$"))
        entries = page.get_by_role("navigation", name="Main").get_by_role("link").all_inner_texts()
        self.assertEqual(entries, ["Bottles", "Doses"])
        self.assert_accessible(page)
        page.goto(f"{self.live_server_url}/bottles/{bottle.pk}")
        page.get_by_role("button", name="Opened", exact=True).click()
        expect(page.get_by_role("list").get_by_text("opened, Kiln Lane", exact=False)).to_be_visible()
        self.assertEqual(page.request.get(f"{self.live_server_url}/api/v1/formulas").status, 403)


class Desk(Bottled):
    def test_a_batch_is_started_out_of_the_bottles_there_are(self) -> None:
        page = self.at_the_bench("ines", "Fennel Sweet Cream")
        page.get_by_role("button", name="Start a batch").click()
        dialog = page.get_by_role("dialog", name="Start a batch")
        expect(dialog.get_by_text("There is no bottle of it. Make 230 g of Weir Simple first", exact=False)).to_be_visible()
        page.keyboard.press("Escape")
        bottle = self.filled()[0]
        page.reload()
        page.get_by_role("button", name="Start a batch").click()
        offered = dialog.get_by_role("group", name="Weir Simple: 230 g").get_by_role("checkbox")
        expect(offered).to_have_count(3)
        expect(offered.first).to_be_checked()
        self.assert_accessible(page)
        dialog.get_by_role("button", name="Start", exact=True).click()
        page.get_by_role("navigation", name="Steps").wait_for()
        expect(page.get_by_text(re.compile("Weir Simple, batch [0-9]{4}, bottle 1")).first).to_be_visible()
        self.assertEqual(Container.objects.get(pk=bottle.pk).mass_g, 670.0)

    def test_bottles_of_a_batch_go_into_the_freezer_one_by_one(self) -> None:
        bottles = self.filled()
        batch = bottles[0].batch
        closed = {"kind": "closed", "outcome": "finished", "reason": ""}
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(entry(closed, by="rafe"))])
        page = self.sign_in("rafe", self.open(TABLET), f"/batches/{batch.pk}")
        page.get_by_role("button", name="Into or out of the freezer").click()
        drawer = page.get_by_role("dialog", name="Freezer, bottle by bottle")
        drawer.get_by_role("button", name="All 3 into the freezer").click()
        expect(drawer.get_by_text(re.compile("frozen, .* once thawed"))).to_have_count(3)
        drawer.get_by_role("button", name="Out of the freezer: Bottle 2").click()
        expect(drawer.get_by_role("button", name="Into the freezer: Bottle 2")).to_be_visible()
        expect(drawer.get_by_text(re.compile("frozen, .* once thawed"))).to_have_count(2)
        self.assert_accessible(page)
        self.assertEqual([each.frozen for each in Container.objects.filter(batch=batch).order_by("number")], [True, False, True])

    def test_what_a_sieve_held_back_is_kept_and_has_a_day_of_its_own(self) -> None:
        batch = self.begin_batch("Toasted Hazelnut")
        page = self.tablet(batch)
        page.get_by_role("navigation", name="Steps").get_by_role("button", name=re.compile("^Strain")).click()
        expect(page.get_by_text("Beside it: hazelnuts, pressed.", exact=False)).to_be_visible()
        page.get_by_role("button", name="Keep it aside").click()
        self.show(page, 140)
        expect(page.get_by_text("140 g kept: its day stands under Bottles.", exact=False)).to_be_visible()
        self.assert_accessible(page)
        page.goto(f"{self.live_server_url}/bottles")
        page.get_by_role("button", name="Toasted Hazelnut: hazelnuts, pressed").click()
        page.get_by_role("link", name=re.compile("kept aside$")).click()
        expect(page.get_by_text(re.compile("^(good until|use)"))).to_be_visible()
        expect(page.get_by_role("link", name="Label for it")).to_be_visible()
        self.assert_accessible(page)

    def test_a_batch_is_only_practised_and_nothing_of_it_counts(self) -> None:
        page = self.sign_in("rafe", self.open(TABLET), "/batches")
        page.get_by_role("button", name="Start a batch").click()
        dialog = page.get_by_role("dialog", name="Start a batch")
        pick = dialog.get_by_role("combobox", name="Formula")
        pick.fill("Weir")
        page.get_by_role("option", name="Weir Simple").click()
        dialog.get_by_role("checkbox", name="Only practise it").check()
        dialog.get_by_role("button", name="Start to practise").click()
        page.get_by_role("navigation", name="Steps").wait_for()
        expect(page.get_by_text("Practice: nothing of it counts")).to_be_visible()
        self.assert_accessible(page)
        self.to_the_filling(page)
        self.press(page, "Done, finish the batch")
        expect(page.get_by_text("This is practice: no bottle is filled", exact=False)).to_be_visible()
        expect(page.get_by_role("region", name="Labels")).to_have_count(0)
        self.assertEqual(Container.objects.filter(batch__kind="practice").count(), 0)
        page.get_by_role("link", name="To all batches").click()
        expect(page.get_by_text(re.compile("practice 0001"))).to_have_count(0)
        page.get_by_text("Practice", exact=True).click()
        expect(page.get_by_text(re.compile("practice 0001"))).to_be_visible()
        self.assert_accessible(page)

    def test_a_lead_names_a_place_and_archives_one_where_nothing_stands(self) -> None:
        self.allowed = ["422"]
        self.filled()
        page = self.sign_in("ines", path="/site")
        card = page.get_by_role("region", name="Where bottles stand")
        card.get_by_label("New place").fill("Boat House")
        card.get_by_role("button", name="Add").click()
        expect(card.get_by_role("listitem").filter(has_text="Boat House")).to_be_visible()
        card.get_by_role("button", name="Make it the kitchen: Boat House").click()
        expect(card.get_by_role("listitem").filter(has_text="Boat House")).to_contain_text("kitchen")
        card.get_by_role("button", name="Archive Tannery Yard").click()
        expect(card.get_by_text("3 containers stand at Tannery Yard", exact=False)).to_be_visible()
        card.get_by_role("button", name="Archive Ferry Steps").click()
        expect(card.get_by_role("listitem").filter(has_text="Ferry Steps")).to_have_count(0)
        self.assert_accessible(page)

    def test_what_there_is_by_product_and_place_and_what_must_go_first(self) -> None:
        self.filled("Weir Simple")
        self.filled("Ferryman's Spice")
        Container.objects.filter(formula__name="Weir Simple").update(good_until=timezone.localdate())
        page = self.sign_in("ines")
        self.go_to("Bottles")
        must = page.get_by_role("region", name="Must go today")
        expect(must.get_by_role("listitem").first).to_contain_text("use today")
        expect(must.get_by_role("listitem").first).to_contain_text("Weir Simple")
        page.get_by_role("button", name="Ferryman's Spice").click()
        each = page.get_by_role("region", name="Bottles of Ferryman's Spice")
        expect(each.get_by_role("listitem").first).to_contain_text("batch")
        self.assert_accessible(page)
        each.get_by_role("link").first.click()
        page.get_by_role("heading", name="Ferryman's Spice", level=1).wait_for()


class Lots(Bottled):
    def test_a_lot_is_noted_at_the_scale_and_recalled_to_its_bottles(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        lot = self.weighing(page, "Pear juice").get_by_role("button", name=re.compile("^HO-118"))
        expect(lot).to_have_attribute("aria-pressed", "true")
        self.assert_accessible(page)
        self.as_asked(page, "Pear juice", "Water")
        self.settled(batch, 3)  # with the second line the step is done
        self.assertEqual([each.event["what"].get("lot") for each in batch.entries.filter(kind="weighed").order_by("seq")], ["HO-118", None])
        what = {"kind": "bottled", "stage": "fill", "count": 2, "each_g": 480.0}
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(entry(what, by="rafe"))])
        desk = self.sign_in("ines", path="/pantry/pear_juice")
        desk.get_by_role("link", name="Where it went: lot HO-118").click()
        expect(desk.get_by_role("status").first).to_contain_text("It is in 1 batch; 2 containers of that are still here.")
        expect(desk.get_by_role("textbox", name="Code of the lot")).to_have_value("HO-118")
        self.assert_accessible(desk)
        desk.get_by_role("link", name="Ferryman's Spice", exact=True).first.click()
        desk.get_by_role("link", name="What is in it, lot by lot").click()
        row = desk.get_by_role("row", name=re.compile("^Pear juice"))
        expect(row).to_contain_text("HO-118")
        expect(row).to_contain_text("Hollin Orchard")
        self.assert_accessible(desk)
        row.get_by_role("link", name="HO-118").click()
        expect(desk.get_by_role("heading", name="Recall a lot")).to_be_visible()
        answer = desk.request.get(str(desk.get_by_role("link", name="As a table").evaluate("a => a.href")))
        self.assertEqual((answer.status, answer.text().count("Ferryman")), (200, 2))

    def test_another_lot_is_one_tap_and_none_is_none(self) -> None:
        batch = self.begin_batch()
        page = self.tablet(batch)
        panel = self.weighing(page, "Pear juice")
        panel.get_by_role("button", name=re.compile("^HO-118")).click()
        expect(panel.get_by_text("tap the one you take")).to_be_visible()
        self.as_asked(page, "Pear juice")
        self.settled(batch, 1)
        self.assertNotIn("lot", batch.entries.get().event["what"])


class Counted(Bottled):
    def test_a_place_is_counted_and_what_is_missing_is_gone(self) -> None:
        bottles = self.filled()
        page = self.sign_in("rafe", self.open(TABLET), "/bottles/count")
        page.get_by_label("What stands at").select_option(label="Tannery Yard")
        expect(page.get_by_role("list", name="What should stand here").get_by_role("listitem")).to_have_count(3)
        page.get_by_role("button", name=re.compile("^Not here: Weir Simple.*bottle 2$")).click()
        page.reload()  # what is ticked off stays
        page.get_by_role("button", name="The rest is here").click()
        self.assert_accessible(page)
        page.get_by_role("button", name="Save: 2 here, 1 missing").click()
        expect(page.get_by_role("list", name="What should stand here").get_by_role("listitem")).to_have_count(2)
        expect(page.get_by_text("entries are kept on this device")).to_have_count(0)
        self.assertEqual([Container.objects.get(pk=each.pk).gone for each in bottles], ["", "missing", ""])
        self.assertEqual(Movement.objects.filter(kind="counted").count(), 3)

    def test_a_bar_is_placed_and_sees_what_stands_there(self) -> None:
        self.filled()
        lead = self.sign_in("ines", path="/site")
        lead.get_by_label("Kiln Lane sees the bottles at").select_option(label="Tannery Yard")
        self.assert_accessible(lead)
        bar = self.sign_in("kiln", self.open(PHONE), "/bottles")
        expect(bar.get_by_role("heading", name="Bottles at Tannery Yard")).to_be_visible()
        expect(bar.get_by_role("cell", name=re.compile("^3 bottles"))).to_be_visible()
        lead.get_by_label("Kiln Lane sees the bottles at").select_option(label="Weir Bridge")
        expect(lead.get_by_label("Kiln Lane sees the bottles at")).to_have_value(re.compile(r"\d+"))
        bar.reload()
        expect(bar.get_by_role("heading", name="Bottles at Weir Bridge")).to_be_visible()
        expect(bar.get_by_text("Nothing is on hand yet", exact=False)).to_be_visible()
        self.assert_accessible(bar)
