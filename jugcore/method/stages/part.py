"""Strain, trim, press and mill: what is wanted is parted from what is not, or made small."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Literal, Self

import numpy as np
from pydantic import Field, model_validator

from jugcore.fields import Id, VesselId, number
from jugcore.figures import Bools, Floats, shown
from jugcore.matter.matter import MILLED, Matter
from jugcore.method.amounts import Named
from jugcore.method.context import Context
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import Naming, StageBase, finish, not_more_than, pour_out, refuse_empty, weighed_g
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.step import Step
from jugcore.method.state import Flow, State

#: Share of milled solids a fine sieve holds back; whole pieces all stay (estimate).
MILLED_RETAINED = 0.97
#: A pressed cake holds this share of the liquid an unpressed one does (estimate).
PRESSED_UPTAKE = 0.7


def cake_of(stage_id: str) -> str:
    """The vessel that holds what a stage kept back."""
    return f"cake:{stage_id}"


class Strain(StageBase):
    """Pour a vessel through a sieve or cloth into another; the cake keeps some liquid."""

    title = "Strain"
    kind: Literal["strain"] = "strain"
    cautions = ("Pour away from you: hot liquid runs through a cloth faster than it looks.",)
    into: VesselId = Field(description="The vessel below the sieve.")
    sieve: Id | None = None
    pressed: bool = False
    gives_g: float | None = number(None, unit="g", ge=0, le=1_000_000, description="What ran through, where it was weighed")
    retained: float | None = number(None, unit="1", ge=0, le=1, description="Share of insoluble solids held back")
    uptake_g_per_g: float | None = number(None, unit="g/g", ge=0, le=20, description="Liquid a gram of cake solids keeps")
    drains = cautions_if_hot = True

    def writes(self) -> str:
        return self.into

    def leaves(self) -> str:
        return cake_of(self.id)

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "sieve"

    def named_equipment(self) -> Iterator[tuple[Literal["burner", "sieve"], str]]:
        if self.sieve is not None:
            yield "sieve", self.sieve

    def names(self, naming: Naming) -> Iterator[Named]:
        yield from _ran_into(self, self.into, naming)

    def setting(self, at: AtStage) -> str:
        return at.mesh(self.sieve) + (", pressed" if self.pressed else "")

    def summary(self, at: AtStage) -> str:
        return self.setting(at)

    def instruction(self, at: AtStage) -> str:
        return f"Strain through {at.sieve_name(self.sieve)} into {at.method.vessel_name(self.into)}{', and press' if self.pressed else ''}"

    def preparation(self, at: AtStage) -> str:
        below = at.method.vessel_name(self.into)
        return f"Set {at.sieve_name(self.sieve)} over {below}{', and have something to press with' if self.pressed else ''}."

    def as_measured(self, entered: Entered) -> Self:
        return self if entered.gave_g is None else self.model_copy(update={"gives_g": entered.gave_g})

    def apply(self, state: State, ctx: Context) -> Step:
        source = ctx.matter(state, self.vessel)
        refuse_empty(self, source, ctx)
        poured, film = pour_out(source, ctx, self.vessel)
        if self.retained is None and ctx.given(self.path("retained")) is None:
            milled = poured.extent[:, MILLED]
            retained = 1.0 - milled * (1.0 - MILLED_RETAINED)
        else:
            retained = ctx.value(self.path("retained"), self.retained or 0.0)
        book = ctx.kitchen.cake_uptake_g_per_g * (PRESSED_UPTAKE if self.pressed else 1.0)
        learned = ctx.given("kitchen.cake_uptake_g_per_g")
        if self.uptake_g_per_g is None and learned is not None:
            uptake = learned * (PRESSED_UPTAKE if self.pressed else 1.0)
        else:
            uptake = ctx.value(self.path("uptake_g_per_g"), book if self.uptake_g_per_g is None else self.uptake_g_per_g)
        kept_solids = poured.held_back_g * retained
        liquid = poured.total_g - poured.held_back_g
        soaked = kept_solids * uptake
        all_soaked = (liquid > 0) & (soaked >= liquid) & (weighed_g(self, self.gives_g, ctx) is None)
        ctx.fault(
            "nothing_runs_through",
            field=self.path("vessel"),
            message=f"The solids would hold all {shown(round(float(liquid[np.argmax(all_soaked)]), 1))} g of the liquid; nothing runs through.",
            remedy="Use more liquid or fewer solids, or press the cake.",
            cases=all_soaked,
            stage=self.id,
        )
        through = weighed_g(self, self.gives_g, ctx)
        if through is not None:
            runs = through - (poured.held_back_g - kept_solids)
            not_more_than(self, ctx, through, poured.total_g - kept_solids)
            soaked = np.maximum(liquid - np.maximum(runs, 0.0), 0.0)
        share = np.where(liquid > 0, np.minimum(soaked / np.where(liquid > 0, liquid, 1.0), 1.0), 0.0)
        cake = poured.portion(liquid=share, insoluble=retained)
        return _part(self, state, ctx, source=source, film=film, cake=cake, through=poured.minus(cake), seconds=(60, 120, 360))


class Yielding(StageBase):
    """A stage that gives so much of what goes in, within a range: no two fruits are alike."""

    yield_fraction: float = number(0.5, unit="1", gt=0, le=1, description="What it gives, by mass of what goes in")
    yield_low: float | None = number(None, unit="1", gt=0, le=1, description="The least it may give")
    yield_high: float | None = number(None, unit="1", gt=0, le=1, description="The most it may give")
    gives_g: float | None = number(None, unit="g", ge=0, le=1_000_000, description="What it gave, where it was weighed")
    yields = True

    def summary(self, at: AtStage) -> str:
        return self.setting(at)

    def as_measured(self, entered: Entered) -> Self:
        return self if entered.gave_g is None else self.model_copy(update={"gives_g": entered.gave_g})

    @property
    def ends(self) -> tuple[float, float]:
        """The least and the most it may give; twice the figure itself where no range is known."""
        return self.yield_low or self.yield_fraction, self.yield_high or self.yield_fraction

    def fraction(self, source: Matter, ctx: Context) -> Floats:
        """The share (K,) of what goes in that it gives: by what was weighed, else its yield."""
        weighed = weighed_g(self, self.gives_g, ctx)
        if weighed is None:
            return ctx.value(self.path("yield_fraction"), self.yield_fraction)
        not_more_than(self, ctx, weighed, source.total_g)
        there = source.total_g
        return np.asarray(np.minimum(np.where(there > 0, weighed / np.where(there > 0, there, 1.0), 0.0), 1.0))

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        low, high = self.ends
        if not low <= self.yield_fraction <= high:
            raise ValueError("The yield lies outside the least and the most it may give.\nGive one between them, or clear the range.")
        return self


class Trim(Yielding):
    """Peel, core and stone: the edible portion stays, the trimmings are kept apart as ``cake:<stage>``.

    Both are taken to be made of the same, since the book knows a fruit by its flesh (estimate).
    """

    title = "Trim"
    kind: Literal["trim"] = "trim"
    cautions = ("A wet fruit turns under the blade: dry hands, fingers curled away.",)
    yield_fraction: float = number(0.8, unit="1", gt=0, le=1, description="The edible portion, by mass of what is trimmed")
    keeps_back = "the trimmings"

    def names(self, naming: Naming) -> Iterator[Named]:
        stood_for = {id for other in naming.so_far for id in other.instead_of}
        whole = [each for each in naming.so_far if each.vessel == self.vessel and each.id not in stood_for]
        title = self.name or (f"Trimmed {whole[0].title.split(',')[0].lower()}" if len(whole) == 1 else "What was trimmed")
        yield Named(self.id, title, (title, "trimmed"), self.vessel, self.id, instead_of=tuple(each.id for each in whole))

    def setting(self, at: AtStage) -> str:
        return f"{100 * self.yield_fraction:g} % kept"

    def instruction(self, at: AtStage) -> str:
        return f"Peel, core and stone what is in {at.method.vessel_name(self.vessel)}"

    def apply(self, state: State, ctx: Context) -> Step:
        source = ctx.matter(state, self.vessel)
        refuse_empty(self, source, ctx)
        kept = source.share(self.fraction(source, ctx))
        off, apart = source.minus(kept), cake_of(self.id)
        after = state.with_vessels(**{self.vessel: kept, apart: ctx.matter(state, apart).plus(off)})
        after = after.but(lines={**after.lines, self.id: kept.total_g})
        spent = ctx.seconds(120, 420, 1200, stage=self)
        flows = (Flow(self.id, f"vessel:{self.vessel}", f"vessel:{apart}", off.mass_g),)
        return Step(finish(self, state, after, duration_s=spent), flows, spent, spent, {"cake_g": off.total_g})


class Press(Yielding):
    """Press juice out of fruit or a cake into another vessel."""

    title = "Press"
    kind: Literal["press"] = "press"
    into: VesselId = Field(description="The vessel the juice runs into.")
    drains = True

    def writes(self) -> str:
        return self.into

    def leaves(self) -> str:
        return cake_of(self.id)

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "press"

    def names(self, naming: Naming) -> Iterator[Named]:
        yield from _ran_into(self, self.into, naming, "juice")

    def setting(self, at: AtStage) -> str:
        return f"{100 * self.yield_fraction:g} % as juice"

    def instruction(self, at: AtStage) -> str:
        return f"Press into {at.method.vessel_name(self.into)}"

    def apply(self, state: State, ctx: Context) -> Step:
        source = ctx.matter(state, self.vessel)
        refuse_empty(self, source, ctx)
        wanted = self.fraction(source, ctx) * source.total_g
        liquid = source.total_g - source.held_back_g
        dry = (source.total_g > 0) & (wanted > liquid * (1 + 1e-12))
        ctx.fault(
            "more_than_it_holds",
            field=self.path("yield_fraction"),
            message=f"There is only {_share(liquid, source.total_g, dry)} of liquid in it by mass.",
            remedy="Ask for a smaller yield.",
            cases=dry,
            stage=self.id,
        )
        share = np.where(liquid > 0, np.minimum(wanted / np.where(liquid > 0, liquid, 1.0), 1.0), 0.0)
        juice = source.portion(liquid=share, insoluble=np.zeros(ctx.cases))
        nothing = Matter.nothing(ctx.cases)
        return _part(self, state, ctx, source=source, film=nothing, cake=source.minus(juice), through=juice, seconds=(180, 420, 900))


class Mill(StageBase):
    """Grind what a vessel holds and, through a sieve, grind again what stays on it; some dust is lost at each pass.

    Of what is ground in a pass ``coarse_fraction`` stays on the sieve and goes into the
    next; what stays after the last is kept apart as ``cake:<stage>``.
    """

    title = "Grind"
    kind: Literal["mill"] = "mill"
    cautions = ("Spice dust stings eyes and lungs: let it settle before opening the mill.",)
    loss_fraction: float = number(0.02, unit="1", ge=0, le=0.9, description="Left in the mill and the air at each pass (estimate)")
    sieve: Id | None = None
    coarse_fraction: float = number(0.0, unit="1", ge=0, le=0.95, description="Share of a pass that stays on the sieve (estimate)")
    passes: int = Field(1, ge=1, le=5, description="How often it goes through, what stayed on the sieve ground again")

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "mill"

    def leaves(self) -> str:
        return cake_of(self.id)

    def setting(self, at: AtStage) -> str:
        return f"{100 * self.loss_fraction:g} % lost"

    def summary(self, at: AtStage) -> str:
        return self.setting(at)

    def instruction(self, at: AtStage) -> str:
        return f"Grind what is in {at.method.vessel_name(self.vessel)}{f', {self.passes} passes' if self.passes > 1 else ''}"

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        refuse_empty(self, held, ctx)
        loss = ctx.value(self.path("loss_fraction"), self.loss_fraction)
        coarse = ctx.value(self.path("coarse_fraction"), self.coarse_fraction)
        # Pass by pass: of 1 in, (1 − loss)(1 − coarse) falls through and (1 − loss) coarse goes round again.
        stays, lost = ctx.full(1.0), ctx.full(0.0)
        for _ in range(self.passes):
            lost = lost + stays * loss
            stays = stays * (1.0 - loss) * coarse
        dust = held.share(lost)
        left = held.share(stays)
        fine = held.minus(dust).minus(left)
        extent = fine.extent.copy()
        extent[:, MILLED] = 1.0
        after = state.with_vessels(**{self.vessel: replace(fine, extent=extent)}).with_away("dust", dust.mass_g)
        flows = [Flow(self.id, f"vessel:{self.vessel}", "away:dust", dust.mass_g)]
        if bool(np.any(coarse > 0)):
            kept = cake_of(self.id)
            after = after.with_vessels(**{kept: ctx.matter(after, kept).plus(left)})
            flows.append(Flow(self.id, f"vessel:{self.vessel}", f"vessel:{kept}", left.mass_g))
        spent = ctx.seconds(60 * self.passes, 120 * self.passes, 240 * self.passes, stage=self)
        figures = {"through_g": fine.total_g, "coarse_g": left.total_g, "dust_g": dust.total_g}
        return Step(finish(self, state, after, duration_s=spent), tuple(flows), spent, spent, figures)


def _ran_into(stage: StageBase, into: str, naming: Naming, *also: str) -> Iterator[Named]:
    """What ran into a vessel bears the vessel's name; where that is joined into another, the join brings it and bears the name."""
    if into not in naming.joined:
        title = naming.vessel_name(into)
        yield Named(stage.id, title, (title, stage.name or stage.title, *also), into, stage.id)


