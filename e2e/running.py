"""What every browser test of a process works with: one app, one browser, one database with the demo's data in it."""

from __future__ import annotations

import os
from dataclasses import dataclass

from playwright.sync_api import Browser, Playwright, expect, sync_playwright

from jugserver.config.tests.served import Served
from jugserver.config.tests.snapshot import Snapshot
from jugserver.demo.load import load
from jugtool import debian

#: How long a busy machine may take before something counts as missing; what has to be quick says so where it is asked. [ms]
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
    def start(cls) -> Running:
        # Playwright runs an event loop in this thread; Django would refuse its queries.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        expect.set_options(timeout=PATIENCE_MS // 2)
        served = Served(mode="test", wait=False)
        playwright = sync_playwright().start()
        browser = cls._launched(playwright)
        load()
        demo = Snapshot.take()
        served.wait()
        return cls(served, playwright, browser, demo)

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


_here: list[Running] = []


def running() -> Running:
    """What runs in this process, started by the first test that wants it."""
    if not _here:
        _here.append(Running.start())
    return _here[0]


def stop() -> None:
    while _here:
        _here.pop().stop()
