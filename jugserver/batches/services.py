"""Verbs on batches: start one, look at it, ask what can be done about it, list them."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from django.db import transaction
from django.http import Http404
from django.utils import timezone

from jugcore import __version__
from jugcore.batch.actual.label_entries import allergens_on_label
from jugcore.batch.requests import LoggedDoc, batch_report, rescue_report
from jugcore.batch.sheet.last_time import minutes_by_stage
from jugcore.batch.sheet.run_sheet import sheet_of
from jugcore.editing.freeze import fingerprint, freeze
from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.method.phrases import capital
from jugcore.reading.equipment.pots import in_its_pots, too_much, with_pots
from jugcore.reading.report import report
from jugcore.scaling.batch_split import most_in_one
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugserver.accounts import policies
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.log import log_of_batch, logged, notify
from jugserver.batches.models import Batch, Kind
from jugserver.batches.reading import reckoned
from jugserver.batches.schemas import AllergenOut, BatchOut, EntriesOut, LastTime, Who
from jugserver.batches.states import bring_up_to_date, keep_state, last_day_of
from jugserver.computing.pool import work_out
from jugserver.formulas.models import Formula, Version
from jugserver.http.problems import Conflict
from jugserver.kitchen.services import kitchen_of


@transaction.atomic
def start_batch(
    *,
    actor: User,
    formula_id: UUID,
    version: int,
    scale: ScaleRequest | None = None,
    id: UUID | None = None,
    at: datetime | None = None,
    practice: bool = False,
    of: Callable[[MethodDocument], MethodDocument] = lambda version: version,
) -> Batch:
    """Start a batch of a version in the kitchen of today; ``at`` an earlier time where it is entered afterwards.

    With ``practice`` nothing of it counts: it has a number of its own kind, fills no bottle and teaches nothing.
    ``of`` puts into the version's document what it is made from today, in place of what it was frozen with.

    Raises BadDocument where that does not walk to its end in this kitchen. An id that was
    started before gives that batch.
    """
    policies.require(actor, "cook")
    site = actor.site
    assert site is not None
    before: Batch | None = Batch.objects.of_site(site).filter(pk=id).first() if id is not None else None
    if before is not None:
        return before
    of_site = Version.objects.filter(formula__in=Formula.objects.of_site(site))
    chosen = of_site.select_related("formula").filter(formula_id=formula_id, number=version).first()
    if chosen is None:
        raise Http404
    bring_up_to_date(site)  # what their equipment met belongs to the kitchen of today
    document, factor = resolved(of(load_document(chosen.document)), site, scale)
    # Locked, so that two batches started at once have two numbers, and one started twice at once is one.
    Site.objects.select_for_update().get(pk=site.pk)
    before = Batch.objects.of_site(site).filter(pk=id).first() if id is not None else None
    if before is not None:
        return before
    if id is not None and Batch.objects.filter(pk=id).exists():
        raise Conflict("id", "This id is taken.", "Give the batch another id.")
    kind = Kind.PRACTICE if practice else Kind.REAL
    newest = Batch.objects.of_site(site).filter(kind=kind).order_by("-number").values_list("number", flat=True).first()
    now = at or timezone.now()
    batch = Batch.objects.create(
        id=id or uuid4(), site=site, kind=kind, number=(newest or 0) + 1, formula=chosen.formula, version=chosen, name=chosen.formula.name,
        factor=factor, document=document.model_dump(mode="json", exclude_none=True), fingerprint=fingerprint(document), core_version=__version__,
        started_by=actor, started_at=now, touched_at=now,
    )  # fmt: skip
    keep_state(batch)
    notify(site.pk, batch.pk, 0)
    return batch


def resolved(version: MethodDocument, site: Site, scale: ScaleRequest | None) -> tuple[MethodDocument, float]:
    """A version in the kitchen of today, as much of it as is asked for, with everything it reads written into it; and its factor."""
    factor = 1.0
    document = version.model_copy(update={"kitchen": kitchen_of(site).kitchen})
    method = compile_document(document)
    if scale is not None:
        asked = scale_report(method, scale, document)
        if asked.cooks > 1:
            each = f"{shown(asked.factor / asked.cooks)} times the version"
            raise BadDocument("scale", f"That takes {asked.cooks} cooks. {asked.limits[0]}.", f"Start each by itself, {each}.")
        method, factor = compile_document(asked.document), asked.factor
    walked = in_its_pots(method)
    faults = report(walked).faults
    if faults:
        raise BadDocument(faults[0].field, f"This version does not work out in this kitchen: {faults[0].message}", faults[0].remedy)
    over = too_much(walked)
    if over:
        most = f"Start at most {shown(math.floor(1000 * most_in_one(method)) / 1000)} times as much"
        raise BadDocument("scale", f"That is too much for one cook. {capital(over[0].words)}.", f"{most}, or enter a larger pot or scale under Site.")
    # The cook is told which pot: what it must weigh goes by that.
    return freeze(compile_document(with_pots(walked, all_of_them=True))), factor


def batch_of(site: Site, id: UUID) -> BatchOut:
    """A batch as it is. Raises Http404 for another site's."""
    batch: Any = Batch.objects.of_site(site).in_full().filter(pk=id).first()
    if batch is None:
        raise Http404
    now = timezone.now()
    found, _, report_now = reckoned(batch, lambda found, log: batch_report(found, log, now))
    last = last_day_of(site, batch, found)
    people = User.objects.filter(site=site, role__in=[Role.LEAD, Role.PREP], is_active=True).order_by("display_name")
    return BatchOut(
        id=batch.pk, kind=batch.kind, number=batch.number, name=batch.name, formula=batch.formula_id, version=batch.version.number,
        version_note=batch.version.note, factor=batch.factor, last_time=_last_time(batch),
        started_at=batch.started_at, started_by=str(batch.started_by), document=found.document, report=report_now,
        use_by=last.day, use_by_words=last.words, use_by_why=last.why,
        allergens=[AllergenOut(allergen=each.allergen, certain=each.certain, why=each.why) for each in allergens_on_label(found)],
        people=[Who(username=person.username, name=str(person)) for person in people], as_of=now,
    )  # fmt: skip