def _part(
    stage: Strain | Press, state: State, ctx: Context, *, source: Matter, film: Matter, cake: Matter, through: Matter,
    seconds: tuple[float, float, float],
) -> Step:  # fmt: skip
    """Lay film, cake and what ran through into their vessels."""
    kept = cake_of(stage.id)
    below = ctx.matter(state, stage.into)
    after = state.with_vessels(**{stage.vessel: film, kept: ctx.matter(state, kept).plus(cake), stage.into: below.plus(through)})
    # What came through may be part of the starting mixture: kept like the grams of a line.
    after = after.but(lines={**after.lines, stage.id: through.total_g})
    spent = ctx.seconds(*seconds, stage=stage)
    flows = (
        Flow(stage.id, f"vessel:{stage.vessel}", f"vessel:{stage.into}", through.mass_g),
        Flow(stage.id, f"vessel:{stage.vessel}", f"vessel:{kept}", cake.mass_g),
    )
    figures = {"cake_g": cake.total_g, "film_g": film.total_g}
    return Step(finish(stage, state, after, duration_s=spent), flows, spent, spent, figures)


def _share(part: Floats, whole: Floats, where: Bools) -> str:
    i = int(np.argmax(where))
    return f"{100 * float(part[i]) / float(whole[i] or 1):.0f} %"
