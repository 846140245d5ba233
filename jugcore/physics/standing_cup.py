"""A cup that stands in a room: what ice it loses, or how far it cools, within minutes."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.physics.ice import FUSION_J_G

#: Heat between an open cup and the room, least, likely, most: estimates, as far off as a lid, a draught or a wet wall make them. [W/(m²·K)]
CUP_W_M2K = (7.0, 12.0, 19.0)


def cup_surface_m2(volume_ml: Floats) -> Floats:
    """Surface (K,) of a drink in a cup 1.3 times as high as wide: wall, floor and top. [m²]

    Parameters: what it is filled with (K,) [ml].
    Formula: 5.65·d², d³ = V/1.02. Range: 30 to 2,000 ml. Source: geometry; the shape is common practice, no source. Accuracy: 15 %.
    """
    width_cm = np.cbrt(np.maximum(volume_ml, 0.0) / 1.021)
    return np.asarray(5.655 * width_cm**2 * 1e-4)


def heat_taken_up_j(volume_ml: Floats, cold_c: Floats, room_c: Floats, minutes: float, w_m2k: float) -> Floats:
    """Heat (K,) that a cup with ice in it takes up from the room while it stays at its temperature [J].

    Formula: U·A·(room − drink)·t. Range: up to 30 min. Source: heat balance. Accuracy: that of U, −40 to +60 %.
    """
    return np.asarray(w_m2k * cup_surface_m2(volume_ml) * (room_c - cold_c) * 60.0 * minutes)


def melts_meanwhile_g(volume_ml: Floats, ice_water_g: Floats, room_c: Floats, minutes: float, w_m2k: float) -> Floats:
    """Grams (K,) of ice at 0 °C that melt while a cup stands, at most what there is.

    Formula: heat taken up ÷ 333.6. Range: up to 30 min. Source: heat balance, as :func:`heat_taken_up_j`. Accuracy: that of U, −40 to +60 %.
    """
    heat = heat_taken_up_j(volume_ml, np.zeros_like(room_c), room_c, minutes, w_m2k)
    return np.asarray(np.clip(heat / FUSION_J_G, 0.0, ice_water_g))


def cooled_to_c(
    volume_ml: Floats, heat_capacity_j_k: Floats, from_c: Floats, room_c: Floats, minutes: float, w_m2k: float
) -> Floats:  # fmt: skip
    """Temperature (K,) after a cup without ice has stood [°C].

    Formula: room + (drink − room)·exp(−U·A·t/C). Range: 0 to 95 °C, up to 30 min. Source: Newton's law of cooling. Accuracy: that of U.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        rate = np.where(heat_capacity_j_k > 0, w_m2k * cup_surface_m2(volume_ml) / heat_capacity_j_k, 0.0)
    return np.asarray(room_c + (from_c - room_c) * np.exp(-rate * 60.0 * minutes))
