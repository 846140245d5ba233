"""Times in the freezer, read off a batch's log."""

from __future__ import annotations

from jugcore.batch.log import events as e
from jugcore.batch.log.record import Record
from jugcore.batch.sheet.schema import FrozenSpan


def frozen_spans(record: Record) -> list[FrozenSpan]:
    """Each time in the freezer by the clock of its entries; what went in twice or came out twice counts once."""
    spans: list[FrozenSpan] = []
    moves = sorted([*record.of(e.Frozen), *record.of(e.Thawed)], key=lambda move: move[0].event.at)
    for entry, what in moves:
        inside = bool(spans) and spans[-1].until is None
        if isinstance(what, e.Frozen) and not inside:
            spans.append(FrozenSpan(since=entry.event.at, until=None, how=what.how))
        elif isinstance(what, e.Thawed) and inside:
            spans[-1] = spans[-1].model_copy(update={"until": entry.event.at})
    return spans
