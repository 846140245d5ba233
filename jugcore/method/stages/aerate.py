"""Aerate and mix: a tool goes in. One brings air, the other breaks lumps."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.fields import number
from jugcore.figures import Floats, shown
from jugcore.matter.matter import STRONG_GUM, Matter
from jugcore.method.context import Context
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish, refuse_empty
from jugcore.method.stages.step import Step
from jugcore.method.state import State
from jugcore.physics.foam import SECONDS, TOOL_NAMES, Foam, Tool, foam, kept_when_beaten

#: Above this a closed blender or jar is blown open by steam. [°C]
_BLOWS_OPEN_C = 60.0
_SIPHON = (
    "Pressure: the maker's fill line, food-grade chargers only, strained and cold.",
    "Never open it before all the gas is out, and never breathe the gas.",
)
#: The equipment that a tool is; a spoon carries nothing over.
_KIND_OF_TOOL: dict[str, EquipmentKind] = {
    "blender": "blender", "stick_blender": "stick_blender", "frother": "frother", "weak_frother": "frother", "hand_mixer": "hand_mixer",
    "whisk": "whisk", "jar": "jar", "siphon": "siphon",
}  # fmt: skip


def _of_the_tool(tool: str, after_c: float) -> Iterator[str]:
    """What a blender, a jar and blades can do to somebody."""
    if tool in ("blender", "jar") and after_c > _BLOWS_OPEN_C:
        yield "Hot in a closed vessel: steam blows the lid off. Fill it a third, lid ajar under a folded cloth, start slow; or let it cool."
    elif tool in ("blender", "stick_blender", "hand_mixer"):
        yield "Blades: unplug it before anything goes near them. A blender or pot that has seen nuts or sesame carries them on."


class Aerate(StageBase):
    """Beat air in, until it mounds or for a time; a siphon does it with gas."""

    title = "Aerate"
    kind: Literal["aerate"] = "aerate"
    tool: Tool = "frother"
    seconds: float | None = number(None, unit="s", gt=0, le=3600, description="How long, where it is known; else until it mounds")
    holds_ml: float | None = number(None, unit="ml", gt=0, le=20_000, description="A siphon's or jar's fill line")
    overrun: float | None = number(None, unit="%", ge=0, le=1000, description="Air in 100 ml of it, where a cup of the foam was weighed")
    brings_in = breaks_lumps = True

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return _KIND_OF_TOOL.get(self.tool)

    def setting(self, at: AtStage) -> str:
        return f"with {TOOL_NAMES[self.tool]}" + (f", {self.seconds:g} s" if self.seconds else "")

    def instruction(self, at: AtStage) -> str:
        if self.tool == "siphon":
            return "Fill the siphon to its line, close it, charge it and shake"
        low, high = (shown(float(x)) for x in at.step.figures["needs_s"][0][[0, 2]])
        return f"Foam it with {TOOL_NAMES[self.tool]}, {shown(self.seconds) if self.seconds else f'{low} to {high}'} s, until it mounds"

    def warnings(self, after_c: float) -> Iterator[str]:
        yield from super().warnings(after_c)
        if self.tool == "siphon":
            yield from _SIPHON
        else:
            yield from _of_the_tool(self.tool, after_c)

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        refuse_empty(self, held, ctx)
        found = self.foamed(held, state, ctx)
        cold = held.volume_ml()
        if self.holds_ml is not None:
            line = ctx.value(self.path("holds_ml"), self.holds_ml)
            over = np.nan_to_num(cold) > line * (1 + 1e-9)
            i = int(np.argmax(over))
            ctx.fault(
                "over_the_fill_line",
                field=self.path("holds_ml"),
                message=f"There are {shown(round(float(np.nan_to_num(cold)[i])))} ml of it; the fill line is at {shown(round(float(line[i])))} ml.",
                remedy="Fill it twice, or make less. Never past the line: it must have room for the gas.",
                cases=over,
                stage=self.id,
            )
        band = SECONDS[self.tool]
        asked = ctx.given(self.path("seconds"))
        if asked is None and self.seconds is not None:
            asked = ctx.full(self.seconds)
        # Beaten for less time than it takes, it holds less air in proportion; for longer, no more; for much longer, less.
        reached = np.ones((ctx.cases, 3)) if asked is None else np.minimum(asked[:, None] / np.array(band[::-1]), 1.0)
        kept = np.ones(ctx.cases) if asked is None else kept_when_beaten(asked, self.tool)
        overrun = found.overrun * reached * kept[:, None]
        weighed = ctx.given(self.path("overrun"))
        if weighed is None and self.overrun is not None:
            weighed = ctx.full(self.overrun)
        if weighed is not None:
            overrun = np.repeat(weighed[:, None], 3, axis=1)
        air = np.nan_to_num(cold) * overrun[:, 1] / 100.0
        after = state.with_vessels(**{self.vessel: replace(held, air_ml=held.air_ml + air)})
        spent = ctx.seconds(*band, stage=self) if asked is None else np.repeat(asked[:, None], 3, axis=1)
        figures = {"overrun": overrun, "liquid_ml": cold, "seconds": spent, "needs_s": np.tile(np.array(band), (ctx.cases, 1))}
        return Step(finish(self, state, after, duration_s=spent), (), spent, spent, figures)

    def foamed(self, held: Matter, state: State, ctx: Context) -> Foam:
        """What becomes of it, by what is in it and how cold it is."""
        lines = [id for id in ctx.method.lines if id in held.touched and id in state.lines]
        there = [(state.lines[id], each) for id in lines for each in ctx.method.contents_of(id)]
        coffee: Floats = ctx.full(0.0)
        for grams, each in there:
            fraction = each.book.mass_fraction
            if each.book.kind == "coffee" and float(fraction[c.WATER]) < 0.1 and float(fraction @ c.INSOLUBLE) < 0.05:
                coffee = coffee + grams * each.grams_per_g
        plant = any(each.book.kind == "plant" for _, each in there)
        return foam(held.mass_g, held.warmth_c, self.tool, coffee_g=coffee, plant=plant, gum_g=held.tracer[:, STRONG_GUM])


class Mix(StageBase):
    """Whisk, shake, stick-blend or blend until it is smooth: no mass moves, lumps break, air does not count."""

    title = "Mix"
    kind: Literal["mix"] = "mix"
    tool: Literal["spoon", "whisk", "stick_blender", "blender", "jar"] = "whisk"
    breaks_lumps = True
    changes_contents = False

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return _KIND_OF_TOOL.get(self.tool)

    def setting(self, at: AtStage) -> str:
        return f"with {MIX_NAMES[self.tool]}"

    def instruction(self, at: AtStage) -> str:
        return f"Mix it smooth {self.setting(at)}"

    def warnings(self, after_c: float) -> Iterator[str]:
        yield from super().warnings(after_c)
        yield from _of_the_tool(self.tool, after_c)

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        refuse_empty(self, held, ctx)
        spent = ctx.seconds(*_MIX_SECONDS[self.tool], stage=self)
        return Step(finish(self, state, state.with_vessels(**{self.vessel: held}), duration_s=spent), (), spent, spent)


MIX_NAMES = {"spoon": "a spoon", "whisk": "a whisk", "stick_blender": "a stick blender", "blender": "a blender", "jar": "a lidded jar, shaken"}
#: Until smooth (common practice, no source).
_MIX_SECONDS: dict[str, tuple[float, float, float]] = {
    "spoon": (30, 60, 180), "whisk": (30, 60, 180), "stick_blender": (20, 45, 90), "blender": (20, 40, 60), "jar": (20, 40, 60),
}  # fmt: skip
