"""A batch for tests: a log that is written entry by entry, at given minutes, from given tablets."""

from __future__ import annotations

import json
import random
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID

from pydantic import TypeAdapter

from jugcore.batch.actual.actual_batch import ActualBatch, actual_batch, planned_walk
from jugcore.batch.log import events as e
from jugcore.batch.log.record import Record, read_record
from jugcore.batch.sheet.run_sheet import sheet
from jugcore.batch.sheet.schema import SheetReport, SheetStep
from jugcore.method.compile import parse_document
from jugcore.method.document import MethodDocument

START = datetime(2026, 3, 2, 6, 0, tzinfo=UTC)
_WHAT: TypeAdapter[Any] = TypeAdapter(e.What)
_KITCHEN = {
    "altitude_m": 640,
    "pots": [{"id": "wide", "name": "Wide 8 l pot", "tare_g": 1243, "diameter_cm": 28, "capacity_ml": 8000}],
    "burners": [{"id": "gas", "name": "Gas", "power_w": 3500, "efficiency": 0.4}],
    "scales": [
        {"id": "bench", "name": "Bench scale", "capacity_g": 5000, "resolution_g": 1},
        {"id": "spice", "name": "Spice scale", "capacity_g": 200, "resolution_g": 0.01},
    ],
    "sieves": [{"id": "drum", "name": "Drum sieve", "mesh_um": 90}],
}


def pear_syrup(**changes: Any) -> MethodDocument:
    """Pressed pear, as much water, as much sugar as both, spice per kilo started; boiled to 64 °Bx, strained, filled."""
    raw = {
        "name": "Pear syrup",
        "kitchen": _KITCHEN,
        "vessels": [{"id": "pot", "name": "Wide pot", "pot": "wide"}, {"id": "jug", "name": "Jug"}, {"id": "bottles", "name": "Bottles"}],
        "stages": [
            {"id": "juice", "kind": "add", "name": "Juice and water", "vessel": "pot", "lines": [
                {"id": "pear", "substance": "pear_juice", "amount": "430 g"}, {"id": "water", "substance": "water", "amount": "as the pear juice"}]},
            {"id": "sweeten", "kind": "add", "name": "Sugar", "vessel": "pot", "lines": [{"id": "sugar", "substance": "white_sugar", "amount": "as both"}]},
            {"id": "season", "kind": "add", "name": "Spice", "vessel": "pot", "lines": [
                {"id": "mace", "substance": "mace", "amount": "4 g per kg started"},
                {"id": "cardamom", "substance": "green_cardamom", "amount": "12 g per kg started"}]},
            {"id": "boil", "kind": "boil", "vessel": "pot", "until": {"brix": 64}, "burner": "gas"},
            {"id": "strain", "kind": "strain", "vessel": "pot", "into": "jug", "sieve": "drum", "pressed": True},
            {"id": "fill", "kind": "fill", "vessel": "jug", "into": "bottles", "size_ml": 500},
        ],
        **changes,
    }  # fmt: skip
    return parse_document(json.loads(json.dumps(raw))).document


def blended() -> MethodDocument:
    """The same syrup with its spices put together in a bowl of their own first."""
    raw = pear_syrup().model_dump(mode="json", exclude_none=True)
    raw["vessels"].append({"id": "bowl", "name": "Bowl"})
    stages = []
    for stage in raw["stages"]:
        if stage["id"] != "season":
            stages.append(stage)
            continue
        anise = {"id": "anise", "substance": "star_anise", "amount": "3 g per kg started"}
        stages.append({**stage, "kind": "blend", "vessel": "bowl", "lines": [*stage["lines"], anise]})
        stages.append({"id": "spices", "kind": "join", "name": "Spice in", "vessel": "pot", "source": "bowl"})
    return parse_document({**raw, "stages": stages}).document


