"""What is kept of changes, and what a lead reads of it."""

from __future__ import annotations

from io import StringIO
from typing import Any
from unittest import mock
from uuid import uuid4

from django.core.management import call_command
from django.db import connection

from jugcore.matter.substance_document import SubstanceDoc
from jugserver.accounts.models import Role, Site, User
from jugserver.config.tests.shop import PASSWORD, ShopCase
from jugserver.formulas.models import Formula
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.models import Ingredient
from jugserver.pantry.services import save_ingredient


class WhoChangedWhat(ShopCase):
    def changes(self, cursor: str = "", who: Any = "lead") -> dict[str, Any]:
        answer = self.send(self.signed_in(who), "GET", f"/api/v1/changes?cursor={cursor}")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def newest(self) -> dict[str, Any]:
        return self.changes()["items"][0]

    def test_a_pot_that_weighs_more_is_told_alone_with_who_and_from_where(self) -> None:
        lead = self.signed_in("lead")
        pots = [{"id": "big", "name": "Big pot", "tare_g": 1500, "diameter_cm": 24, "capacity_ml": 8000}]
        pots += [{**pots[0], "id": "small", "name": "Small pot"}]
        self.assertEqual(self.send(lead, "PUT", "/api/v1/kitchen", {"number": 0, "kitchen": {"pots": pots}}).status_code, 200)
        pots[0]["tare_g"] = 1520
        self.assertEqual(self.send(lead, "PUT", "/api/v1/kitchen", {"number": 1, "kitchen": {"pots": pots}}).status_code, 200)
        found = self.changes()["items"]
        told = found[0]
        self.assertEqual((told["by"], told["how"], told["address"]), ("The lead", "password", "127.0.0.1"))
        self.assertEqual((told["kind"], told["what"], told["deed"]), ("pot", "Big pot", "changed"))
        self.assertEqual(told["differs"], [{"name": "tare", "before": "1500", "after": "1520 g"}])
        self.assertEqual([each["deed"] for each in found[1:3]], ["added", "added"], "only the pot that changed is told")
        self.assertEqual(kitchen_of(self.site).kitchen.pots[0].tare_g, 1520)

    def test_a_pot_that_is_gone_is_archived_and_named_again_it_is_there_again(self) -> None:
        lead = self.signed_in("lead")
        pot = {"id": "big", "name": "Big pot", "tare_g": 1500, "diameter_cm": 24, "capacity_ml": 8000}
        for number, pots in enumerate(([pot], [], [pot])):
            self.send(lead, "PUT", "/api/v1/kitchen", {"number": number, "kitchen": {"pots": pots}})
        pots = [each for each in self.changes()["items"] if each["kind"] == "pot"]
        self.assertEqual([each["deed"] for each in pots], ["changed", "changed", "added"])
        self.assertEqual([[differs["name"] for differs in each["differs"]] for each in pots[:2]], [["archived at"], ["archived at"]])

    def test_formulas_their_drafts_and_versions(self) -> None:
        lead = self.signed_in("lead")
        raw = self.raw(name=f"N {uuid4()}")
        formula = self.send(lead, "POST", "/api/v1/formulas", {"document": raw}).json()
        self.assertEqual((self.newest()["what"], self.newest()["deed"]), (raw["name"], "added"))
        self.send(lead, "PUT", f"/api/v1/formulas/{formula['id']}/draft", {"draft": 1, "document": {**raw, "name": raw["name"] + " b"}})
        self.assertEqual(self.newest()["differs"][1:], [{"name": "save of its draft", "before": "1", "after": "2"}])
        self.send(lead, "POST", f"/api/v1/formulas/{formula['id']}/versions", {"draft": 2, "note": "Kept."})
        self.assertEqual(self.newest()["what"], f"{raw['name']} b, version 1")
        self.send(lead, "DELETE", f"/api/v1/formulas/{formula['id']}")
        self.assertEqual([each["name"] for each in self.newest()["differs"]], ["archived at"])

    def test_an_ingredients_figures_are_told_one_by_one(self) -> None:
        lead = self.people["lead"]
        own = {"title": "Own", "kind": "sugar", "composition_g_per_100g": {"sucrose": 100}}
        row = save_ingredient(actor=lead, key=None, number=0, document=SubstanceDoc.model_validate(own))
        own["composition_g_per_100g"] = {"sucrose": 98.0, "water": 2.0}
        save_ingredient(actor=lead, key=row.key, number=1, document=SubstanceDoc.model_validate(own))
        told = self.newest()
        self.assertIn({"name": "document composition g per 100g sucrose", "before": "100", "after": "98"}, told["differs"])
        self.assertEqual(told["by"], "the app itself", "nobody's request did it")

    def test_the_librarys_own_rows_are_nobodys(self) -> None:
        before = len(self.changes()["items"])
        Ingredient.objects.library().filter(key="water").update(title="Water, changed by a release")
        self.assertEqual(len(self.changes()["items"]), before)

    def test_people_and_pins_are_told_without_the_secret(self) -> None:
        self.assertEqual(self.send(self.signed_in("prep"), "PUT", "/api/v1/session/pin", {"password": PASSWORD, "pin": "2580"}).status_code, 204)
        told = self.newest()
        self.assertEqual((told["by"], told["what"], told["deed"]), ("The prep", "The prep", "PIN set or cleared"))
        self.send(self.signed_in("lead"), "POST", "/api/v1/people/prep/deactivate")
        self.assertEqual([(each["name"], each["after"]) for each in self.newest()["differs"]], [("active", "no")])
        with connection.cursor() as cursor:
            cursor.execute("select row_to_json(c)::text from accounts_userchange c")
            kept = "".join(row for (row,) in cursor.fetchall())
        for person in User.objects.all():
            for secret in filter(None, (person.pin, person.password)):
                self.assertNotIn(secret, kept)

    def test_signing_in_changes_nothing(self) -> None:
        before = len(self.changes()["items"])
        self.send(self.signed_in(None), "POST", "/api/v1/session", {"username": "prep", "password": PASSWORD})
        self.assertEqual(len(self.changes()["items"]), before)

    def test_a_command_is_told_by_its_name(self) -> None:
        with mock.patch("jugserver.accounts.management.commands.person._asked", return_value="a-quite-long-one-42"):
            call_command("person", "prep", "--role", "lead", "--keep-password", stdout=StringIO())
        told = self.newest()
        self.assertEqual((told["by"], told["differs"][0]["after"]), ("./jug person", "lead"))

    def test_another_sites_changes_are_not_told(self) -> None:
        self.send(self.signed_in(self.stranger), "PUT", "/api/v1/kitchen", {"number": 0, "kitchen": {"room_c": 30}})
        self.assertNotIn("kitchen", " ".join(each["kind"] for each in self.changes()["items"]))
        self.assertEqual(self.changes(who=self.stranger)["items"][0]["kind"], "kitchen")

    def test_pages_follow_each_other_without_gap_or_double(self) -> None:
        for n in range(120):
            User.objects.create_user(f"cook{n}", site=self.site, role=Role.PREP, display_name=f"Cook {n}")
        seen: list[str] = []
        page = self.changes()
        while True:
            seen += [each["what"] for each in page["items"]]
            if page["next"] is None:
                break
            User.objects.filter(username="cook1").update(display_name=f"Cook {len(seen)}")  # what comes in above moves nothing
            page = self.changes(page["next"])
        self.assertEqual(len([each for each in seen if each.startswith("Cook ")]), 120)
        self.assertEqual(len(seen), len(set(seen)))

    def test_a_cursor_that_nobody_told_is_refused_in_words(self) -> None:
        for cursor in ("x", "AAAA", "W10", "é", "WzEsMiwzXQ"):
            answer = self.send(self.signed_in("lead"), "GET", f"/api/v1/changes?cursor={cursor}")
            self.assertEqual(answer.status_code, 422, cursor)
            self.assertEqual(answer.json()["problems"][0]["field"], "cursor")

    def test_what_was_there_before_is_what_the_first_change_differs_from(self) -> None:
        formula = Formula.objects.create(site=Site.objects.get(pk=self.site.pk), name="Old one", touched_at="2026-01-01T00:00:00Z")
        with connection.cursor() as cursor:
            cursor.execute("update formulas_formulachange set pgh_label = 'there' where pgh_obj_id = %s", [formula.pk])
        Formula.objects.filter(pk=formula.pk).update(name="New one")
        self.assertEqual(self.newest()["differs"], [{"name": "name", "before": "Old one", "after": "New one"}])
