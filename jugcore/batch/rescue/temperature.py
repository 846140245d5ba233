"""A temperature or a hold that was missed: warm, cool or hold once more, while that still means something."""

from __future__ import annotations

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.rescue.rescue_suggestion import Rescue, finished_parts, walked_suggestion, where_now
from jugcore.batch.sheet.deviations import Missed, missed
from jugcore.batch.sheet.time_held import held_so_far
from jugcore.editing.edits import insert_stage, new_id, with_references_by_id
from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.method.document import MethodDocument
from jugcore.method.stages import Cool, Heat, Holding, StageBase
from jugcore.reading.processes.outcomes import hold_report
from jugcore.suggesting.suggestion import Suggestion, moves_between


def temperature_missed(batch: ActualBatch, id: str) -> Rescue:
    """A temperature that was missed, or a hold that was too cold, too hot or too short."""
    stage = next((s for s in batch.method.stages if s.id == id), None)
    found = None if stage is None else missed(batch, stage)
    if stage is None or found is None or not isinstance(stage, Heat | Cool | Holding):
        raise BadDocument(
            "about", f"“{id}” is not a temperature or hold that was missed.", "Name one that was probed and is done, or is held too short."
        )
    done, _ = finished_parts(batch)
    ids = [s.id for s in batch.method.stages]
    place = max(ids.index(id) + 1, next((i for i, s in enumerate(batch.method.stages) if s.id not in done), len(ids)))
    boiled = any(s.boils for s in batch.method.stages[ids.index(id) + 1 : place])
    if isinstance(stage, Holding):
        ways, why = _held_again(batch, stage, place, boiled)
    else:
        ways, why = _reached_again(batch, stage, found, place, boiled)
    left = moves_between(batch.planned, batch.walk)
    return Rescue(f"stage:{id}", stage.name or stage.title, found.unit, 0, found.asked, found.was, tuple(ways), () if ways else (why,), left)


def _reached_again(batch: ActualBatch, stage: Heat | Cool, found: Missed, place: int, boiled: bool) -> tuple[list[Suggestion], str]:
    if isinstance(stage, Heat) and found.was > found.asked:
        off = shown(round(found.was - found.asked))
        return [], f"It was {off} °C hotter than asked; that cannot be taken back. Taste it: go on as it is, or start again."
    if boiled:
        return [], "It has boiled since: what was to be warm or cool before that no longer matters."
    document = with_references_by_id(batch.method)
    vessel = where_now(stage, document, place)
    again = stage.model_copy(update={"id": new_id(document, "again"), "vessel": vessel, "to_c": found.asked, "name": _again(stage)})
    words = f"{'Warm' if isinstance(stage, Heat) else 'Cool'} it to {shown(found.asked)} °C once more"
    return list(walked_suggestion(batch, "again", words, insert_stage(document, again, place))), "It cannot be done in what it is in now."


def _held_again(batch: ActualBatch, stage: Holding, place: int, boiled: bool) -> tuple[list[Suggestion], str]:
    """Warm or cool it into its window where it is out of it, and hold it for what is missing."""
    asked = next((s for s in batch.followed.stages if s.id == stage.id), stage)
    assert isinstance(asked, Holding)
    so_far = held_so_far(batch, asked)
    if not so_far.done:
        return [], so_far.words
    if boiled:
        return [], "It has boiled since: holding it once more does not bring back what it was held for. Taste it, and test it cold."
    report = hold_report(batch.walk, stage, batch.walk.step(stage.id))
    if so_far.off == "hot" and report is not None and report.enzyme is not None:
        return [], f"{so_far.words} {report.enzyme.words}"
    rest = max(asked.for_min - (so_far.held_min or 0.0), 1.0)
    document = with_references_by_id(batch.method)
    vessel = where_now(stage, document, place)
    aim = _aim_c(batch, asked)
    at = place
    now_c = _warmth(batch, vessel, place)
    if aim is not None and now_c is not None and abs(now_c - aim) > 0.5:
        first = _brought_to(document, stage, vessel, aim, now_c)
        document, at = insert_stage(document, first, at), at + 1
    again = asked.model_copy(
        update={"id": new_id(document, "again"), "vessel": vessel, "for_min": round(rest, 1), "found": (), "name": _again(stage), "minutes": None}
    )
    held = f"hold it for {shown(round(rest))} min more"
    words = held[:1].upper() + held[1:] if aim is None else f"Bring it to {shown(round(aim))} °C and {held}"
    return list(walked_suggestion(batch, "again", words, insert_stage(document, again, at))), "It cannot be done in what it is in now."


def _aim_c(batch: ActualBatch, asked: Holding) -> float | None:
    """The temperature it was to be held at, as it begins."""
    step = next((step for each, step in zip(batch.planned.stages, batch.planned.steps, strict=True) if each.id == asked.id), None)
    return None if step is None or step.trace is None else float(step.trace.temperature_c[0, 0])


def _warmth(batch: ActualBatch, vessel: str, place: int) -> float | None:
    state = batch.walk.steps[place - 1].after if place else batch.walk.start
    held = state.vessels.get(vessel)
    return float(held.warmth_c[0]) if held is not None and float(held.total_g[0]) > 0 else None


def _brought_to(document: MethodDocument, stage: Holding, vessel: str, aim: float, now_c: float) -> StageBase:
    id, name = new_id(document, "bring"), f"Bring it to {shown(round(aim))} °C"
    if now_c < aim:
        return Heat(id=id, vessel=vessel, to_c=aim, name=name)
    return Cool(id=id, vessel=vessel, to_c=aim, how="cold_water" if aim > 20 else "fridge", name=name)


def _again(stage: StageBase) -> str:
    return f"{stage.name or stage.title}, again"[:120]
