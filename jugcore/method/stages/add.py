"""Add, blend and join: matter comes into a vessel."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal, Self

import numpy as np
from pydantic import Field

from jugcore.fields import MOST_LINES, Text, VesselId
from jugcore.figures import Floats
from jugcore.matter.matter import Matter
from jugcore.method.amounts import All, Amount, Named
from jugcore.method.context import Context
from jugcore.method.phrases import grams_of, grams_text
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import Naming, StageBase, finish, flashed, pour_out
from jugcore.method.stages.line import LineDoc
from jugcore.method.stages.step import Step
from jugcore.method.state import Flow, State
from jugcore.physics import thermal

# Seconds to fetch, weigh and put in one line (common practice, no source).
_LINE_SECONDS = (15.0, 30.0, 60.0)
_JOIN_SECONDS = (10.0, 20.0, 60.0)
#: So many lines are named where they can be weighed ahead.
_READY = 3


class Adding(StageBase):
    """Shared by add and blend: lines go in one after another and mix."""

    lines: tuple[LineDoc, ...] = Field(min_length=1, max_length=MOST_LINES)
    total: Amount | Text | None = Field(None, description="What its lines come to in all, where some are in parts or percent of it.")
    brings_in = True

    @property
    def ingredients(self) -> tuple[LineDoc, ...]:
        return self.lines

    def amounts(self) -> dict[str, Amount | str]:
        total = {} if self.total is None else {self.id: self.total}
        return {**{line.id: line.amount for line in self.lines}, **total}

    def with_amount(self, id: str, amount: Amount | str) -> Self:
        if id == self.id:
            return self.model_copy(update={"total": amount})
        if not any(line.id == id for line in self.lines):
            return self
        return self.with_ingredients(tuple(line.model_copy(update={"amount": amount}) if line.id == id else line for line in self.lines))

    def with_ingredients(self, lines: tuple[LineDoc, ...]) -> Self:
        return self.model_copy(update={"lines": lines})

    def names(self, naming: Naming) -> Iterator[Named]:
        for line in self.lines:
            substance = naming.substances[line.substance]
            words = (substance.title, *substance.also_called)
            yield Named(line.id, line.name or substance.title, words, self.vessel, self.id, self.total is not None)

    def summary(self, at: AtStage) -> str:
        return ", ".join(at.method.short_titles[line.id] for line in self.lines)

    def instruction(self, at: AtStage) -> str:
        into = at.method.vessel_name(self.vessel)
        if len(self.lines) > 1:
            return f"Weigh {len(self.lines)} things into {into}"
        line = self.lines[0].id
        return f"Weigh {grams_of(at.kitchen, at.grams(line), at.method.short_titles[line])} into {into}"

    def _weighed_out(self, at: AtStage) -> str:
        """The first of its lines with their grams, and how many more there are."""
        first = " and ".join(grams_of(at.kitchen, at.grams(line.id), at.method.short_titles[line.id]) for line in self.lines[:_READY])
        return f"Weigh {first}" + (f" and {len(self.lines) - _READY} more" if len(self.lines) > _READY else "")

    def changed_by(self, suggestion: Self) -> Self:
        return self.model_copy(update={"lines": suggestion.lines, "total": suggestion.total})

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        incoming, lines, flows = self.weighed_in(state, ctx, held)
        after = state.but(vessels={**state.vessels, self.vessel: held.plus(incoming)}, lines=lines)
        after, steam = flashed(self, after, self.vessel, ctx)
        spent = self.spent_s(ctx)
        return Step(finish(self, state, after, duration_s=spent), (*flows, *steam), spent, spent, into(held))

    def spent_s(self, ctx: Context) -> Floats:
        """What fetching and weighing its lines takes, (K, 3)."""
        n = len(self.lines)
        return ctx.seconds(*(n * s for s in _LINE_SECONDS), stage=self)

    def weighed_in(self, state: State, ctx: Context, held: Matter) -> tuple[Matter, dict[str, Floats], list[Flow]]:
        """All its lines together as warm as each goes in; the grams of every line so far; and where each went."""
        now = held.total_g
        grams = []
        lines = dict(state.lines)
        so_far = state.but(lines=lines)  # sees each line as it is added
        for line in self.lines:
            g = ctx.line_grams(line, so_far, now)
            lines[line.id] = g
            grams.append(g)
            now = now + g
        by_line = np.stack(grams, axis=1)  # (K, L)
        fractions = [ctx.method.fraction_of(line.substance, ctx) for line in self.lines]
        brought = [ctx.method.tracers_of(line.substance, fraction) for line, fraction in zip(self.lines, fractions, strict=True)]
        warm = np.stack([ctx.method.line_temperature_c(line, ctx) for line in self.lines], axis=1)
        parts = by_line[:, :, None] * _by_line(fractions, ctx.cases)  # (K, L, C)
        mass, heat = parts.sum(axis=1), thermal.enthalpy_j(parts, warm).sum(axis=1)
        tracer = (by_line[:, :, None] * _by_line(brought, ctx.cases)).sum(axis=1)
        flows = [Flow(self.id, f"line:{line.id}", f"vessel:{self.vessel}", parts[:, index]) for index, line in enumerate(self.lines)]
        extent = ctx.method.extents_of(self.lines, by_line)
        incoming = Matter(mass, heat, extent, tracer, ctx.method.air_of(self.lines, by_line), frozenset(line.id for line in self.lines))
        return incoming, lines, flows


def _by_line(each: Sequence[Floats], cases: int) -> Floats:
    """Rows of lines, (N,) or (K, N) each, side by side: (1, L, N) where all cases share them, else (K, L, N)."""
    if all(row.ndim == 1 for row in each):
        return np.stack(each)[None]
    return np.stack([np.broadcast_to(row, (cases, row.shape[-1])) for row in each], axis=1)


class Add(Adding):
    """Weigh ingredients into a vessel that may already hold something."""

    title = "Add"
    kind: Literal["add"] = "add"

    def preparation(self, at: AtStage) -> str:
        return f"{self._weighed_out(at)}, to go in next."


class Blend(Adding):
    """Weigh ingredients together in a vessel of their own: a spice blend, a dry mix."""

    title = "Blend"
    kind: Literal["blend"] = "blend"

    def preparation(self, at: AtStage) -> str:
        return f"{self._weighed_out(at)} together in {at.method.vessel_name(self.vessel)}."


class Join(StageBase):
    """Bring what another vessel holds into this one, all of it or an amount."""

    title = "Join"
    kind: Literal["join"] = "join"
    source: VesselId = Field(description="The vessel emptied into this one.")
    amount: Amount | Text = All()
    brings_in = True

    def reads(self) -> str:
        return self.source

    def leaves(self) -> str | None:
        whole = isinstance(self.amount, All) or (isinstance(self.amount, str) and self.amount.strip().lower() == "all")
        return None if whole else self.source

    @property
    def weighed_ids(self) -> tuple[str, ...]:
        return (self.id,)

    def amounts(self) -> dict[str, Amount | str]:
        return {self.id: self.amount}

    def with_amount(self, id: str, amount: Amount | str) -> Self:
        return self.model_copy(update={"amount": amount}) if id == self.id else self

    def names(self, naming: Naming) -> Iterator[Named]:
        title = self.name or naming.vessel_name(self.source)
        yield Named(self.id, title, (title,), self.vessel, self.id)

    def setting(self, at: AtStage) -> str:
        return at.method.vessel_name(self.source)

    def summary(self, at: AtStage) -> str:
        return f"{self.setting(at)}, {float(at.step.after.lines[self.id][0]):,.0f} g"

    def instruction(self, at: AtStage) -> str:
        source, into = at.method.vessel_name(self.source), at.method.vessel_name(self.vessel)
        if isinstance(at.method.amounts[self.id], All):
            return f"Put all of {source} into {into}"
        return f"Weigh {grams_text(at.kitchen, at.grams(self.id))} of {source} into {into}"

    def preparation(self, at: AtStage) -> str:
        return f"Have {at.method.vessel_name(self.source)} at hand."

    def changed_by(self, suggestion: Self) -> Self:
        return self.model_copy(update={"amount": suggestion.amount})

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
            short = (wanted > there * (1 + 1e-12)) & (there > 0)
            if bool(short.any()):
                ctx.fault(
                    "runs_short",
                    field=f"lines.{self.id}.amount",
                    message=f"This asks for {float(np.max(np.where(short, wanted, 0))):,.1f} g; "
                    f"{ctx.method.vessel_name(self.source)} gives {float(np.min(np.where(short, there, np.inf))):,.1f} g.",
                    remedy="Make more of it, or ask for less.",
                    cases=short,
                    stage=self.id,
                )
            share = np.where(there > 0, np.minimum(wanted / np.where(there > 0, there, 1.0), 1.0), 0.0)
        moved = available.share(share)
        after = state.with_vessels(**{self.vessel: held.plus(moved), self.source: source.minus(moved)})
        after = after.but(lines={**after.lines, self.id: moved.total_g})
        after, steam = flashed(self, after, self.vessel, ctx)
        spent = ctx.seconds(*_JOIN_SECONDS, stage=self)
        flow = Flow(self.id, f"vessel:{self.source}", f"vessel:{self.vessel}", moved.mass_g)
        return Step(finish(self, state, after, duration_s=spent), (flow, *steam), spent, spent, into(held))


def into(held: Matter) -> dict[str, Floats]:
    """What the vessel held before anything came in: how warm, and how many millilitres."""
    return {"into_c": np.where(held.total_g > 0, held.warmth_c, np.nan), "into_ml": held.total_g / 1.3}
