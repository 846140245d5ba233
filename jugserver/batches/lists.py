"""Batches in lists: a page at a time by indexed columns, nothing worked out."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from itertools import chain, repeat
from typing import Any
from uuid import UUID

from django.db.models import Q, QuerySet
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.batches.models import BatchState, Kind
from jugserver.batches.schemas import BatchCard, BatchesOut
from jugserver.batches.states import bring_up_to_date
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.process.planned import planned_anew
from jugserver.process.words import has_word

#: On a page, if nothing else is asked for.
PAGE = 50


@dataclass(frozen=True)
class Filter:
    """Which batches are asked for; nothing asks for all."""

    words: str = ""
    status: str = ""
    off_plan: bool = False
    since: date | None = None
    until: date | None = None
    cooling: bool = False
    use_by: date | None = None
    flow: bool = False
    kind: str = Kind.REAL


#: Where a page ended: the start and the id of its last batch.
_At = tuple[datetime, UUID]


def page_of(site: Site, wanted: Filter | None = None, cursor: str = "", most: int = PAGE) -> BatchesOut:
    """A page of a site's batches, the newest first, those that are asked for."""
    bring_up_to_date(site)
    rows = _rows(site, wanted or Filter(), cursor_at(cursor, _At), most + 1)
    more = len(rows) > most
    return BatchesOut(items=[card(row) for row in rows[:most]], next=cursor_of(*_where(rows[most - 1])) if more else None)


def all_of(site: Site, wanted: Filter) -> Iterator[list[BatchCard]]:
    """All that are asked for, page by page, a small one first: whoever reads them need not hold them."""
    bring_up_to_date(site)
    after: _At | None = None
    for page in chain([PAGE], repeat(10 * PAGE)):
        rows = _rows(site, wanted, after, page)
        yield [card(row) for row in rows]
        if len(rows) < page:
            return
        after = _where(rows[-1])


def _where(row: BatchState) -> _At:
    return row.started_at, row.batch_id


def _rows(site: Site, wanted: Filter, after: _At | None, most: int) -> list[BatchState]:
    found: QuerySet[BatchState] = _narrowed(BatchState.objects.filter(site=site, kind=wanted.kind), wanted)
    if after is not None:
        at, id = after
        # The first bounds the index that is read; the second says where on it.
        found = found.filter(started_at__lte=at).filter(Q(started_at__lt=at) | Q(batch__lt=id))
    found = found.select_related("batch__started_by", "batch__version").only(*_SHOWN).order_by("-started_at", "-batch_id")[:most]
    if not (wanted.words or wanted.use_by or wanted.since or wanted.until):
        return list(found)
    with planned_anew():
        return list(found)


#: What a card needs; documents are large, and never read for a list.
_SHOWN = (
    "summary", "started_at", "use_by", "seq", "kind", "batch__id", "batch__number", "batch__name", "batch__factor", "batch__formula_id",
    "batch__started_at", "batch__touched_at", "batch__last_seq",
    "batch__started_by__display_name", "batch__started_by__username", "batch__version__number",
)  # fmt: skip


def _narrowed(found: QuerySet[BatchState], wanted: Filter) -> QuerySet[BatchState]:
    """Those asked for: every word in the name, the number, who started it, the notes or the reasons."""
    for word in wanted.words.lower().split():
        fits = has_word(word)
        if re.fullmatch(r"\d{1,9}", word):
            fits |= Q(number=int(word))
        found = found.filter(fits)
    if wanted.status == "ended":
        found = found.filter(status__in=["finished", "stopped"])
    elif wanted.status:
        found = found.filter(status=wanted.status)
    if wanted.off_plan:
        found = found.filter(off_plan__gt=0)
    if wanted.cooling:
        found = found.filter(cooling_by__isnull=False)
    if wanted.flow:
        found = found.exclude(flow=[])
    if wanted.use_by is not None:
        found = found.filter(use_by__isnull=False, use_by__lte=wanted.use_by)
    if wanted.since is not None:
        found = found.filter(started_at__gte=_midnight(wanted.since))
    if wanted.until is not None:
        found = found.filter(started_at__lt=_midnight(wanted.until + timedelta(days=1)) if wanted.until < date.max else timezone.now())
    return found


def _midnight(day: date) -> datetime:
    return timezone.make_aware(datetime.combine(day, time()))


def card(row: BatchState) -> BatchCard:
    """A batch in a list, from its state."""
    batch: Any = row.batch
    return BatchCard.model_validate({
        **row.summary, "id": batch.pk, "kind": row.kind, "number": batch.number, "name": batch.name, "formula": batch.formula_id,
        "version": batch.version.number, "factor": batch.factor,
        "started_at": batch.started_at, "started_by": str(batch.started_by), "touched_at": batch.touched_at, "last_seq": batch.last_seq,
        "use_by": row.use_by,
    })  # fmt: skip
