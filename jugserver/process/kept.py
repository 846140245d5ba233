"""What a process keeps of what it worked out: so much of it, the longest unused given up first."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from typing import Generic, TypeVar

_K = TypeVar("_K")
_V = TypeVar("_V")


class Kept(Generic[_K, _V]):
    """A bounded memory by key. The key says everything that the value depends on."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._of: OrderedDict[_K, _V] = OrderedDict()
        self._lock = Lock()

    def get(self, key: _K) -> _V | None:
        with self._lock:
            value = self._of.get(key)
            if value is not None:
                self._of.move_to_end(key)
            return value

    def keep(self, key: _K, value: _V) -> _V:
        with self._lock:
            self._of[key] = value
            self._of.move_to_end(key)
            while len(self._of) > self._most:
                self._of.popitem(last=False)
        return value

    def clear(self) -> None:
        with self._lock:
            self._of.clear()

    def __len__(self) -> int:
        return len(self._of)
