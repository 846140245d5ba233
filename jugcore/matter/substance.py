"""Substances: what goes into a pot, with its composition and how it is known."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property
from typing import Any, Literal, get_args

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.figures import Floats

#: How a composition is known: a published table, what a pack says, or neither.
KnownBy = Literal["table", "label", "estimate"]
BASES: tuple[KnownBy, ...] = get_args(KnownBy)
STORAGE = ("ambient", "chilled")
KINDS = (
    "water", "sugar", "syrup", "juice", "fruit", "herb", "dairy", "plant", "cocoa", "coffee",
    "tea", "spice", "extract", "acid", "salt", "thickener", "enzyme", "nut", "made", "other",
)  # fmt: skip
#: Of what was made here: a version of a formula, and nothing that is bought.
MADE = "made"
#: Kinds that season rather than make up the bulk: they count towards the spice
#: load and not towards the starting mixture that the load is stated against.
SEASONING_KINDS = frozenset({"spice", "tea", "herb"})
#: Regulation (EU) 1169/2011, Annex II, and the US list of nine (FALCPA, FASTER).
EU_ALLERGENS = (
    "gluten", "crustaceans", "eggs", "fish", "peanuts", "soybeans", "milk",
    "nuts", "celery", "mustard", "sesame", "sulphites", "lupin", "molluscs",
)  # fmt: skip
US_ALLERGENS = ("milk", "eggs", "fish", "crustaceans", "nuts", "peanuts", "gluten", "soybeans", "sesame")
ALLERGEN_LISTS = {
    "eu": ("EU list of 14 (Regulation 1169/2011, Annex II)", EU_ALLERGENS),
    "us": ("US list of 9 (FALCPA 2004, FASTER 2021); of cereals with gluten it names wheat only", US_ALLERGENS),
}

#: How far a composition may miss 100 g before it is refused.
SUM_TOLERANCE_G = 1.0


@dataclass(frozen=True)
class Piece:
    """What one of something weighs: a pod, a tin. ``spread`` is relative, ±."""

    grams: float
    spread: float = 0.2


@dataclass(frozen=True)
class Range:
    """A least and a most of something that differs from fruit to fruit or pack to pack."""

    low: float
    high: float

    @property
    def middle(self) -> float:
        return (self.low + self.high) / 2


@dataclass(frozen=True)
class Opened:
    """Days it keeps once opened, least and most, and where. Common practice: the pack and the local rule come first."""

    days: Range
    storage: str


@dataclass(frozen=True)
class Enzyme:
    """What must be known of an enzyme before anything is promised of it.

    ``works_c`` and ``ph`` are windows, ``dies_c`` where it is lost within minutes; ``activity`` is the
    maker's figure in the maker's unit, from the data sheet that ``sheet`` names. What is unknown is None or empty.
    """

    source: str
    works_c: Range | None = None
    dies_c: float | None = None
    ph: Range | None = None
    activity: float | None = None
    activity_unit: str = ""
    sheet: str = ""
    #: Grams of it for a kilogram of starch, by the sheet.
    dose_g_kg: Range | None = None

    @property
    def is_known(self) -> bool:
        """Whether source, activity and data sheet are all there, and what dose it asks for: without them no hold is promised."""
        return bool(self.works_c and self.dies_c and self.activity and self.activity_unit and self.sheet and self.dose_g_kg)


@dataclass(frozen=True)
class Starch:
    """Starch that is free to swell: where it gelatinises in plain water [°C], in how many minutes all but a third of it has
    (water must reach it first: cocoa's lies in its grains), and whether its maker has done that already.
    """

    gels_c: Range
    minutes: float
    pregelled: bool = False


@dataclass(frozen=True)
class Sweetness:
    """Published sweetness against sucrose, gram for gram: of the dry matter, or of the whole."""

    of_dry: bool
    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class CellOil:
    """The share of a nut's or a seed's oil and protein that runs through a sieve with the liquid. Pastes have no whole cells left."""

    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class Saturates:
    """The share of a fat that is saturated: least, likely, most. Of milk fat and cocoa butter it is known."""

    low: float
    likely: float
    high: float


@dataclass(frozen=True)
class Contributions:
    """What an ingredient brings besides the masses of its components, and where that is known from."""

    #: Of what is called other ash: how many osmoles a gram sets free. [osmol/g]
    minerals_osmol_per_g: float
    starch: Starch | None = None
    cell_oil: CellOil | None = None
    sweetness: Sweetness | None = None
    #: A juice's or a fruit's own sugars are free by the WHO, and not added.
    sugars_added: bool = True
    #: Its gum thickens, gram for gram, like what is sold to thicken with.
    strong_gum: bool = False
    #: Of its fat that is neither milk fat nor cocoa butter; None where nobody said.
    saturates: Saturates | None = None
    #: Grams that a label calls salt, 2.5 × sodium, in a gram of its other ash.
    salt_of_ash: float = 0.1
    source: str = ""


#: Where nobody said anything: a third of what table salt does. [osmol/g]
UNKNOWN = Contributions(minerals_osmol_per_g=0.012)


@dataclass(frozen=True)
class Content:
    """An ingredient of what was made here, as bought: how much of it stands behind a gram, and the hottest that all of it was.

    ``grams_per_g`` is what was weighed in for a gram of product: what a sieve took out again has been paid for, and has touched it.
    ``within`` names the formula of ours it stands in; empty where it is a line's own ingredient. ``through`` are the formulas it came
    through, by id, from the outermost to that one.
    """

    substance: str
    title: str
    within: str
    grams_per_g: float
    was_c: float
    book: Substance = field(repr=False)
    through: tuple[str, ...] = ()

    @property
    def where(self) -> str:
        """“Heavy cream in Fennel Sweet Cream”."""
        return f"{self.title} in {self.within}" if self.within else self.title


@dataclass(frozen=True)
class Used:
    """A version of a formula of ours that stands in something."""

    formula: str
    version: int
    name: str
    fingerprint: str


@dataclass(frozen=True)
class Work:
    """What making a gram takes besides ingredients, at one of the formulas that stand in it: least, likely, most of energy and of hands.

    ``through`` are the formulas it came through, by id, from the outermost to the one it is the work of.
    """

    through: tuple[str, ...]
    kwh_per_g: Span
    hands_s_per_g: Span
    containers_per_g: float

    def times(self, grams_per_g: float, *outer: str) -> Work:
        """What it comes to in something that holds so much of it, and which stands in the formulas ``outer``."""
        return Work(
            (*outer, *self.through), times(self.kwh_per_g, grams_per_g), times(self.hands_s_per_g, grams_per_g), self.containers_per_g * grams_per_g
        )


#: Least, likely, most.
Span = tuple[float, float, float]


def times(span: Span, much: float) -> Span:
    """Least, likely and most of so much of it."""
    return span[0] * much, span[1] * much, span[2] * much


@dataclass(frozen=True)
class Made:
    """A version of a formula of ours as an ingredient: per gram of product tracers (T,), extents (R,), air, and what is in it.

    ``days`` are what its own keeping allows, the day it is made being day one, and ``days_by`` says what decides that; None where
    only a trial says. ``uses`` are the versions that stand in it, at any depth. ``work`` is what making it takes besides ingredients, its
    own and that of everything in it; None where that was never written down.
    """

    version: Used
    tracer: Floats = field(repr=False, compare=False)
    extent: Floats = field(repr=False, compare=False)
    air_ml_per_g: float = 0.0
    contents: tuple[Content, ...] = ()
    uses: tuple[Used, ...] = ()
    days: int | None = None
    days_by: str = ""
    work: tuple[Work, ...] | None = None
    #: Which bottle it came out of, and the last day of that; empty and None of a version as such.
    lot: str = ""
    last_day: date | None = None

    @property
    def price_per_kg(self) -> float | None:
        """What its ingredients cost for a kilogram; None where one of them has no price, water aside."""
        total = 0.0
        for each in self.contents:
            if each.book.price_per_kg is not None:
                total += each.grams_per_g * each.book.price_per_kg
            elif each.book.kind != "water" and each.grams_per_g > 0:
                return None
        return total


@dataclass(frozen=True)
class Substance:
    """One ingredient as bought, or made here.

    ``mass_fraction`` has one entry per component and sums to one; ``density_g_ml``
    is the density a spoon or a cup meets (bulk for dry goods) and
    ``density_spread`` its relative uncertainty, ±; ``free_sugar_fraction`` is the
    share of the substance that counts as added (free) sugar.
    """

    id: str
    title: str
    kind: str
    basis: str
    mass_fraction: Floats = field(repr=False, compare=False)
    density_g_ml: float = 1.0
    density_spread: float = 0.1
    storage: str = "ambient"
    allergens: tuple[str, ...] = ()
    check_pack_for: tuple[str, ...] = ()
    free_sugar_fraction: float = 0.0
    also_called: tuple[str, ...] = ()
    is_ground: bool = False
    #: The same ground, of something whole; the same whole, of something ground.
    other_form: str = ""
    #: What one weighs, by the word people count it by.
    pieces: dict[str, Piece] = field(default_factory=dict, compare=False)
    #: How loud a gram is against a gram of sweet bark, as a range: an order, never a figure to reckon with. None where nobody said.
    strength: tuple[float, float] | None = None
    #: How it tastes and colours, in a few words.
    character: str = ""
    hazards: tuple[str, ...] = ()
    opened: Opened | None = None
    #: Share of what is bought that is left once peeled, cored, stoned.
    edible_portion: Range | None = None
    #: Share of that which a press or a cloth gives as juice.
    juice_yield: Range | None = None
    enzyme: Enzyme | None = None
    contributions: Contributions = UNKNOWN
    #: As measured by somebody, at room temperature. Never computed.
    ph: float | None = None
    #: In the site's currency.
    price_per_kg: float | None = None
    #: The ingredient of which this is a stronger or weaker lot, or one with facts of another day; its dates are that one's.
    of: str = ""
    #: What it was made of, where it was made here: it then enters with all that travels along.
    made: Made | None = field(default=None, repr=False)
    source: str = ""
    note: str = ""

    @property
    def is_seasoning(self) -> bool:
        return self.kind in SEASONING_KINDS

    @property
    def is_whole(self) -> bool:
        """Whether it could be ground and is not."""
        return bool(self.other_form) and not self.is_ground

    @cached_property
    def composition_2dp(self) -> dict[str, float]:
        """Component → grams in 100 g to a hundredth: what tells an ingredient from another of the same name."""
        return {name: round(grams, 2) for name, grams in self.composition_g_per_100g().items()}

    def composition_g_per_100g(self) -> dict[str, float]:
        """Component → grams in 100 g, components that are absent left out; of what was made here to the last digit."""
        if self.made is not None:
            return {name: 100 * float(share) for name, share in zip(c.NAMES, self.mass_fraction, strict=True) if share > 0}
        return {name: round(100 * float(share), 6) for name, share in zip(c.NAMES, self.mass_fraction, strict=True) if share > 0}


def substance_from_composition(
    *,
    id: str,
    composition_g_per_100g: Mapping[str, float],
    title: str | None = None,
    kind: str = "other",
    basis: str = "estimate",
    free_sugars_g_per_100g: float | None = None,
    where: str = "substance",
    **facts: Any,
) -> Substance:
    """Build a substance from grams per 100 g of its components.

    Raises BadDocument for an unknown component, a negative or non-finite amount,
    or components that do not sum to 100 ± 1 g. What is left of that gram is
    spread in proportion so that mass balances stay exact.
    """
    fraction = np.zeros(c.COUNT)
    for name, grams in composition_g_per_100g.items():
        key = c.canonical(name)
        if key is None:
            raise BadDocument(
                field=f"{where}.{name}",
                message=f"“{name}” is not a component.",
                remedy=f"Use one of: {', '.join(c.NAMES)}.",
            )
        if not (np.isfinite(grams) and grams >= 0):
            raise BadDocument(
                field=f"{where}.{name}",
                message=f"{grams} g of {name} in 100 g makes no sense.",
                remedy="Give zero or more grams.",
            )
        fraction[c.INDEX[key]] += grams / 100.0
    total = float(fraction.sum())
    if abs(total - 1) * 100 > SUM_TOLERANCE_G:
        raise BadDocument(
            field=where,
            message=f"The components of {title or id} add up to {100 * total:.1f} g in 100 g.",
            remedy="Make them add up to 100 g, within 1 g.",
        )
    sugars = float(fraction @ c.SUGARS)
    free = sugars if free_sugars_g_per_100g is None else free_sugars_g_per_100g / 100.0
    if kind not in KINDS:
        raise BadDocument(field=f"{where}.kind", message=f"“{kind}” is not a kind of substance.", remedy=f"Use one of: {', '.join(KINDS)}.")
    return Substance(
        id=id,
        title=title or id,
        kind=kind,
        basis=basis,
        mass_fraction=fraction / total,
        free_sugar_fraction=min(free, sugars) / total,
        **facts,
    )
