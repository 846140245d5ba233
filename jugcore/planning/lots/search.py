"""Finding good plans where a program is too large to be solved whole: day by day first, then part by part of what stands.

Each step is the same program with most of its cooks held where they are. What comes out keeps every row of the whole.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from jugcore.figures import Bools, Floats
from jugcore.planning.lots.model import Program
from jugcore.solving.stopwatch import Clock

#: A step is near enough to its best within this share.
_NEAR = 5e-3
#: Days that are decided together while those after them are only weighed, and days that are let go of again together.
_WINDOW, _AGAIN = 3, 4
#: Cooks that are let go of together, of so many products over all days.
_PRODUCTS = 5
#: One step takes no longer. [s]
_STEP_S = 2.0


@dataclass(frozen=True)
class Answer:
    """What a program came to: values of its variables, or none; what nothing can be below; and whether it has none at all."""

    values: Floats | None
    bound: float
    impossible: bool


def solved(
    program: Program, seconds: float, gap: float, *, least: Floats | None = None, most: Floats | None = None, whole: Floats | None = None
) -> Answer:
    """A program by HiGHS, some of its bounds changed. Its bound is −∞ where it found none."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    found: Any = milp(
        program.cost, integrality=program.whole if whole is None else whole,
        bounds=Bounds(program.least if least is None else least, program.most if most is None else most),
        constraints=LinearConstraint(program.rows, program.low, program.high), options={"time_limit": max(seconds, 0.05), "mip_rel_gap": gap},
    )  # fmt: skip
    bound = getattr(found, "mip_dual_bound", None)
    if bound is None:
        bound = found.fun if found.status == 0 else -np.inf
    return Answer(None if found.x is None else np.asarray(found.x), float(bound), found.status == 2)


def fits(program: Program, values: Floats) -> bool:
    """Whether values keep every row and bound of a program, up to a hundredth of a gram or minute.

    A whole number is whole to a millionth, and a cook of many kilograms multiplies that.
    """
    rows = program.rows @ values
    room = 0.01 + 1e-7 * np.abs(rows)
    inside = np.all(rows >= program.low - room) and np.all(rows <= program.high + room)
    return bool(inside and np.all(values >= program.least - 1e-3) and np.all(values <= program.most + 1e-3))


def day_by_day(program: Program, seconds: float, clock: Clock) -> Floats | None:
    """A plan whose days are decided a few at a time, those to come weighed as if cooks could be parts (relax and fix); None in too little time."""
    until = clock() + seconds
    days = np.full(len(program.cost), -1)
    for (_, day), place in program.columns.cooks.items():
        days[place] = day
    last = int(days.max())
    least, most = program.least.copy(), program.most.copy()
    values: Floats | None = None
    for first in range(0, last + 1, _WINDOW):
        now = (days >= first) & (days < first + _WINDOW)
        left = until - clock()
        if left <= 0:
            return None
        steps = (last - first) // _WINDOW + 1
        answer = solved(program, min(_STEP_S, 1.5 * left / steps), _NEAR, least=least, most=most, whole=np.where(now, program.whole, 0.0))
        if answer.values is None:
            return None
        values = answer.values
        least[now] = most[now] = np.round(values[now])
    if values is None:
        return None
    # What is used follows from all cooks.
    return solved(program, max(until - clock(), 0.5), 1e-4, least=least, most=most).values


def part_by_part(program: Program, values: Floats, seconds: float, clock: Clock, bound: float, gap: float) -> Floats:
    """A plan at least as good as one that stands: parts of its cooks are let go of in turn and found again, the rest held (fix and optimise)."""
    until = clock() + seconds
    best, cost = values, float(program.cost @ values)
    idle, parts = 0, list(_parts(program))
    for turn in _again(parts):
        left = until - clock()
        if left <= 0 or idle >= len(parts) or cost - bound <= gap * abs(cost):
            break
        cooks = program.whole > 0
        held = cooks & ~turn
        least, most = program.least.copy(), program.most.copy()
        least[held] = most[held] = np.round(best[held])
        answer = solved(program, min(_STEP_S, left), 1e-4, least=least, most=most)
        found = answer.values
        if found is not None and float(program.cost @ found) < cost - 1e-6 * abs(cost) and fits(program, found):
            best, cost, idle = found, float(program.cost @ found), 0
        else:
            idle += 1
    return best


def _again(parts: Sequence[Bools]) -> Iterator[Bools]:
    while parts:
        yield from parts


def _parts(program: Program) -> Iterator[Bools]:
    """What is let go of in turn: stretches of days, and handfuls of products that stand at different distances from one another."""
    places = program.columns.cooks
    products = list(dict.fromkeys(id for id, _ in places))
    last = max(day for _, day in places)

    def of(wanted: set[tuple[str, int]]) -> Bools:
        mask = np.zeros(len(program.cost), dtype=bool)
        mask[[place for key, place in places.items() if key in wanted]] = True
        return mask

    stretches = [of({(id, day) for id in products for day in range(first, first + _AGAIN)}) for first in range(0, last + 1, _AGAIN // 2)]
    handfuls = []
    for stride in (1, 3, 7):
        order = [products[(n * stride) % len(products)] for n in range(len(products))] if len(products) % stride or stride == 1 else products[::-1]
        for first in range(0, len(order), _PRODUCTS - 1):
            chosen = order[first : first + _PRODUCTS]
            handfuls.append(of({(id, day) for id in chosen for day in range(last + 1)}))
    for n in range(max(len(stretches), len(handfuls))):
        if n < len(stretches):
            yield stretches[n]
        if n < len(handfuls):
            yield handfuls[n]
