"""The same formula, more or less of it. Minutes are never scaled; what they then do is said."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from jugcore.editing.edits import set_amount, set_boil_end, written
from jugcore.errors import BadDocument, NotUnderstood, OutOfRange
from jugcore.figures import shown
from jugcore.measures.parsing import Portion, Quantity, parse_amount
from jugcore.measures.systems import MASS_G, SHOWN, SYSTEM_NAMES
from jugcore.method.amounts import UpTo, UpToVolume, Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import rounded_g
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.equipment.pots import in_its_pots

#: Factors a formula may be scaled by in one go.
LEAST, MOST = 1e-3, 1e3
_ROUNDS = 30


def scaled(method: Method, factor: float) -> MethodDocument:
    """The document with everything written as an amount multiplied by a factor.

    Amounts keep the measure they were written in; ties follow by themselves; a boil that
    ends at a mass or at grams off ends at as much more. Minutes and temperatures stay.
    Raises OutOfRange outside 1/1,000 to 1,000.
    """
    if not LEAST <= factor <= MOST:
        raise OutOfRange("factor", f"{shown(factor)} times is not a possible scale.", f"Give {LEAST:g} to {MOST:,.0f}.")
    document = method.document
    for id, amount in method.amounts.items():
        if isinstance(amount, Written):
            document = set_amount(document, id, Written(text=_scaled_text(method, id, amount.text, factor)))
        elif isinstance(amount, UpTo):
            document = set_amount(document, id, UpTo(total_g=amount.total_g * factor))
        elif isinstance(amount, UpToVolume):
            document = set_amount(document, id, amount.model_copy(update={"ml": amount.ml * factor}))
    for stage in method.stages:
        if isinstance(stage, Boil) and stage.until.kind in ("mass_g", "off_g"):
            document = set_boil_end(document, stage.id, **{stage.until.kind: stage.until.value * factor})
    return document


def _scaled_text(method: Method, id: str, text: str, factor: float) -> str:
    """The amount in its own measure; in grams where that would not read well."""
    try:
        quantity = parse_amount(text)
    except NotUnderstood:
        quantity = None
    if isinstance(quantity, Quantity) and len(quantity.portions) == 1 and not quantity.about:
        portion = quantity.portions[0]
        if portion.unit in MASS_G or portion.unit is None:
            if portion.low == portion.high:
                return f"{_plain(portion.low * factor)} {SHOWN.get(portion.unit or 'g', portion.unit or 'g')}"
        elif portion.unit != "piece" and portion.shape is None and portion.low == portion.high and _reads_well(portion, factor):
            whose = f"{SYSTEM_NAMES[portion.system]} " if portion.system else ""
            return f"{_plain(portion.low * factor)} {whose}{SHOWN.get(portion.unit, portion.unit)}"
    return written(method.weighed[id].grams * factor).text


def _reads_well(portion: Portion, factor: float) -> bool:
    """Whether a spoon or cup can still measure it: in quarters, up to a dozen."""
    count = portion.low * factor
    return portion.unit in ("ml", "cl", "dl", "l") or (count <= 12 and abs(4 * count - round(4 * count)) < 1e-9)


def _plain(value: float) -> str:
    return f"{value:.10g}"


def on_the_scales(method: Method, kitchen: Kitchen) -> MethodDocument:
    """The document with what is written in grams or kilograms as the kitchen's scales can show it."""
    document = method.document
    for id, amount in method.amounts.items():
        if not isinstance(amount, Written):
            continue
        try:
            quantity = parse_amount(amount.text)
        except NotUnderstood:
            continue
        if isinstance(quantity, Quantity) and len(quantity.portions) == 1 and not quantity.about:
            portion = quantity.portions[0]
            if portion.unit in MASS_G and portion.low == portion.high:
                document = set_amount(document, id, written(rounded_g(kitchen, method.weighed[id].grams)))
    return document


@dataclass(frozen=True)
class Scaling:
    """A formula scaled: by how much, the document, its walk, and what the cook must know."""

    factor: float
    document: MethodDocument
    walk: Walk
    notes: tuple[str, ...]


def _kept(method: Method, factor: float, kitchen: Kitchen) -> Scaling:
    document = scaled(method, factor)
    walked = in_its_pots(compile_document(document), kitchen)
    return Scaling(factor, document, walked, tuple(_notes(method, factor, walked)))


def scale_by(method: Method, factor: float, kitchen: Kitchen | None = None) -> Scaling:
    """Everything so many times."""
    return _kept(method, factor, kitchen or method.document.kitchen or Kitchen())


def scale_to(method: Method, measure: Callable[[Walk], float], wanted: float, kitchen: Kitchen | None = None, *, what: str = "yield") -> Scaling:
    """Scaled so that a measure of its walk comes to ``wanted``.

    Films and cakes do not scale with the batch, so the factor is found by walking: secant
    steps on the factor, safe between halvings. Raises OutOfRange where no factor from
    1/1,000 to 1,000 gives it.
    """
    place = kitchen or method.document.kitchen or Kitchen()

    def at(factor: float) -> float:
        return measure(walk(compile_document(scaled(method, factor)), place)) - wanted

    now = measure(walk(method, place))
    if not (np.isfinite(now) and now > 0):
        raise BadDocument("scale", f"There is no {what} to scale from.", "Put the formula right first.")
    if not (np.isfinite(wanted) and wanted > 0):
        raise OutOfRange("scale", f"{shown(wanted)} is no {what}.", "Give more than nothing.")
    factor = float(np.clip(wanted / now, LEAST, MOST))
    low, high = LEAST, MOST
    before, miss_before = 1.0, now - wanted
    for _ in range(_ROUNDS):
        miss = at(factor)
        if not np.isfinite(miss):
            break
        if abs(miss) <= 1e-9 * wanted:
            return _kept(method, factor, place)
        low, high = (factor, high) if miss < 0 else (low, factor)
        slope = (miss - miss_before) / (factor - before) if factor != before else 0.0
        before, miss_before = factor, miss
        step = factor - miss / slope if slope > 0 else 0.0
        factor = step if low < step < high else float(np.sqrt(low * high))
    raise OutOfRange("scale", f"No batch of this formula gives {shown(wanted)}.", "Ask for another amount, or change the method.")


def _notes(method: Method, factor: float, walked: Walk) -> list[str]:
    """What does not scale: minutes, the room in the pot, the scale under it."""
    notes: list[str] = []
    if abs(factor - 1) < 1e-12:
        return notes
    for stage in walked.stages:
        name = stage.name or stage.title
        if isinstance(stage, Boil) and stage.until.kind == "minutes":
            notes.append(f"{name} ends after {shown(stage.until.value)} min as before: minutes are not scaled, so it will not end at the same °Brix.")
        elif stage.minutes is not None:
            notes.append(f"{name} says {shown(stage.minutes)} min by hand: that stays as written.")
    return notes


# measures -----------------------------------------------------------------


def by_reading(id: str) -> Callable[[Walk], float]:
    """A reading of the first case, as a measure to scale to."""
    return lambda walked: float(READING_OF[id](walked).value[0])


def by_line(id: str) -> Callable[[Walk], float]:
    """Grams of a line: the ingredient there is only so much of."""
    return lambda walked: float(walked.end.lines[id][0])


def by_bottles(size_ml: float) -> Callable[[Walk], float]:
    """How many containers the product fills, at the temperature it is filled at: what is filled hot shrinks in the bottle."""
    return lambda walked: float(walked.product.volume_ml()[0]) / size_ml
