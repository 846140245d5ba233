"""The rows of a database, kept so that it can be made as it was in a few milliseconds."""

from __future__ import annotations

import os
import pickle
import time
from dataclasses import dataclass
from pathlib import Path

from django.db import connection, transaction

#: A request takes less. [s]
_DONE_WITHIN_S = 20.0


@dataclass(frozen=True)
class Snapshot:
    """Every row of every table, and where every sequence stands."""

    rows: dict[str, bytes]
    sequences: dict[str, int | None]

    @classmethod
    def take(cls) -> Snapshot:
        with transaction.atomic(), connection.cursor() as cursor:
            cursor.execute("select quote_ident(tablename) from pg_tables where schemaname = 'public' order by 1")
            tables = [name for (name,) in cursor.fetchall()]
            cursor.execute("select quote_ident(sequencename), last_value from pg_sequences where schemaname = 'public'")
            sequences = dict(cursor.fetchall())
            return cls({table: _copied(cursor, table) for table in tables}, sequences)

    def write(self, path: Path) -> None:
        new = path.with_suffix(f".{os.getpid()}")
        new.write_bytes(pickle.dumps(self))
        new.replace(path)

    @staticmethod
    def read(path: Path) -> Snapshot:
        found: Snapshot = pickle.loads(path.read_bytes())
        return found

    def restore(self) -> None:
        """Make the database as it was, once whoever else is at it is done.

        Raises
        ------
        AssertionError
            Somebody stays at it.
        """
        deadline = time.monotonic() + _DONE_WITHIN_S
        while others := self._others_at_it():
            if time.monotonic() > deadline:
                raise AssertionError(f"Another connection stays at the database of the tests: {others}")
            time.sleep(0.01)
        with transaction.atomic(), connection.cursor() as cursor:
            # Rows come back as they were: no trigger, no check of what refers to what, whatever their order.
            cursor.execute("set local session_replication_role = replica")
            cursor.execute(f"lock table {', '.join(self.rows)} in share row exclusive mode")
            for table, rows in self.rows.items():
                cursor.execute(f"delete from {table}")
                with cursor.copy(f"copy {table} from stdin (format binary)") as copy:
                    copy.write(rows)
            for sequence, last in self.sequences.items():
                cursor.execute("select setval(%s, %s, %s)", [sequence, last or 1, last is not None])

    @staticmethod
    def _others_at_it() -> list[tuple[str, str]]:
        """State and last words of other connections in the middle of something; one that listens or waits to be used is not."""
        with connection.cursor() as cursor:
            cursor.execute(
                "select state, query from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid() "
                "and backend_type = 'client backend' and state <> 'idle'"
            )
            return list(cursor.fetchall())


def _copied(cursor, table: str) -> bytes:
    with cursor.copy(f"copy {table} to stdout (format binary)") as copy:
        return b"".join(bytes(each) for each in copy)
