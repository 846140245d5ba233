"""Grams of one component in every size that bring a reading to a value: a search in few walks of many cases, checked by the last of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from jugcore.drinks.cup import Cup
from jugcore.drinks.poured import Poured, pour
from jugcore.drinks.readings import likely_of, read
from jugcore.figures import Bools, Floats
from jugcore.method.walk import walk

#: Grams tried at once in every size, and how often the gap between two of them is searched again: to a ten-thousandth of the range.
_TRIES, _ROUNDS = 24, 3
#: A reading that comes this near counts as reached, relative; it is checked on the walk with the grams found.
REACHED = 2e-4


def without_ranges(cup: Cup) -> Cup:
    """The drink as it is likely: a search needs no ranges."""
    return replace(cup, uncertain=())


def pour_trials(cup: Cup, grams: dict[str, Floats]) -> Poured:
    """Walk a drink with several amounts at once, likely figures only.

    Parameters: the drink; component → grams (N, S), tried one row after the other. Returns: a walk of N × S cases, row by row.
    """
    tries = next(iter(grams.values())).shape[0]
    given = cup.given(cases_of=tries)
    for doubt in cup.uncertain:
        for path, (_, likely, _) in doubt.paths.items():
            given[path] = np.full(tries * len(cup.sizes), likely)
    for component, rows in grams.items():
        given.pop(f"lines.{component}.up_to_ml", None)
        given[f"lines.{component}.grams"] = rows.reshape(-1)
    return Poured(cup, walk(cup.method, cup.kitchen, given))


def grams_for(cup: Cup, component: str, reading: str, values: Floats, most_g: Floats) -> tuple[Floats, Bools]:
    """Grams of a component (S,) that bring a reading to ``values`` (S,), and where (S,) that can be reached.

    Parameters: the drink; a component; the id of a reading; the values; the most grams tried in each size. Where several amounts
    do, the one nearest what is written. Where none does, the amount that comes nearest.
    Accuracy: the reading of the walk with those grams is off by less than 0.02 %, or the size counts as not reached.
    """
    sizes = len(cup.sizes)
    low, high = np.zeros(sizes), np.asarray(most_g, dtype=np.float64)
    now = pour(without_ranges(cup)).grams(component)
    best = low.copy()
    for round_ in range(_ROUNDS):
        rows = low + np.linspace(0.0, 1.0, _TRIES)[:, None] * (high - low)
        off = _off(cup, component, rows, reading, values)
        for size in range(sizes):
            low[size], high[size], best[size] = _narrowed(rows[:, size], off[:, size], now[size] if round_ == 0 else best[size])
    rows = np.stack([low, high])
    off = _off(cup, component, rows, reading, values)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(off[0] * off[1] < 0, off[0] / (off[0] - off[1]), np.nan)
    found = np.where(np.isfinite(share), low + share * (high - low), best)
    miss = _off(cup, component, found[None, :], reading, values)[0]
    reached = np.abs(miss) <= REACHED * np.maximum(np.abs(values), 1e-9)
    return found, np.asarray(reached)


def _off(cup: Cup, component: str, rows: Floats, reading: str, values: Floats) -> Floats:
    """How far (N, S) a reading is above the values, with these grams."""
    poured = pour_trials(cup, {component: rows})
    found = likely_of(poured, reading)
    return np.asarray(found.reshape(-1, len(cup.sizes)) - values)


def _narrowed(grams: Floats, off: Floats, near: float) -> tuple[float, float, float]:
    """The two neighbours between which a reading passes its value, those nearest some grams; where it never does, those about the nearest."""
    known = np.isfinite(off)
    crosses = [i for i in range(len(grams) - 1) if known[i] and known[i + 1] and off[i] * off[i + 1] <= 0]
    if crosses:
        i = min(crosses, key=lambda i: abs(0.5 * (grams[i] + grams[i + 1]) - near))
        return float(grams[i]), float(grams[i + 1]), float(grams[i] if abs(off[i]) < abs(off[i + 1]) else grams[i + 1])
    if not known.any():
        return float(grams[0]), float(grams[-1]), float(near)
    i = int(np.nanargmin(np.abs(np.where(known, off, np.nan))))
    return float(grams[max(i - 1, 0)]), float(grams[min(i + 1, len(grams) - 1)]), float(grams[i])


def read_by_size(cup: Cup, grams: dict[str, Floats], reading: str) -> Floats:
    """A reading (S,) with other grams of some components."""
    poured = pour(without_ranges(cup), {f"lines.{id}.grams": each for id, each in grams.items()})
    return read(poured, reading).likely
