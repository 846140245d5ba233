"""How long flavour takes out of leaf, spice, nut and coffee: hours and minutes of practice, no extraction figure.

How much comes out is not known well enough to reckon with. What is known is how long people leave it in.
"""

from __future__ import annotations

import csv
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.substance import Range, Substance

_FILE = Path(__file__).parents[1] / "matter" / "data" / "steeping.csv"
_MEDIA = _FILE.with_name("steeping_media.csv")
#: What counts as hot and as cold where the table was made. [°C]
HOT_C, COLD_C = 85.0, 6.0
#: Kinds that a steep draws flavour from.
KINDS = frozenset({"tea", "coffee", "nut", "spice", "herb", "fruit", "cocoa"})


@dataclass(frozen=True)
class Steeping:
    """How long it is left in: [min] hot, [h] cold, and what it turns to beyond. A row of the table: definition, exact."""

    hot_min: Range
    cold_h: Range
    past: str


@cache
def _table() -> dict[tuple[str, str], Steeping]:
    with _FILE.open(newline="", encoding="utf-8") as file:
        return {
            (row["of"], row["form"]): Steeping(
                Range(float(row["hot_min_low"]), float(row["hot_min_high"])), Range(float(row["cold_h_low"]), float(row["cold_h_high"])), row["past"]
            )
            for row in csv.DictReader(file)
        }


#: A liquid is fat, alcohol or a thick syrup from here on; the usual fat of half-and-half, of a liqueur, of equal parts.
_FAT, _ALCOHOL, _SYRUP_BRIX = 0.04, 0.05, 45.0
Medium = Literal["water", "fat", "alcohol", "syrup"]


def medium_of(mass_g: Floats, brix: float) -> Medium:
    """What kind of liquid masses by component (C,) [g] are to steep in.

    Formula: alcohol above 5 % of the mass, else fat above 4 %, else syrup above 45 °Bx, else water. Source: common practice, no source.
    """
    total = float(mass_g.sum()) or 1.0
    if float(mass_g[c.INDEX["ethanol"]]) / total > _ALCOHOL:
        return "alcohol"
    if float(mass_g @ c.FAT) / total > _FAT:
        return "fat"
    return "syrup" if brix > _SYRUP_BRIX else "water"


@cache
def _media() -> dict[tuple[str, str], str]:
    with _MEDIA.open(newline="", encoding="utf-8") as file:
        return {(row["of"], row["medium"]): row["words"] for row in csv.DictReader(file)}


def what_it_draws(kind: str, medium: Medium) -> str:
    """What a liquid takes out of a kind of thing, in words; empty where practice has none [words]. Formula: a look into the table."""
    return _media().get((kind, medium)) or _media().get(("any", medium), "")


def steeping_of(substance: Substance, *, ground: bool) -> Steeping | None:
    """How long a substance is steeped [min, h]; None of what is not. Formula: a look into the table by kind and form."""
    table = _table()
    return table.get((substance.kind, "ground" if ground else "whole")) or table.get((substance.kind, "any")) or table.get((substance.kind, "ground"))


def usual_minutes(steeping: Steeping, temperature_c: Floats) -> tuple[Floats, Floats]:
    """Least and most minutes people leave it in at a temperature (K,).

    Formula: the logarithm of time runs straight from hot (85 °C) to cold (6 °C), level beyond. Range: 0 to 100 °C.
    Source: both ends common practice, no source. Accuracy: the range; taste decides.
    """
    share = np.clip((HOT_C - temperature_c) / (HOT_C - COLD_C), 0.0, 1.0)

    def between(hot: float, cold: float) -> Floats:
        return np.asarray(np.exp((1 - share) * np.log(hot) + share * np.log(60.0 * cold)))

    return between(steeping.hot_min.low, steeping.cold_h.low), between(steeping.hot_min.high, steeping.cold_h.high)


def drawn_against_usual(steeping: Steeping, temperature_c: Floats, seconds: Floats) -> tuple[Floats, Floats]:
    """How much of the least and of the most usual time a course of temperatures (K, N) [°C] over seconds (K, N) comes to, (K,) each.

    Formula: ∫ dt/usual(t). Source and accuracy: those of :func:`usual_minutes`.
    Below 1 against the least it is early; above 1 against the most, past it.
    """
    middle = 0.5 * (temperature_c[:, 1:] + temperature_c[:, :-1])
    minutes = np.diff(seconds, axis=1) / 60.0
    least, most = usual_minutes(steeping, middle)
    return np.asarray((minutes / least).sum(axis=1)), np.asarray((minutes / most).sum(axis=1))
