"""What every browser test of a process works with: one app, one browser, one database with the demo's data in it."""

from __future__ import annotations

import os
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

from django.db import connection
from playwright.sync_api import Browser, Playwright, expect, sync_playwright

from jugserver.config.tests.served import Served
from jugserver.config.tests.snapshot import Snapshot
from jugtool import debian

#: How long a busy machine may take before something counts as missing; half of it for one that is looked for, which is
#: less than a page waits that asks again by itself. How quick a thing is, the benchmarks and the tests that run alone say. [ms]
PATIENCE_MS = 20_000
_FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync", "--disable-dev-shm-usage",
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
        if not self.served.runs():
            self.served.start()
        if not self.browser.is_connected():
            self.browser = self._launched(self.playwright)

    def stop(self) -> None:
        self.browser.close()
        self.playwright.stop()
        self.served.stop()
        os.environ.pop("DJANGO_ALLOW_ASYNC_UNSAFE", None)


def _demo() -> Snapshot:
    """The demo's data, loaded by the first process of a run and handed on to the others."""
    kept = Path(os.environ["OAKENJUG_RUN"]) / "demo.rows" if "OAKENJUG_RUN" in os.environ else None
    try:
        if kept is not None and kept.exists():
            return Snapshot.read(kept)
        from jugserver.demo.load import load

        load()
        snapshot = Snapshot.take()
        if kept is not None:
            snapshot.write(kept)
        return snapshot
    finally:
        connection.close()  # this thread's own


_here: list[Running] = []


def running(served: Served | None = None) -> Running:
    """What runs in this process, started by the first who wants it."""
    if not _here:
        _here.append(Running.start(served))
    return _here[0]


def stop() -> None:
    while _here:
        _here.pop().stop()
