"""Formulas of ours as ingredients of others: pinned, found, priced on the day, known where they stand, and never in themselves."""

from __future__ import annotations

import json
from typing import Any

from django.db import DatabaseError, transaction

from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.made_here import catch_up, made_key
from jugserver.formulas.models import Version, VersionPart
from jugserver.pantry.models import Ingredient


def _document(name: str, **lines: float) -> dict[str, Any]:
    """A formula that puts some grams together."""
    listed = [{"id": f"l{n}", "substance": key.replace("__", "-"), "amount": f"{grams:g} g"} for n, (key, grams) in enumerate(lines.items())]
    return {"name": name, "vessels": [], "stages": [{"id": "s1", "kind": "add", "vessel": "pot", "lines": listed}]}


class MadeHere(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:600])
        return json.loads(answer.content)

    def kept(self, document: dict[str, Any]) -> dict[str, Any]:
        """A formula with its first version."""
        made: dict[str, Any] = self.ask("POST", "/api/v1/formulas", {"document": document})
        self.ask("POST", f"/api/v1/formulas/{made['id']}/versions", {"draft": 1, "note": "First."})
        return made

    def next_version(self, made: dict[str, Any], document: dict[str, Any]) -> None:
        draft = self.ask("GET", f"/api/v1/formulas/{made['id']}")["draft"]
        self.ask("PUT", f"/api/v1/formulas/{made['id']}/draft", {"draft": draft, "document": document})
        self.ask("POST", f"/api/v1/formulas/{made['id']}/versions", {"draft": draft + 1, "note": "Next."})

    def taking(self, made: dict[str, Any], number: int = 1, name: str = "Bridge Cream", grams: float = 200) -> dict[str, Any]:
        """A cream with some of it."""
        return _document(name, heavy_cream=300, **{made_key(made["id"], number).replace("-", "__"): grams})

    def walked(self, document: dict[str, Any]) -> Any:
        return self.ask("POST", "/api/v1/walk", document)

    def test_the_newest_version_is_found_among_the_ingredients(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        self.next_version(made, _document("Bridge Simple", water=400, white_sugar=600))
        hits = self.ask("GET", "/api/v1/substances?q=bridge")["hits"]
        self.assertEqual([(hit["id"], hit["kind"]) for hit in hits], [(made_key(made["id"], 2), "made")])
        found = self.ask("GET", f"/api/v1/substances/{made_key(made['id'], 1)}")
        self.assertAlmostEqual(found["brix"], 50.0, delta=0.05)
        self.assertEqual(found["document"]["made_from"]["version"]["name"], "Bridge Simple")
        self.ask_away("DELETE", f"/api/v1/formulas/{made['id']}")
        self.assertEqual(self.ask("GET", "/api/v1/substances?q=bridge")["hits"], [])
        self.ask("POST", f"/api/v1/formulas/{made['id']}/bring-back")
        self.assertEqual([hit["id"] for hit in self.ask("GET", "/api/v1/substances?q=bridge")["hits"]], [made_key(made["id"], 2)])

    def ask_away(self, method: str, path: str) -> None:
        self.assertEqual(self.send(self.client_, method, path, None).status_code, 204)

    def test_it_is_pinned_and_a_newer_version_is_told(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        document = self.taking(made)
        before = self.walked(document)
        self.assertEqual([(each["name"], each["version"], each["newest"]) for each in before["made_here"]], [("Bridge Simple", 1, None)])
        self.next_version(made, _document("Bridge Simple", water=300, white_sugar=700))
        after = self.walked(document)
        self.assertEqual(after["product"], before["product"])
        newest = after["made_here"][0]
        self.assertEqual((newest["newest"], newest["newest_substance"]), (2, made_key(made["id"], 2)))

    def test_a_version_knows_what_stands_in_it_and_each_where_it_stands(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        cream = self.kept(self.taking(made))
        part = VersionPart.objects.get()
        self.assertEqual((part.uses.formula.name, part.version.formula.name), ("Bridge Simple", "Bridge Cream"))
        self.assertAlmostEqual(part.grams_per_g, 0.4, places=9)
        used = self.ask("GET", f"/api/v1/formulas/{made['id']}/used-in")
        self.assertEqual([(each["name"], each["version"], each["uses"]) for each in used], [("Bridge Cream", None, 1), ("Bridge Cream", 1, 1)])
        self.assertEqual(self.ask("GET", f"/api/v1/formulas/{cream['id']}/used-in"), [])
        for attempt in (lambda: VersionPart.objects.update(grams_per_g=1), VersionPart.objects.all().delete):
            with self.assertRaises(DatabaseError), transaction.atomic():
                attempt()
        with self.assertRaises(DatabaseError), transaction.atomic():
            VersionPart.objects.create(version=part.uses, uses=part.version, grams_per_g=0.1)

    def test_a_frozen_version_walks_the_same_whatever_becomes_of_what_stands_in_it(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        cream = self.kept(self.taking(made))
        kept = self.ask("GET", f"/api/v1/formulas/{cream['id']}/versions/1")["document"]
        before = self.walked(kept)
        self.next_version(made, _document("Bridge Simple", water=300, white_sugar=700))
        Ingredient.objects.filter(kind="made").delete()
        self.assertEqual(self.walked(kept)["product"], before["product"])
        # As a draft again it is pinned to the same version, by its name alone where that is known here.
        catch_up()
        again = self.ask("POST", f"/api/v1/formulas/{cream['id']}/versions/1/draft", {"draft": 1})
        self.assertEqual(again["document"].get("substances", {}), {})
        self.assertEqual(self.walked(again["document"])["made_here"][0]["version"], 1)

    def test_a_circle_is_refused_with_the_names_of_all_on_the_way(self) -> None:
        simple = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        cream = self.kept(self.taking(simple))
        foam = self.kept(self.taking(cream, name="Bridge Foam"))
        path = f"/api/v1/formulas/{simple['id']}/draft"
        itself = self.send(self.client_, "PUT", path, {"draft": 1, "document": self.taking(simple, name="Bridge Simple")})
        self.assert_problem(itself, 422, field="lines.l1.substance", word="Bridge Simple goes into itself")
        deep = self.send(self.client_, "PUT", path, {"draft": 1, "document": self.taking(foam, name="Bridge Simple")})
        self.assert_problem(deep, 422, field="lines.l1.substance", word="Bridge Simple from Bridge Foam from Bridge Cream from Bridge Simple")

    def test_its_cost_is_that_of_today_and_an_allergen_found_out_since_counts(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        document = _document("Bridge Water", water=100, **{made_key(made["id"], 1).replace("-", "__"): 100})
        self.assertIn("white granulated sugar in Bridge Simple", self.cost(document)["why_not"])
        self.ask("POST", "/api/v1/substances/white_sugar/packs", {"name": "Sack", "mass_g": 1000, "price": 1.2})
        # 100 g of syrup, half of it sugar at 1.20 a kg, in 200 g: 0.06 / 0.2 kg = 0.30.
        self.assertAlmostEqual(self.cost(document)["value"], 0.30, places=9)
        self.ask("POST", "/api/v1/substances/white_sugar/packs", {"name": "Sack", "mass_g": 1000, "price": 2.0})
        self.assertAlmostEqual(self.cost(document)["value"], 0.50, places=9)
        sugar = self.ask("GET", "/api/v1/substances/white_sugar")
        self.ask("PUT", "/api/v1/substances/white_sugar", {"number": sugar["number"], "document": {**sugar["document"], "allergens": ["sulphites"]}})
        self.assertEqual([each["lines"] for each in self.walked(document)["allergens"]], [["White granulated sugar in Bridge Simple"]])

    def cost(self, document: dict[str, Any]) -> Any:
        return next(reading for reading in self.walked(document)["readings"] if reading["id"] == "cost_kg")

    def test_nobody_writes_it_by_hand(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        path = f"/api/v1/substances/{made_key(made['id'], 1)}"
        found = self.ask("GET", path)
        for method, to, body in (
            ("PUT", path, {"number": found["number"], "document": found["document"]}), ("DELETE", path, None),
            ("POST", f"{path}/packs", {"name": "Sack", "mass_g": 1000, "price": 1.2}), ("POST", f"{path}/lots", {"code": "A"}),
            ("POST", "/api/v1/substances", {"document": {**found["document"], "title": "Another"}}),
        ):  # fmt: skip
            with self.subTest(to=to, method=method):
                self.assert_problem(self.send(self.client_, method, to, body), 422, field=None, word="follows its formula")

    def test_another_site_finds_nothing_of_it(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        stranger = self.signed_in(self.stranger)
        self.assertEqual(self.send(stranger, "GET", f"/api/v1/formulas/{made['id']}/used-in").status_code, 404)
        self.assertEqual(json.loads(self.send(stranger, "GET", "/api/v1/substances?q=bridge").content)["hits"], [])
        self.assertEqual(self.send(stranger, "POST", "/api/v1/walk", self.taking(made)).status_code, 422)

    def test_versions_of_before_are_among_the_ingredients_once_the_app_has_started(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        kept = Ingredient.objects.get(kind="made").document
        Ingredient.objects.filter(kind="made").delete()
        catch_up()
        self.assertEqual(Ingredient.objects.get(key=made_key(made["id"], 1)).document, kept)
        self.assertEqual(Version.objects.count(), 1)

    def test_what_making_takes_and_what_is_traced_is_written_down_where_it_was_not(self) -> None:
        made = self.kept(_document("Bridge Simple", whole_milk=500, tahini=20, white_sugar=500))
        row = Ingredient.objects.get(kind="made")
        kept = row.document
        self.assertGreater(kept["made_from"]["work"][0]["hands_min_per_kg"]["likely"], 0)
        self.next_version(made, _document("Bridge Simple", water=300, white_sugar=700))
        before = {name: value for name, value in kept["made_from"].items() if name != "work"}
        before["tracers_g_per_g"] = {
            name: value for name, value in before["tracers_g_per_g"].items() if not name.startswith(("own_salt", "fat_known", "saturated"))
        }
        self.assertLess(len(before["tracers_g_per_g"]), len(kept["made_from"]["tracers_g_per_g"]))
        Ingredient.objects.filter(pk=row.pk).update(document={**kept, "made_from": before})
        catch_up()
        row.refresh_from_db()
        self.assertEqual(row.document, kept)
        self.assertIsNotNone(row.archived_at)  # the version behind it is the one that is found

    def test_ways_scale_and_swap_work_across_it(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        document = self.taking(made)
        ways = self.ask("POST", "/api/v1/suggestions", {"document": document, "reading": "sugars_100g", "value": 25})["suggestions"]
        self.assertTrue(any(way["document"]["stages"][0]["lines"][1]["amount"] != document["stages"][0]["lines"][1]["amount"] for way in ways))
        scaled = self.ask("POST", "/api/v1/scale", {"document": document, "ask": {"by": "factor", "value": 2}})
        self.assertTrue(scaled)
        swapped = self.ask("POST", "/api/v1/substitute", {"document": document, "ask": {"line": "l1", "parts": {"white_sugar": 1}}})
        self.assertTrue(swapped)

    def test_a_line_of_an_imported_recipe_is_taken_for_it_by_its_name(self) -> None:
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        read = self.ask("POST", "/api/v1/import/read", {"name": "cream.txt", "text": "Bridge Cream\n300 g heavy cream\n200 g bridge simple"})
        formula = read["formulas"][0]
        lines = [line["substance"] for stage in formula["document"]["stages"] for line in stage.get("lines", ())]
        self.assertIn(made_key(made["id"], 1), lines)
        self.assertEqual(self.walked(formula["document"])["made_here"][0]["name"], "Bridge Simple")

    def test_a_formula_that_holds_it_is_aimed_at_a_benchmark(self) -> None:
        """The cream is to be as sweet as the label says: more of our syrup, at the version it is pinned to."""
        made = self.kept(_document("Bridge Simple", water=500, white_sugar=500))
        label = {"kind": "creamer", "figures": {"sugars": "30", "fat": "18"}}
        benchmark = self.ask("POST", "/api/v1/benchmarks", {"document": {"name": "Bought", "label": label}})
        aimed = self.ask("POST", f"/api/v1/benchmarks/{benchmark['id']}/aim", {"document": self.taking(made), "chosen": ["sugars_100g"]})
        self.assertEqual(aimed["solution"]["status"], "solved", aimed["solution"]["words"])
        found = self.walked(aimed["solution"]["document"])
        sugars = next(reading["value"] for reading in found["readings"] if reading["id"] == "sugars_100g")
        self.assertAlmostEqual(sugars, 30.0, delta=0.6)
        self.assertEqual(found["made_here"][0]["version"], 1)
