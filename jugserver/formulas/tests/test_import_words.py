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
        response = self.send(self.client, "POST", "/api/v1/import/read", {"text": text, **asked})
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

    def test_packs_fruits_and_asides(self) -> None:
        cases = {
            "2 x 397g tins condensed milk": ("condensed_milk", 794), "1 (400 ml) tin of coconut milk": ("coconut_milk", None), "½ x 400g tin coconut milk": ("coconut_milk", 200),
            "2 cans (14 oz by weight) evaporated milk": ("evaporated_milk", None), "1 tin (397g) condensed milk": ("condensed_milk", 397), "2 oranges, juiced": ("orange_juice", 160),
            "1 bottle (1,000 ml) water": ("water", 998), "1/0 x 400 g honey": (None, None), "1 1/2 x 400 g honey": ("honey", 600),
            "zest of 1 lime": ("lime_zest", 3), "Juice from 2 large limes": ("lime_juice", 60), "240 ml (1 cup) whole milk": ("whole_milk", 247.68), "500ml/2 cups water": ("water", 499),
            "2 tbsp. roasted butternut squash purée": ("pumpkin_puree", 30.9), "8 oz dark chocolate chips (60% cacao), melted": ("dark_chocolate_55", 226.8),
            "2 star anise": ("whole_star_anise", 3), "2-inch piece fresh ginger, peeled": ("fresh_ginger", 20), "100g butter (unsalted)": ("butter_unsalted", 100),
            "200 g dark chocolate (70%)": ("dark_chocolate_70", 200), "1.5 cups half & half": ("half_and_half", 384), "2 cups fresh or frozen raspberries": ("raspberry", None),
            "3 heaped teaspoons instant coffee": ("instant_coffee", None), "8 oz milk powder": ("milk_powder", 226.8), "3 bags earl grey tea": ("black_tea", 6), "1 kg ripe pears, cored": ("pear_flesh", 1000),
            "1 cup sugar (white or brown)": ("white_sugar", None), "a few drops of vanilla": ("vanilla_extract", None), "5 green cardamom pods, lightly crushed": ("whole_cardamom", 1),
        }  # fmt: skip
        for row, (text, (substance, grams)) in zip(self.read("\n".join(cases))["rows"], cases.items(), strict=True):
            with self.subTest(text):
                if substance is not None:
                    self.assertEqual(row["substance"], substance)
                if grams is not None:
                    self.assertIsNone(row["problem"])
                    self.assertAlmostEqual(row["grams"], grams, delta=0.06)

    def test_amounts_behind_marks_before_and_figures_as_people_write_them(self) -> None:
        cases = {
            "Sugar: 200 g": ("white_sugar", 200), "Water - 300 g": ("water", 300), "White sugar ........ 310 g": ("white_sugar", 310), "Sugar, white, 250 g": ("white_sugar", 250),
            "Honey\t120 g": ("honey", 120), "Whole milk (500 ml)": ("whole_milk", 516), "Cream 35%: 200ml": (None, None), "vanilla extract 1 tsp": ("vanilla_extract", None),
            "✔ 100 g water": ("water", 100), "1-1/2 cups sugar": ("white_sugar", 316.9), "1 - 1/2 cups sugar": ("white_sugar", 316.9), "c. 200 g sugar": ("white_sugar", 200),
            "salt, a pinch": ("salt", None), "40 g glucose syrup DE42": ("glucose_syrup", 40), "5 g citric acid": ("citric_acid", 5), "cinnamon, 2 sticks": ("whole_true_cinnamon", 6),
        }  # fmt: skip
        for row, (text, (substance, grams)) in zip(self.read("\n".join(cases))["rows"], cases.items(), strict=True):
            with self.subTest(text):
                if substance is not None:
                    self.assertEqual(row["substance"], substance)
                    self.assertIsNone(row["problem"])
                self.assertNotEqual(row["amount"], "")
                if grams is not None:
                    self.assertAlmostEqual(row["grams"], grams, delta=0.06)

    def test_a_line_typed_at_the_bench_is_read_the_same_way(self) -> None:
        cases = {
            "1 vanilla bean": ("vanilla_pod", "1 bean"), "juice of 2 lemons": ("lemon_juice", "2 lemon"), "1 cup (200 g) granulated sugar": ("white_sugar", "200 g"),
            "250 ml hot water": ("water", "250 ml"), "2 x 397g tins condensed milk": ("condensed_milk", "794 g"), "5 green cardamom pods": ("whole_cardamom", "5 pod"),
            "1 cup light brown sugar, packed": ("light_brown_sugar", "1 cup"), "30 % cassia bark, ground": ("cassia", "30%"), "50 honey": ("honey", "50"), "honey": ("honey", ""),
        }  # fmt: skip
        for text, (substance, amount) in cases.items():
            with self.subTest(text):
                found = json.loads(self.client.get("/api/v1/substances/typed", {"text": text}).content)
                self.assertEqual((found["hits"][0]["id"], found["amount"]), (substance, amount))

    def test_what_the_pantry_does_not_know_is_not_taken_for_something_else(self) -> None:
        for text in ("200 g mango juice", "100 g lychee butter", "1 egg yolk", "1 cube ice", "50 g walnut milk"):
            with self.subTest(text):
                row = self.read(f"{text}\n100 g water")["rows"][0]
                self.assertEqual((row["substance"], row["sure"]), ("", False), row)
                self.assertIn("The pantry knows nothing", row["problem"]["message"])
        knob = self.read("100 g water\na knob of butter")["rows"][1]
        self.assertEqual((knob["amount"], knob["grams"]), ("", None), "no stick")
        self.assertEqual((knob["title"], knob["sure"], knob["problem"]["message"]), ("Butter, salted", False, "How much of it is missing."))
        self.assertFalse(self.read("200 ml chocolate milk\n100 g water")["rows"][0]["sure"])

    def test_what_is_said_about_a_recipe_and_its_steps_are_no_ingredients(self) -> None:
        text = (
            "Recipe: Weir Syrup\nPrep time: 5 minutes\nServings: 12\nYield: about 2 cups\nCalories: 120 kcal\n\nINGREDIENTS\n100 g water\n200 g white sugar\n\n"
            "Method\nThe water and 200 g sugar go into a pan\n95 °C is enough\n"
        )
        found = self.read(text)
        self.assertEqual(found["name"], "Weir Syrup")
        self.assertEqual([row["substance"] for row in found["rows"]], ["water", "white_sugar"])
        for said in ("Servings: 12", "Calories", "go into a pan", "95 °C is enough"):
            self.assertIn(said, found["notes"])

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
