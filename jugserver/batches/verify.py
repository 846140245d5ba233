"""Whether what is kept is what was kept: versions and batches by their fingerprints, logs by their numbers and the chain of their marks."""

from __future__ import annotations

from collections.abc import Iterator

from jugcore.batch.log.chain import first_mark, mark
from jugcore.editing.freeze import fingerprint_of
from jugserver.batches.log import as_chained
from jugserver.batches.models import Batch, LogEntry
from jugserver.formulas.models import Version


def faults() -> Iterator[str]:
    """Everything that is not as it was kept, in words."""
    for version in Version.objects.select_related("formula").iterator():
        if fingerprint_of(version.document) != version.fingerprint:
            yield f"Version {version.number} of {version.formula.name} is not what was saved."
    for batch in Batch.objects.order_by("started_at").iterator():
        if fingerprint_of(batch.document) != batch.fingerprint:
            yield f"{batch}: what it was started from is not what was kept."
        yield from _of_log(batch)


def _of_log(batch: Batch) -> Iterator[str]:
    """What is wrong with a batch's log: the first entry that does not fit, since every later one hangs on it."""
    chain, begun, seq = first_mark(str(batch.pk), batch.fingerprint), False, 0
    for entry in LogEntry.objects.filter(batch=batch).order_by("seq").iterator():
        seq += 1
        if entry.seq != seq:
            yield f"{batch}: entry {seq} is missing."
            return
        chain = mark(chain, as_chained(entry))
        begun = begun or entry.chain != ""
        if begun and entry.chain != chain:
            yield f"{batch}: entry {seq} is not what was kept, or one before it."
            return
    if seq != batch.last_seq:
        yield f"{batch}: its log ends at entry {seq}, and {batch.last_seq} were kept."
    elif begun and batch.chain != chain:
        yield f"{batch}: the mark of its newest entry is another."
