"""Other things in a cup, and what hangs at the bar."""

from __future__ import annotations

import unittest

import numpy as np

from jugcore.drinks.cards import build_card, dose_card, sheet_of
from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import load_drink
from jugcore.drinks.poured import Poured
from jugcore.drinks.swaps import MILKS, levels_of, swaps
from jugcore.tests.drinks import SIZES, drink, latte, likely, made, part, poured, syrup


class InPlaceOf(unittest.TestCase):
    def test_every_milk_there_is(self) -> None:
        cup = cup_of(load_drink(latte()))
        found = swaps(cup, "milk", MILKS)
        self.assertEqual(len(found), len(MILKS) - 1)
        by_id = {each.substance: each for each in found}
        self.assertEqual((by_id["oat_drink"].gains, by_id["oat_drink"].loses), (("gluten",), ("milk",)))
        fat = next(change for change in by_id["skimmed_milk"].changes if change.reading == "fat_100ml")
        self.assertTrue(bool(np.all(fat.after < fat.before)))

    def test_a_rich_creamer_thins_less_than_milk(self) -> None:
        """To as much fat as a cup half of milk, cream takes a tenth of it: the tea stays stronger."""
        tea = drink(part("tea", "brewed_coffee", "150 g", "tea"), part("milk", "whole_milk", "100 g", "milk"), sizes=SIZES[1:2])
        for each in tea["components"]:
            each["amounts"] = {"regular": next(iter(each["amounts"].values()))}
        found = swaps(cup_of(load_drink(tea)), "milk", ["heavy_cream"], same_fat=True)[0]
        fat = next(change for change in found.changes if change.reading == "fat_100ml")
        share = next(change for change in found.changes if change.reading == "brew_share")
        np.testing.assert_allclose(fat.after, fat.before, rtol=0.01)
        self.assertAlmostEqual(float(share.before[0]), 60.0, delta=0.1)
        self.assertGreater(float(share.after[0]), 90.0)

    def test_levels_of_tinned_milk_keep_the_cup_as_full(self) -> None:
        """Condensed to evaporated milk 2 : 1 and 1 : 2: named full and quarter, and 49 against 23 g of sugars in 100 g of the mix."""
        mixes = {
            id: made(id, name, ("condensed_milk", f"{a} g", 3.0), ("evaporated_milk", f"{b} g", 2.0))
            for id, name, a, b in (("full", "Tin Sweet, full", 200, 100), ("quarter", "Tin Sweet, quarter", 100, 200))
        }
        raw = drink(
            part("tin", "full", "30 ml | 40 ml | 50 ml | 60 ml", "dose"), part("c", "brewed_coffee", "120 g | 180 g | 240 g | 300 g", "coffee"),
            substances=mixes,
            levels=[{"id": "f", "name": "Full", "component": "tin", "substance": "full"},
                    {"id": "q", "name": "Quarter", "component": "tin", "substance": "quarter"}],
        )  # fmt: skip
        full, quarter = levels_of(cup_of(load_drink(raw)))
        np.testing.assert_allclose(full.fills_ml, quarter.fills_ml, rtol=0.01)
        self.assertTrue(bool(np.all((quarter.share > 0.4) & (quarter.share < 0.6))), quarter.share)  # “quarter”, and half of the sugars


class Cards(unittest.TestCase):
    def both(self) -> list[Poured]:
        """A latte, and a tea of other sizes with something made here on top."""
        tea = drink(
            part("tea", "brewed_coffee", "", "tea"), part("top", "syrup", "", "foam"), part("sweet", "honey", "", "dose"),
            sizes=[("long", 360, 346), ("pot", 600, 550)], substances={"syrup": syrup("Own Foam")},
        )  # fmt: skip
        for each, texts in zip(tea["components"], (("200 g", "400 g"), ("20 g", ""), ("1 tsp", "2 tsp")), strict=True):
            each["amounts"] = {size: text for size, text in zip(("long", "pot"), texts, strict=True) if text}
        return [poured(latte()), poured({**tea, "name": "A tea"})]

    def test_doses_over_sizes_of_several_drinks(self) -> None:
        card = dose_card([each.cup for each in self.both()])
        self.assertEqual(card.sizes, ("Short", "Regular", "Long", "Iced", "Pot"))
        told = {(row.drink, row.product): row.amounts for row in card.rows}
        self.assertEqual(told["A drink", "Plain"], ("10 g", "15 g", "20 g", "25 g", None))
        self.assertEqual(told["A tea", "Own Foam"], (None, None, "20 g", None, None))
        self.assertEqual(told["A tea", "Honey"], (None, None, "1 tsp", None, "2 tsp"))
        self.assertEqual(len(told), 3)  # coffee and milk are no doses

    def test_a_drink_is_built_in_the_order_of_pouring(self) -> None:
        card = build_card(self.both()[0])
        self.assertEqual([step.title for step in card.steps], ["Plain", "Espresso", "Whole milk", "Ice"])
        self.assertEqual(card.steps[3].amounts, (None, None, None, "110 g"))
        self.assertEqual([title for title, _, _ in card.cups[0].layers], ["Plain", "Whole milk", "Espresso"])
        self.assertEqual(card.contains, "Contains milk.")
        self.assertIn("Iced: serve at once, the ice thins it.", card.cautions)
        hot = build_card(poured(drink(part("m", "whole_milk", "150 g", "milk", steamed_c=65.0), sizes=SIZES[:1])))
        self.assertTrue(any("65 °C, it scalds" in words for words in hot.cautions) and any("Steam" in words for words in hot.cautions))

    def test_the_sheet_says_what_the_readings_say(self) -> None:
        drinks = self.both()
        sheet = sheet_of(drinks)
        self.assertEqual([(row.drink, row.contains) for row in sheet.allergens], [("A drink", ("milk",)), ("A tea", ())])
        self.assertEqual(len(sheet.nutrition), 6)
        energy = sheet.head.index("Energy (kcal)")
        self.assertEqual([float(row.figures[energy]) for row in sheet.nutrition[:4]], [round(each) for each in likely(drinks[0], "energy")])
