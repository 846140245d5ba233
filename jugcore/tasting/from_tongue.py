"""What was tasted as a range of a reading: so many noticeable steps from ours, or as much as in a cup of water.

“The same” is within one step of what a tongue notices, “a little more” half a step to three, “clearly more” two to seven
(estimate): steps multiply, so that one of 15 % above 20 is 23. Several tasters: the middle of their ends.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from jugcore.method.phrases import capital
from jugcore.tasting.attributes import SPICE, Attribute, attribute_of
from jugcore.tasting.sheet import Sheet, Tasted

#: Noticeable steps from ours, by what was said. An estimate.
STEPS: dict[int, tuple[float, float]] = {-2: (-7.0, -2.0), -1: (-3.0, -0.5), 0: (-1.0, 1.0), 1: (0.5, 3.0), 2: (2.0, 7.0)}
_WORDS = {
    -2: "clearly less than ours", -1: "a little less than ours", 0: "the same as ours", 1: "a little more than ours", 2: "clearly more than ours",
}  # fmt: skip


@dataclass(frozen=True)
class Heard:
    """What all sheets together say of one reading."""

    reading: str
    low: float
    high: float
    #: Who says what, in words.
    words: str
    #: Whether two tasters leave no room between them.
    at_odds: bool


@dataclass(frozen=True)
class Unread:
    """What was tasted and becomes no figure, and why."""

    attribute: str
    words: str


def heard(sheets: Sequence[Sheet], ours: Mapping[str, float], titles: Mapping[str, str]) -> tuple[list[Heard], list[Unread]]:
    """Ranges from tasting sheets, and what stays words.

    ``ours`` are the readings of what it was tasted beside, and the grams of its lines as ``line:<id>``; ``titles`` what
    those lines are called.
    """
    ranges: dict[str, list[tuple[float, float, str]]] = {}
    unread: list[Unread] = []
    for sheet in sheets:
        for tasted in sheet.tasted:
            if not tasted.says_something:
                continue
            found = attribute_of(tasted.attribute)
            assert found is not None  # the sheet was checked when it was read
            title = titles.get(tasted.attribute.removeprefix(SPICE), found.title)
            who = f"{sheet.by}: " if sheet.by else ""
            window = _window(tasted, found, sheet.in_parts, ours)
            if window is None or found.reading is None:
                unread.append(Unread(tasted.attribute, f"{capital(title)}: {who}{_said(tasted, found)}{_why(tasted, found, ours)}"))
            else:
                ranges.setdefault(found.reading, []).append((*window, f"{title}: {who}{_said(tasted, found)}"))
    return [_together(reading, said) for reading, said in ranges.items()], unread


def _window(tasted: Tasted, attribute: Attribute, in_parts: float, ours: Mapping[str, float]) -> tuple[float, float] | None:
    """The range one note leaves to its reading; None where it says nothing of one."""
    if attribute.reading is None or attribute.step is None:
        return None
    factor = 1 + attribute.step
    if tasted.cup is not None:
        like = tasted.cup * in_parts
        return like / factor, like * factor
    if tasted.than_ours is None or attribute.reading not in ours:
        return None
    low, high = STEPS[tasted.than_ours]
    stands = ours[attribute.reading]
    return stands * factor**low, stands * factor**high


def _said(tasted: Tasted, attribute: Attribute) -> str:
    parts = []
    if tasted.cup is not None:
        parts.append(f"as a cup of {tasted.cup:g} % {attribute.cup}")
    elif tasted.than_ours is not None:
        parts.append(_WORDS[tasted.than_ours])
    if tasted.words.strip():
        parts.append(tasted.words.strip().rstrip("."))
    return "; ".join(parts)


def _why(tasted: Tasted, attribute: Attribute, ours: Mapping[str, float]) -> str:
    """Why no figure follows, behind what was said."""
    if tasted.than_ours is None or attribute.reading is None:
        return ". No figure follows from it; aim for it by tasting again."
    if not ours:
        return ". Nothing says what it was tasted beside."
    return ". What it was tasted beside has no such reading or line."


def _together(reading: str, said: Sequence[tuple[float, float, str]]) -> Heard:
    low, high = median(each[0] for each in said), median(each[1] for each in said)
    apart = max(each[0] for each in said) > min(each[1] for each in said)
    return Heard(reading, min(low, high), max(low, high), "; ".join(each[2] for each in said), apart)
