"""What leads to the product, what joins it, and the starting mixture that spice is stated against."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.readings.spice import spice_started


def add(id: str, vessel: str, *lines: tuple[str, str, str]) -> dict[str, Any]:
    return {"id": id, "kind": "add", "vessel": vessel, "lines": [{"id": i, "substance": s, "amount": a} for i, s, a in lines]}


def stage(id: str, kind: str, vessel: str, **more: Any) -> dict[str, Any]:
    return {"id": id, "kind": kind, "vessel": vessel, **more}


def method(*stages: dict[str, Any], **more: Any) -> Method:
    return parse_document({"stages": list(stages), "kitchen": {"film_g": 0}, **more})


SPICE = add("blend", "mortar", ("mace", "mace", "22 g per kg started"))
SPICED = stage("spice", "join", "pot", source="mortar")
BOIL = stage("boil", "boil", "pot", until={"brix": 64})


def grams(found: Walk, line: str) -> float:
    return float(found.end.lines[line][0])


class Trunks(unittest.TestCase):
    def test_a_blend_joined_is_a_branch(self) -> None:
        found = method(SPICE, add("a", "pot", ("w", "water", "1 kg")), SPICED)
        self.assertEqual((found.trunk, found.product), ({"a", "spice"}, "pot"))

    def test_juice_pressed_into_a_pot_that_holds_water_is_a_branch(self) -> None:
        found = method(
            add("a", "pot", ("w", "water", "1 kg")), add("f", "bowl", ("p", "pear_flesh", "1 kg")), stage("press", "press", "bowl", into="pot")
        )
        self.assertEqual(found.trunk, {"a", "press"})

    def test_pouring_into_an_empty_vessel_leads_on_to_where_it_came_from(self) -> None:
        found = method(add("a", "pot", ("w", "water", "1 kg")), stage("s", "strain", "pot", into="jug"), stage("f", "fill", "jug", into="bottles"))
        self.assertEqual(found.trunk, {"a", "s", "f"})

    def test_strained_and_poured_back_into_its_pot_is_one_way(self) -> None:
        """The pot is empty again once it was strained: what comes back is no branch, and nothing counts twice."""
        tea = add("t", "pot", ("w", "water", "1 kg"), ("tea", "smoked_tea", "20 g"))
        strain = stage("s", "strain", "pot", into="jug")
        sugar = add("a", "pot", ("x", "white_sugar", "1 kg"))
        for back in (stage("back", "join", "pot", source="jug"), stage("back", "strain", "jug", into="pot")):
            found = method(tea, strain, back, sugar, BOIL)
            self.assertEqual((found.trunk, found.started), ({"t", "s", "back", "a", "boil"}, ("w", "x")))
        part = method(tea, strain, sugar, stage("back", "join", "pot", source="jug", amount="200 g"), BOIL)
        self.assertEqual((part.trunk, part.started), ({"a", "back", "boil"}, ("x", "back")))

    def test_what_never_joins_is_no_part_of_it(self) -> None:
        found = method(add("x", "cup", ("c", "espresso", "30 g")), add("a", "pot", ("w", "water", "1 kg")))
        self.assertEqual((found.trunk, found.started), ({"a"}, ("w",)))


class StartingMixture(unittest.TestCase):
    def expect(self, made: Method, started: tuple[str, ...], grams_started: float) -> Walk:
        """The ids that count, their grams, and the spice that follows: 22 g per kg, as the reading says too."""
        found = walk(made)
        self.assertEqual(found.faults, ())
        self.assertEqual(made.started, started)
        self.assertAlmostEqual(sum(grams(found, id) for id in started), grams_started, places=6)
        self.assertAlmostEqual(grams(found, "mace"), 0.022 * grams_started, places=6)
        self.assertAlmostEqual(float(spice_started(found).value[0]), 22.0, places=9)
        return found

    def test_lines_before_the_boil_count_and_spice_does_not(self) -> None:
        made = method(SPICE, add("a", "pot", ("w", "water", "600 g"), ("s", "white_sugar", "as the water")), SPICED, BOIL,
                      add("late", "pot", ("v", "vanilla_extract", "5 g"), ("m", "honey", "100 g")))  # fmt: skip
        self.expect(made, ("w", "s"), 1200)

    def test_where_nothing_is_boiled_everything_counts(self) -> None:
        made = method(
            SPICE,
            add("a", "pot", ("w", "water", "600 g")),
            SPICED,
            stage("h", "heat", "pot", to_c=60),
            add("late", "pot", ("s", "white_sugar", "400 g")),
        )
        self.expect(made, ("w", "s"), 1000)

    def test_of_pressed_fruit_the_juice_counts_whichever_way_it_comes(self) -> None:
        fruit = add("f", "bowl", ("p", "pear_flesh", "1 kg"))
        rest = add("a", "pot", ("w", "water", "500 g"), ("s", "white_sugar", "1 kg"))
        press = stage("press", "press", "bowl", into="cup", yield_fraction=0.5)
        joined = method(SPICE, fruit, press, rest, stage("juice", "join", "pot", source="cup"), SPICED, BOIL)
        into_the_pot = method(SPICE, rest, fruit, {**press, "into": "pot"}, SPICED, BOIL)
        first = method(SPICE, fruit, {**press, "into": "pot"}, rest, SPICED, BOIL)
        self.expect(joined, ("w", "s", "juice"), 2000)
        self.expect(into_the_pot, ("w", "s", "press"), 2000)
        self.expect(first, ("press", "w", "s"), 2000)

    def test_the_rest_follows_juice_that_comes_short(self) -> None:
        made = method(
            SPICE, add("f", "bowl", ("p", "pear_flesh", "1 kg")), stage("press", "press", "bowl", into="cup", yield_fraction=0.5),
            stage("juice", "join", "pot", source="cup", name="Juice"), add("a", "pot", ("w", "water", "as the juice"), ("s", "white_sugar", "as both")),
            SPICED, BOIL,
        )  # fmt: skip
        for share in (0.5, 0.43):
            found = walk(made, given={"stages.press.yield_fraction": share})
            with self.subTest(share=share):
                self.assertAlmostEqual(grams(found, "w"), 1000 * share, places=6)
                self.assertAlmostEqual(grams(found, "s"), 2000 * share, places=6)
                self.assertAlmostEqual(grams(found, "mace"), 0.022 * 4000 * share, places=5)

    def test_what_a_press_gave_can_be_named(self) -> None:
        """Water as much as the juice, sugar as much as both: straight from the fruit, in one vessel."""
        made = method(
            SPICE, add("f", "bowl", ("p", "pear_flesh", "1 kg")), stage("press", "press", "bowl", into="pot", yield_fraction=0.43),
            add("a", "pot", ("w", "water", "as the juice"), ("s", "white_sugar", "as both")), SPICED, BOIL,
            vessels=[{"id": "pot", "name": "Juice"}],
        )  # fmt: skip
        self.assertEqual((made.amount_texts["w"], made.amount_texts["s"]), ("as juice", "as juice and water"))
        found = self.expect(made, ("press", "w", "s"), 4 * 430)
        self.assertAlmostEqual(grams(found, "s"), 860, places=6)

    def test_a_branch_of_spice_alone_does_not_count(self) -> None:
        made = method(SPICE, stage("grind", "mill", "mortar"), add("a", "pot", ("w", "water", "1 kg")), SPICED)
        self.expect(made, ("w",), 1000)


if __name__ == "__main__":
    unittest.main()
