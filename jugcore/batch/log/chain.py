"""The chain of a log: each entry's mark is made of its own contents and the mark before, so that none can be changed, left out or
put between without every later mark being another.

It is a check, no secret: whoever can rewrite all of a log can rewrite its marks. What was noted of them elsewhere still tells.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from datetime import UTC, datetime
from typing import Any


def first_mark(batch: str, fingerprint: str) -> str:
    """What the first entry's mark is made after: the batch and what it was started from."""
    return _digest({"batch": batch, "fingerprint": fingerprint})


def mark(before: str, entry: Mapping[str, Any]) -> str:
    """An entry's mark, 64 hexadecimal figures. ``entry`` is all that is kept of it, as plain data and times."""
    return _digest({"before": before, "entry": dict(entry)})


def _digest(value: Any) -> str:
    return hashlib.sha256(json.dumps(_plain(value), ensure_ascii=False, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def _plain(value: Any) -> Any:
    """Data that reads the same after any way through a database: times in UTC, every number as the nearest double."""
    if isinstance(value, datetime):
        return value.astimezone(UTC).isoformat(timespec="microseconds")
    if isinstance(value, bool) or value is None or isinstance(value, str):
        return value
    if isinstance(value, int | float):
        return repr(float(value))
    if isinstance(value, Mapping):
        return {str(key): _plain(inner) for key, inner in value.items()}
    return [_plain(inner) for inner in value]
