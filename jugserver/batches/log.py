"""The log of a batch: appended to under the batch's lock, read in order."""

from __future__ import annotations

import json
import logging
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import IntegrityError, connection, transaction
from django.db.models import QuerySet
from django.dispatch import Signal
from django.http import Http404
from django.utils import timezone

from jugcore.batch.log.arrival import Arrival, read_at
from jugcore.batch.log.chain import first_mark, mark
from jugcore.batch.log.events import Event, Logged, PutRight, named_in, with_facts
from jugcore.batch.log.load_event import load_event
from jugcore.errors import DomainError
from jugserver.accounts import policies
from jugserver.accounts.marks import Author, authors_of
from jugserver.accounts.models import User
from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.schemas import EntriesKept, EntryKept
from jugserver.http.problems import Conflict
from jugserver.pantry.pantry_overlay import own_substances

logger = logging.getLogger(__name__)

#: Where other processes and open pages hear of new entries.
CHANNEL = "batch_log"
#: PostgreSQL carries less than 8,000 bytes with a notification.
_MOST_TOLD = 7900


@dataclass(frozen=True)
class Sending:
    """How entries were sent: the mark each bears of who made it, and what the tablet's clock showed then.

    ``as_made`` keeps each as if it had arrived when it was made: for a log that is entered from a book.
    """

    marks: Mapping[UUID, str] = field(default_factory=dict)
    clock: datetime | None = None
    as_made: bool = False


_PLAINLY = Sending()


def append(*, actor: User, batch_id: UUID, events: Sequence[Event], how: Sending = _PLAINLY) -> EntriesKept:
    """Keep entries, each once, numbered without a gap.

    What was kept before answers with the number it has. A well-formed entry is never
    refused: what two tablets disagree about is kept twice and asked about. Who entered it
    is the person of the session, or who bears the mark it was made with. Raises Conflict
    only for an id that belongs to another entry.
    """
    policies.require(actor, "cook")
    try:
        with transaction.atomic():
            return _append(actor, batch_id, events, how, known={})
    except IntegrityError:
        # Some were kept before: an answer was lost on its way. That is rare, and looked up only then.
        with transaction.atomic():
            known = {entry.id: entry for entry in LogEntry.objects.filter(pk__in=[event.id for event in events])}
            return _append(actor, batch_id, events, how, known)


def _append(actor: User, batch_id: UUID, events: Sequence[Event], how: Sending, known: dict[UUID, LogEntry]) -> EntriesKept:
    # Locked, so that numbers have no gaps and no two entries share one.
    batch = Batch.objects.filter(site=actor.site_id, pk=batch_id).only(*_NEEDED).select_for_update().first()
    if batch is None:
        raise Http404
    brought = frozenset().union(*(named_in(event) for event in events))
    own = own_substances(batch.site, brought) if brought else {}
    # Deferred: only a way that was chosen makes it be read.
    of_batch = frozenset(batch.document["substances"]) if any(isinstance(event.what, PutRight) for event in events) else frozenset()
    authors = authors_of(actor, how.marks)
    now = timezone.now()
    seq, chain, kept, new = batch.last_seq, batch.chain or chain_so_far(batch), [], []
    for event in events:
        before = known.get(event.id)
        author = authors.get(event.id) or Author.of(actor)
        if before is None:
            seq += 1
            written = with_facts(event, own, of_batch).model_copy(update={"by": author.username}).model_dump(mode="json", exclude_none=True)
            at, cannot_be = read_at(event.at, received=event.at if how.as_made else now, started=batch.started_at, clock=how.clock)
            before = LogEntry(
                id=event.id, batch=batch, seq=seq, kind=event.what.kind, event=written, at=at, sent_by=actor,
                received_at=event.at if how.as_made else now, said_by="" if event.by == author.username else event.by,
                by_lead=author.lead, time_cannot_be=cannot_be,
            )  # fmt: skip
            before.chain = chain = mark(chain, as_chained(before))
            known[event.id] = before
            new.append(before)
        elif before.batch_id != batch.pk or not _same(before, event):
            raise Conflict("events", f"The id {event.id} belongs to another entry.", "Give every entry an id of its own.")
        kept.append(EntryKept(id=event.id, seq=before.seq))
    if new:
        LogEntry.objects.bulk_create(new)
        payload = _payload(batch.site_id, batch.pk, seq, [{"seq": entry.seq, "event": entry.event} for entry in new])
        with connection.cursor() as cursor:
            # The new number and the word of it in one go: this is what a hundred entries a second pass through.
            cursor.execute(
                "update batches_batch set last_seq = %s, chain = %s, touched_at = %s, behind = true where id = %s returning pg_notify(%s, %s)",
                [seq, chain, now, batch.pk, CHANNEL, payload],
            )
        moved.send(Batch, batch_id=batch.pk)
    return EntriesKept(kept=kept, seq=seq)


