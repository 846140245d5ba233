"""What is read of a drink in every size: a function each, of the one walk."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from jugcore import components as c
from jugcore.drinks.poured import Poured, Ranged, Read, sugars_g
from jugcore.figures import Floats
from jugcore.matter.matter import ADDED_SUGAR, FREE_SUGAR, Matter
from jugcore.matter.nutrition import salt_g, saturates_g
from jugcore.physics.energy import KCAL, KJ
from jugcore.reading.costs import product_cost
from jugcore.reading.readings.content import missing_price, unpriced
from jugcore.reading.readings.taste import as_sucrose_g

_CARBOHYDRATE: Floats = c.SUGARS.copy()
for _name in ("dextrin", "starch", "other_soluble_carbohydrate"):
    _CARBOHYDRATE[c.INDEX[_name]] = 1.0


@dataclass(frozen=True)
class DrinkReading:
    """A figure of a drink in every size, with its range; what it is worked out by; why it cannot be said, where it cannot."""

    id: str
    title: str
    unit: str
    digits: int
    values: Ranged = field(repr=False)
    basis: str
    why_not: str = ""


@dataclass(frozen=True)
class _Kind:
    id: str
    title: str
    unit: str
    digits: int
    read: Read
    basis: str


_KINDS: dict[str, _Kind] = {}


def drink_reading(title: str, unit: str, digits: int, basis: str) -> Callable[[Read], Read]:
    """Have a function among the readings of a drink, in the order of this file."""

    def keep(read: Read) -> Read:
        name = read.__name__
        _KINDS[name] = _Kind(name, title, unit, digits, read, basis)
        return read

    return keep


def _in_100_ml(grams: Floats, poured: Poured) -> Floats:
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(np.where(poured.volume_ml > 0, 100.0 * grams / poured.volume_ml, np.nan))


@drink_reading("Sugars in 100 ml", "g", 1, "sugars of everything in the cup ÷ the liquid at 20 °C, air and floating ice left out")
def sugars_100ml(poured: Poured) -> Floats:
    """Sugars (K,) in 100 ml of the liquid, NaN where it has no volume."""
    return _in_100_ml(sugars_g(poured.liquid), poured)


@drink_reading("As sweet as sucrose, in 100 ml", "g", 1, "grams of each sugar × how sweet it is against sucrose; food-science texts, from memory")
def sweet_100ml(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """Grams (K,) of sucrose in 100 ml that would be as sweet: least, usual, most."""
    low, usual, high = (_in_100_ml(each, poured) for each in as_sucrose_g(poured.liquid))
    return low, usual, high


@drink_reading("Sugars", "g", 1, "mass balance")
def sugars(poured: Poured) -> Floats:
    """Sugars (K,) in the cup."""
    return sugars_g(poured.liquid)


@drink_reading("Added sugars", "g", 1, "sugars put in as such; those of milk and juice left out")
def added_sugars(poured: Poured) -> Floats:
    """Sugars (K,) that were put in as such, through everything made here."""
    return poured.liquid.tracer[:, ADDED_SUGAR]


@drink_reading("Free sugars (WHO)", "g", 1, "added sugars and those of honey, syrup, juice and purée")
def free_sugars(poured: Poured) -> Floats:
    """Sugars (K,) that are free by the WHO."""
    return poured.liquid.tracer[:, FREE_SUGAR]


@drink_reading("Caffeine", "mg", 0, "mass balance; beans, leaves and brewers differ, which is the range")
def caffeine(poured: Poured) -> Floats:
    """Caffeine (K,) in the cup."""
    return 1000.0 * poured.liquid.mass_g[:, c.INDEX["caffeine"]]


@drink_reading("Energy", "kcal", 0, "Regulation (EU) 1169/2011, Annex XIV")
def energy(poured: Poured) -> Floats:
    """Energy (K,) in kilocalories."""
    return poured.liquid.mass_g @ KCAL


@drink_reading("Energy", "kJ", 0, "Regulation (EU) 1169/2011, Annex XIV")
def energy_kj(poured: Poured) -> Floats:
    """Energy (K,) in kilojoules, by its own factors and not converted."""
    return poured.liquid.mass_g @ KJ


@drink_reading("Fat", "g", 1, "mass balance")
def fat(poured: Poured) -> Floats:
    """Fat (K,) in the cup."""
    return poured.liquid.mass_g @ c.FAT


@drink_reading("Saturates", "g", 1, "share of each fat that is saturated; fats differ, which is the range")
def saturates(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """Saturated fat (K,) in the cup: least, likely, most."""
    return saturates_g(poured.liquid)


@drink_reading("Protein", "g", 1, "mass balance")
def protein(poured: Poured) -> Floats:
    """Protein (K,) in the cup."""
    return poured.liquid.mass_g[:, c.INDEX["protein"]]


@drink_reading("Carbohydrate", "g", 1, "sugars, starch, dextrin and what else of it is digested")
def carbohydrate(poured: Poured) -> Floats:
    """Carbohydrate (K,) in the cup, fibre left out."""
    return poured.liquid.mass_g @ _CARBOHYDRATE


@drink_reading("Salt", "g", 2, "2.5 × sodium: what was put in, and what milk and other things bring of their own, which is the range")
def salt(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """What a label calls salt (K,): least, likely, most."""
    return salt_g(poured.liquid)


@drink_reading("Fat in 100 ml", "g", 1, "fat of everything in the cup ÷ the liquid at 20 °C")
def fat_100ml(poured: Poured) -> Floats:
    """Fat (K,) in 100 ml of the liquid."""
    return _in_100_ml(poured.liquid.mass_g @ c.FAT, poured)


@drink_reading("°Brix", "°Bx", 1, "dissolved solids of the liquid")
def brix(poured: Poured) -> Floats:
    """Dissolved solids (K,) in 100 g of the liquid."""
    return poured.liquid.brix


@drink_reading("Temperature", "°C", 0, "heat balance, ice and steam counted; nothing lost to the cup")
def temperature(poured: Poured) -> Floats:
    """How warm (K,) it is served."""
    return poured.liquid.temperature_c


@drink_reading("Fills", "ml", 0, "the liquid as warm as it is, the air in it, and floating ice by its weight")
def fills(poured: Poured) -> Floats:
    """How far up (K,) it fills its cup."""
    return poured.fills_ml


@drink_reading("Room to the brim", "ml", 0, "what the cup holds less what fills it")
def room(poured: Poured) -> Floats:
    """What is left (K,) of the cup above it; below nothing where it runs over."""
    holds = np.tile([size.cup_ml for size in poured.cup.sizes], poured.walk.cases // poured.sizes)
    return np.asarray(holds - poured.fills_ml)


@drink_reading("Share of coffee or tea", "%", 0, "grams of coffee and tea ÷ the liquid: how far it is thinned")
def brew_share(poured: Poured) -> Floats:
    """Coffee and tea (K,) in 100 g of the liquid."""
    brewed = sum((poured.walk.end.lines[each.id] for each in poured.cup.components if each.role in ("coffee", "tea")), np.zeros(poured.walk.cases))
    total = poured.liquid.total_g
    return np.asarray(np.where(total > 0, 100.0 * brewed / np.where(total > 0, total, 1.0), np.nan))


@drink_reading("Sugars in 100 ml after ten minutes", "g", 1, "ice that melts meanwhile thins it; the room's heat is an estimate")
def sugars_100ml_later(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """Sugars (K,) in 100 ml once it has stood, with the room's heat at its most, likely and least."""
    return _later(poured, sugars_g)


