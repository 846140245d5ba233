"""Verbs on batches: start one, look at it, ask what can be done about it, list them."""

from __future__ import annotations

import logging
import math
from collections import OrderedDict
from collections.abc import Callable
from datetime import datetime
from threading import Lock
from typing import Any, TypeVar
from uuid import UUID, uuid4

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from pydantic import ValidationError

from jugcore import __version__
from jugcore.batch.answered import keeping_of
from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.asks import LoggedDoc, batch_report, rescue_report
from jugcore.batch.events import Flowed, Logged
from jugcore.batch.freezer import frozen_spans
from jugcore.batch.gear import gear_met
from jugcore.batch.on_label import allergens_on_label, promised, stricter
from jugcore.batch.readable import readable
from jugcore.batch.shapes import CoolingLog, Deviation, LogLine
from jugcore.batch.sheet import sheet_of
from jugcore.errors import BadDocument, DomainError, shown
from jugcore.formula.asks import ScaleAsk, scale_report
from jugcore.formula.cooks import most_in_one
from jugcore.formula.flow_trials import FlowTrial
from jugcore.formula.freeze import fingerprint, frozen
from jugcore.formula.linearise import reading_of
from jugcore.formula.pots import in_its_pots, too_much, with_pots
from jugcore.formula.report import report
from jugcore.formula.use_by import UseBy
from jugcore.method.document import MethodDocument, compile_document
from jugcore.method.walk import Walk
from jugserver.accounts import policies
from jugserver.accounts.models import Role, Site, User
from jugserver.batches.log import log_of_batch, logged, tell
from jugserver.batches.models import Batch, BatchState
from jugserver.batches.querysets import SUMMARY_SHAPE, Wanted
from jugserver.batches.schemas import AllergenOut, BatchCard, BatchOut, EntriesOut, Who
from jugserver.batches.use_by import use_by_of
from jugserver.computing.pool import work_out
from jugserver.config.problems import Conflict
from jugserver.formulas.models import Formula, Version
from jugserver.kitchen.services import kitchen_of, note_met

logger = logging.getLogger(__name__)
_T = TypeVar("_T")
#: Batches kept walked in this process; a page asks for the same one again and again.
_MOST_KNOWN = 64
_known: OrderedDict[tuple[UUID, int], tuple[AsItIs, list[Logged]]] = OrderedDict()
_known_lock = Lock()


@transaction.atomic
def start_batch(
    *, actor: User, formula_id: UUID, version: int, scale: ScaleAsk | None = None, id: UUID | None = None, at: datetime | None = None
) -> Batch:
    """Start a batch of a version in the kitchen of today; ``at`` an earlier time where it is entered afterwards.

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
    for behind in Batch.objects.of_site(site).in_full().behind():
        state_of(behind)  # what their equipment met belongs to the kitchen of today
    document = resolved(MethodDocument.model_validate(chosen.document), site, scale)
    # Locked, so that two batches started at once have two numbers, and one started twice at once is one.
    Site.objects.select_for_update().get(pk=site.pk)
    before = Batch.objects.of_site(site).filter(pk=id).first() if id is not None else None
    if before is not None:
        return before
    if id is not None and Batch.objects.filter(pk=id).exists():
        raise Conflict("id", "This id is taken.", "Give the batch another id.")
    newest = Batch.objects.of_site(site).order_by("-number").values_list("number", flat=True).first()
    now = at or timezone.now()
    batch = Batch.objects.create(
        id=id or uuid4(), site=site, number=(newest or 0) + 1, formula=chosen.formula, version=chosen, name=chosen.formula.name,
        document=document.model_dump(mode="json", exclude_none=True), fingerprint=fingerprint(document), core_version=__version__,
        started_by=actor, started_at=now, touched_at=now,
    )  # fmt: skip
    tell(site.pk, batch.pk, 0)
    return batch


def resolved(version: MethodDocument, site: Site, scale: ScaleAsk | None) -> MethodDocument:
    """A version in the kitchen of today, as much of it as is asked for, with everything it reads written into it."""
    document = version.model_copy(update={"kitchen": kitchen_of(site).kitchen})
    method = compile_document(document)
    if scale is not None:
        asked = scale_report(method, scale, document)
        if asked.cooks > 1:
            each = f"{shown(asked.factor / asked.cooks)} times the version"
            raise BadDocument("scale", f"That takes {asked.cooks} cooks: {asked.limits[0]}.", f"Start each by itself, {each}.")
        method = compile_document(asked.document)
    walked = in_its_pots(method)
    faults = report(walked).faults
    if faults:
        raise BadDocument(faults[0].field, f"This version does not work out in this kitchen: {faults[0].message}", faults[0].remedy)
    over = too_much(walked)
    if over:
        most = f"Start at most {shown(math.floor(1000 * most_in_one(method)) / 1000)} times as much"
        raise BadDocument("scale", f"That is too much for one cook. {over[0].words}.", f"{most}, or enter a larger pot or scale under Site.")
    # The cook is told which pot: what it must weigh goes by that.
    return frozen(compile_document(with_pots(walked, all_of_them=True)))


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
        id=batch.pk, number=batch.number, name=batch.name, formula=batch.formula_id, version=batch.version.number, version_note=batch.version.note,
        started_at=batch.started_at, started_by=str(batch.started_by), document=found.document, report=report_now,
        use_by=last.day, use_by_words=last.words, use_by_why=last.why,
        allergens=[AllergenOut(allergen=each.allergen, certain=each.certain, why=each.why) for each in allergens_on_label(found)],
        people=[Who(username=person.username, name=str(person)) for person in people], as_of=now,
    )  # fmt: skip


def last_day_of(site: Site, batch: Any, found: AsItIs) -> UseBy:
    """The last day of a batch: no later than its version's, whatever was entered at the hob."""
    made, frozen = timezone.localtime(batch.started_at).date(), frozen_spans(found.record)
    by_version, now = (use_by_of(site, keeping, made, frozen) for keeping in (promised(found), keeping_of(found.walk)))
    return stricter(by_version, now, found)


