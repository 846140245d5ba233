"""What days to come need, as it is asked and shown."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from pydantic import BaseModel, Field

from jugcore.fields import Part, Title
from jugcore.planning.forecast.report import ForecastReport
from jugcore.planning.forecast.together import Together
from jugcore.planning.needs.needs import CupsAhead, Grams, needs_of
from jugcore.planning.needs.recipes import Recipe, depth

_Grams = Annotated[float, Field(ge=0, le=1_000_000)]


class CupDoseDoc(Part):
    """Grams of each product in a cup of a size of a drink."""

    drink: str
    size: str
    grams: dict[str, _Grams]


class RecipeDoc(Part):
    """A gram of a product: grams of other products and of ingredients that are bought, by id."""

    product: str
    products: dict[str, _Grams] = {}
    bought: dict[str, _Grams] = {}


class BoughtDoc(Part):
    """An ingredient that is bought: what it is called, and its price a kilogram where one is known."""

    id: str
    title: Title
    price_per_kg: float | None = Field(None, ge=0)


class NeedsAsk(Part):
    """A forecast, and what cups and products are made of."""

    doses: tuple[CupDoseDoc, ...] = ()
    recipes: tuple[RecipeDoc, ...] = ()
    bought: tuple[BoughtDoc, ...] = ()


class GramsOut(BaseModel):
    """Grams of days: means, and between what 80 % of days will lie."""

    mean: list[float]
    low: list[float]
    high: list[float]


class AtPlaceOut(BaseModel):
    """What a place needs of it, by day."""

    place: str
    days: GramsOut


class GoesOut(BaseModel):
    """Grams that go somewhere."""

    id: str
    grams: float


class NeedReport(BaseModel):
    """What is needed of a product over the days."""

    product: str
    days: GramsOut
    whole: GramsOut = Field(description="All days together, one figure each.")
    places: list[AtPlaceOut]
    direct_g: float = Field(description="Straight into drinks; the rest goes into other products.")
    within: list[GoesOut]
    drinks: list[GoesOut]
    depth: int = Field(description="0 where nothing of ours goes in; what is made first has the lower number.")


class BoughtReport(BaseModel):
    """What is needed of something that is bought."""

    id: str
    title: str
    grams: float
    high_g: float = Field(description="If every product is needed as much as on a high week.")
    price: float | None
    products: list[GoesOut]


class NeedsReport(BaseModel):
    """What days to come need."""

    products: list[NeedReport]
    bought: list[BoughtReport]
    cups: float
    without_dose: list[str] = Field(description="Drinks that nothing of ours is in, or of which nobody said how much.")


def needs_report(forecast: ForecastReport, ask: NeedsAsk) -> NeedsReport:
    """Products and ingredients that a forecast's cups need. Raises BadDocument where a product stands in itself."""
    cups = [
        CupsAhead(cell.place, cell.drink, cell.size, np.array(cell.days.mean), np.array(cell.alpha)) for cell in forecast.cells
    ]  # fmt: skip
    doses = {(each.drink, each.size): each.grams for each in ask.doses}
    recipes = {each.product: Recipe(each.products, each.bought) for each in ask.recipes}
    parts = Together(forecast.together.week, forecast.together.day, forecast.together.level)
    needs = needs_of(cups, doses, recipes, parts) if cups else []
    bought: dict[str, dict[str, tuple[float, float]]] = {}
    for need in needs:
        for id, share in recipes[need.product].bought.items() if need.product in recipes else ():
            bought.setdefault(id, {})[need.product] = share * float(need.whole.mean[0]), share * float(need.whole.high[0])
    known = {each.id: each for each in ask.bought}
    return NeedsReport(
        products=[
            NeedReport(
                product=need.product, days=_grams(need.days), whole=_grams(need.whole), direct_g=round(need.direct_g, 1),
                places=[AtPlaceOut(place=place, days=_grams(days)) for place, days in need.places.items()], within=_goes(need.within),
                drinks=_goes(need.drinks), depth=depth(need.product, recipes),
            )
            for need in needs
        ],
        bought=sorted((_bought(id, of, known.get(id)) for id, of in bought.items()), key=lambda each: -each.grams),
        cups=float(sum(float(cup.mean.sum()) for cup in cups)),
        without_dose=sorted({cup.drink for cup in cups} - {drink for (drink, _), dose in doses.items() if any(dose.values())}),
    )  # fmt: skip


def _bought(id: str, of: dict[str, tuple[float, float]], known: BoughtDoc | None) -> BoughtReport:
    grams = sum(mean for mean, _ in of.values())
    price = known.price_per_kg if known is not None else None
    return BoughtReport(
        id=id, title=known.title if known is not None else id, grams=round(grams, 1), high_g=round(sum(high for _, high in of.values()), 1),
        price=None if price is None else grams * price / 1e3, products=_goes({product: mean for product, (mean, _) in of.items()}),
    )  # fmt: skip


def _goes(of: object) -> list[GoesOut]:
    assert hasattr(of, "items")
    return [GoesOut(id=id, grams=round(grams, 1)) for id, grams in sorted(of.items(), key=lambda each: -each[1])]


def _grams(grams: Grams) -> GramsOut:
    return GramsOut(**{name: [round(float(value), 1) for value in getattr(grams, name)] for name in ("mean", "low", "high")})
