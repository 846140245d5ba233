"""Allergens that equipment carries from one product to the next: what a method's tools meet, and what they may bring in.

A kitchen may say of each piece what it meets. Of a kind that it says nothing of, what its other formulas put into such a tool
counts: one blender is taken for all of them.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from pydantic import BaseModel, Field

from jugcore.formula.processes import before
from jugcore.matter.substance import EU_ALLERGENS
from jugcore.method.kitchen import GEAR_TITLES, Gear, SharedGear
from jugcore.method.stages import Aerate, Fill, Mill, Mix, Press, StageBase, Strain
from jugcore.method.walk import Walk

#: Gear → allergen → the formulas that put it there.
Elsewhere = Mapping[Gear, Mapping[str, Sequence[str]]]
_TOOLS: dict[str, Gear] = {
    "blender": "blender", "stick_blender": "stick_blender", "frother": "frother", "weak_frother": "frother", "hand_mixer": "hand_mixer",
    "whisk": "whisk", "jar": "jar", "siphon": "siphon",
}  # fmt: skip


class SharedAllergen(BaseModel):
    """An allergen that is not in it and may come in by equipment."""

    allergen: str
    gear: str
    stages: list[str] = Field(description="The stages that use it.")
    take: str = Field(description="A piece of the kind that is kept free of it; empty where there is none.")
    words: str


def gear_of(stage: StageBase) -> Gear | None:
    """The equipment of a stage that carries over; None where it has none, or only a pot and a spoon."""
    match stage:
        case Aerate() | Mix():
            return _TOOLS.get(stage.tool)
        case Mill():
            return "mill"
        case Press():
            return "press"
        case Strain():
            return "sieve"
        case Fill():
            return "pump"
        case _:
            return None


def gear_seen(walk: Walk) -> dict[Gear, tuple[str, ...]]:
    """The allergens that each kind of equipment meets in a method, in the order of the list."""
    found: dict[Gear, set[str]] = {}
    for stage in walk.stages:
        gear = gear_of(stage)
        if gear is None or gear == "pump":  # a pump stays with its product, unless a kitchen says otherwise
            continue
        held = before(walk, stage).vessels.get(stage.vessel)
        lines = held.touched if held is not None else frozenset()
        found.setdefault(gear, set()).update(
            allergen for id in lines if id in walk.method.lines for allergen in walk.method.substances[walk.method.lines[id].substance].allergens
        )
    return {gear: tuple(allergen for allergen in EU_ALLERGENS if allergen in saw) for gear, saw in found.items() if saw}


def carried(walk: Walk, elsewhere: Elsewhere | None = None) -> list[SharedAllergen]:
    """Allergens that are not in the product and may come in by what it is made with."""
    method = walk.method
    inside = {allergen for id in walk.product.touched if id in method.lines for allergen in method.substances[method.lines[id].substance].allergens}
    uses: dict[Gear, list[str]] = {}
    for stage in walk.stages:
        gear = gear_of(stage)
        if gear is not None and stage.id in method.trunk:
            uses.setdefault(gear, []).append(stage.id)
    found = [each for gear, stages in uses.items() for each in _of(walk, gear, stages, elsewhere or {}) if each.allergen not in inside]
    return sorted(found, key=lambda each: EU_ALLERGENS.index(each.allergen))


def _of(walk: Walk, gear: Gear, stages: list[str], elsewhere: Elsewhere) -> Iterator[SharedAllergen]:
    declared = [piece for piece in walk.kitchen.shared or () if piece.gear == gear]
    title = GEAR_TITLES[gear]
    if not declared:
        for allergen, names in elsewhere.get(gear, {}).items():
            others = _listed(names)
            words = f"The {title} may carry over {allergen}: {others} {'uses' if len(names) == 1 else 'use'} it too."
            yield SharedAllergen(allergen=allergen, gear=title, stages=stages, take="", words=words)
        return
    for allergen in EU_ALLERGENS:
        saw, free = [p for p in declared if allergen in p.saw], [p for p in declared if allergen not in p.saw]
        if saw and free:
            words = f"Take {free[0].name}: {_names(saw)} also {'meets' if len(saw) == 1 else 'meet'} {allergen}."
            yield SharedAllergen(allergen=allergen, gear=title, stages=stages, take=free[0].name, words=words)
        elif saw:
            words = f"{_names(saw)} also {'meets' if len(saw) == 1 else 'meet'} {allergen} and may carry it over."
            yield SharedAllergen(allergen=allergen, gear=title, stages=stages, take="", words=words)


#: What to do about it, said once.
CLEAN = "Make what is free of it first, on clean equipment; whether cleaning is enough, your local food code and a qualified person decide."


def _names(pieces: Sequence[SharedGear]) -> str:
    return _listed([piece.name for piece in pieces])


def _listed(names: Sequence[str]) -> str:
    """“A”, “A and B”, “A, B and 3 more”."""
    if len(names) > 3:
        return f"{', '.join(names[:2])} and {len(names) - 2} more"
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
