"""One of ours aimed at a benchmark in one step: the windows, the solve, and where that has no answer, one thing more in it.

A formula of one cream cannot become leaner, whatever its amounts: where the first solve collides, ties are loosened, and then something
is brought in that has what is missing or lacks what is too much. Only what was walked is told.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from pydantic import BaseModel, Field

from jugcore import components as c
from jugcore.editing.edits import new_id, untied, written
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import BadDocument
from jugcore.fields import Part
from jugcore.figures import shown
from jugcore.matter.library import library
from jugcore.matter.substance import SEASONING_KINDS
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import LineDoc
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import readings
from jugcore.reading.windows import family_report
from jugcore.solving.linearise import reading_of
from jugcore.solving.schema import SolveReport, SolveRequest, TargetRequest, solve_report
from jugcore.tasting.benchmark import Aim, BenchmarkReport, Known, RangeOf, ranges_of, report_of
from jugcore.tasting.sheet import BenchmarkDoc

#: What may be brought in where a reading stays on one side of its window: of a milky thing, of any other. Common practice, no source.
_BRINGS: dict[tuple[str, str], tuple[str, str]] = {
    ("fat", "above"): ("skimmed_milk", "water"), ("fat", "below"): ("heavy_cream", "coconut_cream"),
    ("sugars_100g", "below"): ("white_sugar", "white_sugar"), ("sugars_100g", "above"): ("whole_milk", "water"),
    ("sweetness", "below"): ("white_sugar", "white_sugar"), ("sweetness", "above"): ("whole_milk", "water"),
    ("acidity", "below"): ("citric_acid", "citric_acid"), ("acidity", "above"): ("water", "water"),
    ("brix", "below"): ("white_sugar", "white_sugar"), ("brix", "above"): ("water", "water"),
}  # fmt: skip

#: Dairy to sugar that moves by less is not said, relative.
_RATIO_MOVES = 0.05
#: How far the edges of a window are drawn towards its middle, where that can be had.
_NEARER = 0.6
#: Kinds of which a formula keeps what it has, unless they are what is aimed at.
_FIXED = SEASONING_KINDS | {"extract", "thickener", "enzyme", "nut", "salt", "acid", "coffee"}


class AimDocument(Part):
    """A benchmark and one of ours to aim at it, whole: what a shell or another program sends.

    ``beside`` is what it was tasted beside, ``itself`` what it is, where it is a version of ours; both as documents.
    """

    benchmark: BenchmarkDoc
    document: MethodDocument
    beside: MethodDocument | None = None
    itself: MethodDocument | None = None
    chosen: tuple[str, ...] | None = Field(None, max_length=30, description="Readings to aim by; else what its label states and its tasters tell.")
    same_size: bool = Field(True, description="Whether the batch stays as large as it is.")

    def report(self) -> AimReport:
        """What aiming comes to. Raises what :func:`aim_report` and compiling raise."""
        known = Known(*(None if each is None else compile_document(each) for each in (self.itself, self.beside)))
        ours = compile_document(self.document)
        return aim_report(self.benchmark, known, ours, self.document, chosen=self.chosen, same_size=self.same_size)


class AimReport(BaseModel):
    """A benchmark, ours beside it, and the formula that comes as near as can be."""

    names: list[str]
    report: BenchmarkReport
    solution: SolveReport | None = Field(description="Nothing where nothing is aimed at.")
    brought: list[str] = Field(description="What had to be brought in that was not in it.")
    leaves: list[str] = Field([], description="Bands that ours stands in now and would not any more, and what else moves unasked.")
    already: bool = Field(description="Ours stands in every window already.")


def aim_report(
    doc: BenchmarkDoc, known: Known, ours: Method, asked: MethodDocument, *, chosen: Sequence[str] | None = None, same_size: bool = True
) -> AimReport:
    """Aim one of ours at a benchmark.

    ``chosen`` are the readings to aim by, else those that its label states and its tasters tell; ``same_size`` keeps the
    batch as large as it is. Raises BadDocument for a chosen reading that nothing is known of.
    """
    kitchen = ours.document.kitchen or Kitchen()
    ours = with_basis(ours)
    before = walk(ours)
    ranges = ranges_of(doc, known, kitchen)
    first = report_of(doc, ranges, known, [before], chosen)
    strange = [id for id in chosen or () if id not in {aim.reading for aim in first.aims}]
    if strange:
        raise BadDocument("chosen", f"Nothing is known of “{strange[0][:60]}” of {doc.name}.", "Choose one of the windows listed.")
    wanted = [aim for aim in first.aims if aim.chosen and aim.stands != "unknown"]
    names = [doc.name, f"{asked.name or 'ours'} now"]
    if not wanted or all(aim.stands == "within" for aim in wanted):
        return AimReport(names=names, report=first, solution=None, brought=[], already=bool(wanted))
    middle, edges = _targets(wanted, before, same_size, ranges), _targets(wanted, before, same_size)
    # What it stands in now and is not aimed by stays, where it can.
    kept = [band for band in _bands(before, first) if band.reading not in {target.reading for target in edges}]
    held = tuple(TargetRequest(reading=band.reading, at_least=band.low, at_most=band.high) for band in kept)
    rounds = [[(*middle, *held), (*edges, *held)]] if held else []
    solution, brought = _solved(ours, before, asked, wanted, [*rounds, [middle, edges]])
    after = walk(compile_document(solution.document.model_copy(update={"kitchen": kitchen, "substances": ours.document.substances})))
    report = report_of(doc, ranges, known, [before, after], chosen)
    return AimReport(
        names=[*names, "as it would be"], report=report, solution=solution, brought=brought, leaves=list(_left(kept, before, after)), already=False
    )


@dataclass(frozen=True)
class _Band:
    """A band that ours stands in: of which reading, and whose it is."""

    reading: str
    low: float
    high: float
    whose: str


def _bands(before: Walk, first: BenchmarkReport) -> list[_Band]:
    """The benchmark's windows that are not aimed by and the family's, as far as ours stands in them now."""
    found = [_Band(aim.reading, *_as_shown(aim), "the benchmark's window") for aim in first.aims if not aim.chosen and aim.stands == "within"]
    family = family_report(before, {reading.id: reading for reading in readings(before)})
    spoken = {band.reading for band in found}
    for window in family.windows if family is not None else []:
        if window.stands == "within" and window.reading not in spoken:
            found.append(_Band(window.reading, window.low, window.high, f"what {family.title if family else ''} usually has"))
    return [band for band in found if not band.reading.startswith("line:")]


def _left(kept: Sequence[_Band], before: Walk, after: Walk) -> Iterator[str]:
    """Bands that were stood in and are left, and dairy to sugar where that moves, in words."""
    for band in kept:
        was, now = reading_of(before, band.reading), reading_of(after, band.reading)
        value = float(now.value[0])
        if not math.isfinite(value):
            yield f"{now.title} goes from {shown(round(float(was.value[0]), was.digits))} {was.unit} to no figure at all."
        elif not band.low - 1e-9 <= value <= band.high + 1e-9:
            figures = f"{shown(round(float(was.value[0]), was.digits))} to {shown(round(value, now.digits))} {now.unit}".strip()
            yield f"{now.title} goes from {figures}, out of {band.whose}, {shown(band.low)} to {shown(band.high)}."
    one, other = _dairy_to_sugar_of(before), _dairy_to_sugar_of(after)
    if one is not None and other is not None and abs(other / one - 1) > _RATIO_MOVES:
        yield f"Dairy to sugar goes from {one:.1f} : 1 to {other:.1f} : 1 by weight."


def _dairy_to_sugar_of(walked: Walk) -> float | None:
    """Grams of dairy or plant drink to one of sugar and syrup, as they go in."""
    grams = {"dairy": 0.0, "sugar": 0.0}
    for id, line in walked.method.lines.items():
        kind = walked.method.substances[line.substance].kind
        of = "dairy" if kind in ("dairy", "plant") else "sugar" if kind in ("sugar", "syrup") else None
        if of is not None:
            grams[of] += float(walked.end.lines[id][0])
    return grams["dairy"] / grams["sugar"] if grams["dairy"] > 0 and grams["sugar"] > 0 else None


def _targets(wanted: Sequence[Aim], before: Walk, same_size: bool, ranges: Mapping[str, RangeOf] | None = None) -> tuple[TargetRequest, ...]:
    """The windows as they are shown, and the size of the batch; with ``ranges``, of those that ours must move to, the middle."""
    targets, kilos = [], float(before.product.total_g[0]) / 1000
    for aim in wanted:
        low, high = _as_shown(aim)
        if ranges is not None and aim.stands != "within":
            middle = ranges[aim.reading].middle
            low, high = low + _NEARER * (middle - low), high - _NEARER * (high - middle)
        if aim.reading.startswith("line:"):  # the solver takes lines by their grams
            low, high = low * kilos, high * kilos
        targets.append(TargetRequest(reading=aim.reading, at_least=low, at_most=high))
    if same_size:
        targets.append(TargetRequest(reading="yield_g", equals=float(before.product.total_g[0])))
    return tuple(targets)


def _as_shown(aim: Aim) -> tuple[float, float]:
    """A window by its last shown digits, inside it; as it is where it is narrower than a digit."""
    digit = 10.0**aim.digits
    low, high = math.ceil(aim.low * digit - 1e-9) / digit, math.floor(aim.high * digit + 1e-9) / digit
    return (low, high) if low <= high else (aim.low, aim.high)


def _solved(
    ours: Method, before: Walk, asked: MethodDocument, wanted: Sequence[Aim], rounds: Sequence[Sequence[tuple[TargetRequest, ...]]]
) -> tuple[SolveReport, list[str]]:
    """The first formula that has it all, with as little brought in as can be, in the middle of the windows before at their edges.

    ``rounds`` are windows to try over all forms: first with what ours stands in now held, then without.

    Where there is none, the formula itself, which says what collides.
    """
    forms = [(compile_document(document), brought) for document, brought in _forms(ours, before, wanted)]
    for aims in rounds:
        for method, brought in forms:
            for targets in aims:
                found = _answer(method, targets, _flavours(ours, targets), asked)
                if found.status == "solved":
                    return _from_nothing(found, ours), brought
    wide = rounds[-1][-1]
    return _answer(ours, wide, _flavours(ours, wide), asked), []


def _answer(method: Method, targets: tuple[TargetRequest, ...], locks: tuple[str, ...], asked: MethodDocument) -> SolveReport:
    """A solve that keeps the flavours; of what is nothing but flavour (a saline, a tea) they may move."""
    others = [id for id, line in method.lines.items() if isinstance(method.amounts[id], Written) and id not in locks]
    return solve_report(method, SolveRequest(targets=targets, locks=locks if others else ()), asked)


def _from_nothing(found: SolveReport, ours: Method) -> SolveReport:
    """The same, with what was brought in told as coming from nothing."""
    new = {change.path for change in found.changes if change.path.split(".")[0] == "lines" and change.path.split(".")[1] not in ours.lines}
    changes = [change.model_copy(update={"before": 0.0}) if change.path in new else change for change in found.changes]
    return found.model_copy(update={"changes": changes})


def _forms(ours: Method, before: Walk, wanted: Sequence[Aim]) -> Iterator[tuple[MethodDocument, list[str]]]:
    """The formula as it is, without its ties, with one thing brought in, with all of them."""
    yield ours.document, []
    tied = tuple(
        id for id, amount in ours.amounts.items()
        if id in ours.lines and not isinstance(amount, Written) and ours.substances[ours.lines[id].substance].kind not in _FIXED
    )  # fmt: skip
    loose = untied(ours, before, tied) if tied else ours.document
    if tied:
        yield loose, []
    things = _may_bring(ours, before, wanted)
    for some in ([[thing] for thing in things] + [things]) if len(things) > 1 else [things] if things else []:
        document = loose
        for thing in some:
            document = _with(document, ours, before, thing)
        yield document, [library()[thing].title for thing in some]


def _flavours(ours: Method, targets: Sequence[TargetRequest]) -> tuple[str, ...]:
    """Lines that give flavour or set: nobody meets a fat by pouring in cardamom. Those aimed at themselves may move."""
    aimed = {target.reading for target in targets}
    fixed = _FIXED - ({"acid"} if "acidity" in aimed else set()) - ({"coffee", "tea"} if "caffeine" in aimed else set())
    return tuple(
        id for id, line in ours.lines.items()
        if ours.substances[line.substance].kind in fixed and isinstance(ours.amounts[id], Written) and f"line:{id}" not in aimed
    )  # fmt: skip


def _may_bring(ours: Method, before: Walk, wanted: Sequence[Aim]) -> list[str]:
    has = {line.substance for line in ours.lines.values()}
    milky = float(before.product.mass_g[0, c.INDEX["lactose"]]) > 0
    found = [_BRINGS[aim.reading, aim.stands][0 if milky else 1] for aim in wanted if (aim.reading, aim.stands) in _BRINGS]
    return [thing for thing in dict.fromkeys(found) if thing not in has]


def _with(document: MethodDocument, ours: Method, before: Walk, substance: str) -> MethodDocument:
    """The document with a little of a thing where its largest ingredient goes in."""
    largest = max(ours.lines, key=lambda id: float(before.end.lines[id][0]))
    line = LineDoc(id=new_id(document, substance.replace("_", "-")), substance=substance, amount=written(0.01 * float(before.product.total_g[0])))
    stages = []
    for stage in document.stages:
        if any(each.id == largest for each in stage.ingredients):
            stage = stage.with_ingredients((*stage.ingredients, line))
        stages.append(stage)
    return document.model_copy(update={"stages": tuple(stages)})
