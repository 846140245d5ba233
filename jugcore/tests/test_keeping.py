"""Keeping: the food code's tables field by field, what is asked and what is not, the days and their culprit."""

from __future__ import annotations

import unittest
from datetime import date
from itertools import product
from typing import Any

import numpy as np

from jugcore.families.family import families
from jugcore.keeping.assess import Known, assess
from jugcore.keeping.days import Limit, earliest, use_by
from jugcore.keeping.interaction import Table, cells, verdicts
from jugcore.keeping.two_stage_cooling import Cooled, cooled, passes
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.stages import Aerate
from jugcore.method.walk import walk
from jugcore.reading.keeping.assessment import KeepingReport
from jugcore.reading.report import report

Doc = dict[str, Any]
#: FDA Food Code 2022, 1-201.10: a point inside each field, and whether it is controlled (product assessment counts as such).
TABLE_A = {
    (0.90, 4.0): False, (0.90, 5.0): False, (0.90, 6.0): False, (0.93, 4.0): False, (0.93, 5.0): False, (0.93, 6.0): True,
    (0.97, 4.0): False, (0.97, 5.0): True, (0.97, 6.0): True,
}  # fmt: skip
TABLE_B = {
    (0.85, 4.0): False, (0.85, 4.4): False, (0.85, 4.8): False, (0.85, 6.0): False, (0.89, 4.0): False, (0.89, 4.4): False, (0.89, 4.8): False,
    (0.89, 6.0): True, (0.91, 4.0): False, (0.91, 4.4): False, (0.91, 4.8): True, (0.91, 6.0): True, (0.96, 4.0): False, (0.96, 4.4): True,
    (0.96, 4.8): True, (0.96, 6.0): True,
}  # fmt: skip
#: The boundaries themselves, as the tables print them.
EDGES: tuple[tuple[Table, float, float, bool], ...] = (
    ("A", 0.92, 6.0, False), ("A", 0.95, 6.0, True), ("A", 0.95, 5.6, False), ("A", 0.96, 4.6, False), ("B", 0.88, 6.0, True), ("B", 0.90, 5.0, False),
    ("B", 0.92, 4.6, False), ("B", 0.93, 4.2, True), ("B", 0.93, 4.19, False),
)  # fmt: skip


class Foams(unittest.TestCase):
    def test_a_foam_keeps_as_long_as_its_family_says(self) -> None:
        """Cold foam and whipped coffee their own day; siphon cream by the cream's date, as the families' schools say."""
        tried = 0
        for family in families():
            for school in family.schools:
                tools = [stage.tool for stage in school.document.stages if isinstance(stage, Aerate)]
                if not tools:
                    continue
                found = report(walk(compile_document(school.document))).keeping
                foam = [limit for limit in found.limits if limit.title.startswith("the foam")]
                with self.subTest(school.id, says=school.trade.keeping):
                    tried += 1
                    if school.trade.keeping in ("the day", "hours", "at once"):
                        self.assertEqual([(limit.days, limit.decides) for limit in foam], [(1, True)])
                        self.assertEqual(found.days, 1)
                    else:
                        self.assertEqual(foam, [])
        self.assertGreater(tried, 5)


class Edges(unittest.TestCase):
    def test_a_band_that_reaches_an_edge_touches_both_sides_of_it_and_a_bare_figure_goes_by_the_table(self) -> None:
        """FDA Food Code 2022, 1-201.10: every edge of both tables; 4.1 ± 0.1 reaches 4.2 though floats stop short of it."""
        for cell in cells():
            for axis in ("water_activity", "ph"):
                stretch = getattr(cell, axis)
                for edge in (stretch.above, stretch.to):
                    if edge is None:
                        continue
                    self.assertTrue(stretch.meets(edge - 0.1, edge - 0.1 + 0.1))
                    self.assertTrue(stretch.meets(edge, edge + 0.1))
        # What an edge parts is asked about from either side.
        edges = {(cell.table, cell.ph.to) for cell in cells() if cell.ph.to is not None}
        self.assertIn(4.2, {edge for _, edge in edges})
        tables: tuple[tuple[Table, float], ...] = (("A", 0.95), ("B", 0.91))
        for table, aw in tables:
            parted = [
                ph
                for ph in (4.2, 4.6, 5.0, 5.6)
                if len({False, True} & (verdicts(table, aw, aw, ph - 0.05, ph - 0.05) | verdicts(table, aw, aw, ph + 0.05, ph + 0.05))) == 2
            ]
            for ph in parted:
                self.assertEqual(verdicts(table, aw, aw, (ph - 0.1) - 0.1, (ph - 0.1) + 0.1), {True, False}, (table, ph))


