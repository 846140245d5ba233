"""The pantry over HTTP: finding, typing, writing one's own, packs, lots, labels, and what formulas see of it."""

from __future__ import annotations

import json
from datetime import date, timedelta
from typing import Any

from jugcore.matter.library import library
from jugcore.matter.search_text import plain
from jugcore.method.document import MethodDocument
from jugserver.accounts.models import User
from jugserver.config.tests.shop import ShopCase
from jugserver.pantry.library_rows import write_library
from jugserver.pantry.models import Ingredient
from jugserver.pantry.search import ended_at, search

URL = "/api/v1/substances"
OWN = {
    "title": "Yard caramel sugar",
    "kind": "sugar",
    "basis": "estimate",
    "composition_g_per_100g": {"water": 4, "sucrose": 96},
    "density_g_ml": 0.9,
}


class PantryCase(ShopCase):
    def ask(self, who: User | str, path: str, **query: Any) -> Any:
        answer = self.signed_in(who).get(f"{URL}{path}", query)
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return json.loads(answer.content)

    def make(self, who: User | str = "lead", **changes: Any) -> Any:
        answer = self.send(self.signed_in(who), "POST", URL, {"document": {**OWN, **changes}})
        self.assertEqual(answer.status_code, 201, answer.content[:500])
        return json.loads(answer.content)

    def walked(self, lines: list[tuple[str, str]], who: User | str = "lead") -> Any:
        stage = {"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": f"l{n}", "substance": s, "amount": a} for n, (s, a) in enumerate(lines)]}
        answer = self.send(self.signed_in(who), "POST", "/api/v1/walk", {"stages": [stage]})
        self.assertEqual(answer.status_code, 200, answer.content[:500])
        return json.loads(answer.content)


