"""A benchmark by label and tongue: ranges that hold whatever the label allows, targets, and one of ours aimed at them."""

from __future__ import annotations

import itertools
import unittest
from typing import Any

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.matter.label import Allowed, Label
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF
from jugcore.tasting.aim import AimReport, _dairy_to_sugar_of, aim_report
from jugcore.tasting.attributes import attribute_of, attributes
from jugcore.tasting.benchmark import Known, RangeOf, benchmark_report
from jugcore.tasting.from_label import read_allowed
from jugcore.tasting.sheet import BenchmarkDoc
from jugcore.tests import depth

_CREAMER = {"kind": "dairy", "per": "serving", "serving_ml": 15, "figures": {"energy_kcal": "35", "fat": "1.5", "sugars": "5", "protein": "0"}}


def _creamer(sugar_g: float = 230, dairy: str = "half_and_half") -> Method:
    lines = [{"id": "dairy", "substance": dairy, "amount": "900 g"}, {"id": "sugar", "substance": "white_sugar", "amount": f"{sugar_g} g"}]
    lines.append({"id": "cardamom", "substance": "green_cardamom", "amount": "4 g"})
    return parse_document({"name": "Ours", "stages": [{"id": "in", "kind": "add", "vessel": "jug", "lines": lines}], "kitchen": {}})


def _benchmark(**facts: Any) -> BenchmarkDoc:
    return BenchmarkDoc.model_validate({"name": "Theirs", **facts})


def _tasted(*notes: dict[str, Any], **facts: Any) -> BenchmarkDoc:
    return _benchmark(sheets=[{"by": "A", "tasted": list(notes)}], **facts)


def _aimed(doc: BenchmarkDoc, ours: Method, beside: Method | None = None, **how: Any) -> AimReport:
    return aim_report(doc, Known(beside=beside), ours, ours.document, **how)


def _range(doc: BenchmarkDoc, reading: str, known: Known | None = None) -> RangeOf:
    found = benchmark_report(doc, known or Known(), Kitchen())
    return next(each for each in found.ranges if each.reading == reading)


class ByLabel(unittest.TestCase):
    def test_no_allowed_composition_lies_outside_the_range(self) -> None:
        """Property: whatever the label allows, walked, reads within what is told. Mixtures of corners are allowed too."""
        label = Label({"fat": "9", "carbohydrate": "31", "sugars": "30", "protein": "1.5", "salt": "0.2"}, kind="dairy")
        spreads, allowed = read_allowed(label, Kitchen()), Allowed(label)
        rng = np.random.default_rng(11)
        corners = np.array([allowed.farthest(rng.normal(size=c.COUNT)) for _ in range(40)])
        points = [*corners, *(rng.dirichlet(np.ones(40)) @ corners for _ in range(40))]
        for point in points:
            method = parse_document({
                "stages": [{"id": "in", "kind": "add", "vessel": "cup", "lines": [{"id": "it", "substance": "it", "amount": "1 kg"}]}],
                "substances": {"it": {"title": "It", "composition_g_per_100g": {n: 100 * float(x) for n, x in zip(c.NAMES, point, strict=True)}}},
            })  # fmt: skip
            walked = walk(method)
            for id in ("brix", "sugars_100g", "fat", "sucrose", "density", "sugar_g_l"):
                value = float(READING_OF[id](walked).value[0])
                room = 0.002 * max(abs(value), 1.0)
                self.assertGreaterEqual(value, spreads[id].low - room, id)
                self.assertLessEqual(value, spreads[id].high + room, id)

    def test_the_ends_are_reached(self) -> None:
        """Of a label in 100 g, sugars lie exactly where rounding leaves them: 29.5 to 30.5."""
        spreads = read_allowed(Label({"fat": "9", "sugars": "30", "protein": "1.5"}, kind="dairy"), Kitchen())
        self.assertAlmostEqual(spreads["sugars_100g"].low, 29.5, places=2)
        self.assertAlmostEqual(spreads["sugars_100g"].high, 30.5, places=2)
        self.assertAlmostEqual(spreads["fat"].low, 8.5, places=2)

    def test_a_bought_creamer_is_near_three_to_one(self) -> None:
        """Sugar 5 g in a spoon of 15 ml: dairy to sugar near 3 : 1 by weight lies in the range (common practice, no source)."""
        words = " ".join(benchmark_report(_benchmark(label=_CREAMER), Known(), Kitchen()).words)
        self.assertRegex(words, r"dairy to sugar is 2\.\d to 3\.\d : 1")

    def test_price_beside_cost(self) -> None:
        doc = _benchmark(label=_CREAMER, pack={"size": 500, "unit": "g", "price": 4})
        self.assertIn(
            "It is bought for 8.00 per kg; what ours costs is not known", " ".join(benchmark_report(doc, Known(), Kitchen(), _creamer()).words)
        )

    def test_a_label_that_contradicts_itself_is_told(self) -> None:
        with self.assertRaises(BadDocument):
            benchmark_report(_benchmark(label={"figures": {"sugars": "60", "water": "60"}}), Known(), Kitchen())


