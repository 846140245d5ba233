"""What lists show of a batch, in columns they are searched by: projected from its log when that moves, never when a list is read.

A state can be thrown away at any time; it is made again from the log.
"""

from __future__ import annotations

import logging
from datetime import datetime, timedelta
from functools import partial
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.actual.label_entries import promised, stricter
from jugcore.batch.sheet.equipment import equipment_met
from jugcore.batch.sheet.freezer import frozen_spans
from jugcore.batch.sheet.kept_aside import keeping_aside, kept_aside
from jugcore.batch.sheet.run_sheet import sheet_of
from jugcore.batch.sheet.summary import BatchSummary, flow_seen, summary_of
from jugcore.errors import DomainError
from jugcore.reading.flow_trials import FlowTrial
from jugcore.reading.keeping.assessment import keeping_of
from jugcore.reading.keeping.use_by import UseBy, made_dates
from jugserver.accounts.models import Site
from jugserver.accounts.site_time import in_time_of
from jugserver.batches.models import SUMMARY_SHAPE, Batch, BatchState, Kind
from jugserver.batches.reading import reckoned, walked
from jugserver.batches.signals import batch_read
from jugserver.batches.use_by import use_by_of
from jugserver.kitchen.services import note_met
from jugserver.process.by_and_by import by_and_by
from jugserver.process.words import searched

logger = logging.getLogger(__name__)
#: A list waits for so many logs to be read at most; behind them it shows what was last read.
MOST_AT_ONCE = 64
#: Of a site's trials in the funnel those of so many batches count, the newest.
_MOST_TRIED = 200


def state_of(batch: Any) -> BatchState:
    """The state of a batch up to its last entry, made anew where it is not."""
    state: BatchState | None = getattr(batch, "state", None)
    if state is not None and state.seq == batch.last_seq and state.shape == SUMMARY_SHAPE and not batch.behind:
        return state
    return keep_state(batch)


def keep_state(batch: Any) -> BatchState:
    """Read the log of a batch as far as it goes, and keep what lists show of it."""
    try:
        made = projected(batch)
        found, _ = walked(batch)
    except Exception as error:  # it is a state of this batch; the list it stands in shows the others, and it with what is wrong
        logger.exception("Nothing of batch %s can be worked out", batch.pk)
        made = _troubled(batch, error)
    else:
        if batch.practised:  # it met no equipment, filled nothing and took of no lot
            _write(made)
            return made
        if found.walk.kitchen.equipment:
            note_met(site=batch.site, batch=batch.pk, title=f"{batch.name} {batch.number:04d}"[:200], met=equipment_met(found))
        for heard, wrong in batch_read.send_robust(Batch, batch=batch, found=found):
            if isinstance(wrong, Exception):  # what a list shows of the batch does not hang on what else is made of it
                logger.error("Batch %s was read, and %s failed", batch.pk, heard, exc_info=wrong)
    _write(made)
    return made


def _write(made: BatchState) -> None:
    values = {field.attname: getattr(made, field.attname) for field in BatchState._meta.fields if not field.primary_key}
    with transaction.atomic():
        # Two may read one log at once: what was read further stays.
        if not BatchState.objects.filter(pk=made.pk, seq__lte=made.seq).update(**values):
            BatchState.objects.bulk_create([made], ignore_conflicts=True)
        Batch.objects.filter(pk=made.pk, last_seq=made.seq).update(behind=False)


def projected(batch: Any) -> BatchState:
    """The state as its log makes it, nothing kept: a function of the batch's document, its entries, and the dates of the lots it uses."""
    found, _, sheet = reckoned(batch, lambda found, log: sheet_of(found, log, _until(found, batch)))
    return _state(batch, sheet.seq, summary_of(found, sheet), found)


def _troubled(batch: Any, error: Exception) -> BatchState:
    """The state of a batch of which nothing can be worked out: it runs, as far as anybody knows."""
    why = str(error) if isinstance(error, DomainError) else "Its log or what it was started from cannot be read here."
    return _state(batch, batch.last_seq, BatchSummary(trouble=why), None)


def _state(batch: Any, seq: int, told: BatchSummary, found: ActualBatch | None) -> BatchState:
    flow = [] if found is None else [each.model_dump(mode="json") for each in flow_seen(found)]
    words = searched(f"{batch.name} {batch.started_by} {told.words}")
    return BatchState(
        batch=batch, site_id=batch.site_id, started_at=batch.started_at, kind=batch.kind, number=batch.number, seq=seq, shape=SUMMARY_SHAPE,
        status=told.status, closed_at=told.closed_at, off_plan=told.off_plan, cooling_by=told.cooling.by if told.cooling else None,
        use_by=None if found is None else last_day_of(batch.site, batch, found).day,
        dated=[] if found is None else sorted(set(promised(found).dated) | set(keeping_of(found.walk).dated)),
        flow=flow, search=words, summary=told.model_dump(mode="json"),
    )  # fmt: skip


