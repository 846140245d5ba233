"""The kitchen a method is walked in: its height, its pots, its burners.

Figures marked *estimate* are where a new kitchen starts; the log corrects them.
"""

from __future__ import annotations

from typing import Literal, Self

from pydantic import Field, model_validator

from jugcore.fields import Id, Part, Title, number
from jugcore.matter.substance import EU_ALLERGENS

#: What is weighed lies in something: its weight against what is in it, and at most. [g]
_BOWL_SHARE, _BOWL_G = 0.4, 400.0


class Pot(Part):
    """A pot as it hangs on the wall."""

    id: Id
    name: Title
    tare_g: float = number(0.0, unit="g", ge=0, le=50_000, description="What the empty pot weighs")
    diameter_cm: float = number(24.0, unit="cm", gt=0, le=200, description="Inside width at the surface")
    capacity_ml: float = number(5000.0, unit="ml", gt=0, le=500_000, description="Filled to the brim")


class Burner(Part):
    """A burner or plate."""

    id: Id
    name: Title
    power_w: float = number(2000.0, unit="W", gt=0, le=100_000, description="Rated power")
    efficiency: float = number(0.4, unit="1", gt=0, le=1, description="Share of the power that reaches the pot (estimate)")


class Scale(Part):
    """A scale: what it can carry and the smallest step it shows."""

    id: Id
    name: Title
    capacity_g: float = number(5000.0, unit="g", gt=0, le=500_000, description="Largest reading, pot included")
    resolution_g: float = number(1.0, unit="g", gt=0, le=1000, description="Smallest step")

    @property
    def carries_g(self) -> float:
        """What may lie in a container on it: a bowl weighs some two fifths of what is weighed in it, at most 400 g (common practice, no source)."""
        return max(self.capacity_g / (1 + _BOWL_SHARE), self.capacity_g - _BOWL_G)


class Sieve(Part):
    """A sieve or cloth."""

    id: Id
    name: Title
    mesh_um: float = number(90.0, unit="µm", gt=0, le=10_000, description="Opening")


#: What carries allergens from one product to the next.
EquipmentKind = Literal["blender", "stick_blender", "frother", "hand_mixer", "whisk", "jar", "siphon", "mill", "press", "sieve", "pump", "flask"]
EQUIPMENT_TITLES: dict[EquipmentKind, str] = {
    "blender": "blender", "stick_blender": "stick blender", "frother": "frother", "hand_mixer": "hand mixer", "whisk": "whisk", "jar": "shaking jar",
    "siphon": "siphon", "mill": "grinder", "press": "press", "sieve": "sieve or cloth", "pump": "pump", "flask": "vacuum flask",
}  # fmt: skip


class MetAllergen(Part):
    """An allergen that a piece of equipment met at a batch since it was last washed by the site's allergen clean."""

    allergen: Title
    at: Title = Field("", description="The batch, as people call it.")


class Equipment(Part):
    """A piece of equipment and which allergens it meets, whatever is made in it. One that meets none is kept free of all.

    ``met_at_batches`` is what the log of batches adds to that until the piece was washed.
    """

    id: Id
    name: Title
    kind: EquipmentKind
    allergens_met: tuple[Title, ...] = Field((), max_length=len(EU_ALLERGENS), description=f"Of: {', '.join(EU_ALLERGENS)}.")
    holds_ml: float | None = number(None, unit="ml", gt=0, le=200_000, description="What goes in at most, to its fill line")
    met_at_batches: tuple[MetAllergen, ...] = Field((), max_length=200, description="What it met at batches since its last allergen clean.")

    @property
    def carries(self) -> frozenset[str]:
        """The allergens it may carry over now."""
        return frozenset(self.allergens_met) | {each.allergen for each in self.met_at_batches}

    def where(self, allergen: str) -> str:
        """The batch at which it met an allergen that it does not meet anyway; empty where it does."""
        return "" if allergen in self.allergens_met else next((each.at for each in self.met_at_batches if each.allergen == allergen), "")

    @model_validator(mode="after")
    def _allergens(self) -> Self:
        if not self.name.strip():
            raise ValueError("A piece of equipment has no name.\nType one: it is what a cook is told to take.")
        strange = next((each for each in self.allergens_met if each not in EU_ALLERGENS), None)
        if strange is not None:
            raise ValueError(f"“{strange[:40]}” is not one of the allergens listed here.\nUse: {', '.join(EU_ALLERGENS)}.")
        return self


class Band(Part):
    """A quantity known as a range."""

    low: float = Field(gt=0, le=1000)
    typical: float = Field(gt=0, le=1000)
    high: float = Field(gt=0, le=1000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if not self.low <= self.typical <= self.high:
            raise ValueError("Low, typical and high are not in that order.\nGive the lowest first and the highest last.")
        return self


class Kitchen(Part):
    """Everything about the place that changes a number."""

    altitude_m: float = number(0.0, unit="m", ge=-430, le=5000, description="Height above the sea")
    room_c: float = number(20.0, unit="°C", ge=0, le=50, description="Kitchen and store")
    fridge_c: float = number(4.0, unit="°C", ge=0, le=20, description="Fridge")
    measures: Literal["metric", "us", "imperial", "australian"] = "metric"
    pots: tuple[Pot, ...] = Field(default=(), max_length=100)
    burners: tuple[Burner, ...] = Field(default=(), max_length=100)
    scales: tuple[Scale, ...] = Field(default=(), max_length=100)
    sieves: tuple[Sieve, ...] = Field(default=(), max_length=100)
    film_g: float = number(5.0, unit="g", ge=0, le=1000, description="What stays on a wet pot poured out (estimate)")
    cake_uptake_g_per_g: float = number(1.1, unit="g/g", ge=0, le=20, description="Liquid a gram of strained solids holds (estimate)")
    efficiency_spread: float = number(0.15, unit="1", ge=0, le=0.9, description="How far a burner's efficiency may be off, relative, ± (estimate)")
    holding_c: float = number(5.0, unit="°C", ge=1, le=10, description="Cold holding: at most, by the local rule")
    chilled_days: int = Field(7, ge=1, le=14, description="Days a chilled food that is held by time and temperature may be kept, by the local rule")
    pump_ml: float = number(8.0, unit="ml", gt=0, le=100, description="One stroke of a syrup pump (estimate)")
    equipment: tuple[Equipment, ...] | None = Field(None, max_length=100, description="Equipment that meets allergens, or is kept free of them.")
    simmer_kg_m2h: Band = Band(low=12, typical=14, high=16)
    steady_kg_m2h: Band = Band(low=20, typical=25, high=30)

    def pot(self, id: str | None) -> Pot:
        """The pot asked for, else the first, else a plain 24 cm pot."""
        return next((p for p in self.pots if p.id == id), self.pots[0] if self.pots else PLAIN_POT)

    def burner(self, id: str | None) -> Burner:
        """The burner asked for, else the first, else a plain 2 kW gas burner."""
        return next((b for b in self.burners if b.id == id), self.burners[0] if self.burners else PLAIN_BURNER)


#: Cold holding by the FDA Food Code (41 °F) and by most European rules; beyond the second a kitchen's figure is remarked on. [°C]
USUAL_HOLDING_C = (5.0, 8.0)
#: The longest that is usual, the day of making being day one (FDA Food Code 2022, 3-501.17). [d]
USUAL_CHILLED_DAYS = 7

PLAIN_POT = Pot(id="plain-pot", name="a plain 24 cm pot", tare_g=0.0)
PLAIN_BURNER = Burner(id="plain-burner", name="a plain 2 kW gas burner")
