"""Time where germs grow: over the whole course of every vessel, by both cooling rules, and what is said of it."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np

from jugcore.keeping.exposure import AMBIENT_S, DISCARD_S, exposure, seconds_between
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.report import report

Doc = dict[str, Any]
H = 3600.0


def course(*points: tuple[float, float]) -> list[tuple[float, float]]:
    return [(hours * H, t) for hours, t in points]


class OfACourse(unittest.TestCase):
    """FDA Food Code 2022, rule by rule: (hours, °C)."""

    def test_only_what_lies_between_counts(self) -> None:
        self.assertAlmostEqual(
            seconds_between(course((0, 4), (1, 4), (1.5, 30), (4.5, 30), (5, 60), (9, 60)), 5.0, 57.0) / H, 3 + 0.5 * 25 / 26 + 0.45, places=6
        )
        self.assertEqual(seconds_between(course((0, 60), (9, 60)), 5.0, 57.0), 0.0)
        self.assertEqual(seconds_between(course((0, 4), (90, 4)), 5.0, 57.0), 0.0)

    def test_never_hot_four_hours_to_the_cold(self) -> None:
        soon, late = exposure(course((0, 20), (3, 4)), 5.0), exposure(course((0, 20), (5, 4)), 5.0)
        self.assertIsNone(soon.cooled)
        self.assertTrue((soon.to_cold_s or 0.0) < AMBIENT_S < (late.to_cold_s or 0.0))
        self.assertIsNone(exposure(course((0, 20), (5, 12)), 5.0).to_cold_s)

    def test_never_out_of_the_cold_takes_no_time_back_to_it(self) -> None:
        self.assertEqual(exposure(course((0, 4), (5, 3)), 5.0).to_cold_s, 0.0)

    def test_warmed_to_50_and_left_nine_hours_is_over(self) -> None:
        found = exposure(course((0, 4), (0.5, 50), (9.5, 24)), 5.0)
        self.assertGreater(found.between_s, 2 * DISCARD_S)
        self.assertIsNone(found.cooled)

    def test_the_way_down_from_hot_is_judged_by_two_stages_and_not_by_four_hours(self) -> None:
        found = exposure(course((0, 4), (0.5, 80), (1, 57), (2.9, 21), (6.9, 5)), 5.0)
        assert found.cooled is not None
        self.assertAlmostEqual((found.cooled.middle_s or 0) / H, 1.9)
        self.assertAlmostEqual((found.cooled.cold_s or 0) / H, 5.9)
        self.assertLess(found.between_s, 0.5 * H)
        self.assertAlmostEqual(found.way_down_s / H, 5.9)

    def test_out_of_the_cold_again_counts_from_there(self) -> None:
        found = exposure(course((0, 80), (1, 30), (2, 4), (10, 4), (10.1, 15), (15.1, 15), (15.2, 4)), 5.0)
        self.assertTrue(5 * H < found.between_s < 5.3 * H)

    def test_heat_that_kills_begins_anew_and_forgives_nothing(self) -> None:
        once = exposure(course((0, 20), (3, 20), (3.2, 95), (3.6, 57), (5, 21), (8, 4)), 5.0)
        self.assertTrue(2.9 * H < once.between_s < 3.3 * H, "what came after the heat is not added to what came before")
        too_long = exposure(course((0, 20), (6, 20), (6.2, 95), (6.6, 57), (8, 21), (10, 4)), 5.0)
        self.assertGreater(too_long.between_s, DISCARD_S, "boiling what stood too long makes it no safer")

    def test_a_way_down_that_fails_is_not_forgiven_by_boiling_again(self) -> None:
        found = exposure(course((0, 90), (0.5, 57), (8, 24), (8.5, 95), (9, 57), (10, 21), (12, 4)), 5.0)
        self.assertGreater(found.way_down_s, 7 * H)

    def test_what_stays_hot_is_hot(self) -> None:
        found = exposure(course((0, 80), (12, 60)), 5.0)
        self.assertEqual((found.between_s, found.way_down_s), (0.0, 0.0))
        assert found.cooled is not None
        self.assertIsNone(found.cooled.middle_s)

    def test_reheated_short_of_74_is_told(self) -> None:
        self.assertAlmostEqual(exposure(course((0, 80), (1, 57), (2, 20), (4, 4), (30, 4), (31, 65), (35, 65)), 5.0).reheated_c or 0, 65)
        self.assertIsNone(exposure(course((0, 80), (1, 57), (2, 20), (4, 4), (30, 4), (31, 75), (35, 65)), 5.0).reheated_c)
        self.assertIsNone(exposure(course((0, 80), (1, 57), (2, 20), (4, 4), (30, 4), (31, 40)), 5.0).reheated_c)
        self.assertIsNone(exposure(course((0, 4), (1, 65), (2, 65)), 5.0).reheated_c, "warmed once, it had not been hot")

    def test_longer_anywhere_is_never_safer(self) -> None:
        rng = np.random.default_rng(41)
        for _ in range(400):
            n = int(rng.integers(2, 9))
            gaps, temps = rng.uniform(0.05, 3, n), rng.choice([3.0, 10.0, 20.0, 35.0, 50.0, 62.0, 80.0], n)
            one = exposure(list(zip(np.cumsum(gaps) * H, temps, strict=True)), 5.0)
            gaps[int(rng.integers(1, n))] += float(rng.uniform(0.1, 2))
            more = exposure(list(zip(np.cumsum(gaps) * H, temps, strict=True)), 5.0)
            self.assertGreaterEqual(more.between_s + 1e-6, one.between_s)
            self.assertGreaterEqual(more.way_down_s + 1e-6, one.way_down_s)


class OfAMethod(unittest.TestCase):
    PLACE: Doc = {"pots": [{"id": "p8", "name": "8 l pot", "diameter_cm": 28, "capacity_ml": 8000}]}

    def keeping(self, *stages: Doc, kitchen: Doc | None = None, ph: float = 6.6, **document: Any) -> KeepingReport:
        doc = {"stages": list(stages), "keeping": {"ph": ph}, "kitchen": {**self.PLACE, **(kitchen or {})}, **document}
        return report(walk(parse_document(doc))).keeping

    def base(self, amount: str = "6 l", vessel: str = "p") -> Doc:
        return {
            "id": f"in-{vessel}",
            "kind": "add",
            "vessel": vessel,
            "lines": [{"id": f"b-{vessel}", "substance": "half_and_half", "amount": amount}],
        }

    def test_six_litres_warmed_to_50_and_left_in_air_for_nine_hours_is_thrown_away(self) -> None:
        warm: Doc = {"id": "w", "kind": "heat", "vessel": "p", "to_c": 50}
        found = self.keeping(self.base(), warm, {"id": "h", "kind": "hold", "vessel": "p", "where": "air", "for_min": 540})
        self.assertTrue(found.between_stop)
        self.assertIn("thrown away", found.between_words)
        # The same by a cooling stage, which no hold ever saw.
        cooled = self.keeping(self.base(), warm, {"id": "c", "kind": "cool", "vessel": "p", "to_c": 22, "how": "air"})
        self.assertTrue(cooled.between_stop, cooled.between_words)

    def test_what_is_as_cold_as_a_probe_can_tell_is_there(self) -> None:
        hot: Doc = {"id": "w", "kind": "heat", "vessel": "p", "to_c": 80}

        def cold(to_c: float) -> str:
            found = self.keeping(self.base("300 ml"), hot, {"id": "c", "kind": "cool", "vessel": "p", "to_c": to_c, "how": "fridge"})
            return found.cooling.cold if found.cooling else "none"

        self.assertNotEqual(cold(5.03), "not_there")
        self.assertEqual(cold(5.5), "not_there")

    def test_every_kind_of_stage_counts(self) -> None:
        slow: dict[str, Doc] = {
            "mixed": {"id": "m", "kind": "mix", "vessel": "p", "minutes": 300},
            "added to": {
                "id": "a",
                "kind": "add",
                "vessel": "p",
                "minutes": 300,
                "lines": [{"id": "s", "substance": "white_sugar", "amount": "400 g"}],
            },
            "steeped": {"id": "s", "kind": "steep", "vessel": "p", "where": "air", "for_min": 300},
            "strained": {"id": "z", "kind": "strain", "vessel": "p", "into": "q", "minutes": 300},
            "filled": {"id": "f", "kind": "fill", "vessel": "p", "into": "q", "minutes": 300},
        }
        for name, stage in slow.items():
            with self.subTest(name):
                found = self.keeping(self.base("1 l"), {"id": "w", "kind": "heat", "vessel": "p", "to_c": 20}, stage)
                self.assertTrue(found.between_stop, found.between_words)

    def test_a_branch_that_stood_too_long_is_not_made_fresh_by_what_it_joins(self) -> None:
        stood: Doc = {"id": "h", "kind": "hold", "vessel": "jug", "where": "air", "for_min": 360}
        warmed: Doc = {"id": "w", "kind": "heat", "vessel": "jug", "to_c": 30}
        join: Doc = {"id": "j", "kind": "join", "vessel": "p", "source": "jug"}
        found = self.keeping(self.base("1 l", "jug"), warmed, stood, self.base("1 l"), join, finished="p")
        self.assertTrue(found.between_stop)
        self.assertFalse(self.keeping(self.base("1 l", "jug"), self.base("1 l"), join, finished="p").between_stop)

    def test_hot_and_cold_holding_are_no_time_between(self) -> None:
        hot: Doc = {"id": "h", "kind": "hold", "vessel": "p", "where": "hob", "for_min": 600}
        found = self.keeping(self.base("1 l"), {"id": "w", "kind": "heat", "vessel": "p", "to_c": 62}, hot)
        self.assertFalse(found.between_stop)
        cold: Doc = {"id": "h", "kind": "hold", "vessel": "p", "where": "fridge", "for_min": 1200}
        self.assertEqual(self.keeping(self.base("1 l"), cold).between_words, "")

    def test_a_long_cooling_is_stopped_and_a_quick_one_is_not(self) -> None:
        hot: Doc = {"id": "w", "kind": "heat", "vessel": "p", "to_c": 85}
        air: Doc = {"id": "c", "kind": "cool", "vessel": "p", "to_c": 21.5, "how": "air"}
        cold: Doc = {"id": "d", "kind": "cool", "vessel": "p", "to_c": 5, "how": "fridge"}
        found = self.keeping(self.base(), hot, air, cold)
        self.assertTrue(found.between_stop, found.between_words)
        water: Doc = {"id": "c", "kind": "cool", "vessel": "p", "to_c": 18, "how": "cold_water"}
        quick = self.keeping(self.base("500 g"), hot, water, cold)
        self.assertFalse(quick.between_stop, quick.between_words)

    def test_made_of_parts_at_room_temperature_it_has_four_hours(self) -> None:
        mixed: Doc = {
            "id": "a",
            "kind": "add",
            "vessel": "p",
            "lines": [{"id": "s", "substance": "white_sugar", "amount": "300 g"}, {"id": "w", "substance": "water", "amount": "1 kg"}],
        }
        found = self.keeping(mixed, ph=6.5)
        assert found.cooling is not None
        self.assertEqual((found.cooling.rule, found.cooling.cold), ("from_ambient", "not_there"))
        self.assertIn("within 4 h", found.cooling.words)
        chilled: Doc = {"id": "c", "kind": "cool", "vessel": "p", "to_c": 4.6, "how": "fridge"}
        slow = self.keeping(mixed, chilled, ph=6.5)
        assert slow.cooling is not None
        self.assertIn(slow.cooling.cold, ("maybe", "no"))
        self.assertIn("may take", slow.cooling.words)

    def test_what_is_left_hot_is_told_by_the_rule_of_what_was_hot(self) -> None:
        found = self.keeping(self.base("1 l"), {"id": "w", "kind": "heat", "vessel": "p", "to_c": 85})
        assert found.cooling is not None
        self.assertEqual((found.cooling.rule, found.cooling.middle), ("from_hot", "not_there"))

    def test_a_figure_beyond_the_usual_is_remarked_on_where_it_decides(self) -> None:
        usual = self.keeping(self.base("1 l"))
        self.assertNotIn("usual", usual.words)
        warm = self.keeping(self.base("1 l"), kitchen={"holding_c": 10})
        self.assertIn("warmer than the usual", warm.words)
        sugar: Doc = {
            "id": "a",
            "kind": "add",
            "vessel": "p",
            "lines": [{"id": "s", "substance": "white_sugar", "amount": "300 g"}, {"id": "w", "substance": "water", "amount": "1 kg"}],
        }
        long = self.keeping(sugar, kitchen={"chilled_days": 14}, ph=6.5)
        self.assertEqual(long.days, 14)
        self.assertIn("longer than the usual seven", long.words)


if __name__ == "__main__":
    unittest.main()
