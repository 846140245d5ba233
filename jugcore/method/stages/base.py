"""What every stage has, and what it gives back."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import ClassVar

import numpy as np
from pydantic import Field

from jugcore import components as c
from jugcore.figures import Bools, Floats, shown
from jugcore.matter.matter import Matter
from jugcore.matter.mixtures import boiling_point_of
from jugcore.method.context import Context
from jugcore.method.fields import Id, Part, Text, Title, VesselId
from jugcore.method.state import Flow, State, film_left
from jugcore.physics import thermal, water


@dataclass(frozen=True)
class Trace:
    """A stage over time: (K, N) seconds since it began, grams in the pot, °C and °Bx."""

    seconds: Floats
    mass_g: Floats
    temperature_c: Floats
    brix: Floats


@dataclass(frozen=True)
class Step:
    """What one stage did: the state after it, what moved, how long it took.

    ``duration_s`` and ``hands_s`` are (K, 3): low, typical, high; waiting is the
    difference. ``figures`` are numbers the cook needs at this stage, (K,) or (K, 3).
    """

    after: State
    flows: tuple[Flow, ...] = ()
    duration_s: Floats = field(default_factory=lambda: np.zeros((1, 3)))
    hands_s: Floats = field(default_factory=lambda: np.zeros((1, 3)))
    figures: dict[str, Floats] = field(default_factory=dict)
    trace: Trace | None = None


class StageBase(Part):
    """A stage of a method. Its id is stable across versions; its name is for people."""

    title: ClassVar[str] = "Stage"
    kind: str
    cautions: ClassVar[tuple[str, ...]] = ()

    id: Id
    name: Title | None = None
    vessel: VesselId = Field(description="The vessel it works on.")
    note: Text = ""
    minutes: float | None = Field(None, gt=0, le=10_000, description="Hands-on time, where it is known [min]")

    def reads(self) -> str | None:
        """A vessel it takes matter from, other than the one it works on."""
        return None

    def writes(self) -> str:
        """The vessel that holds the result."""
        return self.vessel

    def apply(self, state: State, ctx: Context) -> Step:
        raise TypeError(f"{type(self).__name__} has no apply")

    def path(self, parameter: str) -> str:
        """Where a parameter of this stage is given: ``stages.<id>.<parameter>``."""
        return f"stages.{self.id}.{parameter}"


def finish(stage: StageBase, before: State, after: State, *, duration_s: Floats, after_vessels: tuple[str, ...] = ()) -> State:
    """Mark the stage's vessel ready: after all it needed were ready, and its own time."""
    needed = [before.ready_at_s[v] for v in (stage.vessel, stage.writes(), stage.reads(), *after_vessels) if v in before.ready_at_s]
    start = np.maximum.reduce(needed) if needed else np.zeros_like(duration_s)
    target = stage.writes()
    held = after.vessels.get(target)
    masses = {**after.masses, stage.id: held.total_g} if held is not None else after.masses
    return replace(after, ready_at_s={**after.ready_at_s, target: start + duration_s}, masses=masses)


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
    i = int(np.argmax(more))
    ctx.fault(
        "more_than_there_is",
        field=stage.path("gives_g"),
        message=f"{shown(round(float(gives[i]), 1))} g is said to have come of it, and there were only {shown(round(float(there[i]), 1))} g to give.",
        remedy="Weigh it again without what it stands in; else something before it weighed more than was entered.",
        cases=more,
        stage=stage.id,
    )
