"""Suggestions as plain data, in and out: what a shell, the server and a screen exchange."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import BaseModel, Field

from jugcore.editing.edits import as_sent
from jugcore.fields import Id, Part
from jugcore.figures import finite_or_none
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.suggesting.overshot import overshot
from jugcore.suggesting.substitute import MOST_PARTS, substitute
from jugcore.suggesting.suggestion import Move, Suggestion
from jugcore.suggesting.suggestions import suggestions


class MoveReport(BaseModel):
    """A reading before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float | None
    after: float | None


class SuggestionReport(BaseModel):
    """One way: what to do in grams, which ties it keeps and breaks, what else moves, and the document that does it."""

    id: str
    kind: str
    title: str
    todo: list[str]
    ties_kept: list[str]
    ties_broken: list[str]
    value: float | None = Field(description="What was typed over, now; nothing where nothing was.")
    tolerance: float
    moves: list[MoveReport]
    notes: list[str]
    document: MethodDocument


class SuggestionsReport(BaseModel):
    """Ways to a value typed over a reading; where there is none, why not."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    wanted: float
    suggestions: list[SuggestionReport]
    why_not: list[str]


def suggestions_report(
    method: Method, reading: str, value: float, asked: MethodDocument | None = None, hold: Sequence[str] = ()
) -> SuggestionsReport:
    """Ways, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    found = suggestions(method, reading, value, hold=hold)
    return SuggestionsReport(
        reading=found.reading, title=found.title, unit=found.unit, digits=found.digits, before=found.before, wanted=found.wanted,
        suggestions=[suggestion_report(way, asked or method.document) for way in found.suggestions], why_not=list(found.why_not),
    )  # fmt: skip


def move_report(move: Move) -> MoveReport:
    """A reading that moves, as data."""
    before, after = finite_or_none(move.before), finite_or_none(move.after)
    return MoveReport(reading=move.reading, title=move.title, unit=move.unit, digits=move.digits, before=before, after=after)


def suggestion_report(way: Suggestion, asked: MethodDocument) -> SuggestionReport:
    """A suggestion as plain data. ``asked`` is the document as it was sent."""
    return SuggestionReport(
        id=way.id, kind=way.kind, title=way.title, todo=list(way.todo), ties_kept=list(way.ties_kept), ties_broken=list(way.ties_broken),
        value=finite_or_none(way.value), tolerance=way.tolerance, notes=list(way.notes), document=as_sent(way.document, asked),
        moves=[move_report(move) for move in way.moves],
    )  # fmt: skip


class OvershotRequest(Part):
    """A line of a blend of which more went in than was asked for, and what else is in the bowl already (all of it, if not said)."""

    line: Id
    poured_g: float = Field(gt=0, le=1_000_000)
    weighed: tuple[Id, ...] | None = Field(None, max_length=500)


class RemedyGrams(BaseModel):
    """A line of the blend: grams to reach, and how much of that is still to add."""

    line: str
    title: str
    grams: float
    add_g: float | None


class RemedyReport(BaseModel):
    """One answer to an overshot line."""

    kind: Literal["accept", "scale_up", "top_up"]
    title: str
    words: str
    total_g: float
    lines: list[RemedyGrams]


class OvershotReport(BaseModel):
    """What can be done about a spoon too many."""

    line: str
    asked_g: float
    poured_g: float
    remedies: list[RemedyReport]


def overshot_report(method: Method, ask: OvershotRequest) -> OvershotReport:
    """Answers to an overshot line, as plain data."""
    walked = walk(method)
    remedies = overshot(walked, ask.line, ask.poured_g, ask.weighed)
    titles = method.titles
    return OvershotReport(
        line=ask.line, asked_g=float(walked.end.lines[ask.line][0]), poured_g=ask.poured_g,
        remedies=[
            RemedyReport.model_validate({
                "kind": r.kind, "title": r.title, "words": r.words, "total_g": r.total_g,
                "lines": [RemedyGrams(line=id, title=titles[id], grams=g, add_g=r.add.get(id)) for id, g in r.grams.items()],
            })
            for r in remedies
        ],
    )  # fmt: skip


class SubstituteRequest(Part):
    """An ingredient for another: the line, what comes in its place with shares of the weight, and which readings shall stay."""

    line: Id
    parts: dict[Id, float] = Field(min_length=1, max_length=MOST_PARTS)
    hold: tuple[Id, ...] | None = Field(None, max_length=5, description="Readings that shall stay; else those usual for the kind.")


class DifferenceReport(BaseModel):
    """Something that is no reading and changes."""

    about: str
    before: str
    after: str


class SubstituteReport(BaseModel):
    """What a swap comes to."""

    line: str
    before: str
    after: str
    held: list[str]
    suggestions: list[SuggestionReport]
    differences: list[DifferenceReport]
    why_not: list[str]


def substitute_report(method: Method, ask: SubstituteRequest, asked: MethodDocument | None = None) -> SubstituteReport:
    """Swap, as plain data. ``asked`` is the document as it was sent, before a kitchen was put to it."""
    found = substitute(method, ask.line, ask.parts, ask.hold)
    return SubstituteReport(
        line=found.line, before=found.before, after=found.after, held=list(found.held), why_not=list(found.why_not),
        suggestions=[suggestion_report(way, asked or method.document) for way in found.suggestions],
        differences=[DifferenceReport(about=d.about, before=d.before, after=d.after) for d in found.differences],
    )  # fmt: skip
