"""Rules too small for a file of their own: steps of scales, clocks, ends of ranges, what a resumed walk accounts for."""

from __future__ import annotations

import unittest
from typing import Any

import numpy as np
from pydantic import BaseModel, ValidationError

from jugcore import components as c
from jugcore.batch.log.events import Bottled, Flowed, Refracted
from jugcore.calculators.catalogue import calculator_report
from jugcore.editing.edits import end_step
from jugcore.errors import DomainError, OutOfRange
from jugcore.exchange.imports import _plain
from jugcore.matter.contributions import _OIL, tracers_of
from jugcore.matter.library import library
from jugcore.matter.matter import EXTENTS, FREE_OIL, TRACERS, Matter
from jugcore.matter.substance import substance_from_composition
from jugcore.measures.density import grams_of
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.method.bottle_fills import into_containers
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen, Scale
from jugcore.method.label_document import LabelDoc
from jugcore.method.phrases import spelt_span
from jugcore.method.scales import resolution_g, rounded_g
from jugcore.method.schema_messages import explain
from jugcore.method.walk import Walk, once, walk
from jugcore.physics import sucrose
from jugcore.physics.boiling import boiling_point_c
from jugcore.reading.consequences import consequences
from jugcore.scaling.batch_split import MOST_COOKS, most_in_one, split_in_batches
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugcore.solving.schema import SolveRequest, TargetRequest, solve_report, target_from_text
from jugcore.solving.stopwatch import Stopwatch
from jugcore.suggesting.overshot import overshot
from jugcore.suggesting.schema import SubstituteRequest, suggestions_report
from jugcore.tasting.sheet import Tasted
from jugcore.tests.recorded.documents import dust, example
from jugcore.tests.recorded.figures import EDGES
from jugcore.tests.test_stages import boil, go, syrup


class AmountsInWords(unittest.TestCase):
    def test_numbers_in_words(self) -> None:
        words = ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
        for number, word in enumerate(words, start=1):
            with self.subTest(word=word):
                self.assertEqual(parse_amount(f"{word} tbsp"), parse_amount(f"{number} tbsp"))

    def test_how_differently_a_measure_is_filled(self) -> None:
        """Common practice, no source: a cup by 4 %, a spoon by 6, a small one by 8, half as much where it is level."""
        for text, share in (("1 cup", 0.04), ("1 tbsp", 0.06), ("1 tsp", 0.08), ("1 level tbsp", 0.03)):
            with self.subTest(text=text):
                amount = parse_amount(text)
                assert isinstance(amount, Quantity)
                found = grams_of(amount, library()["water"], "metric")
                self.assertAlmostEqual((found.high_g - found.low_g) / (2 * found.grams), share, delta=0.006)

    def test_the_first_of_several_in_a_saved_page(self) -> None:
        self.assertEqual(
            [_plain(raw) for raw in ([], ["<b>Salt</b> &amp; more", "other"], {"@value": " a  b "}, None)], ["", "Salt & more", "a b", ""]
        )


class Refused(unittest.TestCase):
    def test_what_lies_beyond_the_ends_of_what_may_be_asked(self) -> None:
        for kind, good, bad in (
            (Tasted, {"attribute": "sweetness", "than_ours": 2}, {"attribute": "sweetness", "than_ours": 3}),
            (Tasted, {"attribute": "sweetness", "than_ours": -2}, {"attribute": "sweetness", "than_ours": -3}),
            (LabelDoc, {"figures": {}, "serving_ml": 0.5}, {"figures": {}, "serving_ml": 0}),
            (SubstituteRequest, {"line": "a", "parts": {"b": 1}, "hold": list("abcde")}, {"line": "a", "parts": {"b": 1}, "hold": list("abcdef")}),
            (Flowed, {"seconds": 3}, {"seconds": 0}),
            (Flowed, {"seconds": 0, "stuck": True}, {"seconds": 3601}),
        ):
            with self.subTest(kind=kind.__name__, bad=bad):
                kind.model_validate(good)
                with self.assertRaises(ValidationError):
                    kind.model_validate(bad)

    def test_an_index_beyond_sugar_solutions(self) -> None:
        self.assertAlmostEqual(float(sucrose.brix_from_refractive_index(1.50388)), 85, delta=0.05)
        with self.assertRaises(DomainError):
            sucrose.brix_from_refractive_index(1.5056)

    def test_a_scale_that_just_resolves_it_is_left_alone(self) -> None:
        self.assertEqual(calculator_report("scale-step", Kitchen(), {"grams": 10, "step": 1}, "step").words, [])
        self.assertNotEqual(calculator_report("scale-step", Kitchen(), {"grams": 9.9, "step": 1}, "step").words, [])


