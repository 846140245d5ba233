"""What a plan is asked for: products with what days need of them, what a cook takes and costs, stock, what a day has room for."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from jugcore.fields import Part, Title, number

MOST_DAYS, MOST_PRODUCTS = 28, 80
_Grams = Annotated[float, Field(ge=0, le=10_000_000)]
_Key = Annotated[str, Field(min_length=1, max_length=64, pattern=r"^[^\x00]+$")]


class DayDoc(Part):
    """A day and what it has room for; without a bound where left out. On a closed day nothing is made."""

    on: date
    closed: bool = False
    more: float = Field(0.0, ge=0, le=100_000, description="What a cook costs more on this day, as on a Sunday.")
    hands_min: float | None = number(None, unit="min", ge=0, le=100_000, description="Hands-on time of all people together")
    burner_min: float | None = number(None, unit="min", ge=0, le=100_000, description="Of all burners together")


class CookDoc(Part):
    """One cook of a product: what it takes and costs whatever its size, what a gram adds, and between what it lies."""

    most_g: float = number(..., unit="g", gt=0, le=1_000_000, description="What pots and scales take at most")
    least_g: float = number(0.0, unit="g", ge=0, le=1_000_000, description="Less is not worth a cook")
    bottle_g: float | None = number(None, unit="g", gt=0, le=100_000, description="Bottles are filled whole")
    money: float = Field(0.0, ge=0, le=100_000, description="Labour and energy of a cook, in the site's currency.")
    money_g: float = Field(0.0, ge=0, le=1_000, description="What goes into a gram, containers counted.")
    hands_min: float = number(0.0, unit="min", ge=0, le=10_000, description="Hands-on time of a cook")
    burner_min: float = number(0.0, unit="min", ge=0, le=10_000, description="Burner time of a cook")
    a_day: int = Field(20, ge=1, le=100, description="So many cooks of it a day at most.")


class ProductDoc(Part):
    """A product over the days.

    ``needs_g`` is what drinks need of it by day, ``margin_g`` what is made beyond that since more may be wanted, ``beyond_g`` what the
    days after the plan need (what is left over is worth as much as they would use). Its day of making is day one of ``life_days``.
    """

    id: _Key
    title: Title = ""
    needs_g: tuple[_Grams, ...]
    margin_g: tuple[_Grams, ...] = ()
    beyond_g: tuple[_Grams, ...] = Field((), max_length=MOST_DAYS)
    life_days: int = Field(ge=1, le=400)
    ready_days: int = Field(0, ge=0, le=7, description="Days after the day of making until it can be used: 1 for what cools overnight.")
    cook: CookDoc
    short_g: float = Field(gt=0, le=1_000, description="What running short of a gram costs.")
    hold_g: float = Field(0.0, ge=0, le=1_000, description="What keeping a gram for a night costs.")
    waste_g: float = Field(0.0, ge=0, le=1_000, description="What throwing a gram away costs beside what went into it.")
    chill_l_kg: float = number(0.0, unit="l/kg", ge=0, le=100, description="Room in the fridge")
    parts: dict[_Key, _Grams] = Field({}, description="Grams of other products that go into a gram of it, on the day it is made.")


class StockDoc(Part):
    """What is on hand of a product: from which day of the plan it can be used (0 is the first; later for what thaws), and its last day."""

    product: _Key
    grams: _Grams
    first_day: int = Field(0, ge=0, le=MOST_DAYS)
    last_day: int = Field(ge=-1, le=1_000, description="-1: before the plan begins.")


class PinDoc(Part):
    """What somebody decided: so many cooks of a product on a day, exactly or at least; none is a ban."""

    product: _Key
    day: int = Field(ge=0, lt=MOST_DAYS)
    cooks: int = Field(ge=0, le=100)
    kind: Literal["exactly", "at least"] = "exactly"


class LotsProblem(Part):
    """A plan to be made."""

    format: Literal["oakenjug.lots/1"] = "oakenjug.lots/1"
    days: tuple[DayDoc, ...] = Field(min_length=1, max_length=MOST_DAYS)
    products: tuple[ProductDoc, ...] = Field(max_length=MOST_PRODUCTS)
    stock: tuple[StockDoc, ...] = Field((), max_length=2_000)
    pins: tuple[PinDoc, ...] = Field((), max_length=MOST_DAYS * MOST_PRODUCTS)
    chill_l: float | None = number(None, unit="l", ge=0, le=100_000, description="Room in the fridge, in the evening")

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        many = len(self.days)
        ids = [each.id for each in self.products]
        if len(set(ids)) < len(ids):
            raise ValueError("Two products have one id.\nGive each its own.")
        for each in self.products:
            if len(each.needs_g) != many or len(each.margin_g) not in (0, many):
                raise ValueError(f"{each.title or each.id} has {len(each.needs_g)} days of needs for {many} days.\nGive one figure a day.")
            if each.cook.least_g > each.cook.most_g:
                raise ValueError(f"A cook of {each.title or each.id} is at least more than at most.\nSwap the two.")
            stray = set(each.parts) - set(ids)
            if stray:
                raise ValueError(f"{each.title or each.id} is made with “{min(stray)}”, which is none of the products.\nAdd it.")
        for stray_id in sorted(({row.product for row in self.stock} | {pin.product for pin in self.pins}) - set(ids)):
            raise ValueError(f"“{stray_id}” is none of the products.\nAdd it, or leave its stock and pins out.")
        if any(pin.day >= many for pin in self.pins):
            raise ValueError("Something is pinned to a day after the plan.\nChoose a day of the plan.")
        self.in_order()
        return self

    def in_order(self) -> list[ProductDoc]:
        """Products so that what goes into another comes before it. Raises ValueError where one goes into itself."""
        by_id = {each.id: each for each in self.products}
        found: dict[str, ProductDoc] = {}

        def add(id: str, way: tuple[str, ...]) -> None:
            if id in way:
                raise ValueError(f"{by_id[id].title or id} goes into itself.\nTake it out where it stands.")
            for inner in by_id[id].parts:
                if inner not in found:
                    add(inner, (*way, id))
            found.setdefault(id, by_id[id])

        for each in self.products:
            add(each.id, ())
        return list(found.values())
