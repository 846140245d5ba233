"""Databases on the server of the tests."""

from __future__ import annotations

import os
import time
from typing import Any

import psycopg
from django.conf import settings
from django.db import connection

#: The server of the tests is started a moment before them, and answers within this time. [s]
_ANSWERS_WITHIN_S = 30.0


def maintenance() -> psycopg.Connection:
    """A connection that belongs to no database of ours, for making and dropping them."""
    return psycopg.connect(**where(), dbname="postgres", autocommit=True)


def where() -> dict[str, Any]:
    db = settings.DATABASES["default"]
    return {"host": db["HOST"], "port": db["PORT"], "user": db["USER"], "password": db["PASSWORD"]}


def clone_name() -> str:
    """What the copy of this process is called, before it is there."""
    return f"{settings.DATABASES['default']['NAME']}_{os.getpid()}"


def take_clone() -> None:
    """Have this process use a copy of the migrated database that is its own, as Django's own parallel runner does."""
    from jugserver.pantry.library_rows import write_library

    own = str(os.getpid())
    _answers()
    connection.creation.clone_test_db(own, verbosity=0)
    connection.creation.setup_worker_connection(os.getpid())
    # Migrating wrote the library of when the database was made; that of now may be another.
    write_library()
    connection.close()  # tests in a browser run in a context of their own and open another


def _answers() -> None:
    """Wait until the server does.

    Raises
    ------
    psycopg.OperationalError
        It has not in time; says how it refuses.
    """
    deadline = time.monotonic() + _ANSWERS_WITHIN_S
    while True:
        try:
            maintenance().close()
            return
        except psycopg.OperationalError:
            if time.monotonic() > deadline:
                raise
            time.sleep(0.02)
