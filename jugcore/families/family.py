"""Families of what a coffee bar makes, the schools of each, and the windows they keep to: data, read from the files beside this one.

A family knows nothing that the walk does not: a school is a starting method with what it trades off, a window is a
stretch of a reading where such things usually stand.
"""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path

from pydantic import BaseModel, Field

from jugcore.method.document import MethodDocument

_FOLDER = Path(__file__).parent / "data"


class Window(BaseModel):
    """Where a reading of such a product usually stands. Common practice, no source."""

    reading: str
    low: float
    high: float
    words: str


class Trade(BaseModel):
    """What a school gives and takes, in a few words each."""

    clarity: str
    flavour: str
    pulp: str
    time: str
    keeping: str
    washing_up: str


class School(BaseModel):
    """One honest way to make it, with the method it starts from."""

    id: str
    title: str
    says: str = Field(description="What it is good for and what it costs, in a sentence.")
    trade: Trade
    document: MethodDocument
    windows: list[Window] | None = Field(None, description="Its own windows, where the family's do not fit it.")


class Family(BaseModel):
    """A kind of product with its schools."""

    id: str
    title: str
    words: str
    windows: list[Window]
    cautions: list[str]
    schools: list[School]

    def school_of(self, title: str) -> School | None:
        """The school a document names, by the words it begins with or is called."""
        named = title.strip().lower()
        return next((school for school in self.schools if named in (school.title.lower(), school.document.school.lower())), None)

    def windows_of(self, school: str) -> list[Window]:
        """The windows of a school: its own, else the family's."""
        found = self.school_of(school)
        return self.windows if found is None or found.windows is None else found.windows


@cache
def families() -> tuple[Family, ...]:
    """Every family that ships, in the order they are offered."""
    return tuple(Family.model_validate(json.loads(path.read_text(encoding="utf-8"))) for path in sorted(_FOLDER.glob("*.json")))


def family_of(title: str) -> Family | None:
    """The family a document names; None where it names none that is known."""
    named = title.strip().lower()
    return next((family for family in families() if named in (family.title, family.id)), None)
