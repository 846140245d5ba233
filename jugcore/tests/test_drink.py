"""A dose in a drink: what is in the cup, how it is balanced, how far it is from curdling."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.dosing.schema import DrinkReport, DrinkRequest, drink_report
from jugcore.errors import DomainError, NotUnderstood
from jugcore.matter.library import library
from jugcore.matter.substance_document import as_document
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.walk import walk

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"


def example(name: str, **changes: Any) -> Method:
    return parse_document({**json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8")), **changes})


def mixed(*lines: tuple[str, str]) -> Method:
    stage = {"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": f"l{n}", "substance": s, "amount": a} for n, (s, a) in enumerate(lines)]}
    return parse_document({"stages": [stage]})


def cup(method: Method, dose: str, *base: tuple[str, str], at_c: float = 20.0) -> DrinkReport:
    return drink_report(method, DrinkRequest.model_validate({"dose": dose, "at_c": at_c, "base": [{"substance": s, "amount": a} for s, a in base]}))


def figure(found: DrinkReport, id: str) -> float:
    value = next(f.value for f in found.figures if f.id == id)
    assert value is not None
    return value


class InTheCup(unittest.TestCase):
    def test_sugars_by_hand(self) -> None:
        """15 g of a 1 : 1 syrup are 7.5 g of sugar; 200 g of milk bring 9.6 g of lactose, none of it added."""
        found = cup(example("weir-simple"), "15 g", ("whole_milk", "200 g"), ("espresso", "30 g"))
        self.assertAlmostEqual(figure(found, "added_g"), 7.5, delta=0.02)
        self.assertAlmostEqual(figure(found, "sugars_g"), 7.5 + 200 * 0.048, delta=0.05)
        self.assertAlmostEqual(figure(found, "caffeine_mg"), 30 * 2.12, delta=0.1)
        # 4 kcal a gram of sugar, 9 of fat, 4 of protein.
        self.assertAlmostEqual(figure(found, "energy_kcal"), 4 * (7.5 + 9.6) + 9 * 6.55 + 4 * 6.34 + 4 * 0.44, delta=4)

    def test_grams_strokes_and_spoons_by_the_weight_of_the_syrup(self) -> None:
        plain = example("weir-simple")
        density = float(walk(plain).product.total_g[0] / walk(plain).product.volume_ml(20.0)[0])
        kitchen = plain.document.kitchen
        assert kitchen is not None
        self.assertEqual(cup(plain, "20 g").dose_g, 20)
        self.assertAlmostEqual(cup(plain, "2 pumps").dose_g, 2 * kitchen.pump_ml * density, places=6)
        self.assertAlmostEqual(cup(plain, "1 tbsp").dose_g, 15 * density, places=6)
        for bad in ("", "some", "0 g", "2 moons", "as the milk"):
            with self.subTest(dose=bad), self.assertRaises(NotUnderstood) as refused:
                cup(plain, bad)
            self.assertEqual(refused.exception.field, "dose")
        with self.assertRaises(DomainError):
            cup(plain, "10 g", ("moon_dust", "3 g"))

    def test_twice_the_dose_is_twice_of_it_and_nothing_of_the_rest(self) -> None:
        spiced = example("ferrymans-spice")
        one, two, none = (cup(spiced, dose, ("brewed_coffee", "180 g")) for dose in ("10 g", "20 g", "0.0001 g"))
        for id in ("sugars_g", "added_g", "sweet_g", "fat_g"):
            self.assertAlmostEqual(figure(two, id) - figure(none, id), 2 * (figure(one, id) - figure(none, id)), places=3)

    def test_what_it_costs(self) -> None:
        def priced(id: str, price: float) -> dict[str, Any]:
            return as_document(library()[id]).model_copy(update={"price_per_kg": price}).model_dump(mode="json", exclude_none=True)

        priced_syrup = example("weir-simple", substances={"white_sugar": priced("white_sugar", 1.2)})
        grams = float(walk(priced_syrup).product.total_g[0])
        dose = 20 / grams * 0.75 * 1.2
        self.assertAlmostEqual(figure(cup(priced_syrup, "20 g"), "dose_cost"), dose, places=6)
        watered = cup(priced_syrup, "20 g", ("water", "100 g"))
        self.assertAlmostEqual(figure(watered, "cost"), dose, places=6)
        with_milk = cup(priced_syrup, "20 g", ("whole_milk", "100 g"))
        self.assertAlmostEqual(figure(with_milk, "dose_cost"), dose, places=6)
        missing = next(f for f in with_milk.figures if f.id == "cost")
        self.assertIsNone(missing.value)
        self.assertIn("the price of whole milk is missing", missing.why_not)
        unpriced = cup(example("weir-simple"), "20 g", ("water", "100 g")).figures
        self.assertEqual(["is missing" in f.why_not for f in unpriced if f.value is None], [True, False], "said once")


class Balance(unittest.TestCase):
    def sides(self, found: DrinkReport) -> dict[str, Any]:
        return {side.id: side for side in found.sides}

    def test_words_only_where_all_of_the_range_says_so(self) -> None:
        self.assertEqual(self.sides(cup(example("weir-simple"), "60 g", ("brewed_coffee", "180 g")))["sweet"].word, "sickly")
        self.assertEqual(self.sides(cup(example("weir-simple"), "1 g", ("brewed_coffee", "180 g")))["sweet"].word, "dry")
        vague = self.sides(cup(mixed(("honey", "100 g"), ("water", "40 g")), "21 g", ("brewed_coffee", "180 g")))["sweet"]
        self.assertEqual(vague.word, "by taste" if vague.low < 9 < vague.high or vague.low < 4 < vague.high else vague.word)
        self.assertLess(vague.low, vague.high)

    def test_practice_answers_what_is_off_and_bridges_what_is_off_twice(self) -> None:
        self.assertIn("Sweet, sickly", " ".join(cup(example("weir-simple"), "60 g", ("brewed_coffee", "180 g")).advice))
        both = cup(mixed(("lemon_juice", "100 g"), ("white_sugar", "100 g")), "60 g", ("water", "100 g")).advice
        self.assertIn("bridge", both[-1])
        fine = cup(example("weir-simple"), "15 g", ("whole_milk", "150 g"), ("espresso", "36 g")).advice
        self.assertEqual(fine, ())

    def test_nudges_are_mixed_and_read_again(self) -> None:
        found = cup(example("weir-simple"), "20 g", ("brewed_coffee", "180 g"))
        now = self.sides(found)
        for nudge in found.nudges:
            for move in nudge.moves:
                self.assertAlmostEqual(move.before, now[move.side].value, places=9)
        more = next(n for n in found.nudges if n.words == "4 g more of it")
        again = self.sides(cup(example("weir-simple"), "24 g", ("brewed_coffee", "180 g")))
        self.assertAlmostEqual(next(m.after for m in more.moves if m.side == "sweet"), again["sweet"].value, places=9)
        acid = next(n for n in found.nudges if n.words.startswith("2 g of a 6 %"))
        self.assertEqual({m.side for m in acid.moves} & {"sour"}, {"sour"})

    def test_a_sum_of_two_cups_is_one(self) -> None:
        """Mass in the cup is the dose's and the rest's, component by component."""
        plain = example("weir-simple")
        for dose in (5, 25):
            found = cup(plain, f"{dose} g", ("whole_milk", "100 g"))
            made = walk(plain).product
            sugar = dose * float((made.mass_g @ c.SUGARS)[0] / made.total_g[0]) + 100 * float(library()["whole_milk"].mass_fraction @ c.SUGARS)
            self.assertAlmostEqual(figure(found, "sugars_g"), sugar, places=6)


class Curdling(unittest.TestCase):
    def test_far_near_and_there(self) -> None:
        sharp = mixed(("lemon_juice", "100 g"), ("white_sugar", "100 g"))
        milk = ("whole_milk", "200 g")
        tones = []
        for dose in ("2 g", "25 g", "120 g"):
            found = cup(sharp, dose, milk).curdling
            assert found is not None
            self.assertLessEqual(found.low, found.high)
            tones.append(found.tone)
        self.assertEqual(tones, ["fine", "look", "stop"])

    def test_sooner_hot_and_sooner_with_soya_and_not_without_milk(self) -> None:
        sharp = mixed(("lemon_juice", "100 g"), ("white_sugar", "100 g"))
        cold, hot = cup(sharp, "10 g", ("whole_milk", "200 g")).curdling, cup(sharp, "10 g", ("whole_milk", "200 g"), at_c=70).curdling
        soya = cup(sharp, "10 g", ("soy_drink", "200 g")).curdling
        assert cold and hot and soya
        self.assertTrue(cold.high < hot.high < soya.high)
        self.assertIsNone(cup(sharp, "10 g", ("brewed_coffee", "200 g")).curdling)
        self.assertIsNone(cup(example("weir-simple"), "10 g", ("whole_milk", "200 g")).curdling)

    def test_every_pantry_row_in_a_cup(self) -> None:
        for id in library():
            found = cup(mixed((id, "50 g"), ("water", "50 g")), "20 g", ("whole_milk", "100 g"))
            for side in found.sides:
                self.assertTrue(np.isfinite(side.value) and side.low <= side.value <= side.high, (id, side))


class Cautions(unittest.TestCase):
    """EFSA 2015: 200 mg of caffeine in a single dose; WHO 2015 at 2,000 kcal: 25 and 50 g of free sugars a day."""

    def of(self, *base: tuple[str, str], dose: str = "20 g") -> tuple[str, ...]:
        syrup = {
            "stages": [
                {
                    "id": "a",
                    "kind": "add",
                    "vessel": "p",
                    "lines": [{"id": "s", "substance": "white_sugar", "amount": "600 g"}, {"id": "w", "substance": "water", "amount": "400 g"}],
                }
            ]
        }
        ask = DrinkRequest.model_validate({"dose": dose, "base": [{"substance": s, "amount": a} for s, a in base]})
        return drink_report(parse_document(syrup), ask).cautions

    def test_a_plain_cup_has_none(self) -> None:
        self.assertEqual(self.of(("espresso", "36 g"), ("whole_milk", "180 g")), ())

    def test_much_coffee_in_little_foam_says_its_caffeine(self) -> None:
        found = self.of(("instant_coffee", "8 g"), ("whole_milk", "180 g"))
        self.assertTrue(any("mg of caffeine" in words and "EFSA" in words for words in found))

    def test_added_sugars_past_a_day_are_named(self) -> None:
        self.assertTrue(any("25 g a day" in words for words in self.of(("water", "200 g"), dose="50 g")))
        self.assertTrue(any("whole day" in words for words in self.of(("water", "200 g"), dose="100 g")))


if __name__ == "__main__":
    unittest.main()
