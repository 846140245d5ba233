"""What leads to the product, what joins it on the way, and what the starting mixture is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jugcore.matter.substance import Substance
from jugcore.method.amounts import All, Amount
from jugcore.method.stages import StageBase


@dataclass(frozen=True)
class Trunk:
    """Stages on the way to the product; the others are branches that join it.

    ``inflows`` are the stages of the trunk that bring a branch in: joins, and whatever
    is strained or pressed into a vessel that already holds the product to be.
    """

    stages: frozenset[str]
    inflows: Mapping[str, str]


def trunk_of(stages: Sequence[StageBase], product: str, amounts: Mapping[str, Amount]) -> Trunk:
    """Follow the product's vessel back from the end.

    Where a stage pours one vessel into another, the way leads on to the first if the
    second was empty then; else the second goes on and the first is a branch.
    """
    into_something = _pours_into_something(stages, amounts)
    found: set[str] = set()
    inflows: dict[str, str] = {}
    vessel = product
    for stage in reversed(stages):
        if stage.writes() != vessel:
            continue
        found.add(stage.id)
        source = _source(stage)
        if stage.id in into_something:
            if source != vessel:
                inflows[stage.id] = source
        elif source != vessel:
            vessel = source
        else:
            break  # what the vessel held before, it was emptied of
    return Trunk(frozenset(found), inflows)


def _source(stage: StageBase) -> str:
    """The vessel a stage takes matter from."""
    return stage.reads() or stage.vessel


def _pours_into_something(stages: Sequence[StageBase], amounts: Mapping[str, Amount]) -> frozenset[str]:
    """Stages whose vessel already holds something. A pot that was strained, filled from or joined whole is empty again."""
    holding: set[str] = set()
    found: set[str] = set()
    for stage in stages:
        source, target = _source(stage), stage.writes()
        if target in holding:
            found.add(stage.id)
        if source != target and isinstance(amounts.get(stage.id, All()), All):
            holding.discard(source)
        holding.add(target)
    return frozenset(found)


def starting_mixture(stages: Sequence[StageBase], trunk: Trunk, substances: Mapping[str, Substance]) -> tuple[str, ...]:
    """Lines, and stages that bring a branch in, whose grams are the starting mixture.

    That is what makes up the bulk before the first boil (before the end, where nothing
    is boiled): spice, tea and herbs season it and do not count. Of fruit that is
    trimmed or pressed what that gives counts, of a branch what it brings in.
    """
    found: list[str] = []
    for index, stage in enumerate(stages):
        if stage.id not in trunk.stages:
            continue
        if stage.boils:
            break
        if stage.ingredients:
            found += [line.id for line in stage.ingredients if not substances[line.substance].is_seasoning]
        elif stage.id in trunk.inflows:
            if _brings_bulk(stages[:index], trunk.inflows[stage.id], substances):
                found.append(stage.id)
        elif stage.yields:
            found = [stage.id]
    return tuple(found)


def _brings_bulk(earlier: Sequence[StageBase], vessel: str, substances: Mapping[str, Substance]) -> bool:
    """Whether anything but seasoning ever went into a vessel, or into what was poured into it."""
    for index in range(len(earlier) - 1, -1, -1):
        stage = earlier[index]
        if vessel not in (stage.writes(), f"cake:{stage.id}"):
            continue
        if any(not substances[line.substance].is_seasoning for line in stage.ingredients):
            return True
        source = _source(stage)
        if source != vessel and _brings_bulk(earlier[:index], source, substances):
            return True
    return False
