"""Containers by what a batch's log says was filled: made, and voided where that was taken back. The log stays what counts."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid5

from django.db import transaction
from django.utils import timezone

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.batch.sheet.kept_aside import kept_aside
from jugcore.stock import movements as m
from jugserver.accounts.models import User
from jugserver.batches.models import Batch
from jugserver.batches.states import last_day_aside, last_day_of
from jugserver.stock.models import Container, Movement, Place
from jugserver.stock.standing import COLUMNS, day_of, stand

#: What was filled so long ago and is past its day was used up before anybody kept its bottles.
_FORGOTTEN = timedelta(days=2)


@dataclass(frozen=True)
class _Fill:
    """A container that a log speaks of."""

    id: UUID
    entry: Logged
    kind: str
    mass_g: float
    #: The step that left what was kept aside.
    stage: str = ""


def batch_was_read(sender: object, batch: Batch, found: ActualBatch, **_: object) -> None:
    """A batch was read: its containers are those that its log says were filled."""
    with transaction.atomic():
        keep_fills(batch, found)


def keep_fills(batch: Batch, found: ActualBatch) -> None:
    """Make the containers a batch's log speaks of, void those it no longer does, and follow its own days and times in the freezer."""
    fills = {fill.id: fill for fill in _fills(found)}
    if not fills and not Container.objects.filter(batch=batch).exists():
        return
    Batch.objects.only("pk").select_for_update(of=("self",)).get(pk=batch.pk)  # read by two at once its containers would be numbered twice
    there = {row.pk: row for row in Container.objects.filter(batch=batch).order_by("number")}
    last = last_day_of(batch.site, batch, found, frozen=False)
    new = [fill for id, fill in fills.items() if id not in there]
    if new and not there and last.day is not None and last.day < timezone.localdate() and _long_ago(new):
        return
    authors = _authors(batch, [fill.entry.event.by for fill in new])
    place = Place.objects.filter(site=batch.site, kitchen=True, archived_at__isnull=True).first()
    number = max((row.number for row in there.values()), default=0)
    for fill in new:
        number += 1
        there[fill.id] = Container.objects.create(
            id=fill.id, site_id=batch.site_id, batch=batch, formula_id=batch.formula_id, entry=fill.entry.event.id, number=number, kind=fill.kind,
            stage=fill.stage, title=_title(found, fill.stage), made_on=day_of(batch.started_at), filled_g=fill.mass_g, mass_g=fill.mass_g,
        )  # fmt: skip
        Movement.objects.create(
            id=uuid5(fill.id, "filled"), container=there[fill.id], seq=1, kind="filled", at=fill.entry.event.at, place=place,
            what=m.FilledEntry(mass_g=fill.mass_g, place=None if place is None else str(place.pk)).model_dump(mode="json"),
            by=authors[fill.entry.event.by],
        )  # fmt: skip
    keeping = found.document.keeping
    opened_days = None if keeping is None else keeping.opened_days
    aside = {stage: last_day_aside(batch.site, batch, found, stage) for stage in {row.stage for row in there.values()} if stage}
    rows: dict[UUID, list[Movement]] = {}
    for row in Movement.objects.filter(container__in=there):
        rows.setdefault(row.container_id, []).append(row)
    for id, container in there.items():
        day = aside.get(container.stage) or last
        container.last_day, container.last_day_why = day.day, day.why[:500]
        container.opened_days = None if container.stage else opened_days
        container.voided_at = None if id in fills else container.voided_at or timezone.now()
        stand(container, rows.get(id, []))
        container.last_seq = max((row.seq for row in rows.get(id, [])), default=0)
    Container.objects.bulk_update(there.values(), ["last_day", "last_day_why", "opened_days", "voided_at", *COLUMNS])


def _fills(found: ActualBatch) -> Iterator[_Fill]:
    for entry, bottled in found.record.of(e.Bottled):
        for n in range(bottled.count):
            yield _Fill(uuid5(entry.event.id, str(n)), entry, "bottle", bottled.each_g)
    for entry, left in found.record.of(e.LeftOver):
        if left.fate == "kept":
            yield _Fill(uuid5(entry.event.id, "rest"), entry, "rest", left.mass_g)
    for entry, kept in found.record.of(e.KeptAside):
        if kept_aside(found, kept.stage) is not None:
            yield _Fill(uuid5(entry.event.id, "aside"), entry, "aside", kept.mass_g, kept.stage)


def _title(found: ActualBatch, stage: str) -> str:
    kept = kept_aside(found, stage) if stage else None
    return "" if kept is None else kept.title[:200]


def _long_ago(fills: list[_Fill]) -> bool:
    return all(timezone.now() - fill.entry.event.at > _FORGOTTEN for fill in fills)


def _authors(batch: Batch, names: list[str]) -> dict[str, User]:
    """Who filled, by the name in the log; who started the batch where nobody bears it any more."""
    known: dict[str, Any] = {user.username: user for user in User.objects.filter(site=batch.site, username__in=set(names))}
    return {name: known.get(name, batch.started_by) for name in names}
