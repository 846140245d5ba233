"""Fat, heat capacity and cost: what else of the mixture is counted."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import CELL_OIL, CELL_OIL_ALL, CELL_OIL_LEAST, CELL_OIL_MOST, FREE_OIL, Matter
from jugcore.method.walk import Walk
from jugcore.physics import thermal
from jugcore.physics.energy import KCAL
from jugcore.reading.costs import product_cost
from jugcore.reading.readings.base import BALANCE, Basis, Reading, exact, ratio, reading, share
from jugcore.reading.seasoning import made_g


@reading("glance", 7, where=lambda walk: share(walk, c.FAT) > 1e-3)
def fat(walk: Walk) -> Reading:
    """Fat in 100 g. Behind a sieve, how much of a nut's oil came out of its cells is a range."""
    end = walk.product
    celled = np.any(end.tracer[:, CELL_OIL_ALL] > 0)
    error = "that of the compositions" + ("; what a sieve keeps of a nut's oil is an estimate, and the band is that of it" if celled else "")
    found = exact("fat", "Fat", "%", 1, end.mass_g @ c.FAT, end.total_g, 100.0, Basis("fat ÷ product × 100", BALANCE, "any", error))
    if not celled:
        return found
    fewer, more = _cell_oil_off(end)
    return replace(found, low=found.value - ratio(fewer, end.total_g, 100.0), high=found.value + ratio(more, end.total_g, 100.0))


def _cell_oil_off(end: Matter) -> tuple[Floats, Floats]:
    """Grams (K,) of oil that may be fewer and more in it, by how much was left in cells that are no longer there."""
    least, likely, most, whole = (end.tracer[:, i] for i in (CELL_OIL_LEAST, CELL_OIL, CELL_OIL_MOST, CELL_OIL_ALL))
    still = np.maximum(end.mass_g[:, c.INDEX["other_fat"]] - end.tracer[:, FREE_OIL], 0.0)
    would = whole - likely
    gone = np.clip(1.0 - still / np.where(would > 0, would, 1.0), 0.0, 1.0)
    return np.asarray(gone * (likely - least)), np.asarray(gone * (most - likely))


@reading("matter", 2)
def energy_100g(walk: Walk) -> Reading:
    """Energy in 100 g of product."""
    end = walk.product
    return exact(
        "energy_100g", "Energy in 100 g", "kcal", 0, end.mass_g @ KCAL, end.total_g, 100.0,
        Basis(
            "4 for carbohydrate that is digested and protein, 9 for fat, 7 for alcohol, 2.4 for sorbitol, 3 for acids, 2 for fibre",
            "Regulation (EU) 1169/2011, Annex XIV", "any", "that of the compositions; no label by itself",
        ),
        *((title, float((end.mass_g @ weights)[0]), "g") for title, weights in (("sugars", c.SUGARS), ("fat", c.FAT))),
    )  # fmt: skip


@reading("matter", 5)
def heat_capacity(walk: Walk) -> Reading:
    """Heat a gram takes for a degree, at 20 °C."""
    end = walk.product
    value = ratio(end.mass_g @ (thermal.CP_BASE + 20.0 * thermal.CP_SLOPE), end.total_g, 1.0)
    return Reading(
        "heat_capacity", "Heat capacity at 20 °C", "J/(g·K)", 2, value, value * 0.97, value * 1.03,
        Basis(
            "Σ share of each component × its own", "Kadlec et al. 1981; Choi and Okos 1986", "0 to 110 °C",
            "0.6 % for a clear syrup, 3 % otherwise; fat that melts between 10 and 35 °C takes more", "90 % interval",
        ),
    )  # fmt: skip


def unpriced(walk: Walk, *, any_case: bool = False) -> list[str]:
    """Titles of what goes in and has no price, water aside: in the first case, or in any."""
    method = walk.method
    weighed = {id: float(walk.end.lines[id].max() if any_case else walk.end.lines[id][0]) for id in method.lines}
    found = [each for id in method.lines if weighed[id] > 0 for each in method.contents_of(id) if each.grams_per_g > 0]
    missing = [each for each in found if each.book.price_per_kg is None and each.book.kind != "water"]
    return list(dict.fromkeys(f"{each.book.title} in {each.within}" if each.within else each.book.title for each in missing))


def missing_price(titles: Sequence[str]) -> str:
    """“The price of mace is missing”, of more than one the first and how many more; empty where none is."""
    if not titles:
        return ""
    named = titles[0][:1].lower() + titles[0][1:]
    return f"The price of {named} is missing." if len(titles) == 1 else f"The prices of {named} and {len(titles) - 1} more are missing."


@reading("glance", 9)
def cost_kg(walk: Walk) -> Reading:
    """What a kilogram of product costs in ingredients, in the site's currency."""
    return _cost(walk, "cost_kg", "Ingredient cost per kg", 2, walk.product.total_g / 1e3, "product")


@reading("matter", 3)
def cost_l(walk: Walk) -> Reading:
    """What a litre of product costs in ingredients, at fridge temperature."""
    return _cost(
        walk, "cost_l", "Ingredient cost per litre", 2, walk.product.volume_ml(float(walk.of_kitchen("fridge_c")[0])) / 1e3, "its volume, cold"
    )


@reading("matter", 4)
def cost_dose(walk: Walk) -> Reading:
    """What one stroke of this kitchen's pump costs in ingredients."""
    strokes = walk.product.volume_ml(float(walk.of_kitchen("fridge_c")[0])) / walk.kitchen.pump_ml
    title = f"A pump of {walk.kitchen.pump_ml:g} ml costs"
    return _cost(walk, "cost_dose", title, 3, strokes, "the strokes of a pump in it, cold")


def _cost(walk: Walk, id: str, title: str, digits: int, per: Floats, of: str) -> Reading:
    """Ingredients by the prices of their packs, over some measure of the product; where a price is missing, that stands in its place."""
    method = walk.method
    total, kept_back = product_cost(walk)
    # What no bottle was entered for has cost its share.
    filled, made = walk.product.total_g, made_g(walk)
    total = total * np.where(made > 0, filled / np.where(made > 0, made, 1.0), 1.0)
    priciest: list[tuple[str, float, str]] = []
    for line_id, line in method.lines.items():
        price = method.substances[line.substance].price_per_kg or 0.0
        if price:
            priciest.append((method.titles[line_id], float(walk.end.lines[line_id][0]) * price / 1e3, ""))
    own = [("kept back, a cost of its own", float(kept_back[0]), "")] if kept_back[0] > 0 else []
    missing = unpriced(walk)
    known = np.full(walk.cases, not missing)
    value = np.where(known, ratio(total, per, 1.0), np.nan)
    dry = "" if missing or np.isfinite(value[0]) else "No volume: it is dry or above 85 °Bx."
    return Reading(
        id, title, "", digits, value, value, value,
        Basis(f"Σ grams × price of its pack ÷ {of}", "the pantry's prices", "ingredients only: no labour, heat or bottles", "that of the prices"),
        (*sorted(priciest, key=lambda part: -part[1])[:5], *own),
        num=None if missing else total, den=None if missing else per, why_not=missing_price(missing) or dry,
    )  # fmt: skip
