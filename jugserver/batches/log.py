"""The log of a batch: appended to under the batch's lock, read in order."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.db import IntegrityError, connection, transaction
from django.http import Http404
from django.utils import timezone

from jugcore.batch.events import Event, Logged, Swapped, with_facts, without_facts
from jugserver.accounts import policies
from jugserver.accounts.models import User
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.schemas import EntriesKept, EntryKept
from jugserver.config.problems import Conflict
from jugserver.pantry.placing import own_of

#: Where other processes and open pages hear of new entries.
CHANNEL = "batch_log"
#: PostgreSQL carries less than 8,000 bytes with a notification.
_MOST_TOLD = 7900


def append(*, actor: User, batch_id: UUID, events: Sequence[Event]) -> EntriesKept:
    """Keep entries, each once, numbered without a gap.

    What was kept before answers with the number it has. A well-formed entry is never
    refused: what two tablets disagree about is kept twice and asked about. Raises
    Conflict only for an id that belongs to another entry.
    """
    policies.require(actor, "cook")
    try:
        with transaction.atomic():
            return _append(actor, batch_id, events, known={})
    except IntegrityError:
        # Some were kept before: an answer was lost on its way. That is rare, and looked up only then.
        with transaction.atomic():
            known = {entry.id: entry for entry in LogEntry.objects.filter(pk__in=[event.id for event in events])}
            return _append(actor, batch_id, events, known)


def _append(actor: User, batch_id: UUID, events: Sequence[Event], known: dict[UUID, LogEntry]) -> EntriesKept:
    # Locked, so that numbers have no gaps and no two entries share one.
    batch = Batch.objects.filter(site=actor.site_id, pk=batch_id).only("id", "site_id", "last_seq").select_for_update().first()
    if batch is None:
        raise Http404
    swapped = {event.what.substance for event in events if isinstance(event.what, Swapped)}
    own = own_of(batch.site, swapped) if swapped else {}
    seq, kept, new = batch.last_seq, [], []
    for event in events:
        before = known.get(event.id)
        written = event.model_dump(mode="json", exclude_none=True)
        if before is None:
            seq += 1
            written = with_facts(without_facts(event), own).model_dump(mode="json", exclude_none=True)
            before = LogEntry(id=event.id, batch=batch, seq=seq, kind=event.what.kind, event=written, at=event.at, sent_by=actor)
            known[event.id] = before
            new.append(before)
        elif before.batch_id != batch.pk or not _same(before.event, written):
            raise Conflict("events", f"The id {event.id} belongs to another entry.", "Give every entry an id of its own.")
        kept.append(EntryKept(id=event.id, seq=before.seq))
    if new:
        LogEntry.objects.bulk_create(new)
        payload = _payload(batch.site_id, batch.pk, seq, [{"seq": entry.seq, "event": entry.event} for entry in new])
        with connection.cursor() as cursor:
            # The new number and the word of it in one go: this is what a hundred entries a second pass through.
            cursor.execute(
                "update batches_batch set last_seq = %s, touched_at = %s where id = %s returning pg_notify(%s, %s)",
                [seq, timezone.now(), batch.pk, CHANNEL, payload],
            )
    return EntriesKept(kept=kept, seq=seq)


def _same(kept: dict[str, Any], sent: dict[str, Any]) -> bool:
    """Whether what is sent is what was kept: the facts of what went in were filled in then, by what the site knew."""

    def bare(event: dict[str, Any]) -> dict[str, Any]:
        return {**event, "what": {name: value for name, value in event["what"].items() if name != "facts"}}

    return bare(kept) == bare(sent)


def tell(site_id: int, batch_id: UUID, seq: int) -> None:
    """Let open pages know that a batch moved, once this transaction is kept."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_notify(%s, %s)", [CHANNEL, _payload(site_id, batch_id, seq, ())])


def _payload(site_id: int, batch_id: UUID, seq: int, entries: Sequence[dict[str, Any]]) -> str:
    """What pages are told: with the entries where they fit, so that nobody has to read them."""
    told = {"site": site_id, "batch": str(batch_id), "seq": seq}
    whole = json.dumps({**told, "entries": list(entries)}, ensure_ascii=False)
    return whole if len(whole.encode()) < _MOST_TOLD else json.dumps({**told, "entries": []})


def logged(rows: Sequence[Any]) -> list[Logged]:
    """Rows of ``(seq, event)`` as the core reads them."""
    return [Logged(seq, Event.model_validate(event)) for seq, event in rows]


def entries_after(batch_id: UUID, seq: int, most: int | None = None) -> list[tuple[int, dict[str, Any]]]:
    """Entries behind a number, in order, as they were written."""
    rows = LogEntry.objects.filter(batch_id=batch_id, seq__gt=seq).order_by("seq").values_list("seq", "event")
    return list(rows if most is None else rows[:most])
