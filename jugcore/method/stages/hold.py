"""Hold, steep and freeze: time passes at a temperature that is kept, or that slips away."""

from __future__ import annotations

from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from jugcore.fields import Part, number
from jugcore.figures import Floats, shown
from jugcore.matter.matter import Matter
from jugcore.method.context import Context
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.phrases import spelt_minutes
from jugcore.method.reactions import in_the_heat
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish, refuse_empty
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.step import Step, Trace
from jugcore.method.state import State

Place = Literal["hob", "wrapped", "flask", "air", "fridge"]
#: Where a hold is kept, in words.
PLACE_NAMES: dict[Place, str] = {
    "hob": "on the hob", "wrapped": "in a wrapped pot", "flask": "in a warmed vacuum flask", "air": "as it stands", "fridge": "in the fridge",
}  # fmt: skip
#: Nothing is held longer. [min]
LONGEST_MIN = 20_160.0
#: So many readings of the probe are kept of one hold.
_MOST_FOUND = 200
#: W/(m²·K) from what is held to its surroundings: estimates, as far off as a lid or a draught makes them.
LOSS: dict[Place, float] = {"wrapped": 3.0, "flask": 0.9, "air": 12.0, "fridge": 9.0}
#: Half the loss to one and a half times as much. Slow, typical, fast.
LOSS_FACTORS = (0.6, 1.0, 1.6)
#: So far a cook brings it back within a minute; further off it must be warmed or cooled first. [°C]
_NEAR_C = 6.0
_POINTS = 25
#: Freezing a tray of cubes or a tub, hands apart (common practice, no source). [s]
_FREEZES_S = (7200.0, 14400.0, 28800.0)


class FoundAt(Part):
    """What the probe showed while it was held."""

    minute: float = Field(ge=-60, le=20_160, description="Minutes since it was begun.")
    temperature_c: float = number(..., unit="°C", ge=-30, le=150, description="What the probe showed")


class Holding(StageBase):
    """Shared by hold and steep: what is in it is kept at a temperature, or cools as it stands."""

    verb: ClassVar[str] = "Keep"
    for_min: float = number(..., unit="min", gt=0, le=20_160, description="How long")
    where: Place = "hob"
    at_c: float | None = number(None, unit="°C", gt=0, le=110, description="On the hob: what the cook keeps it at; else as warm as it is")

    found: tuple[FoundAt, ...] = Field((), max_length=500, description="What the probe showed meanwhile; it was as warm as that, whatever was asked.")
    runs_by_itself = True

    @property
    def on_hob(self) -> bool:
        return self.where == "hob"

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "flask" if self.where == "flask" else None

    def setting(self, at: AtStage) -> str:
        warm = f" at {self.at_c:g} °C" if self.where == "hob" and self.at_c is not None else ""
        return f"{spelt_minutes(self.for_min)} {PLACE_NAMES[self.where]}{warm}"

    def summary(self, at: AtStage) -> str:
        return self.setting(at)

    def instruction(self, at: AtStage) -> str:
        return f"{self.verb} it {self.setting(at)}"

    def as_measured(self, entered: Entered) -> Self:
        """As warm as the probe found it, and as long as it really was once it is over."""
        changed: dict[str, object] = {}
        if entered.probes:
            found = [FoundAt(minute=min(max(minute, -60.0), LONGEST_MIN), temperature_c=c) for minute, c in entered.probes]
            changed["found"] = tuple(found[-_MOST_FOUND:])
        if entered.held_min is not None and 0 < entered.held_min <= LONGEST_MIN:
            changed["for_min"] = entered.held_min
        return self.model_copy(update=changed) if changed else self

    def apply(self, state: State, ctx: Context) -> Step:
        pot = ctx.matter(state, self.vessel)
        empty = refuse_empty(self, pot, ctx)
        seconds, temperature = self.history(pot, ctx)
        after_c = np.where(empty, pot.warmth_c, temperature[:, -1])
        done = in_the_heat(pot, seconds, temperature)
        after = state.with_vessels(**{self.vessel: done.matter.at(after_c)}).with_made("heat", done.made_g)
        spent = np.repeat(seconds[:, -1:], 3, axis=1)
        points = temperature.shape[1]
        trace = Trace(
            seconds, np.repeat(pot.total_g[:, None], points, axis=1), temperature,
            np.repeat(np.where(pot.is_liquid, pot.brix, np.nan)[:, None], points, axis=1),
        )  # fmt: skip
        hands = np.minimum(ctx.seconds(30, 60, 180, stage=self), spent)
        figures = {"starts_c": temperature[:, 0], "ends_c": after_c}
        return Step(finish(self, state, after, duration_s=spent), (), spent, hands, figures, trace)

    def history(self, pot: Matter, ctx: Context, loss_factor: float = 1.0) -> tuple[Floats, Floats]:
        """Seconds and temperatures (K, N) while it is held.

        As the probe found it, straight between its readings; else Newton's cooling of one lump through its vessel's surface, and
        on the hob the cook keeps it.
        """
        long = ctx.value(self.path("for_min"), self.for_min) * 60.0
        seconds = long[:, None] * np.linspace(0.0, 1.0, _POINTS)
        now = pot.warmth_c
        if self.found:
            read = sorted(self.found, key=lambda each: each.minute)
            return seconds, np.interp(seconds / 60.0, [each.minute for each in read], [each.temperature_c for each in read])
        if self.where == "hob":
            keep = now if self.at_c is None and ctx.given(self.path("at_c")) is None else ctx.value(self.path("at_c"), self.at_c or 0.0)
            far = (pot.total_g > 0) & (np.abs(keep - now) > _NEAR_C)
            i = int(np.argmax(far))
            ctx.fault(
                "not_that_warm",
                field=self.path("at_c"),
                message=f"It is at {shown(round(float(now[i]), 1))} °C and is to be held at {shown(round(float(keep[i]), 1))} °C.",
                remedy=f"{'Warm' if float(keep[i]) > float(now[i]) else 'Cool'} it to that first, or hold it where it is.",
                cases=far,
                stage=self.id,
            )
            return seconds, np.repeat(np.where(far, now, keep)[:, None], _POINTS, axis=1)
        around = {
            "wrapped": ctx.value("kitchen.room_c", ctx.kitchen.room_c), "flask": ctx.value("kitchen.room_c", ctx.kitchen.room_c),
            "air": ctx.value("kitchen.room_c", ctx.kitchen.room_c), "fridge": ctx.value("kitchen.fridge_c", ctx.kitchen.fridge_c),
        }[self.where]  # fmt: skip
        loss = LOSS[self.where] * loss_factor * surface_m2(pot, ctx.kitchen.pot(ctx.method.pot_id(self.vessel)).diameter_cm)
        capacity = np.maximum(np.abs(pot.at(now + 0.5).enthalpy_j - pot.at(now - 0.5).enthalpy_j), 1e-9)
        fades = np.exp(-(loss / capacity)[:, None] * seconds)
        return seconds, np.asarray(around[:, None] + (now - around)[:, None] * fades)


