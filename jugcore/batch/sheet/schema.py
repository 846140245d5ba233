"""Shapes of a batch's run sheet: what the tablet by the hob shows. Units stand in the field names."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from jugcore.reading.processes.schema import CaramelReport, FoamReport
from jugcore.reading.schema import FaultReport, PremixReport, Span


class MeasuredReport(BaseModel):
    """A figure that was entered, by whom and when."""

    mass_g: float
    at: datetime
    by: str
    entries: list[UUID] = Field(description="The entries it comes from, the newest last.")


class SheetLine(BaseModel):
    """What to weigh, how near to it is near enough, and what was weighed."""

    id: str
    title: str
    text: str = Field(description="The amount as the formula says it.")
    target_g: float = Field(description="As the scale can show it.")
    exact_g: float
    low_g: float = Field(description="At least this is near enough.")
    high_g: float = Field(description="At most this is near enough.")
    slip_g: float = Field(description="From this on it is more likely a slip: ask once before it is saved.")
    scale: str | None = Field(description="The finest scale that carries it.")
    resolution_g: float
    error: float | None = Field(None, description="How far half a division of that scale may put it off, relative; given where that is too much.")
    goes: int = Field(description="In how many goes, where no scale carries it at once.")
    pot_reads_g: float | None = Field(description="What the scale shows if the pot stays on it, tare and what is in it before included.")
    measured: MeasuredReport | None = None
    within: bool | None = Field(None, description="Whether what was weighed is near enough.")
    allergens: list[str]


class CoursePoint(BaseModel):
    """Where the pot is expected at a time: between two weights, pot included."""

    at: datetime
    low_g: float
    high_g: float


class PotReading(BaseModel):
    """A pot on the scale: what it read, and what that makes of it."""

    entry: UUID
    at: datetime
    by: str
    reads_g: float
    to_go_g: float
    brix: float | None = Field(description="By weight, computed.")


class DropReport(BaseModel):
    """A drop on the refractometer: what it showed, and what that is at 20 °C."""

    at: datetime
    by: str
    reading_brix: float
    brix: float


class ProbeReport(BaseModel):
    """What the probe showed."""

    at: datetime
    by: str
    temperature_c: float


class SheetBoil(BaseModel):
    """When to stop a boil: the weight stops it, the refractometer confirms, the probe warns."""

    pot_name: str
    pot_tare_g: float
    off_g: float
    starts_reads_g: float = Field(description="The pot as the boil begins.")
    stop_reads_g: float
    near_low_g: float = Field(description="Half a °Brix beyond: stop no later.")
    near_high_g: float = Field(description="Half a °Brix before: stop no sooner.")
    brix_at_stop: float | None
    refractometer_at_stop: float | None = Field(description="What a refractometer will show then, at 20 °C.")
    probe_c: float
    probe_doubt_brix: float | None = Field(description="What half a degree of the probe makes in °Bx.")
    first_boil_c: float | None
    fits_scale: bool = Field(description="Whether a scale carries the pot and what is in it.")
    heat_up: Span
    boil: Span
    began_at: datetime | None
    weighings: list[PotReading]
    impossible: str | None = Field(None, description="Why the last weighing cannot be one of this pot, in words; it is not reckoned with.")
    to_go_g: float = Field(description="By the last weighing, else all of it.")
    brix_now: float | None = Field(description="By weight, computed, not measured.")
    by_weighing: bool = Field(description="Whether grams to go rest on a weighing.")
    observed_g_min: float | None = Field(description="Grams a minute between the last weighings, once they are far enough apart.")
    probe: ProbeReport | None
    probe_warns: bool = Field(False, description="The probe is as high as at the stop, though the pot, weighed before that, was not there yet.")
    drop: DropReport | None
    course: list[CoursePoint]
    lift_weigh_at: datetime | None = Field(description="From when on to put the pot on the scale again: it may be near.")
    for_min: float | None = Field(None, description="Minutes it is boiled for, where the clock stops it and not the weight.")
    due_at: datetime | None = Field(
        None, description="When it has boiled that long: from when the probe showed the boil, else from when it should have."
    )
    ready_low: datetime | None
    ready_high: datetime | None


class SheetFill(BaseModel):
    """How the product divides into containers, and what was filled."""

    containers: int = Field(description="All that are wanted, the part-filled last one too.")
    per_container_g: float | None
    next_g: float | None = Field(None, description="What goes into the next one: a full one, or what is still there.")
    full_left: int = Field(0, description="How many full ones are still to be filled.")
    left_over_g: float
    size_ml: float
    fill_c: float | None
    cold_ml: float | None
    expects_g: float = Field(description="What there is to fill, by the walk.")
    filled: int
    filled_g: float
    kept_g: float = Field(description="Left over and kept or tasted.")
    most_g: float = Field(description="More than this cannot be filled or left over any more.")
    open_g: float | None = Field(
        None, description="What was there and is in no bottle and no rest, where that is more than scales and films explain."
    )
    impossible: str | None = Field(None, description="Why what was entered cannot be, in words; the yield is then the walk's.")


CoolingState = Literal["met", "open", "late", "missed"]


class CoolingMark(BaseModel):
    """A temperature to be at by a time, and what the probe showed of it."""

    at_most_c: float
    by: datetime
    state: CoolingState = Field(description="met in time; open; late: first shown after its time; missed: shown to be warmer after its time.")
    at: datetime | None = Field(description="When the probe first showed it.")
    reads_c: float | None
    words: str


class CoolingLog(BaseModel):
    """The way down of a batch that is held by time and temperature."""

    began: datetime
    stage: str = Field(description="The stage that an entry of the probe belongs to now.")
    stages: list[str] = Field(description="The stages over which it runs.")
    marks: list[CoolingMark]
    readings: list[ProbeReport]
    open: bool = Field(description="Whether a mark was not shown in time and nobody has said why.")
    hot: bool = Field(True, description="From 57 °C, by two marks; else it was never hot and has four hours.")
    why: str = Field("", description="Why it was not shown cold in time, as somebody said.")


class FrozenSpan(BaseModel):
    """A time in the freezer."""

    since: datetime
    until: datetime | None
    how: str


class SheetWarm(BaseModel):
    """A temperature to reach."""

    to_c: float
    probe: ProbeReport | None


class SheetHold(BaseModel):
    """A time to keep at a temperature, or while it cools as it stands."""

    where: str = Field(description="Where it is kept, in words.")
    for_min: float
    starts_c: float
    ends_low_c: float
    ends_high_c: float
    window_low_c: float | None = Field(None, description="The least an enzyme in it works at, by its sheet.")
    window_high_c: float | None = None
    words: str = Field("", description="What comes of it by what is known now: whether an enzyme gets done, what would mend it, how long it draws.")
    due_at: datetime | None = Field(None, description="When it has stood long enough, once it was begun; none while its time does not count.")
    probe: ProbeReport | None = None
    held_min: float | None = Field(None, description="Minutes that count so far: those within the temperatures it is to be held at, by the probe.")
    off: Literal["", "cold", "hot", "short"] = Field("", description="What is off: too cold or too hot by the probe, or ended too soon.")
    off_words: str = Field("", description="That in words, and what to do.")
    counts_low_c: float | None = Field(None, description="Below this its time does not count.")
    counts_high_c: float | None = Field(None, description="Above this its time does not count.")


class Piece(BaseModel):
    """A piece of equipment of the kitchen."""

    id: str
    name: str


class SheetEquipment(BaseModel):
    """What a stage is done with: the piece to take or that was taken, and the others of its kind."""

    taken: Piece
    said: bool = Field(description="Whether somebody said that it was that one.")
    pieces: list[Piece]


class SheetKeptAside(BaseModel):
    """What a step leaves beside the product and may be kept: what it is called, what there should be, what was kept."""

    title: str
    expects_g: float
    most_g: float = Field(description="What went into the step: no more can be left of it.")
    kept_g: float


class SheetStep(BaseModel):
    """A stage as something to do."""

    id: str
    kind: str
    name: str
    title: str = Field(description="What to do, in words.")
    state: Literal["done", "now", "to_do"]
    vessel: str
    equipment: SheetEquipment | None = Field(None, description="Where the kitchen has described more than one of its kind.")
    begun_at: datetime | None
    done_at: datetime | None
    done_by: str | None
    lines: list[SheetLine]
    duration: Span
    hands: Span
    waits: bool = Field(description="Whether there is time for something else meanwhile.")
    cautions: list[str]
    stops: list[str] = Field([], description="Why it must wait, in words: what would hurt somebody or spoil the batch.")
    faults: list[FaultReport]
    parallel_tasks: list[str]
    note: str
    premix: PremixReport | None = Field(None, description="A larger blend to dose from, where a line is too little for the scale and not in yet.")
    expects_g: float | None = Field(description="What a sieve, a knife or a press should give.")
    expects_low_g: float | None
    expects_high_g: float | None
    gave: MeasuredReport | None
    boil: SheetBoil | None = None
    fill: SheetFill | None = None
    warm: SheetWarm | None = None
    hold: SheetHold | None = None
    caramel: CaramelReport | None = None
    foam: FoamReport | None = None
    kept_aside: SheetKeptAside | None = None
    brix: float | None = Field(description="What the vessel comes to after it, computed.")


class QuestionChoice(BaseModel):
    """One of the entries between which a question stands."""

    entry: UUID
    words: str
    by: str
    at: datetime


class QuestionReport(BaseModel):
    """Two tablets entered different things without knowing of each other. Both entries stand until it is answered."""

    id: str
    words: str
    choices: list[QuestionChoice]
    may_add: bool = Field(description="Whether both may be true, and add up.")
    both: str = Field(description="That both are true, in words.")


class TimerReport(BaseModel):
    """A timer that runs."""

    timer: str
    title: str
    set_at: datetime
    due_at: datetime
    stage: str | None


class Deviation(BaseModel):
    """Something that is not as planned."""

    id: str
    title: str
    unit: str
    digits: int
    planned: float | None
    actual: float | None
    beyond: bool = Field(description="Whether it is further off than is near enough.")
    reading: str | None = Field(description="The reading to ask ways for; none for a line.")
    dealt: Literal["accepted", "put_right"] | None = Field(None, description="What was said to it, while it stays as it was then.")
    look: Literal["first", "besides", "dealt", "near"] = Field(
        "near",
        description="first: look at it first; besides: it mostly comes right with the first; dealt: something was said to it; near: near enough.",
    )


class LogLine(BaseModel):
    """An entry of the log in words."""

    seq: int
    entry: UUID
    kind: str
    stage: str | None
    words: str
    at: datetime
    by: str
    device: str
    undone: bool
    received_at: datetime | None = Field(None, description="When the server had it, by its own clock.")
    waited: bool = Field(False, description="Whether it waited on its tablet before.")
    sent_by: str = Field("", description="Whose session sent it, where that is somebody else's than who entered it.")
    said_by: str = Field("", description="Whom it named instead of who entered it.")
    said_at: datetime | None = Field(None, description="The tablet's own time, where that is another.")
    time_cannot_be: bool = Field(False, description="Whether that time is further off than the tablet's clock explains.")
    aside: str = Field("", description="Why the batch is read without it.")


class AsideReport(BaseModel):
    """An entry that nothing can be worked out with: the batch is read without it until it is taken back."""

    entry: UUID
    seq: int
    words: str = Field(description="The entry in words.")
    why: str = Field(description="What is wrong with it.")


How = Literal["measured", "as_asked", "computed", "not_reached", "unknown"]


class PlanRow(BaseModel):
    """One figure of a batch: planned at the start, asked for since, and what it was."""

    id: str
    title: str
    unit: str
    digits: int
    planned: float | None = Field(description="By the plan as it was frozen; none of what was added since.")
    purposed: float | None = Field(None, description="Asked for since by a way somebody chose, where that is another figure.")
    actual: float | None = Field(description="None where it was not reached, or nobody said.")
    how: How = Field(description="as_asked: done and not weighed; computed: by the walk of what was entered.")


class SheetReport(BaseModel):
    """A batch as it is, as something to do: the one thing the tablet reads."""

    seq: int = Field(description="The last entry it knows of.")
    status: Literal["running", "finished", "stopped"]
    now: str | None = Field(description="The stage to do next; none at the end.")
    steps: list[SheetStep]
    questions: list[QuestionReport]
    timers: list[TimerReport]
    made_first: list[str] = Field([], description="What of ours must be made before it can be weighed in, and how much.")
    deviations: list[Deviation]
    plan: list[PlanRow] = Field([], description="Plan against actual, once it is at its end.")
    ready_low: datetime | None
    ready_high: datetime | None
    yield_g: float = Field(description="By what was filled, once it is filled; else by the walk; nothing of a batch that was stopped before.")
    yield_measured: bool
    planned_yield_g: float
    waste_g: float
    there_g: float = Field(description="What stands in the vessels now, by what was done and weighed so far, less what was thrown away.")
    cooling: CoolingLog | None = Field(None, description="The two-stage cooling of what is held by time and temperature, once it began.")
    frozen: list[FrozenSpan] = Field([], description="Times in the freezer, the last one open while it is in there.")
    there_most_g: float = Field(description="More than this cannot be there.")
    aside: list[AsideReport] = Field([], description="Entries that nothing can be worked out with; the batch is read without them.")
    log: list[LogLine]
