"""More or less of a formula: exact by walking, within pots and scales, weighed in parts that sum."""

from __future__ import annotations

import json
import unittest
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from jugcore.errors import DomainError
from jugcore.families.family import families
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import rounded_to_sum
from jugcore.method.stages import Boil, Caramelise
from jugcore.method.walk import walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.equipment.pots import heated, in_its_pots, limits, pots_of, too_much, with_pots
from jugcore.reading.equipment.tool_fills import in_goes
from jugcore.reading.report import report
from jugcore.scaling.batch_split import most_in_one, split_in_batches
from jugcore.scaling.scale import by_line, by_reading, scale_by, scale_to
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugcore.scaling.weighing import as_weighed, weighings
from jugcore.tests.depth import often
from jugcore.tests.random_methods import random_method

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"


def example(name: str) -> Method:
    return parse_document(json.loads((EXAMPLES / f"{name}.json").read_text(encoding="utf-8")))


def read(method: Method, id: str) -> float:
    return float(READING_OF[id](walk(method)).value[0])


class Factor(unittest.TestCase):
    def test_without_film_everything_is_so_many_times(self) -> None:
        for seed in range(often(60, daily=30)):
            method = parse_document(random_method(seed, film=False, minutes=False))
            factor = float(np.random.default_rng(seed).uniform(0.2, 6))
            before, after = walk(method), scale_by(method, factor).walk
            for id, grams in before.end.lines.items():
                self.assertAlmostEqual(
                    float(after.end.lines[id][0]), factor * float(grams[0]), delta=1e-6 * factor * (1 + float(grams[0])), msg=str(seed)
                )
            self.assertTrue(np.allclose(after.product.mass_g, factor * before.product.mass_g, rtol=1e-6, atol=1e-6), seed)

    def test_amounts_keep_the_measure_they_were_written_in(self) -> None:
        cases = {
            "1 1/2 cups": "3 cup",
            "430 g": "860 g",
            "0.5 kg": "1 kg",
            "2 lb": "4 lb",
            "250 ml": "500 ml",
            "up to 900 g": "up to 1800 g",
            "half a tbsp": "1 tbsp",
        }
        for text, twice in cases.items():
            lines = [{"id": "a", "substance": "white_sugar", "amount": "10 g"}, {"id": "b", "substance": "water", "amount": text}]
            raw = {"stages": [{"id": "s", "kind": "add", "vessel": "pot", "lines": lines}]}
            method = parse_document(raw)
            doubled = compile_document(scale_by(method, 2.0).document)
            with self.subTest(text=text):
                self.assertEqual(doubled.amount_texts["b"], twice)
                grams = [float(walk(m).end.lines["b"][0]) for m in (method, doubled)]
                self.assertAlmostEqual(grams[1], 2 * grams[0], places=6)

    def test_what_would_read_badly_is_written_in_grams(self) -> None:
        for text in ("1 1/2 cups", "2 heaped tbsp", "1 cup plus 2 tbsp", "2–3 tbsp", "about 200 g"):
            raw = {"stages": [{"id": "s", "kind": "add", "vessel": "pot", "lines": [{"id": "a", "substance": "white_sugar", "amount": text}]}]}
            method = parse_document(raw)
            scaled = compile_document(scale_by(method, 1.37).document)
            with self.subTest(text=text):
                self.assertRegex(scaled.amount_texts["a"], r"^[\d.]+ g$")
                self.assertAlmostEqual(scaled.weighed["a"].grams, 1.37 * method.weighed["a"].grams, places=6)

    def test_a_measure_of_two_parts_is_scaled_whole(self) -> None:
        for text, grams in (("1 lb 3 oz", 1077.28), ("1 cup plus 2 tbsp", 473.2), ("about 1 cup", 422.5)):
            raw = {"stages": [{"id": "s", "kind": "add", "vessel": "pot", "lines": [{"id": "a", "substance": "white_sugar", "amount": text}]}]}
            doubled = compile_document(scale_by(parse_document(raw), 2.0).document)
            with self.subTest(text=text):
                self.assertAlmostEqual(doubled.weighed["a"].grams, grams, delta=0.01)

    def test_minutes_are_never_scaled_and_it_is_said(self) -> None:
        raw = json.loads((EXAMPLES / "ferrymans-spice.json").read_text(encoding="utf-8"))
        next(s for s in raw["stages"] if s["kind"] == "boil")["until"] = {"minutes": 20}
        scaling = scale_by(parse_document(raw), 2.0)
        boil = next(s for s in scaling.document.stages if isinstance(s, Boil))
        self.assertEqual(boil.until.minutes, 20)
        self.assertIn("minutes are not scaled", scaling.notes[0])
        self.assertEqual(scale_by(parse_document(raw), 1.0).notes, ())

    def test_factors_nobody_means_are_refused(self) -> None:
        for factor in (0.0, -1.0, 1e-4, 1e4, float("nan")):
            with self.subTest(factor=factor), self.assertRaises(DomainError):
                scale_by(example("weir-simple"), factor)


