"""A stage as an order to the cook: “Boil until the pot weighs 2,703 g”."""

from __future__ import annotations

from collections.abc import Mapping

from jugcore.figures import shown
from jugcore.method.amounts import All
from jugcore.method.stages import (
    Adding,
    Aerate,
    Boil,
    Caramelise,
    Cool,
    Fill,
    Freeze,
    Heat,
    Holding,
    Join,
    Mill,
    Mix,
    Press,
    StageBase,
    Steep,
    Step,
    Strain,
    Trim,
)
from jugcore.method.stages.aerate import MIX_NAMES
from jugcore.method.walk import Walk
from jugcore.physics.foam import TOOL_NAMES
from jugcore.reading.bottle_fills import of_step
from jugcore.reading.phrases import grams_of, grams_text
from jugcore.reading.stage_summary import process_asked


def order(walked: Walk, stage: StageBase, step: Step, targets: Mapping[str, float]) -> str:
    """What to do at a stage as it was asked: what was measured since is no order."""
    method, kitchen = walked.method, walked.kitchen

    def grams(id: str) -> float:
        return targets.get(id, float(walked.end.lines[id][0]))

    name = method.vessel_name
    match stage:
        case Adding() if len(stage.lines) == 1:
            line = stage.lines[0]
            return f"Weigh {grams_of(kitchen, grams(line.id), method.short_titles[line.id])} into {name(stage.vessel)}"
        case Adding():
            return f"Weigh {len(stage.lines)} things into {name(stage.vessel)}"
        case Join():
            if isinstance(method.amounts[stage.id], All):
                return f"Put all of {name(stage.source)} into {name(stage.vessel)}"
            return f"Weigh {grams_text(kitchen, grams(stage.id))} of {name(stage.source)} into {name(stage.vessel)}"
        case Heat():
            return f"Warm to {shown(stage.to_c)} °C, stirring"
        case Cool():
            return f"Let it cool to {shown(stage.to_c)} °C {({'air': 'in air', 'cold_water': 'in cold water', 'fridge': 'in the fridge'})[stage.how]}"
        case Boil() if stage.until.kind == "minutes":
            return f"Boil for {shown(round(stage.until.value, 1))} min, timed from when it boils"
        case Boil():
            reads = shown(round(float(step.figures["pot_reads_g"][0])))
            return f"Boil until {'the pot' if kitchen.pot(method.pot_id(stage.vessel)).tare_g else 'what is in it'} weighs {reads} g"
        case Holding():
            verb = "Steep" if isinstance(stage, Steep) else "Keep"
            return f"{verb} it {process_asked(stage)}"
        case Caramelise():
            return f"Brown the sugar {process_asked(stage)}: the eye decides"
        case Aerate() if stage.tool == "siphon":
            return "Fill the siphon to its line, close it, charge it and shake"
        case Aerate():
            low, high = (shown(float(x)) for x in step.figures["needs_s"][0][[0, 2]])
            return f"Foam it with {TOOL_NAMES[stage.tool]}, {shown(stage.seconds) if stage.seconds else f'{low} to {high}'} s, until it mounds"
        case Mix():
            return f"Mix it smooth with {MIX_NAMES[stage.tool]}"
        case Freeze():
            return f"Freeze {name(stage.vessel)}"
        case Strain():
            sieve = next((s for s in kitchen.sieves if s.id == stage.sieve), None)
            return f"Strain through {sieve.name if sieve else 'a sieve'} into {name(stage.into)}{', and press' if stage.pressed else ''}"
        case Trim():
            return f"Peel, core and stone what is in {name(stage.vessel)}"
        case Press():
            return f"Press into {name(stage.into)}"
        case Mill():
            return f"Grind what is in {name(stage.vessel)}{f', {stage.passes} passes' if stage.passes > 1 else ''}"
        case Fill():
            return f"Fill {name(stage.into)}: {of_step(step, stage.size_ml).by_weight}"
        case _:
            return stage.name or stage.title
