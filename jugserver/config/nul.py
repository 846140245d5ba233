"""The one character that no column of the database can hold is refused at the door, wherever it stands: address, question or body."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from django.http import HttpRequest, HttpResponse

from jugserver.http.problems import one_problem, problem_response

_NUL = "\x00"


class NoNul:
    """Middleware: a request under /api/ that holds a NUL is answered with where it stands.

    Fields that are texts refuse it by themselves, keys of maps and what is only looked up by do not; here nobody has to think of it.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        where = _place(request) if request.path.startswith("/api/") else None
        if where is None:
            return self.get_response(request)
        return problem_response(422, one_problem("nul", "The text holds a character that cannot be stored.", "Type it again.", field=where))


def _place(request: HttpRequest) -> str | None:
    """The field a NUL stands in, empty for the address itself; None where there is none."""
    if _NUL in request.path:
        return ""
    for name, values in request.GET.lists():
        if any(_NUL in text for text in (name, *values)):
            return name.replace(_NUL, "")
    # As JSON writes it, or as it is in what is not UTF-8; else there is none, and nothing to read.
    return _within(request.body) if b"\\u0000" in request.body or b"\x00" in request.body else None


def _within(body: bytes) -> str | None:
    try:
        waiting: list[tuple[str, Any]] = [("", json.loads(body))]
    except (ValueError, RecursionError):
        return None  # no JSON: the endpoint says so
    while waiting:
        field, value = waiting.pop()
        if isinstance(value, str) and _NUL in value:
            return field
        pairs = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
        for key, inner in pairs:
            name = f"{field}.{key}".lstrip(".").replace(_NUL, "")
            if isinstance(key, str) and _NUL in key:
                return name
            waiting.append((name, inner))
    return None
