"""One stream a tab: new entries of the batches it follows, and a word when any batch of the site moves.

Server-sent events. Every message's id is where the stream stands, so that a browser that
comes back goes on behind it.
"""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import AsyncIterator
from typing import Any
from uuid import UUID

from asgiref.sync import sync_to_async
from django.http import HttpRequest, StreamingHttpResponse
from django.utils import timezone
from ninja import Router

from jugcore.errors import OutOfRange
from jugserver.accounts import policies
from jugserver.accounts.models import Session, Site
from jugserver.accounts.signed_in import signed_in
from jugserver.batches.hub import Subscriber, hub
from jugserver.batches.log import entries_after
from jugserver.batches.models import Batch
from jugserver.http.media import media
from jugserver.http.problems import Problem
from jugserver.process.connections import give_back

router = Router()

#: Entries that come within this time are sent together. [s]
_TOGETHER_S = 0.15
#: That batches of the site moved is said at once, and then no oftener: a list that shows them is drawn anew each time. [s]
_MOVED_S = 1.0
#: A word now and then keeps the way open. [s]
BEAT_S = 15.0
#: A stream looks so often whether its session still holds, however much there is to tell. [s]
_LOOKS_S = 1.5
_MOST_FOLLOWED = 20


@router.get("", response={200: str, 401: Problem, 403: Problem, 422: Problem}, operation_id="stream", openapi_extra=media("text/event-stream"))
def get_stream(request: HttpRequest, at: str = "") -> StreamingHttpResponse:
    """Follow batches: ``at`` is “<batch>:<last known number>,…”. Answers with server-sent events.

    ``entries`` carries new entries of a followed batch, ``batches`` names batches of the
    site that moved.
    """
    user, site = signed_in(request)
    policies.require(user, "read")
    where = request.headers.get("Last-Event-ID") or at
    follows = _followed(where, site)
    response = StreamingHttpResponse(_messages(site.pk, follows, request.session.session_key or ""), content_type="text/event-stream")
    response["Cache-Control"] = "no-store"
    response["X-Accel-Buffering"] = "no"
    give_back()
    return response


def _followed(where: str, site: Site) -> dict[UUID, int]:
    """Batches of the site and the number each is known up to; other sites' are passed over."""
    found: dict[UUID, int] = {}
    for part in where.split(",") if where else ():
        batch, _, seq = part.partition(":")
        try:
            found[UUID(batch)] = min(max(int(seq), 0), 2_147_483_647)
        except ValueError:
            raise OutOfRange("at", f"“{part[:80]}” is not a place in a log.", "Write <batch>:<number>, with commas between.") from None
    if len(found) > _MOST_FOLLOWED:
        raise OutOfRange("at", f"A page follows at most {_MOST_FOLLOWED} batches.", "Follow fewer.")
    here = set(Batch.objects.of_site(site).filter(pk__in=found).values_list("pk", flat=True))
    return {batch: seq for batch, seq in found.items() if batch in here}


async def _messages(site_id: int, follows: dict[UUID, int], session_key: str) -> AsyncIterator[str]:
    with hub().subscribed(site_id) as me:
        yield "retry: 1000\n\n"
        said = looked = time.monotonic()
        moved: set[UUID] = set()
        told_moved = said - _MOVED_S
        while True:
            await _woken(me, _MOVED_S if moved else _LOOKS_S)
            now = time.monotonic()
            if now - looked >= _LOOKS_S:
                looked = now
                if not await _read(_session_holds, session_key):
                    return
            changed, missed = me.changed, me.missed
            me.changed, me.missed = {}, False
            moved |= changed.keys()
            tells_moved = missed or (bool(moved) and now - told_moved >= _MOVED_S)
            if not changed and not tells_moved:
                if now - said >= BEAT_S:
                    said = now
                    yield ": still here\n\n"
                continue
            said = now
            for batch in [b for b in follows if missed or b in changed]:
                entries = _next(changed.get(batch, []), follows[batch])
                if entries is None:
                    entries = [{"seq": seq, "event": event} for seq, event in await _read(entries_after, batch, follows[batch])]
                if entries:
                    follows[batch] = entries[-1]["seq"]
                    yield _message("entries", follows, {"batch": str(batch), "entries": entries})
            if tells_moved:
                yield _message("batches", follows, {"moved": sorted(str(batch) for batch in moved)})
                moved, told_moved = set(), now


def _next(told: list[dict[str, Any]], known: int) -> list[dict[str, Any]] | None:
    """What was told beyond a number, if it goes on without a gap; None where it must be read."""
    new = sorted((entry for entry in told if entry["seq"] > known), key=lambda entry: entry["seq"])
    whole = bool(new) and [entry["seq"] for entry in new] == list(range(known + 1, known + 1 + len(new)))
    return new if whole else None


async def _woken(me: Subscriber, most_s: float) -> None:
    """Wait for something to happen, and a moment more for what comes with it; or so long."""
    try:
        await asyncio.wait_for(me.wake.wait(), most_s)
        await asyncio.sleep(_TOGETHER_S)
    except TimeoutError:
        return
    finally:
        me.wake.clear()


def _message(event: str, follows: dict[UUID, int], data: dict[str, Any]) -> str:
    at = ",".join(f"{batch}:{seq}" for batch, seq in follows.items())
    return f"event: {event}\nid: {at}\ndata: {json.dumps(data, ensure_ascii=False)}\n\n"


def _session_holds(session_key: str) -> bool:
    return bool(session_key) and Session.objects.filter(session_key=session_key, expire_date__gt=timezone.now(), user__is_active=True).exists()


async def _read(query: Any, *arguments: Any) -> Any:
    """A query in a thread that gives its connection back at once: an open stream holds none."""

    def run() -> Any:
        try:
            return query(*arguments)
        finally:
            give_back()

    return await sync_to_async(run, thread_sensitive=False)()
