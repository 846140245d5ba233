"""Two to four formulas, or versions of one, side by side: by line, by stage, by reading, on common axes.

Stages and lines are the same where their ids are: ids stay while a formula changes. Between
formulas that never were one, stages are paired by kind in order and lines by substance.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import BaseModel, Field

from jugcore.errors import BadDocument
from jugcore.method.walk import Walk
from jugcore.reading.catalogue import READING_OF, readings
from jugcore.reading.readings.base import Reading

LEAST, MOST = 2, 4


class SideCell(BaseModel):
    """What one side says in a row; nothing where it has no such thing."""

    text: str
    grams: float | None = None
    value: float | None = None
    low: float | None = None
    high: float | None = None


class CompareRow(BaseModel):
    """One thing on every side. ``changed`` where the sides differ in it."""

    id: str
    title: str
    unit: str = ""
    digits: int = 0
    cells: list[SideCell | None]
    changed: bool


class StageGroup(BaseModel):
    """A stage on every side, and its lines."""

    id: str
    title: str
    cells: list[SideCell | None]
    changed: bool
    lines: list[CompareRow]


class AxisBand(BaseModel):
    """From where to where."""

    low: float
    high: float


class Axis(BaseModel):
    """A reading on a scale that all sides share."""

    reading: str
    title: str
    unit: str
    digits: int
    low: float
    high: float
    values: list[float | None]
    bands: list[AxisBand | None] = Field(description="From where to where each side may be; nothing where it has no band.")


class CompareReport(BaseModel):
    """Formulas side by side."""

    names: list[str]
    stages: list[StageGroup]
    readings: list[CompareRow]
    axes: list[Axis] = Field(description="Readings that differ, each on an axis of its own that holds every side.")
    words: list[str] = Field(description="With two sides: what changed from the first to the second, a sentence each.")


@dataclass(frozen=True)
class Side:
    """A walked formula and what to call it."""

    name: str
    walk: Walk


def compare(sides: Sequence[Side]) -> CompareReport:
    """Lay two to four walked formulas side by side.

    Raises BadDocument for fewer or more.
    """
    if not LEAST <= len(sides) <= MOST:
        raise BadDocument("sides", f"{len(sides)} cannot be compared.", f"Choose {LEAST} to {MOST}.")
    stages = _stages(sides)
    rows = _readings(sides)
    return CompareReport(
        names=[side.name for side in sides],
        stages=stages,
        readings=rows,
        axes=[axis for row in rows if row.changed and (axis := axis_of(row)) is not None],
        words=_words(stages, rows) if len(sides) == 2 else [],
    )


# stages and lines -----------------------------------------------------------


def _keys(sides: Sequence[Side]) -> list[list[str]]:
    """What each stage of each side is paired by: its id where sides share most of them, else its kind and how many of it came before."""
    ids = [{stage.id for stage in side.walk.stages} for side in sides]
    related = all(2 * len(ids[0] & other) > min(len(ids[0]), len(other)) for other in ids[1:])
    found: list[list[str]] = []
    for side in sides:
        seen: dict[str, int] = {}
        keys = []
        for stage in side.walk.stages:
            seen[stage.kind] = seen.get(stage.kind, 0) + 1
            keys.append(stage.id if related else f"{stage.kind}-{seen[stage.kind]}")
        found.append(keys)
    return found


def _merged(orders: Sequence[Sequence[str]]) -> list[str]:
    """All keys once, in an order that respects each side's as far as one can."""
    merged: list[str] = []
    for order in orders:
        at = 0
        for key in order:
            if key in merged:
                at = max(at, merged.index(key) + 1)
            else:
                merged.insert(at, key)
                at += 1
    return merged


def _stages(sides: Sequence[Side]) -> list[StageGroup]:
    keys = _keys(sides)
    groups = []
    for key in _merged(keys):
        places = [order.index(key) if key in order else None for order in keys]
        cells: list[SideCell | None] = []
        for side, place in zip(sides, places, strict=True):
            if place is None:
                cells.append(None)
                continue
            stage = side.walk.stages[place]
            # What goes in stands in the lines; what a stage says is what the method asks of it, not what comes of that.
            asked = stage.setting(side.walk.at(stage))
            cells.append(SideCell(text=f"{stage.name or stage.title}: {asked}" if asked else stage.name or stage.title))
        stage_titles = [side.walk.stages[p].name or side.walk.stages[p].title for side, p in zip(sides, places, strict=True) if p is not None]
        lines = _lines(sides, places)
        groups.append(StageGroup(id=key, title=stage_titles[0], cells=cells, changed=_differ(cells), lines=lines))
    return groups


def _lines(sides: Sequence[Side], places: Sequence[int | None]) -> list[CompareRow]:
    """The lines (or the join) of one stage on every side, paired by id, else by substance."""
    tables: list[dict[str, tuple[str, str]]] = []  # key → (line id, title)
    ids = [_line_ids(side, place) for side, place in zip(sides, places, strict=True)]
    present = [set(each) for each in ids if each]
    related = not present or all(present[0] & other for other in present[1:])
    for side, each in zip(sides, ids, strict=True):
        method, table = side.walk.method, dict[str, tuple[str, str]]()
        for id in each:
            key = id if related or id not in method.lines else method.lines[id].substance
            table.setdefault(key, (id, method.titles[id]))
        tables.append(table)
    rows = []
    for key in _merged([list(table) for table in tables]):
        cells: list[SideCell | None] = []
        for side, table in zip(sides, tables, strict=True):
            if key not in table:
                cells.append(None)
                continue
            id = table[key][0]
            grams = float(side.walk.end.lines[id][0])
            cells.append(SideCell(text=side.walk.method.amount_texts.get(id, ""), grams=grams))
        title = next(table[key][1] for table in tables if key in table)
        rows.append(CompareRow(id=key, title=title, unit="g", digits=0, cells=cells, changed=_differ(cells)))
    return rows