class Tables(unittest.TestCase):
    def test_every_field_of_both_tables(self) -> None:
        self.assertEqual(len(cells()), 25)
        tables: tuple[tuple[Table, dict[tuple[float, float], bool]], ...] = (("A", TABLE_A), ("B", TABLE_B))
        for table, fields in tables:
            for (aw, ph), controlled in fields.items():
                with self.subTest(table=table, aw=aw, ph=ph):
                    self.assertEqual(verdicts(table, aw, aw, ph, ph), {controlled})
        self.assertEqual(len(TABLE_A) + len(TABLE_B), 25)

    def test_the_edges_fall_as_they_are_printed(self) -> None:
        for table, aw, ph, controlled in EDGES:
            with self.subTest(table=table, aw=aw, ph=ph):
                self.assertEqual(verdicts(table, aw, aw, ph, ph), {controlled})

    def test_no_point_is_left_out(self) -> None:
        tables: tuple[Table, ...] = ("A", "B")
        for table, aw, ph in product(tables, np.linspace(0, 1, 101), np.linspace(0, 14, 141)):
            self.assertEqual(len(verdicts(table, float(aw), float(aw), float(ph), float(ph))), 1, (table, aw, ph))

    def test_wetter_or_less_acid_is_never_safer_and_unpackaged_never_safer_than_packaged(self) -> None:
        def controlled(table: Table, aw: float, ph: float) -> bool:
            return True in verdicts(table, aw, aw, ph, ph)

        tables: tuple[Table, ...] = ("A", "B")
        for table in tables:
            for aw, ph in product(np.linspace(0.8, 1, 41), np.linspace(3, 8, 51)):
                if controlled(table, float(aw), float(ph)):
                    self.assertTrue(controlled(table, float(aw) + 0.01, float(ph)))
                    self.assertTrue(controlled(table, float(aw), float(ph) + 0.1))
                    if table == "A":
                        self.assertTrue(controlled("B", float(aw), float(ph)))


class Asking(unittest.TestCase):
    def codes(self, **known: Any) -> tuple[str, list[str]]:
        found = assess(Known(**{"aw": (0.97, 0.98), "ph": None, "heat_treated": None, "packaged": None, **known}))
        return found.verdict, [question.code for question in found.questions]

    def test_folk_keeping_of_equal_parts_is_a_question_and_no_verdict(self) -> None:
        """Water activity 0.934 of equal parts is the very edge for one organism, and not enough for others."""
        self.assertEqual(self.codes(aw=(0.932, 0.936))[0], "ask")
        self.assertEqual(self.codes(aw=(0.932, 0.936), ph=(6.0, 6.2), heat_treated=False), ("controlled", []))

    def test_only_what_can_decide_is_asked(self) -> None:
        self.assertEqual(self.codes(aw=(0.80, 0.82)), ("not_controlled", []))
        self.assertEqual(self.codes(aw=(0.97, 0.98), ph=(3.0, 3.2)), ("not_controlled", []))
        self.assertEqual(self.codes(aw=(0.97, 0.98), ph=(6.4, 6.6)), ("controlled", []))
        self.assertEqual(self.codes(aw=(0.90, 0.91), ph=(6.4, 6.6)), ("ask", ["heat", "packaging"]))
        self.assertEqual(self.codes(aw=(0.90, 0.91), ph=(6.4, 6.6), heat_treated=True), ("ask", ["packaging"]))
        self.assertEqual(self.codes(aw=(0.90, 0.91), ph=(6.4, 6.6), heat_treated=True, packaged=True), ("not_controlled", []))
        self.assertEqual(self.codes(aw=(0.90, 0.91), ph=(6.4, 6.6), heat_treated=True, packaged=False), ("controlled", []))
        self.assertEqual(self.codes(aw=(0.97, 0.98)), ("ask", ["ph"]))

    def test_a_band_that_crosses_a_boundary_gives_no_verdict(self) -> None:
        self.assertEqual(self.codes(aw=(0.97, 0.98), ph=(4.5, 4.7), heat_treated=True, packaged=True), ("ask", ["ph_close"]))
        verdict, asked = self.codes(aw=(0.915, 0.925), ph=(6.4, 6.6), heat_treated=True, packaged=True)
        self.assertEqual((verdict, asked), ("ask", ["water_activity"]))
        self.assertEqual(self.codes(aw=None)[0], "ask")

    def test_answering_all_that_is_asked_always_decides_or_asks_to_measure_again(self) -> None:
        rng = np.random.default_rng(11)
        for _ in range(2000):
            aw, ph = float(rng.uniform(0.8, 1)), float(rng.uniform(3, 8))
            found = assess(Known((aw, aw), (ph, ph), bool(rng.random() < 0.5), bool(rng.random() < 0.5)))
            self.assertNotEqual(found.verdict, "ask")

    def test_knowing_more_never_turns_a_verdict_round(self) -> None:
        rng = np.random.default_rng(12)
        for _ in range(2000):
            aw = float(rng.uniform(0.82, 0.99))
            ph = float(rng.uniform(3, 8))
            vague = assess(Known((aw - 0.01, aw + 0.01), None if rng.random() < 0.5 else (ph - 0.3, ph + 0.3), None, None))
            sharp = assess(Known((aw, aw), (ph, ph), bool(rng.random() < 0.5), bool(rng.random() < 0.5)))
            if vague.verdict != "ask":
                self.assertEqual(sharp.verdict, vague.verdict)