class To(unittest.TestCase):
    def test_yields_bottles_and_the_limiting_ingredient(self) -> None:
        for seed in range(often(60, daily=24)):
            method = parse_document(random_method(seed))
            if walk(method).faults or read(method, "yield_g") < 100:
                continue
            wanted = read(method, "yield_g") * float(np.random.default_rng(seed).uniform(0.5, 3))
            scaling = scale_to(method, by_reading("yield_g"), wanted)
            if any(isinstance(s, Boil) and s.until.kind == "minutes" for s in method.stages):
                continue  # what minutes take off does not follow the batch
            self.assertAlmostEqual(float(scaling.walk.product.total_g[0]), wanted, delta=1e-6 * wanted, msg=str(seed))

    def test_only_so_much_juice(self) -> None:
        """Common practice, no source: the juice came short, and water, sugar and spice follow it."""
        scaling = scale_to(example("ferrymans-spice"), by_line("juice"), 300.0)
        lines = {id: float(grams[0]) for id, grams in scaling.walk.end.lines.items()}
        self.assertAlmostEqual(lines["water"], 300, places=6)
        self.assertAlmostEqual(lines["sugar"], 600, places=6)
        self.assertAlmostEqual(lines["mace"], 2.4, places=6)

    def test_a_tied_line_can_be_the_one_that_is_short(self) -> None:
        scaling = scale_to(example("ferrymans-spice"), by_line("sugar"), 500.0)
        self.assertAlmostEqual(float(scaling.walk.end.lines["juice"][0]), 250, places=6)

    def test_bottles_filled_hot_shrink(self) -> None:
        """Common practice, no source: 350 ml at 85 °C is 338 at 4 °C; for syrup the density table gives a little less shrinking."""
        raw = json.loads((EXAMPLES / "ferrymans-spice.json").read_text(encoding="utf-8"))
        fill = next(s for s in raw["stages"] if s["kind"] == "fill")
        raw["stages"].insert(raw["stages"].index(fill), {"id": "cool", "kind": "cool", "vessel": fill["vessel"], "to_c": 85})
        fill["size_ml"] = 350
        found = scale_report(parse_document(raw), ScaleRequest(by="bottles", value=12, size_ml=350))
        assert found.bottles is not None and found.bottles.cold_ml is not None and found.bottles.per_container_g is not None
        self.assertEqual(found.bottles.count * found.cooks, 12)
        self.assertAlmostEqual(found.bottles.cold_ml, 338, delta=2.5)
        # Grams in a bottle are the same hot and cold: its cold volume times the cold density.
        cold = found.bottles.cold_ml * found.yield_g / ((found.yield_l or 0) * 1000)
        self.assertAlmostEqual(found.bottles.per_container_g, cold, delta=0.01)

    def test_what_cannot_be_scaled_to_is_refused(self) -> None:
        method = example("weir-simple")
        for measure, wanted in (
            (by_reading("yield_g"), 0.0),
            (by_reading("yield_g"), float("inf")),
            (by_reading("yield_g"), 1e9),
            (by_reading("brix"), 60.0),
        ):
            with self.subTest(wanted=wanted), self.assertRaises(DomainError) as caught:
                scale_to(method, measure, wanted)
            self.assertTrue(caught.exception.remedy)


