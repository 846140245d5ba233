"""In which pot each heated vessel is, and how far pots and the scale under them are used.

A vessel that names no pot is in the first of the kitchen's that it fits, else in the largest: bench, scaling, run sheet and
start of a batch all ask here.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from jugcore.figures import shown
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument, VesselDoc
from jugcore.method.kitchen import Kitchen, Pot
from jugcore.method.method import Method
from jugcore.method.stages import StageBase
from jugcore.method.walk import Walk, once, walk

#: Room a boil needs above its liquid: juice and spice foam (common practice, no source).
FOAM_FACTOR = 1.6
#: A pot for caramel, against caramel and what goes into it (common practice, table t14a).
ERUPTS_FACTOR = 4.0
#: What goes into sugar hotter than this erupts. [°C]
HOT_SUGAR_C = 115.0
#: A pot that is only stirred is filled to this share of its brim (common practice, no source).
FULL = 0.9


@dataclass(frozen=True)
class Room:
    """Millilitres a pot must hold for one stage, and of how much that is; ``why`` it is more."""

    stage: StageBase
    vessel: str
    ml: float
    of_ml: float
    why: str  # "foams", "erupts" or ""


@dataclass(frozen=True)
class Limit:
    """Something a cook may not exceed: how much of it is used, in words, and where."""

    stage: str
    kind: str  # "pot", "erupts" or "scale"
    used: float
    words: str
    vessel: str


def heated(method: Method) -> frozenset[str]:
    """Vessels that must be pots: they name one, or stand on the hob."""
    on_hob = {stage.vessel for stage in method.stages if stage.on_hob}
    return frozenset(on_hob | {vessel for vessel in method.vessel_ids if method.pot_id(vessel) is not None})


@once
def rooms(walked: Walk) -> tuple[Room, ...]:
    """What room every stage wants in its pot, for the first case."""
    return tuple(_rooms(walked))


def _rooms(walked: Walk) -> Iterator[Room]:
    hot = heated(walked.method)
    for stage, step in zip(walked.stages, walked.steps, strict=True):
        vessel = stage.writes()
        if stage.boils and stage.vessel in hot:
            volume = volume_into(walked, stage)
            if np.isfinite(volume):
                yield Room(stage, stage.vessel, volume * FOAM_FACTOR, volume, "foams")
        elif vessel in hot and vessel in step.after.vessels:
            held = step.after.vessels[vessel]
            if float(step.figures["into_c"][0] if "into_c" in step.figures else 0.0) > HOT_SUGAR_C:
                both = float(held.total_g[0]) / 1.2
                yield Room(stage, vessel, both * ERUPTS_FACTOR, both, "erupts")
                continue
            volume = float(held.volume_ml()[0])
            if np.isfinite(volume) and volume > 0:
                yield Room(stage, vessel, volume / FULL, volume, "")


def volume_into(walked: Walk, stage: StageBase) -> float:
    """Millilitres in the pot when a stage begins, hot. NaN if dry."""
    held = walked.before(stage.id).vessels.get(stage.vessel)
    return float(held.volume_ml(95.0)[0]) if held is not None else float("nan")


@once
def pots_of(walked: Walk) -> dict[str, Pot]:
    """The pot of every heated vessel: the one it names, else the first that it fits, else the largest."""
    wants: dict[str, float] = {}
    for room in rooms(walked):
        wants[room.vessel] = max(wants.get(room.vessel, 0.0), room.ml)
    return {vessel: _pot(walked.method, walked.kitchen, vessel, wants.get(vessel, 0.0)) for vessel in heated(walked.method)}


def _pot(method: Method, kitchen: Kitchen, vessel: str, wants_ml: float) -> Pot:
    named = method.pot_id(vessel)
    if named is not None or not kitchen.pots:
        return kitchen.pot(named)
    able = next((pot for pot in kitchen.pots if pot.capacity_ml >= wants_ml * (1 - 1e-9)), None)
    return able or max(kitchen.pots, key=lambda pot: pot.capacity_ml)


def limits(walked: Walk) -> Iterator[Limit]:
    """How far each pot and the scale under it are used, 1 being all of it."""
    kitchen, pots = walked.kitchen, pots_of(walked)
    for room in rooms(walked):
        pot = pots[room.vessel]
        holds, litres, wants = (f"{shown(round(ml / 1000, 2))} l" for ml in (pot.capacity_ml, room.of_ml, room.ml))
        told = {
            "foams": f"{pot.name}: {litres} that foams needs {wants}, and it holds {holds}",
            "erupts": f"{pot.name}: {litres} of caramel and what goes into it erupts and needs {wants}, and it holds {holds}",
            "": f"{pot.name}: {litres} in its {holds}",
        }
        yield Limit(room.stage.id, "erupts" if room.why == "erupts" else "pot", room.ml / pot.capacity_ml, told[room.why], room.vessel)
    carries = max(kitchen.scales, key=lambda s: s.capacity_g, default=None)
    for stage, step in zip(walked.stages, walked.steps, strict=True):
        if carries is not None and stage.boils:
            reads = float(step.figures["stop_g"][0]) + pots[stage.vessel].tare_g
            weight = f"pot and contents weigh {shown(round(reads))} g when {(stage.name or stage.title).lower()} ends"
            words = f"{carries.name}: {weight}, and it carries {shown(carries.capacity_g)} g"
            yield Limit(stage.id, "scale", reads / carries.capacity_g, words, stage.vessel)


def too_much(walked: Walk) -> list[Limit]:
    """The limits that are exceeded, worst first: of each pot and of the scale under it the stage that wants most."""
    worst: dict[tuple[str, bool], Limit] = {}
    for limit in sorted(limits(walked), key=lambda limit: -limit.used):
        if limit.used > 1 + 1e-9:
            worst.setdefault((limit.vessel, limit.kind == "scale"), limit)
    return list(worst.values())


def in_its_pots(method: Method, kitchen: Kitchen | None = None) -> Walk:
    """The walk with every heated vessel in the pot it fits: a second walk only where the first pot is too small."""
    walked = walk(method, kitchen)
    document = with_pots(walked, all_of_them=False)
    return walked if document is method.document else walk(compile_document(document), kitchen)


def with_pots(walked: Walk, *, all_of_them: bool) -> MethodDocument:
    """The document with the pots that were chosen written into it: all, or only those that are not the first anyway."""
    method = walked.method
    first = walked.kitchen.pot(None)
    chosen = {
        vessel: pot
        for vessel, pot in pots_of(walked).items()
        if method.pot_id(vessel) is None and walked.kitchen.pots and (all_of_them or pot.id != first.id)
    }
    if not chosen:
        return method.document
    return method.document.model_copy(update={"vessels": tuple(_named(method.document.vessels, chosen))})


def _named(vessels: tuple[VesselDoc, ...], chosen: Mapping[str, Pot]) -> Iterator[VesselDoc]:
    for vessel in vessels:
        yield vessel.model_copy(update={"pot": chosen[vessel.id].id}) if vessel.id in chosen else vessel
    listed = {vessel.id for vessel in vessels}
    for id in sorted(chosen.keys() - listed):
        yield VesselDoc(id=id, pot=chosen[id].id)