class Scales(unittest.TestCase):
    def test_without_scales_about_half_a_percent(self) -> None:
        for grams, step in ((5000.0, 1.0), (100.0, 1.0), (99.9, 0.1), (10.0, 0.1), (9.99, 0.01), (0.3, 0.01)):
            with self.subTest(grams=grams):
                self.assertEqual(resolution_g(Kitchen(), grams), step)

    def test_the_finest_that_carries_it_and_never_nothing(self) -> None:
        scales = [{"id": "a", "name": "a", "capacity_g": 5000, "resolution_g": 2}, {"id": "b", "name": "b", "capacity_g": 200, "resolution_g": 0.05}]
        kitchen = Kitchen.model_validate({"scales": scales})
        self.assertEqual([resolution_g(kitchen, g) for g in (142.0, 144.0, 4600.0, 6000.0)], [0.05, 2, 2, 2])
        self.assertEqual([rounded_g(kitchen, g) for g in (12.34, 300.9, 0.001)], [12.35, 300, 0.05])

    def test_a_coarse_scale_is_told_with_its_error(self) -> None:
        for step, said in ((1, "± 10 %"), (0.5, "± 5 %"), (2, "± 20 %")):
            document = syrup(50, 100)
            document["kitchen"] = {"scales": [{"id": "a", "name": "the scale", "capacity_g": 5000, "resolution_g": step}]}
            document["stages"][0]["lines"].append({"id": "x", "substance": "mace", "amount": "5 g"})
            texts = [x.text for x in consequences(walk(parse_document(document))) if x.id == "weighing"]
            with self.subTest(step=step):
                # From half a division above 5 % on it is worth a word.
                self.assertEqual([said in text for text in texts], [] if step == 0.5 else [True])


class Ends(unittest.TestCase):
    def test_just_outside_a_range_is_refused_and_its_ends_are_not(self) -> None:
        for function, beside, name, low, high in EDGES:
            for edge, outwards in ((low, -1), (high, 1)):
                if edge is None:
                    continue
                with self.subTest(function=function.__name__, parameter=name, edge=edge):
                    self.assertTrue(np.isfinite(function(**beside, **{name: edge})))
                    with self.assertRaises(OutOfRange) as refused:
                        function(**beside, **{name: edge + outwards * max(1e-3, 2e-3 * abs(edge))})
                    self.assertTrue(refused.exception.remedy)

    def test_what_may_be_typed_at_its_ends_and_just_beyond(self) -> None:
        drop, filled = {"stage": "boil", "reading_brix": 60}, {"stage": "fill", "each_g": 5}
        ends: list[tuple[type[BaseModel], dict[str, Any], str, float, float]] = [
            (Refracted, drop, "sample_c", 100, 100.5),
            (Bottled, filled, "count", 1000, 1001),
        ]
        for side in ("equals", "at_least", "at_most"):
            ends += [(TargetRequest, {"reading": "brix"}, side, sign * 1e9, sign * 1.1e9) for sign in (-1, 1)]
        for kind, rest, field, good, bad in ends:
            with self.subTest(kind=kind.__name__, field=field, bad=bad):
                kind.model_validate({**rest, field: good})
                with self.assertRaises(ValidationError):
                    kind.model_validate({**rest, field: bad})

    def test_a_bowl_weighs_two_fifths_of_what_is_in_it_and_at_most_400_g(self) -> None:
        """Common practice, no source."""
        for capacity, carries in ((140.0, 100.0), (1400.0, 1000.0), (5000.0, 4600.0), (20_000.0, 19_600.0)):
            self.assertAlmostEqual(Scale(id="s", name="S", capacity_g=capacity, resolution_g=1).carries_g, carries)

    def test_the_pressure_at_which_it_may_boil_ends_at_110_kilopascal(self) -> None:
        self.assertGreater(float(boiling_point_c(60.0, 110_000.0)), float(boiling_point_c(60.0, 101_325.0)))
        for pressure in (49_999.0, 110_000.5):
            with self.assertRaises(OutOfRange):
                boiling_point_c(60.0, pressure)

    def test_a_boil_ends_at_hundredths(self) -> None:
        for kind in ("brix", "temperature_c", "minutes"):
            self.assertEqual(end_step(Kitchen(), kind, 1000.0), 0.01)


