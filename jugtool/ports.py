"""Ports on loopback that two starts at the same moment cannot both be given."""

from __future__ import annotations

import contextlib
import socket
from collections.abc import Iterator


def bound(host: str, port: int) -> socket.socket:
    """A socket on this port; 0 for any that is free. OSError where another program listens on it."""
    made = socket.socket()
    try:
        made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        made.bind((host, port))
    except BaseException:
        made.close()
        raise
    return made


@contextlib.contextmanager
def reserved() -> Iterator[int]:
    """A free port that the system gives to nobody else the while.

    It is bound and never listened on, so a server that is told this port can take it, be killed, and take it again.
    """
    with bound("127.0.0.1", 0) as holding:
        yield int(holding.getsockname()[1])
