"""Edits of a document that a solver or a way makes: each gives a new document."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping

import numpy as np

from jugcore.errors import BadDocument
from jugcore.method.amounts import Amount, Written
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import resolution_g, rounded_g
from jugcore.method.stages import BoilEnd, StageBase
from jugcore.method.walk import Walk


def written(grams: float) -> Written:
    """Grams as a person would write them: no exponent, which no amount has."""
    return Written(text=f"{np.format_float_positional(float(f'{grams:.10g}'), trim='-')} g")


def _stages(document: MethodDocument, change: Callable[[StageBase], StageBase]) -> MethodDocument:
    return document.model_copy(update={"stages": tuple(change(stage) for stage in document.stages)})


def set_amount(document: MethodDocument, id: str, amount: Amount | str) -> MethodDocument:
    """A line's amount, a join's, or what a stage makes in total."""
    return _stages(document, lambda stage: stage.with_amount(id, amount))


def set_boil_end(document: MethodDocument, id: str, **end: float) -> MethodDocument:
    """When a boil ends."""
    return _stages(document, lambda stage: stage.model_copy(update={"until": BoilEnd(**end)}) if stage.id == id else stage)


def with_references_by_id(method: Method) -> MethodDocument:
    """The method's document with every amount as it was understood: references by id, not by name."""
    document = method.document
    for id, amount in method.amounts.items():
        document = set_amount(document, id, amount)
    return document


def untied(method: Method, walked: Walk, lines: Iterable[str]) -> MethodDocument:
    """The document with lines in grams of their own, as many as they came to, so that they no longer follow others."""
    document = method.document
    for id in lines:
        if id not in method.lines:
            raise BadDocument("untie", f"“{id}” is not a line here.", "Name a line of the formula.")
        grams = float(walked.end.lines[id][0])
        if not isinstance(method.amounts[id], Written) and grams > 0:
            document = set_amount(document, id, written(grams))
    return document


def new_id(document: MethodDocument, beginning: str) -> str:
    """An id of this document that nothing has yet."""
    taken = {vessel.id for vessel in document.vessels} | {stage.id for stage in document.stages}
    taken |= {line.id for stage in document.stages for line in stage.ingredients}
    return next(id for n in range(1, 10_000) if (id := f"{beginning}-{n}") not in taken)


def insert_stage(document: MethodDocument, stage: StageBase, index: int) -> MethodDocument:
    """A new stage at a place."""
    stages = (*document.stages[:index], stage, *document.stages[index:])
    return document.model_copy(update={"stages": stages})


def without_stage(document: MethodDocument, id: str) -> MethodDocument:
    """A stage taken out."""
    return document.model_copy(update={"stages": tuple(stage for stage in document.stages if stage.id != id)})


#: Steps in which a boil's end is written down; grams go by the scale.
END_STEPS = {"brix": 0.01, "temperature_c": 0.01, "minutes": 0.01}


def end_step(kitchen: Kitchen, kind: str, pot_g: float) -> float:
    """The step in which a boil's end is written down; for grams that of the scale that carries the pot."""
    return END_STEPS.get(kind) or resolution_g(kitchen, pot_g)


def apply(document: MethodDocument, values: Mapping[str, float], kitchen: Kitchen, pots_g: Mapping[str, float]) -> MethodDocument:
    """The document with figures written into it, rounded to what the kitchen can weigh.

    ``values`` are ``lines.<id>.grams`` and ``stages.<id>.<a boil's end>``; ``pots_g`` what each
    boil's pot reads when it ends.
    """
    for path, value in values.items():
        kind, id, end = path.split(".")
        if kind == "lines":
            document = set_amount(document, id, written(rounded_g(kitchen, value)))
        else:
            step = end_step(kitchen, end, pots_g[id])
            document = set_boil_end(document, id, **{end: max(round(round(value / step) * step, 6), step)})
    return document


def as_sent(document: MethodDocument, asked: MethodDocument) -> MethodDocument:
    """An answer's document carries a kitchen and substances where the one asked about did; what was put to it stays behind."""
    own = {id: substance for id, substance in document.substances.items() if id in asked.substances}
    return document.model_copy(update={"kitchen": document.kitchen if asked.kitchen is not None else None, "substances": own})
