"""Where the weights and the refractometer disagree by more than both can explain, and what would explain it.

By weight a °Brix is as sure as what went in: fruit and juice differ from their book, a
scale has a step, a refractometer is good to about 0.3 °Bx on a clear drop and 1 °Bx on a
cloudy one (common practice, no source). No verdict rests on less than that.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.batch.actual.actual_batch import ActualBatch, pot_can_hold, true_brix
from jugcore.batch.actual.partial_walk import as_if_ended
from jugcore.batch.log import events as e
from jugcore.batch.log.events import Logged
from jugcore.figures import Floats, shown
from jugcore.matter.substance import Substance
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Boil, StageBase
from jugcore.method.walk import Walk, walk
from jugcore.solving.linearise import reading_of

#: How far an ingredient's dissolved solids may be off its book, relative, by where the figure comes from (common practice, no source).
_SPREAD = {"table": 0.08, "label": 0.05, "estimate": 0.15}
#: Dry ingredients do not vary: the spread is of the water or the solids, whichever is less.
_CLEAR, _CLOUDY = 0.3, 1.0
_TURBID = 0.02
#: A drop and a weighing belong together within this time while it boils. [s]
_TOGETHER_S = 120.0
#: An ingredient explains a reading only if it would have had between half and twice its solids.
_FACTORS = np.linspace(0.4, 2.0, 33)


@dataclass(frozen=True)
class Explanation:
    """What would make the weights and the reading agree."""

    kind: Literal["reckon", "weigh_again"]  # an ingredient was stronger or weaker; the pot weighed something else
    words: str
    line: str | None = None
    brix: float | None = None
    reads_g: float | None = None


@dataclass(frozen=True)
class MeasurementCheck:
    """A stage at which weight and refractometer disagree: both figures with their doubt, and what would explain it."""

    stage: str
    by_weight: float
    weight_spread: float
    by_reading: float
    reading_spread: float
    words: str
    explanations: tuple[Explanation, ...]


def measurement_checks(batch: ActualBatch) -> list[MeasurementCheck]:
    """Every stage at which what the refractometer showed last is not what the weights say."""
    found = []
    for stage in batch.walk.stages:
        drops = [(entry, what) for entry, what in batch.record.of(e.Refracted, stage.id) if what.line is None]
        if not drops:
            continue
        entry, drop = drops[-1]
        then = as_it_was(batch, stage, entry)
        doubt = None if then is None else _doubt(then, stage, true_brix(drop))
        if doubt is not None:
            found.append(doubt)
    return found


def as_it_was(batch: ActualBatch, stage: StageBase, drop: Logged) -> ActualBatch | None:
    """The batch with the pot as it weighed when a drop was taken; None where it was not weighed near enough to that.

    A pot on the heat loses a °Brix in a minute or two: a drop says nothing about a weight
    of ten minutes later. Off the heat it stays as it is.
    """
    if not isinstance(stage, Boil):
        return batch
    weighings = batch.record.of(e.PotWeighed, stage.id)
    done = batch.record.done(stage.id)

    def apart(entry: Logged) -> float:
        # Both after the pot was taken off: nothing boils off between them.
        off = done is not None and min(entry.event.at, drop.event.at) >= done.event.at
        return 0.0 if off else abs((entry.event.at - drop.event.at).total_seconds())

    can = pot_can_hold(stage, batch.walk)
    weighings = [each for each in weighings if can.least_g <= each[1].mass_g <= can.most_g]
    near = min(weighings, key=lambda each: apart(each[0]), default=None)
    if near is None or apart(near[0]) > _TOGETHER_S:
        return None
    given = {stage.path("mass_g"): near[1].mass_g}
    return replace(batch, walk=walk(batch.method, batch.walk.kitchen, given))


def _at(walked: Walk, stage_id: str) -> Floats:
    """What a refractometer would show of a stage's vessel, (K,)."""
    return reading_of(as_if_ended(walked, stage_id), "refractometer").value


def _dissolved(substance: Substance) -> dict[str, float]:
    """Grams a 100 g of everything dissolved in it."""
    return {name: grams for name, grams in substance.composition_g_per_100g().items() if c.DISSOLVED[c.INDEX[name]] > 0}


def _doubt(batch: ActualBatch, stage: StageBase, reading: float) -> MeasurementCheck | None:
    walked = batch.walk
    by_weight = float(_at(walked, stage.id)[0])
    if not np.isfinite(by_weight):
        return None
    held = walked.step(stage.id).after.vessels[stage.writes()]
    cloudy = float(held.insoluble_g[0]) > _TURBID * float(held.total_g[0])
    reading_spread = _CLOUDY if cloudy else _CLEAR
    weight_spread = _spread(batch, stage)
    if abs(reading - by_weight) <= float(np.hypot(reading_spread, weight_spread)):
        return None
    words = (
        f"By weight it is {shown(round(by_weight, 1))} °Bx (± {shown(round(weight_spread, 1))}), the refractometer says {shown(round(reading, 1))} "
        f"(± {shown(round(reading_spread, 1))}): they disagree by more than both can explain. "
        "Wipe the glass and take another drop, cooled; weigh the pot again."
    )
    return MeasurementCheck(stage.id, by_weight, weight_spread, reading, reading_spread, words, tuple(_explanations(batch, stage, reading)))


