"""Add, blend and join: matter comes into a vessel."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import Field

from jugcore.figures import Floats
from jugcore.matter.matter import TRACERS, Matter
from jugcore.method.amounts import All, Amount
from jugcore.method.context import Context
from jugcore.method.fields import MOST_LINES, Id, Part, Text, Title, VesselId
from jugcore.method.stages.base import StageBase, Step, finish, flashed, pour_out
from jugcore.method.state import Flow, State
from jugcore.physics import thermal

# Seconds to fetch, weigh and put in one line (common practice, no source).
_LINE_SECONDS = (15.0, 30.0, 60.0)
_JOIN_SECONDS = (10.0, 20.0, 60.0)


class LineDoc(Part):
    """One ingredient and how much of it. A string is an amount as typed."""

    id: Id
    substance: Id = Field(description="A substance of this document or of the library.")
    name: Title | None = None
    amount: Amount | Text
    temperature_c: float | None = Field(None, ge=0, le=100, description="As it goes in; else room or fridge by its storage [°C]")


class Adding(StageBase):
    """Shared by add and blend: lines go in one after another and mix."""

    lines: tuple[LineDoc, ...] = Field(min_length=1, max_length=MOST_LINES)
    total: Amount | Text | None = Field(None, description="What its lines come to in all, where some are in parts or percent of it.")

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        now = held.total_g
        grams, flows = [], []
        lines = dict(state.lines)
        so_far = replace(state, lines=lines)  # sees each line as it is added
        for line in self.lines:
            g = ctx.line_grams(line, so_far, now)
            lines[line.id] = g
            grams.append(g)
            now = now + g
        by_line = np.stack(grams, axis=1)  # (K, L)
        mass = np.zeros_like(held.mass_g)
        heat = np.zeros(ctx.cases)
        tracer = np.zeros((ctx.cases, len(TRACERS)))
        for index, line in enumerate(self.lines):
            fraction = ctx.method.fraction_of(line.substance, ctx)
            part = by_line[:, index, None] * fraction
            mass += part
            heat += thermal.enthalpy_j(part, ctx.method.line_temperature_c(line, ctx))
            tracer += by_line[:, index, None] * ctx.method.tracers_of(line.substance, fraction)
            flows.append(Flow(self.id, f"line:{line.id}", f"vessel:{self.vessel}", part))
        extent = ctx.method.extents_of(self.lines, by_line)
        incoming = Matter(mass, heat, extent, tracer, np.zeros(ctx.cases), frozenset(line.id for line in self.lines))
        after = replace(state.with_vessels(**{self.vessel: held.plus(incoming)}), lines=lines)
        after, steam = flashed(self, after, self.vessel, ctx)
        n = len(self.lines)
        spent = ctx.seconds(*(n * s for s in _LINE_SECONDS), stage=self)
        return Step(finish(self, state, after, duration_s=spent), (*flows, *steam), spent, spent, into(held))


class Add(Adding):
    """Weigh ingredients into a vessel that may already hold something."""

    title = "Add"
    kind: Literal["add"] = "add"


class Blend(Adding):
    """Weigh ingredients together in a vessel of their own: a spice blend, a dry mix."""

    title = "Blend"
    kind: Literal["blend"] = "blend"


class Join(StageBase):
    """Bring what another vessel holds into this one, all of it or an amount."""

    title = "Join"
    kind: Literal["join"] = "join"
    source: VesselId = Field(description="The vessel emptied into this one.")
    amount: Amount | Text = All()

    def reads(self) -> str:
        return self.source

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        source = ctx.matter(state, self.source)
        available, _ = pour_out(source, ctx, self.source)
        there = available.total_g
        ctx.fault(
            "nothing_there",
            field=f"stages.{self.id}.source",
            message=f"{ctx.method.vessel_name(self.source)} holds nothing to bring over.",
            remedy="Put a stage that fills it before this one, or name another vessel.",
            cases=source.total_g <= 0,
            stage=self.id,
        )
        amount = ctx.method.amounts[self.id]
        override = ctx.given(f"lines.{self.id}.grams")
        if isinstance(amount, All) and override is None:
            share = np.ones(ctx.cases)
        else:
            wanted = ctx.join_grams(self.id, state, held.total_g) if override is None else override
            short = wanted > there * (1 + 1e-12)
            ctx.fault(
                "runs_short",
                field=f"lines.{self.id}.amount",
                message=f"This asks for {float(np.max(np.where(short, wanted, 0))):,.1f} g; "
                f"{ctx.method.vessel_name(self.source)} gives {float(np.min(np.where(short, there, np.inf))):,.1f} g.",
                remedy="Make more of it, or ask for less.",
                cases=short & (there > 0),
                stage=self.id,
            )
            share = np.where(there > 0, np.minimum(wanted / np.where(there > 0, there, 1.0), 1.0), 0.0)
        moved = available.share(share)
        after = state.with_vessels(**{self.vessel: held.plus(moved), self.source: source.minus(moved)})
        after = replace(after, lines={**after.lines, self.id: moved.total_g})
        after, steam = flashed(self, after, self.vessel, ctx)
        spent = ctx.seconds(*_JOIN_SECONDS, stage=self)
        flow = Flow(self.id, f"vessel:{self.source}", f"vessel:{self.vessel}", moved.mass_g)
        return Step(finish(self, state, after, duration_s=spent), (flow, *steam), spent, spent, into(held))


def into(held: Matter) -> dict[str, Floats]:
    """What the vessel held before anything came in: how warm, and how many millilitres."""
    return {"into_c": np.where(held.total_g > 0, held.warmth_c, np.nan), "into_ml": held.total_g / 1.3}