#: Sent with a batch that moved, in the transaction of what moved it.
moved = Signal()


#: What keeping an entry needs of its batch; its document is large, and read only where a way was chosen.
_NEEDED = ("id", "site_id", "fingerprint", "started_at", "last_seq", "chain")


def chain_so_far(batch: Batch) -> str:
    """The mark after which the next entry's is made, of a log that has none yet: it seals what was kept before there were any."""
    found = first_mark(str(batch.pk), batch.fingerprint)
    before = LogEntry.objects.filter(batch_id=batch.pk, chain="").order_by("seq").iterator() if batch.last_seq else ()
    for entry in before:
        found = mark(found, as_chained(entry))
    return found


def as_chained(entry: LogEntry) -> dict[str, Any]:
    """All that is kept of an entry, as its mark is made of it."""
    return {
        "id": str(entry.id), "batch": str(entry.batch_id), "seq": entry.seq, "event": entry.event, "at": entry.at, "sent_by": entry.sent_by_id,
        "received_at": entry.received_at, "said_by": entry.said_by, "by_lead": entry.by_lead, "time_cannot_be": entry.time_cannot_be,
    }  # fmt: skip


def _same(kept: LogEntry, sent: Event) -> bool:
    """Whether what is sent is what was kept: who entered it and what is known of what it brings were written by the server."""

    def bare(event: dict[str, Any]) -> dict[str, Any]:
        what = {name: value for name, value in event["what"].items() if name not in ("facts", "document")}
        return {**event, "by": "", "what": what}

    return bare(kept.event) == bare(sent.model_dump(mode="json", exclude_none=True))


def notify(site_id: int, batch_id: UUID, seq: int) -> None:
    """Let open pages know that a batch moved, once this transaction is kept."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_notify(%s, %s)", [CHANNEL, _payload(site_id, batch_id, seq, ())])


def _payload(site_id: int, batch_id: UUID, seq: int, entries: Sequence[dict[str, Any]]) -> str:
    """What pages are told: with the entries where they fit, so that nobody has to read them."""
    told = {"site": site_id, "batch": str(batch_id), "seq": seq}
    whole = json.dumps({**told, "entries": list(entries)}, ensure_ascii=False)
    return whole if len(whole.encode()) < _MOST_TOLD else json.dumps({**told, "entries": []})


def logged(rows: Iterable[LogEntry]) -> list[Logged]:
    """Entries as the core reads them: each with the time it is read with, and how it arrived."""
    return [_logged(entry) for entry in rows]


def _logged(entry: LogEntry) -> Logged:
    event = _event(entry)
    arrival = Arrival(
        received_at=entry.received_at, sent_by=entry.sent_by.username, said_by=entry.said_by, said_at=event.at if event.at != entry.at else None,
        cannot_be=entry.time_cannot_be, by_lead=entry.by_lead,
    )  # fmt: skip
    return Logged(entry.seq, event.model_copy(update={"at": entry.at}), arrival)


def _event(entry: LogEntry) -> Event:
    """What an entry says; of one that an earlier release kept and this one cannot read, a note that says so and changes nothing."""
    try:
        return load_event(entry.event)
    except DomainError:
        logger.exception("Entry %s of batch %s cannot be read", entry.seq, entry.batch_id)
        text = f"An entry ({entry.kind.replace('_', ' ')}) of another release, which cannot be read here and is not counted."
        told = {name: entry.event.get(name) for name in ("by", "device")}
        return load_event({"id": entry.id, "at": entry.at, "by": "?", "device": "x", "what": {"kind": "noted", "text": text}} | {
            name: value for name, value in told.items() if isinstance(value, str) and value
        })  # fmt: skip


def log_of_batch(batch_id: UUID, after: int = 0) -> QuerySet[LogEntry]:
    """Entries behind a number, in order, with who sent them."""
    return LogEntry.objects.filter(batch_id=batch_id, seq__gt=after).select_related("sent_by").order_by("seq")


def entries_after(batch_id: UUID, seq: int) -> list[tuple[int, dict[str, Any]]]:
    """Entries behind a number, in order, as they were written."""
    return list(LogEntry.objects.filter(batch_id=batch_id, seq__gt=seq).order_by("seq").values_list("seq", "event"))
