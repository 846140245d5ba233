"""Suppliers over HTTP: found by the name that is typed, renamed, put together, archived."""

from __future__ import annotations

import json
from datetime import date
from typing import Any

from django.db import IntegrityError, transaction
from django.db.models import ProtectedError

from jugserver.config.tests.shop import ShopCase
from jugserver.pantry.models import Lot, Supplier

URL = "/api/v1/suppliers"


class Suppliers(ShopCase):
    def ask(self, method: str = "GET", path: str = "", body: Any = None, who: str = "lead") -> list[dict[str, Any]]:
        answer = self.send(self.signed_in(who), method, f"{URL}{path}", body)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        found: list[dict[str, Any]] = json.loads(answer.content)
        return found

    def bought(self, key: str, supplier: str) -> None:
        body = {"name": "Sack", "supplier": supplier, "mass_g": 1000, "price": 2}
        self.assertEqual(self.send(self.signed_in("lead"), "POST", f"/api/v1/substances/{key}/packs", body).status_code, 201)
        lot = {"code": f"{key}-1", "supplier": supplier}
        self.assertEqual(self.send(self.signed_in("prep"), "POST", f"/api/v1/substances/{key}/lots", lot).status_code, 201)

    def test_a_name_is_one_supplier_however_it_is_typed(self) -> None:
        self.bought("white_sugar", "Quay Provisions")
        self.bought("honey", "  quay   provisions ")
        self.bought("whole_milk", "")
        self.assertEqual([(each["name"], each["packs"], each["lots"]) for each in self.ask()], [("Quay Provisions", 2, 2)])
        milk = json.loads(self.signed_in("view").get("/api/v1/substances/whole_milk").content)
        self.assertEqual([milk["packs"][0]["supplier"], milk["lots"][0]["supplier"]], ["", ""])
        prices = json.loads(self.signed_in("lead").get("/api/v1/money/prices").content)["rows"]
        self.assertEqual({row["substance"]: row["supplier"] for row in prices if row["name"]}["honey"], "Quay Provisions")

    def test_renamed_reached_and_put_together(self) -> None:
        self.bought("white_sugar", "Quay Provisions")
        self.bought("honey", "Quay Prov.")
        named = {each["name"]: each for each in self.ask()}
        short, whole = named["Quay Prov."], named["Quay Provisions"]
        path = f"/{short['id']}"
        self.ask("PUT", f"/{whole['id']}", {"name": whole["name"], "contact": "ask for the yard"})
        refused = self.send(self.signed_in("lead"), "PUT", f"{URL}{path}", {"name": "QUAY provisions"})
        self.assert_problem(refused, 422, field="name", word="already a supplier called Quay Provisions")
        found = self.ask("PUT", path, {"name": "QUAY provisions", "together": True})
        self.assertEqual([(each["name"], each["contact"], each["packs"]) for each in found], [("Quay Provisions", "ask for the yard", 2)])
        self.assertEqual(self.send(self.signed_in("lead"), "PUT", f"{URL}{path}", {"name": "Anew"}).status_code, 404)
        honey = json.loads(self.signed_in("view").get("/api/v1/substances/honey").content)
        self.assertEqual(honey["lots"][0]["supplier"], "Quay Provisions")
        recalled = json.loads(self.signed_in("lead").get("/api/v1/stock/recall?ingredient=honey&lot=honey-1").content)
        self.assertEqual((recalled["supplier"], recalled["supplier_contact"]), ("Quay Provisions", "ask for the yard"))

    def test_archived_it_is_offered_no_more_and_what_came_from_it_keeps_it(self) -> None:
        self.bought("honey", "Hollin Orchard")
        (row,) = self.ask()
        self.assertEqual(self.ask("DELETE", f"/{row['id']}"), [])
        honey = json.loads(self.signed_in("view").get("/api/v1/substances/honey").content)
        self.assertEqual(honey["packs"][0]["supplier"], "Hollin Orchard")
        with self.assertRaises(ProtectedError):
            Supplier.objects.get(pk=row["id"]).delete()
        # What is new of a lot is no reason to buy there again; typing the name for something else is.
        opened = {"code": "honey-1", "supplier": "Hollin Orchard", "opened_on": str(date.today())}
        path = f"/api/v1/substances/honey/lots/{Lot.objects.get().pk}"
        self.assertEqual(self.send(self.signed_in("prep"), "PUT", path, opened).status_code, 200)
        self.assertEqual(self.ask(), [])
        self.bought("white_sugar", "hollin orchard")
        self.assertEqual([(each["id"], each["name"], each["lots"]) for each in self.ask()], [(row["id"], "Hollin Orchard", 2)])

    def test_the_history_tells_a_supplier_by_name(self) -> None:
        self.bought("honey", "Hollin Orchard")
        lot = Lot.objects.get()
        body = {"code": lot.code, "supplier": "Quay Provisions"}
        self.send(self.signed_in("prep"), "PUT", f"/api/v1/substances/honey/lots/{lot.pk}", body)
        changes = json.loads(self.signed_in("lead").get("/api/v1/changes").content)["items"]
        told = [each for change in changes for each in change["differs"] if each["name"] == "supplier"]
        self.assertEqual([(each["before"], each["after"]) for each in told], [("Hollin Orchard", "Quay Provisions")])

    def test_the_database_keeps_one_of_a_name(self) -> None:
        Supplier.objects.create(site=self.site, name="Quay")
        for wrong in ("QUAY", ""):
            with self.subTest(wrong), self.assertRaises(IntegrityError), transaction.atomic():
                Supplier.objects.create(site=self.site, name=wrong)
