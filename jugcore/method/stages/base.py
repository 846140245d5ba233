"""What every stage has, and what it gives back."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from jugcore import components as c
from jugcore.fields import Id, Part, Text, Title, VesselId
from jugcore.figures import Bools, Floats, shown
from jugcore.matter.matter import Matter
from jugcore.matter.mixtures import boiling_point_of
from jugcore.matter.substance import Substance
from jugcore.method.amounts import Amount, Named
from jugcore.method.context import Context
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.line import LineDoc
from jugcore.method.stages.step import Step
from jugcore.method.state import Flow, State, film_left
from jugcore.physics import thermal, water

#: Pouring is warned of above this. [°C]
SCALDS_C = 50.0


class StageBase(Part):
    """A stage of a method: its shape, what it does to matter, and all that is said of it.

    Its id is stable across versions; its name is for people. Whoever reads a walk asks a stage what it can do
    (``boils``, ``yields``, ``on_hob``) and what it is called, not of which class it is.
    """

    title: ClassVar[str] = "Stage"
    kind: str
    cautions: ClassVar[tuple[str, ...]] = ()
    #: Whether its cautions are about hot liquid only.
    cautions_if_hot: ClassVar[bool] = False
    #: Water leaves until an end is met.
    boils: ClassVar[bool] = False
    #: What it gives is a share of what goes in, within a range.
    yields: ClassVar[bool] = False
    #: Liquid runs off and solids stay behind.
    drains: ClassVar[bool] = False
    #: Ice may form, and days that it keeps are paused.
    freezes: ClassVar[bool] = False
    #: What is in it can stick to the hot floor of its pot.
    catches: ClassVar[bool] = False
    #: Something is put into what is there, or beaten into it.
    brings_in: ClassVar[bool] = False
    #: A tool goes through what is in it and breaks lumps.
    breaks_lumps: ClassVar[bool] = False
    #: It takes its time by itself, so that something else can be made ready meanwhile.
    runs_by_itself: ClassVar[bool] = False
    #: What is in the product is another thing afterwards; warming, cooling, mixing and filling change nothing of that.
    changes_contents: ClassVar[bool] = True
    #: What a sentence calls what it keeps back.
    keeps_back: ClassVar[str] = "the cake"

    id: Id
    name: Title | None = None
    vessel: VesselId = Field(description="The vessel it works on.")
    note: Text = ""
    minutes: float | None = Field(None, gt=0, le=10_000, description="Hands-on time, where it is known [min]")

    # what it does ---------------------------------------------------------------

    def reads(self) -> str | None:
        """A vessel it takes matter from, other than the one it works on."""
        return None

    def writes(self) -> str:
        """The vessel that holds the result."""
        return self.vessel

    def leaves(self) -> str | None:
        """The vessel of what it leaves beside the product and may be worth keeping: pressed nuts, the rest of a blend."""
        return None

    def apply(self, state: State, ctx: Context) -> Step:
        """What it does to the matter in its vessels. What cannot be done is a fault of its case, never an error."""
        raise TypeError(f"{type(self).__name__} has no apply")

    def path(self, parameter: str) -> str:
        """Where a parameter of this stage is given: ``stages.<id>.<parameter>``."""
        return f"stages.{self.id}.{parameter}"

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        """Seconds since it began and °C of what is in its vessel, of the low (0), likely (1) or high (2) duration."""
        return [(0.0, ends_c), (float(at.step.duration_s[0, band]), ends_c)]

    # what goes in and what amounts may refer to ---------------------------------

    @property
    def ingredients(self) -> tuple[LineDoc, ...]:
        """The lines it puts in, in order."""
        return ()

    def amounts(self) -> dict[str, Amount | str]:
        """Every amount that is written in it, by the id of its line; under its own id what it makes in total, or brings over."""
        return {}

    def with_amount(self, id: str, amount: Amount | str) -> Self:
        """The stage with one of its amounts replaced; the same where it has none of that id."""
        return self

    def with_ingredients(self, lines: tuple[LineDoc, ...]) -> Self:
        """The stage with other lines; the same where it has none."""
        return self

    def names(self, naming: Naming) -> Iterator[Named]:
        """What an amount further down may refer to, and by which words."""
        yield from ()

    @property
    def weighed_ids(self) -> tuple[str, ...]:
        """What is put on a scale at it, by id: its lines, or what it brings over."""
        return tuple(line.id for line in self.ingredients)

    # what it is done with -------------------------------------------------------

    @property
    def on_hob(self) -> bool:
        """Whether its vessel must be a pot that stands on a burner."""
        return False

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        """The equipment that carries allergens over; None where it takes none, or only a pot and a spoon."""
        return None

    def named_equipment(self) -> Iterator[tuple[Literal["burner", "sieve"], str]]:
        """The burner and the sieve that it names, by id."""
        yield from ()

    # what is said of it ---------------------------------------------------------

    @property
    def called(self) -> str:
        """What a sentence calls it."""
        return f"“{self.name}”" if self.name else f"the {self.title.lower()}"

    def setting(self, at: AtStage) -> str:
        """What the method asks of it beside what goes in, and nothing of what comes of that: “to 60 °C”."""
        return ""

    def summary(self, at: AtStage) -> str:
        """The line under its name: “to 60 °C · 5–8 min”."""
        return " · ".join(words for words in (self.setting(at), at.minutes) if words)

    def instruction(self, at: AtStage) -> str:
        """What the cook is told to do: “Boil until the pot weighs 2,703 g”."""
        return self.name or self.title

    def preparation(self, at: AtStage) -> str:
        """What to have ready before it; empty where there is nothing."""
        return ""

    def warnings(self, after_c: float) -> Iterator[str]:
        """Cautions of the work itself, by how warm what it gives is [°C]."""
        if not self.cautions_if_hot or after_c > SCALDS_C:
            yield from self.cautions

    # what a batch makes of it ---------------------------------------------------

    def as_measured(self, entered: Entered) -> Self:
        """The stage with what was measured in place of what was planned."""
        return self

    def changed_by(self, suggestion: Self) -> Self:
        """This stage with what a suggestion may change of it: how much goes in, where a boil ends. How it is done stays."""
        return self

    def ends_at_g(self) -> float | None:
        """The weight at which it ends, where that is what ends it [g]."""
        return None


@dataclass(frozen=True)
class Naming:
    """What names are made of: the substances, what vessels are called, which vessels are joined into others, and the names so far."""

    substances: Mapping[str, Substance]
    vessel_name: Callable[[str], str]
    joined: frozenset[str]
    so_far: Sequence[Named]


def finish(stage: StageBase, before: State, after: State, *, duration_s: Floats, after_vessels: tuple[str, ...] = ()) -> State:
    """Mark the stage's vessel ready: after all it needed were ready, and its own time."""
    needed = [before.ready_at_s[v] for v in (stage.vessel, stage.writes(), stage.reads(), *after_vessels) if v in before.ready_at_s]
    start = np.maximum.reduce(needed) if needed else np.zeros_like(duration_s)
    target = stage.writes()
    held = after.vessels.get(target)
    masses = {**after.masses, stage.id: held.total_g} if held is not None else after.masses
    return after.but(ready_at_s={**after.ready_at_s, target: start + duration_s}, masses=masses)


