"""Every reading over all that a label allows: its least, its likeliest, its most.

A label allows a whole body of compositions. The composition nearest its figures gives the likeliest readings; the least and the most
of a reading are looked for by walking the reading's slopes there and going as far in their direction as the label allows, until that
gains nothing: for quotients of sums that is the true end, for bent readings (thickness, water activity) a good one.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.label import Allowed, Label
from jugcore.method.compile import parse_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.readings.base import Reading

#: What a composition alone has: nothing that needs a method, a batch or acids, which labels do not state.
READ = (
    "brix", "sugars_100g", "sweetness", "fat", "sugar_g_l", "sucrose", "water_activity", "cold_margin", "viscosity", "caffeine",
    "density",
)  # fmt: skip
_ROUNDS = 4
#: Step of a slope, as a mass fraction.
_STEP = 1e-5
#: A gain below this share of the range is none.
_GAIN = 1e-6


@dataclass(frozen=True)
class Spread:
    """A reading of something that is not known exactly; each end with the reading's own error."""

    reading: str
    title: str
    unit: str
    digits: int
    low: float
    likely: float
    high: float


def read_allowed(label: Label, kitchen: Kitchen) -> dict[str, Spread]:
    """Readings over all compositions that a label allows, those left out that have no value.

    Raises BadDocument where the label's figures cannot all be right.
    """
    allowed = Allowed(label)
    open_components = allowed.open
    cup = _cup(open_components, kitchen)
    points = [allowed.nearest]
    found = _read(cup, open_components, points)
    best = {(id, sign): points[0] for id in found for sign in (1.0, -1.0)}
    at = {key: float(found[key[0]].value[0]) for key in best}
    seen = [points[0]]
    for _ in range(_ROUNDS):
        slopes = _slopes(cup, open_components, list(best.values()), [id for id, _ in best])
        tried = [allowed.farthest(sign * slope) for (_, sign), slope in zip(best, slopes, strict=True)]
        values = _read(cup, open_components, tried)
        better = False
        for index, (id, sign) in enumerate(best):
            value = float(values[id].value[index])
            room = max(abs(at[id, sign]), 1.0)
            if np.isfinite(value) and sign * (value - at[id, sign]) > _GAIN * room:
                best[id, sign], at[id, sign], better = tried[index], value, True
        seen += tried
        if not better:
            break
    everywhere = _read(cup, open_components, seen)
    spreads = {id: _spread(reading) for id, reading in everywhere.items()}
    return {id: spread for id, spread in spreads.items() if spread.high > 0}


def _cup(components: Sequence[int], kitchen: Kitchen) -> Method:
    """A method that pours single components together; how much of each is given to its walks."""
    lines = [{"id": c.NAMES[i], "substance": f"only_{c.NAMES[i]}", "amount": "1 g"} for i in components]
    free = {c.NAMES[i]: 0.0 if c.NAMES[i] == "lactose" or not c.SUGARS[i] else 100.0 for i in components}
    substances = {
        f"only_{c.NAMES[i]}": {
            "title": c.NAMES[i], "composition_g_per_100g": {c.NAMES[i]: 100.0}, "free_sugars_g_per_100g": free[c.NAMES[i]],
        }
        for i in components
    }  # fmt: skip
    return parse_document({
        "name": "A label", "stages": [{"id": "together", "kind": "add", "vessel": "cup", "lines": lines}], "substances": substances,
        "kitchen": kitchen.model_dump(mode="json"),
    })  # fmt: skip


def _walked(cup: Method, components: Sequence[int], points: Sequence[Floats]) -> Walk:
    return walk(cup, given={f"lines.{c.NAMES[i]}.grams": np.array([max(1000.0 * point[i], 0.0) for point in points]) for i in components})


def _read(cup: Method, components: Sequence[int], points: Sequence[Floats]) -> dict[str, Reading]:
    """The readings that have a value at the first point, (K,) over all of them."""
    walked = _walked(cup, components, points)
    made = {id: READING_OF[id](walked) for id in READ}
    return {id: reading for id, reading in made.items() if np.isfinite(reading.value[0])}


def _slopes(cup: Method, components: Sequence[int], points: Sequence[Floats], ids: Sequence[str]) -> list[Floats]:
    """Of each point's own reading, how it changes with each component, (C,) each; all from one walk."""
    steps: list[Floats] = []
    for point in points:
        steps.append(point)
        for i in components:
            moved = point.copy()
            moved[i] += _STEP
            steps.append(moved)
    walked = _walked(cup, components, steps)
    values = {id: np.nan_to_num(np.asarray(READING_OF[id](walked).value)) for id in dict.fromkeys(ids)}
    each = len(components) + 1
    found = []
    for index, id in enumerate(ids):
        block = values[id][index * each : (index + 1) * each]
        slope = np.zeros(c.COUNT)
        slope[list(components)] = (block[1:] - block[0]) / _STEP
        found.append(slope)
    return found


def _spread(reading: Reading) -> Spread:
    low, high = (float(end) for end in (np.nanmin(reading.low), np.nanmax(reading.high)))
    return Spread(reading.id, reading.title, reading.unit, reading.digits, low, float(reading.value[0]), high)
