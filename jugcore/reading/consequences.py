"""Plain consequences: what the numbers mean, in one to four sentences."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from jugcore.figures import shown
from jugcore.method.phrases import capital, spelt_span
from jugcore.method.scales import COARSE_SHARE
from jugcore.method.stages import Boil, Mill, StageBase, Strain
from jugcore.method.walk import Walk, once
from jugcore.physics.liquor import GLUCOSE_WATER, LACTOSE_WATER
from jugcore.reading.blend import dominant, premix, strength_shares
from jugcore.reading.catalogue import readings
from jugcore.reading.consequence import Consequence
from jugcore.reading.coumarin import coumarin
from jugcore.reading.equipment.pots import ERUPTS_FACTOR, FOAM_FACTOR, FULL, too_much
from jugcore.reading.equipment.tool_fills import in_goes
from jugcore.reading.process_consequences import processes
from jugcore.reading.readings.base import Reading
from jugcore.reading.readings.cold import clear_down_to_c
from jugcore.reading.readings.flow import runs_clear, times_water
from jugcore.reading.readings.water import drops_cold
from jugcore.reading.stage_names import named_otherwise
from jugcore.reading.windows import family_report, outside

#: Above this the readings end: it is candy.
MOST_BRIX = 85.0
MOST = 4
#: A thickness whose ends lie further apart than this many times is no sentence.
_TOO_WIDE = 2.0
_ROOM_WHY = {
    "pot": f"Foam head-room of {FOAM_FACTOR:g} times the liquid, and never more than {100 * FULL:.0f} % of a pot: common practice.",
    "erupts": f"A pot at least {ERUPTS_FACTOR:g} times the volume: common practice.",
    "scale": "No weighing may exceed the scale.",
}


@once
def consequences(walk: Walk) -> tuple[Consequence, ...]:
    """The most important consequences of a walk, at most four, loudest first."""
    if not float(walk.product.total_g[0]) > 0:
        return ()
    by_id = {reading.id: reading for reading in readings(walk)}
    found = [*_room(walk), *_goes(walk), *_boils(walk)]
    found += [*_cold(walk, by_id), *_other_crystals(walk, by_id), *_weighings(walk), *_loud(walk), *_whole(walk), *_pours(walk, by_id)]
    found += [*processes(walk, by_id), *named_otherwise(walk), *_coumarin(walk)]
    family = family_report(walk, by_id)
    if family is not None:
        spoken = {each.about for each in found}
        found += [each for each in outside(family, by_id) if each.about not in spoken]
    return tuple(sorted(found, key=lambda c: c.rank)[:MOST])


def _boils(walk: Walk) -> Iterator[Consequence]:
    for stage, step in walk.each(Boil):
        if not float(step.figures["off_g"][0]) > 0:
            continue
        pot = walk.kitchen.pot(walk.method.pot_id(stage.vessel))
        off, reads, probe = (float(step.figures[k][0]) for k in ("off_g", "pot_reads_g", "probe_c"))
        weight = f"the pot reads {shown(round(reads))} g" if pot.tare_g else f"it weighs {shown(round(reads))} g without the pot"
        if stage.until.kind == "minutes":
            yield Consequence(
                f"boil-{stage.id}", "fine",
                f"Boil it for {shown(round(stage.until.value, 1))} min, timed from when it boils: about {shown(round(off))} g of water off, "
                f"{spelt_span(step.duration_s)} with the way up.",
                "The clock stops it, not the weight: what is boiled for a time needs that time.", stage.id, 2,
            )  # fmt: skip
        else:
            yield Consequence(
                f"boil-{stage.id}", "fine",
                f"Stop when {weight}: {shown(round(off))} g of water off, {spelt_span(step.duration_s)}. "
                f"The probe reads about {probe:.1f} °C then, a rough guide: {_kelvin_per_brix(step)}.",
                "The weight stops the cook, the refractometer confirms, the probe only warns.", stage.id, 2,
            )  # fmt: skip


def _room(walk: Walk) -> Iterator[Consequence]:
    """Pots and scales that would take less than this: the worst of each, of each vessel."""
    spoken: set[tuple[str, str]] = set()
    for limit in too_much(walk):
        if (limit.vessel, limit.kind) in spoken:
            continue
        spoken.add((limit.vessel, limit.kind))
        id = {"pot": "room", "erupts": "erupts", "scale": "scale"}[limit.kind]
        remedy = "Split the cook." if limit.kind == "scale" else "Split the cook or take a larger pot."
        yield Consequence(f"{id}-{limit.stage}", "stop", f"Too much for {limit.words}. {remedy}", _ROOM_WHY[limit.kind], limit.stage, 0)


def _goes(walk: Walk) -> Iterator[Consequence]:
    for each in in_goes(walk):
        yield Consequence(f"goes-{each.stage}", "look", each.words, "What the tool holds is what this kitchen says of it.", each.stage, 1)


def _coumarin(walk: Walk) -> Iterator[Consequence]:
    found = coumarin(walk)
    if found is not None:
        yield Consequence("coumarin", "look", found.words, "Surveys of barks against EFSA's tolerable daily intake, from memory.", None, 2)


def _kelvin_per_brix(step: object) -> str:
    trace = getattr(step, "trace", None)
    if trace is None or trace.brix.shape[1] < 2:
        return "let the weight decide"
    rise = float(trace.temperature_c[0, -1] - trace.temperature_c[0, -2])
    gain = float(trace.brix[0, -1] - trace.brix[0, -2])
    if gain <= 0 or rise <= 0:
        return "let the weight decide"
    return f"half a degree is {0.5 * gain / rise:.1f} °Bx"


def _loud(walk: Walk) -> Iterator[Consequence]:
    for stage in walk.stages:
        loudest = dominant(strength_shares(walk, stage))
        if loudest is not None:
            yield Consequence(
                f"loud-{stage.id}", "look",
                f"{loudest.title} carries this blend: {100 * loudest.mass_share:.0f} % of its weight and {100 * loudest.low:.0f} to "
                f"{100 * min(loudest.high, 1):.0f} % of its strength.",
                "Strength by the gram is an order of magnitude, an estimate: the range is what it may be.", stage.id, 3,
            )  # fmt: skip


def _whole(walk: Walk) -> Iterator[Consequence]:
    """Spice that comes whole and is strained out as it came."""
    if not any(isinstance(stage, Strain) for stage in walk.stages):
        return
    whole = {id for id, line in walk.method.lines.items() if walk.method.substances[line.substance].is_whole and float(walk.end.lines[id][0]) > 0}
    for index, stage in enumerate(walk.stages):
        if whole and isinstance(stage, Mill):
            whole -= held_by(walk.stages[: index + 1], stage.vessel)
    if whole:
        names = [walk.method.short_titles[id] for id in walk.method.lines if id in whole]
        named = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
        yield Consequence(
            "whole", "look",
            f"{named[:1].upper()}{named[1:]} {'goes' if len(names) == 1 else 'go'} in whole and {'is' if len(names) == 1 else 'are'} strained out: "
            "less flavour than of as much ground, and more of it with time. Grind it, or give it longer, and taste.",
            "What a whole spice gives goes by time, heat and what it lies in: common practice, no figure.", None, 4,
        )  # fmt: skip


def held_by(stages: Sequence[StageBase], vessel: str) -> set[str]:
    """Lines that went into a vessel by the end of some stages, by whatever way."""
    held: dict[str, set[str]] = {}
    for stage in stages:
        target = stage.writes()
        source = stage.reads() or stage.vessel
        if stage.ingredients:
            held.setdefault(target, set()).update(line.id for line in stage.ingredients)
        elif source != target:
            held.setdefault(target, set()).update(held.get(source, set()))
    return held.get(vessel, set())


def _cold(walk: Walk, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    margin = read["cold_margin"]
    value, low, high = (float(x[0]) for x in (margin.value, margin.low, margin.high))
    t = float(walk.of_kitchen("fridge_c")[0])
    # Thin syrups are nowhere near; without sucrose there is nothing to throw.
    worth_saying = float(walk.product.brix[0]) > 45 and float(read["sucrose"].value[0]) > 30
    if walk.product.is_liquid[0] and float(walk.product.brix[0]) > MOST_BRIX:
        yield Consequence(
            "sets", "stop",
            f"At {float(walk.product.brix[0]):.0f} °Bx this is boiled sugar, not a syrup: it sets as it cools, and it burns deep. "
            "The figures here are not meant for it.",
            f"The readings end at {MOST_BRIX:g} °Bx.", "brix", 0,
        )  # fmt: skip
        return
    if not np.isfinite(value) or not worth_saying:
        return
    if value - low > 2 and low <= 0 <= high:
        yield Consequence(
            "cold", "look",
            f"Too close to the cold limit at {t:g} °C to call, for all the other sugars in it: keep a bottle at {t:g} °C for a night and look.",
            "How much room glucose and fructose take from sucrose is a range, not from a table.", "cold_margin", 1,
        )  # fmt: skip
    elif low <= 0 <= high:
        yield Consequence(
            "cold", "look", f"Too close to the cold limit at {t:g} °C to call: measure the °Brix of the batch.",
            "The margin is smaller than its error.", "cold_margin", 1,
        )  # fmt: skip
    elif value < 0:
        below = clear_down_to_c(walk.product)
        where = f"below {below:.0f} °C" if below is not None else "as soon as it cools"
        drop = read.get("crystals")
        much, back = "", ""
        if drop is not None and np.isfinite(drop.value[0]):
            water_g = next(value for name, value, _ in drop.inputs if name.startswith("water"))
            warm = f", or stirring it for some minutes at {dissolves_c(below)}," if below is not None else ""
            much = f", up to {shown(round(float(drop.value[0])))} g per kg at {t:g} °C"
            back = f" Stirring in {shown(round(water_g))} g of water per kg{warm} brings them back."
        yield Consequence(
            "cold", "look", f"May form crystals {where}{much}: it holds {-value:.0f} % more sucrose than its water can dissolve.{back}",
            "Judged by sucrose per gram of water; other sugars do not count against it.", "cold_margin", 1,
        )  # fmt: skip
    elif value < 5:
        yield Consequence(
            "cold", "look", f"Only {value:.0f} % below the cold limit at {t:g} °C: splashed walls and seeded bottles may start crystals.",
            "Judged by sucrose per gram of water.", "cold_margin", 3,
        )  # fmt: skip
    else:
        yield Consequence(
            "cold", "fine", f"Will not crystallise at {t:g} °C: its sugar is {value:.0f} % below the cold limit.",
            "Judged by sucrose per gram of water.", "cold_margin", 4,
        )  # fmt: skip


def dissolves_c(clear_c: float) -> str:
    """At what heat crystals dissolve in minutes: 50 to 60 °C, well above where they would in days (common practice, no source)."""
    low = max(50.0, 5.0 * np.ceil((clear_c + 5.0) / 5.0))
    return f"{low:.0f} to {low + 10:.0f} °C"


def _other_crystals(walk: Walk, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    """Dextrose and milk's sugar above what their water keeps cold: the first drops by the spoon, the second grows grains that are felt."""
    t = float(walk.of_kitchen("fridge_c")[0])
    left = drops_cold(walk)[0]
    total = float(walk.product.total_g[0])
    glucose, lactose = read.get("glucose_margin"), read.get("lactose_margin")
    if glucose is not None and float(glucose.low[0]) <= 0 < float(glucose.high[0]):
        yield Consequence(
            "dextrose", "look", f"Too close to what its water keeps of dextrose at {t:g} °C to call: keep a bottle at {t:g} °C for a night and look.",
            "The margin is smaller than its error.", "glucose_margin", 2,
        )  # fmt: skip
    elif glucose is not None and float(glucose.high[0]) <= 0:
        grams = 1e3 * float(left.glucose_g[0]) * (1 + GLUCOSE_WATER) / total
        yield Consequence(
            "dextrose", "look",
            f"May form crystals of dextrose at {t:g} °C, up to {shown(round(grams))} g per kg: "
            "what is liquid over them is thinner and keeps worse. More water, or sucrose in place of a part of it, keeps it clear.",
            "Glucose per gram of water against Jackson and Silsbee's solubility.", "glucose_margin", 1,
        )  # fmt: skip
    if lactose is not None and float(lactose.high[0]) < 0:
        grams = 1e3 * float(left.lactose_g[0]) * (1 + LACTOSE_WATER) / total
        yield Consequence(
            "sandy", "look",
            f"May turn sandy: it holds {1 - float(lactose.value[0]) / 100:.1f} times as much milk sugar as its water can dissolve at {t:g} °C, and "
            f"{shown(round(grams))} g per kg may drop. Chill it fast, and stir it while it cools.",
            "Lactose per gram of water against Hudson's solubility.", "lactose_margin", 3,
        )  # fmt: skip


