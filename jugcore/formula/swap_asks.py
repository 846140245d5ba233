"""Swaps as plain data, in and out."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jugcore.formula.asks import WayReport, way_report
from jugcore.formula.swap import MOST_PARTS, swap
from jugcore.method.document import Method, MethodDocument
from jugcore.method.fields import Id, Part


class SwapAsk(Part):
    """An ingredient for another: the line, what comes in its place with shares of the weight, and which readings shall stay."""

    line: Id
    parts: dict[Id, float] = Field(min_length=1, max_length=MOST_PARTS)
    hold: tuple[Id, ...] | None = Field(None, max_length=5, description="Readings that shall stay; else those usual for the kind.")


class DifferenceReport(BaseModel):
    """Something that is no reading and changes."""

    about: str
    before: str
    after: str


class SwapReport(BaseModel):
    """What a swap comes to."""

    line: str
    before: str
    after: str
    held: list[str]
    ways: list[WayReport]
    differences: list[DifferenceReport]
    why_not: list[str]


def swap_report(method: Method, ask: SwapAsk, asked: MethodDocument | None = None) -> SwapReport:
    """Swap, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    found = swap(method, ask.line, ask.parts, ask.hold)
    return SwapReport(
        line=found.line, before=found.before, after=found.after, held=list(found.held), why_not=list(found.why_not),
        ways=[way_report(way, asked or method.document) for way in found.ways],
        differences=[DifferenceReport(about=d.about, before=d.before, after=d.after) for d in found.differences],
    )  # fmt: skip
