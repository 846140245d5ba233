"""What runs in a computing process. It knows the core and nothing of the server, so that it starts fast and holds little."""

from __future__ import annotations

import ctypes
import os
import resource
import signal
from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

_PR_SET_PDEATHSIG = 1
#: Below what serves pages: a walk goes before a solve.
_NICE = 10
#: No request needs as much; what does ends with a sentence and not with the machine's memory.
MOST_MEMORY = 1536 * 1024 * 1024


def begin() -> None:
    """Set a fresh process up: it gives way to the server, ends with it, and has its memory bounded."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for the server, which ends this
    os.nice(_NICE)
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_MEMORY, MOST_MEMORY))


def warm() -> bool:
    """Load what the first one to ask should not wait for."""
    import clarabel
    import scipy.optimize

    import jugcore.solving.schema
    import jugcore.tasting.aim

    return bool(clarabel and scipy.optimize and jugcore.solving.schema and jugcore.tasting.aim)


def in_words(function: Callable[..., BaseModel], arguments: tuple[Any, ...]) -> str:
    """A report as JSON: written here, so that neither the server's thread nor the pipe carries it as objects."""
    return function(*arguments).model_dump_json()