class Finding(PantryCase):
    def found(self, words: str, **query: Any) -> list[str]:
        return [hit["title"] for hit in self.ask("view", "", q=words, **query)["hits"]]

    def test_by_the_first_letters_of_a_word(self) -> None:
        self.assertIn("Vanilla extract", self.found("van"))
        self.assertIn("Green cardamom, ground", self.found("card gro"))
        self.assertEqual(self.found("milk")[0], "Milk chocolate")
        self.assertIn("Whole milk", self.found("milk who"))
        self.assertEqual(self.found("zzz"), [])
        self.assertEqual(self.found("creme fra"), ["Crème fraîche"])
        self.assertEqual(self.found("100%_"), [])

    def test_twenty_at_a_time_by_kind(self) -> None:
        first = self.ask("view", "", kind="spice")
        self.assertEqual((len(first["hits"]), first["next"] is None), (20, False))
        second = self.ask("view", "", kind="spice", cursor=first["next"])
        self.assertFalse({h["id"] for h in first["hits"]} & {h["id"] for h in second["hits"]})
        self.assertEqual({h["kind"] for h in first["hits"]}, {"spice"})
        for typed, many in (("", len(library())), ("s", None), ("su po", None)):
            seen: list[str] = []
            cursor: str | None = ""
            while cursor is not None:
                page = self.ask("view", "", q=typed, cursor=cursor)
                seen += [each["id"] for each in page["hits"]]
                cursor = page["next"]
            self.assertEqual(len(seen), len(set(seen)))
            self.assertEqual(seen, [row.key for row in search(self.site, typed, most=1000)])
            self.assertEqual(len(seen), many or len(seen))

    def test_what_is_found_is_what_reading_every_name_finds(self) -> None:
        """Two statements and two indexes come to the same as looking at each ingredient in turn."""
        self.make(title="Sugar of the yard, golden", also_called=["yard gold"])
        self.make(title="Milk sugar, our own")
        away = self.make(title="Golden yard sugar, put away")
        self.send(self.signed_in("lead"), "DELETE", f"{URL}/{away['id']}")
        self.send(self.signed_in("lead"), "PUT", f"{URL}/honey", {"number": 0, "document": {**OWN, "title": "Sugary honey"}})
        own = {row.key for row in Ingredient.objects.of_site(self.site)}
        rows = [row for row in Ingredient.objects.all() if (row.site_id and not row.archived_at) or (not row.site_id and row.key not in own)]
        for typed in ("", "sug", "sugar", "mil", "milk su", "su go", "gold yard", "powder", "gr", "e", "gro car", "milk", "ho", "cream ch", "zz"):
            words = plain(typed).split()
            for kind in ("", "sugar", "dairy"):
                with self.subTest(typed=typed, kind=kind):
                    fits = [row for row in rows if all(f" {word}" in row.words for word in words) and kind in ("", row.kind)]
                    fits.sort(key=lambda row: (bool(words) and not row.sort.startswith(plain(typed)), row.sort, row.key))
                    found = search(self.site, typed, kind=kind, most=7)
                    found += search(self.site, typed, kind=kind, after=ended_at(found[-1], typed), most=7) if found else []
                    self.assertEqual([hit.key for hit in found], [row.key for row in fits[:14]])

    def test_a_typed_line_is_parted(self) -> None:
        for text, title, amount in (
            ("2 tsp blossom water", "Blossom water", "2 tsp"),
            ("blossom water 2 tsp", "Blossom water", "2 tsp"),
            ("demerara as the water", "Demerara sugar", "as the water"),
            ("pear j", "Pear juice, pressed", ""),
            ("1 1/2 cups whole milk", "Whole milk", "1 1/2 cups"),
            ("3 g citric acid", "Citric acid, dry", "3 g"),
            ("half a vanilla pod", "Vanilla pod", "half a"),
            ("20 g matcha", "Matcha", "20 g"),
            ("as the water demer", "Demerara sugar", "as the water"),
            ("cocoa as the blossom water", "Cocoa powder, 10–12 % fat", "as the blossom water"),
            ("half a cup water", "Water", "half a cup"),
            ("a pinch of fine salt", "Salt, fine", "a pinch"),
            ("2 tbsp of lemon juice", "Lemon juice", "2 tbsp"),
            ("demer 430 g", "Demerara sugar", "430 g"),
            ("20 g ground ginger", "Ginger, ground", "20 g"),
            ("rose petals", "Rose petals, dried", ""),
        ):
            found = self.ask("view", "/typed", text=text)
            with self.subTest(text=text):
                self.assertEqual((found["hits"][0]["title"], found["amount"]), (title, amount))
        self.assertEqual(self.ask("view", "/typed", text="3 g unobtainium"), {"hits": [], "amount": ""})
        self.assertEqual(len(self.ask("view", "/typed", text="")["hits"]), 20)

    def test_what_they_are_called(self) -> None:
        made = self.make()
        self.assertEqual(self.ask("view", "/titles", ids=f"water,{made['id']},none"), {"water": "Water", made["id"]: "Yard caramel sugar"})
        document = {**self.ask("lead", "/pear_juice")["document"], "title": "Our pear juice"}
        self.send(self.signed_in("lead"), "PUT", f"{URL}/pear_juice", {"number": 0, "document": document})
        self.assertEqual(self.ask("view", "/titles", ids="pear_juice"), {"pear_juice": "Our pear juice"})
        self.assertEqual(self.ask(self.stranger, "/titles", ids=f"pear_juice,{made['id']}"), {"pear_juice": "Pear juice, pressed"})

    def test_nobody_else_is_let_in(self) -> None:
        self.assert_problem(self.signed_in(None).get(URL), 401)
        self.assertEqual(plain("Crème  FRAÎCHE, 30 %"), "creme fraiche 30 %")


