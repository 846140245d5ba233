"""A plan: cooks by product and day, what of them is used when, what is short, kept and thrown away, in grams and money."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

#: Optimal: proven within the gap that was asked for. Feasible: the best found in time. Impossible: what is pinned cannot be.
Status = Literal["optimal", "feasible", "impossible", "too slow"]


class UsedOut(BaseModel):
    """Grams of a cook, or of what was on hand, used on a day."""

    day: int
    grams: float


class CookOut(BaseModel):
    """Cooks of a product on a day, together. What is neither used nor kept beyond the plan is thrown away."""

    product: str
    day: int
    cooks: int
    grams: float
    used: list[UsedOut]
    kept_g: float = Field(description="Good still after the plan, and needed then.")
    waste_g: float


class FromStockOut(BaseModel):
    """What is used of what is on hand; ``stock`` is its place in the problem."""

    stock: int
    used: list[UsedOut]
    kept_g: float
    waste_g: float


class ShortOut(BaseModel):
    """What is short of a product on a day."""

    product: str
    day: int
    grams: float


class MoneyOut(BaseModel):
    """What a plan costs, by part; ``kept`` is what is left over and good, taken off."""

    cooks: float
    ingredients: float
    holding: float
    short: float
    waste: float
    kept: float

    @property
    def whole(self) -> float:
        """All of it."""
        return self.cooks + self.ingredients + self.holding + self.short + self.waste - self.kept


class LotsPlan(BaseModel):
    """A plan and how good it is: ``gap`` is how much cheaper another could be at most, as a share of its cost."""

    status: Status
    cost: float
    bound: float
    gap: float
    money: MoneyOut
    cooks: list[CookOut]
    from_stock: list[FromStockOut]
    short: list[ShortOut]
    blamed: list[int] = Field([], description="Places of the pins that cannot be together, the fewest that cannot.")
    seconds: float
