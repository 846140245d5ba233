"""Amounts of an ingredient to grams, with how uncertain the result is."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from jugcore import components as c
from jugcore.errors import NotUnderstood
from jugcore.figures import shown
from jugcore.matter.substance import Piece, Substance
from jugcore.measures.parsing import EXAMPLES, Portion, Quantity, nearest_unit
from jugcore.measures.systems import ABOUT_SPREAD, ASK_WHICH, FILLING_SPREAD, LITRES, MASS_G, SHAPES, SHOWN, SYSTEM_NAMES, VOLUME_ML

#: No line weighs more than this; beyond it somebody slipped. [g]
MAX_LINE_G = 1_000_000.0
#: One stroke of a syrup pump, until a kitchen has weighed its own. [ml]
PUMP_ML = 8.0
_POURED_KINDS = frozenset({"water", "syrup", "juice", "dairy", "plant", "extract", "coffee"})
#: Of these kinds the dry ones are powders or fats. [fraction of water]
_SPOONED_DRY, _DRY_BELOW = frozenset({"dairy", "coffee"}), 0.2
#: Units whose plural people say.
_PLURALS = {
    "pinch": "pinches",
    "dash": "dashes",
    "cup": "cups",
    "drop": "drops",
    "pump": "pumps",
    "pint": "pints",
    "quart": "quarts",
    "gallon": "gallons",
}


@dataclass(frozen=True)
class Weighed:
    """Grams for an amount as written: the value, a ± band, and how it was read."""

    grams: float
    low_g: float
    high_g: float
    reading: str


def grams_of(quantity: Quantity, substance: Substance, system: str, *, pump_ml: float = PUMP_ML, called: str = "", asks: bool = False) -> Weighed:
    """Grams of a quantity of a substance in a measure system.

    Mass units are exact. Volumes use the substance's spoon-and-cup density; the
    band adds its spread to that of filling the measure, in quadrature, and a
    written range widens it; portions that add up add their bands. ``called`` is what
    the line is called, which may be said again behind the amount. Where ``asks``, a pint in a
    metric kitchen is asked about: it is of two countries. What was kept before goes on as it was read then.

    Raises NotUnderstood for ounces of something that pours, for pieces whose weight is
    not known, for words that are no part of an amount, for zero, and above 1,000 kg.
    """
    if stray := _stray_words(quantity.what, substance, called):
        raise NotUnderstood(
            "amount", f"“{stray}” is more than an amount of {substance.title.lower()}.",
            "Write the amount alone; another ingredient gets a line of its own.", at=quantity.what_at,
        )  # fmt: skip
    if asks and system == "metric":
        _ask_which(quantity)
    each = [_weigh(portion, substance, system, pump_ml, called) for portion in quantity.portions]
    doubt = ABOUT_SPREAD if quantity.about else 0.0
    grams = sum(weighed.grams for weighed in each)
    if not grams > 0:
        raise NotUnderstood("amount", "Nothing of it changes nothing.", "Type an amount above 0, or remove the line.")
    if grams > MAX_LINE_G:
        raise NotUnderstood("amount", f"{shown(grams / 1000)} kg is more than any kitchen cooks.", "Give at most 1,000 kg; check the unit.")
    low, high = sum(weighed.low_g for weighed in each) * (1 - doubt), sum(weighed.high_g for weighed in each) * (1 + doubt)
    reading = " and ".join(weighed.reading for weighed in each)
    return Weighed(grams, low, high, f"about {reading}" if quantity.about else reading)


def _ask_which(quantity: Quantity) -> None:
    for portion in quantity.portions:
        if portion.unit in ASK_WHICH and portion.system is None:
            number = shown(portion.low) if portion.low == portion.high else f"{shown(portion.low)}–{shown(portion.high)}"
            sizes = " or ".join(f"{shown(round(VOLUME_ML[system][portion.unit]))} ml ({SYSTEM_NAMES[system]})" for system in ("us", "imperial"))
            raise NotUnderstood(
                "amount", f"A {portion.unit} is {sizes}.", "Say which, or give millilitres.", at=portion.at,
                choices=tuple(f"{number} {SYSTEM_NAMES[system]} {portion.unit}" for system in ("us", "imperial")),
            )  # fmt: skip


def is_poured(substance: Substance) -> bool:
    """Whether a thing is poured. Milk powder, butter and instant coffee are of kinds that are, and are spooned or cut."""
    if substance.kind in _SPOONED_DRY and float(substance.mass_fraction[c.WATER]) < _DRY_BELOW:
        return False
    return substance.kind in _POURED_KINDS


def _weigh(portion: Portion, substance: Substance, system: str, pump_ml: float, called: str) -> Weighed:
    unit = portion.unit or "g"
    number = shown(portion.low) if portion.low == portion.high else f"{shown(portion.low)}–{shown(portion.high)}"
    poured = is_poured(substance)
    if unit == "oz" and poured:
        raise NotUnderstood(
            "amount",
            f"{number} oz of {substance.title.lower()} may mean weight or volume.",
            "Say which: fl oz, or oz by weight.",
            at=portion.at,
            choices=(f"{number} fl oz", f"{number} oz by weight"),
        )
    if portion.shape and (unit in MASS_G or (poured and portion.shape in ("heaped", "rounded"))):
        thing = "Grams" if unit in MASS_G else substance.title
        raise NotUnderstood(
            "amount", f"{thing} cannot be {portion.shape}.", "Leave that word out.", at=portion.at, choices=(f"{number} {SHOWN.get(unit, unit)}",)
        )
    if unit == "piece":
        word, piece = _piece(portion, substance, called)
        per_unit, spread = piece.grams, piece.spread
        reading = f"{number} {word}, {shown(piece.grams)} g each ± {100 * piece.spread:.0f} %"
    elif unit in MASS_G:
        per_unit, spread = MASS_G[unit], 0.0
        reading = f"{number} {SHOWN.get(unit, unit)}" + ("" if portion.unit else " (grams assumed)")
    else:
        per_unit, spread, reading = _by_volume(portion, unit, number, substance, system, pump_ml)
    return Weighed(portion.middle * per_unit, portion.low * per_unit * (1 - spread), portion.high * per_unit * (1 + spread), reading)


def _by_volume(portion: Portion, unit: str, number: str, substance: Substance, system: str, pump_ml: float) -> tuple[float, float, str]:
    """Grams of one, relative spread, and how it was read."""
    system = portion.system or system
    millilitres = pump_ml if unit == "pump" else VOLUME_ML[system][unit]
    more, of_shape = SHAPES[portion.shape] if portion.shape else (1.0, 0.0)
    filling = FILLING_SPREAD.get(unit, 0.0) * (0.5 if portion.shape == "level" else 1.0)
    spread = min(math.hypot(substance.density_spread, filling, of_shape), 0.95)
    name = _PLURALS.get(unit, unit) if portion.high > 1 else SHOWN.get(unit, unit)
    of_system = (
        ""
        if unit in LITRES
        else f", {'' if unit == 'pump' else SYSTEM_NAMES[system] + ': '}{shown(round(millilitres, 2 if millilitres < 1 else 1))} ml each"
    )
    shaped = f"{portion.shape} " if portion.shape else ""
    by_shape = f", {portion.shape} holds {more:g} times a level one" if more != 1 else ""
    reading = f"{number} {shaped}{name}{of_system}{by_shape}, at {substance.density_g_ml:g} g/ml ± {100 * substance.density_spread:.0f} %"
    return millilitres * substance.density_g_ml * more, spread, reading


def _piece(portion: Portion, substance: Substance, called: str) -> tuple[str, Piece]:
    """The piece of the substance that is meant, and the word for it."""
    words = portion.piece.split()
    for i, word in enumerate(words):
        known = next((name for name in substance.pieces if word.strip(".,") in (name, f"{name}s", f"{name}es")), None)
        if known is not None and not _stray_words(" ".join(words[:i] + words[i + 1 :]).removeprefix("of "), substance, called):
            return word, substance.pieces[known]
    unit = nearest_unit(words[0], tuple(substance.pieces))
    known_pieces = ", ".join(substance.pieces)
    remedy = f"Pieces known of it: {known_pieces}. {EXAMPLES}" if known_pieces else f"Weigh one and give grams. {EXAMPLES}"
    number = shown(portion.low) if portion.low == portion.high else f"{shown(portion.low)}–{shown(portion.high)}"
    raise NotUnderstood(
        "amount", f"“{portion.piece}” is not a unit known here, and what one of {substance.title.lower()} weighs is not known.", remedy,
        at=portion.at, choices=(f"{number} {_PLURALS.get(unit, unit) if portion.high > 1 else unit}",) if unit else (),
    )  # fmt: skip


def _stray_words(text: str, substance: Substance, called: str) -> str:
    """What of the words is no name of the substance: “2 tbsp sugar” may say again what the line is."""
    names = re.findall(r"\w+", " ".join((substance.title, called, *substance.also_called)).lower())
    stray = [word for word in re.findall(r"[^\s,]+", text) if not any(word == name or word == f"{name}s" or f"{word}s" == name for name in names)]
    return text if stray else ""
