"""Allergens that equipment carries from one product to the next: what a method's tools meet, and what they may bring in.

A kitchen may say of each piece what it meets. Of a kind that it says nothing of, what its other formulas put into such a tool
counts: one blender is taken for all of them.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Mapping, Sequence
from typing import overload

from pydantic import BaseModel, Field

from jugcore.matter.substance import EU_ALLERGENS, Substance
from jugcore.method.kitchen import EQUIPMENT_TITLES, Equipment, EquipmentKind
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk
from jugcore.reading.processes.outcomes import before

#: EquipmentKind → allergen → the formulas that put it there.
Elsewhere = Mapping[EquipmentKind, Mapping[str, Sequence[str]]]


class CrossContact(BaseModel):
    """An allergen that is not in it and may come in by equipment."""

    allergen: str
    equipment: str = Field(description="Its kind, in words.")
    stages: list[str] = Field(description="The stages that use it.")
    take: str = Field(description="A piece of the kind that is kept free of it; empty where there is none.")
    words: str


class Others(Sequence[str]):
    """Names in their order without one of them, of however many: what is told of them looks at the first few and their number."""

    def __init__(self, names: Sequence[str], without: str) -> None:
        at = bisect_left(names, without)
        self._names, self._gap = names, at if at < len(names) and names[at] == without else len(names)

    def __len__(self) -> int:
        return len(self._names) - (self._gap < len(self._names))

    @overload
    def __getitem__(self, at: int) -> str: ...
    @overload
    def __getitem__(self, at: slice) -> list[str]: ...
    def __getitem__(self, at: int | slice) -> str | list[str]:
        if isinstance(at, slice):
            return [self[each] for each in range(*at.indices(len(self)))]
        place = range(len(self))[at]
        return self._names[place + (place >= self._gap)]


def equipment_touched(walk: Walk) -> dict[EquipmentKind, dict[str, Substance]]:
    """The ingredients as bought that each kind of equipment meets in a method, by id; their allergens may be written down later."""
    found: dict[EquipmentKind, dict[str, Substance]] = {}
    for stage in walk.stages:
        kind = stage.equipment_kind
        held = before(walk, stage).vessels.get(stage.vessel)
        if kind is None or kind == "pump" or held is None:  # a pump stays with its product, unless a kitchen says otherwise
            continue
        met = found.setdefault(kind, {})
        for id in held.touched & walk.method.lines.keys():
            met |= {each.substance: each.book for each in walk.method.contents_of(id)}
    return {kind: met for kind, met in found.items() if met}


def allergens_met_by_equipment(walk: Walk) -> dict[EquipmentKind, tuple[str, ...]]:
    """The allergens that each kind of equipment meets in a method, in the order of the list."""
    found = {kind: {allergen for book in met.values() for allergen in book.allergens} for kind, met in equipment_touched(walk).items()}
    return {kind: tuple(allergen for allergen in EU_ALLERGENS if allergen in allergens) for kind, allergens in found.items() if allergens}


def met_at(walk: Walk, stage: StageBase) -> frozenset[str]:
    """The allergens that what a stage works on has in it."""
    held = before(walk, stage).vessels.get(stage.vessel)
    return frozenset() if held is None else _allergens(walk, held.touched)


def _allergens(walk: Walk, lines: frozenset[str]) -> frozenset[str]:
    books = [walk.method.substances[walk.method.lines[id].substance] for id in lines if id in walk.method.lines]
    return frozenset(allergen for book in books for allergen in book.allergens)


def pieces_taken(walk: Walk) -> dict[str, Equipment]:
    """Stage → the piece of equipment it is best done with, where the kitchen has described some of that kind.

    The one that brings the fewest allergens into the product; of these the one that meets most of what is in it anyway, so that
    one kept free of an allergen stays free while another can be taken.
    """
    inside = _allergens(walk, walk.product.touched)
    found: dict[str, Equipment] = {}
    for stage in walk.stages:
        kind = stage.equipment_kind
        pieces = [piece for piece in walk.kitchen.equipment or () if piece.kind == kind]
        if kind is None or not pieces:
            continue
        brings = met_at(walk, stage)
        ranked = [(len(piece.carries - inside), len(brings - piece.carries), place) for place, piece in enumerate(pieces)]
        found[stage.id] = pieces[min(ranked)[2]]
    return found


def cross_contact(walk: Walk, elsewhere: Elsewhere | None = None) -> list[CrossContact]:
    """Allergens that are not in the product and may come in by what it is made with."""
    inside = _allergens(walk, walk.product.touched)
    uses: dict[EquipmentKind, list[str]] = {}
    for stage in walk.stages:
        kind = stage.equipment_kind
        if kind is not None and stage.id in walk.method.trunk:
            uses.setdefault(kind, []).append(stage.id)
    taken = pieces_taken(walk)
    found = [each for kind, stages in uses.items() for each in _of(walk, kind, stages, taken, elsewhere or {}) if each.allergen not in inside]
    return sorted(found, key=lambda each: EU_ALLERGENS.index(each.allergen))


def _of(walk: Walk, kind: EquipmentKind, stages: list[str], taken: Mapping[str, Equipment], elsewhere: Elsewhere) -> Iterator[CrossContact]:
    declared = [piece for piece in walk.kitchen.equipment or () if piece.kind == kind]
    title = EQUIPMENT_TITLES[kind]
    if not declared:
        for allergen, names in elsewhere.get(kind, {}).items():
            others = _listed(names)
            words = f"The {title} may carry over {allergen}: {others} {'uses' if len(names) == 1 else 'use'} it too."
            yield CrossContact(allergen=allergen, equipment=title, stages=stages, take="", words=words)
        return
    best = [taken[id] for id in stages if id in taken]
    for allergen in EU_ALLERGENS:
        meeting = [piece for piece in declared if allergen in piece.carries]
        if not meeting:
            continue
        carrying = [piece for piece in best if allergen in piece.carries]
        if not carrying and best:
            words = f"Take {best[0].name}: {_meeting(meeting, allergen)}."
            yield CrossContact(allergen=allergen, equipment=title, stages=stages, take=best[0].name, words=words)
        else:
            words = f"{_meeting(carrying or meeting, allergen)} and may carry it over."
            yield CrossContact(allergen=allergen, equipment=title, stages=stages, take="", words=words)


def _meeting(pieces: Sequence[Equipment], allergen: str) -> str:
    """“Old blender also meets nuts”, or where: “Green blender met nuts at Toasted Hazelnut 0041, was not washed since”."""
    names, at = _names(pieces), pieces[0].where(allergen) if len(pieces) == 1 else ""
    if at:
        return f"{names} met {allergen} at {at}, was not washed since"
    return f"{names} also {'meets' if len(pieces) == 1 else 'meet'} {allergen}"


def kept_free(walk: Walk) -> dict[str, str]:
    """Stage → what to take, where that keeps another piece free of an allergen that is in the product."""
    found: dict[str, str] = {}
    for id, piece in pieces_taken(walk).items():
        stage = next(each for each in walk.stages if each.id == id)
        brings = met_at(walk, stage)
        spared = [
            (other, allergen) for other in walk.kitchen.equipment or () if other.kind == piece.kind and other is not piece
            for allergen in EU_ALLERGENS if allergen in brings and allergen in piece.carries and allergen not in other.carries
        ]  # fmt: skip
        if spared:
            free = _listed(list(dict.fromkeys(allergen for _, allergen in spared)))
            found[id] = f"Take {piece.name}, so that {_listed(list(dict.fromkeys(other.name for other, _ in spared)))} stays free of {free}."
    return found


#: What to do about it, said once.
CLEAN = "Make what is free of it first, on clean equipment; whether cleaning is enough, your local food code and a qualified person decide."


def _names(pieces: Sequence[Equipment]) -> str:
    return _listed([piece.name for piece in pieces])


def _listed(names: Sequence[str]) -> str:
    """“A”, “A and B”, “A, B and 3 more”."""
    if len(names) > 3:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
