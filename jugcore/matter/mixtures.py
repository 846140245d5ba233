"""The physics of what a vessel holds: mixed sugars, fat and solids together."""

from __future__ import annotations

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import Matter
from jugcore.physics import boiling
from jugcore.physics.water_activity import _ln_ideal


def boiling_point(mass_g: Floats, pressure_pa: Floats) -> Floats:
    """Boiling point of masses (components last); without water, of water alone. [°C]

    Sucrose by Starzak and Peacock, other solutes by Norrish (25 °C), multiplied
    after Ross. Trust: 0.3 K to 80 °Bx for sucrose, 1 K where other sugars lead.
    """
    mass = mass_g
    dry = mass[..., c.WATER] <= 0
    if bool(np.any(dry)):
        mass = np.where(dry[..., None], 0.0, mass)
        mass[..., c.WATER] = np.where(dry, 1.0, mass[..., c.WATER])
    ln_ideal, x = _ln_ideal(mass)
    return boiling._boiling_point(ln_ideal, x, pressure_pa)


def boiling_point_of(matter: Matter, pressure_pa: Floats) -> Floats:
    """Boiling point of what a vessel holds, (K,). [°C]"""
    return boiling_point(matter.mass_g, pressure_pa)
