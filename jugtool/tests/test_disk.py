"""A disk that is really full: what is refused then, that reading goes on, and that nothing acknowledged is lost."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import subprocess
import time
import unittest
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any
from uuid import uuid4

from jugtool import postgres
from jugtool.say import Failed
from jugtool.testing.noted import noted
from jugtool.tests.started import Started

#: What is left beside the data, for the database's own journal. [bytes]
ROOM = 120 * 1024 * 1024
_FULL = "The server's disk is full: nothing more can be kept there."
_AWAY = "The database does not answer"


class FullDisk(Started):
    def setUp(self) -> None:
        super().setUp()
        if os.geteuid() != 0:
            self.skipTest("A file system of its own can only be mounted by root.")
        needed = sum(each.lstat().st_size for each in self.first.rglob("*"))
        asked = ["mount", "-t", "tmpfs", "-o", f"size={needed + ROOM},mode=755", "tmpfs", str(self.home)]
        mounted = subprocess.run(asked, capture_output=True, text=True, check=False)
        if mounted.returncode != 0:
            self.skipTest(f"This machine mounts nothing: {mounted.stderr.strip()}")
        self.addCleanup(self.unmount)

    def unmount(self) -> None:
        self.jug("stop")
        subprocess.run(["umount", "--lazy", str(self.home)], check=True)

    def test_with_no_byte_left_it_says_so_goes_on_reading_and_keeps_again_once_there_is_room(self) -> None:
        self.filled(leave=0)

    def test_with_no_room_for_the_databases_journal_it_comes_back_as_well(self) -> None:
        """Rows still fit and the journal does not: then PostgreSQL gives up, and is started again and again until there is room."""
        self.filled(leave=8 * 1024 * 1024)

    def filled(self, leave: int) -> None:
        self.started_before()
        process, address, _ = self.begin("demo")
        opener = self.sign_in(address, "rafe", "river-town-demo")
        formula = json.load(opener.open(f"{address}/api/v1/formulas?q=weir"))["items"][0]
        batch = str(uuid4())
        body = json.dumps({"id": batch, "formula": formula["id"], "version": 1}).encode()
        opener.open(urllib.request.Request(f"{address}/api/v1/batches", body)).read()
        entries = f"{address}/api/v1/batches/{batch}/entries"
        acknowledged: list[str] = []
        waiting = _some()

        def enter() -> str:
            """What waits on a tablet: nothing where it is kept, else why not, and it goes on waiting."""
            nonlocal waiting
            try:
                opener.open(urllib.request.Request(entries, json.dumps({"events": waiting}).encode()), timeout=20).read()
            except urllib.error.HTTPError as error:
                self.assertEqual((error.code, error.headers["Content-Type"]), (503, "application/problem+json"))
                return str(json.load(error)["problems"][0]["message"])
            acknowledged.extend(each["id"] for each in waiting)
            waiting = _some()
            return ""

        self.assertEqual(enter(), "")
        filler = self.home / "filler"
        refused: list[str] = []
        deadline = time.monotonic() + 60
        while len(refused) < 2 and time.monotonic() < deadline:
            _fill(filler, leave)
            if leave:  # the journal goes on in a new file, as it would after some thousand entries
                with contextlib.suppress(Failed):
                    self.psql("select pg_switch_wal()")
            said = enter()
            refused += [said] if said else []
            time.sleep(0.3 if said else 0)
        self.assertEqual(len(refused), 2, "it was never full")
        self.assertTrue(all(said == _FULL or said.startswith(f"{_AWAY}, and its disk is nearly full: ") for said in refused), refused)
        ready = self.checked(address)
        self.assertIn("MB are free", ready.get("disk", ""))
        doctor = self.jug("doctor")
        self.assertEqual(doctor.returncode, 1)
        self.assertIn("is nearly full.", doctor.stdout)
        if not leave:
            self.assertEqual(set(refused), {_FULL})
            self.assertEqual(len(json.load(opener.open(entries))["entries"]), len(acknowledged), "what is kept can be read")
        filler.unlink()
        deadline, said = time.monotonic() + 90, "not tried"
        while said and time.monotonic() < deadline:
            said = enter()
            time.sleep(0.2 if said else 0)
        self.assertEqual(said, "", "it keeps again by itself")
        self.assertIsNone(process.poll())
        found = json.load(opener.open(entries))["entries"]
        kept = [each["event"]["id"] for each in found]
        noted({
            "disks filled to the last byte, or until the journal had no room": 1, "entries refused in words on a full disk": len(refused),
            "entries acknowledged and lost": len(set(acknowledged) - set(kept)), "entries kept twice": len(kept) - len(set(kept)),
        })  # fmt: skip
        self.assertEqual(kept, acknowledged)
        self.assertEqual(self.jug("verify", "--demo").returncode, 0)

    def psql(self, statement: str) -> None:
        data = self.data("demo")
        port = postgres.running_port(data.cluster)
        if port is not None:
            postgres.client(data, port, "psql", "-tAc", statement)

    def checked(self, address: str) -> dict[str, str]:
        """What the app says of itself."""
        try:
            with urllib.request.urlopen(f"{address}/api/ready", timeout=20) as answer:
                found = json.load(answer)
        except urllib.error.HTTPError as error:
            found = json.load(error)
        checks: dict[str, str] = found["checks"]
        return checks


def _some() -> list[dict[str, Any]]:
    """Notes as long as they may be."""
    about = {"at": "2026-03-02T06:00:00+00:00", "by": "rafe", "device": "tablet-1", "seen": 0, "what": {"kind": "noted", "text": "x" * 1900}}
    return [{**about, "id": str(uuid4())} for _ in range(20)]


def _fill(file: Path, leave: int) -> None:
    """Until no more than so many bytes are free."""
    with file.open("ab", buffering=0) as out:
        for size in (1 << 20, 1 << 12, 1):
            with contextlib.suppress(OSError):
                while shutil.disk_usage(file.parent).free >= leave + size:
                    out.write(b"\0" * size)


if __name__ == "__main__":
    unittest.main()