def _spread(batch: ActualBatch, stage: StageBase) -> float:
    """How far off a °Brix by weight may be, ±: ingredients, scales and the pot's weighing, taken together as independent."""
    method, kitchen = batch.method, batch.walk.kitchen
    cases: list[dict[str, float]] = []
    for id, line in method.lines.items():
        substance = method.substances[line.substance]
        dissolved = _dissolved(substance)
        solids = sum(dissolved.values())
        if solids <= 0 or id not in batch.walk.end.lines:
            continue
        water = 100 * float(substance.mass_fraction[c.WATER])
        off = _SPREAD.get(substance.basis, 0.15) * min(solids, water) / solids
        if off > 1e-6:
            cases.append({f"substances.{line.substance}.{name}": grams * (1 + off) for name, grams in dissolved.items()})
        grams = float(batch.walk.end.lines[id][0])
        cases.append({f"lines.{id}.grams": grams + resolution_g(kitchen, grams)})
    if isinstance(stage, Boil):
        held = float(batch.walk.step(stage.id).after.vessels[stage.vessel].total_g[0])
        cases.append({stage.path("mass_g"): held + resolution_g(kitchen, held)})
    base = float(_at(batch.walk, stage.id)[0])
    return float(np.sqrt(sum((value - base) ** 2 for value in _each(batch, stage, cases) if np.isfinite(value))))


def _each(batch: ActualBatch, stage: StageBase, cases: list[dict[str, float]]) -> list[float]:
    """The refractometer's figure with each set of changes made, one walk of as many cases."""
    if not cases:
        return []
    paths = {path for case in cases for path in case}
    stands = {path: _stands(batch, path) for path in paths}
    if isinstance(stage, Boil):
        # The pot weighed what it weighed: what is stronger went further.
        stands.setdefault(stage.path("mass_g"), float(batch.walk.step(stage.id).after.vessels[stage.vessel].total_g[0]))
    given = {path: np.array([case.get(path, at) for case in cases]) for path, at in stands.items()}
    return [float(value) for value in _at(walk(batch.method, batch.walk.kitchen, given), stage.id)]


def _stands(batch: ActualBatch, path: str) -> float:
    """Where a parameter stands in the batch."""
    kind, id, name = path.split(".")
    if kind == "lines":
        return float(batch.walk.end.lines[id][0])
    if kind == "substances":
        return batch.method.substances[id].composition_g_per_100g()[name]
    stage = next(s for s in batch.method.stages if s.id == id)
    return float(batch.walk.step(id).after.vessels[stage.vessel].total_g[0])


def _explanations(batch: ActualBatch, stage: StageBase, reading: float) -> list[Explanation]:
    method = batch.method
    found: list[Explanation] = []
    for id, line in method.lines.items():
        substance = method.substances[line.substance]
        dissolved = _dissolved(substance)
        solids, water = sum(dissolved.values()), 100 * float(substance.mass_fraction[c.WATER])
        if not 1.0 <= solids <= 60.0 or water < 20.0 or substance.is_seasoning:
            continue
        factors = _FACTORS[solids * _FACTORS < solids + water - 1.0]
        cases = [{f"substances.{line.substance}.{name}": grams * f for name, grams in dissolved.items()} for f in factors]
        values = np.array(_each(batch, stage, cases))
        if not np.all(np.isfinite(values)) or not values.min() <= reading <= values.max():
            continue
        order = np.argsort(values)
        factor = float(np.interp(reading, values[order], factors[order]))
        was = 100 * solids / (solids + water)
        would = 100 * solids * factor / (solids + water)
        title = method.short_titles[id]
        words = f"{title[:1].upper()}{title[1:]} had {shown(round(would, 1))} °Bx instead of {shown(round(was, 1))}."
        found.append(Explanation("reckon", words, id, round(would, 2)))
    if isinstance(stage, Boil):
        again = walk(method, batch.walk.kitchen, {stage.path("brix"): reading})
        step = again.step(stage.id)
        if not any(bool(fault.cases[0]) and fault.stage == stage.id for fault in again.faults):
            reads = float(step.figures["pot_reads_g"][0])
            found.append(Explanation("weigh_again", f"The pot would read {shown(round(reads))} g if the refractometer is right.", None, None, reads))
    return found
