"""Where matter went: flows between lines, vessels and away; pouring with a film."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from jugcore.figures import Floats
from jugcore.matter.matter import Matter


@dataclass(frozen=True)
class Flow:
    """Mass that moved in one stage. ``mass_g`` is (K, C).

    ``source`` and ``target`` are ``line:<id>``, ``vessel:<id>`` or ``away:<cause>``.
    """

    stage: str
    source: str
    target: str
    mass_g: Floats = field(repr=False)


@dataclass(frozen=True)
class State:
    """Everything between two stages: what each vessel holds and how it came to be.

    vessels {id: Matter} · lines {line: grams resolved (K,)} · away {cause: (K, C)} ·
    made {cause: (K, C) what a reaction made, less what it used up} · ready_at_s {vessel: (K, 3) low, typical, high} · masses {stage:
    grams in the vessel it wrote, when it ended (K,)} · guesses: closed values of forward references.
    """

    vessels: dict[str, Matter] = field(default_factory=dict)
    lines: dict[str, Floats] = field(default_factory=dict)
    away: dict[str, Floats] = field(default_factory=dict)
    made: dict[str, Floats] = field(default_factory=dict)
    ready_at_s: dict[str, Floats] = field(default_factory=dict)
    masses: dict[str, Floats] = field(default_factory=dict)
    guesses: dict[str, Floats] = field(default_factory=dict)

    def but(self, **changed: object) -> State:
        """This state with some fields changed: as ``dataclasses.replace`` makes it, in a third of the time.

        Raises AssertionError for a field it has not.
        """
        assert changed.keys() <= self.__dict__.keys(), changed.keys()
        made = object.__new__(State)
        made.__dict__.update(self.__dict__, **changed)
        return made

    def with_vessels(self, **changed: Matter) -> State:
        return self.but(vessels={**self.vessels, **changed})

    def with_away(self, cause: str, mass_g: Floats) -> State:
        before = self.away.get(cause)
        return self.but(away={**self.away, cause: mass_g if before is None else before + mass_g})

    def with_made(self, cause: str, made_g: Floats) -> State:
        """With what a reaction made and used up; the same where it did nothing."""
        if not bool(made_g.any()):
            return self
        before = self.made.get(cause)
        return self.but(made={**self.made, cause: made_g if before is None else before + made_g})


def ice_in(vessel: str) -> str:
    """Where the ice that floats in a vessel is held."""
    return f"ice:{vessel}"


def filled_ml(state: State, vessel: str) -> Floats:
    """How far up (K,) a vessel is filled: liquid as warm as it is, air in it, and the ice that floats in it [ml]; NaN where it has no volume.

    Floating ice takes up the volume of its own weight of liquid (Archimedes), so that the level stays where it is as it melts.
    """
    held = state.vessels.get(vessel)
    if held is None:
        return np.zeros(1)
    ml = held.volume_ml()
    ice = state.vessels.get(ice_in(vessel))
    if ice is None:
        return np.asarray(ml + held.air_ml)
    with np.errstate(invalid="ignore", divide="ignore"):
        floats = np.where(held.total_g > 0, ice.total_g * ml / held.total_g, np.nan)
    return np.asarray(ml + held.air_ml + floats)


def film_left(matter: Matter, film_g: Floats) -> Floats:
    """Share (K,) that stays on the wall when a vessel is poured out.

    Wet matter leaves ``film_g`` grams, or all of it if there is less; dry matter
    (under a tenth water) falls out clean.
    """
    total = matter.total_g
    wet = matter.water_g > 0.1 * total
    share = np.where(total > 0, np.minimum(film_g, total) / np.where(total > 0, total, 1.0), 0.0)
    return np.asarray(np.where(wet, share, 0.0))