class Containers(unittest.TestCase):
    def test_what_there_is_in_bottles_and_one_more(self) -> None:
        for grams, count, words in (
            (0, 0, "nothing for one of 500 ml"), (1, 0, "nothing for one of 500 ml"), (300, 1, "250 ml in one of 500 ml"), (600, 1, "1 × 500 ml"),
            (607, 1, "1 × 500 ml"), (613, 2, "1 × 500 ml and 11 ml in a second"), (1327, 3, "2 × 500 ml and 106 ml in a third"),
        ):  # fmt: skip
            with self.subTest(grams=grams):
                found = into_containers(grams, 600, 500)
                self.assertEqual((found.count, found.words), (count, words))


class Spans(unittest.TestCase):
    def test_minutes_and_from_two_hours_on_hours(self) -> None:
        for seconds, text in (
            ((60, 120, 180), "1–3 min"),
            ((170, 180, 190), "3 min"),
            ((7100, 9000, 20000), "118–333 min"),
            ((7200, 9000, 18000), "2–5 h"),
        ):
            with self.subTest(seconds=seconds):
                self.assertEqual(spelt_span(np.array([seconds], dtype=float)), text)

    def test_a_long_text_is_quoted_in_part(self) -> None:
        for length, quoted in ((60, "x" * 60), (61, "x" * 60 + " …")):
            with self.assertRaisesRegex(ValueError, f"^“{quoted}” is not a target"):
                target_from_text("x" * length)

        for length, quoted in ((60, "x" * 60), (61, "x" * 60)):
            raw = syrup(50, 100)
            raw["stages"][0]["lines"][0]["temperature_c"] = "x" * length
            with self.assertRaisesRegex(DomainError, f"“{quoted}” is not a number"):
                parse_document(raw)

    def test_an_overshot_figure_is_told_as_it_was_asked(self) -> None:
        walked = walk(parse_document(dust()))
        with self.assertRaises(OutOfRange) as refused:
            overshot(walked, "clove", 1.2)
        self.assertEqual(refused.exception.message, "1.2 g is not more than the 1.25 g asked for.")


class Shares(unittest.TestCase):
    def test_air_is_shared_like_the_rest(self) -> None:
        grams = np.zeros((2, c.COUNT))
        grams[:, c.WATER] = 100.0
        held = Matter(grams, np.zeros(2), np.zeros((2, len(EXTENTS))), np.ones((2, len(TRACERS))), np.array([40.0, 60.0]), frozenset({"a"}))
        part = held.share(np.array([0.25, 0.5]))
        self.assertEqual(part.air_ml.tolist(), [10.0, 30.0])
        self.assertEqual(held.minus(part).air_ml.tolist(), [30.0, 30.0])
        self.assertEqual(part.tracer[:, 0].tolist(), [0.25, 0.5])
        self.assertEqual(held.portion(liquid=np.array([0.1, 1.0]), insoluble=np.zeros(2)).air_ml.tolist(), [4.0, 60.0])

    def test_oil_that_lies_in_no_cells_is_all_free(self) -> None:
        oily = [book for book in library().values() if book.mass_fraction[_OIL] > 0]
        loose = [book for book in oily if book.contributions.cell_oil is None]
        self.assertTrue(5 < len(loose) < len(oily))
        for book in oily:
            free, oil = float(tracers_of(book, book.mass_fraction)[FREE_OIL]), float(book.mass_fraction[_OIL])
            with self.subTest(id=book.id):
                self.assertEqual(free, oil) if book in loose else self.assertLess(free, oil)

    def test_as_much_liquid_as_solids_is_a_liquid_still(self) -> None:
        grams = np.zeros((3, c.COUNT))
        grams[:, c.WATER], grams[:, c.INDEX["insoluble"]] = 50.0, (50.0, 50.1, 0.0)
        self.assertEqual(Matter(grams, np.zeros(3), np.zeros((3, 1)), np.zeros((3, 1)), np.zeros(3)).is_liquid.tolist(), [True, False, True])

    def test_a_substance_of_a_little_less_than_a_hundred_grams(self) -> None:
        made = substance_from_composition(id="x", composition_g_per_100g={"water": 79.6, "sucrose": 19.9}, free_sugars_g_per_100g=9.95)
        self.assertEqual((made.title, made.id), ("x", "x"))
        self.assertAlmostEqual(float(made.mass_fraction.sum()), 1.0)
        self.assertAlmostEqual(made.free_sugar_fraction, 0.1)
        self.assertAlmostEqual(float(made.mass_fraction[c.SUCROSE]), 0.2)