class Facts(PantryCase):
    def test_come_with_how_they_are_known(self) -> None:
        juice = self.ask("view", "/pear_juice")
        self.assertEqual((juice["document"]["basis"], juice["document"]["source"], juice["own"], juice["number"]), ("estimate", "", False, 0))
        self.assertAlmostEqual(juice["brix"], 12, delta=0.05)
        self.assertAlmostEqual(sum(juice["document"]["composition_g_per_100g"].values()), 100, delta=1)
        ginger = self.ask("view", "/fresh_ginger")
        self.assertIn("curdles", ginger["hazards"][0]["words"])
        miso = self.ask("view", "/soy_sauce")
        self.assertEqual({len(named) for named in miso["allergens_by_list"].values()}, {2})
        self.assertIsNone(self.ask("view", "/cocoa_powder")["brix"])
        self.assert_problem(self.signed_in("view").get(f"{URL}/nothing_of_the_kind"), 404)

    def test_every_row_of_the_library_is_served(self) -> None:
        client = self.signed_in("view")
        for row in Ingredient.objects.library():
            self.assertEqual(json.loads(client.get(f"{URL}/{row.key}").content)["document"]["title"], row.title)


class Own(PantryCase):
    def test_kept_found_walked_changed_and_put_away(self) -> None:
        made = self.make()
        self.assertEqual((made["id"], made["number"], made["own"], made["in_library"]), ("own_yard_caramel_sugar", 1, True, False))
        self.assertEqual([h["id"] for h in self.ask("prep", "", q="yard car")["hits"]], [made["id"]])
        brix = {r["id"]: r["value"] for r in self.walked([(made["id"], "100 g"), ("water", "100 g")])["readings"]}["brix"]
        self.assertAlmostEqual(brix, 48, places=3)
        changed = self.send(
            self.signed_in("lead"),
            "PUT",
            f"{URL}/{made['id']}",
            {"number": 1, "document": {**OWN, "composition_g_per_100g": {"water": 10, "sucrose": 90}}},
        )
        self.assertEqual(json.loads(changed.content)["number"], 2)
        brix = {r["id"]: r["value"] for r in self.walked([(made["id"], "100 g"), ("water", "100 g")])["readings"]}["brix"]
        self.assertAlmostEqual(brix, 45, places=3)
        self.assertEqual(self.send(self.signed_in("lead"), "DELETE", f"{URL}/{made['id']}").status_code, 204)
        self.assertEqual(self.ask("prep", "", q="yard car")["hits"], [])
        # A formula that uses it still works.
        self.assertAlmostEqual(
            {r["id"]: r["value"] for r in self.walked([(made["id"], "100 g"), ("water", "100 g")])["readings"]}["brix"], 45, places=3
        )

    def test_two_who_change_it_at_once(self) -> None:
        made = self.make()
        path = f"{URL}/{made['id']}"
        self.assertEqual(self.send(self.signed_in("lead"), "PUT", path, {"number": 1, "document": {**OWN, "note": "First."}}).status_code, 200)
        refused = self.assert_problem(self.send(self.signed_in("lead"), "PUT", path, {"number": 1, "document": {**OWN, "note": "Second."}}), 409)
        self.assertEqual((refused["theirs"]["number"], refused["theirs"]["document"]["note"]), (2, "First."))

    def test_the_library_adapted_and_given_back(self) -> None:
        document = {
            **self.ask("lead", "/pear_juice")["document"],
            "composition_g_per_100g": {"water": 90, "fructose": 10},
            "free_sugars_g_per_100g": 10,
        }
        saved = json.loads(self.send(self.signed_in("lead"), "PUT", f"{URL}/pear_juice", {"number": 0, "document": document}).content)
        self.assertEqual((saved["own"], saved["in_library"], saved["brix"]), (True, True, 10))
        self.assertEqual(len(self.ask("lead", "", q="pear juice")["hits"]), 1)
        self.assertAlmostEqual(self.walked([("pear_juice", "100 g")])["readings"][0]["value"], 10)
        # Another site sees the library's.
        self.assertAlmostEqual(self.walked([("pear_juice", "100 g")], self.stranger)["readings"][0]["value"], 12, delta=0.05)
        self.assertFalse(self.ask(self.stranger, "/pear_juice")["own"])
        self.assertEqual(self.send(self.signed_in("lead"), "DELETE", f"{URL}/pear_juice").status_code, 204)
        self.assertAlmostEqual(self.walked([("pear_juice", "100 g")])["readings"][0]["value"], 12, delta=0.05)

    def test_a_site_sees_nothing_of_another(self) -> None:
        made = self.make(self.stranger)
        for who in ("lead", "prep", "view"):
            self.assert_problem(self.signed_in(who).get(f"{URL}/{made['id']}"), 404)
        self.assertEqual(self.ask("lead", "", q="yard car")["hits"], [])
        self.assert_problem(self.send(self.signed_in("lead"), "DELETE", f"{URL}/{made['id']}"), 404)
        self.assert_problem(self.send(self.signed_in("lead"), "PUT", f"{URL}/{made['id']}", {"number": 1, "document": OWN}), 404)

    def test_what_cannot_be_is_refused_with_its_field(self) -> None:
        lead = self.signed_in("lead")
        for changes, field in (
            ({"composition_g_per_100g": {"water": 50}}, ""),
            ({"composition_g_per_100g": {"phlogiston": 100}}, ""),
            ({"title": "  "}, "document.title"),
            ({"title": "Honey"}, "document.title"),
            ({"allergens": ["dust"]}, ""),
            ({"hazards": ["dragons"]}, ""),
            ({"kind": "potion"}, ""),
        ):
            with self.subTest(changes=changes):
                self.assert_problem(self.send(lead, "POST", URL, {"document": {**OWN, **changes}}), 422, field=field)

    def test_roles(self) -> None:
        for who, status in (("view", 403), ("prep", 403), ("lead", 201)):
            self.assertEqual(self.send(self.signed_in(who), "POST", URL, {"document": OWN}).status_code, status)
        for who, status in (("view", 403), ("prep", 201), ("lead", 201)):
            self.assertEqual(self.send(self.signed_in(who), "POST", f"{URL}/mace/lots", {"code": who}).status_code, status)
        pack = {"name": "1 kg bag", "mass_g": 1000, "price": 9}
        for who, status in (("view", 403), ("prep", 403), ("lead", 201)):
            self.assertEqual(self.send(self.signed_in(who), "POST", f"{URL}/mace/packs", pack).status_code, status)

    def test_the_library_follows_the_release_and_leaves_what_a_site_wrote(self) -> None:
        self.send(self.signed_in("lead"), "POST", f"{URL}/honey/packs", {"name": "Tub", "mass_g": 7000, "price": 63})
        self.make()
        Ingredient.objects.library().filter(key="honey").update(title="Honey of before", document={})
        Ingredient.objects.filter(site=self.site, key="honey").update(title="Honey of before", document={})
        Ingredient.objects.create(site=None, key="gone", title="Gone", kind="other", basis="estimate", sort="gone", words=" gone ", document={})
        write_library()
        self.assertEqual(self.ask("lead", "/honey")["document"]["title"], "Honey")
        self.assertEqual(self.ask("lead", "/honey")["document"]["price_per_kg"], 9)
        self.assertFalse(Ingredient.objects.filter(key="gone").exists())
        self.assertEqual(Ingredient.objects.library().count(), len(library()))
        self.assertTrue(self.ask("lead", "", q="yard car")["hits"])


