"""A batch as it is, and its run sheet."""

from __future__ import annotations

import unittest
from datetime import datetime, timedelta

import numpy as np

from jugcore.batch.actual.actual_batch import actual_batch, planned_walk
from jugcore.batch.actual.partial_walk import as_if_ended
from jugcore.batch.log import events as e
from jugcore.batch.log.record import read_record
from jugcore.batch.sheet.boil_forecast import Seen, course
from jugcore.batch.sheet.run_sheet import _boiled_at
from jugcore.batch.sheet.summary import summary_of
from jugcore.batch.sheet.tolerance import Near
from jugcore.families.family import family_of
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.stages import Boil, Caramelise, Cool
from jugcore.method.walk import walk
from jugcore.physics import sucrose
from jugcore.solving.linearise import reading_of
from jugcore.tests.batches import START, Book, blended, pear_syrup


def _ready_at(book: Book) -> datetime | None:
    batch = book.actual_batch()
    asked = next(stage for stage in batch.planned.stages if isinstance(stage, Boil))
    return _boiled_at(batch.record, asked, batch.planned.step("boil"))


class ActualBatch(unittest.TestCase):
    """What was entered is in the walk, and the rest follows it."""

    def test_lines_tied_to_a_short_juice_follow_it(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=300)
        lines = {line.id: line for step in book.sheet().steps for line in step.lines}
        self.assertEqual((lines["water"].target_g, lines["sugar"].target_g), (300, 600))
        self.assertEqual(lines["pear"].target_g, 430)  # and what was asked of the juice itself stays
        self.assertIs(lines["pear"].within, False)
        self.assertAlmostEqual(lines["cardamom"].exact_g, 12 * 1.2, places=9)

    def test_a_line_that_was_weighed_off_is_measured_against_what_it_follows(self) -> None:
        book = Book()
        for line, grams in (("pear", 300), ("water", 320), ("sugar", 600)):
            book.enter("weighed", line=line, reads_g=grams)
        lines = {line.id: line for step in book.sheet().steps for line in step.lines}
        self.assertEqual((lines["water"].target_g, lines["sugar"].target_g), (300, 620))

    def test_entries_written_into_the_method_walk_as_the_same_given_to_the_plan(self) -> None:
        rng = np.random.default_rng(11)
        for _ in range(25):
            book = Book()
            grams = {"pear": 430.0, "water": 430.0, "sugar": 860.0, "mace": 6.9, "cardamom": 20.6}
            given = {f"lines.{id}.grams": round(g * float(rng.uniform(0.8, 1.2)), 2) for id, g in grams.items()}
            for path, value in given.items():
                book.enter("weighed", line=path.split(".")[1], reads_g=value)
            book.cook_to("boil")
            stop = float(actual_batch(planned_walk(book.document), book.record).walk.step("boil").figures["stop_g"][0])
            given["stages.boil.mass_g"] = round(stop * float(rng.uniform(0.97, 1.01)), 1)
            book.enter("pot_weighed", stage="boil", reads_g=given["stages.boil.mass_g"] + 1243, tare_g=1243)
            book.enter("done", stage="boil")
            given["stages.strain.gives_g"] = 1000.0
            book.enter("gave", stage="strain", reads_g=1000)
            given["stages.fill.gives_g"] = 960.0
            book.enter("bottled", stage="fill", count=2, each_g=430)
            book.enter("left_over", stage="fill", mass_g=100)
            book.enter("done", stage="strain")
            book.enter("done", stage="fill")
            written, told = book.actual_batch().walk, walk(compile_document(book.document), given=given)
            np.testing.assert_allclose(written.product.mass_g, told.product.mass_g, rtol=1e-9)
            self.assertAlmostEqual(float(written.product.total_g[0]), 960, places=6)

    def test_the_pot_stops_the_boil_before_the_refractometer(self) -> None:
        book = Book()
        book.cook_to("boil")
        book.enter("refracted", stage="boil", reading_brix=60)
        book.enter("done", stage="boil")
        self.assertAlmostEqual(float(book.actual_batch().walk.step("boil").after.vessels["pot"].brix[0]), 60, places=6)
        book.enter("pot_weighed", stage="boil", reads_g=1243 + 1400, tare_g=1243)
        self.assertAlmostEqual(float(book.actual_batch().walk.step("boil").after.vessels["pot"].total_g[0]), 1400, places=6)

    def test_a_boil_under_way_keeps_its_stop_until_it_is_past(self) -> None:
        book = Book()
        book.cook_to("boil")
        stop = book.step("boil").boil
        assert stop is not None
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g + 50, tare_g=1243)
        near = book.step("boil").boil
        assert near is not None
        self.assertAlmostEqual(near.to_go_g, 50, places=6)
        self.assertAlmostEqual(near.stop_reads_g, stop.stop_reads_g, places=9)
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g - 80, tare_g=1243)
        past = book.step("boil").boil
        assert past is not None
        self.assertAlmostEqual(past.to_go_g, -80, places=6)
        self.assertAlmostEqual(past.stop_reads_g, stop.stop_reads_g, places=9)
        self.assertGreater(float(reading_of(book.actual_batch().walk, "brix").value[0]), 67)

    def test_more_said_to_come_of_a_sieve_than_went_in_is_a_fault_and_not_a_lie(self) -> None:
        book = Book()
        book.enter("gave", stage="strain", reads_g=5000)
        walked = book.actual_batch().walk
        self.assertEqual([fault.code for fault in walked.faults], ["more_than_there_is"])
        self.assertLess(np.abs(walked.came_in_g() - walked.stands_g()).max(), 1e-8)

    def test_an_ingredient_reckoned_with_as_weaker(self) -> None:
        book = Book()
        book.enter("reckoned", line="pear", brix=9)
        juice = book.actual_batch().method.substances["pear_juice-in-pear"]
        fraction = juice.mass_fraction
        self.assertAlmostEqual(float(fraction.sum()), 1, places=12)
        alone = walk(parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "cup", "lines": [{"id": "x", "substance": "weak", "amount": "100 g"}]}],
                                     "substances": {"weak": {"title": "weak", "composition_g_per_100g": juice.composition_g_per_100g()}}}))  # fmt: skip
        self.assertAlmostEqual(float(alone.product.brix[0]), 9, places=4)
        sharp = Book()
        sharp.enter("refracted", stage="juice", line="pear", reading_brix=9, corrects_itself=True)
        np.testing.assert_allclose(sharp.actual_batch().walk.product.mass_g, book.actual_batch().walk.product.mass_g)

    def test_the_wrong_sugar_went_in(self) -> None:
        book = Book()
        book.enter("weighed", line="sugar", reads_g=860)
        book.enter("swapped", line="sugar", substance="demerara_sugar")
        self.assertEqual(book.actual_batch().method.lines["sugar"].substance, "demerara_sugar")
        self.assertIn("demerara", book.sheet().steps[1].lines[0].title.lower())

    def test_what_went_in_instead_stays_as_it_was_known_then(self) -> None:
        book = Book()
        book.enter("swapped", line="sugar", substance="demerara_sugar")
        known = e.with_facts(book.log[0].event)
        assert isinstance(known.what, e.Swapped) and known.what.facts is not None
        self.assertEqual(
            actual_batch(planned_walk(book.document), read_record([e.Logged(1, known)])).walk.product.mass_g.tolist(),
            book.actual_batch().walk.product.mass_g.tolist(),
        )
        drier = known.what.facts.model_copy(update={"composition_g_per_100g": {"water": 40, "sucrose": 60}, "free_sugars_g_per_100g": 60})
        frozen = known.model_copy(update={"what": known.what.model_copy(update={"facts": drier})})
        wetter = actual_batch(planned_walk(book.document), read_record([e.Logged(1, frozen)])).walk
        self.assertLess(float(wetter.product.total_g[0]), 0.75 * float(book.actual_batch().walk.product.total_g[0]))
        # Facts that came along with an entry are not what is kept of it: the book says what demerara sugar is.
        self.assertEqual(e.with_facts(frozen), known)

    def test_facts_that_do_not_hold_are_refused_with_a_sentence(self) -> None:
        facts = {"title": "Impossible", "composition_g_per_100g": {"water": 90, "sucrose": 90}}
        with self.assertRaisesRegex(ValueError, "100"):
            Book().enter("swapped", line="sugar", substance="impossible", facts=facts)

    def test_a_warm_drop_is_corrected_to_twenty_degrees(self) -> None:
        book = Book()
        book.cook_to("boil")
        book.enter("refracted", stage="boil", reading_brix=62, sample_c=30)
        drop = book.step("boil").boil
        assert drop is not None and drop.drop is not None
        self.assertAlmostEqual(drop.drop.brix, float(sucrose.corrected_reading(62, 30)), places=9)
        self.assertGreater(drop.drop.brix, 62.5)

    def test_what_was_filled_is_the_yield(self) -> None:
        book = Book()
        book.cook_to("fill")
        book.enter("bottled", stage="fill", count=1, each_g=660)
        book.enter("left_over", stage="fill", mass_g=90)
        book.enter("left_over", stage="fill", mass_g=30, fate="binned")
        book.enter("wasted", mass_g=12.5, reason="splashed")
        book.enter("done", stage="fill")
        found = book.sheet()
        self.assertEqual((found.yield_g, found.yield_measured, found.waste_g), (780, True, 42.5))

    def test_a_caramel_was_as_hot_as_it_was_probed_where_that_can_be(self) -> None:
        """Below 140 and above 215 °C it is a slip of the probe."""
        caramel = family_of("caramel")
        assert caramel is not None
        document = next(school.document for school in caramel.schools if any(stage.kind == "caramelise" for stage in school.document.stages))
        stage = next(stage for stage in document.stages if isinstance(stage, Caramelise))
        for probed, taken in ((139.9, False), (140.0, True), (215.0, True), (215.1, False)):
            with self.subTest(probed=probed):
                book = Book(document)
                book.cook_to(stage.id)
                book.enter("probed", stage=stage.id, temperature_c=probed)
                book.enter("done", stage=stage.id)
                found = next(each for each in book.actual_batch().method.stages if each.id == stage.id)
                assert isinstance(found, Caramelise)
                self.assertEqual(found.to_c, probed if taken else stage.to_c)


