"""One bad entry takes nothing else down, and whoever may cook forges neither a formula, nor a person, nor a time."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

from django.db import connection
from django.test import TransactionTestCase
from django.utils import timezone

from jugcore.batch.log.events import Event
from jugserver.accounts.marks import mark_of
from jugserver.accounts.models import Role, Site, User
from jugserver.batches import reading
from jugserver.batches.log import append
from jugserver.batches.models import Batch, BatchState, LogEntry
from jugserver.batches.services import start_batch
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.at_once import at_once
from jugserver.config.tests.shop import PASSWORD, ShopCase


class _Cooking(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"])
        self.client_ = self.signed_in("prep")

    def enter(self, *whats: dict[str, Any], who: str = "prep", **body: Any) -> list[dict[str, Any]]:
        """Send entries as a tablet does; how their lines stand in the log then."""
        events = [what if "what" in what else entry(what) for what in whats]
        path = f"/api/v1/batches/{self.batch.id}/entries"
        answer = self.send(self.signed_in(who), "POST", path, {"events": events, **body})
        self.assertEqual(answer.status_code, 200, answer.content[:500])
        ids = {event["id"] for event in events}
        return [line for line in self.page()["report"]["sheet"]["log"] if line["entry"] in ids]

    def page(self) -> dict[str, Any]:
        answer = self.client_.get(f"/api/v1/batches/{self.batch.id}")
        self.assertEqual(answer.status_code, 200, answer.content[:500])
        found: dict[str, Any] = json.loads(answer.content)
        return found

    def cards(self) -> dict[str, dict[str, Any]]:
        answer = self.client_.get("/api/v1/batches")
        self.assertEqual(answer.status_code, 200, answer.content[:500])
        return {card["id"]: card for card in json.loads(answer.content)["items"]}


class OneBadEntry(_Cooking):
    def test_every_batch_still_opens_and_is_listed(self) -> None:
        other = begun_batch(self.people["lead"])
        raw = self.batch.document
        far = {"at": "9999-12-31T23:59:00+00:00"}
        bad: list[dict[str, Any]] = [
            entry({"kind": "weighed", "line": "juice", "reads_g": 0}),
            entry({"kind": "weighed", "line": "sugar", "reads_g": 40, "tare_g": 40}),
            entry({"kind": "weighed", "line": "mace", "reads_g": 1e-6}),
            entry({"kind": "began", "stage": "boil"}) | far,
            entry({"kind": "timer", "timer": "t", "title": "x", "seconds": 600_000}) | far,
            entry({"kind": "closed"}) | far,
            entry({"kind": "put_right", "title": "x", "document": {**raw, "stages": []}}),
        ]
        for each in bad:
            self.enter(each)
        found = self.page()["report"]["sheet"]
        self.assertEqual([each["seq"] for each in found["aside"]], [7])
        self.assertIn("no stage", found["aside"][0]["why"])
        cards = self.cards()
        self.assertEqual(cards.keys() >= {str(self.batch.id), str(other.pk)}, True)
        self.assertEqual((cards[str(self.batch.id)]["aside"], cards[str(other.pk)]["aside"]), (1, 0))
        for path in (
            "/api/v1/batches/table.csv",
            *(f"/api/v1/batches/{self.batch.id}/{name}" for name in ("log.csv", "run-sheet.pdf", "label.pdf", "batch.json")),
        ):
            self.assertEqual(self.client_.get(path).status_code, 200, path)
        self.assertEqual(self.send(self.client_, "POST", "/api/v1/walk", self.raw()).status_code, 200)
        # It is taken back, and the batch is read whole again.
        self.enter({"kind": "undone", "entry": bad[-1]["id"]})
        self.assertEqual(self.page()["report"]["sheet"]["aside"], [])

    def test_what_nothing_can_be_worked_out_of_is_a_state_of_that_batch(self) -> None:
        """A batch that was started from what this program cannot read any more: the others are listed, and it with what is wrong."""
        other = begun_batch(self.people["lead"])
        broken = Batch.objects.create(
            site=self.site, number=900, formula=self.batch.formula, version=self.batch.version, name="Of another age", document={"format": "x"},
            fingerprint="x", core_version="0", started_by=self.people["lead"], started_at=timezone.now(), touched_at=timezone.now(),
        )  # fmt: skip
        with self.assertLogs("jugserver.batches.states", "ERROR"):
            cards = self.cards()
        self.assertIn("cannot be read", cards[str(broken.pk)]["trouble"])
        self.assertEqual(cards[str(other.pk)]["trouble"], "")
        self.assertGreater(cards[str(other.pk)]["planned_yield_g"], 0)
        BatchState.objects.get(batch=broken)
        with self.assertLogs("jugserver.batches.reading", "ERROR"):
            self.assert_problem(self.client_.get(f"/api/v1/batches/{broken.pk}"), 422, word="cannot be read here")

    def test_an_entry_of_another_release_is_a_note_that_says_so(self) -> None:
        self.enter({"kind": "weighed", "line": "juice", "reads_g": 400}, {"kind": "noted", "text": "x"})
        with connection.cursor() as cursor:
            cursor.execute("set local session_replication_role = replica")
            cursor.execute(
                "update batches_logentry set event = jsonb_set(event, '{what}', '{\"kind\": \"dreamt\"}'), kind = 'dreamt' where seq = 2 and batch_id = %s",
                [self.batch.pk],
            )
            cursor.execute("set local session_replication_role = origin")
        reading.forget()
        with self.assertLogs("jugserver.batches.log", "ERROR"):
            sheet = self.page()["report"]["sheet"]
        self.assertEqual(len(sheet["log"]), 2)
        self.assertIn("An entry (dreamt) of another release", sheet["log"][1]["words"])
        self.assertEqual(sheet["steps"][0]["lines"][0]["measured"]["mass_g"], 400)

    def test_a_batch_cannot_be_rewritten_by_a_way(self) -> None:
        before = self.page()
        water = {"title": "Pear juice", "composition_g_per_100g": {"water": 100}}
        raw = json.loads(json.dumps(self.batch.document))
        forged = {
            **raw,
            "name": "Water",
            "keeping": {"heat_treated": True, "packaged": True, "ph": 3.0},
            "substances": dict.fromkeys(raw["substances"], water),
        }
        self.enter({"kind": "put_right", "title": "x", "document": forged})
        after = self.page()
        for name in ("allergens", "keeping", "readings"):
            self.assertEqual(after["report"]["walk"][name], before["report"]["walk"][name], name)
        self.assertEqual((after["use_by"], after["use_by_words"]), (before["use_by"], before["use_by_words"]))
        kept = LogEntry.objects.get(batch=self.batch).event["what"]["document"]
        self.assertEqual(kept["substances"], {})

    def test_facts_come_from_the_site(self) -> None:
        water = {"title": "Nothing at all", "composition_g_per_100g": {"water": 100}}
        self.enter({"kind": "swapped", "line": "sugar", "substance": "no_such_thing", "facts": water})
        self.assertNotIn("facts", LogEntry.objects.get(batch=self.batch).event["what"])
        self.assertTrue(any("nothing is known of it" in each["words"] for each in self.page()["report"]["sheet"]["questions"]))

    def test_a_label_grows_stricter_and_says_who(self) -> None:
        self.enter({"kind": "swapped", "line": "sugar", "substance": "hazelnut_paste"})
        found = {each["allergen"]: each for each in self.page()["allergens"]}
        self.assertTrue(found["nuts"]["certain"])
        self.assertIn("entered by prep", found["nuts"]["why"])
        self.enter({"kind": "assessed", "ph": 3.0})
        page = self.page()
        self.assertIn("What prep entered of its keeping counts once a lead has entered it too", page["use_by_why"])
        self.assertTrue(any(each["id"].startswith("waiting:") for each in page["report"]["sheet"]["questions"]))
        self.enter({"kind": "assessed", "ph": 3.0}, who="lead")
        self.assertNotIn("counts once", self.page()["use_by_why"])


class WhoAndWhen(_Cooking):
    def test_nobody_enters_as_somebody_else(self) -> None:
        (line,) = self.enter(entry({"kind": "noted", "text": "x"}, by="lead"))
        self.assertEqual((line["by"], line["said_by"]), ("prep", "lead"))
        (line,) = self.enter(entry({"kind": "noted", "text": "x"}, by="nobody at all"), who="lead")
        self.assertEqual((line["by"], line["said_by"]), ("lead", "nobody at all"))
        text = self.client_.get(f"/api/v1/batches/{self.batch.id}/log.csv").content.decode()
        self.assertIn(",nobody at all,", text)

    def test_what_one_entered_and_the_next_sends_stays_the_first_ones(self) -> None:
        lead = self.people["lead"]
        event = entry({"kind": "noted", "text": "made by the lead"}, by="lead")
        (line,) = self.enter(event, marks={event["id"]: mark_of(lead)})
        self.assertEqual((line["by"], line["sent_by"], line["said_by"]), ("lead", "prep", ""))
        mark = json.loads(self.signed_in("lead").get("/api/v1/session").content)["person"]["mark"]
        again = entry({"kind": "noted", "text": "x"}, by="lead")
        self.assertEqual(self.enter(again, marks={again["id"]: mark})[0]["by"], "lead")
        for wrong in ("", "x", mark[:-2], mark_of(self.stranger), mark_of(self.people["view"])):
            event = entry({"kind": "noted", "text": "x"}, by="lead")
            (line,) = self.enter(event, marks={event["id"]: wrong})
            self.assertEqual((line["by"], line["said_by"]), ("prep", "lead"), wrong)

    def test_an_answer_of_a_session_passed_on_by_pin_is_no_leads(self) -> None:
        lead = self.people["lead"]
        lead.by_pin = True
        event = entry({"kind": "assessed", "ph": 3.0}, by="lead")
        self.enter(event, marks={event["id"]: mark_of(lead)})
        self.assertFalse(LogEntry.objects.get(pk=event["id"]).by_lead)

    def test_the_tablets_own_time_stands_beside_the_one_it_is_read_with(self) -> None:
        now = datetime.now(UTC)
        for at, clock, cannot in (
            (now + timedelta(hours=3), None, True),
            (now + timedelta(hours=3), now + timedelta(hours=3), False),
            (now - timedelta(days=400), None, True),
            (now, None, False),
        ):
            event = entry({"kind": "noted", "text": "x"}) | {"at": at.isoformat()}
            (line,) = self.enter(event, **({} if clock is None else {"clock": clock.isoformat()}))
            with self.subTest(at=at, clock=clock):
                self.assertEqual(line["time_cannot_be"], cannot)
                read = datetime.fromisoformat(line["at"])
                self.assertLess(abs(read - now), timedelta(seconds=60))
                self.assertEqual(line["said_at"] is not None, at != now)
                self.assertLess(abs(datetime.fromisoformat(line["received_at"]) - datetime.now(UTC)), timedelta(seconds=60))

    def test_sending_again_after_the_tablet_changed_hands_keeps_it_once(self) -> None:
        event = entry({"kind": "noted", "text": "x"}, by="prep")
        self.enter(event)
        (line,) = self.enter(event, who="lead")
        self.assertEqual((line["by"], line["said_by"]), ("prep", ""))
        self.assertEqual(LogEntry.objects.filter(batch=self.batch).count(), 1)


class StartedAtOnce(TransactionTestCase):
    def setUp(self) -> None:
        site, other = Site.objects.create(name="One"), Site.objects.create(name="Another")
        self.lead = User.objects.create_user("lead", password=PASSWORD, site=site, role=Role.LEAD)
        self.stranger = User.objects.create_user("stranger", password=PASSWORD, site=other, role=Role.LEAD)
        self.batch = begun_batch(self.lead)

    def test_an_id_of_another_site_is_a_conflict_and_tells_nothing(self) -> None:
        theirs = begun_batch(self.stranger)
        self.client.force_login(self.stranger, backend="jugserver.accounts.backends.PersonBackend")
        body = {"id": str(self.batch.pk), "formula": str(theirs.formula_id), "version": 1}
        answer = self.client.post("/api/v1/batches", body, content_type="application/json")
        self.assertEqual(answer.status_code, 409, answer.content[:300])
        self.assertNotIn(self.batch.name, answer.content.decode())

    def test_ten_at_once_start_one(self) -> None:
        id = uuid4()
        started = at_once(10, lambda: start_batch(actor=self.lead, formula_id=self.batch.formula_id, version=1, id=id).pk)
        self.assertEqual(started, [id] * 10)

    def test_entries_of_ten_sent_twice_at_once_are_kept_once(self) -> None:
        events = [Event.model_validate(entry({"kind": "noted", "text": str(n)})) for n in range(10)]
        kept = at_once(4, lambda: append(actor=self.lead, batch_id=self.batch.pk, events=events).seq)
        self.assertEqual(kept, [10] * 4)
        self.assertEqual(LogEntry.objects.filter(batch=self.batch).count(), 10)
