"""The cooling log: by when a cooling batch must be where, by the food code's two-stage rule, and what the probe showed.

The clock starts when the cooling was begun, which is no later than the food code's. It runs on over every later stage,
and after the batch was finished, until the probe has been at both marks.
"""

from __future__ import annotations

import datetime
from collections.abc import Sequence

from jugcore.batch import events as e
from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.events import Logged
from jugcore.batch.shapes import CoolingLog, CoolingMark, CoolingState, ProbeReport
from jugcore.errors import shown
from jugcore.formula.keeping import DEFERS, keeping_report
from jugcore.formula.processes import before
from jugcore.formula.reading import readings
from jugcore.keeping.cooling import ALL_S, FIRST_S, FROM_C, MIDDLE_C
from jugcore.method.stages import Cool, StageBase

#: What is usually done with what was not cooled in time: common practice, no source.
_NOT_IN_TIME = {
    MIDDLE_C: "Usual: bring it to 74 °C once more and cool it faster, in less depth or in ice water; or throw it away.",
    0.0: "Usual: throw it away.",
}


def cooling_log(batch: AsItIs) -> CoolingLog | None:
    """Both marks and the readings since the cooling began.

    None before it began, of what was not as hot as 57 °C, and of what need not be held cold.
    """
    found = _stages(batch)
    if found is None or _need_not(batch):
        return None
    began, stages = found
    read = [(entry, what) for entry, what in batch.record.of(e.Probed) if what.stage in stages and entry.event.at >= began]
    cold_c = batch.walk.kitchen.holding_c
    marks = [_mark(t, began + datetime.timedelta(seconds=s), read) for t, s in ((MIDDLE_C, FIRST_S), (cold_c, ALL_S))]
    here = next((id for id in stages if batch.record.done(id) is None), stages[-1])
    return CoolingLog(
        began=began, stage=here, stages=stages, marks=marks, open=any(mark.state == "open" for mark in marks),
        readings=[ProbeReport(at=entry.event.at, by=entry.event.by, temperature_c=what.temperature_c) for entry, what in read],
    )  # fmt: skip


def _stages(batch: AsItIs) -> tuple[datetime.datetime, list[str]] | None:
    """When it began to cool, and the stages from there on; of what is filled hot, from its last stage's end."""
    walked, record = batch.walk, batch.record
    trunk = [stage for stage in walked.stages if stage.id in walked.method.trunk]
    first = next((i for i, stage in enumerate(trunk) if isinstance(stage, Cool) and _was_hot(batch, stage)), None)
    if first is not None:
        began = record.began(trunk[first].id)
        return None if began is None else (began, [stage.id for stage in trunk[first:]])
    if record.closed is None or record.status != "finished" or float(walked.product.warmth_c[0]) < FROM_C or not trunk:
        return None
    done = record.done(trunk[-1].id)
    return (done or record.closed).event.at, [trunk[-1].id]


def _was_hot(batch: AsItIs, stage: StageBase) -> bool:
    held = before(batch.walk, stage).vessels.get(stage.vessel)
    return held is not None and float(held.warmth_c[0]) >= FROM_C


def _need_not(batch: AsItIs) -> bool:
    return keeping_report(batch.walk, {reading.id: reading for reading in readings(batch.walk)}).verdict == "not_controlled"


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
