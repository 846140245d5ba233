"""A temperature that was missed: warm or cool once more, while that still means something."""

from __future__ import annotations

from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.deviations import missed_c
from jugcore.batch.rescued import Rescue, finished_parts, walked_way, where_now
from jugcore.errors import BadDocument, shown
from jugcore.formula.edits import insert_stage, new_id, settled
from jugcore.formula.way import Way, moves_between
from jugcore.method.stages import Boil, Cool, Heat


def temperature_missed(batch: AsItIs, id: str) -> Rescue:
    """A temperature that was missed: warm or cool once more, while that still means something."""
    stage = next((s for s in batch.method.stages if s.id == id), None)
    missed = None if stage is None else missed_c(batch, stage)
    if stage is None or missed is None or not isinstance(stage, Heat | Cool):
        raise BadDocument("about", f"“{id}” is no temperature that was missed.", "Name a warming or a cooling that was probed and is done.")
    asked, was = missed
    title = stage.name or stage.title
    done, _ = finished_parts(batch)
    ids = [s.id for s in batch.method.stages]
    place = max(ids.index(id) + 1, next((i for i, s in enumerate(batch.method.stages) if s.id not in done), len(ids)))
    since = batch.method.stages[ids.index(id) + 1 : place]
    ways: list[Way] = []
    if isinstance(stage, Heat) and was > asked:
        why = f"It was {shown(round(was - asked))} °C hotter than asked; that cannot be taken back. Taste it: go on as it is, or start again."
    elif any(isinstance(s, Boil) for s in since):
        why = "It has boiled since: what was to be warm or cool before that no longer matters."
    else:
        document = settled(batch.method)
        vessel = where_now(stage, document, place)
        again = stage.model_copy(update={"id": new_id(document, "again"), "vessel": vessel, "to_c": asked, "name": f"{title}, again"[:120]})
        words = f"{'Warm' if isinstance(stage, Heat) else 'Cool'} it to {shown(asked)} °C once more"
        ways, why = list(walked_way(batch, "again", words, insert_stage(document, again, place))), "It cannot be done in what it is in now."
    left = moves_between(batch.planned, batch.walk)
    return Rescue(f"stage:{id}", title, "°C", 0, asked, was, tuple(ways), () if ways else (why,), left)