class Words(unittest.TestCase):
    def test_a_line_whose_name_holds_an_and(self) -> None:
        """Called whole by another it is meant whole; a line of that name itself means two others."""

        def lines(third: str) -> dict[str, Any]:
            names = (
                ("a", "water", "Gum", "10 g"),
                ("b", "white_sugar", "Sugar", "20 g"),
                ("c", "honey", "Gum and sugar", third),
                ("d", "salt", "Salt", "as gum and sugar"),
            )
            return {
                "stages": [
                    {"id": "s", "kind": "add", "vessel": "p", "lines": [{"id": i, "substance": s, "name": n, "amount": a} for i, s, n, a in names]}
                ]
            }

        grams = walk(parse_document(lines("7 g"))).end.lines
        self.assertEqual((float(grams["d"][0]), float(grams["c"][0])), (7.0, 7.0))
        self.assertEqual(float(walk(parse_document(lines("as gum and sugar"))).end.lines["c"][0]), 30.0)

    def test_what_is_trimmed_stands_for_what_is_in_its_bowl_alone(self) -> None:
        document = {
            "stages": [
                {"id": "w", "kind": "add", "vessel": "pot", "lines": [{"id": "water", "substance": "water", "amount": "300 g"}]},
                {"id": "in", "kind": "add", "vessel": "bowl", "lines": [{"id": "pear", "substance": "pear_flesh", "amount": "500 g"}]},
                {"id": "trim", "kind": "trim", "vessel": "bowl", "yield_fraction": 0.8},
                {"id": "again", "kind": "trim", "vessel": "bowl", "yield_fraction": 0.5},
                {"id": "s", "kind": "add", "vessel": "pot", "lines": [{"id": "sugar", "substance": "white_sugar", "amount": "as all so far"}]},
            ]
        }  # fmt: skip
        method = parse_document(document)
        self.assertEqual({n.id: n.instead_of for n in method.named if n.instead_of}, {"trim": ("pear",), "again": ("trim",)})
        self.assertEqual(float(walk(method).end.lines["sugar"][0]), 300.0)

    def test_what_to_do_about_too_few_fits_what_there_are_too_few_of(self) -> None:
        with self.assertRaises(DomainError) as lines:
            parse_document({"stages": [{"id": "s", "kind": "add", "vessel": "p", "lines": []}]})
        self.assertEqual(lines.exception.remedy, "Add at least one, or remove the stage.")
        with self.assertRaises(ValidationError) as asked:
            SolveRequest(targets=())
        self.assertEqual(explain(asked.exception.errors(include_url=False)[0], {}).remedy, "Add at least one.")

    def test_targets_as_text(self) -> None:
        self.assertEqual(target_from_text("brix=60..62.5"), TargetRequest(reading="brix", at_least=60, at_most=62.5))
        self.assertEqual(target_from_text(" yield_l >= 2"), TargetRequest(reading="yield_l", at_least=2))
        self.assertEqual(target_from_text("fat<=3"), TargetRequest(reading="fat", at_most=3))
        self.assertEqual(target_from_text("brix=64"), TargetRequest(reading="brix", equals=64))


class Kitchens(unittest.TestCase):
    """An answer's document carries a kitchen where the one asked about did; what is asked with a kitchen goes by it."""

    def test_the_answer_carries_a_kitchen_or_none(self) -> None:
        with_kitchen = example("weir-simple")
        without = {key: value for key, value in with_kitchen.items() if key != "kitchen"}
        ask = SolveRequest(targets=(TargetRequest(reading="brix", equals=55),))
        for document, there in ((with_kitchen, True), (without, False)):
            method = parse_document(document)
            sent = [solve_report(method, ask).document, scale_report(method, ScaleRequest(by="factor", value=2)).document]
            sent += [way.document for way in suggestions_report(method, "brix", 55).suggestions]
            with self.subTest(kitchen=there):
                self.assertEqual({each.kitchen is not None for each in sent}, {there})

    def test_cooks_go_by_the_kitchen_that_is_given(self) -> None:
        method = parse_document(example("ferrymans-spice"))
        tiny = Kitchen.model_validate({"pots": [{"id": "wide-8l", "name": "Cup", "tare_g": 0, "diameter_cm": 10, "capacity_ml": 1200}]})
        self.assertEqual(split_in_batches(method, factor=1.0).count, 1)
        self.assertGreater(split_in_batches(method, tiny, factor=1.0).count, 1)

    def test_as_many_cooks_as_allowed_and_no_more(self) -> None:
        method = parse_document(example("ferrymans-spice"))
        most = most_in_one(method)
        self.assertEqual(split_in_batches(method, factor=most * MOST_COOKS * 0.999).count, MOST_COOKS)
        with self.assertRaises(OutOfRange):
            split_in_batches(method, factor=most * MOST_COOKS * 1.01)


