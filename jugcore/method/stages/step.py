"""What a stage gives back when it is walked."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from jugcore.figures import Floats
from jugcore.method.state import Flow, State


@dataclass(frozen=True)
class Trace:
    """A stage over time: (K, N) seconds since it began, grams in the pot, °C and °Bx."""

    seconds: Floats
    mass_g: Floats
    temperature_c: Floats
    brix: Floats


@dataclass(frozen=True)
class Step:
    """What one stage did: the state after it, what moved, how long it took.

    ``duration_s`` and ``hands_s`` are (K, 3): low, typical, high; waiting is the
    difference. ``figures`` are numbers the cook needs at this stage, (K,) or (K, 3).
    """

    after: State
    flows: tuple[Flow, ...] = ()
    duration_s: Floats = field(default_factory=lambda: np.zeros((1, 3)))
    hands_s: Floats = field(default_factory=lambda: np.zeros((1, 3)))
    figures: dict[str, Floats] = field(default_factory=dict)
    trace: Trace | None = None
