"""Work for the pool, for tests: what a computing process imports knows nothing of the server."""

from __future__ import annotations

import os
import time
from pathlib import Path

from pydantic import BaseModel

from jugcore.errors import BadDocument
from jugserver.computing.worker import MOST_MEMORY


class Said(BaseModel):
    """An answer of a test."""

    value: int


def slow(seconds: float, started: str = "") -> Said:
    if started:
        Path(started).write_text(str(os.getpid()), encoding="ascii")
    time.sleep(seconds)
    return Said(value=os.nice(0))


def hungry() -> Said:
    return Said(value=len(bytearray(2 * MOST_MEMORY)))


def refuses() -> Said:
    raise BadDocument("free", "Nothing may change.", "Unlock a line.")


def dies() -> Said:
    os._exit(3)
