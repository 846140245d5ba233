"""The cooling log: by when a batch must be where, by the food code's rules, and what the probe showed.

The clock starts with the first sign that it cools: the press, a reading of the probe, or the end of what kept it hot, whichever is
first. It runs on over every later stage, and after the batch was finished, until the probe has been at every mark or somebody has
said why not.
"""

from __future__ import annotations

import datetime
from collections.abc import Sequence

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.batch.sheet.schema import CoolingLog, CoolingMark, CoolingState, ProbeReport
from jugcore.figures import shown
from jugcore.keeping.exposure import AMBIENT_S
from jugcore.keeping.two_stage_cooling import ALL_S, FIRST_S, FROM_C, MIDDLE_C
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk
from jugcore.reading.keeping.assessment import DEFERS, keeping_of

#: What a reason why it was not shown cold in time is about, in the log.
ABOUT = "cooling"
#: What was never hot and ends no warmer than this above cold holding is taken to be cold enough where it stands. [°C]
_WARM_C = 5.0
#: What is kept cold from the start.
_COLD_KINDS = frozenset({"dairy", "plant"})
#: What is usually done with what was not cooled in time: common practice, no source.
_NOT_IN_TIME = {
    MIDDLE_C: "Usual: bring it to 74 °C once more and cool it faster, in less depth or in ice water; or throw it away.",
    0.0: "Usual: throw it away.",
}


def cooling_log(batch: ActualBatch) -> CoolingLog | None:
    """The marks and the readings since the cooling began.

    None before it began, of what was neither hot nor ends warm, and of what need not be held cold.
    """
    found = _begun(batch)
    if found is None or _need_not(batch):
        return None
    began, stages, hot = found
    read = [(entry, what) for entry, what in batch.record.of(e.Probed) if what.stage in stages and entry.event.at >= began]
    cold_c = batch.walk.kitchen.holding_c
    allowed = ((MIDDLE_C, FIRST_S), (cold_c, ALL_S)) if hot else ((cold_c, AMBIENT_S),)
    marks = [_mark(t, began + datetime.timedelta(seconds=s), read) for t, s in allowed]
    here = next((id for id in stages if batch.record.done(id) is None), stages[-1])
    why = _why(batch, began)
    stopped = batch.record.status == "stopped"
    return CoolingLog(
        began=began, stage=here, stages=stages, marks=marks, hot=hot, why=why,
        open=not stopped and not why and any(mark.state != "met" for mark in marks),
        readings=[ProbeReport(at=entry.event.at, by=entry.event.by, temperature_c=what.temperature_c) for entry, what in read],
    )  # fmt: skip


def _begun(batch: ActualBatch) -> tuple[datetime.datetime, list[str], bool] | None:
    """When it began to cool, the stages from there on, and whether from 57 °C."""
    trunk = [stage for stage in batch.walk.stages if stage.id in batch.walk.method.trunk]
    last_hot = max((i for i, stage in enumerate(trunk) if _hot_after(batch, stage)), default=None)
    if last_hot is None:
        return _begun_warm(batch, trunk)
    # A hold at 57 °C or above is no cooling, nor is what brought it down to that.
    cooling = trunk[last_hot + 1 :]
    signs = [at for stage in cooling for at in _signs(batch, stage)]
    ended = batch.record.done(trunk[last_hot].id)
    if not signs and batch.record.closed is None:
        return None
    if not signs and batch.record.closed is not None:
        # Finished hot, or nobody entered the way down: it cools since it was last hot.
        signs = [(ended or batch.record.closed).event.at]
    stages = [stage.id for stage in cooling] or [trunk[last_hot].id]
    return min(signs), stages, True


