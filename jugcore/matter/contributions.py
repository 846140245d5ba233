"""What an ingredient brings besides its masses: what is traced with the liquid, and what describes its solids."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.matter.matter import (
    ADDED_SUGAR,
    AMYLASE,
    CELL_OIL,
    CELL_OIL_ALL,
    CELL_OIL_LEAST,
    CELL_OIL_MOST,
    ENZYME_BEST,
    ENZYME_DIES,
    EXTENTS,
    FREE_OIL,
    FREE_PROTEIN,
    FREE_STARCH,
    FREE_SUGAR,
    GEL_FROM,
    GEL_MINUTES,
    GEL_TO,
    GELATINISED,
    MILLED,
    SALT_LIKE_ASH,
    STARCH_IN,
    STRONG_GUM,
    SWEETER,
    TRACERS,
)
from jugcore.matter.minerals import as_table_salt
from jugcore.matter.substance import Substance
from jugcore.matter.sweeter import sweeter_than_its_sugars

_OIL, _PROTEIN, _GUM = c.INDEX["other_fat"], c.INDEX["protein"], c.INDEX["pectin_and_gums"]


def tracers_of(book: Substance, fraction: Floats) -> Floats:
    """Grams (T,) or (K, T) a gram of a substance brings of what is traced, ``fraction`` its composition (C,) or (K, C).

    Free sugar, by the book's share of its sugars, whatever they are, and what of it is added; what a syrup is sweeter than its
    sugars; gum that was bought as a thickener; starch that can swell; enzyme whose sheet is known; oil and protein that sit in
    no cell, and how much of a nut's oil comes out; what its ash does as table salt would.
    """
    if fraction is book.mass_fraction:
        return _as_in_the_book(book)
    return _tracers(book, fraction)


def _as_in_the_book(book: Substance) -> Floats:
    """The same for its own composition: worked out once for each substance, which never changes."""
    known: Floats | None = book.__dict__.get("_tracers")
    if known is None:
        known = book.__dict__["_tracers"] = _tracers(book, book.mass_fraction)
        known.flags.writeable = False
    return known


def _tracers(book: Substance, fraction: Floats) -> Floats:
    brings = book.contributions
    found = np.zeros((*fraction.shape[:-1], len(TRACERS)))
    sugars = float(book.mass_fraction @ c.SUGARS)
    if sugars > 0:
        found[..., FREE_SUGAR] = (fraction @ c.SUGARS) * (book.free_sugar_fraction / sugars)
        found[..., ADDED_SUGAR] = found[..., FREE_SUGAR] if brings.sugars_added else 0.0
    if brings.sweetness is not None:
        dry = float(book.mass_fraction @ c.DISSOLVED)
        for tracer, more in zip(SWEETER, sweeter_than_its_sugars(brings.sweetness, book.mass_fraction), strict=True):
            found[..., tracer] = more * (fraction @ c.DISSOLVED) / dry
    if brings.strong_gum:
        found[..., STRONG_GUM] = fraction[..., _GUM]
    if brings.starch is not None:
        found[..., FREE_STARCH] = found[..., STARCH_IN] = fraction[..., c.STARCH]
    if book.enzyme is not None and book.enzyme.is_known and book.enzyme.dose_g_kg is not None:
        found[..., AMYLASE] = 1000.0 / book.enzyme.dose_g_kg.middle
    found[..., SALT_LIKE_ASH] = as_table_salt(brings.minerals_osmol_per_g) * fraction[..., c.OTHER_ASH]
    oil, cells = fraction[..., _OIL], brings.cell_oil
    likely = 1.0 if cells is None else cells.likely
    found[..., FREE_OIL], found[..., FREE_PROTEIN] = likely * oil, likely * fraction[..., _PROTEIN]
    if cells is not None:
        for tracer, share in ((CELL_OIL_LEAST, cells.low), (CELL_OIL, cells.likely), (CELL_OIL_MOST, cells.high), (CELL_OIL_ALL, 1.0)):
            found[..., tracer] = share * oil
    return found


def extents_of(books: Sequence[Substance], grams: Floats) -> Floats:
    """Extents (K, R) of what substances bring together, (K, L) grams of each: each the mean over what it describes."""
    found = np.zeros((grams.shape[0], len(EXTENTS)))
    solid = np.array([float(book.mass_fraction @ c.INSOLUBLE) for book in books])
    found[:, MILLED] = _mean(grams * solid, np.array([1.0 if book.is_ground else 0.0 for book in books]))
    starches = [book.contributions.starch for book in books]
    if any(starches):
        free = grams * np.array([float(book.mass_fraction[c.STARCH]) if kind else 0.0 for book, kind in zip(books, starches, strict=True)])
        found[:, GELATINISED] = _mean(free, np.array([1.0 if kind and kind.pregelled else 0.0 for kind in starches]))
        found[:, GEL_FROM] = _mean(free, np.array([kind.gels_c.low if kind else 0.0 for kind in starches]))
        found[:, GEL_TO] = _mean(free, np.array([kind.gels_c.high if kind else 0.0 for kind in starches]))
        found[:, GEL_MINUTES] = _mean(free, np.array([kind.minutes if kind else 0.0 for kind in starches]))
    known = [book.enzyme if book.enzyme is not None and book.enzyme.is_known else None for book in books]
    if any(known):
        live = grams * np.array([1000.0 / e.dose_g_kg.middle if e and e.dose_g_kg else 0.0 for e in known])
        found[:, ENZYME_BEST] = _mean(live, np.array([e.works_c.high if e and e.works_c else 0.0 for e in known]))
        found[:, ENZYME_DIES] = _mean(live, np.array([e.dies_c or 0.0 if e else 0.0 for e in known]))
    return found


def _mean(weights: Floats, values: Floats) -> Floats:
    """Mean (K,) of values (L,) by weights (K, L); 0 where there is no weight."""
    total = weights.sum(axis=1)
    return np.asarray(np.where(total > 0, (weights @ values) / np.where(total > 0, total, 1.0), 0.0))
