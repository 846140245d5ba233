"""The app started by its command, in a data home of each test's own."""

from __future__ import annotations

import http.cookiejar
import json
import os
import re
import signal
import subprocess
import tempfile
import unittest
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any

from jugtool import install, postgres, serve
from jugtool.places import ROOT, Data

_READY = re.compile(r"is at (https?://127\.0\.0\.\d:\d+)\s+ready in ([\d.]+) s")


class Started(unittest.TestCase):
    """Demo and shop, in a data home of each test's own."""

    #: Where the demo's data is as its very first start left it, for tests that are about what comes after.
    first: Path
    home: Path
    environment: dict[str, str]

    @classmethod
    def setUpClass(cls) -> None:
        install.everything()  # so that no first build is counted as a slow start
        # What promises a time runs apart from the others: a first start serves both, within one run.
        kept = os.environ.get("OAKENJUG_RUN") or cls.enterClassContext(tempfile.TemporaryDirectory(prefix="oakenjug-first-"))
        cls.first = Path(kept) / "first-start"
        if not cls.first.exists():
            start = cls("first_start")
            start.setUp()
            try:
                start.first_start()
            finally:
                start.doCleanups()

    def first_start(self) -> None:
        """From nothing to a walk to Ctrl-C; its data and what came of it are kept."""
        process, address, _ = self.begin("demo")
        walked_g = self.walked(address)
        process.send_signal(signal.SIGINT)
        came = {"walked_g": walked_g, "ended": process.wait(timeout=30)}
        new = Path(tempfile.mkdtemp(prefix="oakenjug-first-"))
        new.chmod(0o755)
        self.copy(self.home / "demo", new)
        (new / "came.json").write_text(json.dumps(came))
        new.rename(self.first)

    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory(prefix="oakenjug-run-")
        self.addCleanup(home.cleanup)
        Path(home.name).chmod(0o755)
        self.home = Path(home.name)
        self.environment = {**os.environ, "OAKENJUG_DATA": home.name}
        self.addCleanup(self.jug, "stop")

    @staticmethod
    def copy(data: Path, home: Path) -> None:
        """With its owners and rights, which the database insists on."""
        subprocess.run(["cp", "-a", str(data), str(home)], check=True)

    def started_before(self) -> None:
        """The demo has been started and stopped before."""
        self.copy(self.first / "demo", self.home)

    def data(self, name: str) -> Data:
        """The named data of this test's own home."""
        home = self.home

        class Here(Data):
            @property
            def home(self) -> Path:
                return home / self.name

        return Here(name)

    def jug(self, *arguments: str, **more: Any) -> subprocess.CompletedProcess[str]:
        return subprocess.run([str(ROOT / "jug"), *arguments], env=self.environment, capture_output=True, text=True, check=False, timeout=120, **more)

    def begin(self, *arguments: str, before: Callable[[], object] | None = None) -> tuple[subprocess.Popen[str], str, float]:
        """Start the app from another directory: (process, address, seconds it says it took)."""
        process = subprocess.Popen(
            [str(ROOT / "jug"), *arguments],
            env=self.environment,
            cwd="/",
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            preexec_fn=before,
        )
        self.addCleanup(self.end, process)
        assert process.stdout is not None
        seen = ""
        for line in process.stdout:
            seen += line
            ready = _READY.search(line)
            if ready:
                return process, ready[1], float(ready[2])
        raise AssertionError(f"it did not start:\n{seen}")

    @staticmethod
    def end(process: subprocess.Popen[str]) -> None:
        if process.poll() is None:
            process.kill()
        process.wait()
        if process.stdout:
            process.stdout.close()

    def assert_all_stopped(self, data: Data, address: str) -> None:
        self.assertFalse(serve._answers(address, tries=1))
        self.assertIsNone(postgres.running_port(data.cluster))
        self.assertEqual(postgres._processes_in(data.cluster), [])

    def hashes(self, data: Data) -> dict[str, str]:
        """A hash of every table's rows; but for sessions and sign-ins, which come and go."""
        port = postgres.running_port(data.cluster)
        assert port is not None
        ask = "select tablename from pg_tables where schemaname = 'public' and tablename !~ '^(accounts_session|django_session|axes_)' order by 1"
        found = {}
        for table in postgres.client(data, port, "psql", "-tAc", ask).split():
            rows = f"select md5(coalesce(string_agg(t::text, '|' order by t::text), '')) from \"{table}\" t"
            if table == "accounts_user":  # a sign-in moves this by itself
                rows = "select md5(string_agg(username || password || pin || role, '|' order by username)) from accounts_user"
            found[table] = postgres.client(data, port, "psql", "-tAc", rows).strip()
        return found

    def end_all(self, process: subprocess.Popen[str]) -> None:
        process.send_signal(signal.SIGTERM)
        process.wait(timeout=30)

    def sign_in(self, address: str, username: str, password: str) -> urllib.request.OpenerDirector:
        jar = http.cookiejar.CookieJar()
        opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(jar))
        opener.open(address + "/", timeout=20).read()
        self.post(opener, jar, address, "/api/v1/session", {"username": username, "password": password})
        opener.addheaders = [("X-CSRFToken", self.token(jar)), ("Content-Type", "application/json")]
        return opener

    @staticmethod
    def token(jar: http.cookiejar.CookieJar) -> str:
        return next(cookie.value or "" for cookie in jar if cookie.name == "oakenjug_csrf")

    def post(self, opener: urllib.request.OpenerDirector, jar: http.cookiejar.CookieJar, address: str, path: str, body: object) -> Any:
        headers = {"Content-Type": "application/json", "X-CSRFToken": self.token(jar)}
        return json.load(opener.open(urllib.request.Request(address + path, json.dumps(body).encode(), headers), timeout=20))

    def walked(self, address: str) -> float:
        """Grams of product of a demo formula, walked over HTTP by a signed-in person."""
        opener = self.sign_in(address, "rafe", "river-town-demo")
        cards = json.load(opener.open(f"{address}/api/v1/formulas"))["items"]
        formula = json.load(opener.open(f"{address}/api/v1/formulas/{cards[0]['id']}"))
        report = json.load(opener.open(urllib.request.Request(f"{address}/api/v1/walk", json.dumps(formula["document"]).encode())))
        return float(report["product"]["mass_g"])