class Priced(PantryCase):
    def pack(self, key: str, mass_g: float, price: float, **more: Any) -> Any:
        answer = self.send(self.signed_in("lead"), "POST", f"{URL}/{key}/packs", {"name": "Pack", "mass_g": mass_g, "price": price, **more})
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return json.loads(answer.content)

    def test_the_newest_pack_that_counts_gives_the_price(self) -> None:
        today = date.today()
        self.pack("white_sugar", 25_000, 30, since=str(today - timedelta(days=40)))
        newest = self.pack("white_sugar", 10_000, 14, since=str(today - timedelta(days=4)))
        self.assertEqual(newest["document"]["price_per_kg"], 1.4)
        later = {"name": "Pack", "mass_g": 1000, "price": 99, "since": str(today + timedelta(days=9))}
        refused = self.assert_problem(self.send(self.signed_in("lead"), "POST", f"{URL}/white_sugar/packs", later), 422)
        self.assertEqual(refused["problems"][0]["field"], "since")
        self.assertFalse(newest["own"], "a price makes no composition of one's own")
        gone = self.send(self.signed_in("lead"), "DELETE", f"{URL}/white_sugar/packs/{newest['packs'][0]['id']}")
        self.assertEqual(json.loads(gone.content)["document"]["price_per_kg"], 1.2)

    def test_what_a_formula_costs(self) -> None:
        self.pack("white_sugar", 10_000, 12)
        cost = next(r for r in self.walked([("white_sugar", "500 g"), ("water", "500 g")])["readings"] if r["id"] == "cost_kg")
        self.assertAlmostEqual(cost["value"], 0.6, places=6)
        part = next(r for r in self.walked([("white_sugar", "500 g"), ("honey", "100 g")])["readings"] if r["id"] == "cost_kg")
        self.assertIsNone(part["value"])
        self.assertIn("price of honey is missing", part["why_not"])

    def test_a_version_keeps_the_price_it_was_made_at_and_answers_leave_the_pantry_behind(self) -> None:
        made = self.make()
        self.pack(made["id"], 1000, 3)
        stage = {
            "id": "a",
            "kind": "add",
            "vessel": "pot",
            "lines": [{"id": "s", "substance": made["id"], "amount": "500 g"}, {"id": "w", "substance": "water", "amount": "500 g"}],
        }
        lead = self.signed_in("lead")
        kept = json.loads(self.send(lead, "POST", "/api/v1/formulas", {"document": {"name": "Yard syrup", "stages": [stage]}}).content)
        self.assertEqual(kept["document"]["substances"], {})
        saved = self.send(lead, "POST", f"/api/v1/formulas/{kept['id']}/versions", {"draft": 1, "note": "First."})
        self.assertEqual(saved.status_code, 201, saved.content[:400])
        version = json.loads(lead.get(f"/api/v1/formulas/{kept['id']}/versions/1").content)
        self.assertEqual(version["document"]["substances"][made["id"]]["price_per_kg"], 3)
        self.pack(made["id"], 1000, 5)
        again = json.loads(self.send(lead, "POST", f"/api/v1/formulas/{kept['id']}/versions/1/draft", {"draft": 1}).content)
        self.assertEqual(again["document"]["substances"], {}, "the draft goes by the pantry of today")
        ways = json.loads(self.send(lead, "POST", "/api/v1/suggestions", {"document": kept["document"], "reading": "brix", "value": 55}).content)
        self.assertTrue(ways["suggestions"])
        for way in ways["suggestions"]:
            self.assertEqual(way["document"]["substances"], {})
            MethodDocument.model_validate(way["document"])
        marks = json.loads(lead.get("/api/v1/formulas").content)["items"]
        self.assertIsNone(next(card for card in marks if card["name"] == "Yard syrup")["trouble"])


