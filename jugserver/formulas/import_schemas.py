"""Shapes of bringing formulas in from files."""

from __future__ import annotations

from typing import Literal

from ninja import Schema
from pydantic import Field

from jugcore.exchange.imports import MOST_CHARACTERS, MOST_ROWS, RowProblem
from jugcore.fields import NO_NUL
from jugcore.method.document import MethodDocument

#: Whose cups, spoons and pints a file is in; None: the kitchen's.
Measures = Literal["metric", "us", "imperial", "australian"] | None


class ImportIn(Schema):
    """A file: its text, or its bytes where nobody knows how they spell letters; and what it is called."""

    name: str = Field("", max_length=300)
    text: str | None = Field(None, max_length=MOST_CHARACTERS + 1)
    base64: str | None = Field(None, max_length=4 * MOST_CHARACTERS)
    measures: Measures = None


class MeantRow(Schema):
    """An ingredient that a line may mean."""

    substance: str
    title: str


class ImportRow(Schema):
    """A line: what it says, what it is taken for, how much that is, and what is wrong at it."""

    number: int = Field(ge=0, le=10_000_000)
    text: str = Field(max_length=4000)
    stage: str = Field("", max_length=200, pattern=NO_NUL)
    words: str = Field("", max_length=4000, pattern=NO_NUL)
    amount: str = Field("", max_length=4000, pattern=NO_NUL)
    substance: str = Field("", max_length=64, pattern=r"^[A-Za-z0-9_-]{0,64}$")
    title: str = Field("", max_length=200)
    sure: bool = Field(False, description="One of its names stands in the line whole, or somebody chose it.")
    others: list[MeantRow] = []
    grams: float | None = Field(None, description="Nothing where it is not weighed by itself, or is not understood.")
    problem: RowProblem | None = None


class ImportFormula(Schema):
    """One formula of a file as it would be kept."""

    name: str
    family: str
    school: str
    notes: str
    taken: bool = Field(description="Whether the site has a formula of that name.")
    document: MethodDocument | None = Field(description="Nothing where no line is understood.")
    rows: list[ImportRow]
    problems: list[RowProblem]
    carries_kitchen: bool = Field(description="It brings a kitchen of its own, which may be left out.")
    carries: int = Field(description="So many ingredients of its own come with it.")


class ImportOut(Schema):
    """What a file holds."""

    form: Literal["document", "recipe", "table", "list"]
    words: str = Field(description="What this form can hold and what it cannot.")
    formulas: list[ImportFormula]


class RowsIn(Schema):
    """Lines as somebody says they are meant."""

    name: str = Field(max_length=200, pattern=NO_NUL)
    family: str = Field("", max_length=200, pattern=NO_NUL)
    school: str = Field("", max_length=200, pattern=NO_NUL)
    notes: str = Field("", max_length=4000, pattern=NO_NUL)
    rows: list[ImportRow] = Field(max_length=MOST_ROWS)
    measures: Measures = None
