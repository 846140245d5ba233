"""A drink's money as plain data: the published form of what is answered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from uuid import UUID

from pydantic import BaseModel, Field

from jugcore.drinks.document import DrinkDocument
from jugcore.drinks.drink_money import drink_then_now, with_doses_of
from jugcore.matter.made_today import Today
from jugcore.method.document import MethodDocument
from jugcore.money.price_changes import formula_then_now, prices_differ
from jugcore.money.rates import Rates


class PriceChangeOut(BaseModel):
    """An ingredient's price a kilogram then and now, and what that adds to the largest size."""

    substance: str
    title: str
    then: float | None
    now: float | None
    adds: float


class SizeThenNowOut(BaseModel):
    """What a size costs and leaves of its price [%], then and now."""

    name: str
    price: float | None
    cost_then: float | None
    cost_now: float | None
    margin_then: float | None
    margin_now: float | None
    below: bool = Field(description="Below what the shop asks for.")
    pushed_below: bool = Field(description="And it was not before.")


class DrinkThenNowReport(BaseModel):
    """A served drink by the prices it was kept with and by those of today."""

    changes: list[PriceChangeOut]
    sizes: list[SizeThenNowOut]
    least_margin: float | None
    with_making: bool
    missing: list[str]


class InDrinkOut(BaseModel):
    """What a drink costs in each size with a choice in the place of one component, and what that leaves of the price [%]."""

    choice: str
    cost: list[float | None]
    margin: list[float | None]


def drink_then_now_report(kept: DrinkDocument, today: Mapping[str, Today], rates: Rates) -> DrinkThenNowReport:
    """What prices of today do to a version of a drink, as plain data."""
    found = drink_then_now(kept, today, rates)
    return DrinkThenNowReport(
        changes=[PriceChangeOut(**vars(each)) for each in found.changes], sizes=[SizeThenNowOut(**vars(each)) for each in found.sizes],
        least_margin=found.least_margin, with_making=found.with_making, missing=list(found.missing),
    )  # fmt: skip


class DrinkChanged(DrinkThenNowReport):
    """A served drink whose prices changed since its version was kept, or that leaves less than the shop asks for."""

    drink: UUID
    name: str
    version: int


class FormulaChanged(BaseModel):
    """A formula whose prices changed since its newest version was kept: what a litre or kilogram costs in ingredients."""

    formula: UUID
    name: str
    version: int
    unit: str
    then: float
    now: float
    changes: list[PriceChangeOut]


class PriceChangesReport(BaseModel):
    """What prices have changed since versions were kept. Drinks that were pushed below their margin come first, formulas by how far theirs moved."""

    drinks: list[DrinkChanged]
    formulas: list[FormulaChanged]


def price_changes_report(
    drinks: Sequence[tuple[UUID, str, int, DrinkDocument]],
    formulas: Sequence[tuple[UUID, str, int, MethodDocument]],
    today: Mapping[str, Today],
    rates: Rates,
) -> PriceChangesReport:
    """What prices of today do to versions of drinks and formulas, each by its id, name and number. Only formulas with another price are walked."""
    changed = []
    for id, name, version, drink in drinks:
        report = drink_then_now_report(drink, today, rates)
        if report.changes or any(size.below for size in report.sizes):
            changed.append(DrinkChanged(**report.model_dump(), drink=id, name=name, version=version))
    changed.sort(key=lambda each: (not any(size.pushed_below for size in each.sizes), not any(size.below for size in each.sizes), each.name))
    found = []
    for id, name, version, kept in formulas:
        then_now = formula_then_now(kept, today) if prices_differ(kept.substances, today) else None
        if then_now is not None and then_now.changes:
            changes = [PriceChangeOut(**vars(each)) for each in then_now.changes]
            found.append(
                FormulaChanged(
                    formula=id, name=name, version=version, unit=then_now.unit, then=then_now.then, now=then_now.now, changes=changes
                )
            )  # fmt: skip
    found.sort(key=lambda each: -abs(each.now / each.then - 1) if each.then else 0.0)
    return PriceChangesReport(drinks=changed, formulas=found)


def in_drink_out(
    drink: DrinkDocument, component: str, dose_g: float, doses: Sequence[tuple[str, float | None]]
) -> tuple[list[InDrinkOut], list[str]]:
    """What a drink costs with other doses in the place of one component, as plain data, and what is not in that."""
    found, missing = with_doses_of(drink, component, dose_g, doses)
    return [InDrinkOut(choice=each.choice, cost=list(each.cost), margin=list(each.margin)) for each in found], list(missing)
