"""The log of a batch, read: what stands, what was taken back, where tablets disagree."""

from __future__ import annotations

import random
import unittest
from datetime import timedelta
from typing import Any
from uuid import UUID

import numpy as np

from jugcore.batch.actual.actual_batch import actual_batch, planned_walk
from jugcore.batch.log import events as e
from jugcore.batch.log.concurrent_entries import Question
from jugcore.batch.log.record import read_record
from jugcore.batch.requests import BatchDocument, LoggedDoc, batch_report
from jugcore.batch.sheet.last_time import minutes_by_stage
from jugcore.batch.sheet.run_sheet import sheet
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.walk import walk
from jugcore.tests.batches import START, Book, pear_syrup, random_log
from jugcore.tests.depth import often
from jugcore.tests.random_methods import random_method


def _values(question: Question) -> list[float]:
    return [choice.value for choice in question.choices]


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

    def test_minutes_of_a_stage_run_from_begun_to_done_and_only_where_both_stand(self) -> None:
        book = Book()
        book.enter("began", stage="boil", minute=3)
        undone = book.enter("done", stage="boil", minute=9)
        book.enter("undone", entry=undone, minute=10)
        self.assertEqual(minutes_by_stage(book.log), {})
        book.enter("done", stage="boil", minute=25)
        book.enter("done", stage="strain", minute=40)  # begun by nobody
        book.enter("began", stage="fill", minute=50)
        book.enter("done", stage="fill", minute=45)  # by a clock that is slow
        self.assertEqual(minutes_by_stage(book.log), {"boil": 22.0})

    def test_two_tablets_that_did_not_know_of_each_other_leave_a_question_and_both_entries(self) -> None:
        book = Book()
        first = book.enter("weighed", line="pear", reads_g=430, device="a", seen=0)
        second = book.enter("weighed", line="pear", reads_g=440, device="b", by="mina", seen=0)
        [question] = book.record.questions
        self.assertEqual((question.id, _values(question), question.may_add), ("weighed:pear", [430, 440], True))
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
        self.assertEqual(_values(book.record.questions[0]), [430, 450])

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


class InWords(unittest.TestCase):
    """What an entry says in the log, with its reason where one was given and without a gap where none was."""

    def test_a_reason_is_said_where_one_was_given(self) -> None:
        names, document = e.Names(str.title, str.title), Book().document
        put_right = e.PutRight(title="Stir in 66 g of water", document=document)
        left = e.Accepted(about="brix", actual=64.6, title="°Brix")
        for entry, words in (
            (put_right, "put right: Stir in 66 g of water"),
            (put_right.model_copy(update={"why": "boiled past the stop"}), "put right: Stir in 66 g of water (boiled past the stop)"),
            (left, "°Brix left as it is"),
            (left.model_copy(update={"why": "sweet enough"}), "°Brix left as it is (sweet enough)"),
            (left.model_copy(update={"title": ""}), "what is off plan left as it is"),
            (left.model_copy(update={"about": "cooling", "why": "no probe at hand"}), "not shown cold in time: no probe at hand"),
        ):
            with self.subTest(words):
                self.assertEqual(entry.words(names), words)


