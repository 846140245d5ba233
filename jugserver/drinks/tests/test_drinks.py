"""Drinks kept by a site: drafts, versions with what goes into them, what may be served, and the list."""

from __future__ import annotations

import json
from io import BytesIO
from typing import Any

from django.db import DatabaseError, connection, transaction
from django.test.utils import CaptureQueriesContext
from pypdf import PdfReader
from reportlab.lib.units import mm

from jugserver.config.tests.shop import ShopCase
from jugserver.drinks.models import Drink, DrinkPart, DrinkReadiness, DrinkSave, DrinkVersion
from jugserver.formulas.made_here import made_key
from jugserver.pantry.models import Ingredient


def _drink(name: str, **substances: str) -> dict[str, Any]:
    """A latte over two sizes."""
    dose, milk = substances.get("dose", "honey"), substances.get("milk", "whole_milk")
    return {
        "name": name,
        "sizes": [
            {"id": "short", "name": "Short", "cup_ml": 180, "fill_ml": 166, "price": 3.2},
            {"id": "long", "name": "Long", "cup_ml": 360, "fill_ml": 346, "price": 4.1},
        ],
        "components": [
            {"id": "dose", "role": "dose", "substance": dose, "amounts": {"short": "10 g", "long": "20 g"}},
            {"id": "shot", "role": "coffee", "substance": "espresso", "amounts": {"short": "30 g", "long": "60 g"}},
            {"id": "milk", "role": "milk", "substance": milk, "amounts": {"short": "to the line", "long": "to the line"}},
        ],
    }


