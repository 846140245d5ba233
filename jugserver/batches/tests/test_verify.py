"""What is kept is what was kept: the chain of a log, and what is said when something in it was changed behind the app's back."""

from __future__ import annotations

import io
from typing import Any

from django.core.management import CommandError, call_command
from django.db import connection, transaction

from jugcore.batch.log.events import Event
from jugserver.batches.log import append
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.batches.verify import faults
from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.models import Version


class Kept(ShopCase):
    def setUp(self) -> None:
        self.batch = begun_batch(self.people["lead"])
        whats: list[dict[str, Any]] = [
            {"kind": "weighed", "line": "juice", "reads_g": 410.25}, {"kind": "weighed", "line": "mace", "reads_g": 1e-6},
            {"kind": "noted", "text": "“½ foams” ☕"}, {"kind": "put_right", "title": "x", "document": self.batch.document},
            {"kind": "timer", "timer": "t", "title": "x", "seconds": 1e-7}, {"kind": "accepted", "about": "brix", "actual": 1e22},
        ]  # fmt: skip
        for what in whats:
            append(actor=self.people["prep"], batch_id=self.batch.id, events=[Event.model_validate(entry(what))])

    def behind(self, sql: str, *parameters: Any) -> None:
        """Change something as nobody may: with the triggers away."""
        with connection.cursor() as cursor:
            cursor.execute("set local session_replication_role = replica")
            cursor.execute(sql, parameters)
            cursor.execute("set local session_replication_role = origin")

    def test_all_is_as_kept_and_the_command_says_so(self) -> None:
        self.assertEqual(list(faults()), [])
        out = io.StringIO()
        call_command("verify", stdout=out)
        self.assertIn("6 entries, 6 of them with a mark", out.getvalue())
        chains = list(LogEntry.objects.filter(batch=self.batch).values_list("chain", flat=True))
        self.assertEqual((len(set(chains)), Batch.objects.get(pk=self.batch.pk).chain), (6, chains[-1]))

    def test_whatever_is_changed_left_out_or_put_between_is_found(self) -> None:
        third = LogEntry.objects.get(batch=self.batch, seq=3)
        lead = self.people["lead"].pk
        for sql, parameters, words in (
            ("update batches_logentry set event = jsonb_set(event, '{what,text}', '\"calm\"') where id = %s", (third.pk,), "entry 3"),
            ("update batches_logentry set event = jsonb_set(event, '{by}', '\"lead\"') where id = %s", (third.pk,), "entry 3"),
            ("update batches_logentry set at = at - interval '1 hour' where id = %s", (third.pk,), "entry 3"),
            ("update batches_logentry set received_at = received_at + interval '1 s' where id = %s", (third.pk,), "entry 3"),
            ("update batches_logentry set sent_by_id = %s where id = %s", (lead, third.pk), "entry 3"),
            ("update batches_logentry set by_lead = true where id = %s", (third.pk,), "entry 3"),
            ("update batches_logentry set chain = '' where id = %s", (third.pk,), "entry 3"),
            ("delete from batches_logentry where id = %s", (third.pk,), "entry 3 is missing"),
            ("delete from batches_logentry where batch_id = %s and seq = 6", (self.batch.pk,), "ends at entry 5"),
            ("update batches_batch set last_seq = 4, chain = '' where id = %s", (self.batch.pk,), "ends at entry 6"),
            ("update batches_batch set chain = repeat('0', 64) where id = %s", (self.batch.pk,), "newest entry is another"),
            ('update batches_batch set document = document || \'{"notes": "x"}\' where id = %s', (self.batch.pk,), "what it was started from"),
            ('update formulas_version set document = document || \'{"notes": "x"}\' where id = %s', (self.batch.version_id,), "not what was saved"),
        ):
            with self.subTest(sql):
                with transaction.atomic():
                    self.behind(sql, *parameters)
                    found = list(faults())
                    self.assertEqual(len(found), 1, found)
                    self.assertIn(words, found[0])
                    with self.assertRaisesRegex(CommandError, "1 thing is not as kept"):
                        call_command("verify", stderr=io.StringIO())
                    transaction.set_rollback(True)
        self.assertEqual(list(faults()), [])

    def test_a_log_of_before_there_were_marks_is_sealed_by_the_next_entry(self) -> None:
        self.behind("update batches_logentry set chain = '' where batch_id = %s", self.batch.pk)
        self.behind("update batches_batch set chain = '' where id = %s", self.batch.pk)
        self.assertEqual(list(faults()), [])
        append(actor=self.people["prep"], batch_id=self.batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": "after"}))])
        self.assertEqual(list(faults()), [])
        self.behind("update batches_logentry set event = jsonb_set(event, '{what,reads_g}', '9') where batch_id = %s and seq = 1", self.batch.pk)
        self.assertIn("entry 7", next(faults()))

    def test_every_version_reads_as_it_was_saved(self) -> None:
        self.assertGreater(Version.objects.count(), 0)
        self.assertEqual([each for each in faults() if "Version" in each], [])
