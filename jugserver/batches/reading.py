"""A batch walked as planned and as it is, kept in this process by the number of its last entry."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import Any, TypeVar
from uuid import UUID

from jugcore.batch.actual.actual_batch import ActualBatch, planned_walk
from jugcore.batch.actual.readable_log import readable
from jugcore.batch.log.events import Logged
from jugcore.errors import BadDocument, DomainError
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.method.walk import Walk
from jugserver.batches.log import log_of_batch, logged
from jugserver.process.kept import Kept

logger = logging.getLogger(__name__)
_T = TypeVar("_T")
#: Batches kept walked in this process; a page asks for the same one again and again.
_walked_before: Kept[tuple[UUID, str, int], tuple[ActualBatch, list[Logged]]] = Kept(64)
#: What batches were started from, walked as planned: no entry changes that. By id and fingerprint: a start that was rolled back
#: leaves its id to another.
_planned_before: Kept[tuple[UUID, str], Walk] = Kept(64)


def forget() -> None:
    """Read every batch anew when it is next asked for."""
    _walked_before.clear()
    _planned_before.clear()


def walked(batch: Any) -> tuple[ActualBatch, list[Logged]]:
    """A batch walked as planned and as it is, and its log; kept in this process by the number of its last entry."""
    found, log, _ = reckoned(batch, lambda found, log: None)
    return found, log


def reckoned(batch: Any, use: Callable[[ActualBatch, list[Logged]], _T]) -> tuple[ActualBatch, list[Logged], _T]:
    """A batch walked, its log, and what ``use`` makes of them, without the entries that stand in the way of that.

    Raises whatever comes of the batch without a single entry.
    """
    plan = (batch.pk, batch.fingerprint)
    key = (*plan, batch.last_seq)
    known = _walked_before.get(key)
    if known is not None:
        try:
            return *known, use(*known)
        except Exception:  # it is read once more below, and what stands in the way put aside and told
            logger.info("Batch %s cannot be used as it was read", batch.pk)
    log = logged(log_of_batch(batch.pk).filter(seq__lte=batch.last_seq))
    planned = _planned_before.get(plan) or _planned_before.keep(plan, planned_walk(_started_from(batch)))
    found, made = readable(planned, log, lambda found: use(found, log))
    for each in found.aside:
        if not isinstance(each.error, DomainError):
            logger.error("Batch %s is read without entry %s", batch.pk, each.entry.seq, exc_info=each.error)
    _walked_before.keep(key, (found, log))
    return found, log, made


def _started_from(batch: Any) -> MethodDocument:
    try:
        return load_document(batch.document)
    except DomainError:
        logger.exception("What batch %s was started from cannot be read", batch.pk)
        raise BadDocument("batch", f"What {batch} was started from cannot be read here.", "Open it with the release that started it.") from None
