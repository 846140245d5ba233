"""One entry that says what nothing can be worked out with takes nothing else down, and one that forges changes nothing of the formula."""

from __future__ import annotations

import random
from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase
from uuid import UUID

from jugcore.batch.actual.actual_batch import planned_walk
from jugcore.batch.actual.label_entries import allergens_on_label, promised, shared_on_label, stricter
from jugcore.batch.actual.readable_log import readable
from jugcore.batch.log import events as e
from jugcore.batch.log.arrival import Arrival, read_at
from jugcore.batch.requests import batch_report
from jugcore.batch.sheet.run_sheet import sheet, sheet_of
from jugcore.method.compile import parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.stages import Add
from jugcore.reading.keeping.assessment import keeping_of
from jugcore.reading.keeping.use_by import UseBy, last_day
from jugcore.tests.batches import START, Book, pear_syrup, random_log
from jugcore.tests.depth import often

NEVER = datetime(9999, 12, 31, 23, 59, tzinfo=UTC)


def at(book: Book, when: datetime) -> None:
    """The newest entry of a book at another time."""
    last = book.log[-1]
    book.log[-1] = e.Logged(last.seq, last.event.model_copy(update={"at": when}), last.arrival)


class NothingWeighed(TestCase):
    def test_what_was_weighed_as_nothing_is_walked_as_next_to_nothing(self) -> None:
        for reads, tare in ((0, 0), (40, 40), (1e-6, 0), (1e-12, 0), (0.00004, 0)):
            with self.subTest(reads=reads):
                book = Book()
                book.enter("weighed", line="cardamom", reads_g=reads, tare_g=tare)
                found = book.sheet()
                self.assertEqual(found.aside, [])
                self.assertLess(float(book.actual_batch().walk.end.lines["cardamom"][0]), 1e-4)

    def test_all_of_it_may_be_nothing(self) -> None:
        book = Book()
        for line in ("pear", "water", "sugar", "mace", "cardamom"):
            book.enter("weighed", line=line, reads_g=0)
        self.assertEqual(book.sheet().aside, [])
        self.assertLess(book.sheet().yield_g, 0.01)

    def test_what_is_on_the_sheet_can_be_written_as_an_amount_whatever_its_size(self) -> None:
        for grams in (1e-9, 3.3e-6, 0.00012345, 0.1, 12.5, 999_999.9):
            with self.subTest(grams=grams):
                book = Book()
                book.enter("weighed", line="mace", reads_g=grams)
                # An entry is kept to the microgram.
                self.assertAlmostEqual(float(book.actual_batch().walk.end.lines["mace"][0]), max(grams, 1e-6), delta=5.1e-7)


