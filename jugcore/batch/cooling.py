"""By when a cooling pot must be where, by the food code's two-stage rule, from when it began."""

from __future__ import annotations

import datetime

from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.shapes import Deadline
from jugcore.formula.keeping import keeping_report
from jugcore.formula.processes import before
from jugcore.formula.reading import readings
from jugcore.keeping.cooling import ALL_S, FIRST_S, FROM_C, MIDDLE_C
from jugcore.method.stages import Cool


def deadlines(batch: AsItIs, stage: Cool) -> list[Deadline]:
    """21 °C within two hours and the cold within six of when the cooling began, of what is held by time and temperature.

    Nothing before it began, of what was not as hot as 57 °C, and of what need not be held cold. The clock starts when
    the cooling was begun, which is no later than the food code's.
    """
    began = batch.record.began(stage.id)
    walked = batch.walk
    now = next((s for s in walked.stages if s.id == stage.id), None)
    held = None if now is None else before(walked, now).vessels.get(stage.vessel)
    if began is None or held is None or float(held.warmth_c[0]) < FROM_C:
        return []
    if keeping_report(walked, {reading.id: reading for reading in readings(walked)}).verdict == "not_controlled":
        return []
    marks = ((MIDDLE_C, FIRST_S), (walked.kitchen.holding_c, ALL_S))
    return [Deadline(at_most_c=t, by=began + datetime.timedelta(seconds=s)) for t, s in marks]
