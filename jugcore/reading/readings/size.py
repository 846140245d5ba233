"""How much there is: grams, litres, grams a millilitre."""

from __future__ import annotations

import numpy as np

from jugcore.method.walk import Walk
from jugcore.reading.readings.base import BALANCE, Basis, Reading, exact, of_a_liquid, ratio, reading


@reading("glance", 3)
def yield_g(walk: Walk) -> Reading:
    """Grams of product."""
    total = walk.product.total_g
    return exact(
        "yield_g", "Yield by weight", "g", 0, total, np.ones_like(total), 1.0,
        Basis("what the product's vessel holds when the last stage ends", BALANCE, "any", "film and cake are estimates to be learned"),
    )  # fmt: skip


@reading("glance", 2)
@of_a_liquid
def yield_l(walk: Walk) -> Reading:
    """Litres of product, cold."""
    end = walk.product
    t = float(walk.of_kitchen("fridge_c")[0])
    volume = end.volume_ml(walk.of_kitchen("fridge_c"))
    return Reading(
        "yield_l", f"Yield at {t:g} °C", "l", 2, volume / 1e3, volume / 1e3 * 0.997, volume / 1e3 * 1.003,
        Basis(
            "liquid mass ÷ sucrose-solution density at its °Brix, fat and solids added by volume",
            "ICUMSA SPS-4, NBS C440", "0 to 85 °Bx; all sugars count as sucrose, salts by their own volume",
            "0.3 %; 0.6 % with milk or cream", "90 % interval",
        ),
        (("mass", float(end.total_g[0]), "g"),),
        why_not="No volume: it is dry or above 85 °Bx." if np.isnan(volume[0]) else "",
    )  # fmt: skip


@reading("matter", 1)
@of_a_liquid
def density(walk: Walk) -> Reading:
    """Density at 20 °C."""
    end = walk.product
    value = ratio(end.total_g, end.volume_ml(20.0), 1.0)
    return Reading(
        "density", "Density at 20 °C", "g/ml", 3, value, value * 0.997, value * 1.003,
        Basis("mass ÷ volume", "ICUMSA SPS-4; fat, protein and solids by their own densities", "0 to 85 °Bx", "0.3 %", "90 % interval"),
        why_not="" if np.isfinite(value[0]) else "No density: it is dry or above 85 °Bx.",
    )  # fmt: skip
