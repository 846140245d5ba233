"""Every committed database of an earlier release still opens: migrated, and every formula walked."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import psycopg
from django.contrib.contenttypes.models import ContentType
from django.core.management import call_command
from django.db import connection
from django.test import SimpleTestCase
from psycopg import sql

from jugcore.tests.depth import DEEP
from jugserver.accounts.models import Site
from jugserver.batches.lists import Filter, all_of, page_of
from jugserver.batches.states import forget
from jugserver.batches.verify import faults
from jugserver.config.tests.databases import maintenance, where
from jugserver.formulas import lists as formulas

#: Dump → how many batches it lists, read anew from their logs; none before there were any.
BATCHES = {"hob": 40, "pantry": 40}
#: Dump → how many formulas it lists, and how many of them walk to their end.
EXPECTED = {
    "frame": (7, 7),
    "ways": (7, 7),
    "hob": (7, 7),
    "pantry": (7, 7),
    "bench": (8, 7),  # one put away, one copied, one with an amount that cannot be read yet
}
#: For every day: the oldest, which every migration goes over, the newest with batches, and the one with what is out of the ordinary.
DAILY = ("frame", "pantry", "bench")
DUMPS = Path(__file__).resolve().parents[2] / "demo" / "dumps"


class Upgrade(SimpleTestCase):
    databases = {"default"}

    def test_every_dump_migrates_and_serves(self) -> None:
        dumps = sorted(DUMPS.glob("*.sql"))
        self.assertEqual({dump.stem for dump in dumps}, set(EXPECTED))
        for dump in dumps if DEEP else [DUMPS / f"{name}.sql" for name in DAILY]:
            with self.subTest(dump=dump.name), self._opened(dump):
                bought = self._bought("supplier")
                call_command("migrate", interactive=False, verbosity=0)
                # Names of suppliers became rows: each pack and lot still is from whom it was.
                self.assertEqual(self._bought("(select name from pantry_supplier where id = supplier_id)"), bought)
                site = Site.objects.get()
                cards = formulas.page_of(site).items
                self.assertEqual((len(cards), sum(card.trouble is None for card in cards)), EXPECTED[dump.stem])
                # As it was left, and read anew.
                self.assertEqual(sum(len(page) for page in all_of(site, Filter())), BATCHES.get(dump.stem, 0))
                forget()
                self.assertEqual(len(page_of(site).items), BATCHES.get(dump.stem, 0))
                # What an earlier release kept still is what it kept: its fingerprints are those of today.
                self.assertEqual(list(faults()), [])

    @staticmethod
    def _bought(supplier: str) -> list[tuple[object, ...]]:
        """Packs and lots with their suppliers; none where the release had none yet."""
        with connection.cursor() as cursor:
            cursor.execute("select to_regclass('pantry_pack')")
            if cursor.fetchone() == (None,):
                return []
            cursor.execute(
                f"select 'pack', id, coalesce({supplier}, '') from pantry_pack union select 'lot', id, coalesce({supplier}, '') from pantry_lot order by 1, 2"
            )
            return list(cursor.fetchall())

    @contextmanager
    def _opened(self, dump: Path) -> Iterator[None]:
        """This process at a database as the dump left it; nothing known of another one counts there."""
        name, ours = f"upgrade_{dump.stem}_{connection.settings_dict['NAME']}", connection.settings_dict["NAME"]
        database = sql.Identifier(name)
        with maintenance() as server:
            server.execute(sql.SQL("create database {}").format(database))
            try:
                with psycopg.connect(**where(), dbname=name, autocommit=True) as fresh:
                    fresh.execute(dump.read_bytes())
                self._turn_to(name)
                yield
            finally:
                self._turn_to(ours)
                server.execute(sql.SQL("drop database {} with (force)").format(database))

    @staticmethod
    def _turn_to(name: str) -> None:
        connection.close()
        connection.settings_dict["NAME"] = name
        ContentType.objects.clear_cache()
