"""Open pages: a real server, many batches, entries sent and heard."""

from __future__ import annotations

import asyncio
import json
import os
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from asgiref.sync import sync_to_async
from django.test import TransactionTestCase, tag

from jugcore.batch.log.events import Event
from jugserver.accounts.models import Role, Session, Site, User
from jugserver.accounts.session_store import SessionStore
from jugserver.batches.log import append, entries_after
from jugserver.batches.services import start_batch
from jugserver.batches.stream import BEAT_S
from jugserver.batches.tests.kitchen import begun_batch, entry
from jugserver.config.tests.served import Served
from jugtool.testing.speed import slowness, slowness_of_all_cores


class Live(TransactionTestCase):
    """The app itself, in a process of its own, on the test's database."""

    def setUp(self) -> None:
        self.site = Site.objects.create(name="Weir kitchen")
        self.lead = User.objects.create_user("lead", password="a-long-test-password", site=self.site, role=Role.LEAD, display_name="Lead")
        self.served = Served()
        self.addCleanup(self.served.stop)
        self.port = self.served.port

    def tearDown(self) -> None:
        self.served.stop()

    def cookie(self, user: User) -> str:
        session = SessionStore()
        session["_auth_user_id"] = str(user.pk)
        session["_auth_user_backend"] = "jugserver.accounts.backends.PersonBackend"
        session["_auth_user_hash"] = user.get_session_auth_hash()
        session.save()
        return f"oakenjug_session={session.session_key}; oakenjug_csrf={'c' * 32}"

    async def request(self, method: str, path: str, cookie: str, body: Any = None) -> tuple[int, Any]:
        """One request on a connection of its own."""
        data = b"" if body is None else json.dumps(body).encode()
        reader, writer = await asyncio.open_connection("127.0.0.1", self.port)
        head = (
            f"{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nCookie: {cookie}\r\nX-CSRFToken: {'c' * 32}\r\n"
            f"Origin: http://127.0.0.1:{self.port}\r\nContent-Type: application/json\r\nContent-Length: {len(data)}\r\nConnection: close\r\n\r\n"
        )
        writer.write(head.encode() + data)
        await writer.drain()
        answer = await reader.read()
        writer.close()
        status, _, rest = answer.partition(b"\r\n")
        return int(status.split()[1]), rest.partition(b"\r\n\r\n")[2]

    async def listen(self, at: str, cookie: str, heard: dict[str, list[tuple[int, str, float]]], stop: asyncio.Event, again: dict[str, str]) -> None:
        """A page's stream: every entry with its number, its id and when it was heard, until told to stop."""
        reader, writer = await asyncio.open_connection("127.0.0.1", self.port)
        last = f"Last-Event-ID: {again['id']}\r\n" if again.get("id") else ""
        writer.write(f"GET /api/v1/stream?at={at} HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nCookie: {cookie}\r\n{last}\r\n".encode())
        await writer.drain()
        kind = ""
        while not stop.is_set():
            try:
                raw = await asyncio.wait_for(reader.readline(), 0.2)
            except TimeoutError:
                continue
            self.assertTrue(raw, "the server ended the stream")
            line = raw.decode().strip()
            if line.startswith("event: "):
                kind = line[7:]
            elif line.startswith("id: "):
                again["id"] = line[4:]
            elif line.startswith("data: ") and kind == "entries":
                found = json.loads(line[6:])
                heard.setdefault(found["batch"], []).extend((e["seq"], e["event"]["id"], time.monotonic()) for e in found["entries"])
        writer.close()


