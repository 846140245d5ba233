"""Every family and every school: whole, walkable, told apart, and found again by what its documents say."""

from __future__ import annotations

import unittest

from jugcore.families.family import families, family_of
from jugcore.method.compile import compile_document
from jugcore.method.stages import Aerate, Caramelise, Steep
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.report import report
from jugcore.reading.schema import WalkReport

#: Families of the work, each with the ways that must be offered side by side (words of their schools' ids).
WAYS = {
    "simple_syrup": ("warm", "cold", "boiled", "rich"), "spiced_syrup": ("clear", "cloudy", "no-fruit", "milk"), "fruit_syrup": ("juice", "puree"),
    "steeped_syrup": ("hot", "cold"), "microwave_syrup": ("microwave",), "drizzle": ("reduced", "starch"),
    "fruit_part": ("mash", "set", "cubes", "dice", "pearls"), "chocolate_syrup": ("plain", "enzyme", "stable", "stirred"),
    "caramel": ("dry", "wet", "syrup"), "creamer": ("plain", "caramel", "brown-sugar", "powder", "chocolate", "nut-hot", "nut-cold", "shaken", "plant"),
    "sweet_cream": ("base", "in-one"), "cold_foam": ("weighed", "base", "fruit", "powder", "plant"), "siphon_cream": ("warm", "cold"),
    "whipped_coffee": ("lean", "sweet", "honey"), "tinned_milk": ("full", "half", "quarter", "none"),
    "seasoning": ("acid", "saline", "adjusted", "bridge"), "spice_blend": ("sieved", "ground", "dust"),
}  # fmt: skip


class Families(unittest.TestCase):
    reports: dict[str, WalkReport]

    @classmethod
    def setUpClass(cls) -> None:
        cls.reports = {school.id: report(walk(compile_document(school.document))) for family in families() for school in family.schools}

    def test_every_way_of_the_work_is_offered(self) -> None:
        self.assertEqual({family.id for family in families()}, set(WAYS))
        for family in families():
            ids = " ".join(school.id for school in family.schools)
            for word in WAYS[family.id]:
                with self.subTest(family=family.id, word=word):
                    self.assertIn(word, ids)

    def test_each_states_its_trade_offs_and_no_two_the_same(self) -> None:
        for family in families():
            trades = [(*school.trade.model_dump().values(), school.says) for school in family.schools]
            self.assertEqual(len(set(trades)), len(trades))
            for trade in trades:
                self.assertTrue(all(words.strip() for words in trade))
            self.assertTrue(family.cautions)

    def test_ids_are_told_apart_and_documents_lead_back(self) -> None:
        ids = [school.id for family in families() for school in family.schools]
        self.assertEqual(len(set(ids)), len(ids))
        for family in families():
            for school in family.schools:
                with self.subTest(school=school.id):
                    self.assertIs(family_of(school.document.family), family)
                    self.assertIs(family.school_of(school.document.school), school)

    def test_each_stands_within_its_windows_and_asks_for_no_stop(self) -> None:
        for family in families():
            for school in family.schools:
                found = self.reports[school.id]
                self.assertIsNotNone(found.family)
                assert found.family is not None
                for window in found.family.windows:
                    # An enzyme whose sheet nobody typed cuts nothing: that its starch stands too high is what must be said.
                    if window.reading == "cooked_starch" and "enzyme" in school.document.school:
                        continue
                    with self.subTest(school=school.id, window=window.reading):
                        self.assertEqual(window.stands, "within")
                with self.subTest(school=school.id):
                    self.assertEqual([each.text for each in found.consequences if each.tone == "stop"], [])
                    self.assertGreater(found.product.mass_g, 50)

    def test_windows_are_of_readings_there_are(self) -> None:
        for family in families():
            for window in [*family.windows, *(w for school in family.schools for w in school.windows or [])]:
                self.assertIn(window.reading, READING_OF)
                self.assertLess(window.low, window.high)

    def test_unknown_words_are_no_family(self) -> None:
        self.assertIsNone(family_of(""))
        self.assertIsNone(family_of("gravy"))
        self.assertIsNone(families()[0].school_of("by moonlight"))

    def test_no_enzyme_of_a_starting_method_promises_anything(self) -> None:
        for id in ("chocolate-enzyme", "chocolate-stable"):
            self.assertTrue(any("No figures for" in each.text for each in self.reports[id].consequences))

    def test_hazards_stand_where_they_matter(self) -> None:
        for family in families():
            for school in family.schools:
                for stage, told in zip(school.document.stages, self.reports[school.id].stages, strict=True):
                    words = " ".join(told.cautions)
                    with self.subTest(school=school.id, stage=stage.id):
                        if isinstance(stage, Caramelise):
                            self.assertIn("burns", words)
                        if isinstance(stage, Aerate) and stage.tool == "siphon":
                            self.assertIn("pressure", words.lower())

    def test_steeped_schools_draw_as_long_as_people_do(self) -> None:
        for family in families():
            for school in family.schools:
                for stage, told in zip(school.document.stages, self.reports[school.id].stages, strict=True):
                    if isinstance(stage, Steep):
                        with self.subTest(school=school.id):
                            self.assertEqual([(each.title, each.verdict) for each in told.drawn if each.verdict != "usual"], [])

    def test_true_sugar_of_the_levels_differs_from_their_names(self) -> None:
        """Condensed and evaporated 2 : 1, 1 : 1, 1 : 2: by added sugar three quarters and a half of the full level, not a half and a quarter."""
        found = {}
        for level in ("full", "half", "quarter"):
            school = next(s for f in families() for s in f.schools if s.id == f"tinned-{level}")
            end = walk(compile_document(school.document)).product
            found[level] = float(end.tracer[0, 0] / end.total_g[0])
        self.assertAlmostEqual(found["half"] / found["full"], 0.75, delta=0.02)
        self.assertAlmostEqual(found["quarter"] / found["full"], 0.5, delta=0.02)


if __name__ == "__main__":
    unittest.main()