def _later(poured: Poured, of: Callable[[Matter], Floats]) -> tuple[Floats, Floats, Floats]:
    found = []
    for matter in poured.later:
        ml = matter.volume_ml(20.0)
        with np.errstate(invalid="ignore", divide="ignore"):
            found.append(np.asarray(np.where(ml > 0, 100.0 * of(matter) / ml, np.nan)))
    return np.minimum(found[0], found[2]), found[1], np.maximum(found[0], found[2])


@drink_reading("Temperature after ten minutes", "°C", 0, "Newton's law of cooling; the room's heat is an estimate")
def temperature_later(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """How warm (K,) it is once it has stood: least, likely, most."""
    low, likely, high = (matter.temperature_c for matter in poured.later)
    return np.minimum(low, high), likely, np.maximum(low, high)


@drink_reading("Ingredients cost", "", 2, "Σ grams × price, water and ice free")
def cost(poured: Poured) -> Floats:
    """What its ingredients cost (K,) in the site's currency."""
    return _cost(poured)


def _cost(poured: Poured) -> Floats:
    """What is in the cup, and what floats or sticks to a jug: all of it is paid for."""
    own, kept_back = product_cost(poured.walk)
    return own + kept_back


#: What is in the cost of a drink beside its ingredients, and what is not.
_MAKING = "energy, hands, bottles and waste of what is made here; the cup and hands at the bar are not in it"


@drink_reading("Cost with making", "", 2, f"ingredients, and {_MAKING}")
def cost_made(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """What it costs (K,), with the making of what is made here: least, likely, most."""
    making = poured.making.total
    low, likely, high = (_cost(poured) + making[:, end] for end in range(3))
    return low, likely, high


@drink_reading("Margin on ingredients", "%", 0, "what ingredients leave of the price without tax")
def margin(poured: Poured) -> Floats:
    """What ingredients leave (K,) of the price; NaN where none is given."""
    return np.asarray(100.0 * (1.0 - _cost(poured) / _price(poured)))


@drink_reading("Margin with making", "%", 0, f"what ingredients leave of the price without tax, and {_MAKING}")
def margin_made(poured: Poured) -> tuple[Floats, Floats, Floats]:
    """What is left (K,) of the price after ingredients and making: least, likely, most."""
    low, likely, high = (np.asarray(100.0 * (1.0 - each / _price(poured))) for each in cost_made(poured))
    return high, likely, low


def _price(poured: Poured) -> Floats:
    return np.tile([size.price if size.price is not None else np.nan for size in poured.cup.sizes], poured.walk.cases // poured.sizes)


#: What needs the price of everything in the cup; and what needs all that its making costs besides.
_OF_MONEY, _OF_MAKING = frozenset({"cost", "margin", "cost_made", "margin_made"}), frozenset({"cost_made", "margin_made"})


def read(poured: Poured, id: str) -> Ranged:
    """One reading by size. Raises KeyError for one that is none."""
    return poured.ranged([_KINDS[id].read])[0]


def likely_of(poured: Poured, id: str) -> Floats:
    """One reading of every case (K,), without ranges. Raises KeyError for one that is none."""
    found = _KINDS[id].read(poured)
    return found[1] if isinstance(found, tuple) else found


def reading_ids() -> tuple[str, ...]:
    """The ids of all readings, in order."""
    return tuple(_KINDS)


def title_of(id: str) -> tuple[str, str, int]:
    """Title, unit and decimals of a reading. Raises KeyError."""
    kind = _KINDS[id]
    return kind.title, kind.unit, kind.digits


def readings_of(poured: Poured) -> list[DrinkReading]:
    """Everything read of a drink, in order."""
    missing = missing_price(unpriced_in(poured))
    not_known = " ".join(poured.making.missing)
    found = []
    for kind, values in zip(_KINDS.values(), poured.ranged([kind.read for kind in _KINDS.values()]), strict=True):
        why = ""
        if kind.id in _OF_MONEY and missing:
            values, why = _nothing(poured), missing
        elif kind.id in _OF_MAKING and not_known:
            values, why = _nothing(poured), not_known
        elif not np.isfinite(values.likely).any():
            values = _nothing(poured)
            why = "No price is given." if kind.id in ("margin", "margin_made") else "It is too thick or too dry to have a volume."
        found.append(DrinkReading(kind.id, kind.title, kind.unit, kind.digits, values, kind.basis, why))
    return found


def unpriced_in(poured: Poured) -> list[str]:
    """Titles of what is in any size and has no price, water and ice aside."""
    return unpriced(poured.walk, any_case=True)


def _nothing(poured: Poured) -> Ranged:
    none = np.full(poured.sizes, np.nan)
    return Ranged(none, none, none)
