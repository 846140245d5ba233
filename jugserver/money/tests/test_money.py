"""Money over the shop: prices in one table, what changed, side by side, make or buy, packs."""

from __future__ import annotations

import csv
import json
from io import StringIO
from typing import Any

from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.made_here import made_key
from jugserver.pantry.models import Ingredient, Pack


class Money(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client_ = self.signed_in("lead")

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.client_, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:600])
        return json.loads(answer.content) if answer.content else None

    def price(self, substance: str, mass_g: float, price: float, **more: Any) -> dict[str, Any]:
        return {"substance": substance, "name": "Pack", "mass_g": mass_g, "price": price, **more}

    def syrup(self, name: str = "Bridge Simple") -> str:
        lines = [{"id": "w", "substance": "water", "amount": "500 g"}, {"id": "s", "substance": "white_sugar", "amount": "500 g"}]
        document = {"name": name, "stages": [{"id": "a", "kind": "add", "vessel": "pot", "lines": lines}]}
        formula: str = self.ask("POST", "/api/v1/formulas", {"document": document})["id"]
        self.ask("POST", f"/api/v1/formulas/{formula}/versions", {"draft": 1, "note": "First."})
        return formula

    def latte(self, dose: str) -> str:
        """Served: 20 g of a dose, 60 g of espresso and 250 g of milk for 4.00."""
        amounts = (("dose", "dose", dose, "20 g"), ("shot", "coffee", "espresso", "60 g"), ("milk", "milk", "whole_milk", "250 g"))
        document = {
            "name": "Ferry Latte", "sizes": [{"id": "long", "name": "Long", "cup_ml": 360, "fill_ml": 346, "price": 4.0}],
            "components": [{"id": id, "role": role, "substance": of, "amounts": {"long": text}} for id, role, of, text in amounts],
        }  # fmt: skip
        drink: str = self.ask("POST", "/api/v1/drinks", {"document": document})["id"]
        self.ask("POST", f"/api/v1/drinks/{drink}/versions", {"draft": 1, "note": "First."})
        self.ask("POST", f"/api/v1/drinks/{drink}/versions/1/ready", {"ready": True, "reason": "Known."})
        return drink

    def benchmark(self, **more: Any) -> str:
        document = {"name": "Bought syrup", "label": {"kind": "syrup", "figures": {"sugars": "65"}}, "pack": {"size": 750, "price": 6.0}, **more}
        found: str = self.ask("POST", "/api/v1/benchmarks", {"document": document})["id"]
        return found

    def test_many_prices_at_once_those_without_first(self) -> None:
        self.syrup()
        found = self.ask("GET", "/api/v1/money/prices")
        self.assertEqual([(row["title"], row["used_in"], row["price"]) for row in found["rows"]], [("White granulated sugar", 1, None)])
        self.assertEqual(found["without"], 1)
        rows = [self.price("white_sugar", 5000, 6.0, supplier="Harbour"), self.price("whole_milk", 1030, 1.2)]
        kept = self.ask("PUT", "/api/v1/money/prices", {"rows": rows})
        self.assertEqual([(row["substance"], row["price_per_kg"]) for row in kept["rows"]], [("white_sugar", 1.2), ("whole_milk", 1.165)])
        self.ask("PUT", "/api/v1/money/prices", {"rows": [self.price("white_sugar", 5000, 7.5)]})
        sugar = next(row for row in self.ask("GET", "/api/v1/money/prices")["rows"] if row["substance"] == "white_sugar")
        self.assertEqual((sugar["price_per_kg"], sugar["before"]), (1.5, 1.2))  # history is kept

    def test_one_that_is_wrong_keeps_none_and_each_is_named(self) -> None:
        rows = [
            self.price("white_sugar", 5000, 6.0), self.price("honey", 0.001, 9.0), self.price("no_such_thing", 100, 1.0),
            self.price("cane_sugar", 100, 1.0), self.price("cane_sugar", 100, 2.0), self.price("whole_milk", 1030, 1.2, since="2999-01-01"),
        ]  # fmt: skip
        answer = self.send(self.client_, "PUT", "/api/v1/money/prices", {"rows": rows})
        found = self.assert_problem(answer, 422)
        fields = [each["field"] for each in found["problems"]]
        self.assertEqual(fields, ["rows.1.mass_g", "rows.2.substance", "rows.3.substance", "rows.4.substance", "rows.5.since"])
        self.assertEqual((Pack.objects.count(), Ingredient.objects.filter(site=self.site).count()), (0, 0))
        self.assertEqual(self.send(self.signed_in("prep"), "PUT", "/api/v1/money/prices", {"rows": rows[:1]}).status_code, 403)

    def test_as_a_table_for_other_programs(self) -> None:
        self.ask("PUT", "/api/v1/money/prices", {"rows": [self.price("white_sugar", 5000, 6.0, supplier="=SUM(1)")]})
        answer = self.client_.get("/api/v1/money/prices.csv")
        rows = list(csv.DictReader(StringIO(answer.content.decode("utf-8-sig"))))
        self.assertEqual([(row["ingredient"], row["grams"], row["price per kg"]) for row in rows], [("White granulated sugar", "5000", "1.2")])
        self.assertEqual(rows[0]["supplier"], "'=SUM(1)")

    def test_prices_changed_since_a_version_and_the_drink_they_push_below(self) -> None:
        """Milk from 1.10 to 4.40 a kilogram: 250 g cost 0.275, then 1.10; of 4.00 that is 27.5 % instead of 6.9 %."""
        rows = [self.price("white_sugar", 1000, 1.2), self.price("whole_milk", 1000, 1.1), self.price("espresso", 1000, 2.0)]
        self.ask("PUT", "/api/v1/money/prices", {"rows": rows})
        business = self.ask("GET", "/api/v1/business")
        self.ask("PUT", "/api/v1/business", {"number": business["number"], "business": {**business["business"], "least_margin": 80, "wage_h": 0}})
        formula = self.syrup()
        drink = self.latte(made_key(formula, 1))
        self.assertEqual(self.ask("GET", "/api/v1/money/changes"), {"drinks": [], "formulas": []})
        self.ask("PUT", "/api/v1/money/prices", {"rows": [self.price("whole_milk", 1000, 4.4), self.price("white_sugar", 1000, 1.5)]})
        found = self.ask("GET", "/api/v1/money/changes")
        mine = found["drinks"][0]
        self.assertEqual((mine["drink"], mine["version"], mine["least_margin"]), (drink, 1, 80))
        self.assertEqual([(each["substance"], each["then"], each["now"]) for each in mine["changes"]],
                         [("whole_milk", 1.1, 4.4), ("white_sugar", 1.2, 1.5)])  # fmt: skip
        size = mine["sizes"][0]
        syrup = 0.010 * 0.3
        self.assertAlmostEqual(size["cost_now"] - size["cost_then"], 0.25 * 3.3 + syrup, delta=1e-4)
        self.assertTrue(size["below"] and size["pushed_below"])
        sugar = found["formulas"][0]
        self.assertEqual((sugar["formula"], sugar["unit"]), (formula, "l"))
        self.assertAlmostEqual(sugar["now"] / sugar["then"], 1.25, places=6)
        self.assertEqual(self.send(self.signed_in("bar"), "GET", "/api/v1/money/changes").status_code, 403)

    def test_side_by_side_with_scores_and_in_a_drink(self) -> None:
        rows = [self.price("white_sugar", 1000, 1.2), self.price("whole_milk", 1000, 1.1), self.price("espresso", 1000, 2.0)]
        self.ask("PUT", "/api/v1/money/prices", {"rows": rows})
        formula = self.syrup()
        drink = self.latte(made_key(formula, 1))
        bought = self.benchmark(sheets=[{"by": "A", "score": 6}, {"by": "B", "score": 7}, {"by": "C"}])
        ask = {
            "choices": [{"kind": "formula", "id": formula, "dose": 20}, {"kind": "benchmark", "id": bought, "dose": 15}],
            "drink": {"id": drink, "component": "dose"},
        }
        found = self.ask("POST", "/api/v1/money/side-by-side", ask)
        ours, pack = found["choices"]
        self.assertAlmostEqual(pack["per_litre"]["likely"], 8.0, places=9)
        self.assertAlmostEqual(pack["per_dose"]["likely"], 0.12, places=9)
        self.assertEqual((pack["score"], pack["tasters"], ours["score"]), (6.5, 2, None))
        self.assertEqual((ours["as_sweet_dose"], found["sizes"]), (20.0, ["Long"]))
        mine, theirs = found["in_drink"]
        self.assertAlmostEqual(theirs["cost"][0] - mine["cost"][0], 0.12 - ours["per_dose"]["likely"], places=9)
        self.assertIn("20 g", found["drink_words"])
        missing = self.benchmark(name="No pack", pack=None)
        ask["choices"].append({"kind": "benchmark", "id": missing, "dose": 15})
        self.assert_problem(self.send(self.client_, "POST", "/api/v1/money/side-by-side", ask), 422, field="choices.2.id", word="No pack")

    def test_make_or_buy(self) -> None:
        business = self.ask("GET", "/api/v1/business")
        self.ask(
            "PUT", "/api/v1/business", {"number": business["number"], "business": {**business["business"], "wage_h": 18, "energy_price_kwh": 0.3}}
        )
        self.ask("PUT", "/api/v1/money/prices", {"rows": [self.price("white_sugar", 1000, 1.2)]})
        found = self.ask("POST", "/api/v1/money/make-or-buy", {"formula": self.syrup(), "dose_g": 20, "benchmark": self.benchmark(), "dose": 15})
        self.assertAlmostEqual(found["bought"], 0.12, places=9)
        self.assertTrue(0 < found["pays_from"]["amount"] < found["batch"]["amount"])
        self.assertIn("Making begins to pay", found["words"][0])
        no_price = self.benchmark(name="No price", pack={"size": 750})
        body = {"formula": self.syrup("Weir Simple"), "dose_g": 20, "benchmark": no_price, "dose": 15}
        self.assert_problem(self.send(self.client_, "POST", "/api/v1/money/make-or-buy", body), 422, field="benchmark", word="No price")

    def test_packs_for_a_document(self) -> None:
        """500 g of sugar: the newest price of each kind of pack, and the cheaper of the two."""
        rows = [self.price("white_sugar", 1000, 1.2), self.price("white_sugar", 1000, 1.6), self.price("white_sugar", 600, 0.9)]
        for row in rows:
            self.ask("PUT", "/api/v1/money/prices", {"rows": [row]})
        found = self.ask("POST", "/api/v1/money/packs", {"document": self.ask("GET", f"/api/v1/formulas/{self.syrup()}")["document"]})
        sugar = found["purchases"][0]
        self.assertEqual([(each["mass_g"], each["count"], each["price"]) for each in sugar["packs"]], [(600, 1, 0.9)])
        self.assertAlmostEqual(sugar["left_g"], 100.0, places=6)
        self.assertEqual((found["price"], found["not_priced"]), (0.9, []))
