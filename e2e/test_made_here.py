"""A formula of ours in another: added like any ingredient, told when there is a newer version, found where it is used, never in itself."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from jugserver.accounts.models import User
from jugserver.formulas.models import Formula, VersionPart
from jugserver.formulas.services import formula_of, save_draft
from jugserver.formulas.versions import save_version


class MadeHere(BrowserCase):
    def test_a_cream_is_sweetened_with_our_own_syrup_and_says_so(self) -> None:
        self.allowed = ["422"]  # what is half typed has no amount yet
        page = self.sign_in("ines", path="/formulas/new/blank")
        page.get_by_label("Formula name").fill("Kiln Cream")
        self.add_stage("Add")
        adder = page.get_by_role("combobox", name="Add an ingredient to Add")
        for typed, option in (("300 g heavy cream", "Heavy cream"), ("100 g weir simple", "Weir Simple")):
            adder.fill(typed)
            page.get_by_role("option", name=re.compile(f"^{option}")).first.click()
        expect(page.get_by_role("button", name="About Weir Simple")).to_contain_text("made here, version 1")
        self.expect_reading("Sugars in 100 g", "14")
        self.assert_accessible()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("draft 1, saved")).to_be_visible()
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Save as a version").click()
        page.get_by_role("dialog").get_by_role("textbox").fill("First.")
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Save")).click()
        expect(page.get_by_text("Saved as version 1.")).to_be_visible()
        self.assertEqual([part.uses.formula.name for part in VersionPart.objects.filter(version__formula__name="Kiln Cream")], ["Weir Simple"])

    def test_a_newer_version_is_looked_at_before_it_is_used(self) -> None:
        lead = User.objects.get(username="ines")
        simple = Formula.objects.get(name="Weir Simple")
        assert lead.site is not None
        document = formula_of(lead.site, simple.pk).document
        raw = document.model_dump(mode="json", exclude_none=True)
        sugar = next(line for stage in raw["stages"] for line in stage.get("lines", ()) if "sugar" in line["substance"])
        sugar["amount"] = "1500 g"
        draft = save_draft(actor=lead, id=simple.pk, draft=simple.draft, document=document.model_validate(raw)).draft
        save_version(actor=lead, id=simple.pk, draft=draft, note="Two to one.")
        page = self.at_the_bench("ines", "Fennel Sweet Cream")
        before = self.reading("°Brix")
        notice = page.get_by_text("This is made with version 1 of Weir Simple. Its newest is version 2.")
        expect(notice).to_be_visible()
        page.get_by_role("button", name="See what would change").click()
        drawer = page.get_by_role("dialog", name="Weir Simple, version 1 to 2")
        row = drawer.get_by_role("row", name=re.compile("^°Brix"))
        expect(row).to_contain_text(before)
        self.assert_accessible()
        self.assertEqual(self.reading("°Brix"), before)
        drawer.get_by_role("button", name="Use version 2").click()
        expect(notice).to_have_count(0)
        expect(page.get_by_role("button", name="About Weir Simple")).to_contain_text("made here, version 2")
        self.assertNotEqual(self.reading("°Brix"), before)
        page.get_by_role("button", name="Undo", exact=True).first.click()
        self.expect_reading("°Brix", before)

    def test_where_it_is_used_leads_there_and_a_circle_is_refused_with_its_names(self) -> None:
        self.allowed = ["422"]
        page = self.at_the_bench("ines", "Weir Simple")
        page.get_by_role("button", name="More for this formula").click()
        page.get_by_role("menuitem", name="Where it is used").click()
        drawer = page.get_by_role("dialog", name="Where it is used")
        expect(drawer.get_by_role("row", name=re.compile("Fennel Sweet Cream, version 2"))).to_contain_text("version 1")
        self.assert_accessible()
        page.get_by_role("button", name="Close where it is used").click()
        page.get_by_role("button", name="Add to Add").click()
        page.get_by_role("combobox", name="Add an ingredient to Add").fill("10 g fennel sweet")
        page.get_by_role("option", name=re.compile("^Fennel Sweet Cream")).click()
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.get_by_text("Fennel Sweet Cream is made with Weir Simple itself", exact=False).first).to_be_visible()
