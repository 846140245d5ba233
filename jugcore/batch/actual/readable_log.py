"""A batch read as far as its log can be: entries it cannot be read with are put aside, each with what is wrong, and the rest is read.

No entry is refused for what it says, so one day one says what nothing can be worked out with. That is a state of that
batch and of nothing else.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TypeVar

from jugcore.batch.actual.actual_batch import ActualBatch, Aside, actual_batch
from jugcore.batch.log.events import Logged
from jugcore.batch.log.record import read_record
from jugcore.method.walk import Walk

_T = TypeVar("_T")
_Attempt = Callable[[Sequence[Logged], Sequence[Aside]], object]
#: So many entries are looked for one by one; if there are more, everything since the next is put aside.
_MOST_LOOKED_FOR = 8


def readable(planned: Walk, log: Sequence[Logged], use: Callable[[ActualBatch], _T]) -> tuple[ActualBatch, _T]:
    """The batch as it is and what ``use`` makes of it, without the entries that stand in the way of either.

    ``planned`` is what it was started from. Raises whatever comes of a batch without a single entry.
    """
    entries = sorted(log, key=lambda entry: entry.seq)
    last = entries[-1].seq if entries else 0

    def attempt(those: Sequence[Logged], aside: Sequence[Aside]) -> tuple[ActualBatch, _T]:
        record = replace(read_record(those), seq=last)
        found = replace(actual_batch(planned, record), aside=tuple(sorted(aside, key=lambda each: each.entry.seq)))
        return found, use(found)

    aside: list[Aside] = []
    while True:
        try:
            return attempt(entries, aside)
        except Exception as error:  # whatever it is belongs to an entry, is told with it and kept in it
            if not entries:
                raise
            first, wrong = _first_that_breaks(attempt, entries, aside, error)
        gone = entries[first:] if len(aside) >= _MOST_LOOKED_FOR else entries[first : first + 1]
        aside += [Aside(entry, wrong) for entry in gone]
        entries = [entry for entry in entries if entry not in gone]


def _first_that_breaks(attempt: _Attempt, entries: Sequence[Logged], aside: Sequence[Aside], error: Exception) -> tuple[int, Exception]:
    """An entry with which the log cannot be read any more though it could without: its place, and what is wrong.

    Halves what lies between a beginning that can be read and one that cannot; the empty one is taken to be readable.
    """
    good, bad = 0, len(entries)
    while bad - good > 1:
        middle = (good + bad) // 2
        try:
            attempt(entries[:middle], aside)
        except Exception as found:  # as above
            bad, error = middle, found
        else:
            good = middle
    return bad - 1, error
