"""Caramelise: sugar melts, its water leaves, and it browns until it is hot enough."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Literal, Self

import numpy as np

from jugcore import components as c
from jugcore.fields import Id, number
from jugcore.figures import Floats, shown
from jugcore.method.context import Context
from jugcore.method.phrases import spelt_minutes
from jugcore.method.reactions import to_caramel
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish, refuse_empty
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.step import Step
from jugcore.method.stages.warm import climbing, heating_power_w
from jugcore.method.state import Flow, State
from jugcore.physics import thermal, water

#: Kelvin a minute that sugar climbs over medium heat: fast, typical, slow (common practice, no source).
_CLIMB = (10.0, 6.0, 4.0)
#: Where the water is gone and the climb begins. [°C]
_FROM_C = 130.0
#: Dry sugar takes at least so long to melt, whatever the flame (common practice, no source). [s]
_MELTS_S = (240.0, 360.0, 600.0)
#: Of what is no water at least this share must be sugar.
_LEAST_SUGAR = 0.6
_POINTS = 40
#: Below the first nothing browns, above the second it is burnt. [°C]
_BROWNS_C = (140, 215)


class Caramelise(StageBase):
    """Brown sugar, dry or with water in it (which boils off first), to a temperature, and keep it there if asked."""

    title = "Caramelise"
    kind: Literal["caramelise"] = "caramelise"
    cautions = (
        "Molten sugar sticks and burns to the bone: long sleeves, dry tools, a bowl of cold water at hand, no children, nobody behind you.",
        "It goes from amber to burnt within a minute: stand by it, and take it off 5 °C early.",
    )
    to_c: float = number(..., unit="°C", ge=_BROWNS_C[0], le=_BROWNS_C[1], description="What the probe reads at its darkest")
    for_min: float = number(0.0, unit="min", ge=0, le=60, description="Kept there")
    burner: Id | None = None

    @property
    def on_hob(self) -> bool:
        return True

    def named_equipment(self) -> Iterator[tuple[Literal["burner", "sieve"], str]]:
        if self.burner is not None:
            yield "burner", self.burner

    def setting(self, at: AtStage) -> str:
        return f"to {self.to_c:g} °C" + (f", {spelt_minutes(self.for_min)} there" if self.for_min else "")

    def instruction(self, at: AtStage) -> str:
        return f"Brown the sugar {self.setting(at)}: the eye decides"

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        return climbing(began_c, ends_c, at.step, band)

    def as_measured(self, entered: Entered) -> Self:
        probe_c = entered.probe_c
        if not entered.is_done or probe_c is None or not _BROWNS_C[0] <= probe_c <= _BROWNS_C[1]:
            return self
        return self.model_copy(update={"to_c": probe_c})

    def apply(self, state: State, ctx: Context) -> Step:
        pot = ctx.matter(state, self.vessel)
        empty = refuse_empty(self, pot, ctx)
        sugars, dry = pot.mass_g @ c.SUGARS, pot.total_g - pot.water_g
        poor = ~empty & (sugars < _LEAST_SUGAR * dry)
        i = int(np.argmax(poor))
        ctx.fault(
            "no_sugar_to_brown",
            field=self.path("vessel"),
            message=f"Only {100 * float(sugars[i]) / float(dry[i] or 1):.0f} % of what is in it beside water is sugar: the rest would burn first.",
            remedy="Brown the sugar alone and add the rest after.",
            cases=poor,
            stage=self.id,
        )
        target = ctx.value(self.path("to_c"), self.to_c)
        hotter = ~empty & ~poor & (pot.warmth_c > target)
        ctx.fault(
            "already_hotter",
            field=self.path("to_c"),
            message=f"It is already at {shown(round(float(np.max(np.where(hotter, pot.warmth_c, 0.0)))))} °C.",
            remedy="Ask for more, or remove this stage.",
            cases=hotter,
            stage=self.id,
        )
        good = ~(empty | poor | hotter)
        kept = ctx.value(self.path("for_min"), self.for_min) * 60.0
        wet = good & (pot.water_g > 0)
        first = np.where(good, pot.water_g, 0.0)
        start_c = np.where(good, np.minimum(_FROM_C, target), pot.warmth_c)
        # First the water, with the heat that takes; then the melt or the climb.
        to_start = np.maximum(thermal.enthalpy_j(pot.mass_g, start_c) - pot.enthalpy_j, 0.0) + first * water._latent_heat_j_g(
            np.full(ctx.cases, 110.0)
        )
        power = heating_power_w(self.burner, ctx)
        before = np.where(good[:, None], to_start[:, None] / power, 0.0)
        before = np.where((good & ~wet)[:, None], np.maximum(before, np.array(_MELTS_S)), before)
        climb = np.where(good[:, None], (target - start_c)[:, None] / np.array(_CLIMB) * 60.0, 0.0)
        courses = [self._course(start_c, target, climb[:, j], kept) for j in range(3)]
        dried = pot.without_water(first, start_c)
        done = [to_caramel(dried, *course, good) for course in courses]
        share = np.stack([np.where(sugars > 0, 1 - (d.matter.mass_g @ c.SUGARS) / np.where(sugars > 0, sugars, 1.0), 0.0) for d in done], axis=1)
        typical = done[1]
        lost = np.where(good, typical.matter.water_g, 0.0)
        browned = typical.matter.without_water(lost, np.where(good, target, pot.warmth_c))
        browned = replace(browned, touched=pot.touched)
        steam = np.zeros_like(pot.mass_g)
        steam[:, c.WATER] = first + lost
        after = (
            state.with_vessels(**{self.vessel: browned}).with_made("browning", np.where(good[:, None], typical.made_g, 0.0)).with_away("steam", steam)
        )
        spent = before + climb + kept[:, None] * good[:, None]
        figures = {
            "browned_share": share, "boiled_off_g": first, "browning_off_g": lost, "climb_s": climb, "to_c": np.where(good, target, np.nan),
        }  # fmt: skip
        flow = Flow(self.id, f"vessel:{self.vessel}", "away:steam", steam)
        return Step(finish(self, state, after, duration_s=spent), (flow,), spent, 0.9 * spent, figures)

    @staticmethod
    def _course(start_c: Floats, target: Floats, climb_s: Floats, kept_s: Floats) -> tuple[Floats, Floats]:
        """Seconds and temperatures (K, N): a straight climb, then level."""
        share = np.linspace(0.0, 1.0, _POINTS)
        seconds = np.concatenate([climb_s[:, None] * share, (climb_s + kept_s)[:, None]], axis=1)
        temperature = np.concatenate([start_c[:, None] + (target - start_c)[:, None] * share, target[:, None]], axis=1)
        return seconds, temperature