class ByTongue(unittest.TestCase):
    def test_steps_multiply_and_widen(self) -> None:
        ours = _creamer()
        stands = float(READING_OF["sweetness"](walk(ours)).value[0])
        ends = []
        for than in (-2, -1, 0, 1, 2):
            found = _range(_tasted({"attribute": "sweetness", "than_ours": than}), "sweetness", Known(beside=ours))
            ends.append((found.low / stands, found.high / stands))
        self.assertEqual(sorted(ends), ends)
        self.assertAlmostEqual(ends[2][0] * ends[2][1], 1.0, places=9)
        self.assertAlmostEqual(ends[4][0], 1.15**2, places=9)
        for (low, high), (next_low, _) in itertools.pairwise(ends):
            self.assertLess(low, high)
            self.assertLess(next_low, high)  # neighbours overlap: no tongue is that sure

    def test_a_cup_counts_the_dilution(self) -> None:
        found = _range(_benchmark(sheets=[{"in_parts": 8, "tasted": [{"attribute": "sweetness", "cup": 8}]}]), "sweetness")
        self.assertAlmostEqual(found.low, 64 / 1.15, places=9)
        self.assertAlmostEqual(found.high, 64 * 1.15, places=9)

    def test_a_spice_is_a_line_of_ours(self) -> None:
        found = _range(_tasted({"attribute": "spice:cardamom", "than_ours": 2}), "line:cardamom", Known(beside=_creamer()))
        self.assertAlmostEqual(found.low, 1000 * 4 / 1134 * 1.25**2, places=6)
        self.assertEqual(found.unit, "g/kg")

    def test_a_larger_batch_has_the_same_windows(self) -> None:
        """Three times ours, with a spice that is right a kilogram, is there already; another formula's line of that name is none."""
        ours, doc = _creamer(), _tasted({"attribute": "spice:cardamom", "than_ours": 0})
        raw = ours.document.model_dump(mode="json", exclude_none=True)
        for line in raw["stages"][0]["lines"]:
            line["amount"] = {"written": {"dairy": "2700 g", "sugar": "690 g", "cardamom": "12 g"}[line["id"]]}["written"]
        self.assertTrue(_aimed(doc, parse_document(raw), ours).already)
        raw["stages"][0]["lines"][2]["substance"] = "mace"
        other = _aimed(doc, parse_document(raw), ours)
        self.assertEqual([aim.stands for aim in other.report.aims], ["unknown"])

    def test_words_stay_words(self) -> None:
        notes = ({"attribute": "colour", "words": "brown"}, {"attribute": "bitterness", "than_ours": 1}, {"attribute": "sweetness", "than_ours": 1})
        report = benchmark_report(_tasted(*notes), Known(), Kitchen())
        self.assertEqual(report.ranges, [])
        self.assertEqual(len(report.unread), 3)
        self.assertIn("Nothing says what it was tasted beside.", report.unread[2])

    def test_tasters_at_odds_are_told(self) -> None:
        sheets = [{"by": who, "tasted": [{"attribute": "sweetness", "cup": cup}]} for who, cup in (("A", 5), ("B", 10))]
        self.assertIn("leave no room between them", " ".join(benchmark_report(_benchmark(sheets=sheets), Known(), Kitchen()).words))

    def test_sweeter_than_its_sugar(self) -> None:
        report = benchmark_report(_tasted({"attribute": "sweetness", "cup": 60}, label=_CREAMER), Known(), Kitchen())
        self.assertIn("A sweetener that is not a sugar would do that.", " ".join(report.words))
        self.assertEqual(_range(_tasted({"attribute": "sweetness", "cup": 60}, label=_CREAMER), "sweetness").by, "label")

    def test_the_sheet_refuses_what_is_not_on_it(self) -> None:
        for note in ({"attribute": "crunch", "words": "loud"}, {"attribute": "clarity", "cup": 5}):
            with self.assertRaises(ValueError):
                _tasted(note)
        self.assertIsNone(attribute_of("spice:"))
        self.assertIn("sweetness", attributes())