class Book:
    """A batch and its log, written as it is cooked."""

    def __init__(self, document: MethodDocument | None = None, seed: int = 1) -> None:
        self.document = document or pear_syrup()
        self.log: list[e.Logged] = []
        self._random = random.Random(seed)

    def enter(self, kind: str, *, minute: float = 0.0, by: str = "rafe", device: str = "tablet-a", seen: int | None = None, **what: Any) -> UUID:
        """Add an entry; by default its tablet knows of everything before."""
        event = e.Event(
            id=UUID(int=self._random.getrandbits(128)), at=START + timedelta(minutes=minute), by=by, device=device,
            seen=len(self.log) if seen is None else seen, what=_WHAT.validate_python({"kind": kind, **what}),
        )  # fmt: skip
        self.log.append(e.Logged(len(self.log) + 1, event))
        return event.id

    def cook_to(self, stage: str, *, minute: float = 0.0) -> None:
        """Everything before a stage done as asked."""
        for each in self.document.stages:
            if each.id == stage:
                return
            self.enter("done", stage=each.id, minute=minute)

    @property
    def record(self) -> Record:
        return read_record(self.log)

    def actual_batch(self) -> ActualBatch:
        return actual_batch(planned_walk(self.document), self.record)

    def sheet(self, minute: float = 0.0) -> SheetReport:
        return sheet(self.document, self.log, START + timedelta(minutes=minute))

    def step(self, id: str, minute: float = 0.0) -> SheetStep:
        return next(step for step in self.sheet(minute).steps if step.id == id)


def random_log(document: MethodDocument, seed: int, length: int = 40) -> list[e.Logged]:
    """Entries of every kind about what is there and what is not, from three tablets that know more or less of each other."""
    rng = random.Random(seed)
    stages = [stage.id for stage in document.stages] + ["nowhere"]
    lines = [line.id for stage in document.stages for line in stage.ingredients] + ["nothing"]
    book = Book(document, seed)

    def grams() -> float:
        return round(rng.choice([rng.uniform(0.01, 20), rng.uniform(20, 3000)]), 2)

    def what() -> tuple[str, dict[str, Any]]:
        stage, line = rng.choice(stages), rng.choice(lines)
        tare = rng.choice([0.0, 1243.0])
        kinds: list[tuple[str, dict[str, Any]]] = [
            ("weighed", {"line": line, "reads_g": grams() + tare, "tare_g": tare, "more": rng.random() < 0.2}),
            ("pot_weighed", {"stage": stage, "reads_g": grams() + tare, "tare_g": tare}),
            ("gave", {"stage": stage, "reads_g": grams()}),
            ("probed", {"stage": stage, "temperature_c": round(rng.uniform(-10, 150), 1)}),
            ("refracted", {"stage": stage, "reading_brix": round(rng.uniform(0, 95), 1), "sample_c": rng.choice([20, 40, 90]), "line": rng.choice([None, line])}),
            ("reckoned", {"line": line, "brix": round(rng.uniform(0.1, 95), 1)}),
            ("swapped", {"line": line, "substance": rng.choice(["demerara_sugar", "water", "no_such_thing"])}),
            ("began", {"stage": stage}), ("done", {"stage": stage}),
            ("bottled", {"stage": stage, "count": rng.randint(1, 4), "each_g": grams()}),
            ("labelled", {"label": rng.choice(["made", "opened"]), "count": rng.randint(1, 9)}),
            ("left_over", {"stage": stage, "mass_g": grams(), "fate": rng.choice(["kept", "tasted", "binned"])}),
            ("kept_aside", {"stage": stage, "mass_g": grams()}),
            ("wasted", {"mass_g": grams(), "reason": "spilt"}),
            ("noted", {"text": "foams"}), ("frozen", {}), ("thawed", {}),
            ("timer", {"timer": "t", "title": "Steep", "seconds": 60}), ("timer_off", {"timer": "t"}),
            ("undone", {"entry": rng.choice(book.log).event.id if book.log else UUID(int=seed)}),
            ("accepted", {"about": rng.choice([f"line:{line}", "brix", "nothing"]), "actual": grams()}),
            ("settled", {"question": rng.choice([f"weighed:{line}", f"bottled:{stage}", f"pot_weighed:{stage}", "wasted", "closed"]), "keep": [rng.choice(book.log).event.id if book.log else UUID(int=seed)]}),
            ("closed", {"outcome": "stopped", "reason": "burnt"}),
        ]  # fmt: skip
        return rng.choice(kinds)

    for n in range(length):
        kind, body = what()
        known = rng.randint(max(0, n - 6), n)
        book.enter(kind, minute=n * 0.7, device=rng.choice("abc"), by=rng.choice(["rafe", "mina"]), seen=known, **body)
    return book.log


def data_path(name: str) -> Path:
    return Path(__file__).parent / "data" / name
