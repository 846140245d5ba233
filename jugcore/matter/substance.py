"""Substances: what goes into a pot, with its composition and how it is known."""

from __future__ import annotations

import csv
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from jugcore.errors import BadDocument, Floats
from jugcore.matter import components as c

_FILE = Path(__file__).parent / "data" / "substances.csv"

BASES = ("table", "label", "estimate")
STORAGE = ("ambient", "chilled")
KINDS = (
    "water", "sugar", "syrup", "juice", "fruit", "herb", "dairy", "plant", "cocoa", "coffee",
    "tea", "spice", "extract", "acid", "salt", "thickener", "nut", "other",
)  # fmt: skip
#: Kinds that season rather than make up the bulk: they count towards the spice
#: load and not towards the starting mixture that the load is stated against.
SEASONING_KINDS = frozenset({"spice", "tea", "herb"})
#: Regulation (EU) 1169/2011, Annex II, and the US list of nine (FALCPA, FASTER).
EU_ALLERGENS = (
    "gluten", "crustaceans", "eggs", "fish", "peanuts", "soybeans", "milk",
    "nuts", "celery", "mustard", "sesame", "sulphites", "lupin", "molluscs",
)  # fmt: skip
US_ALLERGENS = ("milk", "eggs", "fish", "crustaceans", "nuts", "peanuts", "gluten", "soybeans", "sesame")

#: How far a composition may miss 100 g before it is refused.
SUM_TOLERANCE_G = 1.0


@dataclass(frozen=True)
class Piece:
    """What one of something weighs: a pod, a tin. ``spread`` is relative, ±."""

    grams: float
    spread: float = 0.2


@dataclass(frozen=True)
class Substance:
    """One ingredient as bought.

    ``mass_fraction`` has one entry per component and sums to one; ``density_g_ml``
    is the density a spoon or a cup meets (bulk for dry goods) and
    ``density_spread`` its relative uncertainty, ±; ``free_sugar_fraction`` is the
    share of the substance that counts as added (free) sugar.
    """

    id: str
    title: str
    kind: str
    basis: str
    mass_fraction: Floats = field(repr=False, compare=False)
    density_g_ml: float = 1.0
    density_spread: float = 0.1
    storage: str = "ambient"
    allergens: tuple[str, ...] = ()
    check_pack_for: tuple[str, ...] = ()
    free_sugar_fraction: float = 0.0
    also_called: tuple[str, ...] = ()
    is_ground: bool = False
    #: The same ground, of something whole; the same whole, of something ground.
    other_form: str = ""
    #: What one weighs, by the word people count it by.
    pieces: dict[str, Piece] = field(default_factory=dict, compare=False)
    #: How loud a gram is against a gram of sweet bark, as a range: an order, never a figure to reckon with. None where nobody said.
    strength: tuple[float, float] | None = None
    source: str = ""
    note: str = ""

    @property
    def is_seasoning(self) -> bool:
        return self.kind in SEASONING_KINDS

    @property
    def is_whole(self) -> bool:
        """Whether it could be ground and is not."""
        return bool(self.other_form) and not self.is_ground

    def composition_g_per_100g(self) -> dict[str, float]:
        """Component → grams in 100 g, components that are absent left out."""
        return {name: round(100 * float(share), 6) for name, share in zip(c.NAMES, self.mass_fraction, strict=True) if share > 0}


def substance_from_composition(
    *,
    id: str,
    composition_g_per_100g: Mapping[str, float],
    title: str | None = None,
    kind: str = "other",
    basis: str = "estimate",
    free_sugars_g_per_100g: float | None = None,
    where: str = "substance",
    **facts: Any,
) -> Substance:
    """Build a substance from grams per 100 g of its components.

    Raises BadDocument for an unknown component, a negative or non-finite amount,
    or components that do not sum to 100 ± 1 g. What is left of that gram is
    spread in proportion so that mass balances stay exact.
    """
    fraction = np.zeros(c.COUNT)
    for name, grams in composition_g_per_100g.items():
        key = c.canonical(name)
        if key is None:
            raise BadDocument(
                field=f"{where}.{name}",
                message=f"“{name}” is not a component.",
                remedy=f"Use one of: {', '.join(c.NAMES)}.",
            )
        if not (np.isfinite(grams) and grams >= 0):
            raise BadDocument(
                field=f"{where}.{name}",
                message=f"{grams} g of {name} in 100 g makes no sense.",
                remedy="Give zero or more grams.",
            )
        fraction[c.INDEX[key]] += grams / 100.0
    total = float(fraction.sum())
    if abs(total - 1) * 100 > SUM_TOLERANCE_G:
        raise BadDocument(
            field=where,
            message=f"The components of {title or id} add up to {100 * total:.1f} g in 100 g.",
            remedy="Make them add up to 100 g, within 1 g.",
        )
    sugars = float(fraction @ c.SUGARS)
    free = sugars if free_sugars_g_per_100g is None else free_sugars_g_per_100g / 100.0
    if kind not in KINDS:
        raise BadDocument(field=f"{where}.kind", message=f"“{kind}” is not a kind of substance.", remedy=f"Use one of: {', '.join(KINDS)}.")
    return Substance(
        id=id,
        title=title or id,
        kind=kind,
        basis=basis,
        mass_fraction=fraction / total,
        free_sugar_fraction=min(free, sugars) / total,
        **facts,
    )


def _split(cell: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in cell.split(";") if part.strip())


def _pieces(cell: str) -> dict[str, Piece]:
    """“tin 397 0.02; jar 500 0.05”: word, grams, relative spread."""
    return {word: Piece(float(grams), float(spread)) for word, grams, spread in (part.split() for part in _split(cell))}


def _strength(cell: str) -> tuple[float, float] | None:
    """“6 15” as a range."""
    if not cell:
        return None
    low, high = (float(part) for part in cell.split())
    return low, high


@cache
def library() -> dict[str, Substance]:
    """The substances that ship with the tool, by id."""
    found: dict[str, Substance] = {}
    with _FILE.open(newline="", encoding="utf-8") as file:
        for row in csv.DictReader(file):
            found[row["id"]] = substance_from_composition(
                id=row["id"],
                title=row["title"],
                kind=row["kind"],
                basis=row["basis"],
                composition_g_per_100g={name: float(row[name]) for name in c.NAMES},
                free_sugars_g_per_100g=float(row["free_sugars"]),
                density_g_ml=float(row["density_g_ml"]),
                density_spread=float(row["density_spread"]),
                storage=row["storage"],
                allergens=_split(row["allergens"]),
                check_pack_for=_split(row["check_pack_for"]),
                also_called=_split(row["also_called"]),
                is_ground=row["form"] == "ground",
                other_form=row["other_form"],
                pieces=_pieces(row["pieces"]),
                strength=_strength(row["strength"]),
                source=row["source"],
                note=row["note"],
                where=f"substances.{row['id']}",
            )
    return found
