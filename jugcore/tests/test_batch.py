"""A batch: its log read, the method as it is, the run sheet, doubt and rescue."""

from __future__ import annotations

import itertools
import json
import subprocess
import sys
import unittest
from datetime import timedelta
from pathlib import Path
from uuid import UUID

import numpy as np

from jugcore.batch import events as e
from jugcore.batch.as_it_is import as_it_is
from jugcore.batch.asks import BatchDocument, LoggedDoc, batch_report, rescue_report
from jugcore.batch.course import Seen, course
from jugcore.batch.doubt import doubts
from jugcore.batch.record import read
from jugcore.batch.rescue import rescue
from jugcore.batch.sheet import sheet
from jugcore.errors import BadDocument
from jugcore.formula.linearise import reading_of
from jugcore.method.document import MethodDocument, compile_document, parse_document
from jugcore.method.walk import walk
from jugcore.physics import sucrose
from jugcore.tests.batches import START, Book, pear_syrup, random_log
from jugcore.tests.random_methods import random_method


class Logs(unittest.TestCase):
    """What stands, what was taken back, and where tablets disagree."""

    def test_a_correction_replaces_and_more_adds(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=400)
        book.enter("weighed", line="pear", reads_g=1673, tare_g=1243)
        self.assertEqual(book.record.weighed["pear"].value, 430)
        book.enter("weighed", line="pear", reads_g=20, more=True)
        self.assertEqual(book.record.weighed["pear"].value, 450)
        book.enter("weighed", line="pear", reads_g=441)
        self.assertEqual(book.record.weighed["pear"].value, 441)
        self.assertEqual(book.record.questions, ())

    def test_taking_back_brings_the_entry_before_back_and_can_be_taken_back_itself(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=400)
        second = book.enter("weighed", line="pear", reads_g=450)
        undo = book.enter("undone", entry=second)
        self.assertEqual(book.record.weighed["pear"].value, 400)
        book.enter("undone", entry=undo)
        self.assertEqual(book.record.weighed["pear"].value, 450)

    def test_two_tablets_that_did_not_know_of_each_other_leave_a_question_and_both_entries(self) -> None:
        book = Book()
        first = book.enter("weighed", line="pear", reads_g=430, device="a", seen=0)
        second = book.enter("weighed", line="pear", reads_g=440, device="b", by="mina", seen=0)
        [question] = book.record.questions
        self.assertEqual((question.id, question.values, question.may_add), ("weighed:pear", (430, 440), True))
        words = book.sheet().questions[0].words
        self.assertIn("430 g by rafe and 440 g by mina", words)
        for keep, grams in (([first], 430), ([second], 440), ([first, second], 870)):
            with self.subTest(keep=keep):
                answered = Book()
                answered.log = list(book.log)
                answered.enter("settled", question="weighed:pear", keep=keep)
                self.assertEqual((answered.record.weighed["pear"].value, answered.record.questions), (grams, ()))
                answered.enter("weighed", line="pear", reads_g=10, more=True)
                self.assertEqual(answered.record.weighed["pear"].value, grams + 10)

    def test_one_tablet_that_knew_of_the_other_corrects_it(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=430, device="a", seen=0)
        book.enter("weighed", line="pear", reads_g=440, device="b", seen=1)
        self.assertEqual((book.record.weighed["pear"].value, book.record.questions), (440, ()))

    def test_two_tablets_that_say_the_same_leave_no_question(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=430, device="a", seen=0)
        book.enter("weighed", line="pear", reads_g=1673, tare_g=1243, device="b", seen=0)
        self.assertEqual((book.record.weighed["pear"].value, book.record.questions), (430, ()))

    def test_a_new_contradiction_after_an_answer_asks_again(self) -> None:
        book = Book()
        first = book.enter("weighed", line="pear", reads_g=430, device="a", seen=0)
        book.enter("weighed", line="pear", reads_g=440, device="b", seen=0)
        book.enter("settled", question="weighed:pear", keep=[first], device="a")
        book.enter("weighed", line="pear", reads_g=450, device="c", seen=0)
        self.assertEqual(book.record.questions[0].values, (430, 450))

    def test_two_ways_chosen_at_once_are_asked_about(self) -> None:
        book = Book()
        thinner = pear_syrup(name="thinner")
        book.enter("put_right", title="Add water", document=thinner.model_dump(), device="a", seen=0)
        book.enter("put_right", title="Start again", document=pear_syrup().model_dump(), device="b", seen=0)
        self.assertEqual(book.sheet().questions[0].id, "plan")

    def test_timers_run_from_when_they_were_set_until_turned_off(self) -> None:
        book = Book()
        book.enter("timer", timer="tea", title="Tea steeping", seconds=300, minute=2)
        book.enter("timer", timer="nuts", title="Nuts", seconds=60, minute=2)
        book.enter("timer_off", timer="nuts", minute=3)
        [timer] = book.sheet(3).timers
        self.assertEqual((timer.title, timer.due_at), ("Tea steeping", START + timedelta(minutes=7)))

    def test_a_weighing_below_its_tare_is_not_well_formed(self) -> None:
        with self.assertRaisesRegex(ValueError, "less than what stood on it"):
            Book().enter("weighed", line="pear", reads_g=100, tare_g=1243)


