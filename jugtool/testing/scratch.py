"""What a run of the tests throws away: in memory where there is room, since databases are thousands of small files."""

from __future__ import annotations

import contextlib
import fcntl
import os
import shutil
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

_MEMORY = Path("/dev/shm")
#: A run keeps less than half of this there, and its browsers take as much again. [bytes]
_ROOM = 4 * 2**30
_PREFIX = "oakenjug-run-"
#: Held as long as the run lasts, so that what a killed run left behind can be told from what is in use.
_HELD = "in-use"
_LEFT_AFTER_S = 600.0


@contextlib.contextmanager
def scratch() -> Iterator[Path]:
    """A directory of this run's own that the database's user can look into, with ``tmp`` in it for everything temporary."""
    where = _MEMORY if _roomy(_MEMORY) else Path(tempfile.gettempdir())
    _clear_away_what_was_left(where)
    home = Path(tempfile.mkdtemp(prefix=_PREFIX, dir=where))
    try:
        home.chmod(0o755)
        (home / "tmp").mkdir()
        (home / "tmp").chmod(0o1777)
        with (home / _HELD).open("w") as held:
            fcntl.flock(held, fcntl.LOCK_EX)
            yield home
    finally:
        shutil.rmtree(home, ignore_errors=True)


def _roomy(directory: Path) -> bool:
    """Whether a directory in memory can be written to, and neither it nor the machine would be short of room."""
    if not os.access(directory, os.W_OK | os.X_OK):
        return False
    here = os.statvfs(directory)
    return min(here.f_bavail * here.f_frsize, _memory_available()) >= _ROOM


def _memory_available() -> int:
    for line in Path("/proc/meminfo").read_text(encoding="ascii").splitlines():
        if line.startswith("MemAvailable:"):
            return int(line.split()[1]) * 1024
    return 0


def _clear_away_what_was_left(where: Path) -> None:
    """Take away what runs left that were killed: in memory nothing else would."""
    for left in where.glob(f"{_PREFIX}*"):
        with contextlib.suppress(OSError), (left / _HELD).open("r+") as held:
            if time.time() - (left / _HELD).stat().st_mtime < _LEFT_AFTER_S:
                continue
            fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
            shutil.rmtree(left, ignore_errors=True)