class Hold(Holding):
    """Keep what a vessel holds warm or cold for a time: on the hob, wrapped, in a vacuum flask, in air or in the fridge."""

    title = "Hold"
    kind: Literal["hold"] = "hold"


class Steep(Holding):
    """Leave leaf, spice, nut or coffee in while its flavour goes over: a hold with something to draw."""

    title = "Steep"
    kind: Literal["steep"] = "steep"
    verb = "Steep"


class Freeze(StageBase):
    """Freeze what a vessel holds, filled into cubes or tubs before. The walk leaves it at 0 °C and counts no ice."""

    title = "Freeze"
    kind: Literal["freeze"] = "freeze"
    freezes = True
    cautions = ("Cold before it goes in, flat and apart. Freezing pauses the days it keeps; it gives none back.",)

    def instruction(self, at: AtStage) -> str:
        return f"Freeze {at.method.vessel_name(self.vessel)}"

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        return [(0.0, began_c), (float(at.step.duration_s[0, band]), ends_c)]

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        refuse_empty(self, held, ctx)
        warm = (held.total_g > 0) & (held.warmth_c > 25.0)
        ctx.fault(
            "too_warm_to_freeze",
            field=self.path("vessel"),
            message=f"It is at {shown(round(float(np.max(np.where(warm, held.warmth_c, 0.0))), 1))} °C: it would warm what lies beside it.",
            remedy="Cool it in the fridge first.",
            cases=warm,
            stage=self.id,
        )
        after = state.with_vessels(**{self.vessel: held.at(np.where(warm, held.warmth_c, 0.0))})
        spent = ctx.seconds(*_FREEZES_S, stage=self)
        return Step(finish(self, state, after, duration_s=spent), (), spent, np.minimum(ctx.full(60.0)[:, None].repeat(3, axis=1), spent))


def surface_m2(pot: Matter, width_cm: float) -> Floats:
    """Wet surface (K,) of a vessel's contents: lid, floor and wall, by the pot's width."""
    radius_m = width_cm / 200.0
    depth_m = pot.total_g * 1e-6 / 1.2 / (np.pi * radius_m**2)
    return np.asarray(2 * np.pi * radius_m**2 + 2 * np.pi * radius_m * depth_m)
