"""Batches with their logs: what the hob shows after each, what may be doubted, and what is offered where something went wrong."""

from __future__ import annotations

from datetime import timedelta
from functools import partial
from typing import Any

from jugcore.batch.requests import batch_report, rescue_report
from jugcore.families.family import families
from jugcore.tests.batches import START, Book, blended, pear_syrup, random_log
from jugcore.tests.recorded.answers import less, or_refused


def _reported(book: Book, minute: float) -> Any:
    told = batch_report(book.actual_batch(), book.log, START + timedelta(minutes=minute))
    found = less(told.model_dump(mode="json", exclude_none=True, exclude_defaults=True))
    return {
        "sheet": found["sheet"],
        "measurement_checks": found["measurement_checks"],
        "readings": {r["id"]: [r.get("low"), r.get("value"), r.get("high")] for r in found["walk"]["readings"]},
    }


def _short() -> Book:
    book = Book()
    book.enter("weighed", line="pear", reads_g=430, minute=1)
    book.enter("weighed", line="water", reads_g=455, minute=2)
    book.enter("done", stage="juice", minute=3)
    book.enter("weighed", line="sugar", reads_g=700, minute=5)
    return book


def _to_the_boil() -> Book:
    book = Book(blended())
    book.cook_to("boil", minute=10)
    book.enter("began", stage="boil", minute=12)
    book.enter("pot_weighed", stage="boil", reads_g=2700, tare_g=1243, minute=25)
    book.enter("probed", stage="boil", temperature_c=102.1, minute=26)
    book.enter("refracted", stage="boil", reading_brix=58, sample_c=40, minute=30)
    return book


def _doubted() -> Book:
    """The glass says four degrees more than the weights do."""
    book = Book()
    book.cook_to("boil", minute=5)
    book.enter("pot_weighed", stage="boil", reads_g=2640, tare_g=1243, minute=30)
    book.enter("refracted", stage="boil", reading_brix=70, sample_c=20, minute=30.5)
    return book


def _disagreed() -> Book:
    """Two tablets weigh the same pot and the same line, and neither knows of the other."""
    book = Book()
    book.cook_to("boil", minute=5)
    known = len(book.log)
    for device, off in (("tablet-a", 0.0), ("tablet-b", 90.0)):
        book.enter("weighed", line="sugar", reads_g=860 + off, device=device, seen=known, minute=6)
        book.enter("pot_weighed", stage="boil", reads_g=2800 + off, tare_g=1243, device=device, seen=known, minute=20)
    return book


def rescues() -> Any:
    """What is offered where a line or a reading is off plan."""
    off_plan: tuple[tuple[str, Book, str, float | None], ...] = (
        ("sugar short", _short(), "line:sugar", None), ("water over", _short(), "line:water", None), ("too thin", _to_the_boil(), "brix", 58.0),
        ("too little", _short(), "yield_g", 900.0), ("not hot enough", _to_the_boil(), "stage:boil", None), ("as planned", Book(), "brix", 64.0),
    )  # fmt: skip
    return {name: or_refused(partial(rescue_report, book.actual_batch(), about, value)) for name, book, about, value in off_plan}


def sheets() -> Any:
    """The run sheet of the last school of every family before anything is done, and half an hour into its middle stage."""
    found: dict[str, Any] = {}
    for one in families():
        for minute in (0.0, 30.0):
            book = Book(one.schools[-1].document)
            if minute:
                middle = book.document.stages[len(book.document.stages) // 2].id
                book.cook_to(middle, minute=1)
                book.enter("began", stage=middle, minute=2)
                book.enter("probed", stage=middle, temperature_c=61, minute=20)
            found[f"{one.id}, minute {minute:g}"] = {"steps": _reported(book, minute)["sheet"]["steps"]}
    return found


def logs() -> Any:
    wild = Book(pear_syrup(), 5)
    wild.log = random_log(wild.document, 5, 30)
    return {
        "begun": _reported(Book(), 0),
        "short": _reported(_short(), 8),
        "at the boil": _reported(_to_the_boil(), 31),
        "anything": _reported(wild, 60),
        "doubted": _reported(_doubted(), 31),
        "disagreed": _reported(_disagreed(), 25),
        "without scales": _reported(Book(pear_syrup(kitchen={})), 0),
    }