class Drinks(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:600])
        return json.loads(answer.content) if answer.content else None

    def refused(self, status: int, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertEqual(answer.status_code, status, answer.content[:600])
        return json.loads(answer.content)

    def made(self, name: str = "Bridge Simple") -> str:
        """A syrup made here with its first version, as an ingredient."""
        lines = [{"id": "w", "substance": "water", "amount": "500 g"}, {"id": "s", "substance": "white_sugar", "amount": "500 g"}]
        formula = self.ask(
            "POST", "/api/v1/formulas", {"document": {"name": name, "stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": lines}]}}
        )
        self.ask("POST", f"/api/v1/formulas/{formula['id']}/versions", {"draft": 1, "note": "First."})
        self.formula = formula["id"]
        return made_key(formula["id"], 1)

    def test_kept_changed_and_found(self) -> None:
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte")})
        self.assertEqual((drink["draft"], drink["newest_version"], drink["served_version"]), (1, None, None))
        changed = _drink("Ferry Latte")
        changed["components"][0]["amounts"]["long"] = "25 g"
        saved = self.ask("PUT", f"/api/v1/drinks/{drink['id']}/draft", {"draft": 1, "document": changed})
        self.assertEqual(saved["draft"], 2)
        self.assertEqual(saved["document"]["components"][0]["amounts"]["long"], "25 g")
        late = self.refused(409, "PUT", f"/api/v1/drinks/{drink['id']}/draft", {"draft": 1, "document": _drink("Ferry Latte")})
        self.assertEqual(late["theirs"]["draft"], 2)
        found = self.ask("GET", "/api/v1/drinks?q=ferry")["items"]
        self.assertEqual([(each["name"], [size["name"] for size in each["sizes"]]) for each in found], [("Ferry Latte", ["Short", "Long"])])
        self.assertEqual(self.ask("GET", "/api/v1/drinks?q=moon")["items"], [])
        self.refused(422, "POST", "/api/v1/drinks", {"document": _drink("Ferry Latte")})
        self.refused(422, "POST", "/api/v1/drinks", {"document": _drink(" ")})
        self.assertEqual(DrinkSave.objects.filter(drink=drink["id"]).count(), 2)

    def test_archived_and_brought_back(self) -> None:
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte")})
        self.ask("DELETE", f"/api/v1/drinks/{drink['id']}")
        self.refused(404, "GET", f"/api/v1/drinks/{drink['id']}")
        other = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte")})
        self.refused(422, "POST", f"/api/v1/drinks/{drink['id']}/bring-back")
        self.ask("DELETE", f"/api/v1/drinks/{other['id']}")
        self.assertEqual(self.ask("POST", f"/api/v1/drinks/{drink['id']}/bring-back")["name"], "Ferry Latte")

    def test_a_drink_that_is_offered_holds_no_more_of_the_pantry_than_the_one_that_was_sent(self) -> None:
        """A draft that takes a way goes on by the kitchen and the prices of the day."""
        self.ask("POST", "/api/v1/substances/honey/packs", {"name": "Tub", "mass_g": 1000, "price": 9.0})
        drink = _drink("Ferry Latte")
        ways = self.ask("POST", "/api/v1/drinks/ways", {"document": drink, "ask": {"size": "long", "reading": "sugars_100ml", "value": 9}})
        swaps = self.ask("POST", "/api/v1/drinks/swaps", {"document": drink, "ask": {"component": "milk"}})
        even = self.ask("POST", "/api/v1/drinks/even-out", {"document": drink, "ask": {"component": "dose"}})
        offered = [*(way["drink"] for way in ways["ways"]), *(swap["drink"] for swap in swaps["swaps"]), even["in_grams"]["drink"]]
        self.assertGreater(len(offered), 3)
        for each in offered:
            self.assertEqual((each.get("kitchen"), each.get("rates"), each["substances"]), (None, None, {}))

    def test_a_version_is_frozen_with_what_goes_in(self) -> None:
        key = self.made()
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte", dose=key)})
        card = self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        self.assertEqual(card["number"], 1)
        self.refused(422, "POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "Again."})
        whole = self.ask("GET", f"/api/v1/drinks/{drink['id']}/versions/1")
        self.assertEqual(set(whole["document"]["substances"]), {key, "espresso", "whole_milk"})
        before = self.ask("POST", "/api/v1/drinks/sizes", whole["document"])
        own = Ingredient.objects.filter(key=key)  # dearer since: the version stays as it was
        own.update(document={**own.get().document, "price_per_kg": 9.99})
        self.assertEqual(self.ask("POST", "/api/v1/drinks/sizes", whole["document"]), before)
        part = DrinkPart.objects.get(drink_version__drink=drink["id"])
        self.assertEqual(str(part.uses.formula_id), self.formula)
        self.assertEqual(part.grams, {"short": 10.0, "long": 20.0})
        # A draft out of it goes by the pantry of today, and carries nothing that the pantry knows.
        again = self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions/1/draft", {"draft": 1})
        self.assertEqual(again["document"].get("substances", {}), {})

    def test_served_only_with_what_may_be_served(self) -> None:
        key = self.made()
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte", dose=key)})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        at = f"/api/v1/drinks/{drink['id']}/versions/1/ready"
        against = self.refused(422, "POST", at, {"ready": True})
        self.assertIn("Bridge Simple, version 1, is not marked as ready for service.", against["problems"][0]["message"])
        self.ask("POST", at, {"ready": True, "reason": "Tried for a week."})
        self.assertEqual(self.ask("GET", f"/api/v1/drinks/{drink['id']}")["served_version"], 1)
        self.ask("POST", at, {"ready": False})
        self.assertIsNone(self.ask("GET", f"/api/v1/drinks/{drink['id']}")["served_version"])
        self.ask("POST", f"/api/v1/formulas/{self.formula}/versions/1/ready", {"ready": True, "reason": "Known for years."})
        card = self.ask("POST", at, {"ready": True})
        self.assertEqual((card["service"]["ready"], card["service"]["unanswered"]), (True, []))

    def test_the_database_lets_nothing_of_it_change(self) -> None:
        key = self.made()
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink("Ferry Latte", dose=key)})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions/1/ready", {"ready": True, "reason": "Tried."})
        for model, change in (
            (DrinkVersion, {"note": "Other."}), (DrinkPart, {"grams": {}}), (DrinkSave, {"document": {}}), (DrinkReadiness, {"ready": False}),
        ):  # fmt: skip
            with self.subTest(table=model.__name__):
                with self.assertRaises(DatabaseError), transaction.atomic():
                    model.objects.update(**change)
                with self.assertRaises(DatabaseError), transaction.atomic():
                    model.objects.all()._raw_delete(using="default")  # type: ignore[attr-defined]  # Django's own way past its collector
        with self.assertRaises(DatabaseError), transaction.atomic():
            Drink.objects.create(site=self.people["lead"].site, name="Ferry Latte", touched_at="2026-03-01T08:00:00Z")

    def test_a_draft_that_cannot_be_poured_is_kept_and_no_version(self) -> None:
        broken = _drink("Ferry Latte")
        broken["components"][0]["amounts"]["short"] = "some"
        drink = self.ask("POST", "/api/v1/drinks", {"document": broken})
        self.assertIn("some", self.ask("GET", "/api/v1/drinks")["items"][0]["trouble"])
        told = self.refused(422, "POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        self.assertEqual(told["problems"][0]["field"], "components.dose.amounts.short")
        full = _drink("Ferry Latte")
        full["components"][1]["amounts"]["short"] = "400 g"
        self.ask("PUT", f"/api/v1/drinks/{drink['id']}/draft", {"draft": 1, "document": full})
        told = self.refused(422, "POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 2, "note": "First."})
        self.assertIn("does not work out yet", told["problems"][0]["message"])

    def test_cards_of_what_is_served_on_every_paper(self) -> None:
        self.refused(422, "GET", "/api/v1/drinks/doses.pdf")
        self.assertEqual(self.ask("GET", "/api/v1/drinks/doses"), {"sizes": [], "rows": []})
        first = self.served("Ferry Latte", self.made())
        self.served("Weir Cup", made_key(self.formula, 1))
        draft = self.ask("POST", "/api/v1/drinks", {"document": _drink("Not Yet")})
        doses = self.ask("GET", "/api/v1/drinks/doses")
        self.assertEqual(doses["sizes"], ["Short", "Long"])
        self.assertEqual(
            [(row["drink"], row["amounts"]) for row in doses["rows"]], [("Ferry Latte", ["10 g", "20 g"]), ("Weir Cup", ["10 g", "20 g"])]
        )
        for paper, (short, long) in {"A4": (210, 297), "A5": (148, 210), "A6": (105, 148)}.items():
            for path, words in (
                (f"/api/v1/drinks/doses.pdf?paper={paper}", ("Doses", "Ferry Latte", "Weir Cup", "Bridge Simple", "10 g", "20 g", "Short", "Long")),
                (f"/api/v1/drinks/sheet.pdf?paper={paper}", ("Allergens and nutrition", "milk", "Ferry Latte, Short", "Energy (kJ)")),
                (f"/api/v1/drinks/{first}/build.pdf?paper={paper}", ("Version 1", "1 Bridge Simple", "to the line", "Contains milk.")),
                (f"/api/v1/drinks/{draft['id']}/build.pdf?paper={paper}", ("Draft 1, not ready for service",)),
            ):
                with self.subTest(paper=paper, path=path):
                    pages = self.paper(path)
                    size = sorted(round(float(each) / mm) for each in pages[0].mediabox[2:])
                    self.assertEqual(size, [short, long])
                    text = " ".join(page.extract_text() for page in pages).replace("\n", " ")
                    for word in words:
                        self.assertIn(word, " ".join(text.split()))
                    self.assertNotIn("Not Yet, Short", text)

    def test_where_a_formula_goes_and_how_much_of_it(self) -> None:
        """Served as its version says; what is not served yet as its draft; nothing of one that takes another."""
        key = self.made()
        served = self.served("Ferry Latte", key)
        changed = _drink("Ferry Latte", dose=key)
        changed["components"][0]["amounts"] = {"short": "50 g", "long": "50 g"}
        self.ask("PUT", f"/api/v1/drinks/{served}/draft", {"draft": 1, "document": changed})
        draft = _drink("Weir Cup", dose=key)
        draft["components"][0]["amounts"] = {"long": "12 g"}
        self.ask("POST", "/api/v1/drinks", {"document": draft})
        self.ask("POST", "/api/v1/drinks", {"document": _drink("Honey Cup")})
        found = self.ask("GET", f"/api/v1/drinks/using/{self.formula}")
        self.assertEqual([(each["name"], each["version"], each["uses"]) for each in found], [("Ferry Latte", 1, 1), ("Weir Cup", None, 1)])
        self.assertEqual([[size["grams"] for size in each["sizes"]] for each in found], [[10.0, 20.0], [None, 12.0]])
        self.assertEqual(self.send(self.signed_in(self.stranger), "GET", f"/api/v1/drinks/using/{self.formula}").status_code, 404)

    def test_a_bar_sees_doses_and_no_drink(self) -> None:
        self.served("Ferry Latte", self.made())
        bar = self.signed_in("bar")
        self.assertEqual(self.send(bar, "GET", "/api/v1/drinks/doses").status_code, 200)
        self.assertEqual(self.send(bar, "GET", "/api/v1/drinks").status_code, 403)

    def served(self, name: str, dose: str) -> str:
        """A drink with a version that is ready for service."""
        drink = self.ask("POST", "/api/v1/drinks", {"document": _drink(name, dose=dose)})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions/1/ready", {"ready": True, "reason": "Known."})
        return str(drink["id"])

    def paper(self, path: str) -> Any:
        answer: Any = self.client_.get(path)
        self.assertEqual((answer.status_code, answer["Content-Type"]), (200, "application/pdf"), answer.content[:300])
        return PdfReader(BytesIO(answer.content)).pages

    def test_the_list_asks_no_more_for_more_drinks(self) -> None:
        def count(drinks: int) -> int:
            for n in range(Drink.objects.count(), drinks):
                self.ask("POST", "/api/v1/drinks", {"document": _drink(f"Drink {n}")})
            with CaptureQueriesContext(connection) as asked:
                self.ask("GET", "/api/v1/drinks")
            return len(asked)

        few, many = count(2), count(8)
        self.assertLessEqual(many, few)
