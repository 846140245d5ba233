"""What a step leaves beside the product and is worth keeping: what a cloth or press held back, the rest of a blend. Read off the batch as it is.

The same walk, ended in another vessel: so its allergens, dates and hazards are those of everything that touched it.
"""

from __future__ import annotations

from dataclasses import dataclass

from jugcore import components as c
from jugcore.batch.actual.actual_batch import ActualBatch, at_most_g
from jugcore.batch.actual.label_entries import OnLabel, allergens_on_label
from jugcore.batch.sheet.schema import SheetKeptAside
from jugcore.method.compile import compile_document
from jugcore.method.method import Method
from jugcore.method.stages import Mill, Press, StageBase, Strain, cake_of
from jugcore.method.walk import Walk, walk
from jugcore.reading.keeping.assessment import KeepingReport, keeping_of
from jugcore.reading.report import allergens_of

#: Less is a film on a bowl or what sticks to a cloth (estimate). [g]
_LEAST_G = 1.0
#: A line is named where it is so much of what was held back, by what does not dissolve of it; three at most (estimate).
_NAMED_SHARE, _MOST_NAMED = 0.1, 3


@dataclass(frozen=True)
class KeptAside:
    """What a step leaves: what to call it, grams of it at the end of the batch as it is, and the most there may be."""

    stage: str
    vessel: str
    title: str
    grams: float
    most_g: float


def kept_aside(batch: ActualBatch, stage: str) -> KeptAside | None:
    """What a step leaves beside the product, worth keeping; None where it leaves nothing of that kind, or next to nothing."""
    found = next((each for each in batch.walk.stages if each.id == stage), None)
    vessel = None if found is None else found.leaves()
    if found is None or vessel is None or vessel == batch.walk.method.product or vessel not in batch.walk.end.vessels:
        return None
    grams = float(batch.walk.end.vessels[vessel].total_g[0])
    if not grams >= _LEAST_G:
        return None
    return KeptAside(stage, vessel, _title(batch.walk, found, vessel), grams, _most_g(batch.walk, found))


def _most_g(walked: Walk, stage: StageBase) -> float:
    """No more can be left than there was before the step, as far as scales and estimates go."""
    index = walked.stages.index(stage)
    before = walked.steps[index - 1].after if index else walked.start
    there = before.vessels.get(stage.reads() or stage.vessel)
    return at_most_g(0.0 if there is None else float(there.total_g[0]))


def sheet_kept_aside(batch: ActualBatch, stage: str) -> SheetKeptAside | None:
    """The same as the run sheet has it, with what was entered of it."""
    found, kept = kept_aside(batch, stage), batch.record.kept_aside.get(stage)
    if found is None:
        return None
    return SheetKeptAside(title=found.title, expects_g=found.grams, most_g=found.most_g, kept_g=kept.value if kept is not None else 0.0)


def keeping_aside(batch: ActualBatch, kept: KeptAside) -> KeepingReport:
    """How what was kept keeps, as far as the walk knows.

    What was answered of the product (that it was packed at once, a pH that was measured) says nothing of what a cloth held back.
    """
    return keeping_of(_ended_in(batch, kept.vessel))


def allergens_aside(batch: ActualBatch, kept: KeptAside) -> list[OnLabel]:
    """Every allergen of what was kept: of all that touched it, and of the batch's own label too, since both went through the same hands."""
    own = {each.allergen: each.certain for each in allergens_of(_ended_in(batch, kept.vessel))}
    found = {each.allergen: each for each in allergens_on_label(batch)}
    more = [OnLabel(allergen, certain) for allergen, certain in own.items() if allergen not in found]
    return [*(OnLabel(each.allergen, each.certain or own.get(each.allergen, False), each.why) for each in found.values()), *more]


def _ended_in(batch: ActualBatch, vessel: str) -> Walk:
    """The batch as it is, with another vessel for its product."""
    document = batch.walk.method.document.model_copy(update={"finished": vessel, "keeping": None})
    return walk(compile_document(document), batch.walk.kitchen)


def _title(walked: Walk, stage: StageBase, vessel: str) -> str:
    """“almonds and dates, pressed”; “rest of the blend”."""
    if vessel != cake_of(stage.id):
        return f"rest of {walked.method.vessel_name(vessel)}"
    names = _held_back(walked.method, walked, vessel)
    return f"{names}, {_how(stage)}" if names else f"what {stage.name or stage.title} held back"


def _how(stage: StageBase) -> str:
    """How it was parted from the rest."""
    if isinstance(stage, Mill):
        return "left on the sieve"
    return "pressed" if isinstance(stage, Press) or (isinstance(stage, Strain) and stage.pressed) else "strained off"


def _held_back(method: Method, walked: Walk, vessel: str) -> str:
    touched = walked.end.vessels[vessel].touched
    solids = {
        id: float(walked.end.lines[id][0]) * float(method.substances[line.substance].mass_fraction @ c.INSOLUBLE)
        for id, line in method.lines.items() if id in touched
    }  # fmt: skip
    whole = sum(solids.values())
    loud = sorted((id for id, grams in solids.items() if whole > 0 and grams >= _NAMED_SHARE * whole), key=lambda id: -solids[id])[:_MOST_NAMED]
    # “Green cardamom, ground” is green cardamom here.
    titles = list(dict.fromkeys(method.substances[method.lines[id].substance].title.lower().partition(",")[0] for id in loud))
    return " and ".join([", ".join(titles[:-1]), titles[-1]]) if len(titles) > 1 else "".join(titles)
