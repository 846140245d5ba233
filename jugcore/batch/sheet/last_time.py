"""How long each stage took the last time, by a batch's log: what a guess of this time stands beside."""

from __future__ import annotations

from collections.abc import Iterable

from jugcore.batch.log.events import Began, Logged
from jugcore.batch.log.record import read_record


def minutes_by_stage(log: Iterable[Logged]) -> dict[str, float]:
    """Minutes from the entry that began a stage to the one that ended it, by the stage's id.

    Only stages with both entries, neither of them undone; one that ended before it began by its tablet's clock is left out.
    """
    record = read_record(log)
    found: dict[str, float] = {}
    for stage in {what.stage for _, what in record.of(Began)}:
        began, done = record.began(stage), record.done(stage)
        if began is not None and done is not None and done.event.at > began:
            found[stage] = (done.event.at - began).total_seconds() / 60
    return found
