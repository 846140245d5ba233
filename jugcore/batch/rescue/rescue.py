"""Put right: from what was observed, what to do with what is still to come, or to start again.

Rescue is ways from the batch as it is: what is done and what is in stays; only what comes
after may change, or be stirred in, or boiled off. What is chosen becomes the document the
batch follows from then on.
"""

from __future__ import annotations

import numpy as np

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.rescue.line import line_off
from jugcore.batch.rescue.rescue_suggestion import Rescue, finished_parts
from jugcore.batch.rescue.temperature import temperature_missed
from jugcore.errors import BadDocument
from jugcore.solving.linearise import reading_of
from jugcore.suggesting.suggestion import moves_between
from jugcore.suggesting.suggestions import suggestions


def rescue(batch: ActualBatch, about: str, value: float | None = None) -> Rescue:
    """What can be done about something that is off plan.

    ``about`` is a reading (``value`` what it should be, else what was planned),
    ``line:<id>`` for a line that was weighed off, or ``stage:<id>`` for a temperature that
    was missed. Raises BadDocument for what is neither,
    or has no value here.
    """
    kind, _, what = about.partition(":")
    if kind == "line":
        return line_off(batch, what)
    if kind == "stage":
        return temperature_missed(batch, what)
    planned = reading_of(batch.planned, about)
    aim = float(planned.value[0]) if value is None else value
    if not np.isfinite(aim):
        raise BadDocument("value", f"{planned.title} was not planned to have a value.", "Say what it should be.")
    done, within = finished_parts(batch)
    found = suggestions(batch.method, about, aim, batch.walk.kitchen, done=done, within=within)
    left = moves_between(batch.planned, batch.walk, about)
    return Rescue(about, planned.title, planned.unit, planned.digits, aim, found.before, found.suggestions, found.why_not, left)
