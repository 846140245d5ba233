"""What is entered at the hob, one event an entry. Events are only ever added; taking one back is an event too.

An event carries what the tablet knew when it was entered (``seen``): by that a correction
is told from two people who entered the same thing without knowing of each other.
"""

from __future__ import annotations

from collections.abc import Callable, Container, Mapping
from dataclasses import dataclass
from typing import Annotated, Literal, Self
from uuid import UUID

from pydantic import AwareDatetime, Field, model_validator

from jugcore.batch.log.arrival import Arrival
from jugcore.errors import DomainError
from jugcore.fields import NO_NUL, Id, Part, Text, Title, number
from jugcore.figures import shown
from jugcore.matter.library import library
from jugcore.matter.load_substance import load_substance
from jugcore.matter.substance_document import SubstanceDoc, as_document
from jugcore.method.document import MethodDocument
from jugcore.method.stages import StageBase

_MOST_G = 1_000_000
LotCode = Annotated[str, Field(min_length=1, max_length=100, pattern=NO_NUL)]


@dataclass(frozen=True)
class Names:
    """What the lines and the stages of a batch are called, by their ids."""

    line: Callable[[str], str]
    stage: Callable[[str], str]


class EntryBase(Part):
    """What an entry says. Its kind is stored and never changes."""

    def words(self, names: Names) -> str:
        """It in words, for the log: “430 g of pear juice”."""
        raise TypeError(f"{type(self).__name__} has no words")


class OnScale(EntryBase):
    """What a scale showed, and what stood on it besides."""

    reads_g: float = number(..., unit="g", ge=0, le=_MOST_G, description="What the scale shows")
    tare_g: float = number(0.0, unit="g", ge=0, le=_MOST_G, description="What stood on it besides: pot, bowl, what was in it before")

    @property
    def mass_g(self) -> float:
        """What is left of the reading without the tare."""
        return round(self.reads_g - self.tare_g, 6)

    @model_validator(mode="after")
    def _not_below_the_tare(self) -> Self:
        if self.reads_g < self.tare_g:
            raise ValueError("The scale shows less than what stood on it before.\nPress tare again, or enter what it shows without subtracting.")
        return self


class Weighed(OnScale):
    """A line went in. ``more`` adds to what was entered of it before; else the entry replaces that."""

    kind: Literal["weighed"] = "weighed"
    line: Id
    more: bool = False
    lot: LotCode | None = Field(None, description="The code of the lot it came out of, as the pantry or its pack says it; none where nobody said.")

    def words(self, names: Names) -> str:
        lot = f", lot {self.lot}" if self.lot else ""
        return f"{'another ' if self.more else ''}{shown(self.mass_g)} g of {names.line(self.line)}{lot}"


class PotWeighed(OnScale):
    """A pot with what is in it, on the scale; its tare is the empty pot's."""

    kind: Literal["pot_weighed"] = "pot_weighed"
    stage: Id

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: the pot reads {shown(self.reads_g)} g"


class Gave(OnScale):
    """What a press, a knife or a sieve gave."""

    kind: Literal["gave"] = "gave"
    stage: Id

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: gave {shown(self.mass_g)} g"


class Probed(EntryBase):
    """What the probe showed."""

    kind: Literal["probed"] = "probed"
    stage: Id
    temperature_c: float = number(..., unit="°C", ge=-30, le=250, description="What the probe shows")

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: probe {shown(self.temperature_c)} °C"


class Refracted(EntryBase):
    """What the refractometer showed of the pot, or of one ingredient before it went in."""

    kind: Literal["refracted"] = "refracted"
    stage: Id
    line: Id | None = Field(None, description="The ingredient it was a drop of; else what is in the stage's vessel.")
    reading_brix: float = number(..., unit="°Bx", ge=0, le=95, description="What it shows")
    sample_c: float = number(20.0, unit="°C", ge=0, le=100, description="The drop on its glass")
    corrects_itself: bool = Field(False, description="Whether the instrument corrects for temperature by itself.")

    def words(self, names: Names) -> str:
        of = f" of {names.line(self.line)}" if self.line else ""
        warm = "" if self.corrects_itself else f", drop at {shown(self.sample_c)} °C"
        return f"{names.stage(self.stage)}: refractometer {shown(self.reading_brix)} °Bx{of}{warm}"


