"""Lines as recipes write them: titles, heat, packing words and grams beside cups are taken for what they are."""

from __future__ import annotations

import json
from typing import Any

from jugserver.config.tests.shop import ShopCase


class Words(ShopCase):
    def setUp(self) -> None:
        super().setUp()
        self.client = self.signed_in("lead")

    def read(self, text: str, **asked: Any) -> dict[str, Any]:
        response = self.send(self.client, "POST", "/api/import/read", {"text": text, **asked})
        self.assertEqual(response.status_code, 200, response.content[:400])
        found: dict[str, Any] = json.loads(response.content)["formulas"][0]
        return found

    def test_what_a_line_names_and_how_much(self) -> None:
        cases = {
            "250 ml hot water": ("water", 249.5), "1 cup light brown sugar, packed": ("light_brown_sugar", None), "350ml full-fat milk": ("whole_milk", 361.2),
            "1 vanilla bean": ("vanilla_pod", None), "1 cup (200 g) granulated sugar": ("white_sugar", 200), "200 g / 1 cup sugar": ("white_sugar", 200),
            "500 g gourd, peeled and cubed": ("pumpkin_flesh", 500), "300 g butternut squash": ("pumpkin_flesh", 300), "2 g confectioner's sugar": ("icing_sugar", 2),
            "100 g heavy whipping cream, cold": ("heavy_cream", 100), "3 tbsp cold brew": ("cold_brew_concentrate", None), "10 g cornstarch": ("corn_starch", 10),
            "0.2 g xanthan": ("xanthan", 0.2), "1 cinnamon stick": ("whole_true_cinnamon", None), "400 g oat milk": ("oat_drink", 400), "1 888 g honey": ("honey", 1888),
            "100 g freshly squeezed lemon juice": ("lemon_juice", 100), "1 / 2 cup water": ("water", 124.8), "50 g light corn syrup": ("light_corn_syrup", 50),
            "25 g dutch process cocoa, sifted": ("cocoa_alkalised", 25), "▢ 60 g unsalted butter, at room temperature": ("butter_unsalted", 60),
        }  # fmt: skip
        rows = self.read("\n".join(cases))["rows"]
        self.assertEqual(len(rows), len(cases))
        for row, (text, (substance, grams)) in zip(rows, cases.items(), strict=True):
            with self.subTest(text):
                self.assertEqual((row["substance"], row["problem"]), (substance, None))
                if grams is not None:
                    self.assertAlmostEqual(row["grams"], grams, delta=0.06)
        pod = next(row for row in rows if row["substance"] == "vanilla_pod")
        self.assertEqual(pod["amount"], "1 bean")
        self.assertGreater(pod["grams"], 1.5, "a pod, not a gram")

    def test_titles_and_steps_are_no_ingredients(self) -> None:
        found = self.read(
            "Brown Sugar Syrup\n\nFor the syrup:\n1 cup brown sugar\n1 cup water\nMicrowave 2 min, stir\nLet it cool to 20 °C.\nMakes 300 ml\n## To finish\n1 tsp vanilla extract\n"
        )
        self.assertEqual(found["name"], "Brown Sugar Syrup")
        self.assertEqual([(row["stage"], row["substance"]) for row in found["rows"]], [
            ("For the syrup", "light_brown_sugar"), ("For the syrup", "water"), ("To finish", "vanilla_extract"),
        ])  # fmt: skip
        for step in ("Microwave 2 min", "cool to 20", "Makes 300 ml"):
            self.assertIn(step, found["notes"])

    def test_a_guess_is_marked_and_the_usual_sugar_is_the_first(self) -> None:
        rows = self.read("100 g sugar\n200 g cream\n100 g caster sugar")["rows"]
        self.assertEqual([(row["substance"], row["sure"]) for row in rows], [("white_sugar", False), ("heavy_cream", False), ("caster_sugar", True)])
        self.assertIn("caster_sugar", [each["substance"] for each in rows[0]["others"]] + [rows[2]["substance"]])

    def test_a_number_of_something_that_no_piece_is_known_of_is_asked(self) -> None:
        row = self.read("2 cardamom green ground\n100 g water")["rows"][0]
        self.assertEqual(row["amount"], "")
        self.assertIn("How much", row["problem"]["message"])

    def test_whose_cups_they_are_is_asked_once_a_file_and_kept(self) -> None:
        for measures, millilitres in ((None, 250), ("us", 236.588), ("imperial", 284.131), ("australian", 250)):
            found = self.read("1 cup water\n100 g honey", measures=measures)
            self.assertAlmostEqual(found["rows"][0]["grams"], millilitres * 0.998, delta=0.3)
            self.assertEqual(found["document"].get("measures"), measures)
        pint = self.read("1/2 pint water\n100 g honey")["rows"][0]
        self.assertIn("473 ml (US) or 568 ml (imperial)", pint["problem"]["message"])
        self.assertIsNone(self.read("1/2 pint water\n100 g honey", measures="us")["rows"][0]["problem"])

    def test_percent_with_a_space_is_the_same_as_without(self) -> None:
        for text in ("30 % cassia", "30% cassia"):
            self.assertEqual(self.read(f"{text}\n100 g water")["rows"][0]["amount"], "30%")
