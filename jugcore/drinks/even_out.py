"""Even it out: doses that bring a reading to the same value in every size, in grams and in whole strokes, and which stroke would do it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from jugcore.dosing.strokes import EVEN, best_stroke, strokes_for
from jugcore.drinks.cup import Cup
from jugcore.drinks.document import ComponentDoc, DrinkDocument
from jugcore.drinks.poured import pour
from jugcore.drinks.readings import read, title_of
from jugcore.drinks.search import grams_for, read_by_size, without_ranges
from jugcore.errors import BadDocument
from jugcore.figures import Bools, Floats, shown

#: Doses are told to half a gram: what a bar's scale and a jigger show.
DOSE_STEP_G = 0.5
#: Strokes that pumps for bars are made with, least and most [ml] (common practice, no source).
STROKES_ML = (1.0, 30.0)
#: No dose is larger, as a share of what the cup holds.
_MOST_SHARE = 1.2


@dataclass(frozen=True)
class Doses:
    """Doses over the sizes, what the reading comes to with them on the walk, and how far that is off at most.

    ``grams`` and ``values`` are (S,), NaN in sizes that have none of it. ``strokes`` are whole ones of ``stroke_ml``, None where it is
    weighed. ``off`` is (S,), relative to the value aimed at.
    """

    grams: Floats = field(repr=False)
    values: Floats = field(repr=False)
    off: Floats = field(repr=False)
    stroke_ml: float | None = None
    strokes: tuple[int, ...] | None = None

    @property
    def worst(self) -> float:
        """The largest miss in any size, relative."""
        return float(np.nanmax(np.abs(self.off)))

    @property
    def even(self) -> bool:
        """Whether nobody tells the sizes apart by it."""
        return self.worst <= EVEN


@dataclass(frozen=True)
class EvenedOut:
    """A reading brought to one value: exactly, in grams to weigh, in strokes of its pump, and in strokes of the one that would do best."""

    reading: str
    component: str
    target: float
    there: Bools = field(repr=False)
    #: Sizes by id in which no amount of it brings the reading there.
    not_reached: tuple[str, ...]
    in_grams: Doses
    in_strokes: Doses
    best: Doses
    words: tuple[str, ...]


def even_out(cup: Cup, component: str, reading: str = "sugars_100ml", target: float | None = None) -> EvenedOut:
    """Doses of one component that bring a reading to one value in every size that has it.

    Parameters: the drink; the component; the reading; the value, None for the middle of the shop's window, else of the sizes as they
    are. Raises BadDocument for a component that no size has, that fills the cup up, or a value that no size can come to.
    Accuracy: every set of doses is walked again, and what it comes to is told.
    """
    doc = _to_dose(cup, component)
    there = np.array([(component, size.id) in cup.written for size in cup.sizes])
    now = pour(without_ranges(cup))
    values = read(now, reading).likely
    aim = _aim(cup, reading, values, there) if target is None else target
    most = np.array([_MOST_SHARE * size.cup_ml for size in cup.sizes])
    exact, reached = grams_for(cup, component, reading, np.full(len(cup.sizes), aim), most)
    missed = tuple(size.id for size, ok, has in zip(cup.sizes, reached, there, strict=True) if has and not ok)
    fits = there & reached
    if not fits.any():
        title, unit, digits = title_of(reading)
        raise BadDocument(
            "target", f"No dose of it brings {title[:1].lower()}{title[1:]} to {shown(round(aim, digits))} {unit} in any size.",
            "Ask for another value, or change what else is in the cup.",
        )  # fmt: skip
    wanted = [float(grams) for grams, ok in zip(exact, fits, strict=True) if ok]
    rounded = np.maximum(np.round(exact / DOSE_STEP_G), 1) * DOSE_STEP_G
    in_grams = _doses(cup, component, reading, aim, np.where(fits, rounded, now.grams(component)), there)
    per_ml = cup.substance_of(component).density_g_ml
    own_ml = cup.stroke_ml(doc)
    in_strokes = _in_strokes(cup, component, reading, aim, fits, there, now.grams(component), own_ml, strokes_for(wanted, own_ml * per_ml)[0])
    stroke_g, counts, _ = best_stroke(wanted, STROKES_ML[0] * per_ml, STROKES_ML[1] * per_ml)
    best_ml = round(stroke_g / per_ml, 1)
    best = _in_strokes(cup, component, reading, aim, fits, there, now.grams(component), best_ml, counts)
    found = EvenedOut(reading, component, aim, there, missed, in_grams, in_strokes, best, ())
    return replace(found, words=tuple(_words(cup, found)))


def _to_dose(cup: Cup, component: str) -> ComponentDoc:
    doc = next((each for each in cup.components if each.id == component), None)
    if doc is None:
        raise BadDocument("component", "It is in no size of this drink.", "Choose something that is in the cup.")
    if any(one.up_to_ml is not None for (id, _), one in cup.written.items() if id == component):
        raise BadDocument("component", "It fills the cup up, so that its amount follows from the rest.", "Choose what is dosed.")
    return doc


def _aim(cup: Cup, reading: str, values: Floats, there: Bools) -> float:
    window = cup.drink.sugars_window
    if window is not None and reading == "sugars_100ml":
        return 0.5 * (window.low + window.high)
    return float(np.nanmean(values[there]))


def _in_strokes(
    cup: Cup, component: str, reading: str, aim: float, fits: Bools, there: Bools, now: Floats, stroke_ml: float, counts: list[int]
) -> Doses:  # fmt: skip
    stroke_g = stroke_ml * cup.substance_of(component).density_g_ml
    each = iter(counts)
    strokes = tuple(next(each) if ok else 0 for ok in fits)
    grams = np.where(fits, np.array(strokes) * stroke_g, now)
    return _doses(cup, component, reading, aim, grams, there, stroke_ml, strokes)


def _doses(
    cup: Cup, component: str, reading: str, aim: float, grams: Floats, there: Bools, stroke_ml: float | None = None,
    strokes: tuple[int, ...] | None = None,
) -> Doses:  # fmt: skip
    walked = read_by_size(cup, {component: np.where(there, grams, 0.0)}, reading)
    with np.errstate(invalid="ignore", divide="ignore"):
        off = np.where(there & (aim > 0), walked / aim - 1.0, np.nan)
    return Doses(np.where(there, grams, np.nan), np.where(there, walked, np.nan), off, stroke_ml, strokes)


def _words(cup: Cup, found: EvenedOut) -> list[str]:
    """What a lead reads: whether its pump does it, which stroke would, and in which sizes nothing does."""
    words = []
    there = [size for size, has in zip(cup.sizes, found.there, strict=True) if has]
    own, best = found.in_strokes, found.best
    assert own.stroke_ml is not None and best.stroke_ml is not None
    if own.even:
        words.append(f"Whole strokes of {shown(own.stroke_ml)} ml keep every size within {_percent(own.worst)}.")
    else:
        i = int(np.nanargmax(np.abs(own.off)))
        least, most = 100 * float(np.nanmin(own.off)), 100 * float(np.nanmax(own.off))
        words.append(
            f"Whole strokes of {shown(own.stroke_ml)} ml cannot: they miss by {_signed(least)} to {_signed(most)} %, most in {cup.sizes[i].name}."
        )  # fmt: skip
        if best.worst < 0.75 * own.worst:
            counts = _listed([str(each) for each, has in zip(best.strokes or (), found.there, strict=True) if has])
            words.append(
                f"{counts} strokes of {shown(best.stroke_ml)} ml keep every size within {_percent(best.worst)}."
                if best.even
                else f"No stroke does it; {counts} strokes of {shown(best.stroke_ml)} ml come nearest, within {_percent(best.worst)}."
            )
        else:
            words.append("No other stroke does much better: weigh the doses.")
    if len(there) > 1:
        grams = _listed([shown(float(each)) for each, has in zip(found.in_grams.grams, found.there, strict=True) if has])
        words.append(f"Weighed: {grams} g, within {_percent(found.in_grams.worst)}.")
    names = [size.name for size in cup.sizes if size.id in found.not_reached]
    if names:
        words.append(f"In {_listed(names)} no dose brings it there: {'its' if len(names) == 1 else 'their'} dose stays.")
    return words


def _signed(percent: float) -> str:
    rounded = round(percent)
    return f"{rounded:+d}".replace("-", "−") if rounded else "0"


def _percent(share: float) -> str:
    return f"{100 * share:.0f} %" if share >= 0.01 else f"{100 * share:.1f} %"


def _listed(words: list[str]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


def with_doses(drink: DrinkDocument, component: str, doses: Doses) -> DrinkDocument:
    """The drink with these doses written into it, in strokes where they are strokes."""
    doc = drink.component(component)
    amounts = dict(doc.amounts)
    for i, size in enumerate(drink.sizes):
        grams = float(doses.grams[i])
        if not np.isfinite(grams):
            continue
        strokes = doses.strokes[i] if doses.strokes is not None else 0
        if strokes:
            amounts[size.id] = f"{strokes} stroke{'' if strokes == 1 else 's'}"
        elif doses.strokes is None:
            amounts[size.id] = f"{shown(grams)} g"
    stroke = doses.stroke_ml if doses.strokes is not None else doc.stroke_ml
    return drink.with_component(doc.model_copy(update={"amounts": amounts, "stroke_ml": stroke}))
