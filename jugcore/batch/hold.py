"""A hold or a steep at the hob: until when, how warm it should be, and what comes of it as it went so far."""

from __future__ import annotations

import datetime

from jugcore.batch import events as e
from jugcore.batch.as_it_is import AsItIs
from jugcore.batch.record import Record
from jugcore.batch.shapes import ProbeReport, SheetHold
from jugcore.formula.processes import before, drawn, enzymes_in, hold_report
from jugcore.formula.summary import PLACES, long
from jugcore.method.stages import Holding, Steep


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


def hold_sheet(batch: AsItIs, stage: Holding, asked: Holding) -> SheetHold | None:
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
            f"{each.title}: {long(round(each.least_min))} to {long(round(each.most_min))} is usual at that heat.{_in(each.medium_words)}"
            for each in drawn(walked, stage)
        ]
    began = record.began(stage.id)
    return SheetHold(
        where=PLACES[asked.where], for_min=asked.for_min, starts_c=found.starts_c, ends_low_c=found.ends_c.low, ends_high_c=found.ends_c.high,
        window_low_c=window.low if window else None, window_high_c=window.high if window else None, words=" ".join(words),
        due_at=None if began is None else began + datetime.timedelta(minutes=asked.for_min), probe=probe_of(record, stage.id),
    )  # fmt: skip