class Aside(TestCase):
    def bad(self, book: Book, kind: str) -> UUID:
        """An entry with which the batch cannot be read."""
        if kind == "time":
            id = book.enter("timer", timer="t", title="x", seconds=600)
            at(book, NEVER)
            return id
        raw = pear_syrup().model_dump(mode="json")
        if kind == "no stages":
            return book.enter("put_right", title="x", document={**raw, "stages": []})
        raw["stages"][0]["lines"][0] = {"id": "other", "substance": "pear_juice", "amount": "a dream of it"}
        return book.enter("put_right", title="x", document=raw)

    def test_the_batch_is_read_without_it_and_says_which_and_why(self) -> None:
        for kind in ("time", "no stages", "amount"):
            with self.subTest(kind):
                book, clean = Book(), Book()
                for each in (book, clean):
                    each.enter("weighed", line="pear", reads_g=400)
                    each.enter("done", stage="juice")
                id = self.bad(book, kind)
                clean.enter("noted", text="in its place")
                for each in (book, clean):
                    each.enter("weighed", line="sugar", reads_g=777)
                found, as_if = book.sheet(), clean.sheet()
                self.assertEqual([(each.entry, each.seq) for each in found.aside], [(id, 3)])
                self.assertEqual([line.seq for line in found.log if line.aside], [3])
                self.assertEqual((found.now, found.yield_g, found.seq), (as_if.now, as_if.yield_g, 4))
                book.enter("undone", entry=id)
                self.assertEqual((book.sheet().aside, book.sheet().yield_g), ([], as_if.yield_g))

    def test_several_are_found_one_by_one_and_too_many_are_left_at_once(self) -> None:
        for count in (3, 40):
            book = Book()
            for n in range(count):
                self.bad(book, "time")
                book.enter("noted", text=str(n))
            tried = 0

            def use(found: Any, log: list[e.Logged] = book.log) -> object:
                nonlocal tried
                tried += 1
                return sheet_of(found, log, START)

            found, _ = readable(planned_walk(book.document), book.log, use)
            self.assertTrue({each.entry.event.what.kind for each in found.aside} >= {"timer"})
            self.assertTrue(count > 3 or len(found.aside) == 3)
            self.assertLess(tried, 12 * 8, "looked for too long")

    def test_of_random_logs_the_rest_is_read_as_if_the_bad_ones_were_notes(self) -> None:
        for seed in range(often(40, daily=6)):
            rng = random.Random(seed)
            document = pear_syrup()
            log = random_log(document, seed, 24)
            places = sorted(rng.sample(range(len(log)), 3))
            with_bad, with_notes = list(log), list(log)
            for place in places:
                event = log[place].event
                for those, what in (
                    (with_bad, e.PutRight(title="x", document=document.model_copy(update={"stages": ()}))), (with_notes, e.Noted(text="x")),
                ):  # fmt: skip
                    those[place] = e.Logged(place + 1, event.model_copy(update={"what": what}))
            bad, notes = sheet(document, with_bad, START), sheet(document, with_notes, START)
            with self.subTest(seed=seed):
                told = {line.entry for line in bad.log if line.undone}
                self.assertEqual({each.seq for each in bad.aside} | {n + 1 for n in places if log[n].event.id in told}, {n + 1 for n in places})
                # Which of two plans is followed may be asked of the bad ones too, unless they are aside: the figures are the same.
                self.assertEqual((bad.yield_g, bad.now, bad.status), (notes.yield_g, notes.now, notes.status))

    def test_a_batch_that_cannot_be_read_at_all_says_what_is_wrong(self) -> None:
        empty = pear_syrup().model_copy(update={"stages": ()})
        with self.assertRaisesRegex(Exception, "no stage"):
            sheet(empty, Book().log, START)


class Arrivals(TestCase):
    def test_the_time_an_entry_is_read_with(self) -> None:
        received, started = START + timedelta(hours=5), START
        hour = timedelta(hours=1)
        for said, clock, meant, cannot in (
            (received, received, received, False),
            (started + hour, received, started + hour, False),  # it waited on the tablet
            (received + timedelta(seconds=30), None, received + timedelta(seconds=30), False),
            (received + hour, None, received, True),
            (NEVER, None, received, True),
            (NEVER, received, received, True),
            (datetime(1, 1, 1, tzinfo=UTC), None, started, True),
            (datetime(1, 1, 1, tzinfo=UTC), NEVER, started, True),
            (received + 2 * hour, received + 2 * hour, received, False),  # a tablet two hours fast, and sent at once
            (received - 3 * hour, received - 2 * hour, received - hour, False),  # two hours slow, an hour old
            (received + 9 * hour, received + 2 * hour, received, True),  # more than its clock explains
        ):
            with self.subTest(said=said, clock=clock):
                self.assertEqual(read_at(said, received=received, started=started, clock=clock), (meant, cannot))

    def test_the_log_says_who_sent_it_and_which_time_was_its_own(self) -> None:
        book = Book()
        book.enter("noted", text="x", by="rafe")
        arrival = Arrival(received_at=START, sent_by="mina", said_by="ines", said_at=NEVER, cannot_be=True)
        line = sheet(book.document, [e.Logged(1, book.log[0].event, arrival)], START).log[0]
        self.assertFalse(line.waited)
        later = arrival.model_copy(update={"received_at": START + timedelta(hours=2)})
        self.assertTrue(sheet(book.document, [e.Logged(1, book.log[0].event, later)], START).log[0].waited)
        self.assertEqual((line.by, line.sent_by, line.said_by, line.said_at, line.time_cannot_be), ("rafe", "mina", "ines", NEVER, True))


