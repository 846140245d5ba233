"""Each thing in the cup as it is poured: its millilitres in every size, and what lies on what by its weight a litre."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from jugcore.dosing.build import Layer, layer_words
from jugcore.drinks.document import ComponentDoc
from jugcore.drinks.poured import Poured
from jugcore.figures import Floats
from jugcore.matter.matter import Matter
from jugcore.physics import thermal


@dataclass(frozen=True)
class PouredLayer:
    """A component as it lies in the cup: millilitres with its air by size (S,), and what a litre of it weighs [kg/m³]."""

    component: ComponentDoc
    ml: Floats = field(repr=False)
    density: float
    #: The same with the most and the least air in it.
    density_low: float
    density_high: float


def layers_of(poured: Poured) -> list[PouredLayer]:
    """The components from the bottom up as their weights lay them, ice left out; what has no volume lies where it is poured, by its grams."""
    there = [each for each in poured.cup.components if each.role != "ice" and float(poured.grams(each.id).max()) > 0]
    found = [_layer(poured, each) for each in there]
    return sorted(found, key=lambda layer: -layer.density)


def words_of(poured: Poured, layers: list[PouredLayer]) -> list[str]:
    """What may be said of the layers."""
    titles = poured.walk.method.titles
    return layer_words([Layer(titles[each.component.id], each.density_low, each.density, each.density_high) for each in layers])


def _layer(poured: Poured, component: ComponentDoc) -> PouredLayer:
    ids = {f"line:{component.id}", f"line:steam-{component.id}"}
    method, cases = poured.walk.method, poured.walk.cases
    mass = sum(
        (flow.mass_g for flow in poured.walk.flows if flow.source in ids and not flow.target.startswith("away:")),
        np.zeros((cases, poured.liquid.mass_g.shape[1])),
    )
    line = method.lines[component.id]
    warm = np.full(cases, line.temperature_c) if line.temperature_c is not None else poured.walk.of_kitchen(_stored(poured, component))
    nothing = Matter.nothing(cases)
    held = Matter(mass, thermal.enthalpy_j(mass, warm), nothing.extent, nothing.tracer, nothing.air_ml)
    liquid = held.volume_ml()
    air = method.air_of([line], poured.walk.end.lines[component.id][:, None])
    if component.air is not None:
        air = air + np.nan_to_num(liquid) * poured.walk.step(f"froth-{component.id}").figures["overrun"][:, 1] / 100.0
    ml = np.where(np.isfinite(liquid), liquid + air, held.total_g / 1.2)
    rows = poured.by_size(held.total_g), poured.by_size(ml)
    weighs = rows[0][0] > 0
    with np.errstate(invalid="ignore", divide="ignore"):
        each = np.where(weighs, 1000.0 * rows[0] / rows[1], np.nan)[:, weighs]
    return PouredLayer(component, rows[1][0], float(each[0, 0]), float(each.min()), float(each.max()))


def _stored(poured: Poured, component: ComponentDoc) -> Literal["fridge_c", "room_c"]:
    return "fridge_c" if poured.cup.substance_of(component.id).storage == "chilled" else "room_c"
