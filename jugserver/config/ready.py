"""Whether the app can do its work: the database and its schema, the disk its data is on, the secret, the clock, the screens."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

from django.conf import settings
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor

from jugserver.process.disk import nearly_full

#: No clock that is right shows a time before this program was written.
WRITTEN = datetime(2026, 1, 1, tzinfo=UTC)


def _database() -> str:
    with connection.cursor() as cursor:
        cursor.execute("select 1")
    return ""


def _schema() -> str:
    executor = MigrationExecutor(connection)
    return "it is not up to date" if executor.migration_plan(executor.loader.graph.leaf_nodes()) else ""


def _secret() -> str:
    if settings.SECRET_FILE is None:
        return ""
    return "others can read it" if settings.SECRET_FILE.stat().st_mode & 0o077 else ""


def _clock() -> str:
    now = datetime.now(UTC)
    with connection.cursor() as cursor:
        cursor.execute("select max(received_at) from batches_logentry")
        last = cursor.fetchone()[0]
    if now < WRITTEN:
        return f"it shows {now:%d %b %Y}"
    return f"it shows {now:%d %b %Y %H:%M}, and an entry was kept {last:%d %b %Y %H:%M}" if last is not None and last > now else ""


def _screens() -> str:
    return "" if (settings.WEB_DIST / "index.html").is_file() else "they are not built"


CHECKS: dict[str, Callable[[], str]] = {
    "database": _database, "schema": _schema, "disk": nearly_full, "secret": _secret, "clock": _clock, "screens": _screens,
}  # fmt: skip
#: What cannot be looked at without the database; each would wait for it as long again.
ASK_THE_DATABASE = frozenset({"schema", "clock"})


def state() -> dict[str, str]:
    """Each check by name, with what is wrong in words; nothing where it is right."""
    found: dict[str, str] = {}
    for name, check in CHECKS.items():
        if found.get("database") and name in ASK_THE_DATABASE:
            found[name] = "the database does not answer"
            continue
        try:
            found[name] = check()
        except (DatabaseError, OSError) as error:
            found[name] = str(error).strip().splitlines()[0] if str(error).strip() else type(error).__name__
    return found
