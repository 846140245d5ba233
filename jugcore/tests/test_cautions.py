"""Cautions at their step: there where they matter, not where they do not, in two lines, none twice."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

from jugcore.families.family import families
from jugcore.matter.library import library
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.walk import walk
from jugcore.reading.cautions import TWO_LINES, Cautions
from jugcore.tests.random_methods import random_method

Doc = dict[str, Any]
DEMO = Path(__file__).resolve().parents[2] / "jugserver" / "demo" / "formulas"


def add(id: str, vessel: str, *lines: tuple[str, str], **more: Any) -> Doc:
    return {"id": id, "kind": "add", "vessel": vessel, "lines": [{"id": f"{id}-{s}", "substance": s, "amount": a, **more} for s, a in lines]}


def at(stage: str, *stages: Doc, **document: Any) -> str:
    walked = walk(parse_document({"stages": list(stages), **document}))
    return "\n".join(Cautions(walked).at(next(each for each in walked.stages if each.id == stage)))


CARAMEL: list[Doc] = [add("in", "pot", ("white_sugar", "400 g")), {"id": "brown", "kind": "caramelise", "vessel": "pot", "to_c": 172}]
#: Raw fruit and root that curdle milk.
RAW = ("fresh_ginger", "ginger_juice", "pineapple_juice", "pineapple_flesh", "papaya_flesh", "kiwi_flesh", "fig_fresh")


class AtTheirStep(unittest.TestCase):
    def test_dairy_out_of_the_cold_and_back_into_it(self) -> None:
        for substance in ("whole_milk", "half_and_half", "heavy_cream", "oat_drink"):
            self.assertIn("straight back", at("in", add("in", "jug", (substance, "500 g"))), substance)
        self.assertNotIn("straight back", at("in", add("in", "jug", ("white_sugar", "500 g"), ("water", "500 g"))))
        fill: Doc = {"id": "fill", "kind": "fill", "vessel": "jug", "into": "tubs"}
        self.assertIn("Into the fridge at once", at("fill", add("in", "jug", ("whole_milk", "500 g")), fill))
        self.assertNotIn("Into the fridge", at("fill", add("in", "jug", ("white_sugar", "500 g"), ("water", "300 g")), fill))

    def test_a_line_of_nothing_is_not_warmed(self) -> None:
        method = parse_document({"stages": [*CARAMEL, add("cream", "pot", ("heavy_cream", "300 g"), ("whole_milk", "100 g"))]})
        for grams, named in ((100, "Warm heavy cream and whole milk to"), (0, "Warm heavy cream to")):
            walked = walk(method, given={"lines.cream-whole_milk.grams": grams})
            said = "\n".join(Cautions(walked).at(walked.stages[-1]))
            with self.subTest(grams=grams):
                self.assertIn(named, said)

    def test_cream_is_warmed_before_it_meets_caramel(self) -> None:
        cold = at("cream", *CARAMEL, add("cream", "pot", ("heavy_cream", "300 g")))
        self.assertIn("Warm heavy cream to 60–80 °C first: as it stands it goes in at 4 °C.", cold)
        self.assertIn("It erupts", cold)
        warmed = at("cream", *CARAMEL, add("cream", "pot", ("heavy_cream", "300 g"), temperature_c=70))
        self.assertNotIn("Warm heavy cream", warmed)
        self.assertIn("It erupts", warmed)
        poured = at("join", *CARAMEL, add("jug", "jug", ("heavy_cream", "300 g")), {"id": "join", "kind": "join", "vessel": "pot", "source": "jug"})
        self.assertIn("to 60–80 °C first", poured)

    def test_cold_water_into_hot_syrup_spits_and_into_a_warm_one_does_not(self) -> None:
        def syrup(to_c: float, *late: tuple[str, str]) -> str:
            start = [add("in", "pot", ("white_sugar", "600 g"), ("water", "300 g")), {"id": "hot", "kind": "heat", "vessel": "pot", "to_c": to_c}]
            return at("late", *start, add("late", "pot", *late))

        self.assertIn("spits", syrup(100, ("water", "100 g")))
        self.assertIn("spits", syrup(95, ("lemon_juice", "30 g")))
        self.assertNotIn("spits", syrup(70, ("water", "100 g")))
        self.assertNotIn("spits", syrup(100, ("cassia", "10 g")), "a dry powder does not")

    def test_a_steep_between_cold_and_hot_is_told_and_one_out_of_it_is_not(self) -> None:
        def steep(to_c: float, where: str, minutes: float) -> str:
            return at("s", add("in", "pot", ("whole_milk", "500 g"), ("hazelnut", "100 g")), {"id": "w", "kind": "heat", "vessel": "pot", "to_c": to_c},
                      {"id": "s", "kind": "steep", "vessel": "pot", "where": where, "for_min": minutes})  # fmt: skip

        self.assertIn("57 °C or above", steep(50, "hob", 40))
        self.assertIn("57 °C or above", steep(60, "air", 120))
        self.assertNotIn("57 °C or above", steep(65, "hob", 40))
        self.assertNotIn("57 °C or above", steep(50, "hob", 10))

    def test_pressed_nuts_are_dated_or_binned(self) -> None:
        start = [add("in", "pot", ("whole_milk", "800 g"), ("hazelnut", "150 g"))]
        self.assertIn("date them", at("z", *start, {"id": "z", "kind": "strain", "vessel": "pot", "into": "jug", "pressed": True}))
        self.assertIn("date them", at("z", *start, {"id": "z", "kind": "press", "vessel": "pot", "into": "jug", "yield_fraction": 0.6}))
        spice = [add("in", "pot", ("whole_milk", "800 g"), ("cassia", "15 g"))]
        self.assertNotIn("date them", at("z", *spice, {"id": "z", "kind": "strain", "vessel": "pot", "into": "jug"}))

    def test_cocoa_catches_and_climbs(self) -> None:
        start = [add("in", "pot", ("water", "500 g"), ("cocoa_powder", "100 g"), ("white_sugar", "200 g"))]
        for id, stage in (("h", {"kind": "heat", "to_c": 90}), ("b", {"kind": "boil", "until": {"minutes": 10}})):
            self.assertIn("catches", at(id, *start, {"id": id, "vessel": "pot", **stage}))
        self.assertNotIn("catches", at("h", add("in", "pot", ("water", "500 g")), {"id": "h", "vessel": "pot", "kind": "heat", "to_c": 90}))

    def test_raw_ginger_and_fruit_are_told_where_they_meet_milk(self) -> None:
        join: Doc = {"id": "meet", "kind": "join", "vessel": "jug", "source": "pot"}
        for substance in RAW:
            with self.subTest(substance):
                fruit, milk = add("fruit", "pot", (substance, "100 g"), ("water", "200 g")), add("milk", "jug", ("whole_milk", "500 g"))
                self.assertNotIn("curdles", at("fruit", fruit, milk, join), "alone it harms nobody")
                self.assertNotIn("curdles", at("milk", fruit, milk, join))
                self.assertIn("curdles milk", at("meet", fruit, milk, join))
                boil: Doc = {"id": "boil", "kind": "heat", "vessel": "pot", "to_c": 95}
                self.assertNotIn("curdles", at("meet", fruit, boil, milk, join), "boiled, it no longer does")
                into_milk = at("late", milk, add("late", "jug", (substance, "100 g")))
                self.assertIn("curdles milk", into_milk)
                strained: Doc = {"id": "meet", "kind": "strain", "vessel": "pot", "into": "jug"}
                self.assertIn("curdles milk", at("meet", fruit, milk, strained))

    def test_once_they_have_met_it_is_not_said_again(self) -> None:
        stages = [add("milk", "jug", ("whole_milk", "500 g"), ("kiwi_flesh", "100 g")), add("more", "jug", ("white_sugar", "50 g"))]
        self.assertIn("curdles", at("milk", *stages))
        self.assertNotIn("curdles", at("more", *stages))

    def test_honey_and_infants(self) -> None:
        self.assertIn("twelve months", at("in", add("in", "pot", ("honey", "100 g"), ("water", "100 g"))))


class InTwoLines(unittest.TestCase):
    def check(self, document: Doc) -> int:
        walked = walk(compile_document(parse_document(document).document))
        cautions = Cautions(walked)
        said = 0
        for stage in walked.stages:
            found = cautions.at(stage)
            said += len(found)
            self.assertEqual(len(found), len(set(found)), stage.id)
            for words in found:
                self.assertLessEqual(len(words), TWO_LINES, words)
                self.assertRegex(words, r"^\S.*\.$")
        return said

    def test_of_the_demo_and_every_school(self) -> None:
        documents = [json.loads(path.read_text(encoding="utf-8")) for path in sorted(DEMO.glob("*.json"))]
        documents += [school.document.model_dump(mode="json", exclude_none=True) for family in families() for school in family.schools]
        self.assertGreater(len(documents), 80)
        self.assertGreater(sum(self.check(document) for document in documents), 200)

    def test_of_every_ingredient_there_is(self) -> None:
        for id, book in library().items():
            if book.hazards:
                self.check({"stages": [add("milk", "pot", ("whole_milk", "100 g")), add("in", "pot", (id, "100 g"))]})

    def test_of_random_methods(self) -> None:
        self.assertGreater(sum(self.check(random_method(seed)) for seed in range(60)), 100)


if __name__ == "__main__":
    unittest.main()