class Aimed(unittest.TestCase):
    def test_ours_lands_in_every_window(self) -> None:
        ours = _creamer(150)
        found = _aimed(_benchmark(label=_CREAMER), ours)
        assert found.solution is not None
        self.assertEqual(found.solution.status, "solved", found.solution.words)
        sugars = next(t for t in found.solution.targets if t.reading == "sugars_100g")
        assert sugars.value is not None
        self.assertGreaterEqual(sugars.value, 26.0)
        self.assertLessEqual(sugars.value, 32.8)
        self.assertEqual(len(found.names), 3)
        for axis in found.report.axes:
            self.assertEqual(len(axis.values), 3)

    def test_what_is_too_fat_gets_skimmed_milk(self) -> None:
        """Half-and-half is past the label's fat whatever its amount: something leaner has to come in, and is said to come from nothing."""
        found = _aimed(_benchmark(label=_CREAMER), _creamer(350, "light_whipping_cream"))
        assert found.solution is not None
        self.assertEqual((found.solution.status, found.brought), ("solved", ["Skimmed milk"]))
        came = next(change for change in found.solution.changes if "skimmed" in change.path)
        self.assertEqual(came.before, 0)
        self.assertGreater(came.after, 50)

    def test_what_is_nothing_but_salt_may_move_its_salt(self) -> None:
        saline = parse_document({"name": "Saline", "kitchen": {}, "stages": [{"id": "in", "kind": "add", "vessel": "jar", "lines": [
            {"id": "salt", "substance": "salt", "amount": "40 g"}, {"id": "water", "substance": "water", "amount": "up to 240 g"}]}]})  # fmt: skip
        found = _aimed(_benchmark(label={"kind": "salt", "figures": {"salt": "10", "sugars": "0"}}), saline, chosen=["density"], same_size=False)
        assert found.solution is not None
        self.assertNotEqual(found.solution.words, "")

    def test_ours_that_is_there_already_is_left_alone(self) -> None:
        ours = _creamer()
        found = _aimed(_tasted({"attribute": "sweetness", "than_ours": 0}), ours, ours)
        self.assertIsNone(found.solution)
        self.assertTrue(found.already)

    def test_only_what_is_chosen_is_aimed_at(self) -> None:
        found = _aimed(_benchmark(label=_CREAMER), _creamer(150), chosen=["sugars_100g"], same_size=False)
        assert found.solution is not None
        self.assertEqual(found.solution.targets[0].reading, "sugars_100g")
        stood_in = {aim.reading for aim in found.report.aims if not aim.chosen}
        self.assertLessEqual({t.reading for t in found.solution.targets[1:]}, stood_in, "what is held besides is what ours stands in now")
        with self.assertRaises(BadDocument):
            _aimed(_benchmark(label=_CREAMER), _creamer(150), chosen=["ph"])

    def test_bands_that_ours_stands_in_are_kept_or_said_to_be_left(self) -> None:
        """Aimed by its fat alone: its sugars, °Brix and dairy to sugar stay, or the words say from what to what."""
        for sugar in (230, 350):
            for dairy in ("half_and_half", "light_whipping_cream"):
                for family in ("", "creamer") if depth.DEEP else ("" if sugar == 230 else "creamer",):
                    document = _creamer(sugar, dairy).document.model_copy(update={"family": family})
                    ours = compile_document(document)
                    found = _aimed(_benchmark(label=_CREAMER), ours, chosen=["fat"], same_size=False)
                    if found.solution is None or found.solution.status != "solved":
                        continue
                    after = compile_document(found.solution.document)
                    before_walk, after_walk = walk(ours), walk(after)
                    for aim in found.report.aims:
                        if aim.chosen or aim.reading not in READING_OF:
                            continue
                        was, now = (float(READING_OF[aim.reading](w).value[0]) for w in (before_walk, after_walk))
                        digit = 10.0**-aim.digits
                        if aim.low + digit <= was <= aim.high - digit and not aim.low - digit <= now <= aim.high + digit:
                            self.assertTrue(any(words.startswith(f"{aim.title} goes from") for words in found.leaves), (aim.title, found.leaves))
                    old, new = _dairy_to_sugar_of(before_walk), _dairy_to_sugar_of(after_walk)
                    if old is not None and new is not None and abs(new / old - 1) > 0.06:
                        self.assertTrue(any(words.startswith("Dairy to sugar goes from") for words in found.leaves), (old, new, found.leaves))

    def test_a_version_of_ours_is_known_to_the_gram(self) -> None:
        """Last season's version as a benchmark: ours comes back to it."""
        found = aim_report(_benchmark(what="ours"), Known(itself=_creamer(230)), _creamer(200), _creamer(200).document)
        assert found.solution is not None
        self.assertEqual(found.solution.status, "solved")
        before, after = walk(_creamer(230)), walk(parse_document(found.solution.document.model_dump(mode="json")))
        was, now = (float(READING_OF["sugars_100g"](w).value[0]) for w in (before, after))
        self.assertAlmostEqual(was, now, delta=0.11)


if __name__ == "__main__":
    unittest.main()
