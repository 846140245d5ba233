"""Every committed database of an earlier release still opens: migrated, and every formula walked."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import psycopg
from django.conf import settings
from django.test import SimpleTestCase
from psycopg import sql

#: Dump → how many batches it lists, read anew from their logs; none before there were any.
BATCHES = {"hob": "40", "pantry": "40"}
#: Dump → how many formulas it lists, and how many of them walk to their end.
EXPECTED = {
    "frame": "7 7",
    "ways": "7 7",
    "hob": "7 7",
    "pantry": "7 7",
    "bench": "8 7",  # one put away, one copied, one with an amount that cannot be read yet
}
DUMPS = Path(__file__).resolve().parents[2] / "demo" / "dumps"
_COUNT = (
    "from jugserver.accounts.models import Site; from jugserver.formulas.services import cards_of; "
    "cards = cards_of(Site.objects.get()); print(len(cards), sum(c.trouble is None for c in cards)); "
    "from jugserver.batches.models import BatchState; from jugserver.batches.services import cards_of as batches; "
    "BatchState.objects.all().delete(); print(len(batches(Site.objects.get())))"
)


class Upgrade(SimpleTestCase):
    def test_every_dump_migrates_and_serves(self) -> None:
        dumps = sorted(DUMPS.glob("*.sql"))
        self.assertEqual({dump.stem for dump in dumps}, set(EXPECTED))
        for dump in dumps:
            with self.subTest(dump=dump.name):
                self.assertEqual(self._open(dump), f"{EXPECTED[dump.stem]}\n{BATCHES.get(dump.stem, '0')}")

    def _open(self, dump: Path) -> str:
        db = settings.DATABASES["default"]
        where = {"host": db["HOST"], "port": db["PORT"], "user": db["USER"], "password": db["PASSWORD"]}
        name = f"upgrade_{dump.stem.replace('-', '_')}"
        database = sql.Identifier(name)
        with psycopg.connect(**where, dbname="postgres", autocommit=True) as server:
            server.execute(sql.SQL("drop database if exists {}").format(database))
            server.execute(sql.SQL("create database {}").format(database))
            try:
                with psycopg.connect(**where, dbname=name, autocommit=True) as fresh:
                    fresh.execute(dump.read_bytes())
                environment = {**os.environ, "OAKENJUG_DB_NAME": name}
                manage = [sys.executable, "manage.py"]
                subprocess.run([*manage, "migrate", "--no-input", "--verbosity", "0"], env=environment, check=True, capture_output=True)
                done = subprocess.run(
                    [*manage, "shell", "--verbosity", "0", "-c", _COUNT], env=environment, check=True, capture_output=True, text=True
                )
                return done.stdout.strip()
            finally:
                server.execute(sql.SQL("drop database {} with (force)").format(database))