def _begun_warm(batch: ActualBatch, trunk: Sequence[StageBase]) -> tuple[datetime.datetime, list[str], bool] | None:
    """Of dairy that was never hot and ends warm: from the first entry of a stage on its way."""
    if not _from_the_fridge(batch):
        return None
    ends = max(_ends_c(walked) for walked in (batch.planned, batch.walk))
    probed = [what.temperature_c for _, what in batch.record.of(e.Probed)]
    if not trunk or not max([ends, *probed[-1:]]) > batch.walk.kitchen.holding_c + _WARM_C:
        return None
    ids = {stage.id for stage in trunk}
    lines = {line.id for stage in trunk for line in getattr(stage, "lines", ())}
    first = [
        entry.event.at for entry in batch.record.standing
        if getattr(entry.event.what, "stage", None) in ids or getattr(entry.event.what, "line", None) in lines
    ]  # fmt: skip
    # It is told once it should be on its way down: at its last stage, or when it was finished.
    here = batch.record.closed is not None or all(batch.record.done(stage.id) is not None for stage in trunk[:-1])
    return (min(first), [trunk[-1].id], False) if first and here else None


def _from_the_fridge(batch: ActualBatch) -> bool:
    """Whether anything in it came out of the fridge, dairy and the like."""
    touched = batch.method.lines.keys() & batch.walk.product.touched
    return any(each.book.kind in _COLD_KINDS for id in touched for each in batch.method.contents_of(id))


def _signs(batch: ActualBatch, stage: StageBase) -> list[datetime.datetime]:
    """Times that say that a stage was under way: begun, probed, or done."""
    record = batch.record
    done, began = record.done(stage.id), record.began(stage.id)
    found = [entry.event.at for entry, _ in record.of(e.Probed, stage.id)]
    found += [began] if began is not None else []
    return found + ([done.event.at] if done is not None else [])


def _hot_after(batch: ActualBatch, stage: StageBase) -> bool:
    """Whether it is as hot as 57 °C behind a stage, as planned: what was entered takes no hot stage away and makes none of a cool one.

    Of what was never to be hot, and of a stage that was put in since, as it is.
    """
    planned = _after_c(batch.planned, stage.id)
    if planned is None or not any((_after_c(batch.planned, each.id) or 0.0) >= FROM_C for each in batch.planned.stages):
        return (_after_c(batch.walk, stage.id) or 0.0) >= FROM_C
    return planned >= FROM_C


def _after_c(walked: Walk, id: str) -> float | None:
    """How warm a stage leaves its vessel; None where there is no such stage."""
    for stage, step in zip(walked.stages, walked.steps, strict=True):
        if stage.id == id:
            held = step.after.vessels.get(stage.writes())
            return float(held.warmth_c[0]) if held is not None and float(held.total_g[0]) > 0 else 0.0
    return None


def _ends_c(walked: Walk) -> float:
    return float(walked.product.warmth_c[0])


def _need_not(batch: ActualBatch) -> bool:
    """Whether it need not be held cold, as planned and as it is: one of them alone takes no log away."""
    return all(keeping_of(walked).verdict == "not_controlled" for walked in (batch.planned, batch.walk))


def _why(batch: ActualBatch, began: datetime.datetime) -> str:
    """Why it was not shown cold in time, as somebody said last; empty where nobody did."""
    said = [what.why.strip() for entry, what in batch.record.of(e.Accepted) if what.about == ABOUT and entry.event.at >= began]
    return said[-1] if said else ""


def _mark(at_most_c: float, by: datetime.datetime, read: Sequence[tuple[Logged, e.Probed]]) -> CoolingMark:
    first = next(((entry.event.at, what.temperature_c) for entry, what in read if what.temperature_c <= at_most_c), None)
    warmer = [(entry.event.at, what.temperature_c) for entry, what in read if what.temperature_c > at_most_c and entry.event.at > by]
    at, reads_c = first if first is not None else (None, None)
    state: CoolingState
    if at is not None and at <= by:
        state, words = "met", f"{shown(reads_c or 0.0)} °C: in time."
    elif warmer and (at is None or warmer[0][0] < at):
        state = "missed"
        words = f"It was still {shown(warmer[0][1])} °C after its time. {_NOT_IN_TIME.get(at_most_c, _NOT_IN_TIME[0.0])} {DEFERS}"
    elif at is not None:
        state = "late"
        words = f"First shown after its time: nothing says that it was cold enough before. {_NOT_IN_TIME.get(at_most_c, _NOT_IN_TIME[0.0])} {DEFERS}"
    else:
        state, words = "open", f"At most {shown(at_most_c)} °C by then: probe it in the middle."
    return CoolingMark(at_most_c=at_most_c, by=by, state=state, at=at, reads_c=reads_c, words=words)
