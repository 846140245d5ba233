"""Shapes of benchmarks. What is written down and what comes of it are the core's own."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from ninja import Schema
from pydantic import Field

from jugcore.method.document import MethodDocument
from jugcore.tasting.sheet import BenchmarkDoc, Pack


class BenchmarkCard(Schema):
    """A benchmark in a list."""

    id: UUID
    name: str
    what: str
    has_label: bool
    sheets: int
    pack: Pack | None = Field(description="What it is bought in, where that was written down.")
    changed_at: datetime
    changed_by: str


class BenchmarksOut(Schema):
    """A page of benchmarks, by name."""

    items: list[BenchmarkCard]
    next: str | None = Field(description="The cursor of the page behind; none behind the last.")


class BenchmarkOut(Schema):
    """A benchmark, whole."""

    id: UUID
    number: int = Field(description="Send it back when saving: it says which state the change is based on.")
    changed_at: datetime
    changed_by: str
    document: BenchmarkDoc


class BenchmarkIn(Schema):
    """A benchmark as it is to be, and the state the change is based on; 0 for a new one."""

    number: int = Field(0, ge=0, le=2_147_483_647)
    document: BenchmarkDoc


class BenchmarkReadIn(Schema):
    """A benchmark as it stands on the screen, kept or not, and a formula of ours to see beside it."""

    document: BenchmarkDoc
    ours: UUID | None = None


class BenchmarkAimIn(Schema):
    """A formula's document to aim at a benchmark, by which readings, and whether the batch stays as large."""

    document: MethodDocument
    chosen: list[str] | None = Field(None, max_length=30, description="Readings to aim by; else what its label states and its tasters tell.")
    same_size: bool = True


class AttributeOut(Schema):
    """One thing to taste for."""

    code: str
    title: str
    cup: str = Field(description="What a cup of water holds that it may be likened to; empty where there is none.")
    choices: list[str]
    becomes_figure: bool
