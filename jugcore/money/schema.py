"""Costs as plain data: the published form of what is answered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from pydantic import BaseModel, Field

from jugcore.method.method import Method
from jugcore.method.walk import Walk
from jugcore.money.costing import Costing, costing
from jugcore.money.make_or_buy import BatchPoint, Pack, make_or_buy, make_or_buy_words
from jugcore.money.packs import PackOf, purchases
from jugcore.money.rates import Rates
from jugcore.money.side_by_side import Choice, as_sweet_dose


class CostItemOut(BaseModel):
    """A part of the cost of a batch; None where it cannot be said, and then what is missing."""

    id: str
    title: str
    low: float | None
    likely: float | None
    high: float | None
    how: str
    missing: str


class DriverOut(BaseModel):
    """What the cost of a litre becomes with a price or a yield a fifth lower and a fifth higher."""

    title: str
    kind: str
    lower: float
    higher: float


class SpanOut(BaseModel):
    """Least, likely, most."""

    low: float
    likely: float
    high: float


class CostReport(BaseModel):
    """What a batch costs, in its parts and by the kilogram, the litre, the dose; in the site's currency."""

    items: list[CostItemOut]
    batch: SpanOut
    per_kg: SpanOut | None
    per_litre: SpanOut | None
    per_dose: SpanOut | None
    missing: list[str]
    drivers: list[DriverOut] = Field(description="By how far a fifth of each moves the cost of a litre, or a kilogram of what has no volume.")


def cost_report(walked: Walk, rates: Rates, dose_g: float | None = None, formula: str = "") -> CostReport:
    """What a batch costs, as plain data."""
    found: Costing = costing(walked, rates, dose_g, formula)
    return CostReport(
        items=[CostItemOut(**vars(each)) for each in found.items], batch=_span(found.batch), per_kg=_maybe(found.per_kg),
        per_litre=_maybe(found.per_litre), per_dose=_maybe(found.per_dose), missing=list(found.missing),
        drivers=[DriverOut(**vars(each)) for each in found.drivers],
    )  # fmt: skip


def _span(each: tuple[float, float, float]) -> SpanOut:
    return SpanOut(low=each[0], likely=each[1], high=each[2])


def _maybe(each: tuple[float, float, float] | None) -> SpanOut | None:
    return None if each is None else _span(each)


class PackCount(BaseModel):
    """So many of a kind of pack."""

    name: str
    mass_g: float
    price: float
    count: int


class PurchaseOut(BaseModel):
    """An ingredient for a batch in whole packs, what is left over and whether that keeps: yes, no, ask; or none left."""

    substance: str
    title: str
    needs_g: float
    packs: list[PackCount]
    price: float | None
    used: float | None = Field(description="What of that goes into the batch.")
    left_g: float
    keeps: Literal["yes", "no", "ask", "none left"]
    why: str


class MadeFirstOut(BaseModel):
    """Something of ours that must be there first."""

    formula: str
    version: int
    name: str
    needs_g: float


class PurchasesReport(BaseModel):
    """What to buy for a batch, and what must be made first."""

    purchases: list[PurchaseOut]
    made_first: list[MadeFirstOut]
    price: float = Field(description="Of all packs that are entered.")
    used: float = Field(description="Of that, what goes into the batch.")
    not_priced: list[str]


def purchases_report(walked: Walk, packs: Mapping[str, Sequence[PackOf]], again_in_days: int) -> PurchasesReport:
    """What to buy for a batch, as plain data."""
    found, made = purchases(walked, packs, again_in_days)
    return PurchasesReport(
        purchases=[
            PurchaseOut(**{**vars(each), "packs": [PackCount(**vars(one.pack), count=one.count) for one in each.packs]}) for each in found
        ],
        made_first=[MadeFirstOut(**vars(each)) for each in made],
        price=sum(each.price or 0.0 for each in found), used=sum(each.used or 0.0 for each in found),
        not_priced=[each.title for each in found if each.price is None],
    )  # fmt: skip


class BatchPointOut(BaseModel):
    """A batch of some size: litres or kilograms, doses, and what one costs."""

    amount: float
    doses: float
    dose: SpanOut


class MakeOrBuyReport(BaseModel):
    """A dose made and bought over the size of the batch, and from which on making pays: none where it never does in one cook."""

    unit: str
    bought: float
    batch: BatchPointOut
    points: list[BatchPointOut]
    pays_from_low: BatchPointOut | None
    pays_from: BatchPointOut | None
    pays_from_high: BatchPointOut | None
    days: int | None
    missing: list[str]
    words: list[str]


def make_or_buy_report(method: Method, rates: Rates, dose_g: float, pack: Pack, formula: str = "") -> MakeOrBuyReport:
    """Whether to make or to buy, as plain data."""
    found = make_or_buy(method, rates, dose_g, pack, formula)
    low, likely, high = (None if each is None else _point(each) for each in found.pays_from)
    return MakeOrBuyReport(
        unit=found.unit, bought=found.bought, batch=_point(found.batch), points=[_point(each) for each in found.points],
        pays_from_low=low, pays_from=likely, pays_from_high=high, days=found.days, missing=list(found.missing), words=make_or_buy_words(found),
    )  # fmt: skip


def _point(point: BatchPoint) -> BatchPointOut:
    return BatchPointOut(amount=point.amount, doses=point.doses, dose=_span(point.dose))


class ChoiceOut(BaseModel):
    """One of ours or a bought pack; None where something cannot be said."""

    id: str
    title: str
    made: bool
    dose: float
    dose_unit: str
    per_litre: SpanOut | None
    per_kg: SpanOut | None
    per_dose: SpanOut | None
    sugars_g: SpanOut | None = Field(description="Of a dose.")
    as_sweet_dose: float | None = Field(description="How much of it brings as much sugar as a dose of the first.")
    score: float | None = Field(description="0 to 10, of all who tasted it.")
    tasters: int
    says: list[str] = Field(description="What tasters found.")
    missing: list[str]


def choices_out(choices: Sequence[Choice]) -> list[ChoiceOut]:
    """Choices side by side, as plain data."""
    return [
        ChoiceOut(
            id=each.id, title=each.title, made=each.made, dose=each.dose, dose_unit=each.dose_unit, per_litre=_maybe(each.per_litre),
            per_kg=_maybe(each.per_kg), per_dose=_maybe(each.per_dose), sugars_g=_maybe(each.sugars_g),
            as_sweet_dose=as_sweet_dose(each, choices[0]), score=each.score, tasters=each.tasters, says=list(each.says), missing=list(each.missing),
        )
        for each in choices
    ]  # fmt: skip
