"""Which figures of a method may be changed, where they stand, and how dear a change of each is."""

from __future__ import annotations

import numpy as np

from jugcore.errors import BadDocument
from jugcore.measures.density import MAX_LINE_G
from jugcore.method.amounts import Written
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Boil
from jugcore.method.stages.boil import MAX_BRIX
from jugcore.method.walk import Walk
from jugcore.solving.linearise import Variable
from jugcore.solving.problem import Problem

#: Boiling longer costs time and fuel: this much dearer than changing an ingredient by as much.
_BOIL_PRICE = 1.2
#: No figure of a boil's end may be nothing.
_LEAST = 0.01
#: No answer asks for more of a line than a document takes. [g]
_MOST_G = 0.999 * MAX_LINE_G


def default_variables(method: Method, kitchen: Kitchen, walked: Walk, problem: Problem) -> tuple[Variable, ...]:
    """Every line with grams of its own and every boil, but for those locked or not asked for."""
    variables: list[Variable] = []
    pot_g = max((float(mass[0]) for mass in walked.end.masses.values()), default=100.0)
    for id, amount in method.amounts.items():
        path = f"lines.{id}.grams"
        if not isinstance(amount, Written) or id in problem.locks or id not in walked.end.lines or id not in method.lines:
            continue
        grams = float(walked.end.lines[id][0])
        low, high = problem.bounds.get(id, (None, None))
        least = max(resolution_g(kitchen, grams), low or 0.0)
        variables.append(Variable.figure(path, grams, low=least, high=min(_MOST_G, np.inf if high is None else high), scale=max(grams, pot_g / 100)))
    variables += [_end_of(stage, walked, pot_g) for stage in method.stages if isinstance(stage, Boil)]
    if problem.free is not None:
        unknown = [path for path in problem.free if path not in {free.id for free in variables}]
        if unknown:
            raise BadDocument("free", f"“{unknown[0]}” cannot be changed here.", f"Free are: {', '.join(free.id for free in variables)}.")
        variables = [free for free in variables if free.id in problem.free]
    return tuple(variables)


def _end_of(stage: Boil, walked: Walk, pot_g: float) -> Variable:
    """When a boil ends, in its own kind; counted by the grams of water that makes.

    The walk turns every end into grams off. Here the end stays what the cook goes by, so
    that a syrup boiled to 64 °Bx stays one while its ingredients change.
    """
    step = walked.step(stage.id)
    assert step.trace is not None
    off = float(step.figures["off_g"][0])
    kind, value = stage.until.kind, stage.until.value
    grams = max(off, pot_g / 100)
    leaves = float(step.trace.mass_g[0, 0] - step.trace.mass_g[0, -1])
    path = stage.path(kind)
    if kind == "brix":
        solids = float(step.after.vessels[stage.vessel].dissolved_g[0])
        x = 100.0 / value
        return Variable(path, ((path, value, 1.0),), x, 100.0 / (MAX_BRIX - _LEAST), 100.0, grams / max(solids, 1e-6), "", _BOIL_PRICE, inverse=True)
    if kind in ("mass_g", "off_g"):
        return Variable.figure(path, value, low=_LEAST, high=np.inf, scale=grams, price=_BOIL_PRICE)
    along = step.trace.temperature_c if kind == "temperature_c" else step.trace.seconds / 60
    per_gram = float(along[0, -1] - along[0, 0]) / leaves if leaves > 0 else value / grams
    low, high, unit = (50.01, 150.0, "°C") if kind == "temperature_c" else (_LEAST, 1440.0, "min")
    return Variable.figure(path, value, low=low, high=high, scale=max(abs(per_gram) * grams, 1e-3), unit=unit, price=_BOIL_PRICE)