class Days(unittest.TestCase):
    def test_the_day_of_making_is_day_one(self) -> None:
        """FDA Food Code 2022, 3-501.17: seven days, preparation counted as day one."""
        self.assertEqual(use_by(date(2026, 3, 2), 7), date(2026, 3, 8))
        self.assertEqual(use_by(date(2026, 3, 2), 1), date(2026, 3, 2))

    def test_the_earliest_decides_and_of_equals_the_rule(self) -> None:
        rule, milk, cream = Limit("rule", 7, "rule", ""), Limit("milk", 3, "part", ""), Limit("cream", 7, "part", "")
        self.assertIs(earliest([rule, milk, cream]), milk)
        self.assertIs(earliest([cream, rule]), rule)
        self.assertIsNone(earliest([]))


class TwoStages(unittest.TestCase):
    def test_marks_are_passed_where_the_course_falls_through_them(self) -> None:
        course = [(0.0, 95.0), (1000.0, 57.0), (4600.0, 21.0), (8200.0, 5.0)]
        self.assertEqual(cooled(course, 5.0), Cooled(3600.0, 7200.0))
        self.assertEqual(cooled(course[:3], 5.0), Cooled(3600.0, None))
        self.assertIsNone(cooled([(0.0, 50.0), (100.0, 5.0)], 5.0))
        self.assertEqual(passes([(0.0, 80.0), (10.0, 40.0), (20.0, 70.0), (30.0, 50.0)], 57.0), 26.5)

    def creamer(self, *cools: Doc) -> KeepingReport:
        stages: list[Doc] = [
            {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "x", "substance": "half_and_half", "amount": "4 kg"}]},
            {"id": "h", "kind": "heat", "vessel": "p", "to_c": 80},
            *cools,
        ]
        return report(walk(parse_document({"stages": stages, "keeping": {"ph": 6.6}}))).keeping

    def test_cold_water_is_fast_enough_and_air_is_not(self) -> None:
        water: Doc = {"id": "c", "kind": "cool", "vessel": "p", "to_c": 18, "how": "cold_water"}
        air: Doc = {"id": "c", "kind": "cool", "vessel": "p", "to_c": 20.9, "how": "air"}
        cold: Doc = {"id": "f", "kind": "cool", "vessel": "p", "to_c": 4.8, "how": "fridge"}
        quick, slow = self.creamer(water, cold).cooling, self.creamer(air).cooling
        assert quick is not None and slow is not None
        self.assertEqual(quick.middle, "yes")
        self.assertEqual(slow.middle, "no")
        self.assertIn("cold water", slow.words)

    def test_where_the_method_leaves_it_warm_it_says_so(self) -> None:
        found = self.creamer({"id": "c", "kind": "cool", "vessel": "p", "to_c": 40}).cooling
        assert found is not None
        self.assertEqual((found.middle, found.cold), ("not_there", "not_there"))
        self.assertIn("leaves it at 40 °C", found.words)

    def test_what_need_not_be_cold_has_no_such_clock(self) -> None:
        stages: list[Doc] = [
            {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "s", "substance": "white_sugar", "amount": "1200 g"}, {"id": "w", "substance": "water", "amount": "400 g"}]},
            {"id": "h", "kind": "heat", "vessel": "p", "to_c": 80},
        ]  # fmt: skip
        self.assertIsNone(report(walk(parse_document({"stages": stages}))).keeping.cooling)


