"""The line under a stage's name: what it does, in a few words."""

from __future__ import annotations

from collections.abc import Iterator

from jugcore.figures import Floats, shown
from jugcore.method.stages import (
    Adding,
    Aerate,
    Boil,
    Caramelise,
    Cool,
    Fill,
    Heat,
    Holding,
    Join,
    Mill,
    Mix,
    Press,
    StageBase,
    Step,
    Strain,
    Trim,
)
from jugcore.method.stages.aerate import MIX_NAMES
from jugcore.method.walk import Walk
from jugcore.physics.foam import TOOL_NAMES
from jugcore.reading.bottle_fills import of_step

#: A year. What takes longer, or never ends (a burner of no power), is said so and shown as this. [s]
LONGEST_S = 3.2e7
_VIGOUR = {"simmer": "simmer", "steady": "steady boil", "full": "full boil"}


def spelt_span(duration_s: Floats) -> str:
    """The first case of a (K, 3) duration as “20–27 min”, “3 min” or “2–5 h”."""
    if not float(duration_s[0, 2]) < LONGEST_S:
        return "longer than anybody waits"
    low, high = float(duration_s[0, 0]) / 60, float(duration_s[0, 2]) / 60
    unit = "min"
    if 0 < high < 1.75:
        low, high, unit = 60 * low, 60 * high, "s"
    if low >= 120:
        low, high, unit = low / 60, high / 60, "h"
    return f"{low:,.0f}–{high:,.0f} {unit}" if round(low) != round(high) else f"{low:,.0f} {unit}"


def summary(walk: Walk, stage: StageBase, step: Step) -> str:
    """A line under the stage's name."""
    minutes = spelt_span(step.duration_s)
    match stage:
        case Adding():
            return ", ".join(walk.method.short_titles[line.id] for line in stage.lines)
        case Join():
            return f"{walk.method.vessel_name(stage.source)}, {float(step.after.lines[stage.id][0]):,.0f} g"
        case Heat() | Cool():
            return f"to {stage.to_c:g} °C · {minutes}"
        case Boil():
            end = {
                "brix": f"to {stage.until.value:g} °Bx", "mass_g": f"to {stage.until.value:,.0f} g",
                "temperature_c": f"to {stage.until.value:g} °C", "minutes": f"{stage.until.value:g} min",
                "off_g": f"{stage.until.value:,.0f} g off",
            }[stage.until.kind]  # fmt: skip
            return f"{end} · {_VIGOUR[stage.vigour]} {minutes}"
        case Strain():
            sieve = next((s for s in walk.kitchen.sieves if s.id == stage.sieve), None)
            words = [f"{sieve.mesh_um:g} µm" if sieve else "through a sieve"]
            return ", ".join(words + (["pressed"] if stage.pressed else []))
        case Trim():
            return f"{100 * stage.yield_fraction:g} % kept"
        case Press():
            return f"{100 * stage.yield_fraction:g} % as juice"
        case Mill():
            return f"{100 * stage.loss_fraction:g} % lost"
        case Holding() | Caramelise() | Aerate() | Mix():
            return " · ".join((process_asked(stage), *([] if isinstance(stage, Holding) else [minutes])))
        case Fill():
            return of_step(step, stage.size_ml).words
        case _:
            return minutes


#: Where a hold is kept, in words.
PLACES = {"hob": "on the hob", "wrapped": "in a wrapped pot", "flask": "in a warmed vacuum flask", "air": "as it stands", "fridge": "in the fridge"}


def long(minutes: float) -> str:
    """“20 min”, “12 h”, “90 s”."""
    return f"{60 * minutes:g} s" if minutes < 2 else f"{minutes:g} min" if minutes < 180 else f"{minutes / 60:.3g} h"


def process_asked(stage: Holding | Caramelise | Aerate | Mix) -> str:
    """What is asked of a hold, a caramel, a foam or a mixing."""
    match stage:
        case Holding():
            warm = f" at {stage.at_c:g} °C" if stage.where == "hob" and stage.at_c is not None else ""
            return f"{long(stage.for_min)} {PLACES[stage.where]}{warm}"
        case Caramelise():
            return f"to {stage.to_c:g} °C" + (f", {long(stage.for_min)} there" if stage.for_min else "")
        case Aerate():
            return f"with {TOOL_NAMES[stage.tool]}" + (f", {stage.seconds:g} s" if stage.seconds else "")
        case Mix():
            return f"with {MIX_NAMES[stage.tool]}"


def boil_stops(walk: Walk) -> Iterator[str]:
    """When to stop each boil, in words: “Boil: stop when the pot reads 2,705 g, 295 g of water off, 20–27 min”."""
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        if not isinstance(stage, Boil):
            continue
        pot = walk.kitchen.pot(walk.method.pot_id(stage.vessel))
        reads, off = float(step.figures["pot_reads_g"][0]), float(step.figures["off_g"][0])
        if stage.until.kind == "minutes":
            timed = f"boil for {shown(round(stage.until.value, 1))} min, timed from when it boils"
            yield f"{stage.name or stage.title}: {timed}, about {shown(round(off))} g of water off"
            continue
        weight = f"the pot reads {shown(round(reads))} g" if pot.tare_g else f"it weighs {shown(round(reads))} g without the pot"
        yield f"{stage.name or stage.title}: stop when {weight}, {shown(round(off))} g of water off, {spelt_span(step.duration_s)}"


def asked_of(walk: Walk, stage: StageBase) -> str:
    """What the method asks of a stage, beside what goes in at it; nothing of what comes of that."""
    name = walk.method.vessel_name
    match stage:
        case Join():
            return name(stage.source)
        case Heat():
            return f"to {stage.to_c:g} °C"
        case Cool():
            how = {"air": "in air", "cold_water": "in cold water", "fridge": "in the fridge"}[stage.how]
            return f"to {stage.to_c:g} °C {how}"
        case Boil():
            unit = {"brix": "°Bx", "mass_g": "g", "temperature_c": "°C", "minutes": "min", "off_g": "g off"}[stage.until.kind]
            return f"to {stage.until.value:g} {unit}, {_VIGOUR[stage.vigour]}"
        case Strain():
            sieve = next((s for s in walk.kitchen.sieves if s.id == stage.sieve), None)
            return ", ".join([f"{sieve.mesh_um:g} µm" if sieve else "through a sieve", *(["pressed"] if stage.pressed else [])])
        case Trim():
            return f"{100 * stage.yield_fraction:g} % kept"
        case Press():
            return f"{100 * stage.yield_fraction:g} % as juice"
        case Mill():
            return f"{100 * stage.loss_fraction:g} % lost"
        case Holding() | Caramelise() | Aerate() | Mix():
            return process_asked(stage)
        case Fill():
            return f"into {name(stage.into)}, {stage.size_ml:g} ml each"
        case _:
            return ""