class OffPlan(unittest.TestCase):
    def test_a_reading_that_is_lost_is_off_plan(self) -> None:
        """Sugar for the juice, and the water with it: nothing is left that a °Brix could be of."""
        raw = {"stages": [{"id": "in", "kind": "add", "vessel": "pot", "lines": [
            {"id": "water", "substance": "water", "amount": "300 g"}, {"id": "sugar", "substance": "white_sugar", "amount": "500 g"}]}]}  # fmt: skip
        book = Book(parse_document(raw).document)
        book.enter("weighed", line="sugar", reads_g=500)
        self.assertEqual([each.id for each in book.sheet().deviations], [])
        book.enter("swapped", line="water", substance="white_sugar")
        off = {each.id: each for each in book.sheet().deviations}
        self.assertIsNone(off["brix"].actual)
        self.assertTrue(off["brix"].beyond)
        self.assertAlmostEqual(off["brix"].planned or 0, 62.47, delta=0.05)


class AsMeasured(unittest.TestCase):
    def test_nothing_in_air_gets_as_cold_as_the_room(self) -> None:
        raw = pear_syrup().model_dump(mode="json", exclude_none=True)
        raw["stages"].insert(-1, {"id": "cool", "kind": "cool", "vessel": "jug", "to_c": 40, "how": "air"})
        for above, how in ((0.6, "air"), (0.4, "fridge"), (-3.0, "fridge")):
            book = Book(parse_document(raw).document)
            room_c = book.actual_batch().planned.kitchen.room_c
            book.cook_to("cool")
            book.enter("probed", stage="cool", temperature_c=room_c + above)
            book.enter("done", stage="cool")
            cooled = next(stage for stage in book.actual_batch().walk.stages if isinstance(stage, Cool))
            with self.subTest(above=above):
                self.assertEqual((cooled.how, cooled.to_c), (how, room_c + above))


