"""What is left over crystals: sugars beyond their solubility drop, and the liquor over them decides what can grow in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.physics.solubility import glucose_per_water, lactose_per_water, sucrose_per_water

_GLUCOSE, _FRUCTOSE, _LACTOSE = c.INDEX["glucose"], c.INDEX["fructose"], c.INDEX["lactose"]
#: Water that a gram of sugar takes with it into its crystals: both are monohydrates in the cold. [g/g]
GLUCOSE_WATER, LACTOSE_WATER = 18.015 / 180.156, 18.015 / 342.2965
#: Glucose that a gram of fructose or sucrose beside it takes from what the water keeps, at most (from memory, unsure). [g/g]
GLUCOSE_EFFECT = 0.15
#: Of lactose no more than this share stays dissolved beside much sucrose (dairy texts, from memory). [1]
LACTOSE_BESIDE_SUCROSE = 0.5
#: Sucrose in a gram of water that counts as much. [g/g]
_MUCH_SUCROSE = 1.5
_ROUNDS = 12


@dataclass(frozen=True)
class Liquor:
    """Masses left in solution (K, C), and what dropped of each sugar (K,), dry. [g]

    Formula: that of :func:`liquor`. Source and accuracy: there.
    """

    mass_g: Floats
    sucrose_g: Floats
    glucose_g: Floats
    lactose_g: Floats
    water_g: Floats  # that they took along

    @property
    def crystals_g(self) -> Floats:
        """Grams of crystals with the water in them."""
        return np.asarray(self.sucrose_g + self.glucose_g + self.lactose_g + self.water_g)


def liquor(mass_g: Floats, temperature_c: Floats, *, worst: bool) -> Liquor:
    """Solution and crystals at rest at a temperature (0 to 50 °C; colder and warmer as at those), components last.

    ``worst``: as much drops as the brackets allow; else as each sugar does alone in that water.
    Formula: dissolved = least of what there is and solubility × water; glucose and lactose take a tenth and a twentieth of
    their weight of water with them, so it is repeated until it stands. Source: Vavrinecz 1962, Jackson and Silsbee 1922,
    Hudson 1908. Accuracy: that of the solubilities; it may stay clear for weeks, so this is as much as may drop.
    """
    t = np.clip(temperature_c, 0.0, 50.0)
    mass = np.array(mass_g, dtype=np.float64)
    water, sucrose, glucose, lactose = (mass[..., i].copy() for i in (c.WATER, c.SUCROSE, _GLUCOSE, _LACTOSE))
    others = glucose + mass[..., _FRUCTOSE]
    per_water = np.where(water > 0, others / np.where(water > 0, water, 1.0), 0.0)
    least, alone = sucrose_per_water(t, per_water)
    of_sucrose = least if worst else alone
    beside = np.where(water > 0, (sucrose + mass[..., _FRUCTOSE]) / np.where(water > 0, water, 1.0), 0.0)
    of_glucose = np.maximum(np.asarray(glucose_per_water(t)) - (GLUCOSE_EFFECT * beside if worst else 0.0), 0.05)
    crowded = np.minimum(np.where(water > 0, sucrose / np.where(water > 0, water, 1.0), 0.0) / _MUCH_SUCROSE, 1.0)
    of_lactose = np.asarray(lactose_per_water(t)) * (1.0 - (LACTOSE_BESIDE_SUCROSE * crowded if worst else 0.0))
    left = water
    for _ in range(_ROUNDS):
        dropped = tuple(
            np.maximum(there - keeps * left, 0.0) for there, keeps in ((sucrose, of_sucrose), (glucose, of_glucose), (lactose, of_lactose))
        )
        less = np.maximum(water - GLUCOSE_WATER * dropped[1] - LACTOSE_WATER * dropped[2], 0.0)
        if np.array_equal(less, left):
            break
        left = less
    for i, gone in zip((c.SUCROSE, _GLUCOSE, _LACTOSE), dropped, strict=True):
        mass[..., i] -= gone
    mass[..., c.WATER] = left
    return Liquor(mass, dropped[0], dropped[1], dropped[2], water - left)
