"""Plan against actual: the plan as it was frozen, what was changed on purpose, and what happened; nothing not reached is “as asked”."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.sheet.deviations import WATCHED
from jugcore.batch.sheet.schema import How, PlanRow
from jugcore.figures import finite_or_none
from jugcore.method.stages import Boil, StageBase, Strain
from jugcore.method.walk import Walk, walk
from jugcore.solving.linearise import reading_of


def plan_against_actual(batch: ActualBatch, filled_g: float | None = None) -> list[PlanRow]:
    """Every line, every boil's time and water, what every sieve kept, and the readings that decide.

    ``filled_g`` is what stands in bottles by the scale: that is the yield, whatever the walk says.
    """
    asked = walk(batch.followed) if batch.record.plans else batch.planned
    found: list[PlanRow] = []
    for stage in batch.walk.stages:
        found += _of_stage(batch, asked, stage)
    found += _gone(batch)
    for id in WATCHED:
        if (row := _reading(batch, asked, id)) is not None:
            weighed = id == "yield_g" and filled_g is not None
            found.append(row.model_copy(update={"actual": filled_g, "how": "measured"}) if weighed else row)
    return found


def _reached(batch: ActualBatch, stage: StageBase) -> bool:
    return batch.record.status == "finished" or batch.record.done(stage.id) is not None


def _of_stage(batch: ActualBatch, asked: Walk, stage: StageBase) -> Iterator[PlanRow]:
    for id in stage.weighed_ids:
        yield _line(batch, asked, id, _reached(batch, stage))
    if isinstance(stage, Boil):
        yield from _boil(batch, asked, stage)
    elif isinstance(stage, Strain):
        yield _kept(batch, asked, stage)


def _line(batch: ActualBatch, asked: Walk, id: str, reached: bool) -> PlanRow:
    held = batch.record.weighed.get(id)
    planned, purposed = _grams(batch.planned, id), _grams(asked, id)
    now = _grams(batch.walk, id)
    how: How = "measured" if held is not None else "as_asked" if reached else "not_reached"
    actual = held.value if held is not None else now if reached else None
    return PlanRow(
        id=id, title=_called(batch, id), unit="g", digits=2 if (planned or now or 0.0) < 20 else 0, planned=planned,
        purposed=_other(planned, purposed), actual=actual, how=how,
    )  # fmt: skip


def _called(batch: ActualBatch, id: str) -> str:
    """What the plan calls a line, and what went in under its name."""
    planned, now = batch.planned.method.titles.get(id), batch.method.titles.get(id, id)
    return now if planned is None or planned == now else f"{planned}, now {now[:1].lower()}{now[1:]}"


def _gone(batch: ActualBatch) -> Iterator[PlanRow]:
    """Lines of the plan that a way took out."""
    for id in batch.planned.method.lines:
        if id not in batch.method.lines:
            planned = _grams(batch.planned, id)
            yield PlanRow(
                id=id, title=batch.planned.method.titles[id], unit="g", digits=0, planned=planned, purposed=0.0, actual=None, how="not_reached"
            )


def _boil(batch: ActualBatch, asked: Walk, stage: Boil) -> Iterator[PlanRow]:
    name = stage.name or stage.title
    began, done = batch.record.began(stage.id), batch.record.done(stage.id)
    took = (done.event.at - began).total_seconds() / 60 if began is not None and done is not None else None
    planned, purposed = _minutes(batch.planned, stage.id), _minutes(asked, stage.id)
    how: How = "measured" if took is not None else "unknown" if _reached(batch, stage) else "not_reached"
    yield PlanRow(
        id=f"{stage.id}.minutes",
        title=f"{name}: on the heat",
        unit="min",
        digits=0,
        planned=planned,
        purposed=_other(planned, purposed),
        actual=took,
        how=how,
    )
    weighed = batch.record.of(e.PotWeighed, stage.id)
    off = _figure(batch.walk, stage.id, "off_g") if _reached(batch, stage) else None
    planned_off, purposed_off = _figure(batch.planned, stage.id, "off_g"), _figure(asked, stage.id, "off_g")
    how = "not_reached" if off is None else "measured" if weighed else "computed"
    yield PlanRow(
        id=f"{stage.id}.off", title=f"{name}: water off", unit="g", digits=0, planned=planned_off,
        purposed=_other(planned_off, purposed_off), actual=off,
        how=how,
    )  # fmt: skip


def _kept(batch: ActualBatch, asked: Walk, stage: Strain) -> PlanRow:
    """What a sieve and the wet pot above it kept."""
    reached = _reached(batch, stage)
    how: How = "measured" if stage.id in batch.record.gave else "computed" if reached else "not_reached"
    planned, purposed = _lost(batch.planned, stage.id), _lost(asked, stage.id)
    return PlanRow(
        id=f"{stage.id}.lost", title=f"{stage.name or stage.title}: left behind", unit="g", digits=0, planned=planned,
        purposed=_other(planned, purposed), actual=_lost(batch.walk, stage.id) if reached else None, how=how,
    )  # fmt: skip


def _reading(batch: ActualBatch, asked: Walk, id: str) -> PlanRow | None:
    planned, purposed = reading_of(batch.planned, id), reading_of(asked, id)
    if not np.isfinite(planned.value[0]):
        return None
    reached = batch.record.status != "stopped"
    actual = finite_or_none(float(reading_of(batch.walk, id).value[0])) if reached else None
    was = float(planned.value[0])
    if abs(was) < 1e-9 and abs(actual or 0.0) < 1e-9:
        return None  # no fat was planned and none came
    return PlanRow(
        id=id, title=planned.title, unit=planned.unit, digits=planned.digits, planned=was,
        purposed=_other(was, float(purposed.value[0])), actual=actual,
        how="computed" if reached else "not_reached",
    )  # fmt: skip


def _other(planned: float | None, purposed: float | None) -> float | None:
    """What was asked for since, where it is another figure than the plan's."""
    if purposed is None or not np.isfinite(purposed):
        return None
    return purposed if planned is None or abs(purposed - planned) > 1e-3 * max(abs(planned), 1.0) else None


def _grams(walked: Walk, id: str) -> float | None:
    return float(walked.end.lines[id][0]) if id in walked.end.lines else None


def _has(walked: Walk, stage: str) -> bool:
    return any(each.id == stage for each in walked.stages)


def _minutes(walked: Walk, stage: str) -> float | None:
    if not _has(walked, stage):
        return None
    figures = walked.step(stage).figures
    return float(figures["heat_up_s"][0, 1] + figures["boil_s"][0, 1]) / 60


def _figure(walked: Walk, stage: str, name: str) -> float | None:
    return float(walked.step(stage).figures[name][0]) if _has(walked, stage) else None


def _lost(walked: Walk, stage: str) -> float | None:
    if not _has(walked, stage):
        return None
    figures = walked.step(stage).figures
    return float(figures["cake_g"][0] + figures["film_g"][0])
