"""No body is read beyond what a request may have, whoever sends it and however it says how long it is."""

from __future__ import annotations

import asyncio
import contextlib
import json
from collections.abc import Awaitable, Callable
from typing import Any

from jugserver.http.problems import one_problem, problem_body

_Receive = Callable[[], Awaitable[Any]]
_Send = Callable[[Any], Awaitable[None]]
#: As a server calls it: what it is about, what comes, where the answer goes.
App = Callable[[Any, _Receive, _Send], Awaitable[None]]


#: So much of what is too long is let go by, and for so long, before the line is cut.
_MOST_DROPPED, _LONGEST_DROPPED_S = 32 * 1024 * 1024, 10.0


class TooLarge(Exception):
    """More came than a request may have."""


def bounded(app: App, most: int) -> App:
    """An ASGI application in front of another: what says that it is too long is answered at once, what turns out to be is cut off.

    It stands before Django, which would first write all of a body to disk.
    """

    async def answer(scope: Any, receive: _Receive, send: _Send) -> None:
        if scope["type"] != "http":
            await app(scope, receive, send)
            return
        if _said(scope) > most:
            await _drop(receive, 0)
            await _refuse(send, most)
            return
        came, begun = 0, False

        async def counted() -> Any:
            nonlocal came
            message = await receive()
            if message["type"] == "http.request":
                came += len(message.get("body", b""))
                if came > most:
                    raise TooLarge
            return message

        async def noted(message: Any) -> None:
            nonlocal begun
            begun = True
            await send(message)

        try:
            await app(scope, counted, noted)
        except TooLarge:
            if not begun:
                await _drop(receive, came)
                await _refuse(send, most)

    return answer


async def _drop(receive: _Receive, came: int) -> None:
    """Let what still comes go by unread, up to an end: who is hung up on while sending does not hear why."""
    with contextlib.suppress(TimeoutError):
        async with asyncio.timeout(_LONGEST_DROPPED_S):
            while came < _MOST_DROPPED:
                message = await receive()
                if message["type"] != "http.request" or not message.get("more_body", False):
                    return
                came += len(message.get("body", b""))


async def _refuse(send: _Send, most: int) -> None:
    items = one_problem("too_large", f"What was sent is larger than {most // (1024 * 1024)} MB.", "Send less at once.")
    data = json.dumps(problem_body(413, items)).encode()
    # The rest of the body is not read: the connection cannot be used for another request.
    headers = [(b"content-type", b"application/problem+json"), (b"content-length", str(len(data)).encode()), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": 413, "headers": headers})
    await send({"type": "http.response.body", "body": data})


def _said(scope: Any) -> int:
    """How long a request says its body is; 0 where it does not say."""
    for name, value in scope["headers"]:
        if name == b"content-length":
            try:
                return int(value)
            except ValueError:
                return 0
    return 0