def _until(found: ActualBatch, batch: Any) -> datetime:
    started: datetime = batch.started_at
    return started if found.record.closed is None else found.record.closed.event.at


def last_day_of(site: Site, batch: Any, found: ActualBatch, *, frozen: bool = True) -> UseBy:
    """The last day of a batch: no later than its version's, whatever was entered at the hob; without ``frozen`` as if it never froze."""
    made, spans = timezone.localtime(batch.started_at).date(), frozen_spans(found.record) if frozen else ()
    bottles = made_dates(found.method)
    by_version, now = (use_by_of(site, keeping, made, spans, bottles) for keeping in (promised(found), keeping_of(found.walk)))
    return stricter(by_version, now, found)


def last_day_aside(site: Site, batch: Any, found: ActualBatch, stage: str) -> UseBy | None:
    """The last day of what a step left beside the product and was kept; None where the step leaves nothing any more."""
    kept = kept_aside(found, stage)
    if kept is None:
        return None
    return use_by_of(site, keeping_aside(found, kept), timezone.localtime(batch.started_at).date(), (), made_dates(found.method))


def bring_up_to_date(site: Site) -> None:
    """Read the logs of a site's batches that moved since they were read last, a few at most."""
    for batch in Batch.objects.of_site(site).in_full().behind()[:MOST_AT_ONCE]:
        keep_state(batch)


def read_by_and_by(sender: object, batch_id: UUID, **_: object) -> None:
    """A batch moved: what lists show of it is read a moment later, beside the requests, unless a list asks for it sooner."""
    by_and_by(("batch", batch_id), partial(_read_anew, batch_id))


def _read_anew(batch_id: UUID) -> None:
    batch = Batch.objects.in_full().filter(pk=batch_id).first()
    if batch is not None:
        with in_time_of(batch.site):
            state_of(batch)


def catch_up() -> None:
    """Have every state read anew that another release made, or that is behind; the newest first."""
    old = Batch.objects.filter(Q(state__isnull=True) | ~Q(state__shape=SUMMARY_SHAPE) | Q(behind=True))
    for batch_id in old.order_by("-started_at").values_list("pk", flat=True):
        by_and_by(("batch", batch_id), partial(_read_anew, batch_id))


def forget(site: Site | None = None) -> None:
    """Throw states away: they are made again from the logs when they are next asked for."""
    states, batches = BatchState.objects.all(), Batch.objects.all()
    if site is not None:
        states, batches = states.filter(site=site), batches.filter(site=site)
    states.delete()
    batches.update(behind=True)


def lot_changed(sender: object, site: Site, key: str, **_: object) -> None:
    """The date of a lot is another: the last days of what was made with that ingredient and is still kept are read anew."""
    kept = BatchState.objects.filter(site=site, dated__contains=[key], use_by__gte=timezone.localdate())
    moved = list(kept.values_list("pk", flat=True))
    Batch.objects.filter(pk__in=moved).update(behind=True)
    for batch_id in moved:
        read_by_and_by(sender, batch_id)


def days_changed(sender: object, site: Site, **_: object) -> None:
    """The days of a site begin at another hour: the last days of what is still kept are read anew."""
    kept = BatchState.objects.filter(site=site, use_by__gte=timezone.localdate() - timedelta(days=1))
    moved = list(kept.values_list("pk", flat=True))
    Batch.objects.filter(pk__in=moved).update(behind=True)
    for batch_id in moved:
        read_by_and_by(sender, batch_id)


def flow_trials(site: Site) -> list[FlowTrial]:
    """The site's trials in the funnel, the newest batch last."""
    for batch in Batch.objects.of_site(site).in_full().behind().filter(entries__kind="flowed").distinct()[:MOST_AT_ONCE]:
        keep_state(batch)
    tried = BatchState.objects.filter(site=site, kind=Kind.REAL).exclude(flow=[]).order_by("-started_at")[:_MOST_TRIED]
    rows = reversed(tried.values_list("batch__number", "batch__name", "flow"))
    return [FlowTrial(batch=f"{name} {number:04d}", **trial) for number, name, trials in rows for trial in trials]
