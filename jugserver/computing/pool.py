"""The pool of computing processes: bounded in number, memory and time, with turns, and given up when whoever asked has left."""

from __future__ import annotations

import atexit
import multiprocessing
import os
import time
from collections.abc import Callable, Hashable
from concurrent.futures import TimeoutError as TookTooLong
from contextvars import ContextVar
from functools import cache
from threading import Event, Lock
from typing import Any

from django.conf import settings
from pebble import ProcessExpired, ProcessPool
from pydantic import BaseModel

from jugcore.errors import DomainError
from jugserver.computing import worker
from jugserver.computing.turns import Turns
from jugserver.process.connections import give_back

#: One request computes no longer. [s]
MOST_S = 30.0
#: And waits no longer for its turn. [s]
MOST_WAIT_S = 120.0
#: So many of one person are in the queue at once: a bench with several tabs, not a flood.
MOST_OF_ONE = 50
_LESS = "Ask for less at once: fewer targets, fewer ingredients."


class TooLong(DomainError):
    """It could not be worked out within the time or memory one request has."""

    code = "too_long"


class Busy(DomainError):
    """Too much is asked at once."""

    code = "busy"


class Left(DomainError):
    """Whoever asked is not there any more; the answer goes nowhere."""

    code = "left"


class Asking:
    """A request as long as somebody waits for its answer."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._events: list[Event] = []
        self.left = False

    def leave(self) -> None:
        """Whoever asked is gone: wake what waits for the answer."""
        with self._lock:
            self.left = True
            events, self._events = self._events, []
        for event in events:
            event.set()

    def wakes(self, event: Event) -> None:
        """Have an event set when whoever asked leaves."""
        with self._lock:
            self._events.append(event)
        if self.left:
            event.set()


#: The request this thread answers, where it came over HTTP.
asking: ContextVar[Asking | None] = ContextVar("asking", default=None)


class Pool:
    """Processes that compute, and turns at them."""

    def __init__(self, workers: int, most_s: float = MOST_S) -> None:
        # Not forked from here: a copy of a process with threads may hold a lock nobody in it will ever let go.
        context = multiprocessing.get_context("forkserver")
        context.set_forkserver_preload(["jugserver.computing.worker"])
        self._processes = ProcessPool(max_workers=workers, context=context, initializer=worker.begin)
        self.turns = Turns(workers, MOST_OF_ONE)
        self._workers, self._most_s = workers, most_s

    def warm(self) -> None:
        """Start the processes and let each load what it needs."""
        for _ in range(self._workers):
            self._processes.schedule(worker.warm)

    def run(self, who: Hashable, function: Callable[..., BaseModel], *arguments: Any) -> str:
        """A report of ``function`` as JSON, worked out in a process.

        Raises what the function raises; TooLong beyond its time or memory, Busy where too
        much waits, Left when whoever asked has gone.
        """
        woken = Event()
        here = asking.get()
        if here is not None:
            here.wakes(woken)
        turn = self.turns.take(who, woken)
        if turn is None:
            raise Busy("", "So much is being worked out for you already that this has to wait.", "Wait for it, or close what you do not need.")
        try:
            until = time.monotonic() + MOST_WAIT_S
            while not turn.called:
                woken.wait(max(until - time.monotonic(), 0.0))
                self._still_asked(here)
                if not turn.called and time.monotonic() >= until:
                    raise Busy("", "Others are having much worked out at this moment.", "Try again in a minute.")
            return self._worked_out(function, arguments, woken, here)
        finally:
            self.turns.give_back(turn)

    def _worked_out(self, function: Callable[..., BaseModel], arguments: tuple[Any, ...], woken: Event, here: Asking | None) -> str:
        woken.clear()
        self._still_asked(here)
        future = self._processes.schedule(worker.in_words, args=(function, arguments), timeout=self._most_s)
        future.add_done_callback(lambda _: woken.set())
        while not future.done():
            woken.wait()
            if not future.done():
                woken.clear()
                if here is not None and here.left:
                    future.cancel()
                    raise Left("", "Nobody is waiting for this any more.", "Ask again.")
        try:
            found: str = future.result()
            return found
        except TookTooLong:
            raise TooLong("", f"That takes longer than {self._most_s:g} s to work out.", _LESS) from None
        except (MemoryError, ProcessExpired):
            raise TooLong("", "That takes more memory to work out than there is for it.", _LESS) from None

    @staticmethod
    def _still_asked(here: Asking | None) -> None:
        if here is not None and here.left:
            raise Left("", "Nobody is waiting for this any more.", "Ask again.")

    def stop(self) -> None:
        """End its processes, whatever they do."""
        self._processes.stop()
        self._processes.join()


@cache
def pool() -> Pool | None:
    """The pool of this process; None where it computes in the thread that asks."""
    workers = settings.COMPUTING_WORKERS
    if workers is None:
        workers = min(max((os.cpu_count() or 2) - 1, 1), 4)
    if not workers:
        return None
    found = Pool(workers)
    atexit.register(found.stop)
    return found


def work_out(who: Hashable, function: Callable[..., BaseModel], *arguments: Any) -> str:
    """A report as JSON, worked out where it slows nobody else; nothing of the database is held meanwhile."""
    processes = pool()
    if processes is None:
        return worker.in_words(function, arguments)
    give_back()
    return processes.run(who, function, *arguments)
