"""One ingredient for another: what is held stays, ties stay or say so, and what is no reading is told."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.editing.edits import set_amount
from jugcore.errors import DomainError
from jugcore.matter.library import library
from jugcore.matter.substance_document import as_document
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.phrases import apart
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF
from jugcore.suggesting.substitute import Swapped, substitute
from jugcore.suggesting.suggestion import Suggestion
from jugcore.tests.test_readings import example

SUGARS = (
    "honey",
    "maple_syrup",
    "agave_syrup",
    "demerara_sugar",
    "dark_brown_sugar",
    "invert_syrup",
    "dextrose",
    "jaggery",
    "glucose_syrup",
    "fructose_powder",
)


def method(name: str, **changes: Any) -> Method:
    return parse_document({**example(name), **changes})


def way(found: Swapped, kind: str) -> Suggestion:
    return next(w for w in found.suggestions if w.kind == kind)


def value(of: Suggestion | Method, reading: str) -> float:
    walked = of.walk if isinstance(of, Suggestion) else walk(of)
    return float(READING_OF[reading](walked).value[0])


class Held(unittest.TestCase):
    def test_any_sugar_for_another_holds_brix_and_yield(self) -> None:
        """In a plain syrup and in one that is boiled down; by the documents, walked again from their JSON."""
        for name in ("weir-simple", "ferrymans-spice"):
            plain = method(name)
            for id in SUGARS:
                found = substitute(plain, "sugar", {id: 1})
                with self.subTest(formula=name, sugar=id):
                    held = way(found, "held")
                    again = parse_document(held.document.model_dump(mode="json"))
                    self.assertAlmostEqual(value(again, "brix"), value(plain, "brix"), delta=0.06)
                    self.assertAlmostEqual(value(again, "yield_g"), value(plain, "yield_g"), delta=1.6)
                    self.assertNotEqual(way(found, "even").document, held.document)

    def test_honey_by_hand(self) -> None:
        """Weir Simple, 750 g of sugar to 750 of water: as many solids and as much in all."""
        plain = method("weir-simple")
        held = way(substitute(plain, "sugar", {"honey": 1}), "held")
        shares = library()["honey"].mass_fraction
        solids = 750 * float(library()["white_sugar"].mass_fraction @ c.DISSOLVED)
        self.assertAlmostEqual(float(held.walk.end.lines["sugar"][0]), solids / float(shares @ c.DISSOLVED), delta=3)
        self.assertAlmostEqual(float(held.walk.end.lines["water"][0]) + float(held.walk.end.lines["sugar"][0]), 1500, delta=1)
        self.assertIn("in place of 750 g of white granulated sugar", held.todo[0])

    def test_a_blend_keeps_its_shares_and_what_followed_the_line_follows_both(self) -> None:
        raw = example("weir-simple")
        raw["stages"][0]["lines"].append(
            {"id": "more", "substance": "blossom_water", "amount": {"kind": "as_much_as", "lines": ["sugar"], "factor": 0.1}}
        )
        plain = parse_document(raw)
        found = substitute(plain, "sugar", {"light_brown_sugar": 1, "white_sugar": 3})
        for each in found.suggestions:
            lines = each.walk.end.lines
            second = next(id for id in lines if id.startswith("sugar-"))
            self.assertAlmostEqual(float(lines[second][0] / lines["sugar"][0]), 3, places=9)
            self.assertAlmostEqual(float(lines["more"][0]), 0.1 * float(lines["sugar"][0] + lines[second][0]), places=6)
            self.assertIn("light brown sugar", each.title)

    def test_where_no_water_could_move_some_comes_in_beside_the_new_line_and_no_other_stage_changes(self) -> None:
        raw = example("weir-simple")
        raw["stages"] = [
            {"id": "base", "kind": "add", "vessel": "pot", "lines": [{"id": "syrup", "substance": "maple_syrup", "amount": "600 g"}]},
            {"id": "sweeten", "kind": "add", "vessel": "pot", "lines": [{"id": "honey", "substance": "honey", "amount": "400 g"}]},
        ]
        plain = parse_document(raw)
        held = way(substitute(plain, "honey", {"white_sugar": 1}), "held")
        self.assertAlmostEqual(value(held, "brix"), value(plain, "brix"), delta=0.06)
        self.assertAlmostEqual(value(held, "yield_g"), 1000, delta=1.6)
        first, second = held.document.stages
        self.assertEqual([line.id for line in first.ingredients], ["syrup"])
        self.assertEqual([line.substance for line in second.ingredients], ["white_sugar", "water"])

    def test_what_is_held_can_be_chosen(self) -> None:
        plain = method("weir-simple")
        sweet = way(substitute(plain, "sugar", {"honey": 1}, ("sweetness", "yield_g")), "held")
        self.assertAlmostEqual(value(sweet, "sweetness"), value(plain, "sweetness"), delta=0.06)
        self.assertEqual([w.kind for w in substitute(plain, "sugar", {"honey": 1}, ()).suggestions], ["even"])

    def test_dairy_for_plant_holds_fat_or_says_why_not(self) -> None:
        plain = method("fennel-sweet-cream")
        found = substitute(plain, "cream", {"plant_whipping_cream": 1}, ("fat",))
        self.assertAlmostEqual(value(way(found, "held"), "fat"), value(plain, "fat"), delta=0.06)
        told = {d.about: (d.before, d.after) for d in found.differences}
        self.assertEqual(told["Check the pack for"], ("none known", "soybeans, milk"))
        poor = substitute(plain, "cream", {"almond_drink": 1}, ("fat", "yield_g"))
        self.assertEqual([w.kind for w in poor.suggestions], ["even"])
        self.assertIn("cannot be held", poor.why_not[0])

    def test_allergens_gained_and_lost(self) -> None:
        told = {d.about: (d.before, d.after) for d in substitute(method("fennel-sweet-cream"), "milk", {"oat_drink": 1}).differences}
        self.assertEqual(told["Allergens"], ("milk", "gluten, milk"))  # the cream is still there


class Seasonings(unittest.TestCase):
    def test_whole_for_ground_is_gram_for_gram_and_keeps_its_tie(self) -> None:
        plain = method("ferrymans-spice")
        found = substitute(plain, "cardamom", {"whole_cardamom": 1})
        self.assertEqual([w.kind for w in found.suggestions], ["even"])
        again = compile_document(found.suggestions[0].document)
        self.assertEqual(again.amounts["cardamom"], plain.amounts["cardamom"])
        self.assertEqual({d.about for d in found.differences}, {"Once opened"})

    def test_fresh_for_dried_goes_by_dry_matter(self) -> None:
        stage = {
            "id": "a",
            "kind": "add",
            "vessel": "pot",
            "lines": [{"id": "w", "substance": "water", "amount": "1 kg"}, {"id": "g", "substance": "ground_ginger", "amount": "10 g"}],
        }
        found = substitute(parse_document({"stages": [stage]}), "g", {"fresh_ginger": 1})
        dry = way(found, "dry")
        book = library()
        expected = 10 * (1 - float(book["ground_ginger"].mass_fraction[c.WATER])) / (1 - float(book["fresh_ginger"].mass_fraction[c.WATER]))
        self.assertAlmostEqual(float(dry.walk.end.lines["g"][0]), expected, delta=0.6)
        self.assertIn("taste it", dry.notes[0])


class Refused(unittest.TestCase):
    def test_what_cannot_be_swapped(self) -> None:
        plain = method("weir-simple")
        for line, parts in (
            ("nothing", {"honey": 1.0}),
            ("sugar", {}),
            ("sugar", {"honey": 0.0}),
            ("sugar", {"moon_dust": 1.0}),
            ("sugar", dict.fromkeys(SUGARS, 1.0)),
        ):
            with self.subTest(line=line, parts=parts), self.assertRaises(DomainError):
                substitute(plain, line, parts)
        blend = {
            "id": "b",
            "kind": "blend",
            "vessel": "bowl",
            "total": "25 g",
            "lines": [{"id": "m", "substance": "mace", "amount": "1 part"}, {"id": "c", "substance": "clove", "amount": "1 part"}],
        }
        self.assertEqual(len(substitute(parse_document({"stages": [blend]}), "m", {"nutmeg": 1}).suggestions), 1)

    def test_cost_moves_where_both_have_a_price(self) -> None:
        def priced(id: str, price: float) -> dict[str, Any]:
            return as_document(library()[id]).model_copy(update={"price_per_kg": price}).model_dump(mode="json", exclude_none=True)

        plain = method("weir-simple", substances={"white_sugar": priced("white_sugar", 1.0), "honey": priced("honey", 9.0)})
        moved = {m.reading: m for m in way(substitute(plain, "sugar", {"honey": 1}), "held").moves}
        self.assertAlmostEqual(moved["cost_kg"].before, 0.5, places=2)
        self.assertGreater(moved["cost_kg"].after, 5)
        self.assertTrue(np.isfinite(moved["cost_kg"].after))


class TiesSurvive(unittest.TestCase):
    """A line that goes by others goes by them after a swap, by its share; or it is said that it does not."""

    AMOUNTS = ("as the juice", "half the juice", "80 g per kg of juice", "60 g per kg")

    def document(self, amount: str) -> dict[str, Any]:
        lines = [
            {"id": "juice", "substance": "pear_juice", "name": "Juice", "amount": "400 g"},
            {"id": "sugar", "substance": "white_sugar", "amount": amount},
        ]
        return {"stages": [{"id": "in", "kind": "add", "vessel": "pot", "lines": [*lines, {"id": "w", "substance": "water", "amount": "200 g"}]}]}

    def test_kept_by_its_share_or_said(self) -> None:
        for amount in self.AMOUNTS:
            for parts in ({"caster_sugar": 1.0}, {"caster_sugar": 2.0, "honey": 1.0}, {"caster_sugar": 1.0, "honey": 1.0, "dextrose": 1.0}):
                with self.subTest(amount=amount, parts=parts):
                    method = parse_document(self.document(amount))
                    was = float(walk(method).end.lines["sugar"][0])
                    found = substitute(method, "sugar", parts)
                    even = next(way for way in found.suggestions if way.kind == "even")
                    self.assertEqual(even.ties_broken, ())
                    self.assertEqual(len(even.ties_kept), 1)
                    # Twice the juice: whatever stands in its place is twice as much, together and each.
                    more = even.document.model_copy(deep=True)
                    doubled = compile_document(set_amount(more, "juice", Written(text="800 g")))
                    now = walk(doubled)
                    together = sum(float(now.end.lines[id][0]) for id in now.end.lines if id == "sugar" or id.startswith("sugar-"))
                    before = walk(compile_document(even.document))
                    self.assertAlmostEqual(
                        sum(float(before.end.lines[id][0]) for id in before.end.lines if id == "sugar" or id.startswith("sugar-")), was, places=6
                    )
                    self.assertGreater(together, 1.3 * was)
                    for way in found.suggestions:
                        if way.kind != "even":
                            self.assertEqual(len(way.ties_broken), 1)
                            self.assertTrue(any(note.startswith("No longer follows") for note in way.notes))

    def test_a_part_of_a_blend_becomes_parts(self) -> None:
        lines = [{"id": "a", "substance": "cassia", "amount": "3 parts"}, {"id": "b", "substance": "clove", "amount": "1 part"}]
        method = parse_document({"stages": [{"id": "mix", "kind": "blend", "vessel": "jar", "total": "40 g", "lines": lines}]})
        even = next(way for way in substitute(method, "a", {"true_cinnamon": 2.0, "mace": 1.0}).suggestions if way.kind == "even")
        grams = sorted(round(float(g[0]), 6) for g in even.walk.end.lines.values())
        self.assertEqual(grams, [10.0, 10.0, 20.0])

    def test_two_figures_are_never_told_as_the_same(self) -> None:
        kitchen = Kitchen.model_validate({"scales": [{"id": "s", "name": "s", "capacity_g": 200, "resolution_g": 0.01}]})
        self.assertEqual(apart(kitchen, 3.334, 3.333), "3.334 g instead of 3.333 g")
        self.assertEqual(apart(kitchen, 3.4, 3.33), "3.4 g instead of 3.33 g")


if __name__ == "__main__":
    unittest.main()
