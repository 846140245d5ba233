"""What leads to the product, what joins it on the way, and what the starting mixture is."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from jugcore.matter.substance import Substance
from jugcore.method.stages import Adding, Boil, Press, StageBase


@dataclass(frozen=True)
class Trunk:
    """Stages on the way to the product; the others are branches that join it.

    ``inflows`` are the stages of the trunk that bring a branch in: joins, and whatever
    is strained or pressed into a vessel that already holds the product to be.
    """

    stages: frozenset[str]
    inflows: Mapping[str, str]


def trunk_of(stages: Sequence[StageBase], product: str) -> Trunk:
    """Follow the product's vessel back from the end.

    Where a stage pours one vessel into another, the way leads on to the first if the
    second was empty till then; else the second goes on and the first is a branch.
    """
    found: set[str] = set()
    inflows: dict[str, str] = {}
    vessel = product
    for index in range(len(stages) - 1, -1, -1):
        stage = stages[index]
        if stage.writes() != vessel:
            continue
        found.add(stage.id)
        source = stage.reads() or stage.vessel
        if source == vessel:
            continue
        if any(earlier.writes() == vessel for earlier in stages[:index]):
            inflows[stage.id] = source
        else:
            vessel = source
    return Trunk(frozenset(found), inflows)


def starting_mixture(stages: Sequence[StageBase], trunk: Trunk, substances: Mapping[str, Substance]) -> tuple[str, ...]:
    """Lines, and stages that bring a branch in, whose grams are the starting mixture.

    That is what makes up the bulk before the first boil (before the end, where nothing
    is boiled): spice, tea and herbs season it and do not count. Of fruit that is
    pressed the juice counts, of a branch what it brings in.
    """
    found: list[str] = []
    for index, stage in enumerate(stages):
        if stage.id not in trunk.stages:
            continue
        if isinstance(stage, Boil):
            break
        if isinstance(stage, Adding):
            found += [line.id for line in stage.lines if not substances[line.substance].is_seasoning]
        elif stage.id in trunk.inflows:
            if _brings_bulk(stages[:index], trunk.inflows[stage.id], substances):
                found.append(stage.id)
        elif isinstance(stage, Press):
            found = [stage.id]
    return tuple(found)


def _brings_bulk(earlier: Sequence[StageBase], vessel: str, substances: Mapping[str, Substance]) -> bool:
    """Whether anything but seasoning ever went into a vessel, or into what was poured into it."""
    for index in range(len(earlier) - 1, -1, -1):
        stage = earlier[index]
        if vessel not in (stage.writes(), f"cake:{stage.id}"):
            continue
        if isinstance(stage, Adding) and any(not substances[line.substance].is_seasoning for line in stage.lines):
            return True
        source = stage.reads() or stage.vessel
        if source != vessel and _brings_bulk(earlier[:index], source, substances):
            return True
    return False
