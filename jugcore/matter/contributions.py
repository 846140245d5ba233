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
    FAT_KNOWN,
    FREE_OIL,
    FREE_PROTEIN,
    FREE_STARCH,
    FREE_SUGAR,
    GEL_FROM,
    GEL_MINUTES,
    GEL_TO,
    GELATINISED,
    MILLED,
    OWN_SALT,
    SALT_LIKE_ASH,
    SATURATED,
    STARCH_IN,
    STRONG_GUM,
    SWEETER,
    TRACERS,
    described_g,
)
from jugcore.matter.minerals import as_table_salt
from jugcore.matter.substance import Substance
from jugcore.matter.sweeter import sweeter_than_its_sugars


def _part_of() -> Floats:
    """Which components (C, T) a tracer is a part of."""
    found = np.zeros((c.COUNT, len(TRACERS)))
    for tracers, part in (
        ((FREE_SUGAR, ADDED_SUGAR), c.SUGARS), (SWEETER, c.DISSOLVED), ((STRONG_GUM,), _one(_GUM)), ((FREE_STARCH,), _one(c.STARCH)),
        ((SALT_LIKE_ASH, OWN_SALT), _one(c.OTHER_ASH)), ((FREE_PROTEIN,), _one(_PROTEIN)),
        ((FREE_OIL, *SATURATED, FAT_KNOWN, CELL_OIL_LEAST, CELL_OIL, CELL_OIL_MOST, CELL_OIL_ALL), _one(_OIL)),
    ):  # fmt: skip
        for tracer in tracers:
            found[:, tracer] = part
    return found


def _one(component: int) -> Floats:
    found = np.zeros(c.COUNT)
    found[component] = 1.0
    return found


_OIL, _PROTEIN, _GUM = c.INDEX["other_fat"], c.INDEX["protein"], c.INDEX["pectin_and_gums"]
_PART_OF = _part_of()


def tracers_of(book: Substance, fraction: Floats) -> Floats:
    """Grams (T,) or (K, T) a gram of a substance brings of what is traced, ``fraction`` its composition (C,) or (K, C).

    Free sugar, by the book's share of its sugars, whatever they are, and what of it is added; what a syrup is sweeter than its
    sugars; gum that was bought as a thickener; starch that can swell; enzyme whose sheet is known; oil and protein that sit in
    no cell, and how much of a nut's oil comes out; what its ash does as table salt would; what of its fat is saturated, and what a
    label calls salt of its own.
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
    if book.made is not None:
        return book.made.tracer if fraction is book.mass_fraction else _of_other_strength(book.made.tracer, book.mass_fraction, fraction)
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
    if brings.saturates is not None:
        found[..., FAT_KNOWN] = found[..., FREE_OIL]
        for tracer, share in zip(SATURATED, (brings.saturates.low, brings.saturates.likely, brings.saturates.high), strict=True):
            found[..., tracer] = share * found[..., FREE_OIL]
    if not (book.basis == "label" and book.mass_fraction[c.SALT] > 0):  # a label's salt is all of it
        found[..., OWN_SALT] = brings.salt_of_ash * fraction[..., c.OTHER_ASH]
    if cells is not None:
        for tracer, share in ((CELL_OIL_LEAST, cells.low), (CELL_OIL, cells.likely), (CELL_OIL_MOST, cells.high), (CELL_OIL_ALL, 1.0)):
            found[..., tracer] = share * oil
    return found


def _of_other_strength(tracer: Floats, was: Floats, fraction: Floats) -> Floats:
    """Tracers (K, T) of what was made here where its composition (K, C) is another than its walk gave: each goes with what it is a part of."""
    before, now = was @ _PART_OF, fraction @ _PART_OF
    scale = np.where(before > 0, now / np.where(before > 0, before, 1.0), 1.0)
    return np.asarray(tracer * np.where(_PART_OF.any(axis=0), scale, 1.0))


def extents_of(books: Sequence[Substance], grams: Floats) -> Floats:
    """Extents (K, R) of what substances bring together, (K, L) grams of each: each the mean over what it describes."""
    own = [_own_extents(book) for book in books]
    described, extents = np.array([each[0] for each in own]), np.array([each[1] for each in own])
    total = grams @ described
    return np.asarray(np.where(total > 0, (grams @ (described * extents)) / np.where(total > 0, total, 1.0), 0.0))


def _own_extents(book: Substance) -> tuple[Floats, Floats]:
    """What each extent describes of a gram of a substance (R,), and its extents (R,): worked out once for each, which never changes."""
    known: tuple[Floats, Floats] | None = book.__dict__.get("_extents")
    if known is not None:
        return known
    if book.made is not None:
        extents = book.made.extent
    else:
        extents = np.zeros(len(EXTENTS))
        extents[MILLED] = 1.0 if book.is_ground else 0.0
        if (starch := book.contributions.starch) is not None:
            burst = 1.0 if starch.pregelled else 0.0
            extents[[GELATINISED, GEL_FROM, GEL_TO, GEL_MINUTES]] = burst, starch.gels_c.low, starch.gels_c.high, starch.minutes
        if (enzyme := book.enzyme) is not None and enzyme.is_known and enzyme.works_c is not None:
            extents[[ENZYME_BEST, ENZYME_DIES]] = enzyme.works_c.high, enzyme.dies_c or 0.0
    described = described_g(book.mass_fraction, tracers_of(book, book.mass_fraction))
    book.__dict__["_extents"] = described, extents
    return described, extents


def air_of(books: Sequence[Substance], grams: Floats) -> Floats:
    """Millilitres of air (K,) that substances bring, (K, L) grams of each: what was beaten here keeps what is in it."""
    return np.asarray(grams @ np.array([book.made.air_ml_per_g if book.made is not None else 0.0 for book in books]))
