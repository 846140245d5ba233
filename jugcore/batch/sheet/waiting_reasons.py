"""What must not be done yet: an enzyme into a pot that kills it, dairy into bottles while it is warm."""

from __future__ import annotations

from collections.abc import Iterator

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.figures import shown
from jugcore.keeping.two_stage_cooling import FROM_C, MIDDLE_C
from jugcore.method.stages import Fill, StageBase
from jugcore.reading.processes.outcomes import before

#: Above this a standard enzyme is not put in, where its sheet is not known (common practice). [°C]
_STANDARD_C = 70.0
#: A probe and a walk agree to this. [°C]
_NEAR_C = 0.5
_COLD_KINDS = frozenset({"dairy", "plant"})


def stops_at(batch: ActualBatch, stage: StageBase) -> list[str]:
    """Why a stage must wait, in words; nothing once it is done."""
    if batch.record.done(stage.id) is not None:
        return []
    return [*_enzyme(batch, stage), *_warm_dairy(batch, stage)]


def _now_c(batch: ActualBatch, stage: StageBase) -> float | None:
    """How warm the stage's vessel is as it begins: by the probe where it was read at this stage, else by the walk."""
    probed = batch.record.of(e.Probed, stage.id)
    if probed:
        return probed[-1][1].temperature_c
    held = before(batch.walk, stage).vessels.get(stage.vessel)
    return float(held.warmth_c[0]) if held is not None and float(held.total_g[0]) > 0 else None


def _enzyme(batch: ActualBatch, stage: StageBase) -> Iterator[str]:
    if not stage.ingredients:
        return
    now_c = _now_c(batch, stage)
    for line in stage.ingredients:
        book = batch.method.substances[line.substance]
        if book.enzyme is None or now_c is None or line.id in batch.record.weighed or not float(batch.walk.end.lines[line.id][0]) > 0:
            continue
        most = book.enzyme.works_c.high if book.enzyme.works_c is not None else _STANDARD_C
        if now_c > most + _NEAR_C:
            yield (
                f"It is at {shown(round(now_c))} °C and {book.title} works up to {shown(round(most))} °C: hotter kills it. "
                f"Cool it to {shown(round(most))} °C or below, probe it, and only then weigh it in."
            )


def _warm_dairy(batch: ActualBatch, stage: StageBase) -> Iterator[str]:
    held = before(batch.walk, stage).vessels.get(stage.vessel) if isinstance(stage, Fill) else None
    now_c = _now_c(batch, stage)
    if held is None or now_c is None or not MIDDLE_C < now_c < FROM_C:
        return
    touched = batch.method.lines.keys() & held.touched
    if any(each.book.kind in _COLD_KINDS for id in touched for each in batch.method.contents_of(id)):
        cold = shown(round(batch.walk.kitchen.holding_c))
        yield f"It is at {shown(round(now_c))} °C: dairy is not bottled warm. Cool it to {cold} °C first, in ice water or shallow, and probe it."
