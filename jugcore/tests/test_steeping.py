"""Steeping: how long practice leaves things in, at what heat, and in what."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.matter import infusion
from jugcore.matter.library import library
from jugcore.method.compile import parse_document
from jugcore.method.stages import Steep
from jugcore.method.walk import walk
from jugcore.reading.processes.outcomes import drawn
from jugcore.reading.processes.schema import DrawnReport
from jugcore.tests.test_processes import Doc, line, stage, told


class Steeping(unittest.TestCase):
    def test_hot_and_cold_ends_are_those_of_the_table_and_colder_takes_longer(self) -> None:
        usual = infusion.steeping_of(library()["black_tea"], ground=False)
        assert usual is not None
        least, most = infusion.usual_minutes(usual, np.array([infusion.HOT_C, infusion.COLD_C]))
        np.testing.assert_allclose(least, [usual.hot_min.low, 60 * usual.cold_h.low])
        np.testing.assert_allclose(most, [usual.hot_min.high, 60 * usual.cold_h.high])
        least, _ = infusion.usual_minutes(usual, np.linspace(2, 100, 50))
        self.assertTrue(np.all(np.diff(least) <= 1e-9))

    def test_early_usual_and_past(self) -> None:
        def tea(minutes: float) -> str:
            document: Doc = {
                "stages": [
                    {"id": "a", "kind": "add", "vessel": "p", "lines": [line("w", "water", "600 g")]},
                    {"id": "b", "kind": "heat", "vessel": "p", "to_c": 88},
                    {"id": "c", "kind": "add", "vessel": "p", "lines": [line("t", "black_tea", "20 g")]},
                    {"id": "d", "kind": "steep", "vessel": "p", "for_min": minutes},
                ]
            }
            return stage(document, "d").drawn[0].verdict

        self.assertEqual([tea(1), tea(4.5), tea(60)], ["early", "usual", "past"])

    def test_powder_into_water_is_warned_of_and_sugar_or_a_whisk_helps(self) -> None:
        def lumps(*lines: Doc, mixed: bool = False) -> bool:
            stages: list[Doc] = [{"id": "a", "kind": "add", "vessel": "p", "lines": [line("w", "water", "300 g"), *lines]}]
            if mixed:
                stages.append({"id": "m", "kind": "mix", "vessel": "p", "tool": "whisk"})
            return any(each.id == "lumps-a" for each in told({"stages": stages}).consequences)

        cocoa_line = line("c", "cocoa_low_fat", "30 g")
        self.assertTrue(lumps(cocoa_line))
        self.assertFalse(lumps(cocoa_line, line("s", "white_sugar", "60 g")))
        self.assertFalse(lumps(cocoa_line, mixed=True))


def _steep(*lines: tuple[str, str]) -> DrawnReport:
    """Tea in a liquid for five minutes."""
    into = [{"id": f"l{n}", "substance": substance, "amount": amount} for n, (substance, amount) in enumerate(lines)]
    method = parse_document({
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [{"id": "tea", "substance": "black_tea", "amount": "20 g"}, *into]},
            {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 80},
            {"id": "steep", "kind": "steep", "vessel": "pot", "for_min": 5},
        ],
    })  # fmt: skip
    walked = walk(method)
    last = walked.stages[-1]
    assert isinstance(last, Steep)
    return drawn(walked, last)[0]


class Medium(unittest.TestCase):
    """What it is steeped in, in words: common practice, no source."""

    def test_water_milk_spirit_and_syrup(self) -> None:
        cases: dict[str, tuple[tuple[str, str], ...]] = {
            "water": (("water", "500 g"),),
            "fat": (("half_and_half", "500 g"),),
            "syrup": (("water", "250 g"), ("white_sugar", "250 g")),
        }
        for medium, lines in cases.items():
            self.assertEqual(_steep(*lines).medium, medium)
        self.assertIn("binds tannin", _steep(*cases["fat"]).medium_words)
        self.assertIn("before the sugar", _steep(*cases["syrup"]).medium_words)
        spirit = np.zeros(c.COUNT)
        spirit[[c.WATER, c.INDEX["ethanol"]]] = 60, 40
        self.assertEqual(infusion.medium_of(spirit, 0.0), "alcohol")

    def test_every_row_is_of_a_kind_that_is_steeped(self) -> None:
        media: Any = infusion._media()
        for kind, medium in media:
            self.assertIn(kind, infusion.KINDS | {"any"})
            self.assertIn(medium, ("water", "fat", "alcohol", "syrup"))
            self.assertTrue(infusion.what_it_draws(kind, medium))
        self.assertEqual(infusion.what_it_draws("tea", "water"), "")


if __name__ == "__main__":
    unittest.main()
