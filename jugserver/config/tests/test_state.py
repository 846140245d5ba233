"""What the app says of its own state, and what it writes down."""

from __future__ import annotations

import json
import logging
from datetime import timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from types import SimpleNamespace
from unittest import mock

from django.db import InterfaceError, OperationalError, transaction
from django.test import override_settings
from django.utils import timezone
from psycopg.errors import DiskFull

from jugserver.accounts.models import Site
from jugserver.batches.models import LogEntry
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.logs import AsJson, OneLine
from jugserver.config.ready import CHECKS
from jugserver.config.tests.shop import ShopCase

READY = "/api/ready"


class Ready(ShopCase):
    def checks(self, status: int) -> dict[str, str]:
        answer = self.signed_in(None).get(READY)
        self.assertEqual(answer.status_code, status, answer.content)
        found: dict[str, str] = json.loads(answer.content)["checks"]
        return {name: words for name, words in found.items() if words}

    def test_all_is_well(self) -> None:
        self.assertEqual(self.checks(200), {})

    def test_each_thing_that_is_wrong_is_said_by_its_name(self) -> None:
        with mock.patch("jugserver.process.disk.shutil.disk_usage", return_value=SimpleNamespace(free=3 * 1024 * 1024)):
            self.assertEqual(self.checks(503), {"disk": "3 MB are free"})
        with TemporaryDirectory() as scratch:
            secret = Path(scratch) / "secret"
            secret.write_text("x", encoding="ascii")
            secret.chmod(0o644)
            with override_settings(SECRET_FILE=secret):
                self.assertEqual(self.checks(503), {"secret": "others can read it"})
            secret.chmod(0o600)
            with override_settings(SECRET_FILE=secret):
                self.assertEqual(self.checks(200), {})
            secret.unlink()
            with override_settings(SECRET_FILE=secret):
                self.assertIn("secret", self.checks(503))
        with mock.patch("jugserver.config.ready.MigrationExecutor") as executor:
            executor.return_value.migration_plan.return_value = ["one"]
            self.assertEqual(self.checks(503), {"schema": "it is not up to date"})
        away = "the database does not answer"
        with mock.patch.dict(CHECKS, {"database": mock.Mock(side_effect=OperationalError("gone\nfor good"))}):
            self.assertEqual(self.checks(503), {"database": "gone", "schema": away, "clock": away})
        batch = begun_batch(self.people["lead"])
        self.send(self.signed_in("lead"), "POST", f"/api/v1/batches/{batch.id}/entries", {"events": [entry({"kind": "noted", "text": "x"})]})
        with mock.patch("jugserver.config.ready.datetime") as clock:
            clock.now.return_value = timezone.now() - timedelta(days=2)
            self.assertIn("clock", self.checks(503))
        self.assertEqual(LogEntry.objects.count(), 1)

    def test_a_database_that_is_away_is_said_in_words_whatever_was_asked(self) -> None:
        client = self.signed_in("lead")
        full = OperationalError("could not extend file")
        full.__cause__ = DiskFull("no space left")
        for error, words in (
            (OperationalError("gone"), "The database does not answer."),
            (InterfaceError("closed"), "The database does not answer."),
            (full, "The server's disk is full"),
        ):
            with mock.patch("jugserver.batches.lists.page_of", side_effect=error), self.assertLogs("jugserver.http.problems", "WARNING"):
                self.assert_problem(client.get("/api/v1/batches"), 503, word=words)
        with (
            mock.patch("jugserver.process.disk.shutil.disk_usage", return_value=SimpleNamespace(free=3 * 1024 * 1024)),
            mock.patch("jugserver.batches.lists.page_of", side_effect=OperationalError("gone")),
            self.assertLogs("jugserver.http.problems", "WARNING"),
        ):
            self.assert_problem(client.get("/api/v1/batches"), 503, word="its disk is nearly full: 3 MB are free")
        with (
            mock.patch("jugserver.config.page.connection.cursor", side_effect=OperationalError("gone")),
            self.assertLogs("jugserver.http.problems", "WARNING"),
        ):
            self.assert_problem(client.get("/api/health"), 503, word="does not answer")


class Contradicted(ShopCase):
    def test_what_the_database_refuses_is_named_by_its_rule(self) -> None:
        def refused(*_: object) -> None:
            Site.objects.create(name="")

        with (
            mock.patch("jugserver.batches.lists.page_of", side_effect=refused),
            self.assertLogs("jugserver.http.problems", "WARNING"),
            transaction.atomic(),
        ):
            answer = self.signed_in("lead").get("/api/v1/batches")
            transaction.set_rollback(True)
        self.assert_problem(answer, 409, word="site has a name")


class WrittenDown(ShopCase):
    def test_a_line_for_every_request_with_who_and_how_it_ended_and_nothing_that_was_sent(self) -> None:
        client = self.signed_in("prep")
        with self.assertLogs("oakenjug.requests", "INFO") as logs:
            answer = client.get("/api/v1/batches?q=a-secret-word")
            self.send(client, "POST", "/api/v1/walk", {"name": "a-secret-word"})
        told = [json.loads(AsJson().format(record)) for record in logs.records]
        self.assertEqual(
            [(each["method"], each["path"], each["status"], each["who"]) for each in told],
            [("GET", "/api/v1/batches", 200, "prep"), ("POST", "/api/v1/walk", 422, "prep")],
        )
        self.assertEqual(told[0]["id"], answer["X-Request-Id"])
        self.assertTrue(all(each["ms"] >= 0 and each["at"] and each["from"] for each in told))
        self.assertNotIn("a-secret-word", json.dumps(told))

    def test_nothing_that_was_sent_breaks_or_forges_a_line(self) -> None:
        client = self.signed_in(None)
        forged = "/api/%0A2026-01-01T00:00:00 ERROR root: forged%0D%1B[2J%E2%80%A8x"
        with self.assertLogs("django.request", "WARNING") as logs, self.assertLogs("oakenjug.requests", "INFO") as requests:
            client.get(forged)
        for text in (*(OneLine().format(record) for record in logs.records), *(AsJson().format(record) for record in requests.records)):
            self.assertEqual(len(text.splitlines()), 1, text)
            self.assertTrue(text.isprintable(), text)
        try:
            raise ValueError("one\ntwo\x1b[2J")
        except ValueError as error:
            record = logging.LogRecord("x", logging.ERROR, "", 1, "a\nb", None, (type(error), error, error.__traceback__))
        first, *rest = OneLine().format(record).splitlines()
        self.assertIn("a\\nb", first)
        self.assertTrue(all(line.startswith("    | ") for line in rest))
