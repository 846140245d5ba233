"""The role the app connects as: it reads and writes rows, and owns nothing.

Migrations run as the owner. The app's own role may not change or empty a table, turn a trigger off, or have the
database run a program: whoever gets hold of the app's connection can do what the app can, and no more.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection, connections
from psycopg import sql

from jugserver.process.environment import environment
from jugserver.tracking.who import tracked_models


@contextmanager
def as_owner() -> Iterator[None]:
    """Within it this process is connected as the owner of the database, if it knows how; without, as it was."""
    told = environment()
    if told.db_owner is None or told.db_owner_password_file is None:
        yield
        return
    default = connections["default"]
    own = {name: default.settings_dict[name] for name in ("USER", "PASSWORD")}
    _reconnect(told.db_owner, told.db_owner_password_file.read_text(encoding="utf-8").strip())
    try:
        yield
    finally:
        _reconnect(own["USER"], own["PASSWORD"])


def _reconnect(user: str, password: str) -> None:
    default: Any = connections["default"]
    default.close()
    default.close_pool()
    default.settings_dict["USER"], default.settings_dict["PASSWORD"] = user, password


def grant() -> None:
    """Have the app's role, with what it needs and nothing else. As the owner, after every migration."""
    told = environment()
    role, password = sql.Identifier(told.db_user), sql.Literal(told.db_password())
    with connection.cursor() as cursor:
        cursor.execute("select 1 from pg_roles where rolname = %s", [told.db_user])
        verb = sql.SQL("alter" if cursor.fetchone() else "create")
        rights = "login nosuperuser nocreatedb nocreaterole noreplication nobypassrls"
        cursor.execute(sql.SQL("{} role {} " + rights + " password {}").format(verb, role, password))
        for statement in (
            "revoke create on schema public from public",
            "grant usage on schema public to {}",
            "grant select, insert, update, delete on all tables in schema public to {}",
            "grant usage, select on all sequences in schema public to {}",
            # What has been applied is for migrations to say.
            "revoke insert, update, delete on django_migrations from {}",
        ):
            cursor.execute(sql.SQL(statement).format(role))
        # No setting of a connection has them look away.
        cursor.execute("create or replace function _pgtrigger_should_ignore(trigger_name name) returns boolean as 'select false' language sql")
        # What is kept of changes is written by triggers alone, which do it as the owner.
        for model in tracked_models().values():
            table = sql.Identifier(model._meta.db_table)
            cursor.execute(sql.SQL("revoke insert, update, delete on {} from {}").format(table, role))
        cursor.execute(
            "select p.oid::regprocedure::text from pg_proc p join pg_namespace n on n.oid = p.pronamespace "
            "where n.nspname = 'public' and p.proname like 'pgtrigger\\_%'"
        )
        for (function,) in cursor.fetchall():
            cursor.execute(f"alter function {function} security definer set search_path = public, pg_temp")
