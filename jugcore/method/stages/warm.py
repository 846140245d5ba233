"""Heat and cool: a temperature changes, nothing leaves."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, Self

import numpy as np

from jugcore.fields import Id, number
from jugcore.figures import Bools, Floats, shown
from jugcore.matter.mixtures import boiling_point_of
from jugcore.method.context import Context
from jugcore.method.kitchen import Kitchen
from jugcore.method.reactions import in_the_heat
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish, refuse_empty
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.hold import LOSS, LOSS_FACTORS, surface_m2
from jugcore.method.stages.step import Step
from jugcore.method.state import State

# W/(m²·K) from a pot to its surroundings, and how far that may be off: estimates.
_LOSS = {"air": LOSS["air"], "cold_water": 150.0, "fridge": LOSS["fridge"]}
_LOSS_FACTORS = LOSS_FACTORS[::-1]  # most first: the quickest cooling loses most
COLD_WATER_C = 15.0
_PLACE_NAMES = {"air": "in air", "cold_water": "in cold water", "fridge": "in the fridge"}
#: What a microwave of 700 to 1,000 W gets into a jug, pauses to stir included: fast, typical, slow (common practice, no source). [W]
_MICROWAVE_W = (850.0, 650.0, 450.0)
_NEVER_BOILS_C = 80.0
#: Points along a warming or cooling at which what the heat does is worked out, and points of a cooling that is read.
_POINTS = _DRAWN = 13
#: What cools comes no nearer than this to what is around it. [°C]
_ABOVE_C = 0.5
#: No warmed or cooled pot is hotter. [°C]
_HOTTEST_C = 120.0


class Heat(StageBase):
    """Warm a pot to a temperature below its boil, lid on: no water is counted as lost."""

    title = "Heat"
    kind: Literal["heat"] = "heat"
    cautions = ("A hot pot: handle inwards, a dry cloth, nobody behind you.",)
    to_c: float = number(..., unit="°C", gt=0, le=150, description="Temperature to reach")
    burner: Id | None = None
    by: Literal["hob", "microwave"] = "hob"
    catches = runs_by_itself = True
    changes_contents = False

    @property
    def on_hob(self) -> bool:
        return self.by == "hob"

    def named_equipment(self) -> Iterator[tuple[Literal["burner", "sieve"], str]]:
        if self.burner is not None:
            yield "burner", self.burner

    def setting(self, at: AtStage) -> str:
        return f"to {self.to_c:g} °C"

    def instruction(self, at: AtStage) -> str:
        return f"Warm to {shown(self.to_c)} °C, stirring"

    def warnings(self, after_c: float) -> Iterator[str]:
        yield from super().warnings(after_c)
        if self.by == "microwave":
            yield "In a microwave it boils over without warning when it is moved: a wide jug half full, stir it between bursts, dry gloves."

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        return [(0.0, began_c), (float(at.step.duration_s[0, band]), ends_c)]

    def as_measured(self, entered: Entered) -> Self:
        to_c = reached_c(entered)
        return self if to_c is None else self.model_copy(update={"to_c": to_c})

    def apply(self, state: State, ctx: Context) -> Step:
        pot = ctx.matter(state, self.vessel)
        target = ctx.value(self.path("to_c"), self.to_c)
        now = pot.temperature_c
        empty = refuse_empty(self, pot, ctx)
        # Nothing boils below 80 °C up to 5,000 m, so most heating need not ask.
        near = bool((target > _NEVER_BOILS_C).any())
        boils = np.where(pot.water_g > 0, boiling_point_of(pot, ctx.pressure_pa()), np.inf) if near else ctx.full(np.inf)
        too_hot = ~empty & (target > boils)
        ctx.fault(
            "boils_first",
            field=self.path("to_c"),
            message=f"It boils at {_first(boils, too_hot)} °C here and goes no hotter.",
            remedy="Ask for less, or use a boil stage that ends at a temperature.",
            cases=too_hot,
            stage=self.id,
        )
        already = ~empty & ~too_hot & (target < now - 1e-6)
        ctx.fault(
            "already_hotter",
            field=self.path("to_c"),
            message=f"It is already at {_first(now, already)} °C; heating cannot lower that.",
            remedy="Ask for more, remove this stage, or use a cool stage.",
            cases=already,
            stage=self.id,
        )
        good = ~(empty | too_hot | already)
        warmed = pot.at(np.where(good, target, pot.warmth_c))
        needed_j = np.where(good, warmed.enthalpy_j - pot.enthalpy_j, 0.0)
        power = heating_power_w(self.burner, ctx) if self.by == "hob" else np.array(_MICROWAVE_W)
        spent = needed_j[:, None] / power
        climb = np.linspace(0.0, 1.0, _POINTS)
        done = in_the_heat(warmed, spent[:, 1:2] * climb, pot.warmth_c[:, None] + (warmed.warmth_c - pot.warmth_c)[:, None] * climb)
        after = state.with_vessels(**{self.vessel: done.matter}).with_made("heat", done.made_g)
        return Step(finish(self, state, after, duration_s=spent), (), spent, 0.2 * spent, {"heat_j": needed_j})


class Cool(StageBase):
    """Let a pot cool to a temperature, in air, in cold water or in the fridge."""

    title = "Cool"
    kind: Literal["cool"] = "cool"
    to_c: float = number(..., unit="°C", gt=0, le=120, description="Temperature to reach")
    how: Literal["air", "cold_water", "fridge"] = "air"
    runs_by_itself = True
    changes_contents = False

    def setting(self, at: AtStage) -> str:
        return f"to {self.to_c:g} °C {_PLACE_NAMES[self.how]}"

    def summary(self, at: AtStage) -> str:
        return f"to {self.to_c:g} °C · {at.minutes}"

    def instruction(self, at: AtStage) -> str:
        return f"Let it cool to {shown(self.to_c)} °C {_PLACE_NAMES[self.how]}"

    def preparation(self, at: AtStage) -> str:
        return "Run a basin of cold water." if self.how == "cold_water" else ""

    def around_c(self, kitchen: Kitchen) -> float:
        """How warm what surrounds it is [°C]."""
        return {"air": kitchen.room_c, "cold_water": COLD_WATER_C, "fridge": kitchen.fridge_c}[self.how]

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        if not began_c > ends_c:
            return super().warmth(began_c, ends_c, at, band)
        low, spent = min(self.around_c(at.kitchen), ends_c - 0.01), float(at.step.duration_s[0, band])
        fall = np.linspace(0.0, 1.0, _DRAWN)
        return [(spent * float(share), low + (began_c - low) * ((ends_c - low) / (began_c - low)) ** float(share)) for share in fall]

    def as_measured(self, entered: Entered) -> Self:
        to_c = reached_c(entered)
        if to_c is None:
            return self
        if to_c >= self.around_c(entered.kitchen) + _ABOVE_C:
            return self.model_copy(update={"to_c": to_c})
        # Nothing gets colder than what is around it: it must have been in the fridge.
        return self.model_copy(update={"how": "fridge", "to_c": max(to_c, entered.kitchen.fridge_c + _ABOVE_C)})

    def apply(self, state: State, ctx: Context) -> Step:
        pot = ctx.matter(state, self.vessel)
        target = ctx.value(self.path("to_c"), self.to_c)
        now = pot.temperature_c
        around = {
            "air": ctx.value("kitchen.room_c", ctx.kitchen.room_c),
            "cold_water": ctx.full(COLD_WATER_C),
            "fridge": ctx.value("kitchen.fridge_c", ctx.kitchen.fridge_c),
        }[self.how]
        empty = refuse_empty(self, pot, ctx)
        out_of_reach = ~empty & (target < around + _ABOVE_C)
        ctx.fault(
            "cannot_cool_there",
            field=self.path("to_c"),
            message=f"Its surroundings are at {_first(around, out_of_reach)} °C; it will not get colder there.",
            remedy="Ask for at least half a degree more, or cool it in something colder.",
            cases=out_of_reach,
            stage=self.id,
        )
        colder = ~empty & ~out_of_reach & (target > now + 1e-6)
        ctx.fault(
            "already_colder",
            field=self.path("to_c"),
            message=f"It is already at {_first(now, colder)} °C.",
            remedy="Ask for less, or remove this stage.",
            cases=colder,
            stage=self.id,
        )
        good = ~(empty | out_of_reach | colder)
        now = pot.warmth_c
        cooled = pot.at(np.where(good, target, now))
        # One lump losing heat by area and temperature difference; indicative.
        area = surface_m2(pot, ctx.kitchen.pot(ctx.method.pot_id(self.vessel)).diameter_cm)
        gap_now = np.where(good, now - around, 1.0)
        gap_then = np.where(good, target - around, 1.0)
        given_up = np.where(good, pot.enthalpy_j - cooled.enthalpy_j, 0.0)
        closing = np.where(gap_now - gap_then > 1e-9, np.log(gap_now / gap_then), 1.0)
        mean_gap = np.where(gap_now - gap_then > 1e-9, (gap_now - gap_then) / closing, gap_now)
        spent = (given_up / (_LOSS[self.how] * area * mean_gap))[:, None] / np.array(_LOSS_FACTORS)
        fall = np.linspace(0.0, 1.0, _POINTS)
        course = around[:, None] + (now - around)[:, None] * (gap_then / np.maximum(gap_now, 1e-9))[:, None] ** fall
        done = in_the_heat(cooled, spent[:, 1:2] * fall, np.where(good[:, None], course, now[:, None]))
        after = state.with_vessels(**{self.vessel: done.matter}).with_made("heat", done.made_g)
        hands = ctx.seconds(20, 30, 60, stage=self)
        return Step(finish(self, state, after, duration_s=spent), (), spent, np.minimum(hands, spent))


def reached_c(entered: Entered) -> float | None:
    """The temperature a stage was brought to. A probe below nothing or far above a boil is a slip [°C]."""
    probe_c = entered.probe_c
    return probe_c if entered.is_done and probe_c is not None and 0 < probe_c <= _HOTTEST_C else None


def climbing(began_c: float, ends_c: float, step: Step, band: int) -> list[tuple[float, float]]:
    """Seconds and °C of a pot that is brought to its hottest and ends there or below."""
    spent = float(step.duration_s[0, band])
    hottest = max(ends_c, float(step.trace.temperature_c[0].max()) if step.trace is not None else ends_c)
    up = float(step.figures["heat_up_s"][0, band]) if "heat_up_s" in step.figures else 0.5 * spent
    return [(0.0, began_c), (min(up, spent), hottest), (spent, ends_c)]


#: A burner that gives less takes for ever all the same; the division must not overflow.
_LEAST_W = 1e-3


def heating_power_w(burner: str | None, ctx: Context) -> Floats:
    """Watts into the pot, (K, 3) ordered so that dividing by it gives low, typical, high times."""
    fire = ctx.kitchen.burner(burner)
    power = ctx.value(f"burners.{fire.id}.power_w", fire.power_w)
    learned = ctx.given(f"burners.{fire.id}.efficiency")
    efficiency = ctx.full(fire.efficiency) if learned is None else learned
    spread = ctx.kitchen.efficiency_spread if learned is None else 0.0
    factors = np.array([1 + spread, 1.0, 1 - spread])
    return np.asarray(np.maximum((power * efficiency)[:, None] * factors, _LEAST_W))


def _first(values: Floats, where: Bools) -> str:
    return shown(round(float(values[np.argmax(where)]), 1))
