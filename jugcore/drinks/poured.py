"""A drink poured: its one walk over the sizes, and over what is uncertain in each."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jugcore import components as c
from jugcore.drinks.cup import CUP, Cup
from jugcore.figures import Bools, Floats
from jugcore.matter.matter import Matter
from jugcore.method.context import Fault
from jugcore.method.state import filled_ml, ice_in
from jugcore.method.walk import Walk, walk
from jugcore.money.making import Making, making_of
from jugcore.money.rates import Rates
from jugcore.physics import thermal
from jugcore.physics.standing_cup import CUP_W_M2K, cooled_to_c, melts_meanwhile_g

#: How long a drink is looked at again after it was served. [min]
LATER_MIN = 10.0


@dataclass(frozen=True)
class Ranged:
    """A figure by size, (S,) each: least, likely, most; NaN where it cannot be said."""

    low: Floats
    likely: Floats
    high: Floats


@dataclass(frozen=True)
class Poured:
    """A drink's walk. Its cases are the sizes, first as they are likely, then with each uncertain thing at its least and its most."""

    cup: Cup
    walk: Walk

    @property
    def sizes(self) -> int:
        return len(self.cup.sizes)

    @cached_property
    def liquid(self) -> Matter:
        """What is in the cup as it is served, with the air in it and without the ice that floats."""
        return self.walk.product

    @cached_property
    def ice(self) -> Matter:
        """The ice that still floats as it is served."""
        held = self.walk.end.vessels.get(ice_in(CUP))
        return Matter.nothing(self.walk.cases) if held is None else held

    @cached_property
    def making(self) -> Making:
        """What the making of what is made here costs, by the rates the drink carries."""
        return making_of(self.walk, self.cup.drink.rates or Rates())

    @cached_property
    def fills_ml(self) -> Floats:
        """How far up each case fills its cup, foam and ice counted [ml]."""
        return filled_ml(self.walk.end, CUP)

    @cached_property
    def volume_ml(self) -> Floats:
        """The liquid alone at 20 °C, without air: what figures in 100 ml are of."""
        return self.liquid.volume_ml(20.0)

    @cached_property
    def later(self) -> tuple[Matter, Matter, Matter]:
        """The liquid after ten minutes, with the room's heat at its least, likely and most."""
        low, likely, high = (self._after(LATER_MIN, each) for each in CUP_W_M2K)
        return low, likely, high

    def _after(self, minutes: float, w_m2k: float) -> Matter:
        room = self.walk.of_kitchen("room_c")
        held, ice = self.liquid, self.ice
        ml = np.nan_to_num(self.fills_ml)
        there = ice.total_g
        melts = melts_meanwhile_g(ml, ice.water_g, room, minutes, w_m2k)
        share = np.where(ice.water_g > 0, melts / np.where(ice.water_g > 0, ice.water_g, 1.0), 0.0)
        together = held.plus(ice.share(share))
        capacity = held.mass_g @ (thermal.CP_BASE + thermal.CP_SLOPE * 20.0)
        warm = cooled_to_c(ml, capacity, held.warmth_c, room, minutes, w_m2k)
        return together.at(np.where(there > 0, 0.0, warm))

    def grams(self, component: str) -> Floats:
        """Grams of a component (S,), the likely ones."""
        return self.walk.end.lines[component][: self.sizes]

    def by_size(self, values: Floats) -> Floats:
        """Values of all cases (K,) as (1 + 2·uncertain, S): the first row as it is likely."""
        return np.asarray(values).reshape(-1, self.sizes)

    def ranged(self, reads: Sequence[Read]) -> list[Ranged]:
        """Reads of all cases with their ranges: what each uncertain thing moves one by, and a range of its own, added in quadrature."""
        if not reads:
            return []
        found = [each if isinstance(each, tuple) else (each, each, each) for each in (read(self) for read in reads)]
        own_low, values, own_high = (np.stack([each[end] for each in found]).reshape(len(found), -1, self.sizes) for end in range(3))
        likely = values[:, 0]
        low, high = np.minimum(values[:, 1::2], values[:, 2::2]), np.maximum(values[:, 1::2], values[:, 2::2])
        down = (likely - own_low[:, 0]) ** 2 + (np.maximum(likely[:, None] - low, 0.0) ** 2).sum(axis=1)
        up = (own_high[:, 0] - likely) ** 2 + (np.maximum(high - likely[:, None], 0.0) ** 2).sum(axis=1)
        least, most = likely - np.sqrt(down), likely + np.sqrt(up)
        return [Ranged(least[n], likely[n], most[n]) for n in range(len(found))]

    @cached_property
    def faults(self) -> list[tuple[Fault, Bools]]:
        """What cannot be done, and in which sizes (S,); not where the component it is about is not in that size at all."""
        found = []
        for fault in self.walk.faults:
            where = fault.cases[: self.sizes] & self._present(fault)
            if bool(where.any()):
                found.append((fault, where))
        return found

    def _present(self, fault: Fault) -> Bools:
        component = _component_of(fault, [each.id for each in self.cup.components])
        if component is None:
            return np.ones(self.sizes, bool)
        return np.array([(component, size.id) in self.cup.written for size in self.cup.sizes])


def _component_of(fault: Fault, ids: list[str]) -> str | None:
    """The component that a fault of the walk is about, by the stage or the line it names."""
    named = [fault.stage or "", *fault.field.split(".")]
    for id in ids:
        if any(part == id or (part.partition("-")[2] == id and part.partition("-")[0] in ("into", "froth", "pour")) for part in named):
            return id
    return None


#: A figure of every case of a walk (K,), or least, likely and most.
Read = Callable[[Poured], Floats | tuple[Floats, Floats, Floats]]


def pour(cup: Cup, given: Mapping[str, Floats] | None = None) -> Poured:
    """Walk a drink.

    Parameters: the drink ready to walk; figures that replace what is written of it, (S,) each, by the paths of a walk. One walk of
    sizes × (1 + 2 × what is uncertain) cases.
    """
    doubts = cup.uncertain
    cases_of = 1 + 2 * len(doubts)
    found = cup.given(cases_of=cases_of)
    for path, values in (given or {}).items():
        found[path] = np.tile(np.asarray(values, dtype=np.float64), cases_of)
        if path.endswith(".grams"):
            found.pop(f"{path.removesuffix('.grams')}.up_to_ml", None)
    for row, doubt in enumerate(doubts):
        for path, (low, likely, high) in doubt.paths.items():
            each = np.full((cases_of, len(cup.sizes)), likely)
            each[1 + 2 * row], each[2 + 2 * row] = low, high
            found[path] = each.reshape(-1)
    return Poured(cup, walk(cup.method, cup.kitchen, found))


def sugars_g(matter: Matter) -> Floats:
    """Sugars (K,) [g]."""
    return matter.mass_g @ c.SUGARS