class AnyLog(unittest.TestCase):
    """Whatever is entered, in whatever order: the sheet can be read, and nothing appears or vanishes."""

    def test_a_random_log_never_fails_and_conserves_matter(self) -> None:
        for seed in range(90):
            with self.subTest(seed=seed):
                document = pear_syrup() if seed % 3 == 0 else parse_document(random_method(seed)).document
                log = random_log(document, seed)
                batch = as_it_is(document, read(log))
                found = batch_report(batch, log, START + timedelta(hours=1))
                self.assertEqual(len(found.sheet.log), len(log))
                gap = np.abs(batch.walk.came_in_g() - batch.walk.stands_g()).max()
                self.assertLess(gap, 1e-9 * max(1.0, float(batch.walk.came_in_g().max())) * 10)
                # What the batch is can be written down and read again: it is what a rescue starts from.
                again = MethodDocument.model_validate_json(batch.method.document.model_dump_json())
                np.testing.assert_allclose(walk(compile_document(again)).product.mass_g, batch.walk.product.mass_g, rtol=1e-9, atol=1e-9)

    def test_the_log_reads_the_same_however_it_is_handed_over(self) -> None:
        for seed in range(40):
            log = random_log(pear_syrup(), seed)
            straight = sheet(pear_syrup(), log, START)
            again = BatchDocument.model_validate_json(
                BatchDocument(document=pear_syrup(), log=tuple(LoggedDoc(seq=x.seq, event=x.event) for x in reversed(log))).model_dump_json()
            )
            self.assertEqual(sheet(again.document, again.logged(), START), straight)

    def test_a_log_with_a_gap_is_refused(self) -> None:
        log = random_log(pear_syrup(), 3)
        with self.assertRaisesRegex(ValueError, "whole log"):
            BatchDocument(document=pear_syrup(), log=tuple(LoggedDoc(seq=x.seq, event=x.event) for x in log if x.seq != 7))

    def test_undoing_everything_leaves_the_batch_as_planned(self) -> None:
        for seed in range(20):
            book = Book()
            book.log = random_log(pear_syrup(), seed, 25)
            standing = [entry.event.id for entry in book.record.standing]
            undone = {entry.event.what.entry for entry in book.log if isinstance(entry.event.what, e.Undone)}
            for id in standing:
                if id not in undone:
                    book.enter("undone", entry=id)
            for id in [entry.event.id for entry in book.record.standing]:
                book.enter("undone", entry=id)
            batch = book.as_it_is()
            self.assertEqual(batch.record.standing, ())
            self.assertEqual(float(batch.walk.product.total_g[0]), float(batch.planned.product.total_g[0]))


