"""How many taps a normal batch takes, from Today to finished, every amount weighed."""

from __future__ import annotations

import re
from datetime import timedelta
from uuid import uuid4

from playwright.sync_api import Page, expect

from e2e.browser import TABLET
from e2e.hob_case import FERRYMAN, HobCase
from jugcore.batch.log.events import Event
from jugcore.scaling.schema import ScaleRequest
from jugserver.accounts.models import User
from jugserver.batches.log import append
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.services import start_batch
from jugserver.formulas.models import Formula

#: Every press of a finger on the page, counted before anything can stop it.
_COUNT = """addEventListener('pointerdown', () => { sessionStorage.taps = Number(sessionStorage.taps ?? 0) + 1; }, true);"""
#: What can be pressed and is smaller than a wet finger needs, and what is written smaller than an arm's length allows.
_TOO_SMALL = """() => {
  const seen = (each) => each.checkVisibility({ visibilityProperty: true, opacityProperty: true }) && each.getBoundingClientRect().width > 1;
  const name = (each) => (each.getAttribute('aria-label') || each.textContent).trim().slice(0, 50);
  const targets = [...document.querySelectorAll('button, a[href], input:not([type=radio]), select, summary, label')].filter(seen);
  const small = targets.map((each) => [each, each.getBoundingClientRect()]).filter(([, box]) => box.height < 47.5 || box.width < 47.5);
  const texts = [...document.querySelectorAll('body *')].filter(
    (each) => seen(each) && [...each.childNodes].some((node) => node.nodeType === 3 && node.textContent.trim()));
  const fine = texts.filter((each) => parseFloat(getComputedStyle(each).fontSize) < 17.9);
  return [...small.map(([each, box]) => `${name(each)}: ${Math.round(box.width)} × ${Math.round(box.height)} px`),
    ...fine.map((each) => `${name(each)}: text of ${getComputedStyle(each).fontSize}`)];
}"""
#: Steps whose names are broken inside a word: narrower than their longest word.
_BROKEN = """() => [...document.querySelectorAll('nav[aria-label=Steps] button span')].filter((each) => each.scrollWidth > each.clientWidth + 1).map((each) => each.textContent)"""