class OfAFormula(unittest.TestCase):
    def keeping(self, stages: list[Doc], **document: Any) -> KeepingReport:
        return report(walk(parse_document({"stages": stages, **document}))).keeping

    def syrup(self, sugar: str, *late: Doc, to_c: float = 80) -> list[Doc]:
        return [
            {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "s", "substance": "white_sugar", "amount": sugar}, {"id": "w", "substance": "water", "amount": "400 g"}]},
            {"id": "h", "kind": "heat", "vessel": "p", "to_c": to_c},
            *late,
        ]  # fmt: skip

    def test_a_rich_syrup_need_not_be_cold_and_no_days_are_made_up(self) -> None:
        found = self.keeping(self.syrup("1200 g"))
        self.assertEqual((found.verdict, found.days), ("not_controlled", None))
        self.assertIn("shelf trial", found.words)
        self.assertIn("qualified person", found.words)

    def test_a_thin_one_asks_for_its_ph_and_keeps_to_the_mark_until_then(self) -> None:
        found = self.keeping(self.syrup("400 g"))
        self.assertEqual((found.verdict, found.days), ("ask", 7))
        self.assertEqual([q.code for q in found.questions], ["ph"])
        answered = self.keeping(self.syrup("400 g"), keeping={"ph": 6.4, "heat_treated": False})
        self.assertEqual((answered.verdict, answered.days), ("controlled", 7))
        self.assertIn("decided by the local seven-day mark", answered.words)

    def test_the_local_rule_is_the_kitchens(self) -> None:
        found = self.keeping(self.syrup("400 g"), keeping={"ph": 6.4, "heat_treated": False}, kitchen={"chilled_days": 4, "holding_c": 8})
        self.assertEqual(found.days, 4)
        self.assertIn("8 °C", found.words)

    def test_the_culprit_is_named_and_what_would_lengthen_it(self) -> None:
        cream = [{"id": "a", "kind": "add", "vessel": "j", "lines": [{"id": "c", "substance": "heavy_cream", "amount": "300 g"}]}]
        found = self.keeping(cream, keeping={"ph": 6.6, "heat_treated": False})
        first = next(limit for limit in found.limits if limit.decides)
        self.assertEqual((found.days, first.kind), (3, "part"))
        self.assertIn("heavy cream", first.title)
        self.assertTrue(first.extends)

    def test_what_the_walk_saw_of_heat_is_told(self) -> None:
        self.assertTrue(self.keeping(self.syrup("400 g")).heated_seen)
        self.assertFalse(self.keeping(self.syrup("400 g", to_c=60)).heated_seen)
        late: Doc = {"id": "v", "kind": "add", "vessel": "p", "lines": [{"id": "l", "substance": "vanilla_extract", "amount": "5 g"}]}
        self.assertTrue(self.keeping(self.syrup("400 g", late)).heated_seen, "into a pot that hot it is heated too")
        found = self.keeping(self.syrup("400 g", {"id": "k", "kind": "cool", "vessel": "p", "to_c": 40}, late))
        self.assertFalse(found.heated_seen)
        self.assertIn("vanilla", found.heated_words)

    def test_juice_that_was_boiled_does_not_count_by_its_opened_days_and_dairy_does(self) -> None:
        def days(substance: str) -> list[str]:
            stages: list[Doc] = [
                {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "x", "substance": substance, "amount": "300 g"}, {"id": "s", "substance": "white_sugar", "amount": "100 g"}]},
                {"id": "h", "kind": "heat", "vessel": "p", "to_c": 85},
            ]  # fmt: skip
            return [limit.kind for limit in self.keeping(stages).limits]

        self.assertNotIn("part", days("pear_juice"))
        self.assertIn("part", days("whole_milk"))

    def test_a_steep_of_dairy_neither_hot_nor_cold_is_stopped(self) -> None:
        def steeped(minutes: float, where: str, to_c: float) -> KeepingReport:
            return self.keeping([
                {"id": "a", "kind": "add", "vessel": "p", "lines": [{"id": "m", "substance": "half_and_half", "amount": "800 g"}, {"id": "n", "substance": "hazelnut", "amount": "100 g"}]},
                {"id": "h", "kind": "heat", "vessel": "p", "to_c": to_c},
                {"id": "s", "kind": "steep", "vessel": "p", "for_min": minutes, "where": where},
            ], keeping={"ph": 6.6})  # fmt: skip

        self.assertEqual(steeped(60, "hob", 62).between_words, "")
        self.assertIn("germs grow", steeped(180, "hob", 40).between_words)
        found = steeped(600, "air", 40)
        self.assertGreater(found.between_min, 300)
        self.assertIn("thrown away", found.between_words)

    def test_a_damp_cake_is_not_called_dry(self) -> None:
        found = self.keeping(
            [
                {
                    "id": "a",
                    "kind": "add",
                    "vessel": "p",
                    "lines": [{"id": "c", "substance": "coffee_coarse", "amount": "400 g"}, {"id": "w", "substance": "water", "amount": "100 g"}],
                }
            ]
        )
        self.assertFalse(found.dry)
        self.assertEqual((found.verdict, [q.code for q in found.questions]), ("ask", ["water_activity"]))

    def test_a_dry_blend_gets_no_verdict_by_the_tables(self) -> None:
        found = self.keeping([{"id": "a", "kind": "blend", "vessel": "j", "lines": [{"id": "c", "substance": "cassia", "amount": "20 g"}]}])
        self.assertTrue(found.dry)
        self.assertIsNone(found.days)


if __name__ == "__main__":
    unittest.main()