def pour_out(source: Matter, ctx: Context, vessel: str) -> tuple[Matter, Matter]:
    """All of a vessel but the film on its wall: (poured, film)."""
    stays = film_left(source, ctx.method.film_g(vessel, ctx))
    poured = source.share(1.0 - stays)
    return poured, source.minus(poured)


#: Nothing poured together boils up below this. [°C]
_FLASHES_FROM_C = 85.0


def flashed(stage: StageBase, state: State, vessel: str, ctx: Context) -> tuple[State, tuple[Flow, ...]]:
    """A vessel that came out hotter than it can boil, after what boils up at once has left as steam: cream into caramel."""
    held = ctx.matter(state, vessel)
    if not bool((held.warmth_c > _FLASHES_FROM_C).any()):
        return state, ()
    off = np.zeros(ctx.cases)
    now = held
    for _ in range(6):
        boils = boiling_point_of(now, ctx.pressure_pa())
        above = (now.water_g > 0) & (now.warmth_c > boils + 1e-6)
        if not bool(above.any()):
            break
        spare = np.where(above, now.enthalpy_j - thermal.enthalpy_j(now.mass_g, boils), 0.0)
        steam = np.minimum(spare / water._latent_heat_j_g(np.minimum(boils, 130.0)), now.water_g)
        now = now.without_water(steam, np.where(above, boils, now.warmth_c))
        off = off + steam
    if not bool((off > 0).any()):
        return state, ()
    gone = np.zeros_like(held.mass_g)
    gone[:, c.WATER] = off
    return state.with_vessels(**{vessel: now}).with_away("steam", gone), (Flow(stage.id, f"vessel:{vessel}", "away:steam", gone),)


def refuse_empty(stage: StageBase, matter: Matter, ctx: Context) -> Bools:
    """Where (K,) the vessel a stage works on is empty; a fault says so."""
    empty = np.asarray(matter.total_g <= 0)
    ctx.fault(
        "vessel_empty",
        field=stage.path("vessel"),
        message=f"{ctx.method.vessel_name(stage.vessel)} is empty.",
        remedy="Add something to it first, or name another vessel.",
        cases=empty,
        stage=stage.id,
    )
    return empty


def weighed_g(stage: StageBase, gives_g: float | None, ctx: Context) -> Floats | None:
    """What came of a stage, (K,), where it was put on a scale: what is given for it, else what the document says."""
    given = ctx.given(stage.path("gives_g"))
    return given if given is not None or gives_g is None else ctx.full(gives_g)


def not_more_than(stage: StageBase, ctx: Context, gives: Floats, there: Floats) -> None:
    """A fault where more is said to have come of a stage than can have; the walk takes what there is."""
    more = gives > there * (1 + 1e-9)
    if not bool(more.any()):
        return
    i = int(np.argmax(more))
    ctx.fault(
        "more_than_there_is",
        field=stage.path("gives_g"),
        message=f"{shown(round(float(gives[i]), 1))} g is said to have come of it, and there were only {shown(round(float(there[i]), 1))} g to give.",
        remedy="Weigh it again without what it stands in; else something before it weighed more than was entered.",
        cases=more,
        stage=stage.id,
    )
