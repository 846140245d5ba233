"""A hold or a steep at the hob: until when, how warm it should be, and what comes of it as it went so far."""

from __future__ import annotations

import datetime

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.log import events as e
from jugcore.batch.log.record import Record
from jugcore.batch.sheet.schema import ProbeReport, SheetHold
from jugcore.batch.sheet.time_held import HeldSoFar, held_so_far
from jugcore.method.phrases import spelt_minutes
from jugcore.method.stages import Holding, Steep
from jugcore.method.stages.hold import PLACE_NAMES
from jugcore.reading.processes.outcomes import before, drawn, enzymes_in, hold_report


def probe_of(record: Record, stage: str) -> ProbeReport | None:
    """What the probe showed last at a stage."""
    probed = record.of(e.Probed, stage)
    if not probed:
        return None
    entry, what = probed[-1]
    return ProbeReport(at=entry.event.at, by=entry.event.by, temperature_c=what.temperature_c)


def _in(words: str) -> str:
    """What the liquid draws, as a sentence."""
    return f" {words[:1].upper()}{words[1:]}." if words else ""


def _lost_min(so_far: HeldSoFar) -> float:
    """Minutes since it was begun that do not count."""
    if so_far.held_min is None or so_far.elapsed_min is None:
        return 0.0
    return max(so_far.elapsed_min - so_far.held_min, 0.0)


def hold_sheet(batch: ActualBatch, stage: Holding, asked: Holding, now: datetime.datetime) -> SheetHold | None:
    """A hold as it was asked, and what it comes to by the temperatures that were entered before it and during it."""
    walked, record = batch.walk, batch.record
    found = hold_report(walked, stage, walked.step(stage.id))
    if found is None:
        return None
    held = before(walked, stage).vessels.get(stage.vessel)
    window = next((book.enzyme.works_c for _, book in enzymes_in(walked, held) if book.enzyme), None) if found.enzyme and held is not None else None
    words = [found.enzyme.words] if found.enzyme else []
    if isinstance(stage, Steep):
        words += [
            f"{each.title[:1].upper()}{each.title[1:]}: {spelt_minutes(round(each.least_min))} to {spelt_minutes(round(each.most_min))} "
            f"is usual at that temperature.{_in(each.medium_words)}"
            for each in drawn(walked, stage)
        ]
    began = record.began(stage.id)
    so_far = held_so_far(batch, asked, now)
    return SheetHold(
        where=PLACE_NAMES[asked.where], for_min=asked.for_min, starts_c=found.starts_c, ends_low_c=found.ends_c.low, ends_high_c=found.ends_c.high,
        window_low_c=window.low if window else None, window_high_c=window.high if window else None, words=" ".join(words),
        due_at=None if began is None or so_far.off in ("cold", "hot") else began + datetime.timedelta(minutes=asked.for_min + _lost_min(so_far)),
        probe=probe_of(record, stage.id), held_min=so_far.held_min, off=so_far.off, off_words=so_far.words,
        counts_low_c=so_far.window.low_c, counts_high_c=so_far.window.high_c,
    )  # fmt: skip