class Reckoned(EntryBase):
    """From here on an ingredient is used instead as this strong, since the weights and the readings say so."""

    kind: Literal["reckoned"] = "reckoned"
    line: Id
    brix: float = number(..., unit="°Bx", gt=0, le=95, description="Dissolved solids of the ingredient")

    def words(self, names: Names) -> str:
        return f"{names.line(self.line)} taken as {shown(self.brix)} °Bx"


class Swapped(EntryBase):
    """Something else went in than the formula says. ``facts`` is what was known of it then: a table corrected later changes no batch."""

    kind: Literal["swapped"] = "swapped"
    line: Id
    substance: Id
    facts: SubstanceDoc | None = Field(None, description="Filled in when the entry is kept, if it is left out.")

    @model_validator(mode="after")
    def _facts_hold(self) -> Self:
        if self.facts is not None:
            try:
                load_substance(self.substance, self.facts)
            except DomainError as error:
                raise ValueError(f"{error.message}\n{error.remedy}") from None
        return self

    def words(self, names: Names) -> str:
        return f"{names.line(self.line)}: {self.facts.title if self.facts else self.substance.replace('_', ' ')} went in"


class Began(EntryBase):
    """A stage was begun: the heat is on, the steep has started."""

    kind: Literal["began"] = "began"
    stage: Id

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: begun"


class Done(EntryBase):
    """A stage is done: it was taken off, everything is in."""

    kind: Literal["done"] = "done"
    stage: Id

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: done"


class Took(EntryBase):
    """The piece of equipment a stage was done with, where it was another than the sheet says."""

    kind: Literal["took"] = "took"
    stage: Id
    piece: Id = Field(description="Its id in the kitchen.")

    def words(self, names: Names) -> str:
        return f"{names.stage(self.stage)}: done with {self.piece.replace('-', ' ')}"


class Bottled(EntryBase):
    """So many containers with so much in each."""

    kind: Literal["bottled"] = "bottled"
    stage: Id
    count: int = Field(1, ge=1, le=1000)
    each_g: float = number(..., unit="g", gt=0, le=_MOST_G, description="In each, the empty container not counted")

    def words(self, names: Names) -> str:
        return f"{self.count} filled with {shown(self.each_g)} g each" if self.count > 1 else f"one filled with {shown(self.each_g)} g"


class Labelled(EntryBase):
    """Labels were handed out to be stuck on: for the bottle as it was made, or for the day it is opened."""

    kind: Literal["labelled"] = "labelled"
    label: Literal["made", "opened"] = "made"
    count: int = Field(1, ge=1, le=200)
    says: Annotated[str, Field(max_length=200, pattern=NO_NUL)] = Field("", description="What stands on it besides: the dose, how it is kept.")

    def words(self, names: Names) -> str:
        which = f"label{'s' if self.count > 1 else ''}{' for the day it is opened' if self.label == 'opened' else ''}"
        return f"{self.count} {which} handed out{f': {self.says}' if self.says else ''}"


class LeftOver(EntryBase):
    """What was left after filling, and what became of it."""

    kind: Literal["left_over"] = "left_over"
    stage: Id
    mass_g: float = number(..., unit="g", gt=0, le=_MOST_G, description="What was left")
    fate: Literal["kept", "tasted", "binned"] = "kept"

    def words(self, names: Names) -> str:
        return f"{shown(self.mass_g)} g left over, {self.fate}"


class KeptAside(EntryBase):
    """What a step left beside the product was kept: pressed nuts, the rest of a blend."""

    kind: Literal["kept_aside"] = "kept_aside"
    stage: Id
    mass_g: float = number(..., unit="g", gt=0, le=_MOST_G, description="What was kept")

    def words(self, names: Names) -> str:
        return f"{shown(self.mass_g)} g kept aside at {names.stage(self.stage)}"


class Wasted(EntryBase):
    """Thrown away: how much, and why."""

    kind: Literal["wasted"] = "wasted"
    mass_g: float = number(..., unit="g", gt=0, le=_MOST_G, description="Thrown away")
    reason: Annotated[str, Field(min_length=1, max_length=500, pattern=NO_NUL)]
    stage: Id | None = None

    def words(self, names: Names) -> str:
        return f"{shown(self.mass_g)} g thrown away: {self.reason}"