class Taps(HobCase):
    def setUp(self) -> None:
        super().setUp()
        self.hob = self.open(TABLET)
        self.hob.add_init_script(_COUNT)

    def taps(self, page: Page) -> int:
        return int(page.evaluate("Number(sessionStorage.taps ?? 0)"))

    def looked_at(self, page: Page) -> None:
        """Nothing of it is too small for wet hands, and no step's name is broken."""
        self.assertEqual(page.evaluate(_TOO_SMALL), [])
        self.assertEqual(page.evaluate(_BROKEN), [])

    def cooked(self, name: str) -> None:
        """One of it was cooked this morning, each stage in ten minutes."""
        batch = self.begin_batch(name, minutes_ago=120)
        at = batch.started_at
        whats: list[dict[str, object]] = []
        for stage in batch.document["stages"]:
            whats += [{"kind": "began", "stage": stage["id"]}, {"kind": "done", "stage": stage["id"]}]
        whats.append({"kind": "closed", "outcome": "finished"})
        events = [
            {
                "id": str(uuid4()),
                "at": (at + timedelta(minutes=10 * ((i + 1) // 2))).isoformat(),
                "by": "rafe",
                "device": "tablet-2",
                "seen": 0,
                "what": what,
            }
            for i, what in enumerate(whats)
        ]
        append(actor=User.objects.get(username="rafe"), batch_id=batch.pk, events=[Event.model_validate(event) for event in events])

    def start_again(self, name: str) -> Page:
        """From Today, what was cooked before."""
        self.cooked(name)
        page = self.sign_in("rafe", self.hob)
        page.get_by_role("button", name=f"Cook again: {name}").click()
        page.get_by_role("dialog").get_by_role("button", name="Start", exact=True).click()
        page.get_by_role("navigation", name="Steps").wait_for()
        return page

    def test_a_spiced_syrup_of_six_stages_takes_at_most_twenty_taps(self) -> None:
        page = self.start_again(FERRYMAN)
        self.assert_accessible(page)
        for title in ("Pear juice", "Water", "Golden"):
            self.looked_at(page)
            self.weighing(page, title).get_by_role("button", name=re.compile("^As asked")).click()
        for name in ("It is on the heat", "It has reached 60 °C"):
            self.press(page, name)
        for title in ("Green cardamom", "Mace", "Long pepper", "Star anise", "Dried orange peel"):
            self.weighing(page, title).get_by_role("button", name=re.compile("^As asked")).click()
        for name in ("Done, go on", "It is on the heat"):
            self.press(page, name)
        expect(page.get_by_text(re.compile(r"^target 6\d\.\d °Bx$"))).to_be_visible()
        expect(page.get_by_text(re.compile(r"^last time 10 min \(batch 0\d+"))).to_be_visible()
        self.looked_at(page)
        stop = self.stop_g(page)
        self.press(page, "Weigh the pot")
        self.press(page, f"It shows {stop:,} g: off the heat")
        self.press(page, "Done, go on")  # strained
        self.looked_at(page)
        page.get_by_role("button", name=re.compile(r"^2 filled, \d+ g each$")).click()
        self.press(page, "Done, finish the batch")
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Left over and kept")).click()
        expect(page.get_by_role("heading", name="Finished")).to_be_visible()
        taps = self.taps(page)
        print(f"{FERRYMAN}: {taps} taps")
        self.assertLessEqual(taps, 20)
        batch = Batch.objects.order_by("-number").first()
        assert batch is not None
        self.settled(batch, 22)
        kinds = list(LogEntry.objects.filter(batch=batch).values_list("kind", flat=True))
        self.assertEqual([kinds.count(kind) for kind in ("weighed", "pot_weighed", "bottled", "left_over", "closed")], [8, 1, 1, 1, 1])
        self.assertEqual(batch.factor, 1)

    def test_a_plain_syrup_takes_at_most_ten(self) -> None:
        page = self.sign_in("rafe", self.hob, f"/batches/{self.begin_batch('Weir Simple').pk}")
        for title in ("Water", "White"):
            self.weighing(page, title).get_by_role("button", name=re.compile("^As asked")).click()
        for words in ("It is on the heat", "It has reached", "It is cooling", "It has reached"):
            page.get_by_role("button", name=re.compile(f"^{words}")).click()
        page.get_by_role("button", name=re.compile(r"^\d+ filled, \d+ g each$")).click()
        self.press(page, "Done, finish the batch")
        page.get_by_role("dialog").or_(page.get_by_role("heading", name="Finished")).first.wait_for()
        if page.get_by_role("dialog").count():
            page.get_by_role("button", name=re.compile("^Left over and kept")).click()
        expect(page.get_by_role("heading", name="Finished")).to_be_visible()
        print(f"Weir Simple: {self.taps(page)} taps")
        self.assertLessEqual(self.taps(page), 10)

    def test_the_figure_stays_in_sight_however_far_the_page_is_scrolled(self) -> None:
        page = self.sign_in("rafe", self.hob, f"/batches/{self.begin_batch().pk}")
        page.get_by_role("navigation", name="Steps").get_by_role("button", name=re.compile("^Ferryman blend")).click()
        figure = self.weighing(page, "Green cardamom").get_by_text("12.04 g").first
        for width, height in ((820, 920), (1280, 640)):
            page.set_viewport_size({"width": width, "height": height})
            page.evaluate("scrollTo(0, document.body.scrollHeight)")
            self.assertGreater(page.evaluate("scrollY"), 100)
            expect(figure).to_be_in_viewport(ratio=1)

    def test_a_formula_is_cooked_again_as_much_as_the_last_time(self) -> None:
        start_batch(
            actor=User.objects.get(username="rafe"), formula_id=Formula.objects.get(name="Weir Simple").pk, version=1,
            scale=ScaleRequest(by="factor", value=0.5),
        )  # fmt: skip
        page = self.sign_in("rafe", self.hob, f"/formulas/{Formula.objects.get(name='Weir Simple').pk}")
        page.get_by_role("button", name="Cook again").click()
        dialog = page.get_by_role("dialog", name="Start a batch")
        expect(dialog.get_by_label("How many times as much")).to_have_value("0.5")
        dialog.get_by_role("button", name="Start", exact=True).click()
        page.get_by_role("navigation", name="Steps").wait_for()
        newest = Batch.objects.order_by("-number").first()
        assert newest is not None
        self.assertEqual((newest.name, newest.factor), ("Weir Simple", 0.5))

    def test_as_asked_tapped_twice_is_one_line(self) -> None:
        batch = self.begin_batch()
        page = self.sign_in("rafe", self.hob, f"/batches/{batch.pk}")
        button = self.weighing(page, "Pear juice").get_by_role("button", name=re.compile("^As asked"))
        expect(button).to_be_enabled()
        box = button.bounding_box()
        assert box is not None
        page.mouse.dblclick(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.weighing(page, "Water").wait_for()
        self.settled(batch, 1)
        page.wait_for_timeout(800)  # a second entry would come as well
        self.assertEqual(list(LogEntry.objects.filter(batch=batch).values_list("kind", flat=True)), ["weighed"])

    def test_a_bowl_is_weighed_once_and_subtracted_from_then_on(self) -> None:
        batch = self.begin_batch()
        page = self.sign_in("rafe", self.hob, f"/batches/{batch.pk}")
        juice = self.weighing(page, "Pear juice")
        juice.get_by_role("button", name="Something else").click()
        juice.get_by_role("button", name="Another bowl").click()
        juice.get_by_role("textbox", name="What the empty bowl weighs").fill("0")
        expect(juice.get_by_role("alert")).to_contain_text("more than 0 g")
        for key in ("2", "3", "1"):
            juice.get_by_role("button", name=key, exact=True).click()
        expect(juice.get_by_role("textbox")).to_have_value("0231")
        juice.get_by_role("button", name="Use 231 g").click()
        juice.get_by_role("textbox").fill("661")
        juice.get_by_role("button", name="Save 430 g").click()
        water = self.weighing(page, "Water")
        expect(water).to_contain_text("On the scale besides: Bowl, 231 g")
        water.get_by_role("button", name=re.compile("^As asked")).click()
        self.settled(batch, 3)
        entered = [each["what"] for each in LogEntry.objects.filter(batch=batch, kind="weighed").values_list("event", flat=True)]
        self.assertEqual([(what["reads_g"], what["tare_g"]) for what in entered], [(661, 231), (661, 231)])
