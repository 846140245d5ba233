"""The course of temperatures that a product went through: of every vessel that ends in it, the one that was longest where germs grow."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from jugcore.keeping.exposure import KILLS_C, Course, seconds_between
from jugcore.keeping.two_stage_cooling import FROM_C
from jugcore.method.stages import Holding, StageBase, Step
from jugcore.method.walk import Walk, once
from jugcore.reading.processes.outcomes import before, histories

#: Of a powder nothing is counted: below this share of water it is one.
_POWDER = 0.12
_POINTS = 13


def course_of(walk: Walk, j: int) -> list[tuple[float, float]]:
    """Seconds and °C to the product's end, by the quick (0), the likely (1) or the slow (2) end of each stage's time.

    Where vessels come together the one goes on that has been longer between cold and hot holding since it was last hot enough to kill.
    What stands between two stages while another pot cooks is not counted: a cook may begin it later.
    """
    courses: dict[str, list[tuple[float, float]]] = {}
    for passage in _passages(walk):
        stage, target = passage.stage, passage.target
        known = [course for vessel in (target, *passage.poured) if (course := courses.get(vessel))]
        so_far = known[0] if len(known) == 1 else max(known, key=lambda course: (_open_s(course, walk.kitchen.holding_c), course[-1][0]), default=[])
        for cake in passage.cakes:
            courses[cake] = list(courses.get(stage.vessel, []))
        if passage.powder:
            continue
        began = so_far[-1][0] if so_far else 0.0
        courses[target] = [*so_far, *((began + s, t) for s, t in _of_stage(walk, stage, passage.step, j))]
    return courses.get(walk.method.product, [])


@dataclass(frozen=True)
class _Passage:
    """What a stage fills, from which other vessels, and what it leaves in others.

    A cake is as warm, and stood as long, as what it was strained from.
    """

    stage: StageBase
    step: Step
    target: str
    poured: tuple[str, ...]
    cakes: tuple[str, ...]
    powder: bool


@once
def _passages(walk: Walk) -> tuple[_Passage, ...]:
    """The stages of a walk that leave anything in the vessel they fill; the same for the quick, the likely and the slow course."""
    found: list[_Passage] = []
    for stage, step in zip(walk.stages, walk.steps, strict=True):
        target = stage.writes()
        held = step.after.vessels.get(target)
        if held is None or not float(held.total_g[0]) > 0:
            continue
        poured = (source for flow in step.flows if (source := _poured_from(flow.source, flow.target, target)) and float(flow.mass_g[0].sum()) > 0)
        targets = (flow.target.partition(":") for flow in step.flows)
        cakes = (vessel for kind, _, vessel in targets if kind == "vessel" and vessel != target)
        powder = not bool(held.is_liquid[0]) and float(held.water_g[0]) < _POWDER * float(held.total_g[0])
        found.append(_Passage(stage, step, target, tuple(poured), tuple(cakes), powder))
    return tuple(found)


def _poured_from(source: str, target: str, into: str) -> str:
    """The other vessel that a flow brings into one; empty where it brings none."""
    kind, _, vessel = source.partition(":")
    return vessel if kind == "vessel" and target == f"vessel:{into}" and vessel != into else ""


def _open_s(course: Course, cold_c: float) -> float:
    """Seconds between cold and hot holding since it was last hot enough to kill."""
    last = max((i for i, (_, t) in enumerate(course) if t >= KILLS_C), default=0)
    return seconds_between(course[last:], cold_c, FROM_C)


def _of_stage(walk: Walk, stage: StageBase, step: Step, j: int) -> list[tuple[float, float]]:
    """Seconds since the stage began, and °C in the vessel it fills."""
    ends = float(step.after.vessels[stage.writes()].warmth_c[0])
    was = before(walk, stage).vessels.get(stage.vessel)
    began = ends if was is None or not float(was.total_g[0]) > 0 else float(was.warmth_c[0])
    if isinstance(stage, Holding) and (ran := histories(walk, stage)):
        seconds, warm = _by_end(ran, walk.kitchen.holding_c, j)
        return [(float(s), float(t)) for s, t in zip(seconds, warm, strict=True)]
    return stage.warmth(began, ends, walk.at(stage), j)


def _by_end(ran: list[tuple[np.ndarray, np.ndarray]], cold_c: float, j: int) -> tuple[np.ndarray, np.ndarray]:
    """Of a hold that loses heat slowly, as expected or fast: the one least, likely or longest where germs grow."""
    courses = [(seconds[0], warm[0]) for seconds, warm in ran]
    if j == 1:
        return courses[1]
    return sorted(courses, key=lambda each: seconds_between(list(zip(*each, strict=True)), cold_c, FROM_C))[0 if j == 0 else -1]
