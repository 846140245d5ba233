"""An amount of matter, K cases at a time: masses, heat, and what travels along."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from jugcore import components as c
from jugcore.figures import Bools, Floats
from jugcore.physics import sucrose, thermal

#: Strengths that run with the liquid and have no mass of their own.
TRACERS: tuple[str, ...] = (
    "free_sugar_g", "strong_gum_g", "free_starch_g", "starch_in_g", "live_amylase_g", "browned_g", "free_oil_g", "free_protein_g",
    "cell_oil_least_g", "cell_oil_g", "cell_oil_most_g", "cell_oil_all_g", "salt_like_ash_g",
    "added_sugar_g", "sweeter_least_g", "sweeter_g", "sweeter_most_g",
    "saturated_least_g", "saturated_g", "saturated_most_g", "fat_known_g", "own_salt_g",
)  # fmt: skip
#: Sugars that are free by the WHO: added, and those of honey, syrups, juice and purée.
FREE_SUGAR = 0
#: Gum that was added as a thickener: a gram of it does what ten of fruit pectin do.
STRONG_GUM = 1
#: Starch that can swell and thicken: of thickeners, flour and cocoa. That in cells of spice, nut and fruit stays there.
FREE_STARCH = 2
#: As much of that as ever went in, thinned since or not: what an enzyme's dose is stated against.
STARCH_IN = 3
#: Enzyme that still works, as the grams of starch its dose is meant for. None of an enzyme whose sheet nobody has.
AMYLASE = 4
#: Sugar that has turned to caramel.
BROWNED = 5

#: Oil and protein that run with the liquid: all of it, but for what sits in the cells of nuts and seeds.
FREE_OIL, FREE_PROTEIN = 6, 7
#: Oil that came out of such cells: the least it may be, the likely, the most; and all that is in them.
CELL_OIL_LEAST, CELL_OIL, CELL_OIL_MOST, CELL_OIL_ALL = 8, 9, 10, 11
#: Other ash, as the table salt it acts like in water: bound minerals of nuts and cocoa do little.
SALT_LIKE_ASH = 12
#: Free sugar that is no juice's: what labels call added.
ADDED_SUGAR = 13
#: Grams of sucrose a syrup is sweeter than the sum of its sugars says, by what is published of it as a whole: least, usual, most.
SWEETER = (14, 15, 16)
#: Of the oil that runs with the liquid, what is saturated: least, likely, most; and of how much of it that is known.
SATURATED, FAT_KNOWN = (17, 18, 19), 20
#: What a label calls salt, 2.5 × sodium, of what is in the ingredients themselves; salt that was put in is a component.
OWN_SALT = 21
#: Components of which a part may sit in cells, and the tracer of the part that does not.
_CELLED = ((c.INDEX["other_fat"], FREE_OIL), (c.INDEX["protein"], FREE_PROTEIN))

#: What describes a part of the matter and mixes in proportion to that part: shares, or °C that belong to it.
EXTENTS: tuple[str, ...] = ("milled", "gelatinised", "gel_from_c", "gel_to_c", "gel_minutes", "enzyme_best_c", "enzyme_dies_c")
MILLED = 0
#: Share of the free starch that has swollen and burst.
GELATINISED = 1
#: Where that starch begins to gelatinise in water, and where it is done. [°C]
GEL_FROM, GEL_TO = 2, 3
#: Minutes in which all but a third of it has, well above that.
GEL_MINUTES = 4
#: Where its enzyme works best, and where it is lost within minutes. [°C]
ENZYME_BEST, ENZYME_DIES = 5, 6


#: Of a liquid at least this share is water; with less it is candy or a dry mix.
_LEAST_WATER = 0.09


@dataclass(frozen=True)
class Matter:
    """What a vessel holds, in each of K cases.

    mass_g (K, C) · enthalpy_j (K,) above 0 °C · extent (K, R) · tracer (K, T) ·
    air_ml (K,) · touched: the lines that ever went in, for allergens and dates;
    straining never removes them.
    """

    mass_g: Floats
    enthalpy_j: Floats
    extent: Floats
    tracer: Floats
    air_ml: Floats
    touched: frozenset[str] = frozenset()

    @classmethod
    def nothing(cls, cases: int) -> Matter:
        return cls(
            np.zeros((cases, c.COUNT)),
            np.zeros(cases),
            np.zeros((cases, len(EXTENTS))),
            np.zeros((cases, len(TRACERS))),
            np.zeros(cases),
        )

    @cached_property
    def total_g(self) -> Floats:
        return np.asarray(self.mass_g.sum(axis=-1))

    @cached_property
    def water_g(self) -> Floats:
        return self.mass_g[:, c.WATER]

    @cached_property
    def dissolved_g(self) -> Floats:
        return self.mass_g @ c.DISSOLVED

    @cached_property
    def insoluble_g(self) -> Floats:
        return self.mass_g @ c.INSOLUBLE

    @cached_property
    def _described_g(self) -> Floats:
        """Grams (K, R) that each extent describes."""
        return described_g(self.mass_g, self.tracer)

    @cached_property
    def held_back_g(self) -> Floats:
        """What a sieve or a press can hold back: insolubles without the fine starch that runs, and what sits in cells."""
        celled = sum(np.maximum(self.mass_g[:, i] - self.tracer[:, free], 0.0) for i, free in _CELLED)
        return np.asarray(np.maximum(self.insoluble_g - self.tracer[:, FREE_STARCH], 0.0) + celled)

    @cached_property
    def temperature_c(self) -> Floats:
        return thermal.temperature_c(self.mass_g, self.enthalpy_j)

    @cached_property
    def warmth_c(self) -> Floats:
        """Temperature, 0 where there is nothing."""
        t = self.temperature_c
        return np.asarray(np.where(np.isnan(t), 0.0, t))

    @cached_property
    def is_liquid(self) -> Bools:
        """Where (K,) there is as much liquid as solids in it and water enough to dissolve in: of a powder or a damp cake no °Brix is read."""
        liquid = self.water_g + self.dissolved_g
        return np.asarray((self.water_g > 0) & (liquid >= self.insoluble_g) & (self.water_g >= _LEAST_WATER * liquid))

    @cached_property
    def brix(self) -> Floats:
        """Dissolved solids in 100 g of the liquid (water and what is dissolved). NaN if dry."""
        solids = self.dissolved_g
        with np.errstate(invalid="ignore", divide="ignore"):
            return np.asarray(np.where(self.water_g > 0, 100 * solids / (solids + self.water_g), np.nan))

    def volume_ml(self, temperature_c: Floats | float | None = None) -> Floats:
        """Volume of the liquid and everything in it, without air. NaN where dry or above 85 °Bx.

        Water, sugars and what dissolves like them by the sucrose-solution density at
        their °Brix; salts, protein and insolubles by their own densities, fat by its own at
        that temperature, added up.
        """
        if temperature_c is None or isinstance(temperature_c, float):
            known: dict[float | None, Floats] = self.__dict__.setdefault("_volumes", {})
            if temperature_c not in known:
                known[temperature_c] = self._volume_ml(self.temperature_c if temperature_c is None else np.full(self.total_g.shape, temperature_c))
            return known[temperature_c]
        return self._volume_ml(temperature_c)

    def _volume_ml(self, t: Floats) -> Floats:
        liquid_g = self.mass_g @ c.SUGAR_LIKE + self.water_g
        with np.errstate(invalid="ignore", divide="ignore"):
            brix = np.where(self.water_g > 0, 100 * (1 - self.water_g / liquid_g), np.nan)
        fits = (brix <= 85) & (t >= 0) & (t <= 110)
        with np.errstate(invalid="ignore", divide="ignore"):
            density = sucrose._density_kg_m3(np.where(fits, brix, 0.0), np.where(fits, t, 20.0))
        volume = liquid_g / density * 1e3 + self.mass_g @ _OTHER_VOLUME_ML_G
        setting, oil = self.mass_g @ _SETTING_FAT, self.mass_g @ _OIL
        if setting.any():
            volume = volume + setting / fat_g_ml(t, setting=True)
        if oil.any():
            volume = volume + oil / fat_g_ml(t)
        return np.asarray(np.where(fits, volume, np.nan))

    def foam_ml(self, temperature_c: Floats | float | None = None) -> Floats:
        """Volume with the air in it; NaN where there is no volume."""
        return np.asarray(self.volume_ml(temperature_c) + self.air_ml)

    def plus(self, other: Matter) -> Matter:
        """Both together: masses and heat add, extents mix by the mass they describe."""
        own, its = self._described_g, other._described_g
        both = own + its
        weight = np.where(both > 0, own / np.where(both > 0, both, 1.0), 0.0)
        return Matter(
            self.mass_g + other.mass_g,
            self.enthalpy_j + other.enthalpy_j,
            weight * self.extent + (1 - weight) * other.extent,
            self.tracer + other.tracer,
            self.air_ml + other.air_ml,
            self.touched | other.touched,
        )

    def share(self, fraction: Floats) -> Matter:
        """A well-mixed share (K,) of everything here."""
        f = fraction[:, None]
        return Matter(self.mass_g * f, self.enthalpy_j * fraction, self.extent, self.tracer * f, self.air_ml * fraction, self.touched)

    def portion(self, *, liquid: Floats, insoluble: Floats) -> Matter:
        """A share (K,) of what runs and another of what does not, at this temperature. Free starch runs, what sits in cells does not."""
        by_component = liquid[:, None] * c.LIQUID + insoluble[:, None] * c.INSOLUBLE
        starch = self.mass_g[:, c.STARCH]
        free = np.where(starch > 0, np.minimum(self.tracer[:, FREE_STARCH] / np.where(starch > 0, starch, 1.0), 1.0), 0.0)
        by_component[:, c.STARCH] += free * (liquid - insoluble)
        for i, free_g in _CELLED:
            there = self.mass_g[:, i]
            celled = np.where(there > 0, np.clip(1.0 - self.tracer[:, free_g] / np.where(there > 0, there, 1.0), 0.0, 1.0), 0.0)
            by_component[:, i] += celled * (insoluble - liquid)
        mass = self.mass_g * by_component
        t = self.warmth_c
        return Matter(
            mass,
            thermal.enthalpy_j(mass, t),
            self.extent,
            self.tracer * liquid[:, None],
            self.air_ml * liquid,
            self.touched,
        )

    def minus(self, taken: Matter) -> Matter:
        """What is left after ``taken``, a part of this, has gone."""
        return Matter(
            np.maximum(self.mass_g - taken.mass_g, 0.0),
            self.enthalpy_j - taken.enthalpy_j,
            self.extent,
            np.maximum(self.tracer - taken.tracer, 0.0),
            np.maximum(self.air_ml - taken.air_ml, 0.0),
            self.touched,
        )

    def without_water(self, grams: Floats, temperature_c: Floats) -> Matter:
        """This matter after ``grams`` of water have left, at a new temperature."""
        mass = self.mass_g.copy()
        mass[:, c.WATER] -= grams
        return Matter(mass, thermal.enthalpy_j(mass, temperature_c), self.extent, self.tracer, self.air_ml, self.touched)

    def at(self, temperature_c: Floats) -> Matter:
        """The same matter brought to another temperature."""
        heat = thermal.enthalpy_j(self.mass_g, temperature_c)
        return Matter(self.mass_g, heat, self.extent, self.tracer, self.air_ml, self.touched)


# Which mass, and which tracer, each extent belongs to.
_EXTENT_MASS = np.zeros((c.COUNT, len(EXTENTS)))
_EXTENT_MASS[:, MILLED] = c.INSOLUBLE
_EXTENT_TRACER = np.zeros((len(TRACERS), len(EXTENTS)))
_EXTENT_TRACER[FREE_STARCH, [GELATINISED, GEL_FROM, GEL_TO, GEL_MINUTES]] = 1.0
_EXTENT_TRACER[AMYLASE, [ENZYME_BEST, ENZYME_DIES]] = 1.0


def described_g(mass_g: Floats, tracer: Floats) -> Floats:
    """Grams (R,) or (K, R) that each extent describes, of masses (C,) or (K, C) and tracers (T,) or (K, T)."""
    return np.asarray(mass_g @ _EXTENT_MASS + tracer @ _EXTENT_TRACER)


# Millilitres per gram of what is neither water, fat nor dissolved like sugar.
_OTHER_VOLUME_ML_G = (1.0 - c.SUGAR_LIKE - c.FAT) / (c.DENSITY / 1000.0)
_OTHER_VOLUME_ML_G[c.WATER] = 0.0
_OIL = np.zeros(c.COUNT)
_OIL[c.INDEX["other_fat"]] = 1.0
_SETTING_FAT = c.FAT - _OIL


def fat_g_ml(temperature_c: Floats, *, setting: bool = False) -> Floats:
    """Density of fat over temperature; milk fat and cocoa butter set in the cold, oils do not. [g/ml]

    Formula: 0.918 − 0.00042 (t − 20); setting fats rise to 0.948 at 5 °C in a straight line and stay there.
    Range: 0 to 110 °C. Source: Choi and Okos 1986 for the slope; 0.948 from creams at 5 °C (dairy texts, from memory).
    Accuracy: cream to 0.4 % at 5 °C and 0.3 % at 20 °C.
    """
    melted = 0.918 - 0.00042 * (temperature_c - 20.0)
    if not setting:
        return np.asarray(melted)
    return np.asarray(np.where(temperature_c < 20, np.interp(temperature_c, [5.0, 20.0], [0.948, 0.918]), melted))


def brix_of(shares: Floats) -> float | None:
    """°Brix of a substance by its mass shares, by the walk's own rule, to a hundredth; None of what is no liquid at 20 °C.

    ``shares`` (C,) are mass fractions that add up to one.
    """
    held = replace(Matter.nothing(1), mass_g=100.0 * shares[None, :])
    return round(float(held.brix[0]), 2) if held.is_liquid[0] and np.isfinite(held.brix[0]) else None