class BatchSplit(unittest.TestCase):
    def test_split_by_what_the_scale_carries_and_the_pot_holds(self) -> None:
        method = example("ferrymans-spice")
        for factor in (1.0, 2.4, 2.7, 5.0, 12.0):
            cooks = split_in_batches(method, factor=factor)
            self.assertEqual(too_much(cooks.one.walk), [])
            self.assertAlmostEqual(cooks.count * cooks.one.factor, factor)
            if cooks.count > 1:
                fewer = scale_by(method, factor / (cooks.count - 1))
                self.assertTrue(too_much(fewer.walk))
                self.assertTrue(cooks.limits)
            for limit in limits(cooks.one.walk):
                self.assertLessEqual(limit.used, 1 + 1e-9)
            for step in (cooks.one.walk.step("boil"),):
                self.assertLessEqual(float(step.figures["pot_reads_g"][0]), 5000 + 1e-6)

    def test_by_yield_all_cooks_together_give_it(self) -> None:
        method = example("ferrymans-spice")
        cooks = split_in_batches(method, measure=by_reading("yield_l"), wanted=7.5)
        self.assertGreater(cooks.count, 1)
        self.assertAlmostEqual(cooks.count * float(READING_OF["yield_l"](cooks.one.walk).value[0]), 7.5, places=6)

    def test_for_doses_and_for_the_drinks_it_goes_into(self) -> None:
        """Sixty doses of 20 g, or forty cups with 15 g and twenty with 30 g: 1,200 g both times, whatever sticks to the pot."""
        method = example("ferrymans-spice")
        doses = scale_report(method, ScaleRequest(by="doses", value=60, dose_g=20))
        cups = [{"count": 40, "each_g": 15}, {"count": 20, "each_g": 30}, {"count": 0, "each_g": 25}]
        drinks = scale_report(method, ScaleRequest.model_validate({"by": "drinks", "cups": cups}))
        for found in (doses, drinks):
            self.assertAlmostEqual(found.yield_g, 1200.0, places=5)
        for wrong in ({"by": "drinks"}, {"by": "drinks", "cups": [{"count": 0, "each_g": 15}]}, {"by": "doses", "value": 60}):
            with self.subTest(wrong=wrong), self.assertRaises(ValueError):
                ScaleRequest.model_validate(wrong)

    def test_as_much_as_one_cook_takes_is_the_most(self) -> None:
        method = example("ferrymans-spice")
        most = most_in_one(method)
        self.assertEqual(too_much(scale_by(method, most).walk), [])
        self.assertTrue(too_much(scale_by(method, most * 1.001).walk))

    def test_no_weighing_that_the_scale_cannot_do(self) -> None:
        raw = {"stages": [{"id": "s", "kind": "add", "vessel": "tub", "lines": [{"id": "a", "substance": "water", "amount": "12 kg"}]}],
               "kitchen": {"scales": [{"id": "b", "name": "b", "capacity_g": 5000, "resolution_g": 1}]}}  # fmt: skip
        sheet = weighings(walk(parse_document(raw)))
        self.assertEqual((sheet[0].goes, sheet[0].rounded_g), (3, 12000.0))

    def test_a_vessel_without_a_pot_is_bound_by_the_pot_it_would_be_in(self) -> None:
        """Every school that heats something: as much as two large pots hold is never one cook, caramel least of all."""
        place = Kitchen.model_validate(
            {
                "pots": [
                    {"id": "p2", "name": "2 l pan", "tare_g": 640, "diameter_cm": 18, "capacity_ml": 2000},
                    {"id": "p8", "name": "8 l pot", "tare_g": 1243, "diameter_cm": 28, "capacity_ml": 8000},
                ],
                "scales": [{"id": "b", "name": "bench scale", "capacity_g": 5000, "resolution_g": 1}],
            }
        )
        tried = 0
        for school in (school for family in families() for school in family.schools):
            method = compile_document(school.document.model_copy(update={"kitchen": place}))
            bare = method.document.model_copy(update={"vessels": tuple(v.model_copy(update={"pot": None}) for v in method.document.vessels)})
            method = compile_document(bare)
            hot = heated(method)
            if not any(stage.vessel in hot and isinstance(stage, Boil | Caramelise) for stage in method.stages):
                continue
            tried += 1
            with self.subTest(school.id):
                cooks = split_in_batches(method, place, measure=by_reading("yield_g"), wanted=16_000)
                self.assertGreater(cooks.count, 1)
                one = cooks.one.walk
                for stage, step in zip(one.stages, one.steps, strict=True):
                    if isinstance(stage, Boil):
                        self.assertLessEqual(float(step.figures["pot_reads_g"][0]), 5000)
                # A little of it goes into the small pan; and what is said at the bench is what splits the cook.
                small = split_in_batches(method, place, measure=by_reading("yield_g"), wanted=60).one.walk
                self.assertEqual({pot.id for pot in pots_of(small).values()}, {"p2"})
                whole = report(in_its_pots(scale_to(method, by_reading("yield_g"), 16_000, place).walk.method, place))
                self.assertTrue([each for each in whole.consequences if each.tone == "stop" and "Split the cook" in each.text])
        self.assertGreater(tried, 8)

    def test_what_does_not_fit_is_said_once_for_each_pot(self) -> None:
        lines = [{"id": "s", "substance": "white_sugar", "amount": "6 kg"}, {"id": "w", "substance": "water", "amount": "6 kg"}]
        stages = [
            {"id": "a", "kind": "add", "vessel": "pot", "lines": lines}, {"id": "h", "kind": "heat", "vessel": "pot", "to_c": 70},
            {"id": "c", "kind": "cool", "vessel": "pot", "to_c": 30, "how": "cold_water"},
        ]  # fmt: skip
        kitchen = {"pots": [{"id": "p", "name": "Pot", "capacity_ml": 5000, "tare_g": 900}], "scales": []}
        found = too_much(walk(parse_document({"stages": stages, "kitchen": kitchen})))
        self.assertEqual([(limit.kind, limit.stage) for limit in found], [("pot", "h")])

    def test_what_is_only_stirred_fills_nine_tenths_of_its_pot_and_no_more(self) -> None:
        """Common practice, no source: room to stir."""

        def warmed(litres: float) -> list[str]:
            water = [{"id": "w", "substance": "water", "amount": f"{1000 * litres:g} g"}]
            stages = [{"id": "a", "kind": "add", "vessel": "pot", "lines": water}, {"id": "h", "kind": "heat", "vessel": "pot", "to_c": 40}]
            kitchen = {"pots": [{"id": "p", "name": "Pot", "capacity_ml": 2000, "tare_g": 900}], "scales": []}
            return [limit.kind for limit in too_much(walk(parse_document({"stages": stages, "kitchen": kitchen})))]

        self.assertEqual([warmed(1.76), warmed(1.83)], [[], ["pot"]])

    def test_every_limit_begins_a_sentence(self) -> None:
        found = scale_report(example("ferrymans-spice"), ScaleRequest(by="factor", value=12.0))
        self.assertGreater(len(found.limits), 1)
        self.assertEqual([words for words in found.limits if not words[0].isupper()], [])

    def test_tools_take_what_they_hold_in_goes(self) -> None:
        shared: list[dict[str, object]] = [
            {"id": "b", "name": "Blender", "kind": "blender", "holds_ml": 400}, {"id": "f", "name": "Flask", "kind": "flask", "holds_ml": 600},
            {"id": "s", "name": "Siphon", "kind": "siphon", "holds_ml": 500}, {"id": "fr", "name": "Frother", "kind": "frother"},
        ]  # fmt: skip
        lines = [{"id": "m", "substance": "heavy_cream", "amount": "900 g"}]
        stages = [
            {"id": "a", "kind": "add", "vessel": "jug", "lines": lines},
            {"id": "mix", "kind": "mix", "vessel": "jug", "tool": "blender"},
            {"id": "rest", "kind": "hold", "vessel": "jug", "where": "flask", "for_min": 5},
            {"id": "beat", "kind": "aerate", "vessel": "jug", "tool": "siphon"},
        ]
        walked = walk(parse_document({"stages": stages, "kitchen": {"equipment": shared}}))
        self.assertEqual([(each.stage, each.goes) for each in in_goes(walked)], [("mix", 3), ("rest", 2), ("beat", 2)])
        said = {each.id for each in report(walked).consequences}
        self.assertTrue({"goes-mix", "goes-rest"} <= said or "goes-mix" in said)
        self.assertTrue(any("in 3 fills" in note for note in scale_report(walked.method, ScaleRequest(by="factor", value=1.0)).notes))
        unsaid = walk(parse_document({"stages": stages, "kitchen": {"equipment": [{**piece, "holds_ml": None} for piece in shared]}}))
        self.assertEqual(list(in_goes(unsaid)), [])

    def test_the_first_pot_that_fits_is_taken_and_its_tare_is_told(self) -> None:
        pots = [("p1", 1000, 300), ("p3", 3000, 700), ("p9", 9000, 1500)]
        kitchen = {"pots": [{"id": id, "name": id, "capacity_ml": ml, "tare_g": tare} for id, ml, tare in pots]}
        lines = [{"id": "s", "substance": "white_sugar", "amount": "600 g"}, {"id": "w", "substance": "water", "amount": "900 g"}]
        stages = [
            {"id": "a", "kind": "add", "vessel": "pan", "lines": lines},
            {"id": "b", "kind": "boil", "vessel": "pan", "until": {"brix": 60}},
        ]
        method = parse_document({"stages": stages, "kitchen": kitchen})
        walked = in_its_pots(method)
        self.assertEqual(walked.method.pot_id("pan"), "p3")
        self.assertAlmostEqual(float(walked.step("b").figures["pot_reads_g"][0]), 1700, delta=1)
        self.assertEqual(in_its_pots(scale_by(method, 0.1).walk.method).method.pot_id("pan"), None, "the first fits: it is used instead anyway")
        self.assertEqual(with_pots(walk(method), all_of_them=True).vessels[0].pot, "p3")
        named = parse_document({"stages": stages, "kitchen": kitchen, "vessels": [{"id": "pan", "pot": "p1"}]})
        self.assertEqual(in_its_pots(named).method.pot_id("pan"), "p1", "what a person named stays, and is refused in words")
        self.assertTrue(too_much(in_its_pots(named)))

    def test_too_many_cooks_are_refused(self) -> None:
        with self.assertRaises(DomainError) as caught:
            split_in_batches(example("ferrymans-spice"), factor=900.0)
        self.assertIn("50 cooks", caught.exception.message)


