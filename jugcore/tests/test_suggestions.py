"""Ways: every one offered, applied and walked again, gets where it says."""

from __future__ import annotations

import json
import unittest
from collections import Counter
from pathlib import Path

import numpy as np

from jugcore.errors import DomainError
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.method import Method
from jugcore.method.stages import Boil
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF
from jugcore.suggesting.suggestion import Suggestion, Suggestions
from jugcore.suggesting.suggestions import MOST, suggestions
from jugcore.tests import depth
from jugcore.tests.random_methods import random_method
from jugcore.tests.recorded.documents import dust
from jugcore.tests.shell import run

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"
TYPED = ("brix", "yield_g", "yield_l", "water_activity", "cold_margin", "spice_started", "sugars_100g", "viscosity", "spice_finished")


def example(name: str) -> Method:
    return parse_document(json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8")))


def by_kind(found: Suggestions) -> dict[str, Suggestion]:
    return {way.kind: way for way in reversed(found.suggestions)}


class Random(unittest.TestCase):
    @staticmethod
    def case(seed: int) -> tuple[Method, str, float] | None:
        """A random method, one of its readings, and a value to type over it; None where it has none to type over."""
        method = parse_document(random_method(seed))
        rng = np.random.default_rng(seed)
        first = walk(method)
        reading = str(rng.choice(TYPED))
        before = float(READING_OF[reading](first).value[0])
        if first.faults or not np.isfinite(before) or not float(first.product.total_g[0]) > 50 or before <= 0:
            return None
        return method, reading, round(before * float(rng.uniform(0.9, 1.12)), READING_OF[reading](first).digits + 1)

    def typed(self, seeds: list[int]) -> None:
        """Each way's document, read back from JSON and walked, shows what was typed and breaks no tie it says it keeps.

        Where there were two ways or more, there still are.
        """
        for seed in seeds:
            case = self.case(seed)
            assert case is not None, seed
            method, reading, value = case
            found = suggestions(method, reading, value)
            with self.subTest(seed=seed):
                self.assertLessEqual(len(found.suggestions), MOST)
                self.assertLessEqual(max(Counter(way.kind for way in found.suggestions).values(), default=0), 2)
                self.assertTrue(found.suggestions or found.why_not)
                self.assertTrue(len(found.suggestions) >= 2 or seed in depth.few_ways())
                for way in found.suggestions:
                    self.check(method, reading, value, way, seed)

    def test_of_all_typed_values_most_had_two_ways_or_more(self) -> None:
        """Of all seeds, when they were last gone through."""
        told = json.loads(depth.CHOSEN.read_text(encoding="utf-8"))["all"]
        self.assertEqual(told["typed"], depth.TYPED)
        self.assertGreater(told["offered"], 400)
        self.assertGreater(1 - len(depth.few_ways()) / told["typed"], 0.8)

    def check(self, method: Method, reading: str, value: float, way: Suggestion, seed: int) -> None:
        raw = json.loads(way.document.model_dump_json())
        again = parse_document(raw)
        walked = walk(again)
        now = float(READING_OF[reading](walked).value[0])
        self.assertLessEqual(abs(now - value), way.tolerance * (1 + 1e-9), (seed, way.kind))
        self.assertAlmostEqual(now, way.value, places=9, msg=str(seed))
        self.assertTrue(way.title and way.todo, (seed, way.kind, way.title))
        # Ties: whatever is not said to be broken is still a tie, by the same rule.
        tied = [id for id, amount in method.amounts.items() if id in method.lines and not isinstance(amount, Written)]
        broken = [id for id in tied if isinstance(again.amounts.get(id), Written) and float(walk(method).end.lines[id][0]) > 0]
        self.assertEqual(sorted(f"{method.short_titles[id]} {method.amount_texts[id]}" for id in broken), sorted(way.ties_broken), (seed, way.kind))
        # What moves is what the two walks say.
        for move in way.moves:
            after = float(READING_OF[move.reading](walked).value[0])
            self.assertTrue(np.allclose(after, move.after, rtol=1e-9, equal_nan=True), (seed, move, after))


depth.in_parts(Random, "typed_values", depth.typed(), 8 if not depth.DEEP else 20, Random.typed)


class Held(unittest.TestCase):
    def test_what_is_held_stays_and_only_what_must_is_untied(self) -> None:
        found = suggestions(example("ferrymans-spice"), "brix", 60, hold=("yield_g", "spice_started", "brix"))
        before = READING_OF["yield_g"](walk(example("ferrymans-spice"))).value[0]
        self.assertGreaterEqual(len(found.suggestions), 2)
        for way in found.suggestions:
            self.assertEqual(way.kind, "hold")
            self.assertLessEqual(abs(READING_OF["yield_g"](way.walk).value[0] - before), 2.0)
            self.assertEqual(round(float(READING_OF["spice_started"](way.walk).value[0]), 1), 22.0)
            self.assertRegex(way.title, r"^\d+ g less .*, end the boil at 60 °Bx instead of 64$")
        found = suggestions(example("ferrymans-spice"), "brix", 60, hold=("yield_g",))
        kept, loose = sorted(found.suggestions, key=lambda way: len(way.ties_broken))
        self.assertEqual(kept.ties_broken, ())
        self.assertEqual(loose.ties_broken, ("golden granulated sugar as pear juice and water",))
        self.assertIn("end the boil at 60 °Bx instead of 64", kept.title)

    def test_a_line_that_must_stand_still_is_untied(self) -> None:
        way = by_kind(suggestions(example("fennel-sweet-cream"), "fat", 15, hold=("brix",)))["hold"]
        self.assertEqual(way.ties_broken, ("caster sugar 14 % of heavy cream and whole milk",))
        self.assertEqual(len(way.todo), 2, way.todo)

    def test_what_cannot_be_held_is_said_and_what_has_no_value_is_refused(self) -> None:
        found = suggestions(example("weir-simple"), "brix", 60, hold=("cold_margin",))
        self.assertEqual(found.suggestions, ())
        self.assertIn("cannot be reached together", found.why_not[0])
        with self.assertRaisesRegex(DomainError, "“colour” is not a reading"):
            suggestions(example("weir-simple"), "brix", 60, hold=("colour",))
        with self.assertRaisesRegex(DomainError, "°Brix has no value to hold"):
            suggestions(parse_document(dust()), "yield_g", 30, hold=("brix",))

    def test_of_random_methods_every_way_holds(self) -> None:
        offered = seed = 0
        while offered < depth.often(24, daily=10):
            seed += 1
            method = parse_document(random_method(seed))
            rng = np.random.default_rng(seed)
            first = walk(method)
            reading, held = rng.choice(("brix", "yield_g", "sugars_100g", "water_activity"), 2, replace=False)
            before, stood = (float(READING_OF[id](first).value[0]) for id in (reading, held))
            if first.faults or not np.isfinite([before, stood]).all() or not float(first.product.total_g[0]) > 50:
                continue
            digits = READING_OF[held](first).digits
            found = suggestions(
                method, str(reading), round(before * float(rng.uniform(0.94, 1.06)), READING_OF[str(reading)](first).digits), hold=(str(held),)
            )
            self.assertTrue(found.suggestions or found.why_not, seed)
            for way in found.suggestions:
                offered += 1
                walked = walk(parse_document(json.loads(way.document.model_dump_json())))
                moved = abs(float(READING_OF[str(held)](walked).value[0]) - stood)
                # Half its last digit, or what rounding each line to the scale explains.
                self.assertLessEqual(moved, max(0.5 * 10.0**-digits, 0.004 * stood), (seed, way.title, moved))


class Impossible(unittest.TestCase):
    def test_what_no_formula_can_have_is_said_at_once(self) -> None:
        method = example("ferrymans-spice")
        for reading, value, words in (
            ("brix", 101, "°Brix 101 °Bx is not possible: it is between 0 and 100."),
            ("water_activity", 1.02, "Water activity 1.02 is not possible: it is between 0 and 1."),
            ("cold_margin", 108, "Cold margin at 4 °C 108 % sucrose is not possible: it is never above 100."),
            ("yield_g", -5, "Yield by weight -5 g is not possible: it is never below 0."),
        ):
            with self.subTest(reading=reading):
                found = suggestions(method, reading, value)
                self.assertEqual((found.suggestions, found.why_not), ((), (words,)))


class TheAwkwardOne(unittest.TestCase):
    """Sixty typed over a method that ends its boil at sixty-four: more water in changes nothing."""

    def test_end_the_boil_there(self) -> None:
        method = example("ferrymans-spice")
        kinds = by_kind(suggestions(method, "brix", 60.0))
        way = kinds["end_boil"]
        boil = next(stage for stage in way.document.stages if isinstance(stage, Boil))
        self.assertEqual(boil.until.brix, 60.0)
        self.assertEqual(way.ties_broken, ())
        self.assertIn("stop when the pot reads", way.todo[0])
        self.assertNotIn("change", kinds)
        self.assertNotIn("untie", kinds)

    def test_or_stir_water_in_behind_it(self) -> None:
        method = example("ferrymans-spice")
        way = by_kind(suggestions(method, "brix", 60.0))["add"]
        ids = [stage.id for stage in way.document.stages]
        added = next(i for i, stage in enumerate(way.document.stages) if stage.id not in {s.id for s in method.stages})
        self.assertEqual(ids[added - 1], "boil")
        # By hand: 899 g of solids in the syrup at 64 °Bx want 93.7 g more water at 60, and the cake and film take their share of it.
        grams = float(way.walk.end.lines[f"{way.document.stages[added].lines[0].id}"][0])  # type: ignore[union-attr]
        dissolved = float(walk(method).step("boil").after.vessels["pot"].dissolved_g[0])
        self.assertAlmostEqual(grams, dissolved * (100 / 60 - 100 / 64), delta=0.6)

    def test_more_is_had_by_boiling_on(self) -> None:
        way = by_kind(suggestions(example("ferrymans-spice"), "brix", 66.0))["end_boil"]
        off = [float(w.step("boil").figures["off_g"][0]) for w in (walk(example("ferrymans-spice")), way.walk)]
        self.assertGreater(off[1], off[0])


class Plain(unittest.TestCase):
    def test_a_one_to_one_made_richer(self) -> None:
        """By hand: 60 °Bx is 1.5 of sugar to 1 of water: 1,125 g beside 750 g, or 600 and 900 for the same yield, or 250 g off."""
        kinds = by_kind(suggestions(example("weir-simple"), "brix", 60.0))
        sugar = float(kinds["untie"].walk.end.lines["sugar"][0])
        self.assertAlmostEqual(sugar, 1125, delta=1.5)
        self.assertEqual(kinds["untie"].ties_broken, ("white granulated sugar as water",))
        kept = kinds["keep_yield"].walk
        self.assertAlmostEqual(float(kept.end.lines["water"][0]), 600, delta=1)
        self.assertAlmostEqual(float(kept.end.lines["sugar"][0]), 900, delta=1)
        self.assertAlmostEqual(float(kept.product.total_g[0]), float(walk(example("weir-simple")).product.total_g[0]), delta=1)
        boil = next(stage for stage in kinds["boil"].document.stages if isinstance(stage, Boil))
        self.assertAlmostEqual(boil.until.value, 250, delta=1)

    def test_a_yield_is_had_by_making_more_of_the_same(self) -> None:
        method = example("ferrymans-spice")
        found = suggestions(method, "yield_l", 2.0)
        self.assertEqual(found.suggestions[0].kind, "make_more")
        brix, spice = (float(READING_OF[id](found.suggestions[0].walk).value[0]) for id in ("brix", "spice_started"))
        self.assertAlmostEqual(brix, 64.0, places=6)
        self.assertAlmostEqual(spice, 22.0, places=6)

    def test_a_spice_load_is_had_by_every_spice_in_proportion(self) -> None:
        method = example("ferrymans-spice")
        way = by_kind(suggestions(method, "spice_started", 25.0))["season"]
        before, after = walk(method).end.lines, way.walk.end.lines
        shares = {float(after[id][0] / before[id][0]) for id in ("cardamom", "mace", "longpepper", "staranise", "peel")}
        self.assertLess(max(shares) - min(shares), 1e-4)

    def test_the_least_fat_of_a_cream(self) -> None:
        kinds = by_kind(suggestions(example("fennel-sweet-cream"), "fat", 20.0))
        self.assertTrue({"change", "keep_yield", "untie"} <= set(kinds))

    def test_what_is_so_already_and_what_cannot_be_is_said(self) -> None:
        method = example("weir-simple")
        now = float(READING_OF["brix"](walk(method)).value[0])
        self.assertEqual((suggestions(method, "brix", now).suggestions, len(suggestions(method, "brix", now).why_not)), ((), 1))
        self.assertEqual(suggestions(method, "brix", 50.0).suggestions, ())  # 49.99 shows as 50.0
        self.assertTrue(suggestions(method, "brix", 50.04).suggestions)  # who types two digits means them
        found = suggestions(method, "brix", 101.0)
        self.assertEqual(found.suggestions, ())
        self.assertIn("is not possible", found.why_not[0])
        for reading, value in (("colour", 3.0), ("brix", float("nan")), ("brix", float("inf"))):
            with self.subTest(reading=reading, value=value), self.assertRaises(DomainError):
                suggestions(method, reading, value)

    def test_absurd_values_break_nothing(self) -> None:
        for value in (-1e9, -1.0, 0.0, 1e-9, 1e9):
            for reading in ("brix", "yield_g", "spice_started", "cold_margin", "viscosity"):
                with self.subTest(reading=reading, value=value):
                    found = suggestions(example("ferrymans-spice"), reading, value)
                    self.assertTrue(found.suggestions or found.why_not)

    def test_an_added_line_never_makes_a_name_mean_two_things(self) -> None:
        """The sugar is “as the water”; more water stirred in leaves that as it was."""
        way = by_kind(suggestions(example("weir-simple"), "brix", 45.0))["add"]
        again = compile_document(way.document)
        self.assertEqual(again.amounts["sugar"], example("weir-simple").amounts["sugar"])
        written = json.loads(way.document.model_dump_json())
        for stage in written["stages"]:
            for line in stage.get("lines", []):
                line["amount"] = again.amount_texts[line["id"]]
        self.assertEqual(parse_document(written).amounts["sugar"], again.amounts["sugar"])

    def test_from_a_shell(self) -> None:
        text = (EXAMPLES / "weir-simple.json").read_text(encoding="utf-8")
        code, out, _ = run(["ways", "--reading", "brix", "--value", "60"], text)
        self.assertEqual(code, 0)
        found = json.loads(out)
        self.assertGreaterEqual(len(found["suggestions"]), 2)
        for way in found["suggestions"]:
            value = float(READING_OF["brix"](walk(parse_document(way["document"]))).value[0])
            self.assertAlmostEqual(value, 60.0, delta=way["tolerance"])


if __name__ == "__main__":
    unittest.main()
