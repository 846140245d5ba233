"""Costs as plain data: the published form of what is answered."""

from __future__ import annotations

from pydantic import BaseModel, Field

from jugcore.method.walk import Walk
from jugcore.money.costing import Costing, costing
from jugcore.money.rates import Rates


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
