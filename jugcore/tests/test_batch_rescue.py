"""Where weight and refractometer disagree, what can be done about what is off plan, and a batch from the shell."""

from __future__ import annotations

import itertools
import json
import unittest
from pathlib import Path
from uuid import UUID

import numpy as np

from jugcore.batch.requests import rescue_report
from jugcore.batch.rescue.measurement_check import measurement_checks
from jugcore.batch.rescue.rescue import rescue
from jugcore.batch.sheet.run_sheet import sheet
from jugcore.errors import BadDocument
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.walk import walk
from jugcore.solving.linearise import reading_of
from jugcore.tests.batches import START, Book, blended, pear_syrup, random_log
from jugcore.tests.shell import run


class Doubts(unittest.TestCase):
    """Weight and refractometer, reconciled or not."""

    def boiled(self, reading: float, **drop: float) -> Book:
        book = Book()
        book.cook_to("boil")
        book.enter("pot_weighed", stage="boil", reads_g=2640, tare_g=1243, minute=30)
        book.enter("refracted", stage="boil", reading_brix=reading, minute=drop.get("minute", 30.5))
        return book

    def test_what_both_can_explain_is_no_doubt(self) -> None:
        by_weight = float(reading_of(self.boiled(60).actual_batch().walk, "refractometer").value[0])
        self.assertEqual(measurement_checks(self.boiled(by_weight + 0.5).actual_batch()), [])

    def test_a_weak_juice_explains_a_low_reading(self) -> None:
        by_weight = float(reading_of(self.boiled(60).actual_batch().walk, "refractometer").value[0])
        book = self.boiled(by_weight - 2.0)
        [doubt] = measurement_checks(book.actual_batch())
        self.assertIn("disagree", doubt.words)
        juice = next(x for x in doubt.explanations if x.line == "pear")
        assert juice.brix is not None
        self.assertLess(juice.brix, 12)
        book.enter("reckoned", line="pear", brix=juice.brix)
        self.assertEqual(measurement_checks(book.actual_batch()), [])
        scale = next(x for x in doubt.explanations if x.kind == "weigh_again")
        assert scale.reads_g is not None
        self.assertGreater(scale.reads_g, 2640)

    def test_a_reading_no_juice_could_make_is_not_put_on_one(self) -> None:
        by_weight = float(reading_of(self.boiled(60).actual_batch().walk, "refractometer").value[0])
        for off in (-25.0, 20.0):
            with self.subTest(off=off):
                [doubt] = measurement_checks(self.boiled(by_weight + off).actual_batch())
                self.assertEqual([each for each in doubt.explanations if each.kind == "reckon"], [])

    def test_a_drop_taken_long_after_the_weighing_says_nothing_while_it_boils(self) -> None:
        by_weight = float(reading_of(self.boiled(60).actual_batch().walk, "refractometer").value[0])
        self.assertEqual(measurement_checks(self.boiled(by_weight + 4, minute=38).actual_batch()), [])
        off = self.boiled(by_weight + 4, minute=38)
        off.enter("done", stage="boil", minute=29)
        self.assertEqual(len(measurement_checks(off.actual_batch())), 1)


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
                found = rescue(book.actual_batch(), "brix")
                water = next(way for way in found.suggestions if "water" in way.title)
                self.assertEqual(water.title, f"Stir in {past} g of water after the boil")
                book.enter("put_right", title=water.title, document=water.document.model_dump(mode="json"))
                after = book.actual_batch()
                self.assertAlmostEqual(float(reading_of(after.walk, "brix").value[0]), 64, delta=0.06)
                self.assertEqual(float(after.walk.end.lines["pear"][0]), 430)  # what is in stays in

    def test_every_way_leaves_what_is_done_and_meets_the_plan(self) -> None:
        book = self.overshot()
        before = book.actual_batch()
        for about in ("brix", "yield_g", "spice_finished"):
            for way in rescue(before, about).suggestions:
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
        found = rescue(book.actual_batch(), "brix")
        self.assertTrue(any(way.kind == "boil" and "60 g" in way.title for way in found.suggestions), [w.title for w in found.suggestions])

    def test_a_short_line_is_weighed_more_or_followed(self) -> None:
        grams = pear_syrup().model_dump(mode="json")
        for line, text in (("water", "430 g"), ("sugar", "860 g")):
            for stage in grams["stages"]:
                for each in stage.get("lines", ()):
                    if each["id"] == line:
                        each["amount"] = text
        book = Book(parse_document(grams).document)
        book.enter("weighed", line="pear", reads_g=344)
        kinds = {way.kind: way for way in rescue(book.actual_batch(), "line:pear").suggestions}
        self.assertEqual(kinds["weigh_more"].title, "Weigh 86 g more of pear juice")

    def test_a_spice_overshot_is_followed_by_topping_up_what_is_in(self) -> None:
        book = Book()
        for line, grams in (("pear", 430), ("water", 430), ("sugar", 860), ("mace", 6.88), ("cardamom", 24.0)):
            book.enter("weighed", line=line, reads_g=grams)
        found = rescue(book.actual_batch(), "line:cardamom")
        self.assertTrue(found.suggestions or found.why_not)
        for way in found.suggestions:
            self.assertGreater(float(way.walk.product.total_g[0]), float(book.actual_batch().walk.product.total_g[0]))

    def test_what_is_not_in_yet_follows_in_the_same_measure(self) -> None:
        """A sauce whose every line has grams of its own: one went in short, and the others become as much less."""
        lines = {"water": "500 g", "white_sugar": "700 g", "salt": "6 g"}
        stages = [
            {"id": f"in-{id}", "kind": "add", "vessel": "pot", "lines": [{"id": id, "substance": id, "amount": amount}]}
            for id, amount in lines.items()
        ]
        kitchen = pear_syrup().model_dump(mode="json", exclude_none=True)["kitchen"]
        book = Book(parse_document({"kitchen": kitchen, "vessels": [{"id": "pot", "pot": "wide"}], "stages": stages}).document)
        book.enter("weighed", line="water", reads_g=400)
        way = next(way for way in rescue(book.actual_batch(), "line:water").suggestions if way.kind == "follow")
        self.assertEqual({id: round(float(grams[0]), 6) for id, grams in way.walk.end.lines.items()}, {"water": 400, "white_sugar": 560, "salt": 4.8})

    def blend_over(self, *, rest_in: bool = False) -> Book:
        """A blend in a bowl of its own, of which one spice was poured too freely."""
        book = Book(blended())
        for line, grams in (("pear", 430), ("water", 430), ("sugar", 860), ("mace", 9.0)):
            book.enter("weighed", line=line, reads_g=grams)
        if rest_in:
            book.enter("weighed", line="cardamom", reads_g=20.64)
            book.enter("weighed", line="anise", reads_g=5.16)
        return book

    def test_a_spice_overshot_in_its_bowl_makes_more_of_the_same_blend(self) -> None:
        for rest_in in (False, True):
            with self.subTest(rest_in=rest_in):
                book = self.blend_over(rest_in=rest_in)
                planned = book.actual_batch().planned
                found = rescue(book.actual_batch(), "line:mace")
                ways = {way.kind: way for way in found.suggestions}
                self.assertEqual(found.left_words, "Mace is then 26 % of what is put together, instead of 21 %.")
                self.assertLessEqual({"premix", "blend_up"}, set(ways))
                self.assertRegex(ways["blend_up"].title, "and put all of it in$")
                self.assertRegex(ways["premix"].title, "; use 32.68 g of it and keep the rest$")
                for kind, load in (("premix", 19.0), ("blend_up", 19.0 * 9 / 6.88)):
                    after = ways[kind].walk
                    self.assertAlmostEqual(float(reading_of(after, "spice_started").value[0]), load, delta=0.02)
                    bowl = [float(flow.mass_g.sum()) for flow in after.flows if flow.target == "vessel:bowl"]
                    mace = next(float(f.mass_g.sum()) for f in after.flows if f.source == "line:mace")
                    self.assertAlmostEqual(mace / sum(bowl), 4 / 19, places=3)  # the same blend
                book.enter("put_right", title="x", document=ways["premix"].document.model_dump(mode="json"), about="line:mace", actual=9.0)
                sheet = book.sheet()
                self.assertEqual(next(s.title for s in sheet.steps if s.id == "spices"), "Weigh 32.68 g of Bowl into Wide pot")
                [line] = [d for d in sheet.deviations if d.id == "line:mace"]
                self.assertEqual(line.dealt, "put_right")
                self.assertAlmostEqual(
                    float(reading_of(book.actual_batch().walk, "brix").value[0]), float(reading_of(planned, "brix").value[0]), delta=0.05
                )

    def test_a_second_way_keeps_what_the_first_one_asked_for(self) -> None:
        book = self.blend_over()
        first = next(way for way in rescue(book.actual_batch(), "line:mace").suggestions if way.kind == "premix")
        book.enter("put_right", title="x", document=first.document.model_dump(mode="json"), about="line:mace", actual=9.0)
        targets = {line.id: line.target_g for line in book.step("season").lines}
        self.assertGreater(targets["cardamom"], 20.64)
        for line in ("cardamom", "anise"):
            book.enter("weighed", line=line, reads_g=targets[line])
        for stage in ("juice", "sweeten", "season", "spices"):
            book.enter("done", stage=stage)
        stop = book.step("boil").boil
        assert stop is not None
        book.enter("pot_weighed", stage="boil", reads_g=stop.stop_reads_g - 80, tare_g=1243, minute=40)
        water = next(way for way in rescue(book.actual_batch(), "brix").suggestions if "water" in way.title)
        book.enter("put_right", title="y", document=water.document.model_dump(mode="json"), about="brix", actual=67.0)
        self.assertEqual({line.id: line.target_g for line in book.step("season").lines}, targets)
        self.assertEqual([d.id for d in book.sheet().deviations if d.beyond and not d.dealt], [])

    def test_after_the_sieve_more_spice_is_no_answer(self) -> None:
        book = self.blend_over(rest_in=True)
        for stage in ("juice", "sweeten", "season", "spices", "boil", "strain"):
            book.enter("done", stage=stage)
        self.assertEqual(rescue(book.actual_batch(), "line:mace").suggestions, ())

    def test_what_is_accepted_is_not_counted_until_it_moves(self) -> None:
        book = self.overshot()
        brix = next(d for d in book.sheet().deviations if d.id == "brix")
        self.assertTrue(brix.beyond)
        book.enter("accepted", about="brix", actual=brix.actual, title="°Brix")
        self.assertEqual(next(d for d in book.sheet().deviations if d.id == "brix").dealt, "accepted")
        book.enter("pot_weighed", stage="boil", reads_g=2480, tare_g=1243, minute=55)
        self.assertIsNone(next(d for d in book.sheet().deviations if d.id == "brix").dealt)

    def test_a_temperature_that_was_missed_is_made_up_for_while_it_matters(self) -> None:
        def warmed(reached: float, *then: str) -> Book:
            raw = pear_syrup().model_dump(mode="json", exclude_none=True)
            raw["stages"].insert(2, {"id": "warm", "kind": "heat", "name": "Dissolve", "vessel": "pot", "to_c": 60, "burner": "gas"})
            raw["stages"].insert(-1, {"id": "cool", "kind": "cool", "vessel": "jug", "to_c": 40, "how": "cold_water"})
            book = Book(parse_document(raw).document)
            for stage in ("juice", "sweeten"):
                book.enter("done", stage=stage)
            book.enter("probed", stage="warm", temperature_c=reached)
            for stage in ("warm", *then):
                book.enter("done", stage=stage)
            return book

        for near in (58.0, 60.0, 65.0):
            self.assertNotIn("stage:warm", [d.id for d in warmed(near).sheet().deviations])
        book = warmed(52.0)
        [missed] = [d for d in book.sheet().deviations if d.id == "stage:warm"]
        self.assertEqual((missed.title, missed.planned, missed.actual, missed.beyond), ("Dissolve", 60, 52, True))
        found = rescue(book.actual_batch(), "stage:warm")
        self.assertEqual((found.title, found.unit, found.digits), ("Dissolve", "°C", 0))
        [way] = found.suggestions
        self.assertEqual(way.title, "Warm it to 60 °C once more")
        book.enter("put_right", title=way.title, document=way.document.model_dump(mode="json"), about="stage:warm", actual=52)
        self.assertEqual(book.sheet().now, "again-1")
        self.assertEqual(next(d for d in book.sheet().deviations if d.id == "stage:warm").dealt, "put_right")
        boiled = warmed(52.0, "season", "boil")
        self.assertIn("boiled since", rescue(boiled.actual_batch(), "stage:warm").why_not[0])
        hot = rescue(warmed(71.0).actual_batch(), "stage:warm")
        self.assertEqual((hot.suggestions, "11 °C hotter" in hot.why_not[0]), ((), True))
        cooled = warmed(60.0, "season", "boil", "strain")
        cooled.enter("probed", stage="cool", temperature_c=55)
        cooled.enter("done", stage="cool")
        [way] = rescue(cooled.actual_batch(), "stage:cool").suggestions
        again = next(s for s in way.document.stages if s.id == "again-1")
        self.assertEqual((way.title, again.vessel), ("Cool it to 40 °C once more", "jug"))
        with self.assertRaises(BadDocument):
            rescue(cooled.actual_batch(), "stage:boil")

    def test_what_cannot_be_asked_is_said(self) -> None:
        book = self.overshot()
        for about in ("line:nothing", "no_such_reading"):
            with self.subTest(about=about), self.assertRaises(BadDocument):
                rescue(book.actual_batch(), about)
        book.enter("closed")
        with self.assertRaisesRegex(BadDocument, "at its end"):
            rescue_report(book.actual_batch(), "brix")

    def test_what_was_asked_is_not_forgotten_over_what_was_measured(self) -> None:
        book = Book()
        book.enter("weighed", line="pear", reads_g=410)
        book.enter("weighed", line="water", reads_g=431)
        book.cook_to("boil")
        planned = book.step("boil").boil
        assert planned is not None
        book.enter("pot_weighed", stage="boil", reads_g=planned.stop_reads_g - 100, tare_g=1243)
        way = rescue(book.actual_batch(), "brix").suggestions[0]
        book.enter("put_right", title=way.title, document=way.document.model_dump(mode="json"))
        lines = {line.id: line for step in book.sheet().steps for line in step.lines}
        self.assertEqual((lines["pear"].target_g, lines["water"].target_g), (430, 410))
        after = book.step("boil").boil
        assert after is not None
        self.assertAlmostEqual(after.stop_reads_g, planned.stop_reads_g, places=6)
        np.testing.assert_allclose(book.actual_batch().walk.product.mass_g, walk(compile_document(way.document)).product.mass_g, rtol=1e-9)

    def test_taking_the_choice_back_follows_the_plan_again(self) -> None:
        book = self.overshot()
        way = rescue(book.actual_batch(), "brix").suggestions[0]
        chosen = book.enter("put_right", title=way.title, document=way.document.model_dump(mode="json"))
        self.assertEqual(len(book.sheet().steps), 7)
        book.enter("undone", entry=chosen)
        self.assertEqual(len(book.sheet().steps), 6)


EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples" / "batches"


class Shell(unittest.TestCase):
    def test_a_batch_from_the_shell(self) -> None:
        text = (EXAMPLES / "ferrymans-overshot.json").read_text(encoding="utf-8")
        found = json.loads(run(["sheet"], text)[1])
        boil = next(step["boil"] for step in found["steps"] if step["boil"])
        past = round(-boil["to_go_g"])
        ways = json.loads(run(["rescue", "--about", "brix"], text)[1])["suggestions"]
        self.assertEqual(ways[0]["title"], f"Stir in {past} g of water after the boil")

    def test_what_cannot_be_asked_is_a_sentence(self) -> None:
        text = (EXAMPLES / "ferrymans-overshot.json").read_text(encoding="utf-8")
        for arguments, given, word in (
            (("sheet", "--now", "yesterday"), text, "not a time"), (("sheet",), '{"document": {"stages": []}}', "--now"),
            (("sheet", "--now", "2026-03-02T06:00:00"), '{"document": {"stages": []}}', "first"),
            (("rescue", "--about", "line:nothing"), text, "not a line"), (("sheet",), "{}", "document"),
        ):  # fmt: skip
            with self.subTest(arguments=arguments):
                code, out, err = run(list(arguments), given)
                self.assertEqual((code, out), (2, ""))
                self.assertIn(word, err)

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