class AsItIs(unittest.TestCase):
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
            stop = float(as_it_is(book.document, book.record).walk.step("boil").figures["stop_g"][0])
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
            written, told = book.as_it_is().walk, walk(compile_document(book.document), given=given)
            np.testing.assert_allclose(written.product.mass_g, told.product.mass_g, rtol=1e-9)
            self.assertAlmostEqual(float(written.product.total_g[0]), 960, places=6)

    def test_the_pot_stops_the_boil_before_the_refractometer(self) -> None:
        book = Book()
        book.cook_to("boil")
        book.enter("refracted", stage="boil", reading_brix=60)
        book.enter("done", stage="boil")
        self.assertAlmostEqual(float(book.as_it_is().walk.step("boil").after.vessels["pot"].brix[0]), 60, places=6)
        book.enter("pot_weighed", stage="boil", reads_g=1243 + 1400, tare_g=1243)
        self.assertAlmostEqual(float(book.as_it_is().walk.step("boil").after.vessels["pot"].total_g[0]), 1400, places=6)

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
        self.assertGreater(float(reading_of(book.as_it_is().walk, "brix").value[0]), 67)

    def test_more_said_to_come_of_a_sieve_than_went_in_is_a_fault_and_not_a_lie(self) -> None:
        book = Book()
        book.enter("gave", stage="strain", reads_g=5000)
        walked = book.as_it_is().walk
        self.assertEqual([fault.code for fault in walked.faults], ["more_than_there_is"])
        self.assertLess(np.abs(walked.came_in_g() - walked.stands_g()).max(), 1e-8)

    def test_an_ingredient_reckoned_with_as_weaker(self) -> None:
        book = Book()
        book.enter("reckoned", line="pear", brix=9)
        juice = book.as_it_is().method.substances["pear_juice-in-pear"]
        fraction = juice.mass_fraction
        self.assertAlmostEqual(float(fraction.sum()), 1, places=12)
        alone = walk(parse_document({"stages": [{"id": "a", "kind": "add", "vessel": "cup", "lines": [{"id": "x", "substance": "weak", "amount": "100 g"}]}],
                                     "substances": {"weak": {"title": "weak", "composition_g_per_100g": juice.composition_g_per_100g()}}}))  # fmt: skip
        self.assertAlmostEqual(float(alone.product.brix[0]), 9, places=4)
        sharp = Book()
        sharp.enter("refracted", stage="juice", line="pear", reading_brix=9, corrects_itself=True)
        np.testing.assert_allclose(sharp.as_it_is().walk.product.mass_g, book.as_it_is().walk.product.mass_g)

    def test_the_wrong_sugar_went_in(self) -> None:
        book = Book()
        book.enter("weighed", line="sugar", reads_g=860)
        book.enter("swapped", line="sugar", substance="demerara_sugar")
        self.assertEqual(book.as_it_is().method.lines["sugar"].substance, "demerara_sugar")
        self.assertIn("demerara", book.sheet().steps[1].lines[0].title.lower())

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
        found = book.sheet()
        self.assertEqual((found.yield_g, found.yield_measured, found.waste_g), (780, True, 42.5))


class Sheets(unittest.TestCase):
    """What the tablet shows, and when."""

    def test_steps_in_order_and_what_is_now(self) -> None:
        book = Book()
        self.assertEqual([s.state for s in book.sheet().steps], ["now"] + ["to_do"] * 5)
        book.enter("done", stage="juice")
        self.assertEqual((book.sheet().now, book.sheet().steps[0].done_by), ("sweeten", "rafe"))
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

    def test_meanwhile_is_what_comes_next_and_only_where_hands_are_free(self) -> None:
        book = Book()
        words = " ".join(book.step("boil").meanwhile)
        self.assertIn("Drum sieve", words)
        self.assertIn("500 ml", words)
        self.assertEqual(book.step("juice").meanwhile, [])

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


