"""The app as it is served, which also tells whether it is at a request: a page that is closed does not end what it asked for."""

from __future__ import annotations

import contextlib
import threading
from collections.abc import Awaitable, Callable, Iterator
from typing import Any

from django.conf import settings
from django.http import HttpRequest
from django.http.response import HttpResponseBase

from jugserver.config.asgi import OneThread
from jugserver.config.bodies import bounded
from jugserver.config.tests.served import UNDER_WAY

#: A stream is under way as long as its page is open; it only reads.
_STREAM = "/api/v1/stream"


class Counted(OneThread):
    def __init__(self) -> None:
        super().__init__()
        self._counting = threading.Lock()
        self._under_way = 0

    async def __call__(self, scope: Any, receive: Callable[[], Awaitable[Any]], send: Callable[[Any], Awaitable[None]]) -> None:
        if scope["path"] == UNDER_WAY:
            await send({"type": "http.response.start", "status": 200, "headers": []})
            await send({"type": "http.response.body", "body": str(self._under_way).encode()})
            return
        if scope["path"] == _STREAM:
            await super().__call__(scope, receive, send)
            return
        with self._one_more():
            await super().__call__(scope, receive, send)

    def get_response(self, request: HttpRequest) -> HttpResponseBase:
        # Counted here too: its thread goes on where the call above has been given up.
        with self._one_more():
            return super().get_response(request)

    @contextlib.contextmanager
    def _one_more(self) -> Iterator[None]:
        with self._counting:
            self._under_way += 1
        try:
            yield
        finally:
            with self._counting:
                self._under_way -= 1


application = bounded(Counted(), settings.DATA_UPLOAD_MAX_MEMORY_SIZE)