class Together(unittest.TestCase):
    """Entries that add, made on two tablets at once: the same thing twice, or both."""

    def test_more_of_a_line_from_two_tablets_counts_both_until_somebody_says(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=300, device="a", seen=0)
        first = book.enter("weighed", line="pear", reads_g=50, more=True, device="a", seen=1)
        second = book.enter("weighed", line="pear", reads_g=50, more=True, device="b", by="mina", seen=1)
        [question] = book.record.questions
        self.assertEqual((book.record.weighed["pear"].value, _values(question), question.may_add), (400, [50, 50], True))
        self.assertIn("another 50 g by rafe and another 50 g by mina", book.sheet().questions[0].words)
        for keep, grams in (([first], 350), ([second], 350), ([first, second], 400)):
            with self.subTest(keep=keep):
                self.assertEqual(self.answered(book, "weighed:pear", keep).record.weighed["pear"].value, grams)

    def test_more_that_knew_only_the_base_stands_beside_a_correction(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=300, device="a", seen=0)
        corrected = book.enter("weighed", line="pear", reads_g=310, device="a", seen=1)
        more = book.enter("weighed", line="pear", reads_g=40, more=True, device="b", seen=1)
        [question] = book.record.questions
        self.assertEqual({choice.entry.event.id for choice in question.choices}, {corrected, more})

    def test_bottles_from_two_tablets(self) -> None:
        book = Book()
        first = book.enter("bottled", stage="fill", count=2, each_g=500, device="a", seen=0)
        book.enter("bottled", stage="fill", count=1, each_g=500, device="a", seen=1)
        other = book.enter("bottled", stage="fill", count=3, each_g=500, device="b", by="mina", seen=0)
        later = book.enter("bottled", stage="fill", count=1, each_g=480, device="a")
        [question] = book.record.questions
        self.assertEqual((question.id, _values(question), book.record.bottled_g("fill")), ("bottled:fill", [1500, 1500], 3480))
        fill = book.step("fill").fill
        assert fill is not None
        self.assertEqual((fill.filled, fill.filled_g), (7, 3480))
        self.assertEqual(self.answered(book, "bottled:fill", [first]).record.bottled_g("fill"), 1980)
        self.assertEqual(self.answered(book, "bottled:fill", [other]).record.bottled_g("fill"), 1980)  # what all knew of stays
        both = self.answered(book, "bottled:fill", [first, other])
        self.assertEqual((both.record.bottled_g("fill"), both.record.questions), (3480, ()))
        self.assertNotEqual(later, first)

    def test_left_over_and_thrown_away(self) -> None:
        book = Book()
        book.enter("left_over", stage="fill", mass_g=120, fate="binned", device="a", seen=0)
        same = book.enter("left_over", stage="fill", mass_g=120, fate="binned", device="b", seen=0)
        book.enter("wasted", mass_g=30, reason="spilt", device="a", seen=2)
        self.assertEqual(book.record.waste_g, 270)
        self.assertEqual(self.answered(book, "left_over:fill", [same]).record.waste_g, 150)

    def test_a_swap_and_an_end_that_disagree_are_asked_about(self) -> None:
        book = Book()
        book.enter("swapped", line="sugar", substance="demerara_sugar", device="a", seen=0)
        book.enter("swapped", line="sugar", substance="honey", device="b", seen=0)
        book.enter("closed", outcome="finished", device="a", seen=0)
        book.enter("closed", outcome="stopped", reason="burnt", device="b", seen=0)
        self.assertEqual([question.id for question in book.record.questions], ["swapped:sugar", "closed"])
        self.assertIn("finished by rafe and stopped, burnt", book.sheet().questions[1].words)

    def test_one_pot_read_twice_at_once(self) -> None:
        for kind, figures, apart, asks in (
            ("pot_weighed", (2800, 2795), 0, False), ("pot_weighed", (2800, 2740), 10 / 60, True), ("pot_weighed", (2800, 2740), 40 / 60, False),
            ("pot_weighed", (2800, 2400), 3, False), ("probed", (98, 99), 0, False), ("probed", (98, 62), 0, True), ("refracted", (60, 64), 0.1, True),
        ):  # fmt: skip
            with self.subTest(kind=kind, figures=figures, apart=apart):
                book, key = Book(), {"pot_weighed": "reads_g", "probed": "temperature_c", "refracted": "reading_brix"}[kind]
                said: list[dict[str, Any]] = [{key: figure} for figure in figures]
                kept = book.enter(kind, stage="boil", device="a", seen=0, minute=10, **said[0])
                book.enter(kind, stage="boil", device="b", seen=0, minute=10 + apart, **said[1])
                self.assertEqual([q.id for q in book.record.questions], [f"{kind}:boil"] if asks else [])
                if asks:
                    answered = self.answered(book, f"{kind}:boil", [kept])
                    self.assertEqual(answered.record.questions, ())
                    left = [entry for entry in answered.record.standing if entry.event.what.kind == kind]
                    self.assertEqual([entry.event.id for entry in left], [kept])

    def test_a_reading_that_arrives_late_does_not_replace_a_later_one(self) -> None:
        book = Book()
        book.cook_to("boil")
        book.enter("pot_weighed", stage="boil", reads_g=2700, tare_g=1243, minute=30, device="a")
        book.enter("pot_weighed", stage="boil", reads_g=2950, tare_g=1243, minute=20, device="b", seen=0)  # was without a network
        boil = book.step("boil", 31).boil
        assert boil is not None
        self.assertEqual([each.reads_g for each in boil.weighings], [2950, 2700])
        book.enter("done", stage="boil", minute=31)
        self.assertAlmostEqual(float(book.actual_batch().walk.step("boil").figures["stop_g"][0]), 2700 - 1243)

    def answered(self, book: Book, question: str, keep: list[UUID]) -> Book:
        answered = Book()
        answered.log = list(book.log)
        answered.enter("settled", question=question, keep=keep)
        return answered


