"""Queries that are planned for what they are asked with."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import connection


@contextmanager
def planned_anew() -> Iterator[None]:
    """Has what is asked inside planned for the word it is asked with.

    Connections keep their statements prepared; but whether to read all rows in order or the index of words is right for one
    word and forty times too slow for another.
    """
    connection.ensure_connection()
    kept = connection.connection.prepare_threshold
    connection.connection.prepare_threshold = None
    try:
        yield
    finally:
        connection.connection.prepare_threshold = kept
