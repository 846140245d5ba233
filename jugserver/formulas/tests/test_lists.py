"""Lists of formulas, and what is known of each at once when what it rests on is another."""

from __future__ import annotations

from typing import Any
from unittest import mock
from uuid import uuid4

from django.db import transaction

from jugcore.matter.substance_document import SubstanceDoc
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas.models import Formula, FormulaState
from jugserver.formulas.services import archive_formula, bring_back_formula, save_draft, start_formula
from jugserver.formulas.states import catch_up
from jugserver.pantry.services import put_away, save_ingredient


class Lists(ShopCase):
    def setUp(self) -> None:
        self.lead = self.people["lead"]
        self.client_ = self.signed_in("lead")

    def page(self, ask: str = "") -> dict[str, Any]:
        answer = self.client_.get(f"/api/v1/formulas?{ask}")
        self.assertEqual(answer.status_code, 200, answer.content)
        found: dict[str, Any] = answer.json()
        return found

    def names(self, ask: str = "") -> list[str]:
        return [card["name"] for card in self.page(ask)["items"]]

    def test_pages_searches_and_those_that_need_a_look(self) -> None:
        for n in range(55):
            start_formula(actor=self.lead, document=self.document.model_copy(update={"name": f"Plain {n}"}))
        foam = start_formula(actor=self.lead, document=demo_document("black-sesame-foam"))
        raw = self.raw(name="Half done")
        raw["stages"][0]["lines"][0]["amount"] = "some of it, later"
        self.send(self.client_, "POST", "/api/v1/formulas", {"document": raw})
        first = self.page()
        second = self.page(f"cursor={first['next']}")
        self.assertEqual((len(first["items"]), len(second["items"]), second["next"]), (50, 7, None))
        self.assertEqual(len({card["id"] for page in (first, second) for card in page["items"]}), 57)
        self.assertEqual(self.names("q=cold foam"), ["Black Sesame Foam"])
        self.assertEqual(self.names("troubled=true"), ["Half done"])
        self.assertEqual(self.names(f"ids={foam.id}&ids={uuid4()}"), ["Black Sesame Foam"])
        self.assertEqual(self.names("q=%25"), [])

    def test_a_list_walks_nothing_where_nothing_changed(self) -> None:
        start_formula(actor=self.lead, document=self.document)
        with mock.patch("jugserver.formulas.states.report", side_effect=AssertionError("it was walked")):
            self.assertEqual(len(self.names()), 1)

    def test_another_release_has_everything_worked_out_anew(self) -> None:
        start_formula(actor=self.lead, document=self.document)
        FormulaState.objects.update(core_version="0", mark=None)
        self.assertIsNone(self.page()["items"][0]["mark"], "it is shown as it was left")
        with mock.patch("jugserver.formulas.states.by_and_by", side_effect=lambda key, deed: deed()):
            catch_up()
        self.assertIsNotNone(self.page()["items"][0]["mark"])


class CrossContact(ShopCase):
    """What equipment met is known at once, whatever a process keeps."""

    def setUp(self) -> None:
        self.lead = self.people["lead"]

    def cross_contact(self, name: str = "Mine") -> list[str]:
        line = {"id": "water", "substance": "water", "amount": "900 g"}
        stages = [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": [line]},
            {"id": "mix", "kind": "mix", "vessel": "jug", "tool": "stick_blender"},
        ]
        answer = self.send(self.signed_in("lead"), "POST", "/api/v1/walk", {"name": name, "stages": stages})
        return [each["allergen"] for each in answer.json()["cross_contact"]]

    def of_own(self, allergens: list[str], number: int = 0) -> SubstanceDoc:
        row = save_ingredient(
            actor=self.lead, key="own_paste", number=number,
            document=SubstanceDoc.model_validate({"title": "Paste", "kind": "other", "composition_g_per_100g": {"other_fat": 60, "insoluble": 40}, "allergens": allergens}),
        )  # fmt: skip
        return row.number

    def blended(self, name: str, substance: str) -> Any:
        line = {"id": "it", "substance": substance, "amount": "100 g"}
        stages = [
            {"id": "in", "kind": "add", "vessel": "jug", "lines": [line]},
            {"id": "mix", "kind": "mix", "vessel": "jug", "tool": "stick_blender"},
        ]
        return self.document.model_validate({"name": name, "stages": stages})

    def test_an_allergen_written_down_later_counts_at_once(self) -> None:
        number = self.of_own([])
        start_formula(actor=self.lead, document=self.blended("With paste", "own_paste"))
        self.assertEqual(self.cross_contact(), [])
        number = self.of_own(["sesame"], number)
        self.assertEqual(self.cross_contact(), ["sesame"])
        self.of_own([], number)
        self.assertEqual(self.cross_contact(), [])

    def test_one_put_away_and_its_formula_put_away_and_brought_back(self) -> None:
        self.of_own(["sesame"])
        formula = start_formula(actor=self.lead, document=self.blended("With paste", "own_paste"))
        self.assertEqual(self.cross_contact(), ["sesame"])
        put_away(actor=self.lead, key="own_paste")
        self.assertEqual(self.cross_contact(), ["sesame"], "formulas keep what was put away")
        archive_formula(actor=self.lead, id=formula.id)
        self.assertEqual(self.cross_contact(), [])
        bring_back_formula(actor=self.lead, id=formula.id)
        self.assertEqual(self.cross_contact(), ["sesame"])

    def test_another_draft_and_another_name(self) -> None:
        formula = start_formula(actor=self.lead, document=self.blended("With nuts", "almond_drink"))
        self.assertEqual(self.cross_contact(), ["nuts"])
        self.assertEqual(self.cross_contact("With nuts"), [], "its own formula is not another")
        saved = save_draft(actor=self.lead, id=formula.id, draft=1, document=self.blended("Nuts no more", "almond_drink"))
        self.assertEqual((self.cross_contact("With nuts"), self.cross_contact("Nuts no more")), (["nuts"], []))
        save_draft(actor=self.lead, id=formula.id, draft=saved.draft, document=self.blended("Nuts no more", "oat_drink"))
        self.assertEqual(self.cross_contact(), ["gluten"])
        walked = self.send(self.signed_in(self.stranger), "POST", "/api/v1/walk", self.blended("x", "water").model_dump(mode="json"))
        self.assertEqual(walked.json()["cross_contact"], [])

    def test_what_was_rolled_back_is_not_held(self) -> None:
        """A process that read what was never kept reads anew, though what came after it is newer."""
        start_formula(actor=self.lead, document=self.blended("With nuts", "almond_drink"))
        self.assertEqual(self.cross_contact(), ["nuts"])
        with self.assertRaises(ZeroDivisionError), transaction.atomic():
            start_formula(actor=self.lead, document=self.blended("With milk", "whole_milk"))
            archive_formula(actor=self.lead, id=Formula.objects.get(name="With nuts").pk)
            self.assertEqual(self.cross_contact(), ["milk"])
            raise ZeroDivisionError
        self.assertEqual(self.cross_contact(), ["nuts"])
        start_formula(actor=self.lead, document=self.blended("With oats", "oat_drink"))
        self.assertEqual(self.cross_contact(), ["gluten", "nuts"])
