"""What to do while a pot takes its time: what the stages after it need, as far as the next wait."""

from __future__ import annotations

from collections.abc import Callable

from jugcore.figures import shown
from jugcore.method.stages import Add, Adding, Blend, Boil, Cool, Fill, Heat, Holding, Join, StageBase, Step, Strain
from jugcore.method.walk import Walk
from jugcore.reading.bottle_fills import of_step
from jugcore.reading.phrases import grams_of

#: A stage that leaves the hands free this long has room for something else. [s]
WAITS_S = 120.0
_MOST = 4


def waits(step: Step) -> bool:
    """Whether a stage leaves the hands free for a while."""
    return float(step.duration_s[0, 1] - step.hands_s[0, 1]) >= WAITS_S


def meanwhile(walked: Walk, index: int, is_done: Callable[[str], bool]) -> list[str]:
    """What can be made ready during a stage; nothing for one that keeps the hands busy."""
    stages, steps = walked.stages, walked.steps
    if not waits(steps[index]):
        return []
    found: list[str] = []
    for stage, step in zip(stages[index + 1 :], steps[index + 1 :], strict=True):
        if is_done(stage.id):
            continue
        words = _ready(walked, stage, step)
        if words:
            found.append(words)
        if isinstance(stage, Boil | Heat | Cool | Holding) and waits(step):
            break
    return found[:_MOST]


def _ready(walked: Walk, stage: StageBase, step: Step) -> str:
    """What to have ready for a stage."""
    name = walked.method.vessel_name
    match stage:
        case Adding():
            lines = " and ".join(
                grams_of(walked.kitchen, float(step.after.lines[line.id][0]), walked.method.short_titles[line.id]) for line in stage.lines[:3]
            )
            more = f" and {len(stage.lines) - 3} more" if len(stage.lines) > 3 else ""
            where = f" together in {name(stage.vessel)}" if isinstance(stage, Blend) else ""
            return f"Weigh {lines}{more}{where}{', to go in next' if isinstance(stage, Add) else ''}."
        case Strain():
            sieve = next((s for s in walked.kitchen.sieves if s.id == stage.sieve), None)
            return f"Set {sieve.name if sieve else 'a sieve'} over {name(stage.into)}{', and have something to press with' if stage.pressed else ''}."
        case Join():
            return f"Have {name(stage.source)} at hand."
        case Fill():
            n = of_step(step, stage.size_ml).count
            return f"Have {n} clean {shown(stage.size_ml)} ml container{'s' if n != 1 else ''} ready, sanitised as its label says."
        case Cool() if stage.how == "cold_water":
            return "Run a basin of cold water."
        case _:
            return ""