class Rounding(unittest.TestCase):
    @given(st.lists(st.tuples(st.floats(0, 5000), st.sampled_from([0.01, 0.1, 1.0])), min_size=1, max_size=12))
    @settings(max_examples=400, derandomize=True, deadline=None)
    def test_parts_still_sum_on_each_scale(self, pairs: list[tuple[float, float]]) -> None:
        parts, steps = [p for p, _ in pairs], [s for _, s in pairs]
        rounded = rounded_to_sum(parts, steps)
        for part, step, whole in zip(parts, steps, rounded, strict=True):
            self.assertLess(abs(whole - part), step * (1 + 1e-6))
            self.assertAlmostEqual(whole / step, round(whole / step), places=4)
            self.assertGreaterEqual(whole, 0)
        for step in set(steps):
            exact, whole = (sum(v for v, s in zip(values, steps, strict=True) if s == step) for values in (parts, rounded))
            self.assertLessEqual(abs(whole - exact), 0.5 * step * (1 + 1e-6) + 1e-9)

    def test_thirds_of_a_hundred(self) -> None:
        self.assertEqual(sorted(rounded_to_sum([100 / 3] * 3, [1.0] * 3)), [33.0, 33.0, 34.0])

    def test_the_readings_after_rounding_are_those_of_what_is_weighed(self) -> None:
        walked = scale_by(example("ferrymans-spice"), 0.137).walk
        sheet = weighings(walked)
        after = as_weighed(walked, sheet)
        for w in sheet:
            self.assertAlmostEqual(float(after.end.lines[w.line][0]), w.rounded_g)
        report = scale_report(example("ferrymans-spice"), ScaleRequest(by="factor", value=0.137))
        yields = next(r for r in report.readings if r.reading == "yield_g")
        self.assertAlmostEqual(yields.weighed or 0, float(after.product.total_g[0]), places=6)

    def test_what_is_asked_is_checked(self) -> None:
        wrong: list[dict[str, Any]] = [{"by": "litres"}, {"by": "bottles", "value": 3}, {"by": "line", "value": 3}, {"by": "factor", "value": 0}]
        for ask in wrong:
            with self.subTest(ask=ask), self.assertRaises(ValueError):
                ScaleRequest.model_validate(ask)
        with self.assertRaises(DomainError):
            scale_report(example("weir-simple"), ScaleRequest(by="line", value=3, line="gold"))


if __name__ == "__main__":
    unittest.main()
