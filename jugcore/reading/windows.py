"""A formula against the windows of its family: what lies below or above where such things usually stand."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Literal

import numpy as np
from pydantic import BaseModel, Field

from jugcore.families.family import Family, Window, family_of
from jugcore.figures import shown
from jugcore.method.walk import Walk
from jugcore.reading.consequence import Consequence
from jugcore.reading.readings.base import Reading


class WindowReport(BaseModel):
    """A window of the family on a reading, and where the formula stands against it."""

    reading: str
    low: float
    high: float
    words: str
    stands: Literal["below", "within", "above", "unsure"] = Field(description="Unsure where the reading's own range crosses the edge.")


class FamilyReport(BaseModel):
    """The family a formula names, and where it stands in it."""

    id: str
    title: str
    school: str | None
    cautions: list[str]
    windows: list[WindowReport]


def family_report(walk: Walk, read: Mapping[str, Reading]) -> FamilyReport | None:
    """Where a formula stands in its family; None where it names none that is known."""
    document = walk.method.document
    family = family_of(document.family)
    if family is None:
        return None
    school = family.school_of(document.school)
    windows = [_window(window, read[window.reading]) for window in _asked(family, document.school, read)]
    return FamilyReport(id=family.id, title=family.title, school=school.id if school else None, cautions=family.cautions, windows=windows)


def _asked(family: Family, school: str, read: Mapping[str, Reading]) -> list[Window]:
    return [w for w in family.windows_of(school) if w.reading in read and np.isfinite(read[w.reading].value[0])]


def _window(window: Window, reading: Reading) -> WindowReport:
    value, low, high = (float(x[0]) for x in (reading.value, reading.low, reading.high))
    stands: Literal["below", "within", "above", "unsure"]
    if window.low <= value <= window.high:
        stands = "within"
    elif value < window.low:
        stands = "below" if high < window.low else "unsure"
    else:
        stands = "above" if low > window.high else "unsure"
    return WindowReport(reading=window.reading, low=window.low, high=window.high, words=window.words, stands=stands)


def outside(report: FamilyReport, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    """A sentence for each window that the formula stands outside of for certain."""
    for window in report.windows:
        if window.stands in ("below", "above"):
            reading = read[window.reading]
            value = f"{shown(round(float(reading.value[0]), reading.digits))} {reading.unit}".strip()
            yield Consequence(
                f"window-{window.reading}", "look",
                f"{reading.title}: {value}, {window.stands} what {report.title} usually has, {shown(window.low)} to {shown(window.high)} "
                f"({window.words}).",
                "Where such things usually stand: common practice, no source. It may be meant.", window.reading, 3,
            )  # fmt: skip
