"""A benchmark against one of ours: ranges, common axes, and what to aim for.

All readings of ours come from its walk, before and after; those of the benchmark from what its label allows, from what was tasted,
or from the walk of the version it is.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pydantic import BaseModel, Field

from jugcore.exchange.compare import Axis, CompareRow, SideCell, axis_of
from jugcore.figures import shown
from jugcore.method.kitchen import Kitchen
from jugcore.method.label_document import label_of, label_report
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF, readings
from jugcore.reading.readings.base import Reading
from jugcore.tasting.from_label import Spread, read_allowed
from jugcore.tasting.from_tongue import Heard, heard
from jugcore.tasting.sheet import BenchmarkDoc

#: What a benchmark is aimed at by, where nobody chose: what a label states and a tongue tells, none of which follows from another.
_BY_LABEL = ("sugars_100g", "fat")
_BY_TONGUE = ("acidity", "viscosity")
#: Less fat than this is none to aim for. [%]
_LEAST_FAT = 0.5


class RangeOf(BaseModel):
    """What is known of one reading of a benchmark."""

    reading: str
    title: str
    unit: str
    digits: int
    low: float
    likely: float | None
    high: float
    by: str = Field(description="label, tasting or version.")
    words: str = Field("", description="Who says so.")

    @property
    def middle(self) -> float:
        """The likeliest, else the middle: of steps that multiply, the one between them."""
        if self.likely is not None:
            return self.likely
        return math.sqrt(self.low * self.high) if self.low > 0 else (self.low + self.high) / 2


class Aim(BaseModel):
    """A window that ours may be aimed at."""

    reading: str
    title: str
    unit: str
    digits: int
    low: float
    high: float
    ours: float | None
    stands: str = Field(description="below, within or above; unknown where ours has no such reading.")
    chosen: bool


class BenchmarkReport(BaseModel):
    """What a benchmark comes to, and beside one of ours how they differ."""

    ranges: list[RangeOf]
    unread: list[str] = Field(description="What was tasted and becomes no figure.")
    words: list[str]
    assumptions: list[str]
    axes: list[Axis] = Field(description="The benchmark, ours, and ours as it would be, on common axes.")
    aims: list[Aim]


@dataclass(frozen=True)
class Known:
    """What stands behind a benchmark besides its own document.

    ``itself`` the version it is, ``beside`` the version it was tasted beside.
    """

    itself: Method | None = None
    beside: Method | None = None


def benchmark_report(doc: BenchmarkDoc, known: Known, kitchen: Kitchen, ours: Method | None = None) -> BenchmarkReport:
    """What is known of a benchmark, and where one of ours stands against it.

    Raises BadDocument where a label contradicts itself.
    """
    return report_of(doc, ranges_of(doc, known, kitchen), known, [walk(ours)] if ours is not None else [], None)


# what is known ----------------------------------------------------------------


def ranges_of(doc: BenchmarkDoc, known: Known, kitchen: Kitchen) -> dict[str, RangeOf]:
    """What is known of each reading, the surest first: a version, a label, a tongue."""
    found: dict[str, RangeOf] = {}
    if known.itself is not None:
        for reading in readings(walk(known.itself)):
            value, low, high = (float(x[0]) for x in (reading.value, reading.low, reading.high))
            if math.isfinite(value) and reading.id not in ("yield_g", "yield_l", "cost_kg"):
                found[reading.id] = _of(reading, low, value, high, "version")
    if doc.label is not None and doc.label.figures:
        for spread in read_allowed(label_of(doc.label), kitchen).values():
            found.setdefault(spread.reading, _of(spread, spread.low, spread.likely, spread.high, "label"))
    for each in _heard(doc, known)[0]:
        if each.reading not in found:
            found[each.reading] = _tasted(each, known)
    return found


def _of(what: Reading | Spread, low: float, likely: float, high: float, by: str) -> RangeOf:
    id = what.id if isinstance(what, Reading) else what.reading
    return RangeOf(reading=id, title=what.title, unit=what.unit, digits=what.digits, low=low, likely=likely, high=high, by=by)


def _tasted(each: Heard, known: Known) -> RangeOf:
    line = each.reading.removeprefix("line:")
    title, unit, digits = _CALLED.get(each.reading, (line, "g/kg", 1))
    if known.beside is not None:
        title = known.beside.titles.get(line, title)
    return RangeOf(
        reading=each.reading, title=title, unit=unit, digits=digits, low=each.low, likely=None, high=each.high, by="tasting", words=each.words
    )


#: What readings that a tongue speaks of are called, where no walk is at hand.
_CALLED = {
    "sweetness": ("As sweet as sucrose", "g/100 g", 1), "acidity": ("Acidity, as citric acid", "g/100 g", 2), "fat": ("Fat", "%", 1),
    "viscosity": ("Pours in the fridge", "mPa·s", 0),
}  # fmt: skip


def _heard(doc: BenchmarkDoc, known: Known) -> tuple[list[Heard], list[str]]:
    ours: dict[str, float] = {}
    titles: Mapping[str, str] = {}
    if known.beside is not None:
        walked = walk(known.beside)
        ours = {reading.id: value for reading in readings(walked) if math.isfinite(value := float(reading.value[0]))}
        ours |= {f"line:{id}": _per_kg(walked, id) for id, grams in walked.end.lines.items() if float(grams[0]) > 0}
        titles = known.beside.titles
    found, unread = heard(doc.sheets, ours, titles)
    return found, [each.words for each in unread]


# how it stands ----------------------------------------------------------------


def report_of(doc: BenchmarkDoc, ranges: Mapping[str, RangeOf], known: Known, sides: Sequence[Walk], chosen: Sequence[str] | None) -> BenchmarkReport:
    """The report of what is known, beside walks of ours; ``chosen`` the readings to aim by, else the usual."""
    order = list(READING_OF)
    listed = sorted(ranges.values(), key=lambda each: order.index(each.reading) if each.reading in order else len(order))
    said, unread = _heard(doc, known)
    return BenchmarkReport(
        ranges=listed,
        unread=unread,
        words=[*_words(doc, ranges, said), *_prices(doc, sides)],
        assumptions=label_report(doc.label).assumptions if doc.label is not None and doc.label.figures else [],
        axes=[axis for each in listed if sides and (axis := _axis(each, sides, known)) is not None],
        aims=[_aim(each, sides[0] if sides else None, _is_chosen(each, ranges, doc, chosen), known) for each in listed],
    )


def _is_chosen(each: RangeOf, ranges: Mapping[str, RangeOf], doc: BenchmarkDoc, chosen: Sequence[str] | None) -> bool:
    if chosen is not None:
        return each.reading in chosen
    if each.reading == "fat" and each.by != "tasting":
        return each.high >= _LEAST_FAT
    if each.by == "tasting":
        return (
            each.reading.startswith("line:") or each.reading in (*_BY_TONGUE, "fat") or (each.reading == "sweetness" and "sugars_100g" not in ranges)
        )
    return each.reading in _BY_LABEL


def _per_kg(walked: Walk, line: str) -> float:
    """Grams of a line for a kilogram of product: a batch of another size is the same formula."""
    total = float(walked.product.total_g[0])
    return 1000 * float(walked.end.lines[line][0]) / total if total > 0 else float("nan")


def _value(walked: Walk, reading: str, known: Known) -> float:
    """What a side has of a reading; of a line only where it is of what it was tasted by."""
    if not reading.startswith("line:"):
        return float(READING_OF[reading](walked).value[0])
    line = reading.removeprefix("line:")
    its, tasted = walked.method.lines.get(line), known.beside.lines.get(line) if known.beside is not None else None
    return float("nan") if its is None or tasted is None or its.substance != tasted.substance else _per_kg(walked, line)


def _aim(each: RangeOf, ours: Walk | None, chosen: bool, known: Known) -> Aim:
    value = float("nan") if ours is None else _value(ours, each.reading, known)
    half = 0.5 * 10.0**-each.digits
    stands = "unknown" if not math.isfinite(value) else "below" if value < each.low - half else "above" if value > each.high + half else "within"
    return Aim(
        reading=each.reading, title=each.title, unit=each.unit, digits=each.digits, low=each.low, high=each.high,
        ours=value if math.isfinite(value) else None, stands=stands, chosen=chosen,
    )  # fmt: skip


def _axis(each: RangeOf, sides: Sequence[Walk], known: Known) -> Axis | None:
    """The benchmark and ours on one axis."""
    cells: list[SideCell | None] = [SideCell(text="", value=each.middle, low=each.low, high=each.high)]
    for side in sides:
        if each.reading.startswith("line:"):
            value = _value(side, each.reading, known)
            cells.append(SideCell(text="", value=value) if math.isfinite(value) else None)
            continue
        reading = READING_OF[each.reading](side)
        value, low, high = (float(x[0]) for x in (reading.value, reading.low, reading.high))
        cells.append(SideCell(text="", value=value, low=low, high=high) if math.isfinite(value) else None)
    return axis_of(CompareRow(id=each.reading, title=each.title, unit=each.unit, digits=each.digits, cells=cells, changed=True))


# words ------------------------------------------------------------------------


def _words(doc: BenchmarkDoc, ranges: Mapping[str, RangeOf], said: Sequence[Heard]) -> list[str]:
    found: list[str] = []
    if doc.label is not None and doc.label.figures:
        label = label_report(doc.label)
        found += label.says_little
        if label_of(doc.label).with_milk or doc.label.kind == "dairy":
            found += _dairy_to_sugar(label.totals["added_sugars"].low, label.totals["added_sugars"].high)
    for each in said:
        if each.at_odds:
            found.append(f"The tasters leave no room between them: {each.words}. Taste it again, with the cups coded.")
        known = ranges.get(each.reading)
        if known is not None and known.by != "tasting" and (each.low > known.high or each.high < known.low):
            more = each.low > known.high
            sweet = " A sweetener that is not a sugar would do that." if more and each.reading == "sweetness" else ""
            found.append(
                f"{known.title}: the {known.by} says {_range(known.low, known.high, known.digits)}, the tasting "
                f"{_range(each.low, each.high, known.digits)} {known.unit} ({each.words}). The {known.by} is gone by.{sweet}"
            )
    if not ranges:
        found.append("Nothing becomes a figure yet: type what the label states, or say how it tastes beside one of ours.")
    return found


def _range(low: float, high: float, digits: int) -> str:
    return f"{low:.{digits}f} to {high:.{digits}f}"


def _dairy_to_sugar(low: float, high: float) -> list[str]:
    """Dairy to sugar by weight, if all that is no added sugar is dairy."""
    if low <= 1:
        return []
    least, most = (100 - high) / high, (100 - low) / low
    return [f"If everything but added sugar is dairy, dairy to sugar is {least:.1f} to {most:.1f} : 1 by weight."]


def _prices(doc: BenchmarkDoc, sides: Sequence[Walk]) -> list[str]:
    """What it is bought for a kilogram, beside what ours costs in ingredients."""
    pack = doc.pack
    if pack is None or pack.price is None:
        return []
    if pack.unit == "g":
        least = most = 1000 * pack.price / pack.size
    elif doc.label is not None and doc.label.figures:
        density = label_report(doc.label).density_g_ml
        least, most = 1000 * pack.price / (pack.size * density.high), 1000 * pack.price / (pack.size * density.low)
    else:
        return [f"It is bought for {1000 * pack.price / pack.size:.2f} per litre."]
    kilo = f"{least:.2f}" if f"{least:.2f}" == f"{most:.2f}" else f"{least:.2f} to {most:.2f}"
    text = f"It is bought for {kilo} per kg"
    for side in sides[-1:]:
        cost = READING_OF["cost_kg"](side)
        value = float(cost.value[0])
        text += f"; ours is {shown(round(value, 2))} in ingredients" if math.isfinite(value) else f"; what ours costs is not known ({cost.why_not})"
    return [f"{text}." if not text.endswith(".)") else text]
