"""What is written down: a line of JSON for every request, and for everything else a line that nothing sent can break or forge."""

from __future__ import annotations

import json
import logging
import time
import uuid
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

from django.http import HttpRequest, HttpResponse

requests = logging.getLogger("oakenjug.requests")


class OneLine(logging.Formatter):
    """A line a message, whatever stands in it: what could end a line or move a cursor is written as its code. Tracebacks are set in."""

    def format(self, record: logging.LogRecord) -> str:
        at = datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds")
        text = f"{at} {record.levelname} {record.name}: {_plain(record.getMessage())}"
        if record.exc_info:
            text += "".join(f"\n    | {_plain(line)}" for line in self.formatException(record.exc_info).splitlines())
        return text


class AsJson(logging.Formatter):
    """What a request was, as one line of JSON."""

    def format(self, record: logging.LogRecord) -> str:
        return json.dumps(getattr(record, "told", {}), ensure_ascii=True, separators=(",", ":"))


def _plain(text: str) -> str:
    return "".join(letter if letter.isprintable() else letter.encode("unicode_escape", "replace").decode() for letter in text)


class EveryRequest:
    """Outermost middleware: when, what, who, from where, how it ended and how long it took. Neither query nor body is written down."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        began = time.perf_counter()
        id = uuid.uuid4().hex[:16]
        response = self.get_response(request)
        response["X-Request-Id"] = id
        if request.path.startswith("/api/"):
            told: dict[str, Any] = {
                "at": datetime.now(UTC).isoformat(timespec="milliseconds"), "id": id, "method": request.method, "path": request.path[:500],
                "status": response.status_code, "ms": round(1000 * (time.perf_counter() - began), 1), "who": _who(request),
                "from": request.META.get("REMOTE_ADDR", ""),
            }  # fmt: skip
            requests.info("", extra={"told": told})
        return response


def _who(request: HttpRequest) -> str:
    """The name of who asked, where the request found that out; it is not looked up for a log."""
    user = request.__dict__.get("_cached_user")
    return user.get_username() if user is not None and user.is_authenticated else ""
