"""The run sheet of a batch: its steps with what to weigh, when to stop, what was measured, and what is off plan.

Everything is read off the batch's walk as it is; nothing is reckoned beside it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta

import numpy as np

from jugcore.batch.actual.actual_batch import ActualBatch, PotCanHold, at_most_g, can_be_filled_g, planned_walk, pot_can_hold, true_brix
from jugcore.batch.actual.partial_walk import as_if_ended
from jugcore.batch.actual.readable_log import readable
from jugcore.batch.log import events as e
from jugcore.batch.log.arrival import waited
from jugcore.batch.log.concurrent_entries import Held
from jugcore.batch.log.record import Record
from jugcore.batch.sheet.boil_forecast import BoilForecast, Seen, course
from jugcore.batch.sheet.cooling_log import cooling_log
from jugcore.batch.sheet.deviations import deviations, targets_of
from jugcore.batch.sheet.equipment import equipment_at
from jugcore.batch.sheet.freezer import frozen_spans
from jugcore.batch.sheet.hold_progress import hold_sheet, probe_of
from jugcore.batch.sheet.kept_aside import sheet_kept_aside
from jugcore.batch.sheet.made_first import made_first
from jugcore.batch.sheet.off_plan import worth_looking_at
from jugcore.batch.sheet.parallel_tasks import parallel_tasks, waits
from jugcore.batch.sheet.plan import plan_against_actual
from jugcore.batch.sheet.questions import question_report, unknown, waiting
from jugcore.batch.sheet.schema import (
    AsideReport,
    CoursePoint,
    DropReport,
    LogLine,
    MeasuredReport,
    PotReading,
    SheetBoil,
    SheetFill,
    SheetLine,
    SheetReport,
    SheetStep,
    SheetWarm,
    TimerReport,
)
from jugcore.batch.sheet.tolerance import Near, near_enough
from jugcore.batch.sheet.waiting_reasons import stops_at
from jugcore.editing.edits import set_boil_end
from jugcore.figures import finite_or_none, shown
from jugcore.method.bottle_fills import into_containers
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.scales import COARSE_SHARE, resolution_g, rounded_to_sum, scale_for
from jugcore.method.stages import Aerate, Boil, Caramelise, Cool, Fill, Heat, Holding, StageBase, Step, Strain, Yielding
from jugcore.method.stages.fill import containers_of
from jugcore.method.walk import Walk, walk
from jugcore.reading.blend import premix
from jugcore.reading.cautions import Cautions
from jugcore.reading.equipment.cross_contact import CLEAN, cross_contact, kept_free
from jugcore.reading.processes.outcomes import caramel_report, foam_report
from jugcore.reading.report import faults_of
from jugcore.reading.schema import PremixReport
from jugcore.reading.stage_outcomes import premix_report, probe_doubt_brix, span_of
from jugcore.solving.linearise import reading_of

#: What a probe is good to (common practice, no source). [°C]
PROBE_C = 0.5


def sheet(document: MethodDocument, log: list[e.Logged], now: datetime) -> SheetReport:
    """The run sheet of a batch started from ``document``, as its log stands, at a time.

    Raises what compiling the document raises; entries themselves never make it fail.
    """
    return readable(planned_walk(document), log, lambda found: sheet_of(found, log, now))[1]


def sheet_of(batch: ActualBatch, log: list[e.Logged], now: datetime) -> SheetReport:
    """The run sheet of a batch that was walked already."""
    record, walked = batch.record, batch.walk
    targets = targets_of(batch)
    near = near_enough(batch, targets)
    open_stages = [stage.id for stage in walked.stages if record.done(stage.id) is None]
    current = open_stages[0] if open_stages and record.status == "running" else None
    courses = {stage.id: _course(stage, step, record) for stage, step in walked.each(Boil)}
    cautions = Cautions(walked)
    steps = [_step(batch, index, current, targets, near, courses, cautions, now) for index in range(len(walked.stages))]
    ready = _ready(batch, courses, now) if current is not None else None
    filled = [grams for stage, _ in walked.each(Fill) if (grams := _filled_g(batch, stage)) is not None]
    there_g = _there_g(batch, current)
    name = walked.method.short_titles
    titles = {stage.id: stage.name or stage.title for stage in walked.stages}

    names = e.Names(line=lambda id: name.get(id, id), stage=lambda id: titles.get(id, id))

    def words(entry: e.Logged) -> str:
        return entry.event.what.words(names)

    return SheetReport(
        seq=record.seq,
        status=record.status,
        now=current,
        steps=steps,
        questions=[*(question_report(batch, question) for question in record.questions), *unknown(batch), *waiting(batch)],
        timers=[
            TimerReport(timer=t.timer, title=t.title, set_at=entry.event.at, due_at=entry.event.at + timedelta(seconds=t.seconds), stage=t.stage)
            for entry, t in record.timers()
        ],
        made_first=made_first(batch),
        deviations=worth_looking_at(deviations(batch, targets, near)),
        plan=plan_against_actual(batch, sum(filled) if filled else None) if record.status != "running" else [],
        ready_low=None if ready is None else ready[0],
        ready_high=None if ready is None else ready[1],
        yield_g=sum(filled) if filled else 0.0 if record.status == "stopped" else float(walked.product.total_g[0]),
        yield_measured=bool(filled),
        planned_yield_g=float(batch.planned.product.total_g[0]),
        waste_g=record.waste_g,
        cooling=cooling_log(batch),
        frozen=frozen_spans(record),
        there_g=there_g,
        there_most_g=at_most_g(there_g),
        aside=[AsideReport(entry=each.entry.event.id, seq=each.entry.seq, words=words(each.entry), why=each.why) for each in batch.aside],
        log=[_log_line(batch, entry, words(entry)) for entry in sorted(log, key=lambda entry: entry.seq)],
    )  # fmt: skip


def _log_line(batch: ActualBatch, entry: e.Logged, words: str) -> LogLine:
    event, arrival = entry.event, entry.arrival
    return LogLine(
        seq=entry.seq, entry=event.id, kind=event.what.kind, stage=getattr(event.what, "stage", None), words=words,
        at=event.at, by=event.by, device=event.device, undone=event.id in batch.record.undone,
        aside=next((each.why for each in batch.aside if each.entry.event.id == event.id), ""),
        received_at=arrival.received_at if arrival is not None else None,
        waited=arrival is not None and waited(arrival, event.at),
        sent_by=arrival.sent_by if arrival is not None and arrival.sent_by != event.by else "",
        said_by=arrival.said_by if arrival is not None else "",
        said_at=arrival.said_at if arrival is not None else None,
        time_cannot_be=arrival is not None and arrival.cannot_be,
    )  # fmt: skip


def _there_g(batch: ActualBatch, current: str | None) -> float:
    """What there is of the product before the stage that is now, with what is in of it already."""
    walked, record = batch.walk, batch.record
    index = next((i for i, stage in enumerate(walked.stages) if stage.id == current), len(walked.stages))
    before = walked.steps[index - 1].after if index else walked.start
    # The product and what still goes into it: no cake, no film in an emptied pot, no blend that was kept back.
    wanted = {walked.method.product} | {vessel for each in walked.stages[index:] for vessel in (each.vessel, each.reads(), each.writes()) if vessel}
    held = {vessel: float(matter.total_g[0]) for vessel, matter in before.vessels.items() if vessel in wanted}
    stage = walked.stages[index] if index < len(walked.stages) else None
    weighed = record.of(e.PotWeighed, stage.id) if stage is not None and stage.boils else []
    if stage is not None and weighed:
        held[stage.vessel] = weighed[-1][1].mass_g
    ahead = {line.id for each in walked.stages[index:] if record.done(each.id) is None for line in each.ingredients}
    there = sum(held.values()) + sum(record.weighed[id].value for id in ahead & record.weighed.keys())
    return max(there - record.waste_g, 0.0)


def _step(
    batch: ActualBatch,
    index: int,
    current: str | None,
    targets: Mapping[str, float],
    near: Mapping[str, Near],
    courses: Mapping[str, BoilForecast | None],
    cautions: Cautions,
    now: datetime,
) -> SheetStep:
    walked, record = batch.walk, batch.record
    stage, step = walked.stages[index], walked.steps[index]
    done = record.done(stage.id)
    held = step.after.vessels.get(stage.writes())
    asked = next((s for s in batch.followed.stages if s.id == stage.id), stage)
    aim = _as_the_plan_ends(batch, stage) if isinstance(stage, Boil) else None
    boil = None
    if isinstance(stage, Boil) and isinstance(asked, Boil) and aim is not None:
        boil = _boil(batch, stage, asked, aim, courses.get(stage.id))
    gave = record.gave.get(stage.id)
    low, high, expects = _expects(batch, stage)

    def weighs(id: str) -> float:
        return targets.get(id, float(walked.end.lines[id][0]))

    return SheetStep(
        id=stage.id, kind=stage.kind, name=stage.name or stage.title,
        title=asked.instruction(replace(walked.at(stage, weighs), step=step if aim is None else aim.step(stage.id))),
        state="done" if done is not None else "now" if stage.id == current else "to_do",
        vessel=walked.method.vessel_name(stage.vessel),
        begun_at=record.began(stage.id),
        done_at=None if done is None else done.event.at,
        done_by=None if done is None else done.event.by,
        lines=_lines(batch, index, targets, near),
        duration=span_of(step.duration_s), hands=span_of(step.hands_s), waits=waits(step),
        cautions=[
            *cautions.at(stage),
            *_shared(walked, stage),
        ],
        stops=stops_at(batch, stage),
        faults=faults_of(walked, stage.id),
        parallel_tasks=parallel_tasks(walked, index, lambda id: record.done(id) is not None),
        note=stage.note,
        equipment=equipment_at(batch, stage.id),
        expects_g=expects, expects_low_g=low, expects_high_g=high,
        gave=None if gave is None else _measured(gave),
        boil=boil,
        fill=_fill(batch, stage, step) if isinstance(stage, Fill) else None,
        warm=_warm(batch, asked) if isinstance(asked, Heat | Cool | Caramelise) else None,
        hold=hold_sheet(batch, stage, asked, now) if isinstance(stage, Holding) and isinstance(asked, Holding) else None,
        caramel=caramel_report(stage, step) if isinstance(stage, Caramelise) else None,
        foam=foam_report(walked, stage, step) if isinstance(stage, Aerate) else None,
        premix=_premix(batch, stage),
        kept_aside=sheet_kept_aside(batch, stage.id),
        brix=finite_or_none(float(held.brix[0])) if held is not None and bool(held.is_liquid[0]) else None,
    )  # fmt: skip


def _shared(walked: Walk, stage: StageBase) -> list[str]:
    """What the equipment of a stage may carry over, and what to do about that, said once."""
    words = [each.words for each in cross_contact(walked) if stage.id in each.stages]
    spared = kept_free(walked).get(stage.id)
    return [*([spared] if spared else []), *([*words, CLEAN] if words else [])]


def _premix(batch: ActualBatch, stage: StageBase) -> PremixReport | None:
    """A larger blend to dose from, where a line that is not in yet is too little for the scale."""
    if batch.record.done(stage.id) is not None:
        return None
    found = premix(batch.walk, stage)
    return None if found is None or found.line in batch.record.weighed else premix_report(found)


def _measured(held: Held) -> MeasuredReport:
    newest = held.newest.event
    return MeasuredReport(mass_g=held.value, at=newest.at, by=newest.by, entries=[entry.event.id for entry in held.entries])


def _lines(batch: ActualBatch, index: int, targets: Mapping[str, float], near: Mapping[str, Near]) -> list[SheetLine]:
    walked, kitchen = batch.walk, batch.walk.kitchen
    stage, method = walked.stages[index], walked.method
    ids = [id for id in stage.weighed_ids if stage.ingredients or id in targets]
    exact = [targets[id] for id in ids]
    rounded = rounded_to_sum(exact, [resolution_g(kitchen, grams) for grams in exact])
    pot = next((p for p in kitchen.pots if p.id == method.pot_id(stage.vessel)), None)
    before = walked.steps[index - 1].after if index else walked.start
    in_it = before.vessels.get(stage.vessel)
    stands = (pot.tare_g if pot else 0.0) + (float(in_it.total_g[0]) if in_it is not None else 0.0)
    most = max((scale.capacity_g for scale in kitchen.scales), default=0.0)
    found = []
    for id, grams, whole in zip(ids, exact, rounded, strict=True):
        scale = scale_for(kitchen, grams)
        held = batch.record.weighed.get(id)
        band, step = near.get(id, Near(whole, whole)), resolution_g(kitchen, grams)
        went_in = held.value if held is not None else whole
        stands += went_in
        substance = method.substances[method.lines[id].substance] if id in method.lines else None
        found.append(
            SheetLine(
                id=id, title=method.titles[id], text=method.amount_texts[id] if held is None else batch.planned.method.amount_texts.get(id, ""),
                target_g=whole, exact_g=grams, low_g=band.low_g, high_g=band.high_g, slip_g=band.slip_g(whole),
                scale=scale.name if scale else None, resolution_g=step,
                error=0.5 * step / grams if 0 < COARSE_SHARE * grams < 0.5 * step else None,
                goes=max(1, int(np.ceil(whole / scale.carries_g - 1e-9))) if scale else 1,
                pot_reads_g=round(stands, 1) if pot is not None and stands <= most else None,
                measured=None if held is None else _measured(held),
                within=None if held is None else band.low_g - 1e-9 <= held.value <= band.high_g + 1e-9,
                allergens=list(substance.allergens) if substance else [],
            )
        )  # fmt: skip
    return found


def _expects(batch: ActualBatch, stage: StageBase) -> tuple[float | None, float | None, float | None]:
    """What a sieve, a knife or a press should give: least, most, and by the method."""
    if not isinstance(stage, Strain | Yielding):
        return None, None, None
    document = batch.method.document
    plain = stage.model_copy(update={"gives_g": None})
    stages = tuple(plain if s.id == stage.id else s for s in document.stages)
    method = compile_document(document.model_copy(update={"stages": stages})) if stage.gives_g is not None else batch.method
    if isinstance(stage, Yielding):
        low, high = stage.ends
        around = walk(method, batch.walk.kitchen, {stage.path("yield_fraction"): np.array([stage.yield_fraction, low, high])})
    else:
        around = walk(method, batch.walk.kitchen)
    grams = around.end.lines[stage.id]
    return float(grams.min()), float(grams.max()), float(grams[0])


def _course(stage: Boil, step: Step, record: Record) -> BoilForecast | None:
    if record.done(stage.id) is not None:
        return None
    began = record.began(stage.id)
    return course(step, began, _seen(stage, record, began))


def _seen(stage: Boil, record: Record, began: datetime | None) -> list[Seen]:
    return [Seen(entry.event.at, what.mass_g) for entry, what in record.of(e.PotWeighed, stage.id) if began is None or entry.event.at >= began]


def _boiled_at(record: Record, asked: Boil, aim: Step) -> datetime | None:
    """When it has boiled for its minutes; None before it is on the heat and nobody probed it."""
    first_c = float(aim.figures["first_boil_c"][0])
    boils = [entry.event.at for entry, what in record.of(e.Probed, asked.id) if what.temperature_c >= first_c - PROBE_C]
    began = record.began(asked.id)
    if not boils and began is None:
        return None
    up = timedelta(seconds=float(aim.figures["heat_up_s"][0, 1]))
    since = min(boils) if boils else began + up if began is not None else None
    return None if since is None else since + timedelta(minutes=asked.until.value)


def _boil(batch: ActualBatch, stage: Boil, asked: Boil, planned: Walk, heading: BoilForecast | None) -> SheetBoil:
    record, walked = batch.record, batch.walk
    aim = planned.step(stage.id)
    kitchen = walked.kitchen
    pot = kitchen.pot(walked.method.pot_id(stage.vessel))
    off, stop = float(aim.figures["off_g"][0]), float(aim.figures["stop_g"][0])
    trace = aim.trace
    assert trace is not None
    per_brix = _grams_a_brix(aim)
    most = max((scale.capacity_g for scale in kitchen.scales), default=0.0)
    weighed = record.of(e.PotWeighed, stage.id)
    weighings = [
        PotReading(
            entry=entry.event.id, at=entry.event.at, by=entry.event.by, reads_g=what.reads_g, to_go_g=what.mass_g - stop, brix=brix,
        )
        for (entry, what), brix in zip(weighed, _brix_at(planned, stage, [what.mass_g for _, what in weighed]), strict=True)
    ]  # fmt: skip
    last = weighings[-1] if weighings else None
    can = pot_can_hold(stage, planned)
    doubt = probe_doubt_brix(aim)
    ended = as_if_ended(planned, stage.id)
    refractometer = reading_of(ended, "refractometer")
    return SheetBoil(
        pot_name=pot.name, pot_tare_g=pot.tare_g, off_g=off,
        starts_reads_g=stop + off + pot.tare_g, stop_reads_g=stop + pot.tare_g,
        near_low_g=stop + pot.tare_g - 0.5 * per_brix, near_high_g=stop + pot.tare_g + 0.5 * per_brix,
        brix_at_stop=finite_or_none(float(trace.brix[0, -1])), refractometer_at_stop=finite_or_none(float(refractometer.value[0])),
        probe_c=float(aim.figures["probe_c"][0]), probe_doubt_brix=doubt, first_boil_c=finite_or_none(float(aim.figures["first_boil_c"][0])),
        fits_scale=stop + off + pot.tare_g <= most,
        heat_up=span_of(aim.figures["heat_up_s"]), boil=span_of(aim.figures["boil_s"]),
        began_at=record.began(stage.id), weighings=weighings,
        impossible=_impossible(weighed[-1][1], can) if weighed else None,
        to_go_g=last.to_go_g if last else off, brix_now=last.brix if last else finite_or_none(float(trace.brix[0, 0])), by_weighing=last is not None,
        observed_g_min=None if heading is None or heading.observed_g_s is None else 60 * heading.observed_g_s,
        probe=probe_of(record, stage.id),
        probe_warns=asked.until.kind != "minutes" and _probe_warns(record, stage, aim, last),
        drop=_drop(record, stage.id),
        course=[CoursePoint(at=at, low_g=low + pot.tare_g, high_g=high + pot.tare_g) for at, low, high in heading.points] if heading else [],
        lift_weigh_at=heading.lift_at if heading and asked.until.kind != "minutes" else None,
        for_min=asked.until.value if asked.until.kind == "minutes" else None,
        due_at=_boiled_at(record, asked, aim) if asked.until.kind == "minutes" else None,
        ready_low=heading.ready_low if heading else None, ready_high=heading.ready_high if heading else None,
    )  # fmt: skip


def _impossible(what: e.PotWeighed, can: PotCanHold) -> str | None:
    """Why a weighing cannot be one of this pot."""
    again = "Weigh it again. If that is what it weighs, it is another pot, or something went in that was not entered."
    if what.mass_g > can.most_g:
        return f"The pot holds {shown(round(what.mass_g))} g then, more than everything that went in. {again}"
    if what.mass_g < can.least_g:
        return f"The pot holds {shown(round(what.mass_g))} g then, less than the sugar and everything else that does not boil off. {again}"
    return None


def _probe_warns(record: Record, stage: Boil, aim: Step, last: PotReading | None) -> bool:
    """Whether the probe, read after the pot was weighed last, says that the stop may be near or past though the weight did not."""
    probe = probe_of(record, stage.id)
    if probe is None or record.done(stage.id) is not None or (last is not None and (last.at >= probe.at or last.to_go_g <= 0)):
        return False
    return probe.temperature_c >= float(aim.figures["probe_c"][0]) - PROBE_C


def _as_the_plan_ends(batch: ActualBatch, stage: Boil) -> Walk:
    """The batch with this boil ending where the method followed says, whatever the pot weighed."""
    followed = batch.followed_end(stage.id)
    now = next(s for s in batch.method.stages if s.id == stage.id)
    assert isinstance(now, Boil)
    if followed is None or followed == now.until:
        return batch.walk
    return walk(compile_document(set_boil_end(batch.method.document, stage.id, **{followed.kind: followed.value})), batch.walk.kitchen)


def _grams_a_brix(step: Step) -> float:
    """Grams of water that make one °Bx where a boil ends."""
    trace = step.trace
    assert trace is not None
    brix, mass = float(trace.brix[0, -1]), float(trace.mass_g[0, -1])
    solids = brix / 100 * (mass if brix > 0 else 0.0)
    return solids * 100 / brix**2 if brix > 0 else 0.0


def _brix_at(planned: Walk, stage: Boil, masses_g: list[float]) -> list[float | None]:
    """What a pot of so many grams comes to, each; one walk of as many cases."""
    if not masses_g:
        return []
    around = walk(planned.method, planned.kitchen, {stage.path("mass_g"): np.maximum(masses_g, 1e-6)})
    held = around.step(stage.id).after.vessels.get(stage.vessel)
    if held is None:
        return [None] * len(masses_g)
    return [finite_or_none(brix) if wet else None for brix, wet in zip(held.brix.tolist(), held.is_liquid.tolist(), strict=True)]


def _fill(batch: ActualBatch, stage: Fill, step: Step) -> SheetFill:
    record = batch.record
    index = batch.walk.stages.index(stage)
    before = batch.walk.steps[index - 1].after if index else batch.walk.start
    source = before.vessels.get(stage.vessel)
    filled, left = record.bottled.get(stage.id), record.left_over.get(stage.id)
    bottles = [what for entry in filled.entries if isinstance(what := entry.event.what, e.Bottled)] if filled else []
    kept = [what for entry in left.entries if isinstance(what := entry.event.what, e.LeftOver) and what.fate != "binned"] if left else []
    there = float(source.total_g[0]) if source is not None else 0.0
    open_g = there - float(step.figures["film_g"][0]) - (record.bottled_g(stage.id) or 0.0)
    nextly = into_containers(open_g, float(step.figures["per_container_g"][0]), stage.size_ml)
    return SheetFill(
        containers=max(containers_of(step, stage.size_ml).count, sum(b.count for b in bottles)),
        next_g=nextly.each_g if nextly.full else nextly.last_g or None,
        full_left=nextly.full,
        per_container_g=finite_or_none(float(step.figures["per_container_g"][0])),
        left_over_g=float(step.figures["left_over_g"][0]), size_ml=stage.size_ml,
        fill_c=finite_or_none(float(step.figures["fill_c"][0])), cold_ml=finite_or_none(float(step.figures["cold_ml"][0])),
        expects_g=there, filled=sum(b.count for b in bottles), filled_g=sum(b.count * b.each_g for b in bottles),
        kept_g=sum(what.mass_g for what in kept),
        most_g=max(can_be_filled_g(stage, batch.walk) - (record.bottled_g(stage.id) or 0.0), 0.0),
        open_g=_open_g(batch, stage, there, float(step.figures["film_g"][0])),
        impossible=_overfilled(batch, stage),
    )  # fmt: skip


#: What scales, films and drips explain of what is in no bottle: a share, and grams (common practice, no source).
_DRIPS_SHARE, _DRIPS_G = 0.015, 15.0


def _open_g(batch: ActualBatch, stage: Fill, there_g: float, film_g: float) -> float | None:
    """Grams that were there and were neither filled nor left over; None before anything was entered, and where drips explain it."""
    grams = batch.record.bottled_g(stage.id)
    thrown = batch.record.wasted.value if batch.record.wasted is not None else 0.0
    if grams is None or batch.record.done(stage.id) is not None:
        return None
    open_g = there_g - film_g - thrown - grams
    return open_g if open_g > max(_DRIPS_SHARE * there_g, _DRIPS_G) else None


def _overfilled(batch: ActualBatch, stage: Fill) -> str | None:
    """Why what was filled cannot be."""
    grams = batch.record.bottled_g(stage.id)
    if grams is None or grams <= can_be_filled_g(stage, batch.walk):
        return None
    return f"{shown(round(grams))} g were filled, more than there was. Take back the wrong entry, or enter what else went in."


def _filled_g(batch: ActualBatch, stage: Fill) -> float | None:
    """What was filled and left over, once that is done or the batch is at its end; nothing where that cannot be."""
    grams = batch.record.bottled_g(stage.id)
    over = batch.record.done(stage.id) is not None or batch.record.status != "running"
    return grams if grams is not None and over and grams <= can_be_filled_g(stage, batch.walk) else None


def _warm(batch: ActualBatch, stage: Heat | Cool | Caramelise) -> SheetWarm:
    return SheetWarm(to_c=stage.to_c, probe=probe_of(batch.record, stage.id))


def _drop(record: Record, stage: str) -> DropReport | None:
    """The last drop of what is in the pot."""
    drops = [(entry, what) for entry, what in record.of(e.Refracted, stage) if what.line is None]
    if not drops:
        return None
    entry, what = drops[-1]
    return DropReport(at=entry.event.at, by=entry.event.by, reading_brix=what.reading_brix, brix=true_brix(what))


def _ready(batch: ActualBatch, courses: Mapping[str, BoilForecast | None], now: datetime) -> tuple[datetime, datetime]:
    """When the batch can be ready, if it is kept at: what is done takes no more time, what is under way only the rest."""
    record, walked = batch.record, batch.walk
    at: dict[str, tuple[datetime, datetime]] = {}
    for stage, step in zip(walked.stages, walked.steps, strict=True):
        if record.done(stage.id) is not None:
            continue
        needs = [at[v] for v in (stage.vessel, stage.writes(), stage.reads() or stage.vessel) if v in at]
        low, high = max([now, *(n[0] for n in needs)]), max([now, *(n[1] for n in needs)])
        heading = courses.get(stage.id)
        if heading is not None:
            low, high = max(low, heading.ready_low), max(high, heading.ready_high)
        else:
            began = record.began(stage.id)
            gone = max((now - began).total_seconds(), 0.0) if began is not None else 0.0
            low += timedelta(seconds=max(float(step.duration_s[0, 0]) - gone, 0.0))
            high += timedelta(seconds=max(float(step.duration_s[0, 2]) - gone, 0.0))
        at[stage.writes()] = low, high
    return at.get(walked.method.product, (now, now))
