"""A backup a day while the shop's app is served, and so many days of them kept."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import date
from pathlib import Path
from threading import Thread

from jugtool.places import Data
from jugtool.say import Failed, report

#: Days of backups that are kept. Copies elsewhere are for whoever looks after the machine.
KEPT_DAYS = 14
#: After one that failed it is tried again so much later. [s]
_AGAIN_S = 3600.0


class Daily:
    """Writes the backup of a day once, beside what is served, and takes the oldest away."""

    def __init__(
        self, data: Data, write: Callable[[Path], None], today: Callable[[], date] = date.today, clock: Callable[[], float] = time.monotonic
    ) -> None:
        self.home = data.home / "backups"
        self._write, self._today, self._clock = write, today, clock
        self._failed_at: float | None = None
        self._thread: Thread | None = None

    def look(self) -> None:
        """Begin the backup of today, if there is none and none is being written."""
        if (self._thread is not None and self._thread.is_alive()) or self._file().exists():
            return
        if self._failed_at is not None and self._clock() - self._failed_at < _AGAIN_S:
            return
        self._thread = Thread(target=self._make, daemon=True)
        self._thread.start()

    def wait(self) -> None:
        """Until what is being written is written."""
        if self._thread is not None:
            self._thread.join()

    def _file(self) -> Path:
        return self.home / f"{self._today().isoformat()}.backup"

    def _make(self) -> None:
        try:
            self.home.mkdir(mode=0o700, parents=True, exist_ok=True)
            self._write(self._file())
            self._failed_at = None
        except (Failed, OSError) as error:
            self._failed_at = self._clock()
            report(error if isinstance(error, Failed) else Failed("Backing up", str(error), "check the free disk."))
            return
        for old in sorted(self.home.glob("????-??-??.backup"))[:-KEPT_DAYS]:
            old.unlink(missing_ok=True)
