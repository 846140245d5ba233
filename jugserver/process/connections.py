"""Connections to the database are shared: whoever waits for something else gives theirs back."""

from __future__ import annotations

from django.db import connections


def give_back() -> None:
    """Give this thread's connections back, but in the middle of a transaction; the next query takes one again."""
    for connection in connections.all(initialized_only=True):
        if not connection.in_atomic_block:
            connection.close()
