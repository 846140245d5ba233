"""Boil: water leaves as steam until one of five ends is met.

Every end becomes grams off. How long that takes follows from the heat that gets
into the pot and, below a full boil, from the pot's surface.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Literal, Self

import numpy as np
from pydantic import model_validator

from jugcore import components as c
from jugcore.fields import Id, Part, number
from jugcore.figures import Bools, Floats, shown
from jugcore.matter.matter import Matter
from jugcore.matter.mixtures import boiling_point
from jugcore.method.context import Context
from jugcore.method.reactions import in_the_heat
from jugcore.method.stages.at_stage import AtStage
from jugcore.method.stages.base import StageBase, finish
from jugcore.method.stages.entered import Entered
from jugcore.method.stages.step import Step, Trace
from jugcore.method.stages.warm import climbing, heating_power_w
from jugcore.method.state import Flow, State
from jugcore.physics import thermal, water
from jugcore.physics.water_activity import _ln_ideal, _sucrose_excess

#: A surface that gives off less takes for ever all the same; the division must not overflow. [g/s]
_LEAST_G_S = 1e-9
#: Points along the boil at which temperature, heat and time are worked out, by what share of the water has left.
_POINTS = np.linspace(0.0, 1.0, 9)
#: Newton's steps to where it boils at a temperature, at most; seven or eight are enough, and one below this is none. [1]
_STEPS, _SMALLEST_STEP = 25, 1e-13
#: Above this the boiling model ends. [°Bx]
MAX_BRIX = 90.0
#: What to do about a boil that goes too far, by how it ends.
_SOONER = {
    "brix": "End at a lower °Bx", "mass_g": "End at a larger mass", "temperature_c": "End at a lower temperature",
    "minutes": "End sooner", "off_g": "Boil off less",
}  # fmt: skip
_ENDS = ("brix", "mass_g", "temperature_c", "minutes", "off_g")
#: The unit of each end, as a sentence says it.
END_UNITS = {"brix": "°Bx", "mass_g": "g", "temperature_c": "°C", "minutes": "min", "off_g": "g off"}
_VIGOUR = {"simmer": "simmer", "steady": "steady boil", "full": "full boil"}


class BoilEnd(Part):
    """When the boil ends: exactly one of these."""

    brix: float | None = number(None, unit="°Bx", gt=0, le=MAX_BRIX, description="Dissolved solids of the liquid")
    mass_g: float | None = number(None, unit="g", gt=0, le=1_000_000, description="What the pot holds, tare not counted")
    temperature_c: float | None = number(None, unit="°C", gt=50, le=150, description="What the probe reads at the boil")
    minutes: float | None = number(None, unit="min", gt=0, le=1440, description="From when it boils")
    off_g: float | None = number(None, unit="g", gt=0, le=1_000_000, description="Water boiled off")

    @model_validator(mode="after")
    def _exactly_one(self) -> Self:
        if sum(getattr(self, name) is not None for name in _ENDS) != 1:
            raise ValueError("A boil ends at exactly one thing.\nGive °Bx, mass, temperature, minutes or grams off.")
        return self

    @property
    def kind(self) -> str:
        return next(name for name in _ENDS if getattr(self, name) is not None)

    @property
    def value(self) -> float:
        return float(getattr(self, self.kind))


class Boil(StageBase):
    """Boil until an end is met."""

    title = "Boil"
    kind: Literal["boil"] = "boil"
    cautions = (
        "Hot sugar burns deeply. Long sleeves, a dry spoon, nobody behind you.",
        "Keep the level well under the rim: juice and spice foam at the first boil.",
    )
    until: BoilEnd
    vigour: Literal["simmer", "steady", "full"] = "simmer"
    burner: Id | None = None
    boils = catches = runs_by_itself = True

    @property
    def on_hob(self) -> bool:
        return True

    def named_equipment(self) -> Iterator[tuple[Literal["burner", "sieve"], str]]:
        if self.burner is not None:
            yield "burner", self.burner

    def setting(self, at: AtStage) -> str:
        return f"to {self.until.value:g} {END_UNITS[self.until.kind]}, {_VIGOUR[self.vigour]}"

    def summary(self, at: AtStage) -> str:
        value = self.until.value
        end = {
            "brix": f"to {value:g} °Bx", "mass_g": f"to {value:,.0f} g", "temperature_c": f"to {value:g} °C",
            "minutes": f"{value:g} min", "off_g": f"{value:,.0f} g off",
        }[self.until.kind]  # fmt: skip
        return f"{end} · {_VIGOUR[self.vigour]} {at.minutes}"

    def instruction(self, at: AtStage) -> str:
        if self.until.kind == "minutes":
            return f"Boil for {shown(round(self.until.value, 1))} min, timed from when it boils"
        reads = shown(round(float(at.step.figures["pot_reads_g"][0])))
        weighed = "the pot" if at.kitchen.pot(at.method.pot_id(self.vessel)).tare_g else "what is in it"
        return f"Boil until {weighed} weighs {reads} g"

    def warmth(self, began_c: float, ends_c: float, at: AtStage, band: int) -> list[tuple[float, float]]:
        return climbing(began_c, ends_c, at.step, band)

    def as_measured(self, entered: Entered) -> Self:
        # The weight comes first: it is the surest. While the boil goes on its plan holds, unless the pot is lighter than the
        # plan already; what is boiled for a time, starch to be cooked, does not end because it weighs enough.
        if entered.pot_g is not None and (entered.is_done or (self.until.kind != "minutes" and entered.below_plan)):
            return self.model_copy(update={"until": BoilEnd(mass_g=entered.pot_g)})
        if entered.is_done and entered.brix is not None and 0 < entered.brix <= MAX_BRIX:
            return self.model_copy(update={"until": BoilEnd(brix=entered.brix)})
        return self

    def changed_by(self, suggestion: Self) -> Self:
        return self.model_copy(update={"until": suggestion.until})

    def ends_at_g(self) -> float | None:
        return self.until.mass_g

    def apply(self, state: State, ctx: Context) -> Step:
        pot = ctx.matter(state, self.vessel)
        end, target, where = self._end(ctx)
        wet = pot.water_g > 0
        ctx.fault(
            "nothing_to_boil_off",
            field=where,
            message=f"{ctx.method.vessel_name(self.vessel)} holds no water to boil off.",
            remedy="Add water, juice or milk before this stage.",
            cases=~wet,
            stage=self.id,
        )
        course = _Course(pot, wet, self, ctx)
        off, boiling = self._grams_off(end, target, where, pot, wet, course, ctx)
        seconds, temperatures, masses = course.along(off)
        end_c = np.where(boiling, temperatures[:, -1], pot.warmth_c)
        pot, made = self._cooked(pot, boiling, temperatures, seconds, course)
        off = np.minimum(off, pot.water_g)
        boiled = pot.without_water(off, end_c)
        steam = np.zeros_like(pot.mass_g)
        steam[:, c.WATER] = off
        after = state.with_vessels(**{self.vessel: boiled}).with_away("steam", steam).with_made("heat", made)
        heat_up = np.where(boiling[:, None], course.heat_up_s(temperatures[:, 0], pot), 0.0)
        boil_s = np.where(boiling[:, None], seconds[:, -1], 0.0)
        if end == "minutes":
            boil_s = np.where(boiling[:, None], np.repeat(target[:, None] * 60.0, 3, axis=1), 0.0)
        spent = heat_up + boil_s
        solids = pot.dissolved_g[:, None]
        water_left = masses[..., c.WATER]
        trace = Trace(
            heat_up[:, 1:2] + np.where(boiling[:, None], seconds[:, :, 1], 0.0),
            masses.sum(axis=-1),
            np.where(boiling[:, None], temperatures, end_c[:, None]),
            100 * solids / np.maximum(solids + water_left, 1e-12),
        )
        figures = {
            "off_g": off,
            "stop_g": boiled.total_g,
            "pot_reads_g": boiled.total_g + ctx.kitchen.pot(ctx.method.pot_id(self.vessel)).tare_g,
            "probe_c": end_c,
            "first_boil_c": np.where(boiling, temperatures[:, 0], np.nan),
            "heat_up_s": heat_up,
            "boil_s": boil_s,
        }
        flow = Flow(self.id, f"vessel:{self.vessel}", "away:steam", steam)
        return Step(finish(self, state, after, duration_s=spent), (flow,), spent, 0.5 * spent, figures, trace)

    @staticmethod
    def _cooked(pot: Matter, boiling: Bools, temperatures: Floats, seconds: Floats, course: _Course) -> tuple[Matter, Floats]:
        """What the heat does to starch and enzyme on the way up and at the boil; the water it takes up is a trifle."""
        first = np.where(boiling, temperatures[:, 0], pot.warmth_c)
        up_s = np.where(boiling, course.heat_up_s(temperatures[:, 0], pot)[:, 1], 0.0)
        along = np.where(boiling[:, None], seconds[:, :, 1], 0.0)
        warming = pot.warmth_c[:, None] + (first - pot.warmth_c)[:, None] * _POINTS
        t = np.concatenate([warming, np.where(boiling[:, None], temperatures, first[:, None])], axis=1)
        s = np.concatenate([up_s[:, None] * _POINTS, up_s[:, None] + along], axis=1)
        done = in_the_heat(pot, s, t)
        return done.matter, done.made_g

    def _end(self, ctx: Context) -> tuple[str, Floats, str]:
        """Which end holds and its value: a given one replaces the document's."""
        for name in _ENDS:
            override = ctx.given(self.path(name))
            if override is not None:
                return name, override, self.path(name)
        return self.until.kind, ctx.full(self.until.value), self.path(self.until.kind)

    def _grams_off(self, end: str, target: Floats, where: str, pot: Matter, wet: Bools, course: _Course, ctx: Context) -> tuple[Floats, Bools]:
        """Grams of water to leave, (K,), and where it boils at all; a fault says why not."""
        water_g, total, solids = pot.water_g, pot.total_g, pot.dissolved_g
        refused = ~wet
        if end == "brix":
            off = water_g - solids * (100.0 / target - 1.0)
            refused |= (solids <= 0) | (off < 0)
            self._refuse(
                ctx, where, wet & (off < 0) & (solids > 0), "already_richer",
                "It is already at {now} °Bx; boiling cannot lower that.",
                "End above that, add water, or remove the boil.", now=pot.brix,
            )  # fmt: skip
            self._refuse(
                ctx, where, wet & (solids <= 0), "no_solids",
                "Nothing is dissolved in it, so it never reaches a °Bx.",
                "Add sugar or juice first, or end the boil at a mass.",
            )  # fmt: skip
        elif end == "mass_g":
            off = total - target
            refused |= off < 0
            self._refuse(
                ctx, where, wet & (off < 0), "already_lighter",
                "It holds only {now} g; boiling cannot make it heavier.",
                "End at a smaller mass, or add more before.", now=total,
            )  # fmt: skip
        elif end == "off_g":
            off = target
        elif end == "temperature_c":
            off = course.off_for_temperature(target)
            starts = course.first_boil_c()
            refused |= target < starts
            self._refuse(
                ctx, where, wet & (target < starts), "already_boils_hotter",
                "It already boils at {now} °C here.", "End at a higher temperature, or by °Bx.", now=starts,
            )  # fmt: skip
        else:
            off = course.off_for_seconds(target * 60.0)
        least_water = solids * (100.0 / MAX_BRIX - 1.0)
        too_far = ~refused & (off > np.maximum(water_g - np.maximum(least_water * (1 - 1e-9), 1e-6 * water_g), 0.0))
        self._refuse(
            ctx, where, too_far & (solids > 0), "beyond_model",
            "That would leave it above 90 °Bx, where syrup turns to candy.",
            f"{_SOONER[end]} (at most {{now}} g off), or start with more water.", now=np.maximum(water_g - least_water, 0.0),
        )  # fmt: skip
        self._refuse(
            ctx, where, too_far & (solids <= 0), "boils_dry", "It holds only {now} g of water, and that would boil it dry.",
            f"{_SOONER[end]}, or start with more water.", now=water_g,
        )  # fmt: skip
        boils = ~(refused | too_far)
        return np.asarray(np.where(boils, np.maximum(off, 0.0), 0.0)), boils

    def _refuse(self, ctx: Context, where: str, cases: Bools, code: str, message: str, remedy: str, now: Floats | None = None) -> None:
        if not bool(cases.any()):
            return
        shown_now = "" if now is None else shown(round(float(now[np.argmax(cases)]), 1))
        ctx.fault(
            code, field=where, message=message.format(now=shown_now), remedy=remedy.format(now=shown_now),
            cases=cases, stage=self.id,
        )  # fmt: skip


