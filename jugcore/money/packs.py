"""What to buy for a batch in whole packs: how many, what they come to, what is left over, and whether that keeps."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jugcore.matter.substance import Opened, Substance
from jugcore.method.walk import Walk

#: So many kinds of packs of one ingredient are put together with one another.
_MOST_KINDS = 8
#: Less of a pack than this is none: rounding of grams. [g]
_NOTHING_G = 1e-6


@dataclass(frozen=True)
class PackOf:
    """What an ingredient is bought in: what it is called, grams, price."""

    name: str
    mass_g: float
    price: float


@dataclass(frozen=True)
class Bought:
    """So many of a kind of pack."""

    pack: PackOf
    count: int


@dataclass(frozen=True)
class Purchase:
    """An ingredient for a batch: what is needed, the packs, their price, what is left over, and whether that keeps until it is needed again.

    ``keeps`` is "yes", "no", or "ask" where nothing says. ``packs`` is empty and ``price`` None where no pack is known. ``within`` names
    the formulas of ours it goes into, empty where it goes straight in.
    """

    substance: str
    title: str
    needs_g: float
    packs: tuple[Bought, ...]
    price: float | None
    used: float | None
    left_g: float
    keeps: Literal["yes", "no", "ask", "none left"]
    why: str


@dataclass(frozen=True)
class MadeFirst:
    """Something of ours that goes in and must be there first, and how much of it."""

    formula: str
    version: int
    name: str
    needs_g: float


def needs_of(walk: Walk) -> tuple[dict[str, tuple[Substance, float]], list[MadeFirst]]:
    """What a batch needs of what is bought, (substance, grams) by id, and of what is made here; water is from the tap."""
    bought: dict[str, tuple[Substance, float]] = {}
    made: dict[tuple[str, int], MadeFirst] = {}
    method = walk.method
    for id, line in method.lines.items():
        grams = float(walk.end.lines[id][0])
        if not grams > _NOTHING_G:
            continue
        book = method.substances[line.substance]
        if book.made is not None:
            used = book.made.version
            before = made.get((used.formula, used.version))
            made[used.formula, used.version] = MadeFirst(used.formula, used.version, used.name, grams + (before.needs_g if before else 0.0))
        elif book.kind != "water":
            # A stronger lot of something is bought as that.
            key = book.of or line.substance
            bought[key] = book, grams + (bought[key][1] if key in bought else 0.0)
    return bought, list(made.values())


def purchases(walk: Walk, packs: Mapping[str, Sequence[PackOf]], again_in_days: int) -> tuple[list[Purchase], list[MadeFirst]]:
    """What to buy for a batch, the dearest first, and what must be made first.

    Parameters: a walk, its first case; packs by substance; in how many days the rest would be needed again. Formula: of one kind of pack
    or two, the packs that hold enough and cost the least; of those that cost the same, what leaves least. What is left keeps if the least
    of its days once opened reaches that far (common practice; the pack comes first), and is asked where nothing says.
    """
    needs, made = needs_of(walk)
    found = [_purchase(id, book, grams, packs.get(id, ()), again_in_days) for id, (book, grams) in needs.items()]
    return sorted(found, key=lambda each: (-(each.price or 0.0), each.title)), made


def _purchase(id: str, book: Substance, grams: float, packs: Sequence[PackOf], days: int) -> Purchase:
    chosen = cheapest(grams, packs)
    if not chosen:
        return Purchase(id, book.title, grams, (), None, None, 0.0, "ask", "No pack of it is entered.")
    price = sum(each.count * each.pack.price for each in chosen)
    holds = sum(each.count * each.pack.mass_g for each in chosen)
    left = holds - grams
    if left <= _NOTHING_G:
        return Purchase(id, book.title, grams, chosen, price, price, 0.0, "none left", "")
    keeps, why = _keeps(book.opened, days)
    return Purchase(id, book.title, grams, chosen, price, price * grams / holds, left, keeps, why)


def _keeps(opened: Opened | None, days: int) -> tuple[Literal["yes", "no", "ask"], str]:
    if opened is None:
        return "ask", "Nothing says how long it keeps once opened: read the pack."
    low, high = opened.days.low, opened.days.high
    kept = f"{low:g}" if low == high else f"{low:g} to {high:g}"
    where = ", chilled" if opened.storage == "chilled" else ""
    return ("yes" if low >= days else "no"), f"Keeps {kept} days once opened{where}: common practice, the pack comes first."


def cheapest(needs_g: float, packs: Sequence[PackOf]) -> tuple[Bought, ...]:
    """Packs of one kind or two that hold enough and cost the least, of equals those that hold the least; empty where there are none.

    Parameters: grams; kinds of packs, of which the cheapest by the gram and the smallest are looked at where there are many.
    """
    kinds = sorted({each for each in packs if each.mass_g > 0}, key=lambda each: each.price / each.mass_g)
    if len(kinds) > _MOST_KINDS:
        kinds = [*kinds[: _MOST_KINDS // 2], *sorted(kinds[_MOST_KINDS // 2 :], key=lambda each: each.mass_g)[: _MOST_KINDS // 2]]
    best: tuple[float, float, tuple[Bought, ...]] | None = None
    for first in kinds:
        most = _enough(needs_g, first)
        for second in kinds:
            # Of the first so many; of the second what is left to have: all at once, since there may be very many of a small pack.
            counts = np.unique(np.clip([most, most - 1, *range(min(most, 64))], 0, most)) if second is not first else np.array([most])
            for count in counts.tolist():
                rest = needs_g - count * first.mass_g
                others = _enough(rest, second) if rest > _NOTHING_G else 0
                price = count * first.price + others * second.price
                holds = count * first.mass_g + others * second.mass_g
                bought = tuple(Bought(pack, n) for pack, n in ((first, count), (second, others)) if n)
                rank = (round(price, 6), holds, bought)
                if best is None or rank[:2] < best[:2]:
                    best = rank
    return best[2] if best else ()


def _enough(grams: float, pack: PackOf) -> int:
    return max(math.ceil(grams / pack.mass_g - 1e-9), 0)
