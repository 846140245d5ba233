"""What a list shows of a batch, read off its run sheet: how far it is, what it came to, what is off, what must not be forgotten."""

from __future__ import annotations

import math
from datetime import datetime
from typing import Literal

from pydantic import BaseModel, Field

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log.events import Flowed, Logged
from jugcore.batch.sheet.off_plan import off_plan
from jugcore.batch.sheet.schema import CoolingLog, CoolingState, LogLine, SheetReport, TimerReport
from jugcore.method.walk import Walk
from jugcore.solving.linearise import reading_of


class OpenMark(BaseModel):
    """A temperature that a cooling batch must be shown at, and by when."""

    at_most_c: float
    by: datetime
    state: CoolingState = Field("open", description="open; late: first shown after its time; missed: shown to be warmer after its time.")


class FlowSeen(BaseModel):
    """What a batch did in a funnel, with what its walk says of its starch."""

    cooked_starch: float
    brix: float
    seconds: float | None
    stuck: bool
    funnel: str


class BatchSummary(BaseModel):
    """A batch in a list; masses in grams."""

    status: Literal["running", "finished", "stopped"] = "running"
    closed_at: datetime | None = None
    step: str | None = Field(None, description="What is to be done now.")
    steps_done: int = 0
    steps: int = 0
    questions: int = 0
    aside: int = Field(0, description="Entries that nothing can be worked out with; it is read without them.")
    trouble: str = Field("", description="Why nothing of it can be worked out, if so: its figures are none then.")
    yield_g: float = 0.0
    planned_yield_g: float = 0.0
    yield_measured: bool = False
    brix: float | None = None
    planned_brix: float | None = None
    waste_g: float = 0.0
    words: str = Field("", description="Notes and reasons.")
    off_plan: int = Field(
        0,
        description="How many things are further off plan than is near enough, and not dealt with; several readings are one.",
    )
    timers: list[TimerReport] = Field([], description="Timers that run.")
    cooling: OpenMark | None = Field(
        None, description="Of what is held by time and temperature: the first mark not shown in time, until somebody says why not."
    )
    frozen: bool = Field(False, description="Whether it is in the freezer.")
    to_go_g: float | None = Field(None, description="Of a boil under way: grams to go by its last weighing.")
    ready_low: datetime | None = Field(None, description="Of a boil under way: when it is ready.")
    ready_high: datetime | None = None
    lift_weigh_at: datetime | None = Field(None, description="Of a boil under way: from when on to weigh the pot.")


def summary_of(found: ActualBatch, sheet: SheetReport) -> BatchSummary:
    """The summary of a batch from its walk and its run sheet."""
    closed = found.record.closed
    now = next((step for step in sheet.steps if step.id == sheet.now), None)
    boil = now.boil if now is not None else None
    return BatchSummary(
        status=sheet.status, closed_at=closed.event.at if closed else None, step=now.name if now else None,
        steps_done=sum(step.state == "done" for step in sheet.steps), steps=len(sheet.steps), questions=len(sheet.questions), aside=len(found.aside),
        yield_g=sheet.yield_g, planned_yield_g=sheet.planned_yield_g, yield_measured=sheet.yield_measured, brix=_brix(found.walk),
        planned_brix=_brix(found.planned), waste_g=sheet.waste_g,
        words=" · ".join(line.words for line in sheet.log if _tells(line, closed) and not line.undone),
        off_plan=off_plan(sheet.deviations), timers=sheet.timers, cooling=_open_mark(sheet.cooling),
        frozen=bool(sheet.frozen) and sheet.frozen[-1].until is None, to_go_g=boil.to_go_g if boil is not None and boil.by_weighing else None,
        ready_low=boil and boil.ready_low, ready_high=boil and boil.ready_high, lift_weigh_at=boil and boil.lift_weigh_at,
    )  # fmt: skip


def flow_seen(found: ActualBatch) -> list[FlowSeen]:
    """What a batch did in the funnel, with what its walk says of its starch; nothing of a batch without any."""
    flowed = [what for _, what in found.record.of(Flowed)]
    if not flowed:
        return []
    starch, brix = (float(reading_of(found.walk, id).value[0]) for id in ("cooked_starch", "brix"))
    if not math.isfinite(starch) or not math.isfinite(brix):
        return []
    return [FlowSeen(cooked_starch=starch, brix=brix, seconds=w.seconds, stuck=w.stuck, funnel=w.funnel) for w in flowed]


def _open_mark(cooling: CoolingLog | None) -> OpenMark | None:
    """The first temperature that a cooling batch was not shown at in time, and by when; until it was, or somebody said why not."""
    if cooling is None or not cooling.open:
        return None
    mark = next((mark for mark in cooling.marks if mark.state != "met"), None)
    return None if mark is None else OpenMark(at_most_c=mark.at_most_c, by=mark.by, state=mark.state)


def _tells(line: LogLine, closed: Logged | None) -> bool:
    """Whether an entry says something a list should: a note, a reason, a way that was chosen."""
    stopped = closed is not None and line.entry == closed.event.id and line.words != "finished"
    return line.kind in ("noted", "wasted", "put_right") or stopped


def _brix(walk: Walk) -> float | None:
    value = float(reading_of(walk, "brix").value[0])
    return value if math.isfinite(value) else None