class AsIfEnded(unittest.TestCase):
    def test_what_stands_behind_a_stage_is_not_in_it(self) -> None:
        walked = walk(compile_document(pear_syrup()))
        for place, stage in enumerate(walked.stages):
            with self.subTest(stage=stage.id):
                ended = as_if_ended(walked, stage.id)
                self.assertEqual(ended.steps, walked.steps[: place + 1])
                self.assertEqual(ended.stages, walked.stages[: place + 1])
                np.testing.assert_array_equal(ended.product.mass_g, walked.steps[place].after.vessels[stage.writes()].mass_g)


class Sheets(unittest.TestCase):
    """What the tablet shows, and when."""

    def test_steps_in_order_and_what_is_now(self) -> None:
        book = Book()
        self.assertEqual([s.state for s in book.sheet().steps], ["now"] + ["to_do"] * 5)
        book.enter("done", stage="juice")
        self.assertEqual((book.sheet().now, book.sheet().steps[0].done_by), ("sweeten", "rafe"))
        found = summary_of(book.actual_batch(), book.sheet())
        self.assertEqual((found.step, found.steps_done, found.steps), ("Sugar", 1, 6))
        book.enter("closed", outcome="stopped", reason="dropped")
        self.assertEqual((book.sheet().now, book.sheet().status), (None, "stopped"))

    def test_the_boil_says_the_weight_pot_included(self) -> None:
        step = Book().step("boil")
        assert step.boil is not None
        walked = walk(compile_document(pear_syrup()))
        self.assertAlmostEqual(step.boil.stop_reads_g, 1243 + float(walked.step("boil").after.vessels["pot"].total_g[0]), places=6)
        self.assertEqual(step.title, f"Boil until the pot weighs {step.boil.stop_reads_g:,.0f} g")
        for reads, brix in ((step.boil.near_low_g, 64.5), (step.boil.near_high_g, 63.5)):
            there = walk(compile_document(pear_syrup()), given={"stages.boil.mass_g": reads - 1243})
            self.assertAlmostEqual(float(there.step("boil").after.vessels["pot"].brix[0]), brix, delta=0.02)

    def test_the_scale_shows_so_much_with_the_pot_left_on_it(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=425)
        lines = [line for step in book.sheet().steps for line in step.lines]
        self.assertEqual([line.pot_reads_g for line in lines[:3]], [1243 + 425, 1243 + 850, 1243 + 850 + 850])

    def test_near_enough_moves_the_product_by_no_more_than_a_third_of_a_brix(self) -> None:
        for line in [line for step in Book().sheet().steps for line in step.lines]:
            with self.subTest(line=line.id):
                self.assertLess(line.low_g, line.target_g)
                self.assertGreater(line.high_g, line.target_g)
                unboiled = pear_syrup(stages=[s for s in pear_syrup().model_dump(mode="json")["stages"] if s["id"] not in ("boil", "strain", "fill")])
                around = walk(compile_document(unboiled), given={f"lines.{line.id}.grams": [line.low_g, line.exact_g, line.high_g]})
                self.assertLess(float(np.ptp(around.product.brix)), 2 * 1.0)

    def test_a_pinch_is_as_near_as_a_pinch_and_a_cup_of_sugar_no_nearer_than_the_syrup_bears(self) -> None:
        kitchen = blended().model_dump(mode="json", exclude_none=True)["kitchen"]
        written = {"water": "500 g", "white_sugar": "2 cups", "salt": "a pinch"}
        lines = [{"id": id, "substance": id, "amount": amount} for id, amount in written.items()]
        stage = {"id": "a", "kind": "add", "vessel": "pot", "lines": lines}
        document = parse_document({"kitchen": kitchen, "stages": [stage]}).document
        book = Book(document)
        asked = {line.id: line for line in book.step("a").lines}
        share = {id: (line.high_g - line.target_g) / line.target_g for id, line in asked.items()}
        self.assertGreater(share["salt"], 0.4)
        self.assertLess(share["white_sugar"], 0.02)
        self.assertLess(share["water"], 0.021)
        book.enter("weighed", line="salt", reads_g=0.5)
        salt = next(line for line in book.step("a").lines if line.id == "salt")
        self.assertEqual((salt.within, salt.high_g), (True, asked["salt"].high_g))

    def test_three_times_as_much_is_asked_about_and_what_is_near_enough_is_not(self) -> None:
        lines = [line for step in Book().sheet().steps for line in step.lines]
        self.assertEqual([line.slip_g for line in lines], [3 * line.target_g for line in lines])
        self.assertGreater(Near(0.1, 2.0).slip_g(0.5), 2.0)  # a pinch may be much more than was thought

    def test_what_the_scale_cannot_weigh_says_so_and_offers_a_larger_blend(self) -> None:
        raw = blended().model_dump(mode="json", exclude_none=True)
        raw["kitchen"]["scales"] = raw["kitchen"]["scales"][:1]
        book = Book(parse_document(raw).document)
        step = book.step("season")
        mace = next(line for line in step.lines if line.id == "mace")
        self.assertAlmostEqual(mace.error or 0, 0.5 / 6.88, places=6)
        assert step.premix is not None
        self.assertEqual((step.premix.title, step.premix.times), ("Star anise, ground", 2))
        self.assertIsNone(Book(blended()).step("season").premix)
        book.enter("weighed", line="anise", reads_g=5)
        self.assertIsNone(book.step("season").premix)

    def test_what_stands_in_the_pots_now(self) -> None:
        book = Book()
        self.assertEqual(book.sheet().there_g, 0)
        book.enter("weighed", line="pear", reads_g=430)
        self.assertEqual(book.sheet().there_g, 430)
        book.enter("weighed", line="water", reads_g=430)
        book.cook_to("boil")
        self.assertAlmostEqual(book.sheet().there_g, 430 + 430 + 860 + 16 * 1.72, places=6)
        book.enter("pot_weighed", stage="boil", reads_g=2900, tare_g=1243)
        book.enter("wasted", mass_g=57, reason="boiled over")
        self.assertAlmostEqual(book.sheet().there_g, 2900 - 1243 - 57, places=6)

    def test_a_weighing_that_cannot_be_of_this_pot_is_said_and_not_reckoned_with(self) -> None:
        for reads, word in ((9000, "more than everything that went in"), (1500, "does not boil off"), (2900, None)):
            with self.subTest(reads=reads):
                book = Book()
                book.cook_to("boil")
                book.enter("pot_weighed", stage="boil", reads_g=2640, tare_g=1243, minute=20)
                book.enter("pot_weighed", stage="boil", reads_g=reads, tare_g=1243, minute=25)
                boil = book.step("boil", 26).boil
                assert boil is not None
                self.assertEqual(boil.impossible is not None, word is not None)
                self.assertIn(word or "", boil.impossible or "")
                book.enter("done", stage="boil", minute=26)
                ended = float(book.actual_batch().walk.step("boil").figures["stop_g"][0])
                self.assertAlmostEqual(ended, (2640 if word else reads) - 1243)
                self.assertEqual(book.step("boil", 26).faults, [])

    def test_more_filled_than_there_was_is_said_and_is_no_yield(self) -> None:
        book = Book()
        book.cook_to("fill")
        there = book.sheet().yield_g
        book.enter("bottled", stage="fill", count=2, each_g=600)
        self.assertEqual((book.sheet().yield_g, book.sheet().yield_measured), (there, False))  # not done yet
        book.enter("done", stage="fill")
        self.assertEqual((book.sheet().yield_g, book.sheet().yield_measured), (1200, True))
        self.assertAlmostEqual(float(book.actual_batch().walk.product.total_g[0]), 1200)
        book.enter("bottled", stage="fill", each_g=99_999)
        sheet = book.sheet()
        self.assertEqual((sheet.yield_g, sheet.yield_measured), (there, False))
        self.assertAlmostEqual(sheet.yield_g, float(book.actual_batch().walk.product.total_g[0]))
        fill = book.step("fill").fill
        assert fill is not None
        self.assertIn("more than there was", fill.impossible or "")

    def test_the_probe_warns_where_the_weight_is_old(self) -> None:
        book = Book()
        book.cook_to("boil")

        def warns(minute: float) -> bool:
            boil = book.step("boil", minute).boil
            assert boil is not None
            return boil.probe_warns

        stop = book.step("boil").boil
        assert stop is not None
        book.enter("probed", stage="boil", temperature_c=round(stop.probe_c - 2, 1), minute=5)
        self.assertFalse(warns(5))
        book.enter("probed", stage="boil", temperature_c=round(stop.probe_c, 1), minute=8)
        self.assertTrue(warns(8))
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g + 150, tare_g=1243, minute=9)
        self.assertFalse(warns(9))  # the weight decides
        book.enter("probed", stage="boil", temperature_c=round(stop.probe_c + 1, 1), minute=20)
        self.assertTrue(warns(20))
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g - 10, tare_g=1243, minute=21)
        self.assertFalse(warns(21))

    def test_meanwhile_is_what_comes_next_and_only_where_hands_are_free(self) -> None:
        book = Book()
        words = " ".join(book.step("boil").parallel_tasks)
        self.assertIn("Drum sieve", words)
        self.assertIn("500 ml", words)
        self.assertEqual(book.step("juice").parallel_tasks, [])

    def test_hot_filling_and_boiling_carry_their_cautions(self) -> None:
        book = Book()
        self.assertIn("burns", " ".join(book.step("boil").cautions))
        self.assertIn("glass", " ".join(book.step("fill").cautions))

    def test_ready_narrows_as_the_pot_is_weighed(self) -> None:
        book = Book()
        book.cook_to("boil", minute=10)
        book.enter("began", stage="boil", minute=10)
        first = book.step("boil", 10).boil
        assert first is not None and first.ready_low is not None and first.ready_high is not None
        self.assertLess(START + timedelta(minutes=12), first.ready_low)
        book.enter("pot_weighed", stage="boil", reads_g=first.starts_reads_g - 80, tare_g=1243, minute=20)
        book.enter("pot_weighed", stage="boil", reads_g=first.starts_reads_g - 140, tare_g=1243, minute=24)
        then = book.step("boil", 24).boil
        assert then is not None and then.ready_low is not None and then.ready_high is not None
        self.assertAlmostEqual(then.observed_g_min or 0, 15, places=6)
        self.assertLess(then.ready_high - then.ready_low, first.ready_high - first.ready_low)
        left = then.to_go_g / 15
        self.assertLessEqual(then.ready_low, START + timedelta(minutes=24 + left))
        self.assertGreaterEqual(then.ready_high, START + timedelta(minutes=24 + left))

    def test_two_weighings_a_minute_apart_tell_how_fast_it_boils_down(self) -> None:
        step = walk(compile_document(pear_syrup())).step("boil")
        assert step.trace is not None
        start = float(step.trace.mass_g[0, 0])
        for seconds, grams, tells in ((59, 20, False), (61, 20, True), (61, 7.9, False), (61, 8.1, True)):
            with self.subTest(seconds=seconds, grams=grams):
                first = START + timedelta(minutes=12)
                found = course(step, START, [Seen(first, start - 20), Seen(first + timedelta(seconds=seconds), start - 20 - grams)])
                assert found is not None
                self.assertEqual(found.observed_g_s is not None, tells)

    def test_boiled_for_minutes_is_ready_so_long_after_it_comes_to_the_boil(self) -> None:
        raw = pear_syrup().model_dump(mode="json", exclude_none=True)
        boil = next(stage for stage in raw["stages"] if stage["id"] == "boil")
        boil["until"] = {"minutes": 12}
        book = Book(parse_document(raw).document)
        book.cook_to("boil", minute=4)
        self.assertIsNone(_ready_at(book))
        book.enter("began", stage="boil", minute=5)
        up_s = float(book.actual_batch().planned.step("boil").figures["heat_up_s"][0, 1])
        self.assertGreater(up_s, 60)
        self.assertEqual(_ready_at(book), START + timedelta(minutes=5 + 12, seconds=up_s))
        book.enter("probed", stage="boil", temperature_c=104, minute=8)  # sooner than was thought
        self.assertEqual(_ready_at(book), START + timedelta(minutes=8 + 12))

    def test_lift_weigh_comes_before_the_stop_and_never_after(self) -> None:
        book = Book()
        book.cook_to("boil", minute=10)
        book.enter("began", stage="boil", minute=10)
        boil = book.step("boil", 10).boil
        assert boil is not None and boil.lift_weigh_at is not None and boil.ready_low is not None
        self.assertLess(boil.lift_weigh_at, boil.ready_low)
        book.enter("pot_weighed", stage="boil", reads_g=boil.stop_reads_g, tare_g=1243, minute=25)
        over = book.step("boil", 25).boil
        assert over is not None
        self.assertIsNone(over.lift_weigh_at)

    def test_the_course_falls_from_what_was_weighed_to_the_stop(self) -> None:
        step = walk(compile_document(pear_syrup())).step("boil")
        assert step.trace is not None
        start, stop = float(step.trace.mass_g[0, 0]), float(step.trace.mass_g[0, -1])
        for gone in (0.0, 30.0, 100.0, start - stop - 1, start - stop + 40):
            with self.subTest(gone=gone):
                found = course(step, START, [Seen(START + timedelta(minutes=12), start - gone)])
                assert found is not None
                lows = [low for _, low, _ in found.points]
                self.assertEqual(lows, sorted(lows, reverse=True))
                self.assertTrue(all(low <= high + 1e-9 for _, low, high in found.points))
                self.assertAlmostEqual(found.points[-1][1], stop, delta=1e-6 + max(0, stop - (start - gone)))
                self.assertLessEqual(found.ready_low, found.ready_high)