def _pours(walk: Walk, read: Mapping[str, Reading]) -> Iterator[Consequence]:
    times = times_water(read["viscosity"])
    cold_c = float(walk.of_kitchen("fridge_c")[0])
    thick = read["viscosity"]
    # With fat, pulp or gum the thickness is only an order: no sentence rests on it.
    if np.isfinite(times) and times > 3 and runs_clear(walk) and float(thick.high[0]) < _TOO_WIDE * float(thick.low[0]):
        rounded = float(f"{times:.1g}")
        yield Consequence(
            "pours", "fine", f"Pours at {cold_c:g} °C about {shown(rounded)} times as slowly as water.",
            "Thickness at fridge temperature over that of water at 20 °C.", "viscosity", 5,
        )  # fmt: skip


def _weighings(walk: Walk) -> Iterator[Consequence]:
    scales = sorted(walk.kitchen.scales, key=lambda s: s.resolution_g)
    if not scales:
        return
    bench = max(scales, key=lambda s: s.capacity_g)
    titles = walk.method.short_titles
    coarse = [
        (titles[line.id], float(walk.end.lines[line.id][0]))
        for stage in walk.stages
        for line in stage.ingredients
        if 0 < float(walk.end.lines[line.id][0]) < 0.5 * bench.resolution_g / COARSE_SHARE
    ]
    if not coarse:
        return
    name, grams = min(coarse, key=lambda pair: pair[1])
    error = 100 * 0.5 * bench.resolution_g / grams
    finer = next((s for s in scales if 0.5 * s.resolution_g <= COARSE_SHARE * grams), None)
    steps = f"{bench.name} reads in steps of {bench.resolution_g:g} g"
    off = f"{steps}, ± {error:.0f} % of its {shown(round(grams, 2))} g"
    text = f"Weigh {name} on {finer.name}: {off}." if finer else f"Mix a larger amount and dose {name} from it: {off}."
    larger = None if finer else next((found for stage in walk.stages if (found := premix(walk, stage))), None)
    if larger is not None:
        name, grams, error = larger.title, larger.grams, 100 * larger.error
        text = (
            f"Mix {larger.times} times as much, {shown(round(larger.make_g, 1))} g, and take {shown(round(larger.take_g, 2))} g of it: "
            f"then every line is within 5 %. {capital(name)} is {shown(round(grams, 2))} g, ± {error:.0f} % as {steps}."
        )
    yield Consequence(
        "weighing", "look", text,
        "Half a division of the scale against what is weighed.", None, 3,
    )  # fmt: skip