class AnyLog(unittest.TestCase):
    """Whatever is entered, in whatever order: the sheet can be read, and nothing appears or vanishes."""

    def test_a_random_log_never_fails_and_conserves_matter(self) -> None:
        for seed in range(often(90, daily=36)):
            with self.subTest(seed=seed):
                document = pear_syrup() if seed % 3 == 0 else parse_document(random_method(seed)).document
                log = random_log(document, seed)
                batch = actual_batch(planned_walk(document), read_record(log))
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
            batch = book.actual_batch()
            self.assertEqual(batch.record.standing, ())
            self.assertEqual(float(batch.walk.product.total_g[0]), float(batch.planned.product.total_g[0]))

    def test_every_question_can_be_answered_and_stays_so_and_nothing_that_adds_is_lost(self) -> None:
        asked = 0
        for seed in range(80):
            book, rng = Book(seed=1000 + seed), random.Random(seed)
            for n in range(20):
                kinds: list[tuple[str, dict[str, Any]]] = [
                    ("weighed", {"line": "pear", "reads_g": rng.randint(1, 500), "more": rng.random() < 0.4}),
                    ("bottled", {"stage": rng.choice(["fill", "jug"]), "each_g": rng.randint(1, 500), "count": rng.randint(1, 3)}),
                    ("left_over", {"stage": "fill", "mass_g": rng.randint(1, 90)}), ("wasted", {"mass_g": rng.randint(1, 90), "reason": "spilt"}),
                    ("gave", {"stage": "strain", "reads_g": rng.randint(1, 900)}), ("swapped", {"line": "sugar", "substance": rng.choice(["honey", "water"])}),
                ]  # fmt: skip
                kind, what = rng.choice(kinds)
                book.enter(kind, minute=n, device=rng.choice("abc"), seen=rng.randint(max(0, n - 5), n), **what)
            poured: dict[str, float] = {}
            for entry in book.log:
                if isinstance(said := entry.event.what, e.Bottled):
                    poured[said.stage] = poured.get(said.stage, 0.0) + said.count * said.each_g
            self.assertEqual(
                {stage: round(held.value, 6) for stage, held in book.record.bottled.items()}, {s: round(g, 6) for s, g in poured.items()}
            )
            left, both = {question.id for question in book.record.questions}, seed % 2 == 0
            for question in book.record.questions:
                asked += 1
                keep = [choice.entry.event.id for choice in question.choices] if both and question.may_add else [question.choices[-1].entry.event.id]
                book.enter("settled", question=question.id, keep=keep, device="lead")
                left.discard(question.id)
                self.assertEqual({each.id for each in book.record.questions}, left, question)
            if both:
                self.assertEqual(
                    {stage: round(held.value, 6) for stage, held in book.record.bottled.items()}, {s: round(g, 6) for s, g in poured.items()}
                )
        self.assertGreater(asked, 100)

    def test_one_tablet_alone_is_never_asked_anything(self) -> None:
        for seed in range(60):
            log = random_log(pear_syrup(), seed)
            alone = [e.Logged(x.seq, x.event.model_copy(update={"device": "a"})) for x in log]
            self.assertEqual(read_record(alone).questions, ())