class _Course:
    """The course of one boil: temperature, heat and time against grams off."""

    def __init__(self, pot: Matter, wet: Bools, stage: Boil, ctx: Context) -> None:
        self._mass = pot.mass_g
        self._water = np.where(wet, pot.water_g, 1.0)
        self._pressure = ctx.pressure_pa()
        self._power = heating_power_w(stage.burner, ctx)
        self._surface_g_s = self._surface_limit(stage, ctx)

    def first_boil_c(self) -> Floats:
        """Where it begins to boil, (K,)."""
        start = self._mass.copy()
        start[:, c.WATER] = self._water
        return boiling_point(start, self._pressure)

    def heat_up_s(self, first_boil_c: Floats, pot: Matter) -> Floats:
        """Seconds from the pot's temperature to its first boil, (K, 3)."""
        heat_j = thermal.enthalpy_j(self._mass, first_boil_c) - pot.enthalpy_j
        return np.maximum(heat_j, 0.0)[:, None] / self._power

    @staticmethod
    def _surface_limit(stage: Boil, ctx: Context) -> Floats | None:
        """Grams of steam a second that the surface gives off, (K, 3) fast to slow; None at full boil."""
        if stage.vigour == "full":
            return None
        name = f"{stage.vigour}_kg_m2h"
        band = ctx.band(f"kitchen.{name}", getattr(ctx.kitchen, name))
        pot = ctx.kitchen.pot(ctx.method.pot_id(stage.vessel))
        area = math.pi * (pot.diameter_cm / 200.0) ** 2
        return np.maximum(band[:, ::-1] * area / 3.6, _LEAST_G_S)

    def along(self, off: Floats) -> tuple[Floats, Floats, Floats]:
        """Seconds since it boils (K, N, 3), temperature (K, N), masses (K, N, C)."""
        gone = off[:, None] * _POINTS
        mass = np.repeat(self._mass[:, None, :], len(_POINTS), axis=1)
        mass[..., c.WATER] = self._water[:, None] - gone
        t = boiling_point(mass, self._pressure[:, None])
        heat = thermal.enthalpy_j(mass, t)
        leaves = np.diff(gone, axis=1)
        middle = 0.5 * (t[:, 1:] + t[:, :-1])
        steam_j = leaves * (water._latent_heat_j_g(middle) + thermal.CP_BASE[c.WATER] * middle)
        needed = np.maximum(np.diff(heat, axis=1) + steam_j, 0.0)
        dt = needed[:, :, None] / self._power[:, None, :]
        if self._surface_g_s is not None:
            dt = np.maximum(dt, leaves[:, :, None] / self._surface_g_s[:, None, :])
        seconds = np.zeros((*gone.shape, 3))
        np.cumsum(dt, axis=1, out=seconds[:, 1:])
        mass[..., c.WATER] = np.maximum(mass[..., c.WATER], 0.0)
        return seconds, t, mass

    def off_for_seconds(self, target_s: Floats) -> Floats:
        """Grams off after a typical boil of that many seconds."""
        most = 0.999 * self._water
        off = np.minimum(0.1 * self._water, most)
        for _ in range(6):
            seconds, _, _ = self.along(off)
            off = np.minimum(off * target_s / np.maximum(seconds[:, -1, 1], 1e-9), most)
        return off

    def off_for_temperature(self, target_c: Floats) -> Floats:
        """Grams off at which it boils at a temperature, by Newton steps in ln(water)."""
        aim = np.log(self._pressure) - water._ln_vapour_pressure_pa(target_c)
        kelvin = target_c + water.ZERO_C_K

        def miss(u: Floats) -> Floats:
            mass = self._mass.copy()
            mass[:, c.WATER] = np.exp(u)
            ln_ideal, x = _ln_ideal(mass)
            return np.asarray(ln_ideal + _sucrose_excess(x) / kelvin - aim)

        highest = np.log(self._water)
        u = highest - 0.3
        arrived = np.zeros(u.shape, dtype=bool)  # each case by itself: the others beside it must not move it
        for _ in range(_STEPS):
            here = miss(u)
            slope = (miss(u + 1e-5) - here) / 1e-5
            further = np.clip(u - np.clip(here / np.maximum(slope, 1e-6), -1.0, 1.0), highest - 9.0, highest)
            further[arrived] = u[arrived]
            arrived |= np.abs(further - u) <= _SMALLEST_STEP * np.maximum(np.abs(u), 1.0)
            u = further
            if arrived.all():
                break
        return self._water - np.exp(u)
