"""A drink as it is written: sizes, and what goes into the cup in which order, as JSON."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from typing import Any, Literal, Self

from pydantic import Field, ValidationError, model_validator

from jugcore.errors import together
from jugcore.fields import Id, Part, Text, Title, number
from jugcore.formats import Format
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.kitchen import Kitchen
from jugcore.method.schema_messages import explain
from jugcore.money.rates import Rates

DRINK = Format("oakenjug.drink", ())
MOST_SIZES, MOST_COMPONENTS = 8, 20

#: What a component is in the cup: it decides how it is drawn and what may be changed about it.
Role = Literal["dose", "coffee", "tea", "milk", "foam", "ice", "garnish", "other"]


class BandDoc(Part):
    """A figure that nobody can say exactly: least, likely, most."""

    low: float = Field(ge=0, le=1_000_000)
    likely: float = Field(ge=0, le=1_000_000)
    high: float = Field(ge=0, le=1_000_000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if not self.low <= self.likely <= self.high:
            raise ValueError("Least, likely and most are not in this order.\nPut the smallest first.")
        return self


class SizeDoc(Part):
    """A size: what its cup holds to the brim, how far it is filled, and what is charged for it."""

    id: Id
    name: Title = Field(min_length=1)
    cup_ml: float = number(..., unit="ml", gt=0, le=5000, description="To the brim")
    fill_ml: float | None = number(None, unit="ml", gt=0, le=5000, description="The fill line, foam and ice counted")
    price: float | None = Field(None, gt=0, le=100_000, description="What is charged for it without tax, in the site's currency.")

    @model_validator(mode="after")
    def _line_in_the_cup(self) -> Self:
        if self.fill_ml is not None and self.fill_ml > self.cup_ml:
            raise ValueError("Its fill line is above its brim.\nGive a line below what the cup holds.")
        return self


class BrewDoc(Part):
    """How coffee or tea is brewed, where it is given dry; and how strong it comes out, which no product can say."""

    out_per_in: float = number(..., unit="g/g", ge=0.5, le=100, description="Grams in the cup for a gram of coffee or tea")
    dissolved: BandDoc | None = Field(None, description="What is dissolved in it [g/100 g]; else as usual for its kind, an estimate.")
    caffeine_mg_g: BandDoc | None = Field(None, description="Caffeine in the cup for a gram of coffee or tea [mg/g]; else by what it holds.")


class ComponentDoc(Part):
    """One thing in the cup and how much of it, by size. Components stand in the order in which they are poured."""

    id: Id
    role: Role = "other"
    substance: Id = Field(description="An ingredient, or a version of a formula made here.")
    name: Title | None = None
    amounts: dict[Id, Title] = Field({}, max_length=MOST_SIZES, description="By size, as written: 2 strokes, 15 g, 1 tbsp, 180 ml, to the line.")
    stroke_ml: float | None = number(None, unit="ml", gt=0, le=100, description="What a stroke of its pump gives; else the kitchen's")
    siphon_g_s: float | None = number(None, unit="g/s", gt=0, le=200, description="What a siphon gives in a second")
    poured_c: float | None = number(None, unit="°C", ge=0, le=100, description="As it goes in; else coffee and tea 70, the rest as it is stored")
    steamed_c: float | None = number(None, unit="°C", gt=20, le=95, description="What steam warms it to; the steam's water stays in it")
    air: BandDoc | None = Field(None, description="Air in 100 ml of it [ml], where it is frothed at the bar.")
    brew: BrewDoc | None = None


class SugarsWindow(Part):
    """Between what a figure should stand in every size."""

    low: float = Field(ge=0, le=1000)
    high: float = Field(ge=0, le=1000)

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.low > self.high:
            raise ValueError("Its least is above its most.\nSwap them.")
        return self


class LevelDoc(Part):
    """A level of sweetness: another mix in place of one component, in the same amount, so that the cup stays as full."""

    id: Id
    name: Title = Field(min_length=1)
    component: Id
    substance: Id


class DrinkDocument(Part):
    """One drink over its sizes."""

    format: Literal["oakenjug.drink/1"] = "oakenjug.drink/1"
    name: Title = ""
    notes: Text = ""
    sizes: tuple[SizeDoc, ...] = Field(min_length=1, max_length=MOST_SIZES)
    components: tuple[ComponentDoc, ...] = Field(max_length=MOST_COMPONENTS)
    sugars_window: SugarsWindow | None = Field(None, description="Sugars in 100 ml in every size [g].")
    least_margin: float | None = Field(None, ge=0, lt=100, description="What should be left of the price [%].")
    levels: tuple[LevelDoc, ...] = Field((), max_length=8)
    rates: Rates | None = Field(None, description="What the site pays besides ingredients; put in where a drink is worked out, kept in its versions.")
    substances: dict[Id, SubstanceDoc] = Field({}, max_length=2 * MOST_COMPONENTS)
    kitchen: Kitchen | None = None

    @model_validator(mode="after")
    def _hangs_together(self) -> Self:
        for what, ids in (("size", [size.id for size in self.sizes]), ("component", [each.id for each in self.components])):
            twice = [id for id, count in Counter(ids).items() if count > 1]
            if twice:
                raise ValueError(f"Two {what}s have the id “{twice[0]}”.\nGive each its own.")
        names = [size.name.strip().lower() for size in self.sizes]
        if len(set(names)) < len(names):
            raise ValueError("Two sizes have one name.\nName them apart.")
        sizes, components = {size.id for size in self.sizes}, {each.id for each in self.components}
        for component in self.components:
            stray = component.amounts.keys() - sizes
            if stray:
                raise ValueError(f"An amount is for a size “{min(stray)}” that is not there.\nTake it out, or add the size.")
        for level in self.levels:
            if level.component not in components:
                raise ValueError(f"The level {level.name} is of something that is not in the cup.\nChoose one of its components.")
        return self

    def size(self, id: str) -> SizeDoc:
        """One of its sizes. Raises KeyError."""
        return {size.id: size for size in self.sizes}[id]

    def component(self, id: str) -> ComponentDoc:
        """One of its components. Raises KeyError."""
        return {each.id: each for each in self.components}[id]

    def with_component(self, changed: ComponentDoc) -> DrinkDocument:
        """The drink with one component in place of that of its id."""
        return self.model_copy(update={"components": tuple(changed if each.id == changed.id else each for each in self.components)})


def drink_as_sent(drink: DrinkDocument, asked: DrinkDocument) -> DrinkDocument:
    """A changed drink with no more of kitchen, prices and pantry written into it than the one that was sent had: those stay today's."""
    substances = {id: substance for id, substance in drink.substances.items() if id in asked.substances}
    return drink.model_copy(update={"kitchen": asked.kitchen, "rates": asked.rates, "substances": substances})


def load_drink(raw: Mapping[str, Any]) -> DrinkDocument:
    """A drink from plain data, brought to the newest format and checked against its shape.

    Raises SeveralProblems (or the single DomainError) listing everything wrong, each with its field.
    """
    current = DRINK.current(raw)
    try:
        return DrinkDocument.model_validate(current)
    except ValidationError as error:
        raise together([explain(each, current) for each in error.errors(include_url=False)]) from None
