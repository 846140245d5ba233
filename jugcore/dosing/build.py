"""A drink as it is built: what lies on what by its weight a litre, what ice does, and the room left in the cup."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from jugcore.figures import shown
from jugcore.matter.matter import Matter
from jugcore.method.phrases import capital
from jugcore.method.stages import Aerate
from jugcore.method.walk import Walk
from jugcore.physics.ice import melts_g

#: Neighbours closer than this a litre run into one another as they meet; further apart they lie if poured gently (common practice). [kg/m³]
_LIES = 12.0
#: Ice out of a bin is wet and at 0 °C, out of a freezer as cold as this.
_FREEZER_C = -18.0


@dataclass(frozen=True)
class Layer:
    """One thing in the cup with its weight a litre, least, likely and most, as it is poured."""

    title: str
    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class Ice:
    """What ice does: millilitres it takes up floating, grams that melt (dry cold ice to wet ice), and how cold it gets."""

    grams: float
    displaces_ml: float
    melts_low_g: float
    melts_high_g: float
    all_melts: bool
    ends_c: float


@dataclass(frozen=True)
class Build:
    """Layers from the bottom up, what may be said of them, ice, and the fill with its foam."""

    layers: tuple[Layer, ...]
    words: tuple[str, ...]
    ice: Ice | None
    fills_ml: float | None = field(metadata={"unit": "ml"})
    foam_ml: float = 0.0
    room_ml: float | None = None


def density(matter: Matter, at_c: float) -> float:
    """Weight a litre of a matter with its air [kg/m³]; NaN where it has no volume."""
    ml = float(matter.foam_ml(at_c)[0])
    return 1000.0 * float(matter.total_g[0]) / ml if np.isfinite(ml) and ml > 0 else float("nan")


def built(product: Walk, taken: Matter, base: Walk | None, at_c: float, *, ice_g: float = 0.0, cup_ml: float | None = None) -> Build:
    """How a drink builds up.

    Parameters: the product's walk and the dose of it; what else is in the cup, walked; how warm that is poured [°C]; ice [g];
    what the cup holds [ml]. Formula: densities as poured, sorted; floating ice takes up its own weight of drink; melting by
    the heat balance. Source: Archimedes, energy balance. Accuracy: that of the densities, 0.3 %; of a foam its overrun.
    """
    layers = [_product_layer(product, taken)]
    whole = taken
    if base is not None:
        for title, part in _lines(base):
            whole = whole.plus(part)
            heavy = density(part, at_c)
            if np.isfinite(heavy):
                layers.append(Layer(title, heavy, heavy, heavy))
    layers = [layer for layer in layers if np.isfinite(layer.likely)]
    layers.sort(key=lambda layer: -layer.likely)
    ml = float(whole.volume_ml(max(at_c, 0.1))[0])
    foam = float(taken.air_ml[0])
    ice = _ice(whole, at_c, ice_g, ml)
    fills = None if not np.isfinite(ml) else ml + (ice.displaces_ml if ice else 0.0)
    room = None if cup_ml is None or fills is None else cup_ml - fills - foam
    return Build(tuple(layers), tuple(_words(layers, ice, room, foam)), ice, fills, foam, room)


def _lines(base: Walk) -> list[tuple[str, Matter]]:
    """What each line brought to the cup, as the walk weighed it in."""
    nothing = Matter.nothing(1)
    brought = {flow.source.removeprefix("line:"): flow.mass_g[:1] for flow in base.flows if flow.source.startswith("line:")}
    titles = base.method.short_titles
    return [(titles[id], Matter(mass, nothing.enthalpy_j, nothing.extent, nothing.tracer, nothing.air_ml)) for id, mass in brought.items()]


def _product_layer(product: Walk, taken: Matter) -> Layer:
    fridge = float(product.of_kitchen("fridge_c")[0])
    title = product.method.document.name or "the product"
    likely = density(taken, fridge)
    low = high = likely
    for stage, step in zip(reversed(product.stages), reversed(product.steps), strict=True):
        if isinstance(stage, Aerate) and float(taken.air_ml[0]) > 0:
            liquid = 1000.0 * float(taken.total_g[0]) / float(taken.volume_ml(fridge)[0])
            over = step.figures["overrun"][0]
            low, high = liquid / (1 + float(over[2]) / 100), liquid / (1 + float(over[0]) / 100)
            break
    return Layer(title, low, likely, high)


def _ice(whole: Matter, at_c: float, ice_g: float, ml: float) -> Ice | None:
    if ice_g <= 0 or not np.isfinite(ml) or ml <= 0:
        return None
    heavy = float(whole.total_g[0]) / ml
    wet, ends = melts_g(whole.mass_g[0], at_c, ice_g, 0.0)
    cold, _ = melts_g(whole.mass_g[0], at_c, ice_g, _FREEZER_C)
    return Ice(ice_g, ice_g / heavy, min(cold, wet), max(cold, wet), cold >= ice_g - 1e-9, ends)


def layer_words(layers: Sequence[Layer]) -> list[str]:
    """What may be said of layers from the bottom up: their order, and which of them run into one another."""
    found = []
    if len(layers) > 1:
        order = ", then ".join(layer.title for layer in layers)
        found.append(f"From the bottom up: {order}. To keep them apart pour in that order, each over the back of a spoon.")
        for below, above in itertools.pairwise(layers):
            apart = below.likely - above.likely
            if below.low < above.high and (below.low != below.high or above.low != above.high):
                found.append(f"{above.title} floats on {below.title} only if it holds its air.")
            elif apart < _LIES:
                found.append(f"{capital(below.title)} and {above.title} have nearly the same density: they mix as they meet.")
    return found


def _words(layers: list[Layer], ice: Ice | None, room: float | None, foam_ml: float) -> list[str]:
    found = layer_words(layers)
    if ice is not None:
        melts = f"{shown(round(ice.melts_low_g))} to {shown(round(ice.melts_high_g))} g of it" if not ice.all_melts else "all of it"
        found.append(
            f"The ice takes up {shown(round(ice.displaces_ml))} ml, and {melts} melts until it is at {ice.ends_c:.0f} °C: so far it is thinned."
        )
    if room is not None:
        if round(room) < 0:
            found.append(f"It runs over by {shown(round(-room))} ml: less of it, or a larger cup.")
        else:
            of_foam = f", {shown(round(foam_ml))} ml of air in the foam counted" if foam_ml > 0 else ""
            found.append(f"{shown(max(round(room), 0))} ml of the cup stay free{of_foam}.")
    return found
