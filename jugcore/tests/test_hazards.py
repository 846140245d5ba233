"""What ingredients can do is said where they go in."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.report import report


def cautions(*stages: dict[str, Any]) -> dict[str, str]:
    found = report(walk(parse_document({"stages": list(stages)})))
    return {stage.id: " ".join(stage.cautions) for stage in found.stages}


def adding(id: str, *substances: str, **line: Any) -> dict[str, Any]:
    return {
        "id": id,
        "kind": "add",
        "vessel": "pot",
        "lines": [{"id": f"{id}{n}", "substance": s, "amount": "50 g", **line} for n, s in enumerate(substances)],
    }


class AtTheirStage(unittest.TestCase):
    def test_each_where_it_goes_in_and_once(self) -> None:
        said = cautions(adding("first", "fresh_ginger", "pineapple_flesh", "whole_milk"), adding("second", "whole_cassia"))
        self.assertEqual(said["first"].count("curdles milk"), 1)
        self.assertIn("Ginger root, fresh and Pineapple, peeled", said["first"])
        self.assertNotIn("coumarin", said["first"])
        self.assertIn("coumarin", said["second"])

    def test_what_flashes_off_is_only_spoken_of_where_it_is_hot(self) -> None:
        hot = {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 90.0}
        cold = cautions(adding("first", "water"), adding("late", "vanilla_extract"))
        warm = cautions(adding("first", "water"), hot, adding("late", "vanilla_extract", temperature_c=20))
        self.assertNotIn("flashes off", cold["late"])
        self.assertIn("flashes off", warm["late"])

    def test_a_document_may_carry_its_own_and_none_that_is_unknown(self) -> None:
        own = {"title": "Own chilli", "composition_g_per_100g": {"water": 100}, "hazards": ["chilli"]}
        raw: dict[str, Any] = {"substances": {"own": own}, "stages": [adding("a", "own")]}
        self.assertIn("gloves", report(walk(parse_document(raw))).stages[0].cautions[0])
        own["hazards"] = ["dragons"]
        with self.assertRaisesRegex(Exception, "dragons"):
            parse_document(raw)


if __name__ == "__main__":
    unittest.main()