def _line_ids(side: Side, place: int | None) -> list[str]:
    if place is None:
        return []
    return list(side.walk.stages[place].weighed_ids)


def _differ(cells: Sequence[SideCell | None]) -> bool:
    """Whether the sides say different things: other words, other grams, or nothing where another says something."""
    if any(cell is None for cell in cells):
        return True
    told = [cell for cell in cells if cell is not None]
    if len({cell.text for cell in told}) > 1:
        return True
    grams = [cell.grams for cell in told if cell.grams is not None]
    return bool(grams) and max(grams) - min(grams) > 1e-6 * max(1.0, *grams)


# readings -------------------------------------------------------------------


def _readings(sides: Sequence[Side]) -> list[CompareRow]:
    each = [{reading.id: reading for reading in readings(side.walk)} for side in sides]
    order = list(READING_OF)
    ids = _merged([list(found) for found in each])
    ids.sort(key=lambda id: order.index(id) if id in order else len(order) - 1.5)
    rows = []
    for id in ids:
        some = next(found[id] for found in each if id in found)
        cells = [_reading_cell(found.get(id)) for found in each]
        values = [cell.value for cell in cells if cell is not None]
        known = [value for value in values if value is not None]
        changed = (len(known) != len(sides) and bool(known)) or (bool(known) and max(known) - min(known) >= 0.5 * 10.0**-some.digits)
        rows.append(CompareRow(id=id, title=some.title, unit=some.unit, digits=some.digits, cells=cells, changed=changed))
    return rows


def _reading_cell(reading: Reading | None) -> SideCell | None:
    if reading is None:
        return None
    value, low, high = (float(x[0]) for x in (reading.value, reading.low, reading.high))
    if not math.isfinite(value):
        return SideCell(text=reading.why_not or "no value")
    return SideCell(text=f"{value:.{reading.digits}f}", value=value, low=low, high=high)


def axis_of(row: CompareRow) -> Axis | None:
    """An axis that holds every side's value and band, with a tenth of room at its ends."""
    cells = [cell for cell in row.cells if cell is not None and cell.value is not None]
    if len(cells) < 2:
        return None
    lows = [cell.low if cell.low is not None and math.isfinite(cell.low) else cell.value for cell in cells]
    highs = [cell.high if cell.high is not None and math.isfinite(cell.high) else cell.value for cell in cells]
    low, high = min(v for v in lows if v is not None), max(v for v in highs if v is not None)
    room = 0.1 * max(high - low, 10.0**-row.digits)
    values = [None if cell is None else cell.value for cell in row.cells]
    return Axis(
        reading=row.id, title=row.title, unit=row.unit, digits=row.digits, low=low - room, high=high + room, values=values,
        bands=[_band(cell) for cell in row.cells],
    )  # fmt: skip


def _band(cell: SideCell | None) -> AxisBand | None:
    """From where to where a side may be, if it says so."""
    if cell is None or cell.low is None or cell.high is None or not math.isfinite(cell.low) or not math.isfinite(cell.high):
        return None
    return AxisBand(low=cell.low, high=cell.high) if cell.high > cell.low else None


# words ----------------------------------------------------------------------


def _with(stage: StageGroup, side: int) -> str:
    """What goes in at a stage, behind its name."""
    lines = [f"{line.title}, {cell.text}" for line in stage.lines if (cell := line.cells[side]) is not None and cell.text]
    return f" ({'; '.join(lines)})" if lines else ""


def _words(stages: Sequence[StageGroup], rows: Sequence[CompareRow]) -> list[str]:
    """What changed from the first side to the second."""
    found = []
    for stage in stages:
        before, after = stage.cells
        if before is None and after is not None:
            found.append(f"New stage: {after.text}{_with(stage, 1)}.")
        elif after is None and before is not None:
            found.append(f"Stage left out: {before.text}{_with(stage, 0)}.")
        elif before is not None and after is not None and before.text != after.text:
            found.append(f"{before.text} → {after.text}.")
        if before is None or after is None:
            continue
        for line in stage.lines:
            was, now = line.cells
            if was is None and now is not None:
                found.append(f"New in {stage.title.lower()}: {line.title}, {now.text}.")
            elif now is None and was is not None:
                found.append(f"Left out of {stage.title.lower()}: {line.title}.")
            elif was is not None and now is not None and line.changed:
                grams = "" if was.grams is None or now.grams is None else f" ({was.grams:,.4g} → {now.grams:,.4g} g)"
                said = f"{was.text} → {now.text}" if was.text != now.text else was.text
                found.append(f"{line.title}: {said}{grams}.")
    if not found and not any(row.changed for row in rows):
        found.append("Nothing changed.")
    return found