class Flowed(EntryBase):
    """What it did in a funnel, cold, the day after: seconds until it had run through, or that it did not run."""

    kind: Literal["flowed"] = "flowed"
    seconds: float = number(0.0, unit="s", ge=0, le=3600, description="Until it had run through")
    stuck: bool = False
    temperature_c: float = number(4.0, unit="°C", ge=-5, le=40, description="How cold it was")
    funnel: Title = "the funnel"

    @model_validator(mode="after")
    def _ran_or_not(self) -> Self:
        if not self.stuck and self.seconds <= 0:
            raise ValueError("It took no time at all.\nGive the seconds until it had run through, or say that it did not run.")
        return self

    def words(self, names: Names) -> str:
        run = "did not run" if self.stuck else f"ran in {shown(self.seconds)} s"
        return f"{run} through {self.funnel} at {shown(self.temperature_c)} °C"


class Assessed(EntryBase):
    """What was measured or answered about the keeping of this batch, where it is known: its pH, its heat, its packaging."""

    kind: Literal["assessed"] = "assessed"
    heat_treated: bool | None = Field(None, description="All of it was brought to 72 °C or more, with nothing put in after.")
    packaged: bool | None = Field(None, description="Filled and closed at once, so that nothing gets in after the heat.")
    ph: float | None = number(None, unit="pH", ge=0, le=14, description="As measured with a meter that was just calibrated, at room temperature.")

    @model_validator(mode="after")
    def _something(self) -> Self:
        if self.heat_treated is None and self.packaged is None and self.ph is None:
            raise ValueError("Nothing was answered.\nGive its pH, or say whether it was heated or closed at once.")
        return self

    def words(self, names: Names) -> str:
        heat = {True: "all of it heated", False: "not all of it heated", None: ""}[self.heat_treated]
        packed = {True: "closed at once", False: "not closed at once", None: ""}[self.packaged]
        return ", ".join(part for part in (f"pH {shown(self.ph)}" if self.ph is not None else "", heat, packed) if part)


class Frozen(EntryBase):
    """It went into the freezer: from here on its days wait."""

    kind: Literal["frozen"] = "frozen"
    how: Title = Field("", description="Which of it, where not all: 4 of 6 bottles.")

    def words(self, names: Names) -> str:
        return f"into the freezer{f': {self.how}' if self.how else ''}"


class Thawed(EntryBase):
    """It came out of the freezer: its days go on."""

    kind: Literal["thawed"] = "thawed"

    def words(self, names: Names) -> str:
        return "out of the freezer, to thaw in the fridge"


class Noted(EntryBase):
    """Something worth remembering."""

    kind: Literal["noted"] = "noted"
    text: Annotated[str, Field(min_length=1, max_length=4000, pattern=NO_NUL)]
    stage: Id | None = None

    def words(self, names: Names) -> str:
        return self.text


class TimerSet(EntryBase):
    """A timer runs from when it was set."""

    kind: Literal["timer"] = "timer"
    timer: Id
    title: Title
    seconds: float = number(..., unit="s", gt=0, le=7 * 86_400, description="How long")
    stage: Id | None = None

    def words(self, names: Names) -> str:
        return f"timer “{self.title}”, {shown(round(self.seconds / 60, 1))} min"


class TimerOff(EntryBase):
    """A timer was turned off."""

    kind: Literal["timer_off"] = "timer_off"
    timer: Id

    def words(self, names: Names) -> str:
        return "a timer turned off"


class Undone(EntryBase):
    """An entry is taken back. It stays in the log."""

    kind: Literal["undone"] = "undone"
    entry: UUID

    def words(self, names: Names) -> str:
        return "an entry taken back"


class Settled(EntryBase):
    """A question between entries is answered: the entries that hold; their figures add up where several do."""

    kind: Literal["settled"] = "settled"
    question: Annotated[str, Field(min_length=1, max_length=200, pattern=NO_NUL)]
    keep: tuple[UUID, ...] = Field(min_length=1, max_length=20)

    def words(self, names: Names) -> str:
        return "a question answered"


class Accepted(EntryBase):
    """Something off plan is left as it is: a line (``line:<id>``) or a reading, at this figure."""

    kind: Literal["accepted"] = "accepted"
    about: Annotated[str, Field(min_length=1, max_length=80, pattern=NO_NUL)]
    actual: float = Field(description="What it was when it was accepted: what moves on is shown again.")
    title: Title = ""
    why: Text = ""

    def words(self, names: Names) -> str:
        if self.about == "cooling":
            return f"not shown cold in time: {self.why}"
        return f"{self.title or 'what is off plan'} left as it is{f' ({self.why})' if self.why else ''}"


