"""What every browser test of a process works with: one app, one browser, one database with the demo's data in it."""

from __future__ import annotations

import contextlib
import hashlib
import os
import time
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

from django.db import connection
from playwright.sync_api import Browser, Playwright, expect, sync_playwright

from jugserver.config.tests.served import Served
from jugserver.config.tests.snapshot import Snapshot
from jugtool import debian
from jugtool.places import ROOT, data_home

#: How long a busy machine may take before something counts as missing; half of it for one that is looked for, which is
#: less than a page waits that asks again by itself. How quick a thing is, the benchmarks and the tests that run alone say. [ms]
PATIENCE_MS = 20_000
_FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage",
    # A page lives for seconds: what would make its scripts quicker takes longer than it saves.
    "--js-flags=--no-opt --no-maglev",
]  # fmt: skip


@dataclass
class Running:
    served: Served
    playwright: Playwright
    browser: Browser
    demo: Snapshot

    @classmethod
    def start(cls, served: Served | None = None) -> Running:
        """All of it at once; ``served`` is the app, where it was begun before."""
        # Playwright runs an event loop in this thread; Django would refuse its queries.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        expect.set_options(timeout=PATIENCE_MS // 2)
        served = served or Served(mode="test", wait=False)
        with ThreadPoolExecutor(1) as meanwhile:
            demo = meanwhile.submit(_demo)
            playwright = sync_playwright().start()
            browser = cls._launched(playwright)
            snapshot = demo.result()
        served.wait()
        return cls(served, playwright, browser, snapshot)

    @staticmethod
    def _launched(playwright: Playwright) -> Browser:
        return playwright.chromium.launch(executable_path=debian.chromium(), args=_FLAGS)

    def mend(self) -> None:
        """Have the app and the browser running again, whatever the test before did to them."""
        if not self.served.answers():
            self.served.start()
        if not self.browser.is_connected():
            self.browser = self._launched(self.playwright)

    def stop(self) -> None:
        self.browser.close()
        self.playwright.stop()
        self.served.stop()
        os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)


#: How old the demo's data may be: its times are told from the moment it is loaded, and a run of all tests takes as long. [s]
_FRESH_S = 600.0


def _demo() -> Snapshot:
    """The demo's data: loaded by the first process that wants it, and handed on to those that want it soon after."""
    kept = data_home() / "made-for-tests" / f"demo-{_code()}"
    try:
        with contextlib.suppress(OSError):
            if time.time() - kept.stat().st_mtime < _FRESH_S:
                return Snapshot.read(kept)
        from jugserver.demo.load import load

        load()
        snapshot = Snapshot.take()
        for old in kept.parent.glob("demo-*"):
            with contextlib.suppress(OSError):  # another run may have been quicker
                if time.time() - old.stat().st_mtime > _FRESH_S:
                    old.unlink()
        snapshot.write(kept)
        return snapshot
    finally:
        connection.close()  # this thread's own


def _code() -> str:
    """Stands for all that the demo is loaded by and from."""
    found = hashlib.sha256()
    for side in ("jugcore", "jugserver"):
        for file in sorted((ROOT / side).rglob("*")):
            if file.is_file() and file.suffix != ".pyc":
                found.update(str(file).encode() + b"\0" + file.read_bytes() + b"\0")
    return found.hexdigest()[:20]


_here: list[Running] = []


def running(served: Served | None = None) -> Running:
    """What runs in this process, started by the first who wants it."""
    if not _here:
        _here.append(Running.start(served))
    return _here[0]


def stop() -> None:
    while _here:
        _here.pop().stop()