def _last_time(batch: Batch) -> LastTime | None:
    """The newest finished batch of the same formula that was started before this one, and how long its stages took."""
    finished = Batch.objects.real().filter(site=batch.site_id, formula=batch.formula_id, state__status="finished")
    before: Any = finished.filter(started_at__lt=batch.started_at).first()
    if before is None:
        return None
    minutes = minutes_by_stage(logged(log_of_batch(before.pk)))
    times = before.factor / batch.factor if before.factor and batch.factor else None
    return LastTime(number=before.number, started_at=before.started_at, times=times, minutes=minutes)


def log_of(site: Site, id: UUID, after: int) -> EntriesOut:
    """Entries of a batch behind a number."""
    batch = Batch.objects.of_site(site).filter(pk=id).first()
    if batch is None:
        raise Http404
    found = logged(log_of_batch(batch.pk, after))
    entries = [LoggedDoc(seq=each.seq, event=each.event, arrival=each.arrival) for each in found]
    return EntriesOut(seq=entries[-1].seq if entries else batch.last_seq, entries=entries)


def rescue_batch(*, actor: User, id: UUID, about: str, value: float | None) -> str:
    """What can be done about something that is off plan, from where the batch stands."""
    policies.require(actor, "cook")
    assert actor.site is not None
    batch = Batch.objects.of_site(actor.site).filter(pk=id).first()
    if batch is None:
        raise Http404
    # As the sheet shows it: what stands in its way stands in the way of a rescue.
    found, _, _ = reckoned(batch, lambda found, log: sheet_of(found, log, timezone.now()))
    return work_out(actor.pk, rescue_report, found, about, value)
