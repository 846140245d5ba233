"""The app served as ./jug serves it, in a process of its own, on the database of the test."""

from __future__ import annotations

import contextlib
import ctypes
import os
import signal
import subprocess
import sys
import tempfile
import time
import urllib.error
import urllib.request
from pathlib import Path

from django.conf import settings
from django.db import connections

from jugtool.ports import reserved

_PR_SET_PDEATHSIG = 1
#: Where the served app tells whether it is at a request: a figure above nothing.
UNDER_WAY = "/requests-under-way"
#: A request takes less. [s]
_SETTLES_WITHIN_S = 20.0
ROOT = Path(__file__).resolve().parents[3]


class Served:
    """A server that can be killed and started again at the same port."""

    def __init__(self, mode: str = "shop", *, wait: bool = True, database: str | None = None) -> None:
        """``database``: its name, where the test does not use it yet. Without ``wait`` it may still be starting."""
        self._scratch = tempfile.TemporaryDirectory()
        secret, password = Path(self._scratch.name) / "secret", Path(self._scratch.name) / "password"
        secret.write_text(settings.SECRET_KEY, encoding="utf-8")  # sessions made in the test hold here too
        where = connections["default"].settings_dict
        password.write_text(where["PASSWORD"], encoding="utf-8")
        self.environment = {
            **os.environ, "PYTHONPATH": str(ROOT), "DJANGO_SETTINGS_MODULE": "jugserver.config.settings", "OAKENJUG_MODE": mode,
            "OAKENJUG_SECRET_FILE": str(secret), "OAKENJUG_DB_PASSWORD_FILE": str(password), "OAKENJUG_DB_NAME": database or where["NAME"],
            "OAKENJUG_DB_HOST": where["HOST"], "OAKENJUG_DB_PORT": str(where["PORT"]), "OAKENJUG_DB_POOL": "1",
        }  # fmt: skip
        self._holding = contextlib.ExitStack()
        self.port = self._holding.enter_context(reserved())
        self._process: subprocess.Popen[bytes] | None = None
        self._begin()
        if wait:
            self.wait()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.kill()  # one that stands still holds the port
        self._begin()
        self.wait()

    def answers(self) -> bool:
        """Whether it runs and takes requests: one that runs may have stood still while it started."""
        if self._process is None or self._process.poll() is not None:
            return False
        with contextlib.suppress(urllib.error.URLError, OSError):
            self.under_way()
            return True
        return False

    def _begin(self) -> None:
        command = [sys.executable, "-m", "uvicorn", "jugserver.config.tests.counted:application", "--host", "127.0.0.1", "--port", str(self.port)]
        command += ["--log-level", "error", "--lifespan", "off", "--timeout-graceful-shutdown", "1"]
        # What it prints must not mix with what this process may have to tell on its standard output.
        self._process = subprocess.Popen(command, cwd=ROOT, env=self.environment, stdout=2, preexec_fn=_die_with_the_test)

    def wait(self) -> None:
        """Until it answers."""
        assert self._process is not None
        deadline = time.monotonic() + 30
        while True:
            try:
                with urllib.request.urlopen(f"{self.address}/api/health", timeout=2):
                    return
            except (urllib.error.URLError, OSError):
                if time.monotonic() > deadline or self._process.poll() is not None:
                    raise AssertionError("the server did not start") from None
                time.sleep(0.05)

    def settle(self) -> None:
        """Until no request is under way.

        Raises
        ------
        AssertionError
            One never ends.
        """
        deadline = time.monotonic() + _SETTLES_WITHIN_S
        while self.under_way():
            if time.monotonic() > deadline:
                raise AssertionError("The app is still at what the test before had asked of it.")
            time.sleep(0.01)

    def under_way(self) -> int:
        """More than nothing while it is at a request."""
        with urllib.request.urlopen(f"{self.address}{UNDER_WAY}", timeout=5) as told:
            return int(told.read())

    def kill(self) -> None:
        """SIGKILL: no warning, no good-bye."""
        self._end(signal.SIGKILL)

    def stop(self) -> None:
        self._end(signal.SIGTERM)
        self._holding.close()
        self._scratch.cleanup()

    def _end(self, how: signal.Signals) -> None:
        if self._process is None:
            return
        self._process.send_signal(how)
        try:
            self._process.wait(timeout=10)
        except subprocess.TimeoutExpired:
            self._process.kill()
            self._process.wait()
        self._process = None


def _die_with_the_test() -> None:
    """A test that is killed must not leave a server behind: it would hold the runner's output open for ever."""
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGKILL)
