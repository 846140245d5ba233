"""Plain consequences of holds, steeps, caramel and foam, and of powders that will clump."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

import numpy as np

from jugcore import components as c
from jugcore.figures import shown
from jugcore.matter.matter import STARCH_IN
from jugcore.matter.substance import Substance
from jugcore.method.stages import Add, Adding, Aerate, Boil, Caramelise, Heat, Holding, Join, StageBase, Steep
from jugcore.method.walk import Walk
from jugcore.reading.consequence import Consequence
from jugcore.reading.processes.outcomes import before, caramel_report, drawn, enzymes_in, foam_report, hold_report, why_no_promise
from jugcore.reading.readings.base import Reading

#: Cooked starch in 100 g of water: below the first it pours tomorrow, above the second it sets (common practice, no source). [g]
POURS_G, SETS_G = 1.5, 4.0
#: Sugar this many times a powder's weight keeps it from clumping (common practice, no source).
SUGAR_FOR_POWDER = 1.0
#: A probe's doubt. [K]
_NEAR_WINDOW_K = 1.0
#: Water on matcha (common practice).
MATCHA_C = 77.0


def processes(walk: Walk, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    """Consequences of starch, enzymes, steeps, caramel, foam and powders, in that order."""
    yield from _starch(walk, read)
    yield from _enzymes(walk)
    yield from _steeps(walk)
    yield from _caramel(walk)
    yield from _foams(walk)
    yield from _powders(walk)


def _starch(walk: Walk, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    cooked = read.get("cooked_starch")
    if cooked is None or not np.isfinite(cooked.value[0]):
        return
    low, high = float(cooked.low[0]), float(cooked.high[0])
    because = "Cooked starch against the water; how hot it pours says nothing of tomorrow. Common practice, no source."
    test = "Put a spoonful in the fridge tonight and time it through a funnel tomorrow."
    if low > SETS_G:
        yield Consequence(
            "starch",
            "look",
            f"Sets overnight: {shown(round(low, 1))} g of cooked starch to 100 g of water. {test}",
            because,
            "cooked_starch",
            1,
        )
    elif high < POURS_G:
        yield Consequence("starch", "fine", "Little cooked starch is left: it should pour tomorrow as it does today.", because, "cooked_starch", 4)
    else:
        yield Consequence(
            "starch", "look", f"Thickens overnight: {shown(round(float(cooked.value[0]), 1))} g of cooked starch to 100 g of water. {test}",
            because, "cooked_starch", 2,
        )  # fmt: skip


def _enzymes(walk: Walk) -> Iterator[Consequence]:
    held = walk.product
    if not float(held.tracer[0, STARCH_IN]) > 0:
        return
    there = enzymes_in(walk, held)
    unknown = next((words for _, book in there if (words := why_no_promise(book))), None)
    if unknown is not None:
        yield Consequence("enzyme", "look", unknown, "Enzymes differ: source, activity and data sheet are part of the ingredient.", None, 1)
        return
    yield from _put_in_too_hot(walk)
    for stage, step in walk.each(Holding):
        found = hold_report(walk, stage, step)
        if found is None or found.enzyme is None or found.enzyme.enough is None:
            continue
        tone = "fine" if found.enzyme.enough == "yes" else "look"
        yield Consequence(
            f"enzyme-{stage.id}", tone, found.enzyme.words, "The sheet's window, dose and heat against the course of the hold. Indicative.", stage.id,
            1 if found.enzyme.enough == "no" else 3,
        )  # fmt: skip


def _put_in_too_hot(walk: Walk) -> Iterator[Consequence]:
    """An enzyme that goes into more heat than it stands: said before it is done."""
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        into_c = float(step.figures["into_c"][0]) if "into_c" in step.figures else float("nan")
        for line in stage.ingredients:
            enzyme = walk.method.substances[line.substance].enzyme
            works = enzyme.works_c if enzyme is not None else None
            if enzyme is None or works is None or not into_c > works.high + _NEAR_WINDOW_K or not float(walk.end.lines[line.id][0]) > 0:
                continue
            title = walk.method.short_titles[line.id]
            window = f"{shown(works.low)} to {shown(works.high)} °C"
            dies = "" if enzyme.dies_c is None else f" and is lost within minutes at {shown(enzyme.dies_c)} °C"
            yield Consequence(
                f"enzyme-hot-{line.id}", "stop",
                f"{title[:1].upper()}{title[1:]} goes into {into_c:.0f} °C: it works at {window}{dies}. "
                f"Cool it below {shown(works.high)} °C first, then stir it in.",
                "The sheet's window against the pot when it goes in.", stage.id, 0,
            )  # fmt: skip


def _steeps(walk: Walk) -> Iterator[Consequence]:
    for stage, _ in walk.each(Steep):
        for each in drawn(walk, stage):
            usual = f"{_minutes(each.least_min)} to {_minutes(each.most_min)}"
            title = f"{each.title[:1].upper()}{each.title[1:]}"
            if each.verdict == "early":
                words = f"{title} is steeped for less time than usual at that temperature ({usual}): it gives little."
            elif each.verdict == "past":
                words = f"{title} is steeped longer than usual at that temperature ({usual}); past that it turns {each.past}."
            else:
                continue
            yield Consequence(
                f"steep-{stage.id}-{each.line}", "look", words, "How long it is left in: common practice, no source. Taste decides.", stage.id, 3
            )


def _minutes(minutes: float) -> str:
    return f"{shown(float(f'{minutes / 60:.2g}'))} h" if minutes >= 90 else f"{shown(float(f'{minutes:.2g}'))} min"


def _caramel(walk: Walk) -> Iterator[Consequence]:
    for stage, step in walk.each(Caramelise):
        found = caramel_report(stage, step)
        if found is None:
            continue
        burnt = "burnt" in found.colour
        yield Consequence(
            f"caramel-{stage.id}", "stop" if burnt else "fine",
            f"{found.colour[:1].upper()}{found.colour[1:]} at {found.to_c:.0f} °C ({found.colours} as pots and probes differ): "
            f"{100 * found.share.likely:.0f} % of the sugar then in the pot turned, "
            f"{shown(round(found.browning_off_g))} g of water lost to browning.",
            "Rate by heat and time; the eye decides, the probe lags. Indicative.", stage.id, 0 if burnt else 3,
        )  # fmt: skip


def _foams(walk: Walk) -> Iterator[Consequence]:
    for stage, step in walk.each(Aerate):
        found = foam_report(walk, stage, step)
        if found is None:
            continue
        piped = stage.tool == "siphon"  # what is piped on may stand
        good = not found.over and (found.verdict in ("mounds", "froth", "whips") or (piped and found.verdict in ("peaks", "stiff")))
        room = (
            ""
            if found.verdict == "flat"
            else f" It {found.floats}, and comes to {found.foam_ml.low / 1000:.2f} to {found.foam_ml.high / 1000:.2f} l: leave that room in the cup."
        )
        yield Consequence(
            f"foam-{stage.id}", "fine" if good else "look",
            f"{found.words[:1].upper()}{found.words[1:]}: {found.why[:1].lower()}{found.why[1:]}{room}",
            f"Fat, cold and what carries the air; {found.tool} takes {found.needs_low_s:.0f} to {found.needs_high_s:.0f} s, "
            f"and {found.too_long_s:.0f} s is too long. Indicative.", stage.id,
            2 if good else 1,
        )  # fmt: skip


def _powders(walk: Walk) -> Iterator[Consequence]:
    """Powder that goes into liquid with neither sugar to part its grains nor a tool to break the lumps."""
    method = walk.method
    for index, stage in enumerate(walk.stages):
        if not isinstance(stage, Add):
            continue
        held = before(walk, stage).vessels.get(stage.vessel)
        wet = held is not None and float(held.water_g[0]) > 0
        wet = wet or any(float(method.substances[line.substance].mass_fraction[c.WATER]) > 0.3 for line in stage.lines)
        if not wet:
            continue
        sugar = sum(float(walk.end.lines[x.id][0]) for x in stage.lines if method.substances[x.substance].kind == "sugar")
        powders = [x for x in stage.lines if _clumps(method.substances[x.substance])]
        grams = sum(float(walk.end.lines[x.id][0]) for x in powders)
        if grams > 0 and sugar < SUGAR_FOR_POWDER * grams and not _smoothed(walk.stages[index + 1 :], stage.vessel):
            names = " and ".join(method.short_titles[x.id] for x in powders[:2])
            yield Consequence(
                f"lumps-{stage.id}", "look",
                f"{names[:1].upper()}{names[1:]} will clump: blend it with the same weight of sugar first, or sift it and mix it smooth after.",
                "Sugar keeps the grains apart until they are wet: common practice, no source.", stage.id, 2,
            )  # fmt: skip
        for x in stage.lines:
            warm = 0.0 if held is None else float(held.warmth_c[0])
            if x.substance == "matcha" and warm > MATCHA_C:
                yield Consequence(
                    f"matcha-{stage.id}", "look", f"Matcha goes into {warm:.0f} °C: above {MATCHA_C:.0f} °C it turns dull and bitter.",
                    "Common practice, no source.", stage.id, 2,
                )  # fmt: skip


def _clumps(book: Substance) -> bool:
    dry = float(book.mass_fraction[c.WATER]) < 0.15
    return dry and (
        book.kind in ("cocoa", "thickener") or book.contributions.starch is not None or book.id in ("matcha", "milk_powder", "malted_milk_powder")
    )


def _smoothed(later: tuple[StageBase, ...], vessel: str) -> bool:
    """Whether a tool goes through it, or heat and stirring, before it leaves the vessel."""
    for stage in later:
        if stage.breaks_lumps and stage.vessel == vessel:
            return True
        if stage.vessel == vessel and not isinstance(stage, Adding | Join | Heat | Boil | Holding):
            return False
    return False
