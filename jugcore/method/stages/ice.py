"""Ice: it goes in frozen, melts until the drink is as cold as it is, and what is left floats."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from jugcore.fields import number
from jugcore.figures import shown
from jugcore.method.context import Context
from jugcore.method.phrases import grams_of, grams_text
from jugcore.method.stages.add import Adding, into
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import finish, refuse_empty
from jugcore.method.stages.step import Step
from jugcore.method.state import Flow, State, ice_in
from jugcore.physics.ice import melted_share, of_ice_j


class Ice(Adding):
    """Put ice into what a vessel holds. It melts until both are at one temperature; the rest floats."""

    title = "Ice"
    kind: Literal["ice"] = "ice"
    ice_c: float = number(-4.0, unit="°C", ge=-40, le=0, description="How cold the ice is: near 0 out of a bin, −18 out of a freezer (estimate)")

    def setting(self, at: AtStage) -> str:
        return f"{shown(round(float(at.step.figures['melted_g'][0])))} g of it melt at once"

    def summary(self, at: AtStage) -> str:
        return f"{super().summary(at)} · {self.setting(at)}"

    def instruction(self, at: AtStage) -> str:
        target = at.method.vessel_name(self.vessel)
        if len(self.lines) == 1:
            return f"Put {grams_of(at.kitchen, at.grams(self.lines[0].id), at.method.short_titles[self.lines[0].id])} into {target}"
        return f"Put {grams_text(at.kitchen, sum(at.grams(line.id) for line in self.lines))} of ice into {target}"

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        refuse_empty(self, held, ctx)
        incoming, lines, flows = self.weighed_in(state, ctx, held)
        frozen = replace(incoming, enthalpy_j=of_ice_j(incoming.mass_g, ctx.value(self.path("ice_c"), self.ice_c)))
        floats = ice_in(self.vessel)
        ice = ctx.matter(state, floats).plus(frozen)
        melts = melted_share(held.enthalpy_j, ice.enthalpy_j, ice.mass_g)
        ran = ice.share(melts)
        left = ice.minus(ran)
        # Both together keep their heat. While there is ice the drink is at 0 °C, exactly, and the ice has all the cold there is.
        heat = held.enthalpy_j + ice.enthalpy_j
        of_drink = np.maximum(np.where(melts < 1.0, 0.0, heat), 0.0)
        drink = replace(held.plus(ran), enthalpy_j=of_drink)
        left = replace(left, enthalpy_j=heat - of_drink)
        after = state.but(vessels={**state.vessels, self.vessel: drink, floats: left}, lines=lines)
        put = [replace(flow, target=f"vessel:{floats}") for flow in flows]
        melted = Flow(self.id, f"vessel:{floats}", f"vessel:{self.vessel}", ran.mass_g)
        spent = self.spent_s(ctx)
        return Step(
            finish(self, state, after, duration_s=spent), (*put, melted), spent, spent, {**into(held), "melted_g": ran.total_g, "ice_g": ice.total_g}
        )
