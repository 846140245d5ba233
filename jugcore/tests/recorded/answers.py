"""Walks, ways, scalings, solves and comparisons, as plain data."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial
from typing import Any

from jugcore.errors import DomainError
from jugcore.exchange.compare import Side, compare
from jugcore.method.compile import parse_document
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugcore.scaling.schema import ScaleReport, ScaleRequest, scale_report
from jugcore.solving.schema import SolveReport, SolveRequest, solve_report
from jugcore.suggesting.schema import SuggestionsReport, suggestions_report
from jugcore.tests.recorded.documents import Doc, example


def walked(document: Doc) -> Any:
    found = report(walk(parse_document(document))).model_dump(mode="json")
    for stage in found["stages"]:
        # Of a long curve its ends and its middle.
        stage["trace"] = stage["trace"] and {name: [curve[i] for i in (0, len(curve) // 2, -1)] for name, curve in stage["trace"].items()}
    return found


def walk_example(stem: str) -> Any:
    return walked(example(stem))


def boil(document: Doc) -> Any:
    """What is said of the boil itself."""
    found = walked(document)
    return {
        "stage": found["stages"][1],
        "consequences": found["consequences"],
        "readings": {r["id"]: [r["low"], r["value"], r["high"]] for r in found["readings"]},
    }


def less(found: Any) -> Any:
    """An answer without the document it carries, the seconds it took, and how many rounds."""
    if isinstance(found, dict):
        return {key: less(value) for key, value in found.items() if key not in ("document", "timing", "rounds")}
    return [less(value) for value in found] if isinstance(found, list) else found


def or_refused(answer: Callable[[], Any]) -> Any:
    """An answer as data, or what is said where there is none."""
    try:
        return less(answer().model_dump(mode="json"))
    except DomainError as refused:
        return {"field": refused.field, "message": refused.message, "remedy": refused.remedy}


def asked(answer: Callable[[Method], Any], document: Doc) -> Any:
    return or_refused(lambda: answer(parse_document(document)))


def _ways_to(reading: str, value: float, method: Method) -> SuggestionsReport:
    return suggestions_report(method, reading, value)


def ways(document: Doc, *typed: tuple[str, float]) -> Any:
    return {f"{reading} {value:g}": asked(partial(_ways_to, reading, value), document) for reading, value in typed}


def _scaled_by(ask: Doc, method: Method) -> ScaleReport:
    return scale_report(method, ScaleRequest.model_validate(ask))


def scaled(document: Doc, *asks: Doc) -> Any:
    return {json.dumps(ask): asked(partial(_scaled_by, ask), document) for ask in asks}


def _solved_for(ask: Doc, method: Method) -> SolveReport:
    return solve_report(method, SolveRequest.model_validate(ask))


def solved(document: Doc, *asks: Doc) -> Any:
    return {json.dumps(ask): asked(partial(_solved_for, ask), document) for ask in asks}


def compared(*documents: Doc) -> Any:
    sides = [Side(f"Side {n}", walk(parse_document(document))) for n, document in enumerate(documents, start=1)]
    return compare(sides).model_dump(mode="json")
