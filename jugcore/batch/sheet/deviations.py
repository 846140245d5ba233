"""What is not as planned: lines against what they should be, and the readings that decide."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from jugcore.batch.actual.actual_batch import ActualBatch, actual_method
from jugcore.batch.log import events as e
from jugcore.batch.sheet.schema import Deviation
from jugcore.batch.sheet.time_held import NEAR_C, OVER_C, held_so_far
from jugcore.batch.sheet.tolerance import Near
from jugcore.figures import finite_or_none
from jugcore.method.amounts import All, PerKg, UpTo, UpToVolume, Written, references
from jugcore.method.method import Method
from jugcore.method.stages import Cool, Heat, Holding, StageBase
from jugcore.method.walk import Walk, walk
from jugcore.solving.linearise import reading_of

#: Readings that are compared with the plan, and how far off is still as planned. [the reading's unit]
WATCHED = {"brix": 0.5, "yield_g": 0.0, "spice_finished": 0.0, "fat": 0.3, "sugars_100g": 0.5}
#: Where the allowance is a share of the planned figure instead.
_SHARES = {"yield_g": 0.03, "spice_finished": 0.05}


def targets_of(batch: ActualBatch) -> dict[str, float]:
    """What each line (or join by weight) should weigh: as written, or as what it follows came to.

    A line that was weighed is left out of its own reckoning, so that water “as the juice”
    should weigh what the juice did, whatever went in.
    """
    method = batch.followed
    weighed = batch.record.weighed
    joins = {stage.id for stage in method.stages if stage.reads() is not None}
    found: dict[str, float] = {}
    for id, amount in method.amounts.items():
        if (id not in method.lines and id not in joins) or isinstance(amount, All) or id not in batch.walk.end.lines:
            continue
        if id not in weighed:
            found[id] = float(batch.walk.end.lines[id][0])
        elif isinstance(amount, Written):
            found[id] = method.weighed[id].grams
    for together in _apart(method, [id for id in weighed if id in batch.walk.end.lines and id not in found and _follows(method, id)]):
        alone = without_weighings(batch, together)
        found |= {id: float(alone.end.lines[id][0]) for id in together}
    return found


def without_weighings(batch: ActualBatch, lines: Iterable[str]) -> Walk:
    """The batch as it would be had some lines gone in as asked."""
    out = set(lines)
    rest = {id: held for id, held in batch.record.weighed.items() if id not in out}
    return walk(actual_method(batch.document, replace(batch.record, weighed=rest)))


def _follows(method: Method, id: str) -> bool:
    return id in method.amounts and not isinstance(method.amounts[id], All | Written)


def _apart(method: Method, ids: Sequence[str]) -> list[list[str]]:
    """Lines that follow others, in groups none of which follows another of its group: one walk can leave a whole group out."""
    groups: list[list[str]] = []
    level: dict[str, int] = {}
    for id in ids:  # in the order of the log; a line may follow one that was weighed after it
        level[id] = -1

    def depth(id: str, below: frozenset[str]) -> int:
        if level.get(id, 0) >= 0 or id in below:
            return level.get(id, 0)
        needs = references(method.amounts[id], method.started, id, method.portions.get(id))
        deep = [depth(other, below | {id}) + 1 for other in needs if other in level and other != id]
        level[id] = max(deep, default=0)
        return level[id]

    whole = [id for id in ids if _looks_at_all(method, id)]
    for id in ids:
        if id in whole:
            continue
        here = depth(id, frozenset())
        while len(groups) <= here:
            groups.append([])
        groups[here].append(id)
    return [group for group in groups if group] + [[id] for id in whole]


def _looks_at_all(method: Method, id: str) -> bool:
    """Whether an amount depends on what stands in the pot or comes out at the end, and so on anything."""
    amount = method.amounts[id]
    return isinstance(amount, UpTo | UpToVolume) or (isinstance(amount, PerKg) and amount.of in ("pot_now", "after", "finished"))


def deviations(batch: ActualBatch, targets: Mapping[str, float], near: Mapping[str, Near]) -> list[Deviation]:
    """Lines that were weighed off, and readings that moved; the latter only once something was entered."""
    found: list[Deviation] = []
    titles = batch.method.titles
    for id, held in batch.record.weighed.items():
        if id not in targets:
            continue
        band = near.get(id)
        if band is not None and not band.low_g - 1e-9 <= held.value <= band.high_g + 1e-9:
            found.append(
                Deviation(
                    id=f"line:{id}",
                    title=titles[id],
                    unit="g",
                    digits=_digits(targets[id]),
                    planned=targets[id],
                    actual=held.value,
                    beyond=True,
                    reading=None,
                    dealt=_dealt(batch, f"line:{id}", held.value, band.high_g - band.low_g),
                )
            )
    found += [each for stage in batch.method.stages if (each := _missed(batch, stage)) is not None]
    for id in WATCHED:
        was, now = reading_of(batch.planned, id), reading_of(batch.walk, id)
        a, b = float(was.value[0]), float(now.value[0])
        if not np.isfinite(a) and not np.isfinite(b):
            continue
        allowed = _SHARES[id] * abs(a) if id in _SHARES else WATCHED[id]
        if np.isfinite(a) and np.isfinite(b) and abs(b - a) < 0.5 * 10.0**-was.digits:
            continue
        found.append(
            Deviation(
                id=id, title=was.title, unit=was.unit, digits=was.digits, planned=finite_or_none(a), actual=finite_or_none(b),
                beyond=not abs(b - a) <= allowed, reading=id, dealt=_dealt(batch, id, b, allowed),
            )
        )  # fmt: skip
    return found


@dataclass(frozen=True)
class Missed:
    """A temperature or a time that was missed: what was asked, what it was, and how near would be near enough."""

    asked: float
    was: float
    unit: Literal["°C", "min"]
    near: float


def missed(batch: ActualBatch, stage: StageBase) -> Missed | None:
    """What a warming, cooling, hold or steep missed; None where it is near enough, or nobody probed it.

    A finished warming is missed where it is colder by more than 2 °C or hotter by more than 5, a finished cooling where it is
    warmer by more than 2: colder than asked is no fault of a cooling. A hold is missed as soon as the probe says that it is out of
    the temperatures it is to be held at, and where it ended before it was held long enough.
    """
    followed = next((s for s in batch.followed.stages if s.id == stage.id), stage)
    if isinstance(followed, Holding):
        return _missed_hold(batch, followed)
    if not isinstance(stage, Heat | Cool) or not isinstance(followed, Heat | Cool) or batch.record.done(stage.id) is None:
        return None
    probed = batch.record.of(e.Probed, stage.id)
    if not probed:
        return None
    asked, was = followed.to_c, probed[-1][1].temperature_c
    off = was - asked
    far = off > NEAR_C if isinstance(stage, Cool) else off < -NEAR_C or off > OVER_C
    return Missed(asked, was, "°C", NEAR_C) if far else None


def _missed_hold(batch: ActualBatch, followed: Holding) -> Missed | None:
    found = held_so_far(batch, followed)
    if found.off == "short":
        return Missed(found.asked_min, found.held_min or 0.0, "min", 1.0)
    edge = found.window.low_c if found.off == "cold" else found.window.high_c if found.off == "hot" else None
    return None if edge is None or found.last_c is None else Missed(edge, found.last_c, "°C", 0.5)


def _missed(batch: ActualBatch, stage: StageBase) -> Deviation | None:
    found = missed(batch, stage)
    if found is None:
        return None
    id = f"stage:{stage.id}"
    return Deviation(
        id=id, title=stage.name or stage.title, unit=found.unit, digits=0, planned=found.asked, actual=found.was, beyond=True, reading=None,
        dealt=_dealt(batch, id, found.was, found.near),
    )  # fmt: skip


def _dealt(batch: ActualBatch, about: str, actual: float, allowed: float) -> Literal["accepted", "put_right"] | None:
    """What was said last to something off plan, unless it has moved further than is near enough since."""
    said = [entry.event.what for entry in batch.record.standing if isinstance(entry.event.what, e.Accepted | e.PutRight)]
    last = next((what for what in reversed(said) if what.about == about), None)
    if last is None or last.actual is None or not abs(actual - last.actual) <= max(allowed, 1e-9):
        return None
    return last.kind


def _digits(grams: float) -> int:
    return 0 if grams >= 100 else 1 if grams >= 10 else 2