class PutRight(EntryBase):
    """From here on the batch follows another document: a way was chosen from what was observed."""

    kind: Literal["put_right"] = "put_right"
    title: Title
    why: Text = ""
    about: Annotated[str, Field(max_length=80, pattern=NO_NUL)] = Field("", description="What was off: ``line:<id>`` or a reading.")
    actual: float | None = Field(None, description="What it was then.")
    document: MethodDocument

    def words(self, names: Names) -> str:
        return f"put right: {self.title}{f' ({self.why})' if self.why else ''}"


class Closed(EntryBase):
    """The batch is at its end: finished, or stopped with a reason, to be started again or not."""

    kind: Literal["closed"] = "closed"
    outcome: Literal["finished", "stopped"] = "finished"
    reason: Text = ""
    again: bool = False

    @model_validator(mode="after")
    def _stopping_says_why(self) -> Self:
        if self.outcome == "stopped" and not self.reason.strip():
            raise ValueError("A batch that is stopped says why.\nWrite a word: burnt, split, the wrong sugar.")
        return self

    def words(self, names: Names) -> str:
        return "finished" if self.outcome == "finished" else f"stopped: {self.reason}"


What = Annotated[
    Weighed | PotWeighed | Gave | Probed | Refracted | Reckoned | Swapped | Began | Done | Bottled | Labelled | LeftOver | KeptAside | Wasted
    | Flowed
    | Assessed | Took | Frozen | Thawed | Noted | TimerSet | TimerOff | Undone | Settled | Accepted | PutRight | Closed,
    Field(discriminator="kind"),
]  # fmt: skip


class Event(Part):
    """One entry: what, when by the tablet's clock, who, on which tablet, and up to where that tablet knew the log."""

    id: UUID
    at: AwareDatetime
    by: Annotated[str, Field(min_length=1, max_length=150, pattern=NO_NUL, description="Who entered it: the name they sign in with.")]
    device: Id = Field(description="The tablet, by a name it gave itself.")
    seen: int = Field(0, ge=0, description="The last number of the log this tablet knew of.")
    what: What


def named_in(event: Event) -> frozenset[str]:
    """The substances an entry brings that somebody must say something of: what went in instead, what a way carries along."""
    match event.what:
        case Swapped(substance=substance):
            return frozenset({substance})
        case PutRight(document=document):
            return frozenset({*document.substances, *(doc.of for doc in document.substances.values() if doc.of)})
        case _:
            return frozenset()


def with_facts(event: Event, own: Mapping[str, SubstanceDoc] | None = None, of_batch: Container[str] = ()) -> Event:
    """The event with what is known today of what it brings: by the site's own pantry, else by the library.

    What an ingredient is is not for an entry to say: facts that came along with it are left out, and where nobody knows anything of it none
    are put in their place. A way's lines that name what was only reckoned out of something (``of``: a juice weaker than its book) name that
    again; what the batch was started with (``of_batch``) it finds there.
    """
    known = {id: found for id in named_in(event) if id not in of_batch and (found := (own or {}).get(id) or _in_library(id)) is not None}
    match event.what:
        case Swapped() as swap:
            return event.model_copy(update={"what": swap.model_copy(update={"facts": known.get(swap.substance)})})
        case PutRight() as way:
            base = {id: doc.of for id, doc in way.document.substances.items() if id not in known and id not in of_batch and doc.of}
            document = way.document.model_copy(update={"substances": known, "stages": tuple(_of(stage, base) for stage in way.document.stages)})
            return event.model_copy(update={"what": way.model_copy(update={"document": document})})
        case _:
            return event


def _of(stage: StageBase, base: Mapping[str, str]) -> StageBase:
    """A stage whose lines name what their substances were reckoned out of."""
    return stage.with_ingredients(
        tuple(line.model_copy(update={"substance": base.get(line.substance, line.substance)}) for line in stage.ingredients)
    )


def _in_library(id: str) -> SubstanceDoc | None:
    return as_document(library()[id]) if id in library() else None


@dataclass(frozen=True)
class Logged:
    """An event with its number in the batch's log, which has no gaps, and how it arrived, where a server kept it."""

    seq: int
    event: Event
    arrival: Arrival | None = None
