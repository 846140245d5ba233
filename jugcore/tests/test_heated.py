"""Whether all of a product was heated, as a read of every flow; and what becomes of an answer that says otherwise."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.method.compile import parse_document
from jugcore.method.walk import Walk, walk
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.keeping.heat_reached import heated
from jugcore.reading.report import report

Doc = dict[str, Any]


def add(id: str, vessel: str, *lines: tuple[str, str]) -> Doc:
    return {"id": id, "kind": "add", "vessel": vessel, "lines": [{"id": f"{id}-{s}", "substance": s, "amount": a} for s, a in lines]}


def hot_syrup(to_c: float = 90) -> list[Doc]:
    return [add("in", "pot", ("white_sugar", "500 g"), ("water", "400 g")), {"id": "hot", "kind": "heat", "vessel": "pot", "to_c": to_c}]


COOL: Doc = {"id": "cool", "kind": "cool", "vessel": "pot", "to_c": 30, "how": "cold_water"}


def walked(*stages: Doc, **document: Any) -> Walk:
    return walk(parse_document({"stages": list(stages), "finished": "pot", **document}))


def keeping(*stages: Doc, **document: Any) -> KeepingReport:
    return report(walked(*stages, **document)).keeping


#: Suggestions in which raw purée or juice comes into a syrup that was heated and cooled: none of them is an “add” to its pot.
RAW: dict[str, list[Doc]] = {
    "a join": [add("raw", "bowl", ("damson_puree", "200 g")), {"id": "j", "kind": "join", "vessel": "pot", "source": "bowl"}],
    "a strain": [add("raw", "bowl", ("damson_puree", "200 g")), {"id": "s", "kind": "strain", "vessel": "bowl", "into": "pot"}],
    "a press": [add("raw", "bowl", ("pear_flesh", "400 g")), {"id": "s", "kind": "press", "vessel": "bowl", "into": "pot", "yield_fraction": 0.5}],
    "a pour": [add("raw", "bowl", ("damson_puree", "200 g")), {"id": "f", "kind": "fill", "vessel": "bowl", "into": "pot", "size_ml": 500}],
    "two joins deep": [
        add("raw", "cup", ("damson_puree", "200 g")), add("w", "bowl", ("water", "50 g")), {"id": "j1", "kind": "join", "vessel": "bowl", "source": "cup"},
        {"id": "j2", "kind": "join", "vessel": "pot", "source": "bowl"},
    ],
    "a cake pressed later": [
        add("raw", "bowl", ("damson_puree", "300 g")), {"id": "s", "kind": "strain", "vessel": "bowl", "into": "cup"},
        {"id": "p", "kind": "press", "vessel": "cake:s", "into": "pot", "yield_fraction": 0.3},
    ],
    "a branch that is warmed too little": [
        add("raw", "bowl", ("damson_puree", "200 g")), {"id": "w", "kind": "heat", "vessel": "bowl", "to_c": 60},
        {"id": "j", "kind": "join", "vessel": "pot", "source": "bowl"},
    ],
}  # fmt: skip


class Flows(unittest.TestCase):
    def test_raw_fruit_is_seen_by_whatever_way_it_comes(self) -> None:
        for way, stages in RAW.items():
            with self.subTest(way):
                found = keeping(*hot_syrup(), COOL, *stages)
                self.assertFalse(found.heated_seen)
                self.assertRegex(found.heated_words, "(damson|pear).* went in unheated")

    def test_raw_fruit_brings_its_own_date_by_whatever_way(self) -> None:
        for way, stages in RAW.items():
            with self.subTest(way):
                found = keeping(*hot_syrup(), COOL, *stages)
                parts = [limit for limit in found.limits if limit.kind == "part"]
                self.assertTrue(parts, "its life once opened counts")
                self.assertTrue({"damson_puree", "pear_flesh"} & set(found.dated))

    def test_heated_once_more_after_it_came_it_is_heated(self) -> None:
        again: Doc = {"id": "again", "kind": "heat", "vessel": "pot", "to_c": 80}
        for way, stages in RAW.items():
            with self.subTest(way):
                found = keeping(*hot_syrup(), COOL, *stages, again)
                self.assertTrue(found.heated_seen)
                self.assertEqual([limit for limit in found.limits if limit.kind == "part"], [])

    def test_a_branch_that_was_boiled_is_heated_though_its_pot_is_cold(self) -> None:
        boiled = [add("raw", "bowl", ("damson_puree", "200 g")), {"id": "w", "kind": "heat", "vessel": "bowl", "to_c": 85},
                  {"id": "cc", "kind": "cool", "vessel": "bowl", "to_c": 30}, {"id": "j", "kind": "join", "vessel": "pot", "source": "bowl"}]  # fmt: skip
        self.assertTrue(keeping(*hot_syrup(), COOL, *boiled).heated_seen)

    def test_the_colder_of_two_parts_of_one_line_counts(self) -> None:
        """Half of the purée is boiled, the other half comes in raw from the same bowl."""
        stages = [
            add("raw", "bowl", ("damson_puree", "400 g")), {"id": "half", "kind": "join", "vessel": "pot", "source": "bowl", "amount": "200 g"},
            {"id": "hot", "kind": "heat", "vessel": "pot", "to_c": 85}, {"id": "c", "kind": "cool", "vessel": "pot", "to_c": 30},
            {"id": "rest", "kind": "join", "vessel": "pot", "source": "bowl"},
        ]  # fmt: skip
        found = heated(walked(*stages))
        self.assertEqual(len(found.raw), 1)

    def test_what_meets_a_pot_that_hot_is_heated_and_what_cools_it_below_is_not(self) -> None:
        self.assertTrue(keeping(*hot_syrup(92), add("late", "pot", ("lemon_juice", "40 g"))).heated_seen)
        self.assertFalse(keeping(*hot_syrup(78), add("late", "pot", ("lemon_juice", "100 g"))).heated_seen)


class Answers(unittest.TestCase):
    TOLD: Doc = {"heat_treated": True, "packaged": True, "ph": 5.2}

    def test_an_answer_the_walk_contradicts_is_a_question_and_no_verdict(self) -> None:
        for way, stages in RAW.items():
            with self.subTest(way):
                thin = [add("in", "pot", ("white_sugar", "500 g"), ("water", "420 g")), hot_syrup()[1], COOL]
                found = keeping(*thin, *stages, keeping=self.TOLD)
                self.assertEqual(found.verdict, "ask")
                question = next(each for each in found.questions if each.code == "heat")
                self.assertIn("You answered", question.words)
                self.assertIn("went in unheated", question.words)

    def test_an_answer_it_bears_out_stands(self) -> None:
        thin = [add("in", "pot", ("white_sugar", "500 g"), ("water", "420 g")), hot_syrup()[1]]
        found = keeping(*thin, keeping=self.TOLD)
        self.assertEqual((found.verdict, found.questions), ("not_controlled", []))

    def test_no_heat_is_believed_whatever_the_walk_sees(self) -> None:
        thin = [add("in", "pot", ("white_sugar", "500 g"), ("water", "420 g")), hot_syrup()[1]]
        self.assertEqual(keeping(*thin, keeping={**self.TOLD, "heat_treated": False}).verdict, "controlled")


if __name__ == "__main__":
    unittest.main()
