"""Every family, built from nothing at the desk: family, way, name, how much. And cooked at the hob, press by press to the end: with ``--deep``
each of them, else as few as have between them every step, every setting of one and every two that follow one another."""

from __future__ import annotations

import re
import time
from itertools import pairwise

from playwright.sync_api import Page, expect

from e2e.hob_case import HobCase
from jugcore.families.family import Family, School, families
from jugcore.method.stages import Boil
from jugcore.tests import depth
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.services import batch_of
from jugserver.formulas.models import Formula

#: What of a stage may be set otherwise than as usual and shows at the hob.
_SETTINGS = ("where", "how", "tool", "pressed")


def chosen(n: int, family: Family) -> School:
    """The way that is built of a family: another of each, so that ways of every kind are among them."""
    return family.schools[n % len(family.schools)]


def shown_at_the_hob(school: School) -> set[str]:
    """What of its steps a cook is shown otherwise: their kinds, their settings, and which comes behind which."""
    stages = school.document.stages
    found = {f"{one.kind}, {two.kind}" for one, two in pairwise(stages)}
    for stage in stages:
        found |= {stage.kind, *(f"{stage.kind} {name} {value}" for name in _SETTINGS if (value := getattr(stage, name, None)) is not None)}
        if isinstance(stage, Boil):
            found.add(f"boil {stage.until.kind}")
    return found


def cooked() -> set[str]:
    """The families whose formula is cooked in this run."""
    shows = {family.id: shown_at_the_hob(chosen(n, family)) for n, family in enumerate(families())}
    if depth.DEEP:
        return set(shows)
    taken: set[str] = set()
    left = set().union(*shows.values())
    while left:
        best = max(shows, key=lambda id: len(shows[id] & left))
        taken.add(best)
        left -= shows[best]
    return taken


class FamiliesCase(HobCase):
    """Builds and cooks every third of the families, so that the thirds run beside one another."""

    def build(self, page: Page, family: Family, school: School, name: str, *, looked_at: bool) -> int:
        """A new formula kept as a version; gives how many actions that took. Its page of ways is ``looked_at`` by every rule, else for what is cut."""
        self.go_to("Formulas", page)
        page.get_by_role("link", name="New formula").click()
        card = page.get_by_role("link", name=re.compile(f"^{family.title} ", re.I))
        expect(card.locator("svg")).to_have_count(1)  # every family has a drawing of its own
        card.click()
        self.assert_accessible(page) if looked_at else self.assert_whole(page)
        page.get_by_role("button", name=f"Use this: {school.title}", exact=True).click()
        page.get_by_label("What it is called").fill(name)
        page.get_by_label("How much of it").fill("400")
        page.get_by_label("Counted as").select_option("grams")
        page.get_by_role("button", name="Start", exact=True).click()
        expect(page.get_by_label("Formula name")).to_have_value(name)
        expect(page.get_by_text("Yield by weight")).to_be_visible()
        new = page.get_by_label("Formula name").element_handle()
        page.get_by_role("button", name="Save", exact=True).click()
        page.wait_for_function("each => !each.isConnected", arg=new)  # it moves to its own address, and that bench takes this one's place
        expect(page.get_by_text("draft 1, saved")).to_be_visible()
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Save as a version").click()
        dialog = page.get_by_role("dialog", name="Save as a version")
        dialog.get_by_label("What is new in it").fill("First")
        dialog.get_by_role("button", name="Save the version").click()
        page.get_by_role("button", name="Start a batch", exact=True).wait_for()
        return 12  # without the link that leads to the formulas: new, family, way, name, how much, counted as, start, save, more, version, why, keep

    def build_and_cook(self, part: int) -> None:
        self.sign_in("ines")
        to_cook = cooked()
        # Those that are cooked are shared out first, so that each part has about as many.
        for n, family in sorted(enumerate(families()), key=lambda each: each[1].id not in to_cook)[part::3]:
            name = f"From nothing: {family.title}"
            self.assertLessEqual(self.build(self.page, family, chosen(n, family), name, looked_at=n < 3), 12)
            if family.id not in to_cook:
                continue
            self.page.get_by_role("button", name="Start a batch", exact=True).click()
            self.page.get_by_role("dialog", name="Start a batch").get_by_role("button", name="Start", exact=True).click()
            self.page.get_by_role("navigation", name="Steps").wait_for()
            self.cook(self.page, name)
            batch = Batch.objects.get(formula=Formula.objects.get(name=name))
            self.closed(batch)
            found = batch_of(batch.site, batch.pk).report.sheet
            self.assertTrue(all(step.state == "done" for step in found.steps), name)
            self.assertGreater(found.yield_g, 200, name)
            self.page.get_by_role("link", name="To all batches").click()

    def closed(self, batch: Batch) -> None:
        """Waits until the server has the last entry."""
        deadline = time.monotonic() + 20
        while not LogEntry.objects.filter(batch=batch, kind="closed").exists() and time.monotonic() < deadline:
            time.sleep(0.05)
        self.assertTrue(LogEntry.objects.filter(batch=batch, kind="closed").exists(), batch.name)


class First(FamiliesCase):
    def test_a_third_is_built_and_cooked(self) -> None:
        self.build_and_cook(0)


class Second(FamiliesCase):
    def test_a_third_is_built_and_cooked(self) -> None:
        self.build_and_cook(1)


class Third(FamiliesCase):
    def test_a_third_is_built_and_cooked(self) -> None:
        self.build_and_cook(2)
