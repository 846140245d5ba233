"""The app itself under load: heavy requests by the dozen, clients that leave, bodies without end."""

from __future__ import annotations

import asyncio
import json
import os
import time
from pathlib import Path
from typing import Any

from django.test import tag

from jugcore.tests.depth import DEEP
from jugserver.accounts.models import Role, User
from jugserver.batches.tests.test_stream import Live
from jugserver.computing.tests.large import heavy, large
from jugtool.testing.speed import slowness

#: At once, by one person.
HEAVY = 40
#: A walk under that takes at most so many times its idle median.
MOST_TIMES = 3.0
_ROUNDS = 15


class Loaded(Live):
    def setUp(self) -> None:
        super().setUp()
        self.other = User.objects.create_user("other", password="a-long-test-password", site=self.site, role=Role.PREP)
        self.one, self.two = self.cookie(self.lead), self.cookie(self.other)

    async def leave(self, path: str, cookie: str, body: Any, after: float) -> None:
        """A request whose client goes away before it is answered."""
        data = json.dumps(body).encode()
        _, writer = await asyncio.open_connection("127.0.0.1", self.port)
        head = (
            f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nCookie: {cookie}\r\nX-CSRFToken: {'c' * 32}\r\n"
            f"Origin: http://127.0.0.1:{self.port}\r\nContent-Type: application/json\r\nContent-Length: {len(data)}\r\n\r\n"
        )
        writer.write(head.encode() + data)
        await writer.drain()
        await asyncio.sleep(after)
        writer.transport.abort()

    async def walks(self, rounds: int) -> list[float]:
        """Seconds that walks of another person take, one after another."""
        small = large(15)
        took = []
        for _ in range(rounds):
            began = time.monotonic()
            status, _ = await self.request("POST", "/api/v1/walk", self.two, small)
            took.append(time.monotonic() - began)
            self.assertEqual(status, 200)
        return sorted(took)


class Bounded(Loaded):
    def test_what_nobody_waits_for_is_not_worked_out(self) -> None:
        async def scene() -> None:
            await self.request("POST", "/api/v1/solve", self.two, heavy(15))
            await asyncio.gather(*(self.leave("/api/v1/solve", self.one, heavy(), 0.3) for _ in range(10)))
            began = time.monotonic()
            status, _ = await self.request("POST", "/api/v1/solve", self.one, heavy(15))
            self.assertEqual(status, 200)
            # Ten of them would have taken half a minute.
            self.assertLess(time.monotonic() - began, 6 * slowness())

        asyncio.run(scene())

    def test_more_than_a_formula_has_is_refused_before_it_is_worked_out(self) -> None:
        async def scene() -> None:
            for lines, words in ((121, "121 ingredients; at most 120"), (5000, "")):
                for path, body in (("/api/v1/walk", large(lines)), ("/api/v1/solve", heavy(lines))):
                    began = time.monotonic()
                    status, answer = await self.request("POST", path, self.one, body)
                    self.assertEqual(status, 422)
                    self.assertIn(words, json.loads(answer)["problems"][0]["message"])
                    self.assertLess(time.monotonic() - began, 2 * slowness())

        asyncio.run(scene())

    def test_no_process_outlives_the_app(self) -> None:
        asyncio.run(self.request("POST", "/api/v1/solve", self.one, heavy(15)))
        before = self.processes()
        self.assertTrue(before)
        self.served.kill()
        until = time.monotonic() + 10
        while any(process in self.processes() for process in before) and time.monotonic() < until:
            time.sleep(0.1)
        self.assertEqual([process for process in before if process in self.processes()], [])

    def processes(self) -> list[int]:
        """The processes that descend from the app, which knows its secret file by this path."""
        assert self.served.environment
        mine = self.served.environment["OAKENJUG_SECRET_FILE"].encode()
        found = []
        for entry in Path("/proc").iterdir():
            if entry.name.isdigit():
                try:
                    if mine in (entry / "environ").read_bytes():
                        found.append(int(entry.name))
                except OSError:
                    continue  # it ended meanwhile, or is somebody else's
        return found


class Bodies(Live):
    async def streamed(self, cookie: str, chunks: int) -> tuple[int, bytes, int]:
        """A body in chunks without a length, and how much of it was taken."""
        reader, writer = await asyncio.open_connection("127.0.0.1", self.port)
        head = (
            f"POST /api/v1/walk HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nCookie: {cookie}\r\nX-CSRFToken: {'c' * 32}\r\n"
            "Content-Type: application/json\r\nTransfer-Encoding: chunked\r\n\r\n"
        )
        writer.write(head.encode())
        sent = 0
        try:
            for _ in range(chunks):
                writer.write(b"10000\r\n" + b" " * 65536 + b"\r\n")
                await writer.drain()
                sent += 65536
            writer.write(b"0\r\n\r\n")
            await writer.drain()
        except ConnectionError:
            pass  # it hung up, as it may
        try:
            answer = await asyncio.wait_for(reader.read(), 10)
        except ConnectionError:
            answer = b""
        writer.close()
        return (int(answer.split()[1]) if answer else 0), answer, sent

    def test_no_body_is_taken_beyond_its_limit_signed_in_or_not(self) -> None:
        for cookie in ("", self.cookie(self.lead)):
            with self.subTest(signed_in=bool(cookie)):
                status, answer = asyncio.run(self.request("POST", "/api/v1/walk", cookie, {"name": "x" * 3_000_000}))
                self.assertEqual((status, json.loads(answer)["code"]), (413, "too_large"))
                status, raw, sent = asyncio.run(self.streamed(cookie, 1000))
                self.assertIn(status, (0, 413))
                self.assertTrue(status == 0 or b"too_large" in raw)
                self.assertLess(sent, 50_000_000, "it was not cut off")
        status, _, _ = asyncio.run(self.streamed(self.cookie(self.lead), 4))
        self.assertEqual(status, 400, "what is within the limit is read, and is no JSON")


if DEEP:

    class Load(Loaded):
        """A run of its own: it takes the whole machine for a while, and a benchmark writes down what it measures."""

        @tag("alone")
        def test_forty_heavy_requests_slow_nobody_elses_walk(self) -> None:
            async def scene() -> tuple[list[float], list[float]]:
                await self.request("POST", "/api/v1/solve", self.two, heavy())  # the processes are there
                await self.walks(3)
                idle = await self.walks(_ROUNDS)
                under_way = [asyncio.create_task(self.leave("/api/v1/solve", self.one, heavy(), 60)) for _ in range(HEAVY)]
                await asyncio.sleep(1.0)
                loaded = await self.walks(_ROUNDS)
                # And the other's own solve comes after one of these, not after all.
                began = time.monotonic()
                status, _ = await self.request("POST", "/api/v1/solve", self.two, heavy(15))
                self.assertEqual(status, 200)
                self.assertLess(time.monotonic() - began, 12 * slowness())
                for task in under_way:
                    task.cancel()
                await asyncio.gather(*under_way, return_exceptions=True)
                return idle, loaded

            idle, loaded = asyncio.run(scene())
            ratio = loaded[_ROUNDS // 2] / idle[_ROUNDS // 2]
            report = os.environ.get("OAKENJUG_LOAD_REPORT")
            if report:
                Path(report).write_text(
                    json.dumps({"idle_s": idle[_ROUNDS // 2], "loaded_s": loaded[_ROUNDS // 2], "heavy": HEAVY}), encoding="utf-8"
                )
            self.assertLess(ratio, MOST_TIMES, (idle, loaded))