class Lots(PantryCase):
    def test_written_down_opened_compared_and_used_up(self) -> None:
        prep = self.signed_in("prep")
        today = date.today()
        lot = {
            "code": "L1",
            "supplier": "Hill farm",
            "origin": "north slope",
            "received_on": str(today),
            "best_before": str(today + timedelta(days=30)),
            "tasting_notes": "soft",
            "strength": {"low": 1, "high": 1.5},
        }
        one = json.loads(self.send(prep, "POST", f"{URL}/true_cinnamon/lots", lot).content)
        self.send(prep, "POST", f"{URL}/true_cinnamon/lots", {**lot, "code": "L2", "tasting_notes": "loud", "strength": {"low": 1.6, "high": 2.4}})
        self.assert_problem(self.send(prep, "POST", f"{URL}/true_cinnamon/lots", lot), 422, field="code", word="already a lot L1")
        lots = self.ask("view", "/true_cinnamon")["lots"]
        self.assertEqual([(x["code"], x["tasting_notes"], x["strength"]["high"]) for x in lots], [("L1", "soft", 1.5), ("L2", "loud", 2.4)])
        untasted = json.loads(self.send(prep, "POST", f"{URL}/star_anise/lots", {"code": "S1"}).content)
        self.assertIsNone(untasted["lots"][0]["strength"], "what the table says is not what somebody tasted")
        path = f"{URL}/true_cinnamon/lots/{one['lots'][0]['id']}"
        used = json.loads(self.send(prep, "PUT", path, {**lot, "opened_on": str(today), "used_up_on": str(today)}).content)
        self.assertEqual([x["code"] for x in used["lots"]], ["L1", "L2"])
        self.assert_problem(self.send(prep, "PUT", path, {**lot, "opened_on": str(today - timedelta(days=3))}), 422, field="opened_on")
        self.assert_problem(self.send(self.signed_in(self.stranger), "PUT", path, lot), 404)
        self.assert_problem(self.send(prep, "PUT", f"{URL}/mace/lots/{one['lots'][0]['id']}", lot), 404)

    def test_good_until_the_earlier_of_pack_and_opening(self) -> None:
        today = date.today()
        lot = {"code": "A", "best_before": str(today + timedelta(days=10)), "opened_on": str(today)}
        milk = json.loads(self.send(self.signed_in("prep"), "POST", f"{URL}/whole_milk/lots", lot).content)["lots"][0]
        self.assertEqual(milk["good_until"], str(today + timedelta(days=2)))
        self.assertIn("3 to 5 days, chilled", milk["good_until_why"])
        near = json.loads(
            self.send(
                self.signed_in("prep"), "POST", f"{URL}/whole_milk/lots", {**lot, "code": "B", "best_before": str(today + timedelta(days=1))}
            ).content
        )
        self.assertEqual(next(x for x in near["lots"] if x["code"] == "B")["good_until_why"], "The pack's date.")


