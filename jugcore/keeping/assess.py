"""What must be known before anything is said of keeping, and what may be said then. A band that crosses a boundary is a question.

The local food code and a qualified person decide; this only says what the tables say.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from jugcore.keeping.interaction import Table, verdicts

Class = Literal["controlled", "not_controlled", "ask"]
#: Nothing is sourer or less sour. What is not known may be anything.
_ANY_PH = (0.0, 14.0)


@dataclass(frozen=True)
class Known:
    """What is known of a product: bands of water activity and pH (None where nobody knows), heat treatment and packaging."""

    aw: tuple[float, float] | None
    ph: tuple[float, float] | None
    heat_treated: bool | None
    packaged: bool | None


@dataclass(frozen=True)
class Question:
    """Something to answer or to measure before there is a verdict."""

    code: Literal["heat", "packaging", "ph", "ph_close", "water_activity"]
    words: str


@dataclass(frozen=True)
class Assessment:
    """A class, or the questions that stand between; and in words why."""

    verdict: Class
    questions: tuple[Question, ...]
    because: str


_WORDS: dict[str, str] = {
    "heat": "Was all of it brought to 72 °C or more, with nothing put in afterwards?",
    "packaging": "Is it filled and closed at once, so that nothing gets in after the heat?",
    "ph": "What is its pH? Measure it with a meter: no model is good enough for this.",
    "ph_close": "Its pH is too near a boundary for its error: measure it with a meter that was just calibrated.",
    "water_activity": "Its water activity is too near a boundary for its error: have it measured, or change it until it is clear of it.",
}


def tables_for(known: Known) -> tuple[Table, ...]:
    """The tables that may apply: A only for what was heated and packaged, B for all else, both where that is not known."""
    if known.heat_treated and known.packaged:
        return ("A",)
    if known.heat_treated is False or known.packaged is False:
        return ("B",)
    return ("A", "B")


def assess(known: Known) -> Assessment:
    """Class by the food code's interaction tables, where every field the bands touch agrees; else what to ask.

    Bands: water activity 0 to 1, pH 0 to 14. Source: FDA Food Code 2022, 1-201.10. A question is only asked where its
    answer can change the verdict.
    """
    if known.aw is None:
        question = Question("water_activity", "Its water activity is not known: have it measured.")
        return Assessment("ask", (question,), "No model of water activity holds here.")
    found = _over(known, tables_for(known))
    if len(found) == 1:
        controlled = found.pop()
        return Assessment("controlled" if controlled else "not_controlled", (), _because(known, controlled))
    return Assessment("ask", tuple(_questions(known)), "What is known fits several fields of the tables, and they disagree.")


def _over(known: Known, tables: Sequence[Table]) -> set[bool]:
    assert known.aw is not None
    ph = known.ph or _ANY_PH
    return set().union(*(verdicts(table, *known.aw, *ph) for table in tables))


def _questions(known: Known) -> list[Question]:
    """Those whose answer alone, or with the others, decides; nothing that cannot."""
    codes: list[Literal["heat", "packaging", "ph", "ph_close", "water_activity"]] = []
    assert known.aw is not None
    both = len(tables_for(known)) == 2
    if both and _over(known, ("A",)) != _over(known, ("B",)):
        if known.heat_treated is None:
            codes.append("heat")
        if known.packaged is None:
            codes.append("packaging")
    per_table = [_over(known, (table,)) for table in tables_for(known)]
    if any(len(found) == 2 for found in per_table):
        middle = 0.5 * (known.aw[0] + known.aw[1])
        sharp = Known((middle, middle), known.ph, known.heat_treated, known.packaged)
        if known.ph is None:
            codes.append("ph")
        elif any(len(_over(sharp, (table,))) == 2 for table in tables_for(known)):
            codes.append("ph_close")
        if known.ph is not None and any(len(_over(sharp, (table,))) == 1 for table in tables_for(known)):
            codes.append("water_activity")
    return [Question(code, _WORDS[code]) for code in codes] or [Question("water_activity", _WORDS["water_activity"])]


def _because(known: Known, controlled: bool) -> str:
    assert known.aw is not None
    low, high = known.aw
    wet = f"water activity {low:.2f}" if high - low < 0.005 else f"water activity {low:.2f} to {high:.2f}"
    sour = "whatever its pH" if known.ph is None else f"pH {known.ph[0]:.1f} to {known.ph[1]:.1f}"
    table = tables_for(known)
    which = f"table {table[0]}" if len(table) == 1 else "both tables"
    held = "held by time and temperature" if controlled else "not held by time and temperature"
    return f"{wet[:1].upper()}{wet[1:]}, {sour}: by {which} of the food code it is {held}."