class Streams(Live):
    def test_a_page_hears_of_an_entry_of_another_tablet_at_once_and_goes_on_where_it_was(self) -> None:
        batch = begun_batch(self.lead)
        cookie = self.cookie(self.lead)
        heard: dict[str, list[tuple[int, str, float]]] = {}
        again: dict[str, str] = {}

        async def told(entries: int) -> None:
            async with asyncio.timeout(30):
                while len(heard.get(str(batch.id), ())) < entries:
                    await asyncio.sleep(0.02)

        async def scene() -> float:
            stop = asyncio.Event()
            page = asyncio.create_task(self.listen(f"{batch.id}:0", cookie, heard, stop, again))
            await asyncio.sleep(0.5)
            sent = time.monotonic()
            status, _ = await self.request(
                "POST", f"/api/v1/batches/{batch.id}/entries", cookie, {"events": [entry({"kind": "noted", "text": "one"})]}
            )
            self.assertEqual(status, 200)
            await told(1)
            took = heard[str(batch.id)][0][2] - sent
            stop.set()
            await page
            # The tablet sleeps; meanwhile something is entered elsewhere. It wakes and goes on behind what it knew.
            await self.request("POST", f"/api/v1/batches/{batch.id}/entries", cookie, {"events": [entry({"kind": "noted", "text": "two"})]})
            stop = asyncio.Event()
            page = asyncio.create_task(self.listen(f"{batch.id}:0", cookie, heard, stop, again))
            await told(2)
            stop.set()
            await page
            return took

        took = asyncio.run(asyncio.wait_for(scene(), 120))
        # The two seconds are for bench/streams.py to measure: here it only must not be the beat.
        self.assertLess(took, BEAT_S / 2)
        self.assertEqual([seq for seq, _, _ in heard[str(batch.id)]], [1, 2])

    @tag("alone")
    def test_twenty_live_batches_lose_and_double_nothing_and_none_waits_for_the_beat(self) -> None:
        slow = slowness_of_all_cores()
        seconds = float(os.environ.get("OAKENJUG_STREAM_SECONDS", "5")) * slow
        first = begun_batch(self.lead)
        batches = [first.id, *(start_batch(actor=self.lead, formula_id=first.formula_id, version=1).id for _ in range(19))]
        cookie = self.cookie(self.lead)
        sent: dict[str, dict[str, float]] = {str(batch): {} for batch in batches}
        heard: dict[str, list[tuple[int, str, float]]] = {}

        async def tablet(batch: Any) -> None:
            """Five entries a second, of a machine as quick as the promise is of. They wait in the tablet while a sending is under way, and one sending in ten is sent twice."""
            outbox: list[dict[str, Any]] = []
            ends = time.monotonic() + seconds
            n = 0

            async def send() -> None:
                turn = 0
                while time.monotonic() < ends or outbox:
                    if not outbox:
                        await asyncio.sleep(0.02)
                        continue
                    going = list(outbox)
                    for _ in range(2 if turn % 10 == 9 else 1):
                        status, body = await self.request("POST", f"/api/v1/batches/{batch}/entries", cookie, {"events": going})
                        self.assertEqual(status, 200, body)
                    del outbox[: len(going)]
                    turn += 1

            sending = asyncio.create_task(send())
            while time.monotonic() < ends:
                made = entry({"kind": "noted", "text": f"entry {n}"}, device=f"tablet-{batch}", seen=n)
                outbox.append(made)
                sent[str(batch)][made["id"]] = time.monotonic()
                n += 1
                await asyncio.sleep(0.2 * slow)
            await sending

        async def scene() -> None:
            stop = asyncio.Event()
            pages = [asyncio.create_task(self.listen(f"{batch}:0", cookie, heard, stop, {})) for batch in batches]
            await asyncio.sleep(0.5)
            await asyncio.gather(*(tablet(batch) for batch in batches))
            deadline = time.monotonic() + 5
            while time.monotonic() < deadline and any(len(heard.get(str(b), ())) < len(sent[str(b)]) for b in batches):
                await asyncio.sleep(0.05)
            stop.set()
            await asyncio.gather(*pages)

        asyncio.run(asyncio.wait_for(scene(), 120))
        late = []
        for batch in batches:
            came = heard[str(batch)]
            self.assertEqual([seq for seq, _, _ in came], list(range(1, len(sent[str(batch)]) + 1)))
            self.assertEqual({id for _, id, _ in came}, set(sent[str(batch)]))
            self.assertEqual(len(entries_after(batch, 0)), len(sent[str(batch)]))
            late += [at - sent[str(batch)][id] for _, id, at in came]
        late.sort()
        slow = max(slow, slowness_of_all_cores())
        figures = {
            "entries": len(late),
            "slowness": slow,
            "seconds": seconds,
            "median_s": late[len(late) // 2],
            "p95_s": late[int(len(late) * 0.95)],
            "p99_s": late[int(len(late) * 0.99)],
            "latest_s": late[-1],
        }
        if "OAKENJUG_STREAM_REPORT" in os.environ:
            Path(os.environ["OAKENJUG_STREAM_REPORT"]).write_text(json.dumps(figures), encoding="utf-8")
        # Whether it is two seconds is bench/streams.py's to say, on a machine that does nothing else. Here nothing may wait for the beat.
        self.assertLess(late[-1], BEAT_S * slow, figures)

    def test_a_stream_ends_within_five_seconds_of_its_session_however_much_there_is_to_tell(self) -> None:
        batch = begun_batch(self.lead)
        cook = User.objects.create_user("cook", password="a-long-test-password", site=self.site, role=Role.PREP)
        ended, deactivated = self.cookie(cook), self.cookie(cook)
        mine = self.cookie(self.lead)

        async def followed(cookie: str) -> float:
            """When the server ends a stream."""
            reader, writer = await asyncio.open_connection("127.0.0.1", self.port)
            writer.write(f"GET /api/v1/stream?at={batch.id}:0 HTTP/1.1\r\nHost: 127.0.0.1:{self.port}\r\nCookie: {cookie}\r\n\r\n".encode())
            await writer.drain()
            seen = b""
            while not seen.endswith(b"0\r\n\r\n"):  # the body is over; the line may stay open for another request
                more = await reader.read(4096)
                if not more:
                    break
                seen = (seen + more)[-64:]
            writer.close()
            return time.monotonic()

        async def busy() -> None:
            while True:
                await self.request("POST", f"/api/v1/batches/{batch.id}/entries", mine, {"events": [entry({"kind": "noted", "text": "x"})]})
                await asyncio.sleep(0.4)

        async def scene() -> list[float]:
            entering = asyncio.create_task(busy())
            streams = [asyncio.create_task(followed(cookie)) for cookie in (ended, deactivated)]
            await asyncio.sleep(2)
            began = time.monotonic()
            await sync_to_async(Session.objects.filter(session_key=ended.split("=")[1].split(";")[0]).delete)()
            await sync_to_async(User.objects.filter(pk=cook.pk).update)(is_active=False)
            over = [at - began for at in await asyncio.wait_for(asyncio.gather(*streams), 60)]
            entering.cancel()
            return over

        for took in asyncio.run(scene()):
            self.assertLess(took, 5 * slowness())

    def test_a_stream_hears_nothing_of_another_site(self) -> None:
        batch = begun_batch(self.lead)
        other = Site.objects.create(name="Another kitchen")
        stranger = User.objects.create_user("stranger", password="a-long-test-password", site=other, role=Role.LEAD, display_name="Stranger")
        cookie = self.cookie(stranger)
        heard: dict[str, list[tuple[int, str, float]]] = {}

        async def scene() -> None:
            stop = asyncio.Event()
            page = asyncio.create_task(self.listen(f"{batch.id}:0", cookie, heard, stop, {}))
            await asyncio.sleep(0.5)
            stop.set()
            await page

        append(actor=self.lead, batch_id=batch.id, events=[Event.model_validate(entry({"kind": "noted", "text": "ours"}))])
        asyncio.run(asyncio.wait_for(scene(), 120))
        self.assertEqual(heard, {})
        self.assertLess(datetime.now(UTC).timestamp() - batch.started_at.timestamp(), 60)