def nutty() -> MethodDocument:
    """A syrup with milk and hazelnut in it, and what was answered about its keeping."""
    return parse_document({
        "name": "Nut milk syrup",
        "kitchen": pear_syrup().model_dump(mode="json")["kitchen"],
        "keeping": {"heat_treated": False, "packaged": False, "ph": 6.6},
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [
                {"id": "milk", "substance": "whole_milk", "amount": "400 g"}, {"id": "sugar", "substance": "white_sugar", "amount": "300 g"}]},
            {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 250},
        ],
    }).document  # fmt: skip


class WhatAFormulaIs(TestCase):
    def forged(self, **changes: Any) -> dict[str, Any]:
        return {**nutty().model_dump(mode="json"), **changes}

    def test_a_way_cannot_say_what_the_formula_is(self) -> None:
        honest = Book(nutty())
        plain = batch_report(honest.actual_batch(), honest.log, START)
        water = {"title": "Whole milk", "composition_g_per_100g": {"water": 100}, "kind": "water"}
        lines = [
            {"id": "milk", "substance": "water", "amount": "400 g", "name": "Milk"},
            {"id": "sugar", "substance": "white_sugar", "amount": "300 g"},
        ]
        stages = [{"id": "in", "kind": "add", "vessel": "pot", "lines": lines}, nutty().model_dump(mode="json")["stages"][1]]
        forgeries: dict[str, dict[str, Any]] = {
            "answers": {"keeping": {"heat_treated": True, "packaged": True, "ph": 3.2}},
            "no answers": {"keeping": None},
            "substances": {"substances": {"whole_milk": water}},
            "another substance": {"stages": stages},
            "kitchen": {"kitchen": {"altitude_m": 4000, "holding_c": 9}},
            "name": {"name": "Water", "notes": "nothing", "family": "x"},
        }
        for name, changes in forgeries.items():
            with self.subTest(name):
                book = Book(nutty())
                book.enter("put_right", title="x", document=self.forged(**changes))
                found = batch_report(book.actual_batch(), book.log, START)
                self.assertEqual(found.walk.keeping, plain.walk.keeping)
                self.assertEqual(found.walk.allergens, plain.walk.allergens)
                self.assertEqual(found.walk.readings, plain.walk.readings)
                self.assertEqual(book.actual_batch().method.document.name, "Nut milk syrup")

    def test_what_a_way_is_for_still_counts(self) -> None:
        raw = nutty().model_dump(mode="json")
        raw["stages"][0]["lines"][1]["amount"] = "350 g"
        raw["stages"].insert(1, {"id": "late", "kind": "add", "vessel": "pot", "lines": [{"id": "more", "substance": "water", "amount": "20 g"}]})
        raw["stages"].insert(2, {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 80})
        book = Book(nutty())
        book.enter("put_right", title="x", document=raw)
        walked = book.actual_batch().walk
        self.assertEqual([float(walked.end.lines[id][0]) for id in ("milk", "sugar", "more")], [400, 350, 20])
        self.assertEqual([stage.id for stage in walked.stages], ["in", "late", "warm", "fill"])

    def test_a_way_keeps_of_what_it_carries_only_what_the_site_knows(self) -> None:
        raw = pear_syrup().model_dump(mode="json")
        weak = {"title": "Pear juice", "composition_g_per_100g": {"water": 100}, "of": "pear_juice"}
        raw["stages"][0]["lines"][0]["substance"] = "pear_juice-in-pear"
        raw["stages"][0]["lines"].append({"id": "own", "substance": "house_mix", "amount": "5 g"})
        raw["substances"] = {"pear_juice-in-pear": weak, "house_mix": {**weak, "of": None}, "white_sugar": {**weak, "of": None}}
        book = Book()
        book.enter("put_right", title="x", document=raw)
        event = book.log[0].event
        assert isinstance(event.what, e.PutRight)
        house = event.what.document.substances["house_mix"].model_copy(update={"title": "House mix"})
        kept = e.with_facts(event, {"house_mix": house}).what
        assert isinstance(kept, e.PutRight)
        self.assertEqual(kept.document.substances["house_mix"].title, "House mix")
        self.assertGreater(kept.document.substances["white_sugar"].composition_g_per_100g["sucrose"], 99)
        first = kept.document.stages[0]
        assert isinstance(first, Add)
        self.assertEqual(first.lines[0].substance, "pear_juice")
        of_batch = e.with_facts(event, {}, {"house_mix"}).what
        assert isinstance(of_batch, e.PutRight)
        self.assertNotIn("house_mix", of_batch.document.substances)


