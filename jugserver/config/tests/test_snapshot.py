"""What browser tests begin with: the rows and sequences of a database as they were."""

from __future__ import annotations

import tempfile
import threading
import time
from pathlib import Path
from unittest import mock

import psycopg
from django.db import connection
from django.test import TransactionTestCase

from jugcore.batch.log.events import Event
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.log import append
from jugserver.batches.models import LogEntry
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests import snapshot
from jugserver.config.tests.databases import where
from jugserver.config.tests.snapshot import Snapshot
from jugserver.formulas.models import Formula, Version


class Restored(TransactionTestCase):
    def setUp(self) -> None:
        self.site = Site.objects.create(name="Weir kitchen")
        self.lead = User.objects.create_user("lead", password="a-long-test-password", site=self.site, role=Role.LEAD, display_name="Lead")

    def other(self) -> psycopg.Connection:
        """A connection as a request of the app has one."""
        return psycopg.connect(**where(), dbname=connection.settings_dict["NAME"])

    @staticmethod
    def everything() -> dict[str, list[tuple[str]]]:
        """Every row of every table as text."""
        with connection.cursor() as cursor:
            cursor.execute("select quote_ident(tablename) from pg_tables where schemaname = 'public'")
            found = {}
            for (table,) in cursor.fetchall():
                cursor.execute(f"select t::text from {table} t order by 1")
                found[table] = cursor.fetchall()
            return found

    def test_rows_and_sequences_are_as_they_were_whatever_triggers_forbid(self) -> None:
        batch = begun_batch(self.lead)
        before = Snapshot.take()
        Site.objects.create(name="Another kitchen")
        User.objects.filter(pk=self.lead.pk).update(display_name="Somebody else")
        Formula.objects.all().update(name="Renamed")
        with self.other() as other:
            other.execute("set session_replication_role = replica")  # what is frozen or only added to cannot be taken away otherwise
            for table in ("batches_logentry", "formulas_version"):
                other.execute(f"delete from {table}")
        before.restore()
        self.assertEqual([site.name for site in Site.objects.all()], ["Weir kitchen"])
        self.assertEqual(User.objects.get().display_name, "Lead")
        self.assertEqual((Version.objects.count(), LogEntry.objects.filter(batch=batch.id).count()), (1, 0))
        self.assertNotIn("Renamed", Formula.objects.values_list("name", flat=True))
        self.assertEqual(Site.objects.create(name="The next").pk, self.site.pk + 1)  # as if the other had never been
        before.restore()
        again = self.everything()
        Site.objects.create(name="The one after")
        self.assertNotEqual(self.everything(), again)
        before.restore()
        self.assertEqual(self.everything(), again)
        with tempfile.TemporaryDirectory() as scratch:
            before.write(Path(scratch) / "rows")
            self.assertEqual(Snapshot.read(Path(scratch) / "rows"), before)

    def test_a_request_that_is_still_under_way_is_waited_for(self) -> None:
        before = Snapshot.take()
        other = self.other()
        other.execute("update accounts_site set name = 'Late'")

        def end() -> None:
            time.sleep(0.3)
            other.commit()
            other.close()

        late = threading.Thread(target=end)
        late.start()
        began = time.monotonic()
        before.restore()
        late.join()
        self.assertGreater(time.monotonic() - began, 0.25)
        self.assertEqual(Site.objects.get().name, "Weir kitchen")

    def test_one_that_never_ends_is_told(self) -> None:
        before = Snapshot.take()
        with self.other() as other, mock.patch.object(snapshot, "_DONE_WITHIN_S", 0.2):
            other.execute("select 'here to stay'")
            with self.assertRaisesRegex(AssertionError, "here to stay"):
                before.restore()
        with self.other() as other:
            other.autocommit = True
            other.execute("listen anything")  # the app's own listener hears on
            before.restore()

    def test_entries_come_back_with_their_numbers(self) -> None:
        batch = begun_batch(self.lead)
        append(actor=self.lead, batch_id=batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": "one"}))])
        before = Snapshot.take()
        append(actor=self.lead, batch_id=batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": "two"}))])
        before.restore()
        self.assertEqual(list(LogEntry.objects.values_list("seq", flat=True)), [1])
        append(actor=self.lead, batch_id=batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": "another two"}))])
        self.assertEqual(list(LogEntry.objects.order_by("seq").values_list("seq", flat=True)), [1, 2])
