"""The whole command as a person runs it: start, use, stop, start again, crash, start again."""

from __future__ import annotations

import http.client
import http.cookiejar
import json
import os
import shutil
import signal
import subprocess
import tempfile
import threading
import time
import unittest
import urllib.request
from collections.abc import Callable
from pathlib import Path
from typing import Any
from uuid import uuid4

from jugtool import ports, postgres
from jugtool.certificate import Tls
from jugtool.places import ROOT
from jugtool.testing.noted import noted
from jugtool.testing.speed import slowness
from jugtool.tests.started import Started


def tag(name: str) -> Callable[[Any], Any]:
    """As Django's: what ./jug test goes by."""

    def tagged(test: Any) -> Any:
        test.tags = {name}
        return test

    return tagged


#: A second start takes less. [s]
SECOND_START_S = 5.0


class Running(Started):
    def test_it_starts_once_and_stops_on_an_interrupt_even_where_those_were_ignored(self) -> None:
        """As a shell starts what it puts in the background: with interrupts ignored, by it and by whatever it starts."""
        first = json.loads((self.first / "came.json").read_text())
        self.assertGreater(first["walked_g"], 1000)
        self.assertEqual(first["ended"], 0)
        self.started_before()
        process, address, _ = self.begin("demo", before=lambda: signal.signal(signal.SIGINT, signal.SIG_IGN))
        again = self.jug("demo")
        self.assertEqual((again.returncode, again.stdout), (0, f"Oaken Jug is already running at {address}\n"))
        process.send_signal(signal.SIGINT)
        self.assertEqual(process.wait(timeout=30), 0)
        self.assert_all_stopped(self.data("demo"), address)

    def test_it_is_stopped_while_it_starts(self) -> None:
        self.started_before()
        process = subprocess.Popen([str(ROOT / "jug"), "demo"], env=self.environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True)
        self.addCleanup(self.end, process)
        demo = self.data("demo")
        deadline = time.monotonic() + 60
        while not demo.serving.exists() and time.monotonic() < deadline:
            time.sleep(0.01)
        self.assertEqual(self.jug("stop").returncode, 0)
        self.assertEqual(process.wait(timeout=30), 0, "it was stopped, and nothing failed")
        self.assertIsNone(postgres.running_port(demo.cluster))

    @tag("alone")
    def test_a_second_start_takes_little(self) -> None:
        self.started_before()
        for last in (False, True):  # a busy machine may spoil one start
            process, address, seconds = self.begin("demo")
            process.send_signal(signal.SIGTERM)
            process.wait(timeout=30)
            self.assert_all_stopped(self.data("demo"), address)
            most_s = SECOND_START_S * slowness()
            if last or seconds < most_s:
                break
        self.assertLess(seconds, most_s)

    def test_after_a_crash_of_everything_it_starts_again(self) -> None:
        self.started_before()
        process, address, _ = self.begin("demo")
        demo = self.data("demo")
        app = json.loads(demo.serving.read_text())["pid"]
        server = int((demo.cluster / "postmaster.pid").read_text().split()[0])
        for pid in (process.pid, app, server):
            os.kill(pid, signal.SIGKILL)
        process.wait()
        _, address, _ = self.begin("demo")
        self.assertGreater(self.walked(address), 1000)

    def test_killed_between_and_within_lines_no_entry_is_lost_or_doubled(self) -> None:
        self.started_before()
        process, address, _ = self.begin("demo")
        demo = self.data("demo")
        opener = self.sign_in(address, "rafe", "river-town-demo")
        formula = next(card for card in json.load(opener.open(f"{address}/api/v1/formulas"))["items"] if card["name"] == "Ferryman's Spice")
        started = {"id": str(uuid4()), "formula": formula["id"], "version": 1}
        batch = json.load(opener.open(urllib.request.Request(f"{address}/api/v1/batches", json.dumps(started).encode())))["id"]
        outbox: list[dict[str, Any]] = []
        made: list[str] = []

        def send() -> None:
            """What the tablet does: everything that waits, in order, until the server says it has it."""
            if outbox:
                going = list(outbox)
                body = json.dumps({"events": going}).encode()
                opener.open(urllib.request.Request(f"{address}/api/v1/batches/{batch}/entries", body), timeout=5).read()
                del outbox[: len(going)]

        for n in range(12):
            at = f"2026-03-02T06:{n:02d}:00+00:00"
            entry = {"id": str(uuid4()), "at": at, "by": "rafe", "device": "tablet-1", "seen": n, "what": {"kind": "noted", "text": f"line {n}"}}
            outbox.append(entry)
            made.append(str(entry["id"]))
            killed = {2: "app", 5: "everything", 7: "database", 8: "backend", 10: "app"}.get(n)
            going = threading.Thread(target=_quietly, args=(send,))
            going.start()
            if killed == "app":
                os.kill(json.loads(demo.serving.read_text())["pid"], signal.SIGKILL)
            elif killed == "everything":
                for pid in (json.loads(demo.serving.read_text())["pid"], int((demo.cluster / "postmaster.pid").read_text().split()[0])):
                    os.kill(pid, signal.SIGKILL)
            elif killed == "database":
                os.kill(int((demo.cluster / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
                going.join()
                said = _refusal(opener, f"{address}/api/v1/formulas")
                self.assertIn(said, ("", "The database does not answer."), "what is wrong is said, or it is back already")
            elif killed == "backend":
                # One process of the database dies; the others are ended by it and it recovers by itself.
                others = [pid for pid in postgres._processes_in(demo.cluster) if pid != int((demo.cluster / "postmaster.pid").read_text().split()[0])]
                os.kill(others[-1], signal.SIGKILL)
            going.join()
            # Whatever it was, the command notices and starts it again; the tablet only goes on trying.
            deadline = time.monotonic() + 30
            while outbox and time.monotonic() < deadline:
                if not _quietly(send):
                    time.sleep(0.2)
            self.assertIsNone(process.poll())
            self.assertEqual(outbox, [], f"after line {n} and {killed}")
        found = json.load(opener.open(f"{address}/api/v1/batches/{batch}/entries"))
        self.assertEqual([entry["seq"] for entry in found["entries"]], list(range(1, 13)))
        self.assertEqual([entry["event"]["id"] for entry in found["entries"]], made)

    def test_many_write_through_kills_and_what_was_acknowledged_is_kept_once_and_in_order(self) -> None:
        deep = os.environ.get("OAKENJUG_DEEP") == "1"
        writers, kills = (20, 5) if deep else (6, 2)
        self.started_before()
        process, address, _ = self.begin("demo")
        demo = self.data("demo")
        opener = self.sign_in(address, "rafe", "river-town-demo")
        formula = next(card for card in json.load(opener.open(f"{address}/api/v1/formulas?q=weir"))["items"])
        batches = []
        for _ in range(4):
            body = json.dumps({"id": str(uuid4()), "formula": formula["id"], "version": 1}).encode()
            batches.append(json.load(opener.open(urllib.request.Request(f"{address}/api/v1/batches", body)))["id"])
        ended = threading.Event()
        acknowledged: list[list[str]] = [[] for _ in range(writers)]

        def write(number: int) -> None:
            """What a tablet does: one entry after another, each until the server says it has it."""
            path = f"{address}/api/v1/batches/{batches[number % len(batches)]}/entries"
            for n in range(100_000):
                if ended.is_set():
                    return
                what = {"kind": "noted", "text": f"{number} {n}"}
                entry = {"id": str(uuid4()), "at": "2026-03-02T06:00:00+00:00", "by": "rafe", "device": f"tablet-{number}", "seen": 0, "what": what}
                body = json.dumps({"events": [entry]}).encode()
                request = urllib.request.Request(path, body)

                def send(request: urllib.request.Request = request) -> None:
                    opener.open(request, timeout=5).read()

                while not _quietly(send):
                    if ended.is_set():
                        return
                    time.sleep(0.1)
                acknowledged[number].append(str(entry["id"]))

        threads = [threading.Thread(target=write, args=(number,)) for number in range(writers)]
        for thread in threads:
            thread.start()
        for n in range(kills):
            time.sleep(3.0 if deep else 1.5)
            pid = json.loads(demo.serving.read_text())["pid"] if n % 2 == 0 else int((demo.cluster / "postmaster.pid").read_text().split()[0])
            os.kill(pid, signal.SIGKILL)
        deadline, before = time.monotonic() + 60, [len(each) for each in acknowledged]
        while time.monotonic() < deadline and any(len(now) <= then for now, then in zip(acknowledged, before, strict=True)):
            time.sleep(0.1)
        ended.set()
        for thread in threads:
            thread.join(20)
        self.assertIsNone(process.poll())
        said = [id for each in acknowledged for id in each]
        lost = doubled = shuffled = 0
        for place, batch in enumerate(batches):
            found = json.load(opener.open(f"{address}/api/v1/batches/{batch}/entries"))["entries"]
            kept = [each["event"]["id"] for each in found]
            doubled += len(kept) - len(set(kept))
            shuffled += [each["seq"] for each in found] != list(range(1, len(found) + 1))
            for number in range(place, writers, len(batches)):
                lost += len(set(acknowledged[number]) - set(kept))
                own = set(acknowledged[number])
                shuffled += [id for id in kept if id in own] != acknowledged[number]
        noted({
            "entries acknowledged while processes were killed": len(said), "processes killed while entries were kept": kills,
            "entries acknowledged and lost": lost, "entries kept twice": doubled, "logs out of order": shuffled,
        })  # fmt: skip
        self.assertGreater(min(map(len, acknowledged)), 0, "everybody goes on once it is back")
        self.assertEqual((lost, doubled, shuffled), (0, 0, 0))

    def test_tablets_are_served_over_https_with_a_certificate_of_the_kitchens_own(self) -> None:
        self.started_before()
        reserved = self.enterContext(ports.reserved())
        process, address, _ = self.begin("demo", "--lan", "--address", "127.0.0.2", "--port", str(reserved))
        demo = self.data("demo")
        self.assertTrue(address.startswith("https://127.0.0.2:"), address)
        trusts = Tls(demo).context()
        with urllib.request.urlopen(f"{address}/api/health", context=trusts, timeout=10) as answer:
            self.assertTrue(json.load(answer)["ok"])
        with urllib.request.urlopen(address, context=trusts, timeout=10) as page:
            self.assertIn("Secure", page.headers["Set-Cookie"])
        port = address.rsplit(":", 1)[1]
        for other in (address, f"http://127.0.0.2:{port}", f"http://127.0.0.1:{port}"):  # not trusted, not encrypted, not there
            with self.subTest(other=other), self.assertRaises((OSError, http.client.HTTPException)):
                urllib.request.urlopen(other, timeout=5)
        for key in (Tls(demo).key, Tls(demo).authority_key):
            self.assertEqual(key.stat().st_mode & 0o777, 0o600)
        made = Tls(demo).authority.read_bytes()
        self.end_all(process)
        process, _, _ = self.begin("demo", "--lan", "--address", "127.0.0.3")
        self.assertEqual(Tls(demo).authority.read_bytes(), made)  # tablets go on trusting it when the address changes
        self.end_all(process)
        self.assertIn("add --lan", self.jug("demo", "--address", "127.0.0.2").stderr)

    def test_what_the_app_connects_as_owns_nothing(self) -> None:
        self.started_before()
        process, address, _ = self.begin("demo")
        demo = self.data("demo")
        port = postgres.running_port(demo.cluster)
        assert port is not None
        environment = {
            **os.environ, "PGHOST": "127.0.0.1", "PGPORT": str(port), "PGUSER": "oakenjug_app", "PGPASSWORD": demo.app_password.read_text(),
            "PGDATABASE": "oakenjug",
        }  # fmt: skip

        def asked(statement: str) -> subprocess.CompletedProcess[str]:
            command = [postgres._bin("psql"), "-v", "ON_ERROR_STOP=1", "-tAc", statement]
            return subprocess.run(command, env=environment, capture_output=True, text=True, check=False)

        self.assertGreater(int(asked("select count(*) from batches_logentry").stdout), 100)
        for statement in (
            "truncate batches_logentry", "truncate accounts_user cascade", "alter table batches_logentry disable trigger all", "drop table axes_accesslog",
            "set session_replication_role = replica", "copy (select 1) to program 'true'", "copy accounts_user to '/tmp/x'", "create table mine (x int)",
            "create function mine() returns int language sql as 'select 1'", "drop trigger log_is_kept on batches_logentry",
            "delete from batches_logentry", "update batches_logentry set at = now()", "delete from batches_batch", "update formulas_version set note = 'x'",
            "insert into django_migrations (app, name, applied) values ('x', 'x', now())", "create role other", "alter role oakenjug_app superuser",
            "select pg_read_file('/etc/hostname')", "select * from pg_authid", "update formulas_formulachange set pgh_label = 'x'",
            "delete from accounts_userchange", "insert into kitchen_potchange (pgh_label) values ('x')",
            "create or replace function _pgtrigger_should_ignore(trigger_name name) returns boolean language sql as 'select true'",
        ):  # fmt: skip
            with self.subTest(statement):
                self.assertNotEqual(asked(statement).returncode, 0)
        # What it changes is kept all the same, whatever it sets for its own connection.
        kept = "select count(*) from kitchen_sitekitchenchange"
        before = int(asked(kept).stdout)
        changed = asked("set pgtrigger.ignore = '{pgtrigger_update_update_927ae}'; update kitchen_sitekitchen set room_c = room_c + 1")
        self.assertEqual(changed.returncode, 0, changed.stderr)
        self.assertEqual(int(asked(kept).stdout), before + 1)
        process.send_signal(signal.SIGINT)
        process.wait(timeout=30)
        # It is granted anew at every start, whatever became of it.
        _, address, _ = self.begin("demo")
        self.assertGreater(self.walked(address), 1000)

    def test_after_a_restore_every_row_is_the_same_and_the_app_serves_it(self) -> None:
        self.started_before()
        process, address, _ = self.begin("demo")
        opener = self.sign_in(address, "rafe", "river-town-demo")
        before = opener.open(f"{address}/api/v1/batches").read()
        self.assertEqual(len(json.loads(before)["items"]), 40)
        demo = self.data("demo")
        rows = self.hashes(demo)
        self.assertGreater(len(rows), 10)
        port = postgres.running_port(demo.cluster)
        assert port is not None
        self.assertEqual(postgres.client(demo, port, "psql", "-tAc", "show data_checksums").strip(), "on")
        self.end_all(process)
        with tempfile.TemporaryDirectory() as scratch:
            file = Path(scratch) / "kitchen.backup"
            self.assertEqual(self.jug("backup", "--demo", str(file)).returncode, 0)
            shutil.rmtree(demo.home)
            done = self.jug("restore", "--demo", str(file))
            self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
        process, address, _ = self.begin("demo")
        self.assertEqual(self.hashes(demo), rows)
        opener = self.sign_in(address, "rafe", "river-town-demo")
        self.assertEqual(opener.open(f"{address}/api/v1/batches").read(), before)

    def test_a_backup_is_looked_at_beside_what_is_there_and_only_a_good_one_takes_its_place(self) -> None:
        self.started_before()
        demo = self.data("demo")
        port, _ = postgres.start(demo)
        rows = self.hashes(demo)
        with tempfile.TemporaryDirectory() as scratch:
            good = Path(scratch) / "kitchen.backup"
            self.assertEqual(self.jug("backup", "--demo", str(good)).returncode, 0)

            def refused(source: Path, words: str, *more: str) -> None:
                done = self.jug("restore", *(more or ("--demo",)), "--replace", str(source))
                self.assertEqual(done.returncode, 1, done.stdout + done.stderr)
                self.assertIn(words, done.stderr)
                databases = postgres.client(demo, port, "psql", "-tAc", "select datname from pg_database where not datistemplate order by 1").split()
                self.assertEqual(databases, ["oakenjug", "postgres"])

            cut = Path(scratch) / "cut"
            cut.write_bytes(good.read_bytes()[:-20_000])
            refused(cut, "Reading the backup")
            refused(good, "of the demo's data", "--replace")
            if os.environ.get("OAKENJUG_DEEP") != "1":  # each takes seconds
                self.assertEqual(self.hashes(demo), rows)
                return
            dump = Path(scratch) / "whole.dump"
            postgres.client(demo, port, "pg_dump", "-Fc", "--no-owner", "-f", str(dump))
            cut.write_bytes(dump.read_bytes()[:-20_000])
            refused(cut, "Reading the backup")
            postgres.client(demo, port, "psql", "-c", "insert into django_migrations (app, name, applied) values ('batches', '9999_later', now())")
            postgres.client(demo, port, "pg_dump", "-Fc", "--no-owner", "-f", str(dump.with_name("newer.dump")))
            postgres.client(demo, port, "psql", "-c", "delete from django_migrations where name = '9999_later'")
            refused(dump.with_name("newer.dump"), "made by a later release (batches.9999_later)")
            forge = "set session_replication_role = replica; update batches_logentry set at = at - interval '1 hour' where seq = 3"
            postgres.client(demo, port, "psql", "-c", forge)
            postgres.client(demo, port, "pg_dump", "-Fc", "--no-owner", "-f", str(dump.with_name("forged.dump")))
            self.assertIn("entry 3 is not what was kept", self.jug("verify", "--demo").stderr)
            postgres.client(demo, port, "psql", "-c", forge.replace("- interval", "+ interval"))
            rows = self.hashes(demo)
            refused(dump.with_name("forged.dump"), "is not what was kept")
            self.assertIn("All as kept", self.jug("verify", "--demo").stdout)
            self.assertEqual(self.hashes(demo), rows)
            # What was there when another took its place is kept, and is put back as it was.
            postgres.client(demo, port, "psql", "-c", "update accounts_site set name = 'Changed since'")
            changed = self.hashes(demo)
            done = self.jug("restore", "--demo", "--replace", str(good))
            self.assertEqual(done.returncode, 0, done.stdout + done.stderr)
            self.assertEqual(self.hashes(demo), rows)
            (kept,) = demo.home.glob("before-restore-*.dump")
            self.assertEqual(self.jug("restore", "--demo", "--replace", str(kept)).returncode, 0)
            self.assertEqual(self.hashes(demo), changed)

    def test_the_shop_starts_empty_and_apart_from_the_demo(self) -> None:
        made = self.jug("person", "ines", "--name", "Ines", "--role", "lead", "--site", "A kitchen", input="a-long-enough-one\n")
        self.assertEqual(made.returncode, 0, made.stdout + made.stderr)
        _, address, _ = self.begin("start")
        opener = self.sign_in(address, "ines", "a-long-enough-one")
        session = json.load(opener.open(f"{address}/api/v1/session"))
        self.assertEqual((session["person"]["site"], session["demo_sign_ins"]), ("A kitchen", []))
        self.assertEqual(json.load(opener.open(f"{address}/api/v1/formulas"))["items"], [])
        # A backup a day is written beside what is served.
        backups = self.data("shop").home / "backups"
        deadline = time.monotonic() + 30
        while not list(backups.glob("*.backup")) and time.monotonic() < deadline:
            time.sleep(0.2)
        (made_today,) = backups.glob("*.backup")
        self.assertEqual(made_today.stat().st_mode & 0o777, 0o600)
        said = self.jug("doctor").stdout
        self.assertIn(str(self.home / "shop"), said)
        self.assertIn(address, said)


def _refusal(opener: urllib.request.OpenerDirector, address: str) -> str:
    """Why an address is not answered, in words; nothing where it is."""
    try:
        opener.open(address, timeout=30).read()
    except urllib.error.HTTPError as error:
        return str(json.load(error)["problems"][0]["message"])
    return ""


def _quietly(send: Callable[[], None]) -> bool:
    """Try to send; whether the server answered."""
    try:
        send()
    except (OSError, http.client.HTTPException):
        return False
    return True


if __name__ == "__main__":
    unittest.main()