class OnTheLabel(TestCase):
    def swapped(self, line: str, substance: str) -> Book:
        book = Book(nutty())
        book.enter("swapped", line=line, substance=substance)
        return book

    def test_an_entry_adds_an_allergen_and_takes_none_away(self) -> None:
        found = {each.allergen: each for each in allergens_on_label(self.swapped("milk", "water").actual_batch())}
        self.assertTrue(found["milk"].certain)
        self.assertIn("by the version", found["milk"].why)
        found = {each.allergen: each for each in allergens_on_label(self.swapped("sugar", "hazelnut_paste").actual_batch())}
        self.assertTrue(found["milk"].certain and found["nuts"].certain)
        self.assertIn("entered by rafe", found["nuts"].why)
        two = self.swapped("sugar", "hazelnut_paste")
        two.enter("swapped", line="milk", substance="water", by="mina")
        said = {each.allergen: each.why for each in allergens_on_label(two.actual_batch())}
        self.assertTrue("mina" not in said["nuts"] and "rafe" in said["nuts"] and "rafe" not in said["milk"] and "mina" in said["milk"], said)
        self.assertEqual(shared_on_label(Book(nutty()).actual_batch()), [])

    def day(self, *answers: tuple[dict[str, Any], bool]) -> tuple[UseBy, UseBy]:
        """The day of the version, and that of the batch with answers by a lead or not."""
        book = Book()
        for what, by_lead in answers:
            book.enter("assessed", **what)
            last = book.log[-1]
            book.log[-1] = e.Logged(last.seq, last.event, Arrival(received_at=START, sent_by=last.event.by, by_lead=by_lead))
        batch, made = book.actual_batch(), START.date()
        plain = last_day(keeping_of(batch.planned), made)
        return plain, stricter(last_day(promised(batch), made), last_day(keeping_of(batch.walk), made), batch)

    def test_an_answer_that_allows_more_waits_for_a_lead(self) -> None:
        sour, plain = {"ph": 3.4}, self.day()[0]
        _, forged = self.day((sour, False))
        self.assertEqual((plain.day, plain.words), (forged.day, forged.words))
        self.assertIn("What rafe entered of its keeping counts once a lead has entered it too", forged.why)
        _, said = self.day((sour, False), (sour, True))
        self.assertEqual(said.words, "no shelf trial yet")
        self.assertEqual(self.day((sour, True))[1].words, said.words)

    def test_an_answer_that_is_stricter_counts_at_once(self) -> None:
        book = Book()
        for ph, by_lead in ((3.4, True), (5.9, False), (3.3, False)):
            book.enter("assessed", ph=ph)
            last = book.log[-1]
            book.log[-1] = e.Logged(last.seq, last.event, Arrival(received_at=START, sent_by=last.event.by, by_lead=by_lead))
            found = book.actual_batch()
        self.assertNotEqual(keeping_of(found.walk).verdict, "not_controlled")
        self.assertEqual([entry.seq for entry in found.waiting], [3])
        self.assertGreater(keeping_of(found.walk).ph_low or 0, 5.7)
