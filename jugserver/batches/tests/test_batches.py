"""Batches over HTTP: started once, entered once, never refused, never changed."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from threading import Barrier, Thread
from typing import Any
from uuid import uuid4

from django.db import IntegrityError, connection, connections, transaction
from django.test import TransactionTestCase

from jugcore.batch.log.events import Event
from jugcore.scaling.schema import ScaleRequest
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.lists import page_of
from jugserver.batches.log import append
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.reading import walked
from jugserver.batches.schemas import BatchCard
from jugserver.batches.services import start_batch
from jugserver.batches.states import forget, projected, state_of
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.shop import ShopCase


class Batches(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"])
        self.client_ = self.signed_in("prep")

    def enter(self, *whats: dict[str, Any], **more: Any) -> dict[str, Any]:
        """Send entries as a tablet does and give the answer."""
        answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [entry(w, **more) for w in whats]})
        self.assertEqual(answer.status_code, 200, answer.content[:500])
        found: dict[str, Any] = json.loads(answer.content)
        return found

    def read(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads(self.client_.get(f"/api/v1/batches/{self.batch.id}").content)
        return found

    def test_a_batch_is_a_version_in_the_kitchen_of_today(self) -> None:
        found = self.read()
        self.assertEqual(found["document"]["kitchen"]["altitude_m"], 640)
        self.assertIn("pear_juice", found["document"]["substances"])
        sheet = found["report"]["sheet"]
        self.assertEqual((sheet["status"], sheet["now"], sheet["seq"]), ("running", "press", 0))
        boil = next(s for s in sheet["steps"] if s["kind"] == "boil")
        # Two reads of the one walk: what the sheet says to stop at is what the walk's boil reads.
        walked = next(s for s in found["report"]["walk"]["stages"] if s["id"] == "boil")
        self.assertAlmostEqual(boil["boil"]["stop_reads_g"], walked["boil"]["pot_reads_g"], places=6)
        self.assertIn("Hot sugar", boil["cautions"][0])

    def test_a_start_that_was_rolled_back_leaves_nothing_of_its_plan_to_the_next_of_that_id(self) -> None:
        id, plans = uuid4(), []
        for factor, undone in ((0.5, True), (1.0, False)):
            with transaction.atomic():
                scale = ScaleRequest(by="factor", value=factor)
                batch = start_batch(actor=self.people["lead"], formula_id=self.batch.formula_id, version=1, scale=scale, id=id)
                plans.append(float(walked(batch)[0].planned.product.total_g[0]))
                transaction.set_rollback(undone)
        self.assertAlmostEqual(plans[1], 2 * plans[0], delta=0.05 * plans[1])

    def test_more_than_one_cook_takes_is_refused_in_words_and_the_pots_are_frozen(self) -> None:
        """A school names no pot: it is bound by the one that it would be in, and the batch says which."""
        formula = self.batch.formula_id
        for factor, said in ((40, "cooks"), (9, "cooks")):
            body = {"id": str(uuid4()), "formula": str(formula), "version": 1, "scale": {"by": "factor", "value": factor}}
            answer = self.send(self.client_, "POST", "/api/v1/batches", body)
            problem = self.assert_problem(answer, 422)
            self.assertIn(said, json.dumps(problem))
        body = {"id": str(uuid4()), "formula": str(formula), "version": 1}
        made = json.loads(self.send(self.client_, "POST", "/api/v1/batches", body).content)
        pots = {pot["id"] for pot in made["document"]["kitchen"]["pots"]}
        heated = [stage["vessel"] for stage in made["document"]["stages"] if stage["kind"] in ("boil", "heat", "caramelise")]
        named = {vessel["id"]: vessel.get("pot") for vessel in made["document"]["vessels"]}
        self.assertTrue(heated)
        self.assertTrue(all(named.get(vessel) in pots for vessel in heated), named)

    def test_starting_twice_with_one_id_starts_once(self) -> None:
        id = str(uuid4())
        body = {"id": id, "formula": str(self.batch.formula_id), "version": 1}
        first = self.send(self.client_, "POST", "/api/v1/batches", body)
        second = self.send(self.client_, "POST", "/api/v1/batches", body)
        self.assertEqual((first.status_code, second.status_code), (201, 201))
        self.assertEqual(json.loads(first.content)["number"], json.loads(second.content)["number"])
        self.assertEqual(Batch.objects.filter(pk=id).count(), 1)

    def test_a_batch_can_be_made_larger_or_smaller(self) -> None:
        body = {"formula": str(self.batch.formula_id), "version": 1, "scale": {"by": "line", "line": "juice", "value": 300}}
        found = json.loads(self.send(self.client_, "POST", "/api/v1/batches", body).content)
        lines = found["report"]["sheet"]["steps"][0]["lines"]
        self.assertEqual([line["target_g"] for line in lines], [300.0, 300.0])
        self.assertAlmostEqual(found["factor"], 300 / 430)

    def test_the_last_finished_batch_of_the_formula_lends_its_minutes(self) -> None:
        self.assertIsNone(self.read()["last_time"])
        at = datetime.now(UTC)
        self.batch = begun_batch(self.people["lead"], at=at - timedelta(hours=1))
        for what, minutes in (
            ({"kind": "began", "stage": "boil"}, 0),
            ({"kind": "done", "stage": "boil"}, 22),
            ({"kind": "closed", "outcome": "finished"}, 30),
        ):
            event = {**entry(what), "at": (at - timedelta(minutes=30 - minutes)).isoformat()}
            self.assertEqual(self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [event]}).status_code, 200)
        body = {"formula": str(self.batch.formula_id), "version": 1, "scale": {"by": "factor", "value": 0.5}}
        found = json.loads(self.send(self.client_, "POST", "/api/v1/batches", body).content)
        before = found["last_time"]
        self.assertEqual((before["number"], before["times"]), (self.batch.number, 2.0))
        self.assertAlmostEqual(before["minutes"]["boil"], 22.0, places=1)
        [card] = [each for each in json.loads(self.client_.get("/api/v1/batches").content)["items"] if each["id"] == found["id"]]
        self.assertEqual(card["factor"], 0.5)

    def test_a_version_that_does_not_work_out_here_is_refused_with_a_sentence(self) -> None:
        body = {"formula": str(self.batch.formula_id), "version": 1, "scale": {"by": "grams", "value": 400_000}}
        self.assert_problem(self.send(self.client_, "POST", "/api/v1/batches", body), 422)

    def test_an_entry_sent_again_is_kept_once(self) -> None:
        one = entry({"kind": "weighed", "line": "juice", "reads_g": 410})
        answers = [self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [one, one]}) for _ in range(3)]
        for answer in answers:
            self.assertEqual(json.loads(answer.content), {"kept": [{"id": one["id"], "seq": 1}] * 2, "seq": 1})
        self.assertEqual(LogEntry.objects.filter(batch_id=self.batch.id).count(), 1)

    def test_what_went_in_instead_is_kept_with_what_is_known_of_it_and_may_be_sent_again(self) -> None:
        one = entry({"kind": "swapped", "line": "sugar", "substance": "demerara_sugar"})
        for _ in range(2):
            answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [one]})
            self.assertEqual(json.loads(answer.content), {"kept": [{"id": one["id"], "seq": 1}], "seq": 1})
        kept = LogEntry.objects.get(batch_id=self.batch.id).event["what"]
        self.assertIn("sucrose", kept["facts"]["composition_g_per_100g"])
        other = {**one, "what": {**one["what"], "substance": "honey"}}
        self.assert_problem(self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [other]}), 409)

    def test_an_id_of_another_entry_is_a_conflict(self) -> None:
        one = entry({"kind": "weighed", "line": "juice", "reads_g": 410})
        self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [one]})
        other = {**one, "what": {"kind": "weighed", "line": "juice", "reads_g": 411}}
        self.assert_problem(self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [other]}), 409, field="events")

    def test_a_well_formed_entry_is_never_refused(self) -> None:
        odd = [
            {"kind": "weighed", "line": "no-such-line", "reads_g": 3},
            {"kind": "pot_weighed", "stage": "boil", "reads_g": 900_000},
            {"kind": "done", "stage": "nowhere"},
            {"kind": "undone", "entry": str(uuid4())},
            {"kind": "swapped", "line": "juice", "substance": "no_such_thing"},
            {"kind": "reckoned", "line": "sugar", "brix": 3},
            {"kind": "refracted", "stage": "boil", "line": "juice", "reading_brix": 0},
            {"kind": "probed", "stage": "warm", "temperature_c": -20},
            {"kind": "gave", "stage": "strain", "reads_g": 500_000},
            {"kind": "bottled", "stage": "fill", "count": 1000, "each_g": 100_000},
            {"kind": "done", "stage": "warm"},
            {"kind": "done", "stage": "boil"},
            {"kind": "done", "stage": "fill"},
            {"kind": "settled", "question": "nothing", "keep": [str(uuid4())]},
            {"kind": "closed"},
            {"kind": "noted", "text": "after the end"},
        ]
        self.assertEqual(self.enter(*odd)["seq"], len(odd))
        sheet = self.read()["report"]["sheet"]
        self.assertEqual(len(sheet["log"]), len(odd))
        self.assertEqual(sheet["status"], "finished")

    def test_what_is_not_well_formed_is_refused_with_a_sentence_and_nothing_is_kept(self) -> None:
        for what, word in (
            ({"kind": "weighed", "line": "juice", "reads_g": 3, "tare_g": 40}, "tare"),
            ({"kind": "closed", "outcome": "stopped"}, "why"),
            ({"kind": "dreamt"}, ""),
            ({"kind": "weighed", "line": "juice", "reads_g": -1}, ""),
        ):
            with self.subTest(what=what):
                good = entry({"kind": "noted", "text": "first"})
                answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/entries", {"events": [good, entry(what)]})
                self.assert_problem(answer, 422, word=word)
        self.assertEqual(LogEntry.objects.filter(batch_id=self.batch.id).count(), 0)

    def test_entries_behind_a_number(self) -> None:
        self.enter(*({"kind": "noted", "text": f"note {n}"} for n in range(5)))
        found = json.loads(self.client_.get(f"/api/v1/batches/{self.batch.id}/entries?after=3").content)
        self.assertEqual((found["seq"], [e["seq"] for e in found["entries"]]), (5, [4, 5]))

    def test_the_state_rebuilt_from_the_log_is_the_state_kept(self) -> None:
        self.enter({"kind": "weighed", "line": "juice", "reads_g": 410}, {"kind": "done", "stage": "press"})
        kept = page_of(self.site).items[0]
        batch = Batch.objects.in_full().get(pk=self.batch.id)
        forget()
        again = projected(Batch.objects.in_full().get(pk=self.batch.id))
        shown = kept.model_dump(mode="json")
        for name, value in again.summary.items():
            if name not in ("shape", "flow"):  # what was seen in the funnel is for the bench, not for a list
                self.assertEqual(BatchCard.model_validate({**shown, name: value}).model_dump(mode="json")[name], shown[name], name)
        self.assertEqual((kept.step, kept.steps_done, kept.last_seq), ("Add sugar", 1, 2))
        self.assertEqual(state_of(batch).seq, 2)

    def test_a_list_brings_states_up_to_date(self) -> None:
        self.assertEqual(page_of(self.site).items[0].status, "running")
        self.enter({"kind": "closed", "outcome": "stopped", "reason": "burnt"})
        card = page_of(self.site).items[0]
        self.assertEqual((card.status, card.closed_at is not None), ("stopped", True))

    def test_the_database_refuses_to_change_a_log_or_a_batch(self) -> None:
        self.enter({"kind": "noted", "text": "kept"})
        row = LogEntry.objects.get(batch_id=self.batch.id)
        attempts = (
            lambda: LogEntry.objects.filter(pk=row.pk).update(kind="other"),
            row.delete,
            lambda: LogEntry.objects.create(id=uuid4(), batch_id=self.batch.id, seq=3, kind="noted", event={}, at=row.at, sent_by=row.sent_by),
            lambda: Batch.objects.filter(pk=self.batch.id).update(document={}),
            lambda: Batch.objects.filter(pk=self.batch.id).update(last_seq=0),
            lambda: Batch.objects.filter(pk=self.batch.id).update(factor=2),
            lambda: Batch.objects.filter(pk=self.batch.id).update(name="Another"),
            lambda: connection.cursor().execute("delete from batches_batch"),
        )
        for attempt in attempts:
            with self.assertRaises(IntegrityError), transaction.atomic():
                attempt()
        self.assertEqual(LogEntry.objects.get(pk=row.pk).kind, "noted")

    def test_rescue_from_an_overshot_pot(self) -> None:
        # Weigh in as planned, boil too far: what is offered reaches the planned °Bx from what the pot really weighs.
        self.enter(
            {"kind": "weighed", "line": "juice", "reads_g": 430}, {"kind": "weighed", "line": "water", "reads_g": 430},
            {"kind": "weighed", "line": "sugar", "reads_g": 860}, *({"kind": "done", "stage": s} for s in ("press", "dissolve", "warm", "blend", "spice")),
            {"kind": "pot_weighed", "stage": "boil", "reads_g": 2600, "tare_g": 1243},
        )  # fmt: skip
        answer = self.send(self.client_, "POST", f"/api/v1/batches/{self.batch.id}/rescue", {"about": "brix"})
        found = json.loads(answer.content)
        self.assertAlmostEqual(found["planned"], 64, places=6)
        self.assertGreater(found["actual"], 64.5)
        way = found["suggestions"][0]
        self.assertIn("water", way["title"])
        self.enter({"kind": "put_right", "title": way["title"], "document": way["document"]})
        sheet = self.read()["report"]["sheet"]
        brix = next((d for d in sheet["deviations"] if d["id"] == "brix"), None)
        self.assertTrue(brix is None or not brix["beyond"], brix)
        added = next(s for s in sheet["steps"] if s["kind"] == "add" and s["name"] == "Stir in")
        self.assertEqual(added["state"], "to_do")


class AtOnce(TransactionTestCase):
    """Many hands at once, each in a transaction of its own."""

    def test_numbers_have_no_gaps_whoever_is_first(self) -> None:
        site = Site.objects.create(name="Weir kitchen")
        lead = User.objects.create_user("lead", password="a-long-test-password", site=site, role=Role.LEAD, display_name="Lead")
        batch = begun_batch(lead)
        gate = Barrier(6)
        failed: list[BaseException] = []

        def hand(n: int) -> None:
            try:
                gate.wait()
                for i in range(15):
                    append(actor=lead, batch_id=batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": f"{n} {i}"}, device=f"t{n}"))])
            except BaseException as error:
                failed.append(error)
            finally:
                connections.close_all()

        hands = [Thread(target=hand, args=(n,)) for n in range(6)]
        for each in hands:
            each.start()
        for each in hands:
            each.join()
        self.assertEqual(failed, [])
        self.assertEqual(list(LogEntry.objects.filter(batch_id=batch.id).values_list("seq", flat=True)), list(range(1, 91)))
        self.assertEqual(Batch.objects.get(pk=batch.id).last_seq, 90)
        for n in range(6):  # and what one hand entered stands in the order it was entered
            own = [e["what"]["text"] for e in LogEntry.objects.filter(batch_id=batch.id).values_list("event", flat=True) if e["device"] == f"t{n}"]
            self.assertEqual(own, [f"{n} {i}" for i in range(15)])
