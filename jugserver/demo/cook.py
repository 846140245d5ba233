"""Forty invented batches, cooked on paper: ``python -m jugserver.demo.cook`` writes ``batches.json`` anew.

Every figure is sampled around what the run sheet asks at that moment, with a fixed seed:
scales and hands scatter a little, some pots are boiled too far, a juice comes short, a
spice goes over, a temperature is missed, something is spilt. Nothing of it was measured.
"""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

import numpy as np
from pydantic import TypeAdapter

from jugcore.batch.actual.actual_batch import actual_batch, planned_walk
from jugcore.batch.log import events as e
from jugcore.batch.log.record import read_record
from jugcore.batch.rescue.rescue import rescue
from jugcore.batch.sheet.cooling_log import cooling_log
from jugcore.batch.sheet.run_sheet import sheet
from jugcore.batch.sheet.schema import SheetReport, SheetStep
from jugcore.editing.freeze import freeze
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugserver.demo.documents import demo_document
from jugserver.demo.load import BATCHES, demo_kitchen

#: Formula and how many batches of it in the nine weeks.
_COOKED = {
    "ferrymans-spice": 13, "weir-simple": 9, "damson-bay": 6, "fennel-sweet-cream": 6, "tin-sweet-half": 3, "malic-citric-six": 2, "saline": 1,
}  # fmt: skip
_DAYS = 63
#: Of one nobody probed the cooling in time.
_PROBED_LATE = 17
_WHAT: TypeAdapter[Any] = TypeAdapter(e.What)
_NOTES = (
    "Pears riper than last week, juice sweeter.", "Foamed up twice, stirred it down.", "New sack of sugar.", "Second burner was busy, began late.",
    "Sieve rinsed between pours.", "Clear as glass this time.", "Smells right.", "Needs a larger jug.",
)  # fmt: skip


