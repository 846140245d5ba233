"""What is asked of a forecast: what was sold where, the calendar, and what somebody knows better."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from jugcore.fields import Id, Part, Title
from jugcore.planning.forecast.series import MOST_DAYS

MOST_AHEAD = 28
MOST_SERIES = 4000
#: What a drink, size or place is called: its id, or what the shop calls it.
Key = Annotated[str, Field(max_length=64, pattern=r"^[^\x00]+$")]
Count = Annotated[float, Field(ge=0, le=1_000_000)]


class EventDoc(Part):
    """Days on which something goes on. ``place`` is where; everywhere if it is left out."""

    name: Title = Field(min_length=1)
    first: date
    last: date
    place: Key | None = None
    times: float | None = Field(None, gt=0, le=20, description="What it does to sales, where it has not been seen before: 1.5 is half as much again.")

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.last < self.first:
            raise ValueError("It ends before it begins.\nSwap the days.")
        return self


class ClosedDoc(Part):
    """Days on which a place is closed; every place if it is left out."""

    first: date
    last: date
    place: Key | None = None


class PlaceDoc(Part):
    """Where drinks are sold, and the weekdays it is open (0 is Monday)."""

    id: Key
    title: Title
    open_on: tuple[Annotated[int, Field(ge=0, le=6)], ...] = (0, 1, 2, 3, 4, 5, 6)


class SoldDoc(Part):
    """What was sold of a size of a drink at a place, day by day from the first day on; null where nobody knows."""

    place: Key
    drink: Key
    size: Key
    counts: tuple[Count | None, ...] = Field(max_length=MOST_DAYS)


class LikeDoc(Part):
    """A drink that is new is taken to sell as a share of another; ``instead`` if what it sells, the other sells less."""

    drink: Key
    like: Key
    share: float = Field(gt=0, le=10)
    instead: bool = False
    sizes: dict[Key, Key] = Field({}, description="Its sizes, and which size of the other each is taken to sell like.")


class OverrideDoc(Part):
    """What somebody knows better: so many times, or so many a day, of a drink, a size, a place; all of them where left out."""

    id: Id
    first: date
    last: date
    place: Key | None = None
    drink: Key | None = None
    size: Key | None = None
    times: float | None = Field(None, ge=0, le=20)
    count: Count | None = None

    @model_validator(mode="after")
    def _one_of_two(self) -> Self:
        if (self.times is None) == (self.count is None):
            raise ValueError("It says neither how many nor how many times, or both.\nGive one of the two.")
        return self

    def holds(self, on: date, place: str, drink: str, size: str) -> bool:
        """Whether it is of a cell."""
        return (
            self.first <= on <= self.last
            and self.place in (None, place)
            and self.drink in (None, drink)
            and self.size in (None, size)
        )  # fmt: skip


class ForecastAsk(Part):
    """A forecast from a day on."""

    format: Literal["oakenjug.forecast/1"] = "oakenjug.forecast/1"
    first: date = Field(description="Of the first count of what was sold")
    today: date = Field(description="The first day to come; what is known is of the days before it.")
    ahead: int = Field(7, ge=1, le=MOST_AHEAD)
    places: tuple[PlaceDoc, ...] = Field(max_length=200)
    sold: tuple[SoldDoc, ...] = Field(max_length=MOST_SERIES)
    events: tuple[EventDoc, ...] = Field((), max_length=1000)
    closed: tuple[ClosedDoc, ...] = Field((), max_length=1000)
    likes: tuple[LikeDoc, ...] = Field((), max_length=200)
    overrides: tuple[OverrideDoc, ...] = Field((), max_length=1000)

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        past = (self.today - self.first).days
        if past < 0 or past > MOST_DAYS:
            raise ValueError(f"What was sold begins {past} days before today.\nGive at most {MOST_DAYS} days.")
        places = {place.id for place in self.places}
        for each in self.sold:
            if len(each.counts) != past:
                raise ValueError(f"Of {each.drink} at {each.place} there are {len(each.counts)} counts for {past} days.\nGive one a day.")
            if each.place not in places:
                raise ValueError(f"{each.drink} was sold at {each.place}, which is none of the places.\nName the place.")
        return self

    def days(self) -> list[date]:
        """All days: those that were, then those to come."""
        return [self.first + timedelta(days=n) for n in range((self.today - self.first).days + self.ahead)]
