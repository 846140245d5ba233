"""A dose of a formula in a drink: what that is in grams, what is in the cup then, and what would move its balance.

The cup is the formula's product, a share of it, mixed with what else goes in, both walked.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from jugcore import components as c
from jugcore.dosing.build import Build, built
from jugcore.errors import BadDocument, NotUnderstood
from jugcore.figures import shown
from jugcore.matter.matter import ADDED_SUGAR, FREE_SUGAR, Matter
from jugcore.matter.substance import Substance
from jugcore.measures.density import grams_of
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.method.walk import Walk
from jugcore.physics.acidity import ACIDS, titratable_eq
from jugcore.physics.energy import KCAL
from jugcore.reading.costs import product_cost
from jugcore.reading.readings.content import unpriced
from jugcore.reading.readings.taste import as_sucrose_g

#: Milliequivalents of acid a gram of milk protein takes before it curdles, least and most: cold (near pH 4.8), hot (near 5.3), and
#: soya, which goes sooner. Estimates from milk's titration curve, an order: a split test decides.
_CURDLES_MEQ_G = {"cold": (1.5, 2.3), "hot": (0.8, 1.4), "soya": (0.4, 1.0)}
#: From here a drink counts as hot. [°C]
_HOT_C = 50.0


@dataclass(frozen=True)
class Figure:
    """A number of a drink, with its range where it has one; None where it cannot be said, and then why."""

    id: str
    title: str
    value: float | None
    unit: str
    digits: int
    low: float | None
    high: float | None
    why_not: str


@dataclass(frozen=True)
class Side:
    """One side of the balance: where the drink stands, where drinks mostly stand (common practice, no source), and a word for it."""

    id: str
    title: str
    value: float
    unit: str
    digits: int
    low: float
    high: float
    usual_low: float
    usual_high: float
    word: str


@dataclass(frozen=True)
class Move:
    """A side before something is done, and after."""

    side: str
    before: float
    after: float


@dataclass(frozen=True)
class Nudge:
    """Something that could be done, and the sides it moves."""

    words: str
    moves: tuple[Move, ...]


@dataclass(frozen=True)
class Curdling:
    """How far the acid of a drink goes towards curdling its milk: shares of the way, least and most, an estimate; and words."""

    low: float
    high: float
    tone: Literal["fine", "look", "stop"]
    words: str


@dataclass(frozen=True)
class Drink:
    """A drink with its dose."""

    dose_g: float
    dose_low_g: float
    dose_high_g: float
    dose_ml: float | None
    reading: str
    figures: tuple[Figure, ...]
    sides: tuple[Side, ...]
    nudges: tuple[Nudge, ...]
    curdling: Curdling | None
    build: Build
    advice: tuple[str, ...]
    cautions: tuple[str, ...]


#: Where drinks of a coffee bar mostly stand: common practice, no source. Side → unit, least, most, words below, within, above.
_USUAL: dict[str, tuple[str, str, int, float, float, tuple[str, str, str]]] = {
    "sweet": ("Sweet", "g of sucrose in 100 ml", 1, 4.0, 9.0, ("dry", "sweet enough", "sickly")),
    "sour": ("Sour", "g of acid in 100 ml, as citric", 2, 0.0, 0.5, ("", "rounded", "sharp")),
    "bitter": ("Bitter", "mg of caffeine and theobromine in 100 ml", 0, 5.0, 60.0, ("flat", "has an edge", "bitter")),
    "salt": ("Salt", "g in 100 ml", 2, 0.0, 0.15, ("", "not tasted as salt", "salty")),
    "body": ("Body", "g of fat in 100 ml", 1, 0.5, 4.0, ("thin", "full", "heavy")),
}


def drink_of(
    product: Walk,
    base: Walk | None,
    dose: str,
    measures: str,
    pump_ml: float,
    at_c: float = 20.0,
    *,
    ice_g: float = 0.0,
    cup_ml: float | None = None,
) -> Drink:
    """What a dose of a walked product makes of a walked base.

    Parameters: the product's walk; that of what else is in the cup, None for the dose alone; the dose as written (20 g,
    2 pumps, 1 tbsp); the measures and what a pump stroke gives; how warm the drink is [°C]; ice in it [g]; what the cup holds [ml].
    Raises NotUnderstood for a dose that cannot be read, BadDocument where there is no product.
    Range: first cases. Source: balances are exact; sweetness, bitterness and curdling as their models say.
    """
    made = product.product
    total = float(made.total_g[0])
    if not total > 0:
        raise BadDocument("document", "There is no product to take a dose of.", "Put the formula right first.")
    ml = float(made.foam_ml(20.0)[0])  # a spoon of foam holds its air
    density = total / ml if np.isfinite(ml) and ml > 0 else 1.0
    like = Substance(
        "dose", product.method.document.name or "the product", "syrup", "estimate", np.zeros(c.COUNT), density_g_ml=density, density_spread=0.01
    )
    try:
        parsed = parse_amount(dose)
        if not isinstance(parsed, Quantity):
            raise NotUnderstood("dose", f"“{dose}” is not a dose.", "Write, for example, 20 g, 2 pumps or 1 tbsp.")
        weighed = grams_of(parsed, like, measures, pump_ml=pump_ml, asks=True)
    except NotUnderstood as error:
        raise error.at_field("dose") from None
    taken = made.share(np.full(product.cases, weighed.grams / total))
    build = built(product, _first(taken), base, at_c, ice_g=ice_g, cup_ml=cup_ml)
    # The ice melts until all is cold: that water thins the balance.
    melted = 0.5 * (build.ice.melts_low_g + build.ice.melts_high_g) if build.ice is not None else 0.0
    cup = _Cup(product, base, taken, at_c, melted)
    sides = tuple(cup.sides())
    return Drink(
        weighed.grams, weighed.low_g, weighed.high_g, weighed.grams / density if np.isfinite(ml) else None, weighed.reading,
        tuple(cup.figures(weighed.grams)), sides, tuple(cup.nudges(weighed.grams)), cup.curdling(),
        build, tuple(advice(sides)), tuple(cautions(cup.all)),
    )  # fmt: skip


#: EFSA 2015: single doses up to this, and a day up to that, do not give rise to concern for adults. [mg]
CAFFEINE_DOSE_MG, _CAFFEINE_DAY = 200.0, 400.0
#: WHO 2015 at 2,000 kcal: less than a tenth of energy from free sugars, better less than a twentieth. [g]
_SUGARS_DAY, _SUGARS_BETTER = 50.0, 25.0


def cautions(all_of_it: Matter) -> Iterator[str]:
    """What one drink has of caffeine and free sugars against what EFSA and WHO name for adults. No advice to a person."""
    caffeine = 1000.0 * float(all_of_it.mass_g[0, c.INDEX["caffeine"]])
    if caffeine > CAFFEINE_DOSE_MG:
        yield (
            f"{caffeine:.0f} mg of caffeine in one drink: more than the {CAFFEINE_DOSE_MG:.0f} mg that EFSA names for a single dose of an adult "
            f"({_CAFFEINE_DAY:.0f} mg a day; {CAFFEINE_DOSE_MG:.0f} mg a day in pregnancy; children far less). Say so where it is sold."
        )
    free = float(all_of_it.tracer[0, FREE_SUGAR])
    if free > _SUGARS_BETTER:
        day = f"more than a whole day's {_SUGARS_DAY:.0f} g" if free > _SUGARS_DAY else f"more than the {_SUGARS_BETTER:.0f} g a day"
        yield f"{free:.0f} g of free sugars in one drink: {day} that WHO names at 2,000 kcal."


#: What is done about a side that is off, by its word. Common practice, no source.
_ANSWERS = {
    "dry": "More of it, or answer its acid with less.",
    "sickly": "Less of it, or a little acid; salt takes sweetness down as well.",
    "sharp": "More sweetness, or milk; sharp and thin together want body first.",
    "flat": "Bitterness gives it an edge: stronger coffee, tea, spent grounds or a dash of bitters.",
    "bitter": "Salt by the half gram of saline, then sweetness: salt takes bitterness down before it is tasted.",
    "salty": "Leave the saline out; sweetness hides some of it.",
    "thin": "More cream, or a richer milk.",
    "heavy": "Milk for some of the cream, or a little acid.",
}
_BRIDGE = (
    "It is off on more than one side and may taste disjointed: a bridge between them, vanilla by the half gram, blossom water by the drop "
    "or a trace of spice, so little that it is not tasted as itself."
)


def advice(sides: Sequence[Side]) -> Iterator[str]:
    """What practice does about the sides that are off, and about more than one of them."""
    off = [side for side in sides if side.word in _ANSWERS]
    for side in off:
        answer = _ANSWERS[side.word]
        yield f"{side.title}, {side.word}: {answer[0].lower()}{answer[1:]}"
    if len(off) > 1:
        yield _BRIDGE


def _figure(
    id: str, title: str, value: float | None, unit: str, digits: int, low: float | None = None, high: float | None = None, why_not: str = ""
) -> Figure:
    return Figure(id, title, value, unit, digits, low, high, why_not)


def _cost(walked: Walk, share: float) -> tuple[float | None, str]:
    """What a share of a product costs in ingredients, water free; None where one has no price, and which."""
    missing = unpriced(walked)
    if missing:
        return None, f"{missing[0][:1].lower()}{missing[0][1:]}"
    total = share * float(product_cost(walked)[0][0])
    return total, ""


def _no_cost(of_what: str, missing: str) -> str:
    return f"No cost of {of_what}: the price of {missing} is missing." if missing else ""


def _first(matter: Matter) -> Matter:
    """The first case alone."""
    return Matter(matter.mass_g[:1], matter.enthalpy_j[:1], matter.extent[:1], matter.tracer[:1], matter.air_ml[:1], matter.touched)


class _Cup:
    def __init__(self, product: Walk, base: Walk | None, taken: Matter, at_c: float, melted_g: float = 0.0) -> None:
        self.product, self.base, self.at_c = product, base, at_c
        self.taken = _first(taken)
        self.other = _first(base.product) if base is not None else Matter.nothing(1)
        #: What is in it, ice that melts into it too.
        self.all = self.taken.plus(self.other).plus(_pure(water=melted_g))

    def _per_100ml(self, matter: Matter, weights: object) -> float:
        ml = float(matter.volume_ml(20.0)[0])
        return 100 * float((matter.mass_g @ np.asarray(weights))[0]) / ml if np.isfinite(ml) and ml > 0 else float("nan")

    def figures(self, dose_g: float) -> Iterator[Figure]:
        mass = self.all.mass_g
        ml = float(self.taken.plus(self.other).volume_ml(20.0)[0])
        yield _figure(
            "volume_ml",
            "Fills, cold",
            ml if np.isfinite(ml) else None,
            "ml",
            0,
            why_not="" if np.isfinite(ml) else "No volume: it is too thick or dry.",
        )
        yield _figure("sugars_g", "Sugars", float((mass @ c.SUGARS)[0]), "g", 1)
        yield _figure("free_g", "of which free (WHO: added, honey, syrup, juice)", float(self.all.tracer[0, FREE_SUGAR]), "g", 1)
        yield _figure("added_g", "of which added (no juice's)", float(self.all.tracer[0, ADDED_SUGAR]), "g", 1)
        sweet = [float(each[0]) for each in as_sucrose_g(self.all)]
        yield _figure("sweet_g", "Sweet as sucrose", sweet[1], "g", 1, sweet[0], sweet[2])
        caffeine = 1000 * float(mass[0, c.INDEX["caffeine"]])
        yield _figure("caffeine_mg", "Caffeine", caffeine, "mg", 0, 0.7 * caffeine, 1.3 * caffeine)
        yield _figure("fat_g", "Fat", float((mass @ c.FAT)[0]), "g", 1)
        yield _figure("energy_kcal", "Energy", float((mass @ KCAL)[0]), "kcal", 0)
        share = dose_g / float(self.product.product.total_g[0])
        dose, missing = _cost(self.product, share)
        yield _figure("dose_cost", "The dose costs", dose, "", 3, why_not=_no_cost("the dose", missing))
        if self.base is not None:
            other, missing = _cost(self.base, 1.0)
            whole = None if dose is None or other is None else dose + other
            # What the dose lacks is said there.
            yield _figure("cost", "The whole drink costs", whole, "", 2, why_not=_no_cost("the whole drink", missing))

    def _values(self, cup: Matter) -> dict[str, tuple[float, float, float]]:
        """Side → value, least, most."""
        acid = titratable_eq(np.eye(c.COUNT)) / ACIDS["citric"].equivalents_per_g
        bitter = np.zeros(c.COUNT)
        bitter[c.INDEX["caffeine"]], bitter[c.INDEX["theobromine"]] = 1000.0, 250.0
        salt = np.zeros(c.COUNT)
        salt[c.SALT] = 1.0
        fat = c.FAT
        weights = {
            "sour": (acid, acid, acid), "bitter": (0.6 * bitter, bitter, 1.5 * bitter),
            "salt": (salt, salt, salt), "body": (fat, fat, fat),
        }  # fmt: skip
        found = {}
        for id, (least, usual, most) in weights.items():
            found[id] = (self._per_100ml(cup, usual), self._per_100ml(cup, least), self._per_100ml(cup, most))
        ml = float(cup.volume_ml(20.0)[0])
        low, sweet, high = (100 * float(each[0]) / ml if np.isfinite(ml) and ml > 0 else float("nan") for each in as_sucrose_g(cup))
        return {"sweet": (sweet, low, high), **found}

    def sides(self) -> Iterator[Side]:
        for id, (value, low, high) in self._values(self.all).items():
            title, unit, digits, least, most, words = _USUAL[id]
            if not np.isfinite(value):
                continue
            # A word is only said where all of the range is on one side.
            word = words[0] if high < least else words[2] if low > most else words[1] if least <= low and high <= most else "by taste"
            yield Side(id, title, value, unit, digits, low, high, least, most, word)

    def nudges(self, dose_g: float) -> Iterator[Nudge]:
        """A few things a bar can do, each mixed and read again."""
        before = self._values(self.all)
        for words, cup in self._tries(dose_g):
            after = self._values(cup)
            moves = tuple(
                Move(id, was[0], after[id][0])
                for id, was in before.items()
                if np.isfinite(after[id][0]) and abs(after[id][0] - was[0]) >= 0.5 * 10.0 ** -_USUAL[id][2]
            )
            if moves:
                yield Nudge(words, moves)

    def _tries(self, dose_g: float) -> Iterator[tuple[str, Matter]]:
        fifth = max(round(dose_g / 5), 1)
        for words, share in ((f"{shown(fifth)} g more of it", fifth / dose_g), (f"{shown(fifth)} g less of it", -fifth / dose_g)):
            if share > -1:
                yield words, self.taken.share(np.array([1 + share])).plus(self.other)
        yield "2 g of a 6 % acid solution", self.all.plus(_pure(water=1.88, citric=0.12))
        yield "0.5 g of saline, 1 to 5", self.all.plus(_pure(water=0.4167, salt=0.0833))
        if self.base is not None:
            yield "a tenth more of what it goes into", self.taken.plus(self.other.share(np.array([1.1])))
        yield "20 g of water", self.all.plus(_pure(water=20.0))

    def curdling(self) -> Curdling | None:
        """How far the acids go towards curdling; None where there is no milk, or no acid to speak of."""
        protein, soya = 0.0, False
        for walk, share in ((self.base, 1.0), (self.product, float(self.taken.total_g[0] / self.product.product.total_g[0]))):
            if walk is None:
                continue
            for line, each in walk.method.all_contents:
                if each.book.kind in ("dairy", "plant"):
                    grams = float(walk.end.lines[line][0]) * each.grams_per_g
                    protein += share * grams * float(each.book.mass_fraction[c.INDEX["protein"]])
                    soya = soya or "soybeans" in each.book.allergens
        return curdling_of(protein, soya, self.all, self.at_c)


def curdling_of(protein: float, soya: bool, all_of_it: Matter, at_c: float) -> Curdling | None:
    """How far the acids of a drink go towards curdling its milk; None where there is no milk, or no acid to speak of.

    Parameters: protein of milk and plant drinks in it [g]; whether soya is among them; all of the drink, one case; how warm it is [°C].
    """
    meq = 1000 * float(titratable_eq(all_of_it.mass_g)[0])
    if protein < 0.05 or meq < 0.05:
        return None
    least, most = _CURDLES_MEQ_G["soya" if soya else "hot" if at_c > _HOT_C else "cold"]
    low, high = meq / (most * protein), meq / (least * protein)
    tone: Literal["fine", "look", "stop"]
    if high < 0.5:
        tone, words = "fine", "The acid in it is far from curdling its milk."
    elif low > 1:
        tone, words = "stop", "The acid in it is enough to curdle its milk: less of it, more milk, or none."
    else:
        tone, words = "look", "It may curdle: try 30 ml of it as it is served, and write down brand, warmth and order of pouring."
    return Curdling(low, high, tone, f"{words} Coffee's own acid comes on top and is not counted; measure the pH where it matters.")


def _pure(**grams: float) -> Matter:
    mass = np.zeros((1, c.COUNT))
    for name, g in grams.items():
        mass[0, c.INDEX[name]] = g
    nothing = Matter.nothing(1)
    return Matter(mass, nothing.enthalpy_j, nothing.extent, nothing.tracer, nothing.air_ml)


def base_document(lines: Sequence[tuple[str, str]]) -> dict[str, object]:
    """What else is in the cup, as a document: substance and amount of each."""
    put = [{"id": f"in-{n}", "substance": substance, "amount": amount} for n, (substance, amount) in enumerate(lines)]
    return {"name": "In the cup", "stages": [{"id": "cup", "kind": "add", "vessel": "cup", "lines": put}]}
