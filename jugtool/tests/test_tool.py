"""The command: what it prints and refuses, ports and data directories, and the backup drill."""

from __future__ import annotations

import contextlib
import io
import os
import socket
import stat
import subprocess
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from jugtool import backup, debian, install, ports, postgres, serve
from jugtool.places import ROOT, Data, data_home
from jugtool.say import Failed, report


class InHome(unittest.TestCase):
    """Each test has a data home of its own."""

    def setUp(self) -> None:
        home = tempfile.TemporaryDirectory(prefix="oakenjug-tool-")
        self.addCleanup(home.cleanup)
        Path(home.name).chmod(0o755)
        patch = mock.patch.dict(os.environ, {"OAKENJUG_DATA": home.name})
        patch.start()
        self.addCleanup(patch.stop)
        self.home = Path(home.name)
        quiet = contextlib.redirect_stdout(io.StringIO())
        quiet.__enter__()
        self.addCleanup(quiet.__exit__, None, None, None)


class Places(InHome):
    def test_data_is_named_and_outside_the_project(self) -> None:
        self.assertEqual(data_home(), self.home)
        with mock.patch.dict(os.environ), mock.patch("os.geteuid", return_value=0):
            os.environ.pop("OAKENJUG_DATA")
            self.assertEqual(data_home(), Path("/var/lib/oakenjug"))
            self.assertFalse(data_home().is_relative_to(ROOT))

    def test_secrets_are_made_once_and_private(self) -> None:
        data = Data("x")
        data.make()
        first = data.secret.read_text()
        data.make()
        self.assertEqual(data.secret.read_text(), first)
        self.assertGreater(len(first), 40)
        for file in (data.secret, data.password):
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600)


class Refusals(InHome):
    def test_without_root_the_exact_command_is_said(self) -> None:
        with mock.patch.object(debian, "missing", return_value=["postgresql", "chromium"]), mock.patch("os.geteuid", return_value=1000):
            with self.assertRaises(Failed) as caught:
                debian.ensure(browser=True)
        self.assertIn("apt-get install -y --no-install-recommends postgresql chromium", caught.exception.todo)
        out = io.StringIO()
        with contextlib.redirect_stderr(out):
            report(caught.exception)
        self.assertIn("Do:", out.getvalue())

    def test_a_failed_step_says_what_failed(self) -> None:
        with self.assertRaises(Failed) as caught:
            install._run("Trying something", ["sh", "-c", "echo it broke >&2; exit 3"])
        self.assertEqual((caught.exception.step, caught.exception.why), ("Trying something", "it broke"))

    def test_a_busy_port(self) -> None:
        with socket.socket() as held:
            held.bind(("127.0.0.1", 0))
            held.listen()
            busy = held.getsockname()[1]
            with self.assertRaises(Failed) as caught:
                serve._listening("demo", busy)
            self.assertIn(str(busy), caught.exception.why)
            with mock.patch.dict(serve.FIRST_PORT, {"demo": busy}):
                with serve._listening("demo", None) as one, serve._listening("demo", None) as two:
                    self.assertEqual(len({busy, one.getsockname()[1], two.getsockname()[1]}), 3)  # two starts at once have one each

    def test_a_reserved_port_is_taken_by_who_is_told_it_and_by_nobody_else(self) -> None:
        with ports.reserved() as port:
            for _ in range(2):  # a server may end and come back
                with ports.bound("127.0.0.1", port) as server:
                    server.listen()
                    with self.assertRaises(OSError):
                        ports.bound("127.0.0.1", port).listen()
            given = []
            with contextlib.ExitStack() as stack:
                given = [stack.enter_context(ports.reserved()) for _ in range(50)]
            self.assertEqual(len({port, *given}), 51)

    def test_another_major_version_is_told(self) -> None:
        data = Data("old")
        data.make()
        data.cluster.mkdir()
        (data.cluster / "PG_VERSION").write_text("9\n")
        with self.assertRaises(Failed) as caught:
            postgres.start(data)
        self.assertIn("PostgreSQL 9", caught.exception.why)
        self.assertIn("backup", caught.exception.todo)

    def test_unknown_commands_and_suites(self) -> None:
        done = subprocess.run([str(ROOT / "jug"), "fly"], capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 2)
        done = subprocess.run([str(ROOT / "jug"), "test", "nonsense"], capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 1)
        self.assertIn("use one of lint", done.stderr)

    def test_it_runs_from_any_directory(self) -> None:
        done = subprocess.run([str(ROOT / "jug"), "core", "version"], cwd="/", capture_output=True, text=True, check=False)
        self.assertEqual((done.returncode, done.stdout), (0, "0.1.0\n"))


class Drill(InHome):
    """A cluster of its own: started twice, killed, backed up, restored."""

    def tearDown(self) -> None:
        for name in ("one", "two"):
            postgres.stop(Data(name))

    def test_a_lock_whose_number_belongs_to_another_program_does_not_keep_it_down(self) -> None:
        one = Data("one")
        postgres.start(one)
        lock = one.cluster / "postmaster.pid"
        was = lock.read_text()
        postgres.stop(one)
        lock.write_text("\n".join([str(os.getpid()), *was.splitlines()[1:]]))
        postgres._give_to_server(lock)
        self.assertIsNone(postgres.running_port(one.cluster))
        self.assertTrue(postgres.start(one)[1])

    def _mark(self, data: Data, port: int) -> str:
        return postgres.client(data, port, "psql", "-tAc", "select string_agg(word, ',') from mark").strip()

    def test_start_crash_backup_restore(self) -> None:
        class Elsewhere(Data):
            """The same kind of data, in another place."""

            @property
            def home(self) -> Path:
                return data_home() / "two"

        one, two = Data("one"), Elsewhere("one")
        port, started = postgres.start(one)
        self.assertTrue(started)
        self.assertEqual(postgres.start(one), (port, False))
        postgres.client(one, port, "psql", "-c", "create table mark (word text); insert into mark values ('pear'), ('sugar')")
        for _ in range(5):  # the moment at which a killed server is half gone comes once in a while
            pid = int((one.cluster / "postmaster.pid").read_text().splitlines()[0])
            os.kill(pid, 9)
            port, started = postgres.start(one)
            self.assertTrue(started)
            self.assertEqual(self._mark(one, port), "pear,sugar")
        target = self.home / "kept.tar.gz"
        with mock.patch.object(install, "python_packages"), mock.patch.object(serve, "manage"):
            backup.backup(one, target)
            self.assertEqual(stat.S_IMODE(target.stat().st_mode), 0o600)
            with self.assertRaises(Failed):
                backup.backup(one, target)
            backup.restore(two, target, replace=False)
            two_port, _ = postgres.start(two)
            self.assertEqual(self._mark(two, two_port), "pear,sugar")
            with self.assertRaises(Failed) as caught:
                backup.restore(two, target, replace=False)
            self.assertIn("--replace", caught.exception.todo)
            backup.restore(two, target, replace=True)
            self.assertEqual(len(list(two.home.glob("before-restore-*.dump"))), 1)
            broken = self.home / "broken.tar.gz"
            broken.write_bytes(target.read_bytes()[:-200])
            with self.assertRaises(Failed):
                backup.restore(two, broken, replace=True)


if __name__ == "__main__":
    unittest.main()
