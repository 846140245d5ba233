"""Every calculator there is, and asking one as plain data."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, Field

from jugcore.calculators.acid import AcidAdjust, AcidSolution, Saline
from jugcore.calculators.base import Answer, Calculator, as_weighed, calculate
from jugcore.calculators.dairy import StandardiseFat, TinSweet
from jugcore.calculators.measure import Refractometer, ScaleStep, Spoons
from jugcore.calculators.serve import BottleFill, OverrunByWeighing, Pump, WhippedCoffee
from jugcore.calculators.sugar import BoilingPoint, ColdLimit, CookDown, Dilute, SugarRatio
from jugcore.errors import BadDocument, DomainError, OutOfRange
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document

CALCULATORS: dict[str, Calculator] = {
    each.id: each
    for each in (
        SugarRatio(),
        CookDown(),
        Dilute(),
        Refractometer(),
        ColdLimit(),
        BoilingPoint(),
        StandardiseFat(),
        TinSweet(),
        AcidSolution(),
        AcidAdjust(),
        Saline(),
        Spoons(),
        ScaleStep(),
        Pump(),
        BottleFill(),
        WhippedCoffee(),
        OverrunByWeighing(),
    )
}


class CalculatorChoiceReport(BaseModel):
    """One of the answers a field may be given."""

    value: str
    title: str


class CalculatorFieldReport(BaseModel):
    """A field of a calculator, and what stands in it."""

    id: str
    title: str
    kind: str = Field(description="number, choice, ingredient or text.")
    unit: str
    digits: int
    choices: list[CalculatorChoiceReport]
    two_way: bool = Field(description="Whether it follows when another is typed.")
    help: str
    value: float | str


class CalculatorLineReport(BaseModel):
    """Something that comes out and cannot be typed."""

    title: str
    value: float
    unit: str
    digits: int
    low: float | None
    high: float | None


class SquareReport(BaseModel):
    """The mixing square: fat of the one, of the other, what is wanted, and parts of each."""

    a: float
    b: float
    wanted: float
    parts_a: float
    parts_b: float


class CalculatorReport(BaseModel):
    """What a calculator came to: its fields, what comes out, sentences, and a document to carry into a formula."""

    id: str
    title: str
    what: str
    fields: list[CalculatorFieldReport]
    lines: list[CalculatorLineReport]
    words: list[str]
    square: SquareReport | None
    document: MethodDocument | None


class CalculatorCard(BaseModel):
    """A calculator in the list."""

    id: str
    title: str
    what: str


def calculator_cards() -> list[CalculatorCard]:
    """Every calculator, as the list shows it."""
    return [CalculatorCard(id=each.id, title=each.title, what=each.what) for each in CALCULATORS.values()]


def calculator_report(
    id: str, kitchen: Kitchen, values: Mapping[str, Any], typed: str, substances: Mapping[str, SubstanceDoc] | None = None
) -> CalculatorReport:
    """Calculate, as plain data.

    Raises BadDocument for a calculator or choice that is none, OutOfRange at a field that is no number or cannot be.
    """
    which = CALCULATORS.get(id)
    if which is None:
        raise BadDocument("calculator", f"“{id}” is not a calculator here.", f"Use one of: {', '.join(CALCULATORS)}.")
    answer = calculate(which, kitchen, values, typed, substances)
    standing = {**which.starts(kitchen), **{k: v for k, v in values.items() if any(f.id == k for f in which.fields)}, **answer.values}
    document = answer.document
    return CalculatorReport(
        id=which.id,
        title=which.title,
        what=which.what,
        fields=[
            CalculatorFieldReport(
                id=f.id,
                title=f.title,
                kind=f.kind,
                unit=f.unit,
                digits=f.digits,
                choices=[CalculatorChoiceReport(value=x.value, title=x.title) for x in f.choices],
                two_way=f.two_way,
                help=f.help,
                value=_shown(standing[f.id], f.kind),
            )
            for f in which.fields
        ],
        lines=_lines(answer),
        words=list(answer.words),
        square=None
        if answer.square is None
        else SquareReport(a=answer.square[0], b=answer.square[1], wanted=answer.square[2], parts_a=answer.square[3], parts_b=answer.square[4]),
        document=None if document is None else _carried(document, kitchen, typed or which.fields[0].id),
    )


def _carried(document: dict[str, Any], kitchen: Kitchen, typed: str) -> MethodDocument:
    """What a calculator carries into a formula. Raises OutOfRange at what was typed where no formula takes as much."""
    try:
        return load_document(as_weighed(document, kitchen))
    except DomainError:
        raise OutOfRange(typed, "The result is outside what a formula takes.", "Type a figure that a kitchen can make.") from None


def _shown(value: Any, kind: str) -> float | str:
    """What stands in a field: numbers as numbers."""
    return float(str(value).strip().replace(",", ".")) if kind == "number" else str(value)


def _lines(answer: Answer) -> list[CalculatorLineReport]:
    return [
        CalculatorLineReport(title=x.title, value=x.value, unit=x.unit, digits=x.digits, low=x.low, high=x.high)
        for x in answer.lines
        if math.isfinite(x.value)
    ]