def walked(batch: Any) -> tuple[AsItIs, list[Logged]]:
    """A batch walked as planned and as it is, and its log; kept in this process by the number of its last entry."""
    found, log, _ = reckoned(batch, lambda found, log: None)
    return found, log


def reckoned(batch: Any, use: Callable[[AsItIs, list[Logged]], _T]) -> tuple[AsItIs, list[Logged], _T]:
    """A batch walked, its log, and what ``use`` makes of them, without the entries that stand in the way of that.

    Raises whatever comes of the batch without a single entry.
    """
    key = (batch.pk, batch.last_seq)
    with _known_lock:
        known = _known.get(key)
        if known is not None:
            _known.move_to_end(key)
    if known is not None:
        try:
            return *known, use(*known)
        except Exception:  # it is read once more below, and what stands in the way put aside and told
            logger.info("Batch %s cannot be used as it was read", batch.pk)
    log = logged(log_of_batch(batch.pk).filter(seq__lte=batch.last_seq))
    found, made = readable(_started_from(batch), log, lambda found: use(found, log))
    for each in found.aside:
        if not isinstance(each.error, DomainError):
            logger.error("Batch %s is read without entry %s", batch.pk, each.entry.seq, exc_info=each.error)
    with _known_lock:
        _known[key] = found, log
        while len(_known) > _MOST_KNOWN:
            _known.popitem(last=False)
    return found, log, made


def _started_from(batch: Any) -> MethodDocument:
    try:
        return MethodDocument.model_validate(batch.document)
    except ValidationError:
        logger.exception("What batch %s was started from cannot be read", batch.pk)
        raise BadDocument("batch", f"What {batch} was started from cannot be read here.", "Open it with the release that started it.") from None


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


def cards_of(site: Site, wanted: Wanted | None = None) -> list[BatchCard]:
    """Batches of a site, the newest first, those that are asked for; what their logs say is brought up to date where it is not."""
    for batch in Batch.objects.of_site(site).in_full().behind():
        state_of(batch)
    chosen = Batch.objects.of_site(site).in_full().wanted(wanted or Wanted())
    return [_card(batch, state_of(batch)) for batch in chosen]


def state_of(batch: Any) -> BatchState:
    """The state of a batch up to its last entry, kept for the next list."""
    state: BatchState | None = getattr(batch, "state", None)
    if state is not None and state.seq == batch.last_seq and state.summary.get("shape") == SUMMARY_SHAPE:
        return state
    try:
        made = projected(batch)
        found, _ = walked(batch)
    except Exception as error:  # it is a state of this batch; the list it stands in shows the others, and it with what is wrong
        logger.exception("Nothing of batch %s can be worked out", batch.pk)
        made = _troubled(batch, error)
    else:
        if found.walk.kitchen.shared:
            note_met(site=batch.site, batch=batch.pk, title=f"{batch.name} {batch.number:04d}"[:200], met=gear_met(found))
    BatchState.objects.update_or_create(
        batch=batch, defaults={"seq": made.seq, "status": made.status, "closed_at": made.closed_at, "summary": made.summary}
    )
    return made