class Doubts(unittest.TestCase):
    """Weight and refractometer, reconciled or not."""

    def boiled(self, reading: float, **drop: float) -> Book:
        book = Book()
        book.cook_to("boil")
        book.enter("pot_weighed", stage="boil", reads_g=2640, tare_g=1243, minute=30)
        book.enter("refracted", stage="boil", reading_brix=reading, minute=drop.get("minute", 30.5))
        return book

    def test_what_both_can_explain_is_no_doubt(self) -> None:
        by_weight = float(reading_of(self.boiled(60).as_it_is().walk, "refractometer").value[0])
        self.assertEqual(doubts(self.boiled(by_weight + 0.5).as_it_is()), [])

    def test_a_weak_juice_explains_a_low_reading(self) -> None:
        by_weight = float(reading_of(self.boiled(60).as_it_is().walk, "refractometer").value[0])
        book = self.boiled(by_weight - 2.0)
        [doubt] = doubts(book.as_it_is())
        self.assertIn("disagree", doubt.words)
        juice = next(x for x in doubt.explanations if x.line == "pear")
        assert juice.brix is not None
        self.assertLess(juice.brix, 12)
        book.enter("reckoned", line="pear", brix=juice.brix)
        self.assertEqual(doubts(book.as_it_is()), [])
        scale = next(x for x in doubt.explanations if x.kind == "weigh_again")
        assert scale.reads_g is not None
        self.assertGreater(scale.reads_g, 2640)

    def test_a_drop_taken_long_after_the_weighing_says_nothing_while_it_boils(self) -> None:
        by_weight = float(reading_of(self.boiled(60).as_it_is().walk, "refractometer").value[0])
        self.assertEqual(doubts(self.boiled(by_weight + 4, minute=38).as_it_is()), [])
        off = self.boiled(by_weight + 4, minute=38)
        off.enter("done", stage="boil", minute=29)
        self.assertEqual(len(doubts(off.as_it_is())), 1)


class Rescues(unittest.TestCase):
    """From what was observed, what can be done."""

    def overshot(self, past_g: float = 120) -> Book:
        book = Book()
        for line, grams in (("pear", 430), ("water", 430), ("sugar", 860), ("mace", 6.88), ("cardamom", 20.64)):
            book.enter("weighed", line=line, reads_g=grams)
        book.cook_to("boil")
        stop = book.step("boil").boil
        assert stop is not None
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g - past_g, tare_g=1243, minute=40)
        return book

    def test_boiled_too_far_water_brings_it_back(self) -> None:
        for past in (30, 120, 250):
            with self.subTest(past=past):
                book = self.overshot(past)
                found = rescue(book.as_it_is(), "brix")
                water = next(way for way in found.ways if "water" in way.title)
                self.assertEqual(water.title, f"Stir in {past} g of water after the boil")
                book.enter("put_right", title=water.title, document=water.document.model_dump(mode="json"))
                after = book.as_it_is()
                self.assertAlmostEqual(float(reading_of(after.walk, "brix").value[0]), 64, delta=0.06)
                self.assertEqual(float(after.walk.end.lines["pear"][0]), 430)  # what is in stays in

    def test_every_way_leaves_what_is_done_and_meets_the_plan(self) -> None:
        book = self.overshot()
        before = book.as_it_is()
        for about in ("brix", "yield_g", "spice_finished"):
            for way in rescue(before, about).ways:
                with self.subTest(about=about, way=way.title):
                    after = walk(compile_document(way.document))
                    for id in ("pear", "water", "sugar", "mace", "cardamom"):
                        self.assertAlmostEqual(float(after.end.lines[id][0]), float(before.walk.end.lines[id][0]), places=6)
                    self.assertAlmostEqual(
                        float(after.step("boil").figures["stop_g"][0]), float(before.walk.step("boil").figures["stop_g"][0]), places=6
                    )
                    aim = float(reading_of(before.planned, about).value[0])
                    self.assertLessEqual(abs(float(reading_of(after, about).value[0]) - aim), way.tolerance * 1.0001)

    def test_not_boiled_enough_boils_again(self) -> None:
        book = self.overshot(-60)
        book.enter("done", stage="boil", minute=41)
        found = rescue(book.as_it_is(), "brix")
        self.assertTrue(any(way.kind == "boil" and "60 g" in way.title for way in found.ways), [w.title for w in found.ways])

    def test_a_short_line_is_weighed_more_or_followed(self) -> None:
        grams = pear_syrup().model_dump(mode="json")
        for line, text in (("water", "430 g"), ("sugar", "860 g")):
            for stage in grams["stages"]:
                for each in stage.get("lines", ()):
                    if each["id"] == line:
                        each["amount"] = text
        book = Book(parse_document(grams).document)
        book.enter("weighed", line="pear", reads_g=344)
        kinds = {way.kind: way for way in rescue(book.as_it_is(), "line:pear").ways}
        self.assertEqual(kinds["weigh_more"].title, "Weigh 86 g more of pear juice")

    def test_a_spice_overshot_is_followed_by_topping_up_what_is_in(self) -> None:
        book = Book()
        for line, grams in (("pear", 430), ("water", 430), ("sugar", 860), ("mace", 6.88), ("cardamom", 24.0)):
            book.enter("weighed", line=line, reads_g=grams)
        found = rescue(book.as_it_is(), "line:cardamom")
        self.assertTrue(found.ways or found.why_not)
        for way in found.ways:
            self.assertGreater(float(way.walk.product.total_g[0]), float(book.as_it_is().walk.product.total_g[0]))

    def test_what_cannot_be_asked_is_said(self) -> None:
        book = self.overshot()
        for about in ("line:nothing", "no_such_reading"):
            with self.subTest(about=about), self.assertRaises(BadDocument):
                rescue(book.as_it_is(), about)
        book.enter("closed")
        with self.assertRaisesRegex(BadDocument, "at its end"):
            rescue_report(book.as_it_is(), "brix")

    def test_what_was_asked_is_not_forgotten_over_what_was_measured(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=410)
        book.enter("weighed", line="water", reads_g=431)
        book.cook_to("boil")
        planned = book.step("boil").boil
        assert planned is not None
        book.enter("pot_weighed", stage="boil", reads_g=planned.stop_reads_g - 100, tare_g=1243)
        way = rescue(book.as_it_is(), "brix").ways[0]
        book.enter("put_right", title=way.title, document=way.document.model_dump(mode="json"))
        lines = {line.id: line for step in book.sheet().steps for line in step.lines}
        self.assertEqual((lines["pear"].target_g, lines["water"].target_g), (430, 410))
        after = book.step("boil").boil
        assert after is not None
        self.assertAlmostEqual(after.stop_reads_g, planned.stop_reads_g, places=6)
        np.testing.assert_allclose(book.as_it_is().walk.product.mass_g, walk(compile_document(way.document)).product.mass_g, rtol=1e-9)

    def test_taking_the_choice_back_follows_the_plan_again(self) -> None:
        book = self.overshot()
        way = rescue(book.as_it_is(), "brix").ways[0]
        chosen = book.enter("put_right", title=way.title, document=way.document.model_dump(mode="json"))
        self.assertEqual(len(book.sheet().steps), 7)
        book.enter("undone", entry=chosen)
        self.assertEqual(len(book.sheet().steps), 6)


EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples" / "batches"


class Shell(unittest.TestCase):
    def run_core(self, *arguments: str, text: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run([sys.executable, "-m", "jugcore", *arguments], input=text, capture_output=True, text=True, check=False)

    def test_a_batch_from_the_shell(self) -> None:
        text = (EXAMPLES / "ferrymans-overshot.json").read_text(encoding="utf-8")
        found = json.loads(self.run_core("sheet", text=text).stdout)
        boil = next(step["boil"] for step in found["steps"] if step["boil"])
        past = round(-boil["to_go_g"])
        ways = json.loads(self.run_core("rescue", "--about", "brix", text=text).stdout)["ways"]
        self.assertEqual(ways[0]["title"], f"Stir in {past} g of water after the boil")

    def test_what_cannot_be_asked_is_a_sentence(self) -> None:
        text = (EXAMPLES / "ferrymans-overshot.json").read_text(encoding="utf-8")
        for arguments, given, word in (
            (("sheet", "--now", "yesterday"), text, "no time"), (("sheet",), '{"document": {"stages": []}}', "--now"),
            (("sheet", "--now", "2026-03-02T06:00:00"), '{"document": {"stages": []}}', "first"),
            (("rescue", "--about", "line:nothing"), text, "no line"), (("sheet",), "{}", "document"),
        ):  # fmt: skip
            with self.subTest(arguments=arguments):
                done = self.run_core(*arguments, text=given)
                self.assertEqual((done.returncode, done.stdout), (2, ""))
                self.assertIn(word, done.stderr)

    def test_every_kind_of_entry_has_words(self) -> None:
        seen = set()
        for seed in itertools.count():
            log = random_log(pear_syrup(), seed)
            for line in sheet(pear_syrup(), log, START).log:
                self.assertTrue(line.words)
                seen.add(line.kind)
            if len(seen) >= 18 or seed > 30:
                break
        self.assertGreaterEqual(len(seen), 18)
        self.assertIsInstance(log[0].event.id, UUID)
