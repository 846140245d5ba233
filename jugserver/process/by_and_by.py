"""What can wait a moment and must not hold up who asks: done one after the other in a thread beside the requests."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Hashable

from django.conf import settings
from django.db import transaction

from jugserver.process.connections import give_back

logger = logging.getLogger(__name__)


class ByAndBy:
    """Deeds by key, each once however often it is asked for meanwhile; the thread works a part of the time at most.

    Nothing is lost that is not in the database: a deed brings something up to date that says itself whether it is.
    """

    def __init__(self, *, after_s: float = 2.0, share: float = 0.15) -> None:
        self._after_s, self._share = after_s, share
        self._deeds: dict[Hashable, Callable[[], object]] = {}
        self._changed = threading.Condition()
        self._thread: threading.Thread | None = None
        self._busy = False

    def do(self, key: Hashable, deed: Callable[[], object]) -> None:
        """Have something done by and by; the same key asked for again before that is done once."""
        with self._changed:
            self._deeds.setdefault(key, deed)
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, name="by and by", daemon=True)
                self._thread.start()
            self._changed.notify_all()

    def settled(self, within_s: float) -> bool:
        """Wait until nothing is left to do; whether that came to be."""
        with self._changed:
            return self._changed.wait_for(lambda: not self._deeds and not self._busy, within_s)

    def _work(self) -> None:
        while True:
            with self._changed:
                idle = not self._deeds
                self._changed.wait_for(lambda: bool(self._deeds))
            if idle:
                time.sleep(self._after_s)  # what comes with it is done with it
            with self._changed:
                key = next(iter(self._deeds))
                deed = self._deeds.pop(key)
                self._busy = True
            began = time.monotonic()
            try:
                deed()
            except Exception:  # one deed takes no other down; what it should have brought up to date says that it is not
                logger.exception("What was to be done by and by failed: %s", key)
            finally:
                give_back()
            with self._changed:
                self._busy = False
                self._changed.notify_all()
            time.sleep((time.monotonic() - began) * (1 / self._share - 1))


_here = ByAndBy()


def by_and_by(key: Hashable, deed: Callable[[], object]) -> None:
    """Once this transaction is kept, have something done beside the requests of this process; in tests whoever asks next does it."""
    if settings.BY_AND_BY:
        transaction.on_commit(lambda: _here.do(key, deed))
