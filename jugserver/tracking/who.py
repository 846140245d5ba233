"""Tells the triggers of the database who is at it: the person of the request and their address, or a command."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

from axes.helpers import get_client_ip_address
from django.apps import apps
from django.db import connection, transaction
from django.http import HttpRequest, HttpResponse
from pghistory.models import Event

_Told = dict[str, str | bool | None]


@cache
def tracked_models() -> dict[str, Any]:
    """Tables whose changes are kept, and the model of what is kept of each."""
    of: Any = {model: getattr(model, "pgh_tracked_model", None) for model in apps.get_models() if issubclass(model, Event)}
    return {tracked._meta.db_table: model for model, tracked in of.items() if tracked is not None}


@contextmanager
def done_by(told: Callable[[], _Told]) -> Iterator[None]:
    """Within it what this thread changes is written down as done so; asked for only where something is."""

    def tell(execute: Callable[..., Any], sql: Any, params: Any, many: bool, context: dict[str, Any]) -> Any:
        if not _writes(sql):
            return execute(sql, params, many, context)
        # For this transaction alone: the connection is another's after it.
        with transaction.atomic():
            context["connection"].connection.execute("select set_config('pghistory.context_metadata', %s, true)", [json.dumps(told())])
            return execute(sql, params, many, context)

    with connection.execute_wrapper(tell):
        yield


def _writes(sql: Any) -> bool:
    return isinstance(sql, str) and sql[:6].upper() in ("INSERT", "UPDATE", "DELETE") and any(f'"{table}"' in sql for table in tracked_models())


def by_command(name: str) -> Any:
    """What a command of this machine's keeper does."""
    return done_by(lambda: {"by": None, "how": f"./jug {name}"})


class TellWho:
    """Middleware: what a request changes was changed by its person."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        with done_by(lambda: _of(request)):
            return self.get_response(request)


def _of(request: HttpRequest) -> _Told:
    user: Any = request.user
    return {
        "by": user.username if user.is_authenticated else None,
        "how": "PIN" if request.session.get("by_pin") else "password",
        "address": get_client_ip_address(request),
    }
