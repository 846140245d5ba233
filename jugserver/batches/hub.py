"""One listener a process: hears of new entries and wakes the open streams they concern."""

from __future__ import annotations

import asyncio
import contextlib
import json
import logging
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

import psycopg
from django.db import connections
from psycopg.conninfo import make_conninfo

from jugserver.batches.log import CHANNEL

logger = logging.getLogger(__name__)

#: Before the listener tries again after the database went away. [s]
_AGAIN_S = 0.3


@dataclass(eq=False)
class Subscriber:
    """A stream that waits: what changed at its site since it looked, with entries as far as they were told; or that it missed something."""

    site_id: int
    changed: dict[UUID, list[dict[str, Any]]] = field(default_factory=dict)
    missed: bool = True
    wake: asyncio.Event = field(default_factory=asyncio.Event)


class Hub:
    """Listens while anybody is subscribed. Belongs to one event loop."""

    def __init__(self) -> None:
        self._subscribers: dict[int, set[Subscriber]] = defaultdict(set)
        self._task: asyncio.Task[None] | None = None

    @contextlib.contextmanager
    def subscribed(self, site_id: int) -> Iterator[Subscriber]:
        """A subscriber for as long as the stream is open."""
        me = Subscriber(site_id)
        me.wake.set()  # it looks once at once: something may have come in since its page was read
        self._subscribers[site_id].add(me)
        if self._task is None or self._task.done():
            self._task = asyncio.get_running_loop().create_task(self._listen())
        try:
            yield me
        finally:
            self._subscribers[site_id].discard(me)
            if not any(self._subscribers.values()) and self._task is not None:
                self._task.cancel()
                self._task = None

    async def _listen(self) -> None:
        """Hear, tell, and after a lost connection have everybody look for what was missed."""
        while True:
            try:
                connection = await psycopg.AsyncConnection.connect(_where(), autocommit=True)
                async with connection:
                    await connection.execute(f"listen {CHANNEL}")
                    self._all_missed()
                    async for heard in connection.notifies():
                        self._tell(heard.payload)
            except (psycopg.Error, OSError) as error:
                logger.warning("The listener lost the database and tries again: %s", error)
            await asyncio.sleep(_AGAIN_S)

    def _tell(self, payload: str) -> None:
        told = json.loads(payload)
        for subscriber in self._subscribers.get(told["site"], ()):
            subscriber.changed.setdefault(UUID(told["batch"]), []).extend(told["entries"])
            subscriber.wake.set()

    def _all_missed(self) -> None:
        for subscribers in self._subscribers.values():
            for subscriber in subscribers:
                subscriber.missed = True
                subscriber.wake.set()


def _where() -> str:
    settings = connections["default"].settings_dict
    return make_conninfo(host=settings["HOST"], port=settings["PORT"], dbname=settings["NAME"], user=settings["USER"], password=settings["PASSWORD"])


_hubs: dict[int, Hub] = {}


def hub() -> Hub:
    """The hub of this event loop."""
    loop = asyncio.get_running_loop()
    return _hubs.setdefault(id(loop), Hub())
