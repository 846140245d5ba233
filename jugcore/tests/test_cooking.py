"""A full cook of a version, read off its walk: as large as its pots take, as long as its keeping says."""

from __future__ import annotations

import unittest

from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document
from jugcore.planning.lots.cooking import LEAST_SHARE, cooks_of
from jugcore.planning.needs.of_versions import recipes_of
from jugcore.tests.nested import KITCHEN, nested

SYRUP = {
    "name": "Weir Simple",
    "stages": [
        {"id": "a", "kind": "add", "vessel": "pot", "lines": [{"id": "w", "substance": "water", "amount": "500 g"},
                                                              {"id": "s", "substance": "white_sugar", "amount": "500 g"}]},
        {"id": "h", "kind": "heat", "vessel": "pot", "to_c": 80},
    ],
}  # fmt: skip


class Cooks(unittest.TestCase):
    def test_a_larger_pot_makes_a_larger_cook(self) -> None:
        sizes = []
        for capacity in (2000.0, 4000.0, 8000.0):
            kitchen = Kitchen.model_validate({**KITCHEN, "pots": [{**KITCHEN["pots"][0], "capacity_ml": capacity}]})
            cook = cooks_of([("p", load_document(SYRUP))], kitchen).cooks[0]
            self.assertAlmostEqual(cook.least_g, LEAST_SHARE * cook.most_g)
            self.assertLess(cook.most_g * cook.ml_per_g, capacity)
            self.assertGreater(cook.burner_min, 0)
            self.assertGreaterEqual(cook.whole_min, cook.burner_min)
            self.assertAlmostEqual(cook.bought_g["white_sugar"], 0.5, delta=0.01)
            sizes.append(cook.most_g)
        self.assertTrue(sizes[0] < sizes[1] < sizes[2], sizes)

    def test_it_keeps_as_long_as_a_label_would_say(self) -> None:
        cook = cooks_of([("p", load_document(SYRUP))], Kitchen.model_validate({**KITCHEN, "chilled_days": 5})).cooks[0]
        self.assertEqual(cook.life_days, 5)
        self.assertTrue(cook.open)  # nobody has measured a pH

    def test_what_is_made_here_is_a_part_in_the_same_share_as_in_needs(self) -> None:
        document = load_document(nested(2, 1).made)
        cook, recipe = cooks_of([("p", document)]).cooks[0], recipes_of([("p", document)]).recipes[0]
        self.assertEqual(set(cook.parts_g), set(recipe.products))
        for id, grams in cook.parts_g.items():
            self.assertAlmostEqual(grams / recipe.products[id], 1.0, delta=0.1)
