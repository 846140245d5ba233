"""Drinks as plain data: the published form of what is asked and answered."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from jugcore.dosing.drink import Curdling
from jugcore.drinks.document import DrinkDocument, Role
from jugcore.fields import Id, Part


class RangedOut(BaseModel):
    """A figure in one size: least, likely, most; None where it cannot be said."""

    low: float | None
    likely: float | None
    high: float | None


class ComponentInSize(BaseModel):
    """A component in one size."""

    size: str
    grams: float
    ml: float | None
    reading: str = Field(description="How the amount was read.")
    strokes: float | None
    fills_up: bool


class ComponentOut(BaseModel):
    """A component as it was understood."""

    id: str
    title: str
    role: Role
    substance: str
    version: int | None = Field(description="Of what is made here, the version.")
    formula: str | None
    stroke_ml: float
    stroke_g: float
    in_sizes: list[ComponentInSize]


class LayerOut(BaseModel):
    """A component as it lies in the cup."""

    component: str
    title: str
    role: Role
    ml: float


class SizeOut(BaseModel):
    """A size with what is in it, from the bottom up, and what must be known of it."""

    id: str
    name: str
    cup_ml: float
    fill_ml: float | None
    price: float | None
    fills_ml: float | None
    ice_g: float = Field(description="Ice that still floats as it is served.")
    melted_g: float
    layers: list[LayerOut]
    curdling: Curdling | None
    cautions: list[str]


class DrinkFigure(BaseModel):
    """A reading of a drink over its sizes, in their order."""

    id: str
    title: str
    unit: str
    digits: int
    basis: str
    why_not: str
    sizes: list[RangedOut]


class DrinkAllergen(BaseModel):
    """An allergen, what brings it and the sizes it is in."""

    allergen: str
    brought_by: list[str]
    sizes: list[str]
    certain: bool
    lists: list[str]


class DrinkFault(BaseModel):
    """Something about the drink that cannot be done, the sizes it is about, and what to do."""

    code: str
    field: str
    message: str
    remedy: str
    sizes: list[str]


class Evenness(BaseModel):
    """A reading over the sizes on one axis."""

    reading: str
    low: float | None
    high: float | None
    spread: float | None = Field(description="Largest ÷ smallest, less one.")
    outside: list[str] = Field(description="Sizes outside the window.")
    words: str


class LevelOut(BaseModel):
    """A level of sweetness: the shop's name, and what it really is."""

    name: str
    title: str
    sugars_100ml: list[float | None]
    share: list[float | None]
    fills_ml: list[float | None]


class DrinkSizesReport(BaseModel):
    """A drink over its sizes."""

    name: str
    sizes: list[SizeOut]
    components: list[ComponentOut]
    readings: list[DrinkFigure]
    allergens: list[DrinkAllergen]
    evenness: Evenness
    pouring: list[str] = Field(description="In which order, and what runs into what.")
    notes: list[str] = Field(description="What to look after: thinning by ice, a cup that runs over, a margin below the shop's.")
    uncertain: list[str]
    levels: list[LevelOut]
    faults: list[DrinkFault]


class EvenDoses(BaseModel):
    """Doses over the sizes, None where a size has none of it, and what they come to."""

    grams: list[float | None]
    strokes: list[int | None] | None
    stroke_ml: float | None
    values: list[float | None]
    off: list[float | None]
    worst: float
    even: bool
    drink: DrinkDocument


class EvenOutReport(BaseModel):
    """A reading brought to one value in every size."""

    reading: str
    component: str
    target: float
    not_reached: list[str]
    in_grams: EvenDoses
    in_strokes: EvenDoses
    best: EvenDoses
    words: list[str]


class EvenOutRequest(Part):
    """Which reading is to be the same in every size, by the dose of what, and at which value; None for the middle of the shop's window."""

    component: Id
    reading: Literal["sugars_100ml", "sweet_100ml", "fat_100ml"] = "sugars_100ml"
    target: float | None = Field(None, gt=0, le=1000)


class DrinkWaysRequest(Part):
    """A reading of one size, and what it is to come to."""

    size: Id
    reading: Id
    value: float = Field(ge=0, le=1_000_000)


class MovedOut(BaseModel):
    """A reading before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: float
    after: float


class DrinkWayOut(BaseModel):
    """One way, and the drink that does it."""

    words: str
    comes_to: float
    moved: list[MovedOut]
    cautions: list[str]
    drink: DrinkDocument


class DrinkWaysReport(BaseModel):
    """Ways to make a reading of one size come to a value."""

    size: str
    reading: str
    value: float
    now: float | None
    ways: list[DrinkWayOut]


class SwapsRequest(Part):
    """Something else in place of one component; none named: the milks a bar offers."""

    component: Id
    others: tuple[Id, ...] = Field((), max_length=12)
    milks: bool = Field(False, description="The milks a bar offers too, behind those named.")
    same_fat: bool = Field(False, description="As much of each as brings the fat in 100 ml to what it is.")


class SwapChange(BaseModel):
    """A reading by size before and after."""

    reading: str
    title: str
    unit: str
    digits: int
    before: list[float | None]
    after: list[float | None]


class SwapOut(BaseModel):
    """The drink with something else in it."""

    substance: str
    title: str
    changes: list[SwapChange]
    gains: list[str]
    loses: list[str]
    words: list[str]
    drink: DrinkDocument


class SwapsReport(BaseModel):
    """A drink with several things in place of one component."""

    component: str
    swaps: list[SwapOut]