def projected(batch: Any) -> BatchState:
    """The state as its log makes it, nothing kept: a pure function of the batch's document and its entries."""
    found, _, sheet = reckoned(batch, lambda found, log: sheet_of(found, log, _until(found, batch)))
    closed = found.record.closed
    now = next((step for step in sheet.steps if step.id == sheet.now), None)
    boil = now.boil if now is not None else None
    summary = {
        "shape": SUMMARY_SHAPE,
        "step": now.name if now else None,
        "steps_done": sum(step.state == "done" for step in sheet.steps),
        "steps": len(sheet.steps),
        "questions": len(sheet.questions),
        "yield_g": sheet.yield_g,
        "planned_yield_g": sheet.planned_yield_g,
        "yield_measured": sheet.yield_measured,
        "brix": _brix(found.walk),
        "planned_brix": _brix(found.planned),
        "waste_g": sheet.waste_g,
        "words": " · ".join(line.words for line in sheet.log if _tells(line, closed) and not line.undone),
        "aside": len(found.aside),
        "off_plan": _off_plan(sheet.deviations),
        "cooling": _open_mark(sheet.cooling),
        "frozen": bool(sheet.frozen) and sheet.frozen[-1].until is None,
        "timers": [timer.model_dump(mode="json") for timer in sheet.timers],
        "flow": flow_trials_of(found),
        "to_go_g": boil.to_go_g if boil is not None and boil.by_weighing else None,
        **{name: _moment(getattr(boil, name, None)) for name in ("ready_low", "ready_high", "lift_weigh_at")},
    }
    return BatchState(batch=batch, seq=sheet.seq, status=sheet.status, closed_at=closed.event.at if closed else None, summary=summary)


def _troubled(batch: Any, error: Exception) -> BatchState:
    """The state of a batch of which nothing can be worked out: it runs, as far as anybody knows."""
    why = str(error) if isinstance(error, DomainError) else "Its log or what it was started from cannot be read here."
    summary = {
        "shape": SUMMARY_SHAPE, "trouble": why, "step": None, "steps_done": 0, "steps": 0, "questions": 0, "yield_g": 0.0, "planned_yield_g": 0.0,
        "yield_measured": False, "brix": None, "planned_brix": None, "waste_g": 0.0, "words": "", "off_plan": 0,
    }  # fmt: skip
    return BatchState(batch=batch, seq=batch.last_seq, status="running", closed_at=None, summary=summary)


def _until(found: AsItIs, batch: Any) -> datetime:
    started: datetime = batch.started_at
    return started if found.record.closed is None else found.record.closed.event.at


def flow_trials_of(found: AsItIs) -> list[dict[str, Any]]:
    """What a batch did in the funnel, with what its walk says of its starch; nothing of a batch without any."""
    flowed = [what for _, what in found.record.of(Flowed)]
    if not flowed:
        return []
    starch, brix = (float(reading_of(found.walk, id).value[0]) for id in ("cooked_starch", "brix"))
    if not math.isfinite(starch) or not math.isfinite(brix):
        return []
    return [{"cooked_starch": starch, "brix": brix, "seconds": w.seconds, "stuck": w.stuck, "funnel": w.funnel} for w in flowed]


def flow_trials(site: Site) -> list[FlowTrial]:
    """Every trial of the site's batches, the newest batch last."""
    for batch in Batch.objects.of_site(site).in_full().behind().filter(entries__kind="flowed").distinct():
        state_of(batch)
    rows = Batch.objects.of_site(site).tried_in_a_funnel().order_by("started_at").values_list("number", "name", "state__summary__flow")
    return [FlowTrial(batch=f"{name} {number:04d}", **trial) for number, name, trials in rows for trial in trials]


def _open_mark(cooling: CoolingLog | None) -> dict[str, Any] | None:
    """The first temperature that a cooling batch was not shown at in time, and by when; until it was, or somebody said why not."""
    if cooling is None or not cooling.open:
        return None
    mark = next((mark for mark in cooling.marks if mark.state != "met"), None)
    return None if mark is None else {"at_most_c": mark.at_most_c, "by": mark.by.isoformat(), "state": mark.state}


def _off_plan(deviations: list[Deviation]) -> int:
    """How many things are off: every line that was weighed off, and the readings together, since one cause moves several."""
    beyond = [each for each in deviations if each.beyond and each.dealt is None]
    return sum(each.reading is None for each in beyond) + any(each.reading is not None for each in beyond)


def _moment(at: datetime | None) -> str | None:
    return None if at is None else at.isoformat()


def _tells(line: LogLine, closed: Logged | None) -> bool:
    """Whether an entry says something a list should: a note, a reason, a way that was chosen."""
    stopped = closed is not None and line.entry == closed.event.id and line.words != "finished"
    return line.kind in ("noted", "wasted", "put_right") or stopped


def _brix(walk: Walk) -> float | None:
    value = float(reading_of(walk, "brix").value[0])
    return value if math.isfinite(value) else None


def _card(batch: Any, state: BatchState) -> BatchCard:
    return BatchCard.model_validate({
        "id": batch.pk, "number": batch.number, "name": batch.name, "formula": batch.formula_id, "version": batch.version.number,
        "status": state.status, "started_at": batch.started_at, "started_by": str(batch.started_by), "touched_at": batch.touched_at,
        "closed_at": state.closed_at, "last_seq": batch.last_seq, **state.summary,
    })  # fmt: skip