class Labels(PantryCase):
    def test_a_label_becomes_an_ingredient(self) -> None:
        label = {"kind": "dairy", "figures": {"fat": "10", "carbohydrate": "33", "sugars": "33", "protein": "1.1", "salt": "0.1"}, "per": "100 ml"}
        read = json.loads(self.send(self.signed_in("view"), "POST", f"{URL}/label", label).content)
        self.assertTrue(read["totals"]["sugars"]["low"] < read["totals"]["sugars"]["likely"] < read["totals"]["sugars"]["high"])
        made = self.make(
            title="Bought creamer",
            kind="dairy",
            basis="label",
            composition_g_per_100g=read["composition_g_per_100g"],
            free_sugars_g_per_100g=read["free_sugars_g_per_100g"],
            density_g_ml=round(read["density_g_ml"]["likely"], 3),
            allergens=["milk"],
        )
        self.assertEqual(made["document"]["basis"], "label")
        self.assertAlmostEqual(made["sugars_g_per_100g"], read["totals"]["sugars"]["likely"], places=2)

    def test_what_does_not_fit_is_said_at_its_field(self) -> None:
        viewer = self.signed_in("view")
        self.assert_problem(
            self.send(viewer, "POST", f"{URL}/label", {"kind": "syrup", "figures": {"sugars": "70", "carbohydrate": "60"}}),
            422,
            field="label.",
            word="cannot all be right",
        )
        self.assert_problem(self.send(viewer, "POST", f"{URL}/label", {"figures": {"fat": "lots"}}), 422, field="label.fat")
        self.assert_problem(self.send(viewer, "POST", f"{URL}/label", {"figures": {}}), 422, field="label")
