"""Fill: the product goes into containers; a film stays behind."""

from __future__ import annotations

import math
from typing import Literal, Self

import numpy as np
from pydantic import Field

from jugcore.fields import VesselId, number
from jugcore.figures import shown
from jugcore.method.bottle_fills import Containers, into_containers
from jugcore.method.context import Context
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish, not_more_than, pour_out, refuse_empty, weighed_g
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.step import Step
from jugcore.method.state import Flow, State

#: No document says more of anything. [g]
_MOST_G = 1_000_000.0


def containers_of(step: Step, size_ml: float) -> Containers:
    """What a walked filling comes to, for the first case."""
    full, each, left = (float(step.figures[name][0]) for name in ("containers", "per_container_g", "left_over_g"))
    return into_containers(left + (full * each if math.isfinite(each) else 0.0), each, size_ml)


class Fill(StageBase):
    """Fill bottles, tubs or pump bottles of one size."""

    title = "Fill"
    kind: Literal["fill"] = "fill"
    cautions = ("Hot filling burns and cracks glass: only what is made for that heat, warmed first, held in a dry cloth, and never to the brim.",)
    into: VesselId = Field(description="The containers, taken together as one vessel.")
    gives_g: float | None = number(None, unit="g", ge=0, le=1_000_000, description="What was filled and left over, where it was weighed")
    size_ml: float = number(500.0, unit="ml", gt=0, le=100_000, description="What one container is filled to")

    cautions_if_hot = True
    changes_contents = False

    def writes(self) -> str:
        return self.into

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "pump"

    def setting(self, at: AtStage) -> str:
        return f"into {at.method.vessel_name(self.into)}, {self.size_ml:g} ml each"

    def summary(self, at: AtStage) -> str:
        return containers_of(at.step, self.size_ml).words

    def instruction(self, at: AtStage) -> str:
        return f"Fill {at.method.vessel_name(self.into)}: {containers_of(at.step, self.size_ml).by_weight}"

    def preparation(self, at: AtStage) -> str:
        n = containers_of(at.step, self.size_ml).count
        return f"Have {n} clean {shown(self.size_ml)} ml container{'s' if n != 1 else ''} ready, sanitised as its label says."

    def as_measured(self, entered: Entered) -> Self:
        return self if entered.filled_g is None else self.model_copy(update={"gives_g": min(entered.filled_g, _MOST_G)})

    def apply(self, state: State, ctx: Context) -> Step:
        source = ctx.matter(state, self.vessel)
        refuse_empty(self, source, ctx)
        poured, film = pour_out(source, ctx, self.vessel)
        weighed = weighed_g(self, self.gives_g, ctx)
        if weighed is not None:
            not_more_than(self, ctx, weighed, source.total_g)
            there = source.total_g
            poured = source.share(np.minimum(np.where(there > 0, weighed / np.where(there > 0, there, 1.0), 0.0), 1.0))
            film = source.minus(poured)
        below = ctx.matter(state, self.into)
        after = state.with_vessels(**{self.vessel: film, self.into: below.plus(poured)})
        size = ctx.value(self.path("size_ml"), self.size_ml)
        volume = poured.volume_ml()
        with np.errstate(invalid="ignore", divide="ignore"):
            full = np.where(volume > 0, np.floor(volume / size + 1e-9), 0.0)
            density = np.where(volume > 0, poured.total_g / volume, np.nan)
            cold_ml = size * poured.volume_ml(ctx.value("kitchen.fridge_c", ctx.kitchen.fridge_c)) / volume
        spent = ctx.seconds(60, 120, 300, stage=self)
        figures = {
            "containers": full,
            "per_container_g": density * size,
            "left_over_g": poured.total_g - full * np.nan_to_num(density) * size,
            "film_g": film.total_g,
            "cold_ml": cold_ml,
            "fill_c": poured.warmth_c,
        }
        flow = Flow(self.id, f"vessel:{self.vessel}", f"vessel:{self.into}", poured.mass_g)
        return Step(finish(self, state, after, duration_s=spent), (flow,), spent, spent, figures)
