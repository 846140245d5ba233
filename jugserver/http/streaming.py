"""Answers that are sent by and by, as they are read."""

from __future__ import annotations

from collections.abc import AsyncIterator, Iterator
from itertools import chain

from asgiref.sync import sync_to_async
from django.core.handlers.asgi import ASGIRequest
from django.http import HttpRequest

from jugserver.process.connections import give_back


def sent_by_and_by(request: HttpRequest, parts: Iterator[str]) -> Iterator[str] | AsyncIterator[str]:
    """Parts of an answer, each worked out when the one before has gone out, in a thread that holds no connection between them.

    The first is worked out here and now, so that what goes wrong with it is told as any other problem.
    """
    first = next(parts, "")
    whole = chain([first], parts)
    return _each(whole) if isinstance(request, ASGIRequest) else whole


async def _each(parts: Iterator[str]) -> AsyncIterator[str]:
    def one() -> str | None:
        try:
            return next(parts, None)
        finally:
            give_back()

    while (part := await sync_to_async(one, thread_sensitive=False)()) is not None:
        yield part
