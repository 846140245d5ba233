"""Spice load, per kilo started and per kilo finished."""

from __future__ import annotations

import numpy as np

from jugcore.figures import Floats
from jugcore.method.walk import Walk
from jugcore.reading.readings.base import BALANCE, Basis, Reading, exact, reading
from jugcore.reading.seasoning import made_g, seasoning_g


def _started_g(walk: Walk) -> Floats:
    return np.asarray(sum((walk.end.lines[id] for id in walk.method.started if id in walk.end.lines), np.zeros(walk.cases)))


def _is_seasoned(walk: Walk) -> bool:
    return float(seasoning_g(walk)[0]) > 0


@reading("taste", 3, where=_is_seasoned)
def spice_started(walk: Walk) -> Reading:
    """Spice per kilogram of starting mixture."""
    spice, base = seasoning_g(walk), _started_g(walk)
    return exact(
        "spice_started", "Spice per kg started", "g/kg", 1, spice, base, 1e3,
        Basis("spice, tea and herbs weighed in, of a blend what is used ÷ what else is in the pot before it boils × 1,000", BALANCE, "any", "exact"),
        ("spice", float(spice[0]), "g"), ("starting mixture", float(base[0]), "g"),
    )  # fmt: skip


@reading("taste", 4, where=_is_seasoned)
def spice_finished(walk: Walk) -> Reading:
    """Spice per kilogram of product."""
    spice, total = seasoning_g(walk), made_g(walk)
    return exact(
        "spice_finished", "Spice per kg finished", "g/kg", 1, spice, total, 1e3,
        Basis("spice, tea and herbs weighed in, of a blend what is used ÷ product × 1,000", BALANCE, "any", "that of the yield"),
        ("spice", float(spice[0]), "g"), ("product", float(total[0]), "g"),
    )  # fmt: skip