class Cook:
    """One cook at one batch: enters what a pair of hands would."""

    def __init__(self, formula: str, rng: np.random.Generator, mishap: str | None) -> None:
        self.formula, self.rng, self.mishap = formula, rng, mishap
        document = demo_document(formula).model_copy(update={"kitchen": demo_kitchen()})
        self.document: MethodDocument = freeze(compile_document(document))
        self.by = str(rng.choice(["rafe", "rafe", "mina"]))
        self.start = datetime(2026, 1, 1, 6, tzinfo=UTC)
        self.minute = 0.0
        self.log: list[e.Logged] = []

    def enter(self, kind: str, wait: float = 0.5, **what: Any) -> None:
        """An entry, a little after the last."""
        self.minute += wait * float(self.rng.uniform(0.7, 1.5))
        event = e.Event(
            id=UUID(bytes=self.rng.bytes(16), version=4), at=self.start + timedelta(minutes=self.minute), by=self.by, device="hob-tablet",
            seen=len(self.log), what=_WHAT.validate_python({"kind": kind, **what}),
        )  # fmt: skip
        self.log.append(e.Logged(len(self.log) + 1, event))

    def sheet(self) -> SheetReport:
        return sheet(self.document, self.log, self.start + timedelta(minutes=self.minute))

    def cook(self) -> None:
        """From the first line to the last bottle."""
        for _ in range(60):
            found = self.sheet()
            step = next((s for s in found.steps if s.id == found.now), None)
            if step is None:
                break
            self.do(step)
            if found.status != "running" or self.log[-1].event.what.kind == "closed":
                return
            self.enter("done", 0.4, stage=step.id)
        if self.mishap == "spilt":
            self.enter("wasted", 1, mass_g=round(float(self.rng.uniform(15, 60)), 0), reason="spilt at the funnel")
        if self.rng.random() < 0.3:
            self.enter("noted", 1, text=str(self.rng.choice(_NOTES)))
        self.enter("closed", 2)

    def chill(self, rng: np.random.Generator, late: bool) -> None:
        """After the hob: probed in time at every mark of the cooling log, or once too late, and why. Drawn by itself."""
        self.rng = rng
        for _ in range(3):
            log = cooling_log(actual_batch(planned_walk(self.document), read_record(self.log)))
            mark = None if log is None else next((mark for mark in log.marks if mark.state == "open"), None)
            if log is None or mark is None:
                return
            was, by = self.minute, (mark.by - self.start).total_seconds() / 60
            self.minute = by + 40 if late else max(was, by - float(rng.uniform(10, 70)))
            shows = round(mark.at_most_c - float(rng.uniform(0.2, 1.4)), 1)
            self.enter("probed", 0.0, stage=log.stage, temperature_c=shows)
            if late:
                self.enter("accepted", 1.0, about="cooling", actual=shows, title="Cooling", why="Cold, and probed too late: thrown away.")
                return

    def do(self, step: SheetStep) -> None:
        for line in step.lines:
            self.weigh(step, line.id)
        if step.warm is not None:
            self.enter("began", 0.3, stage=step.id)
            missed = self.mishap == "temperature"
            off = float(self.rng.uniform(8, 14)) if missed else float(self.rng.normal(0.5, 1.0))
            reads = step.warm.to_c + (off if step.kind == "heat" else abs(off) * 0.3 + (off if missed else 0))
            self.enter("probed", step.duration.typical_s / 60, stage=step.id, temperature_c=round(reads, 1))
        if step.boil is not None:
            self.boil(step.id)
        if step.expects_g is not None:
            self.enter(
                "gave", step.duration.typical_s / 60, stage=step.id, reads_g=round(step.expects_g * (1 - abs(float(self.rng.normal(0, 0.008)))))
            )
        if step.fill is not None and step.fill.per_container_g:
            left = step.fill.expects_g - abs(float(self.rng.normal(6, 5)))
            for _ in range(step.fill.containers):
                each = round(float(self.rng.normal(step.fill.per_container_g, 2)))
                self.enter("bottled", 0.8, stage=step.id, count=1, each_g=each)
                left -= each
            if left > 5:
                self.enter("left_over", 0.8, stage=step.id, mass_g=round(left), fate="kept" if left > 60 else "tasted")

    def weigh(self, step: SheetStep, id: str) -> None:
        """A line as the sheet asks for it now, within what hands and scale do."""
        line = next(each for s in self.sheet().steps if s.id == step.id for each in s.lines if each.id == id)
        grams = line.target_g * (1 + float(self.rng.normal(0, 0.003)))
        if self.mishap == "short" and id in ("juice", "puree", "damson"):
            grams = line.target_g * float(self.rng.uniform(0.84, 0.92))
        if self.mishap == "spice" and id in ("cardamom", "mace"):
            grams = line.target_g * float(self.rng.uniform(1.15, 1.3))
        shown = round(round(grams / line.resolution_g) * line.resolution_g, 3)
        before = 0.0 if line.pot_reads_g is None else round(line.pot_reads_g - line.target_g)
        on_pot = line.pot_reads_g is not None and self.rng.random() < 0.5
        self.enter("weighed", 0.8, line=id, reads_g=shown + before if on_pot else shown, tare_g=before if on_pot else 0.0)

    def boil(self, stage: str) -> None:
        self.enter("began", 0.3, stage=stage)
        pace = float(self.rng.uniform(0.85, 1.2))
        boil = next(s.boil for s in self.sheet().steps if s.id == stage)
        assert boil is not None
        past = float(self.rng.uniform(45, 130)) if self.mishap == "overshot" else float(self.rng.normal(-1, 5))
        self.minute += boil.heat_up.typical_s / 60
        gone = 0.0
        for share in (0.45, 0.8, 1.0):
            minutes = (share - gone) * boil.boil.typical_s / 60 * pace
            reads = boil.starts_reads_g - share * (boil.off_g + (past if share == 1.0 else 0.0))
            self.enter("pot_weighed", minutes, stage=stage, reads_g=round(reads), tare_g=boil.pot_tare_g)
            gone = share
        now = next(s.boil for s in self.sheet().steps if s.id == stage)
        assert now is not None and now.brix_now is not None
        self.enter("probed", 0.2, stage=stage, temperature_c=round(boil.probe_c + float(self.rng.normal(0, 0.4)), 1))
        self.enter("refracted", 0.6, stage=stage, reading_brix=round(now.brix_now + float(self.rng.normal(0, 0.35)), 1), sample_c=20.0)
        if self.mishap == "burnt":
            self.enter("closed", 1, outcome="stopped", reason="caught on the pot while the phone rang", again=True)
            return
        if self.mishap == "overshot":
            ways = rescue(actual_batch(planned_walk(self.document), read_record(self.log)), "brix").suggestions
            water = next((way for way in ways if "water" in way.title), None)
            if water is not None:
                self.enter(
                    "put_right",
                    1.5,
                    title=water.title,
                    why="boiled past the stop",
                    document=water.document.model_dump(mode="json", exclude_none=True),
                )


def main() -> None:
    rng = np.random.default_rng(20260302)
    plan = [name for name, times in _COOKED.items() for _ in range(times)]
    rng.shuffle(plan)
    mishaps = ["short", "spice", "overshot", "temperature", "spilt", "overshot", "burnt", "short"]
    # Mishaps fall where they can: on the boiled ones.
    boiled = [i for i, name in enumerate(plan) if name == "ferrymans-spice"]
    fate = dict(zip(rng.permutation(boiled).tolist(), mishaps, strict=False))
    batches: list[dict[str, Any]] = []
    for i, name in enumerate(plan):
        cook = Cook(name, rng, fate.get(i))
        cook.cook()
        cook.chill(np.random.default_rng(i), late=i == _PROBED_LATE)
        days = _DAYS - 1 - i * (_DAYS - 2) / len(plan)
        started = float(rng.uniform(5.6, 8.4))
        entries = [
            {
                "minute": round((entry.event.at - cook.start).total_seconds() / 60, 2),
                **entry.event.model_dump(mode="json", exclude={"at"}, exclude_none=True),
            }
            for entry in cook.log
        ]
        batches.append({"formula": name, "by": cook.by, "days_ago": int(days), "hour": round(started, 2), "entries": entries})
    BATCHES.write_text(json.dumps(batches, ensure_ascii=False, separators=(",", ":")) + "\n", encoding="utf-8")
    print(f"{len(batches)} batches, {sum(len(b['entries']) for b in batches)} entries, {Path(BATCHES).stat().st_size // 1000} kB")


if __name__ == "__main__":
    main()