class Clocks(unittest.TestCase):
    def test_only_time_inside_counts_and_once(self) -> None:
        time = iter([10.0, 13.0, 20.0, 21.5])
        watch = Stopwatch(lambda: next(time))
        with watch, watch:
            pass
        self.assertEqual(watch.seconds, 3.0)
        with watch:
            pass
        self.assertEqual(watch.seconds, 4.5)
        idle = Stopwatch()
        with idle:
            pass
        self.assertEqual(idle.seconds, 0.0)


class Walking(unittest.TestCase):
    def test_a_resumed_walk_accounts_for_its_own_part_alone(self) -> None:
        method = parse_document(syrup(50, 1000, boil("brix", 60), {"id": "b2", "kind": "boil", "vessel": "pot", "until": {"brix": 65}}))
        whole = walk(method)
        rest = walk(method, start=whole.state_after("boil"), after="boil")
        np.testing.assert_allclose(rest.stands_g(), rest.came_in_g(), rtol=1e-9, atol=1e-9)
        off = float(whole.step("b2").figures["off_g"][0])
        self.assertAlmostEqual(float(sum(f.mass_g.sum() for f in rest.flows if f.target.startswith("away:"))), off, places=6)

    def test_a_read_that_several_ask_for_is_worked_out_once_for_each_walk(self) -> None:
        asked: list[int] = []

        @once
        def stages(walked: Walk) -> int:
            asked.append(len(walked.stages))
            return len(walked.stages)

        method = parse_document(syrup(50, 1000, boil("brix", 60)))
        first, second = walk(method), walk(method)
        self.assertEqual([stages(first), stages(first), stages(second), stages(first)], [len(first.stages)] * 4)
        self.assertEqual(len(asked), 2)
        self.assertIs(first.before("boil"), first.steps[first.stages.index(next(each for each in first.stages if each.id == "boil")) - 1].after)

    def test_one_pass_unless_something_refers_ahead(self) -> None:
        self.assertEqual(walk(parse_document(syrup(50, 1000, boil("brix", 60)))).passes, 1)
        document = syrup(50, 1000, boil("brix", 60))
        document["stages"][0]["lines"].append({"id": "x", "substance": "mace", "amount": "5 g per kg finished"})
        self.assertGreater(walk(parse_document(document)).passes, 1)

    def test_a_boil_that_need_not_boil_takes_no_time_boiling(self) -> None:
        found = go(syrup(50, 1000, boil("brix", 40)))
        self.assertEqual(found.faults[0].stage, "boil")
        self.assertEqual(found.step("boil").figures["boil_s"].tolist(), [[0.0, 0.0, 0.0]])

    def test_the_fridge_cools_slowest_and_water_fastest(self) -> None:
        def minutes(how: str) -> float:
            cool: dict[str, Any] = {"id": "cool", "kind": "cool", "vessel": "pot", "to_c": 40, "how": how}
            return float(go(syrup(50, 1000, {"id": "heat", "kind": "heat", "vessel": "pot", "to_c": 80}, cool)).step("cool").duration_s[0, 1]) / 60

        air, water, fridge = minutes("air"), minutes("cold_water"), minutes("fridge")
        self.assertLess(water, 0.2 * air)
        # A quarter less heat is taken away per kelvin, from air that is sixteen kelvin colder.
        lag = np.log((80 - 20) / (40 - 20)) / 12, np.log((80 - 4) / (40 - 4)) / 9
        self.assertAlmostEqual(fridge / air, lag[1] / lag[0], delta=0.02)


if __name__ == "__main__":
    unittest.main()
