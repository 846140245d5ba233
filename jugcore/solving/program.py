"""The linear and quadratic programs behind a solve, and what to say when there is no answer.

All in the units of :mod:`jugcore.solving.linearise`: n variables, rows in units of their
readings. HiGHS solves the linear ones, Clarabel the quadratic; both are imported when
first asked for, since they are large.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from jugcore.figures import Floats
from jugcore.solving.stopwatch import Stopwatch

#: A breach of a row weighs this many changes, where it must be allowed.
_BREACH = 1e4
#: Ties between equally good answers go to the earlier free, by this much each.
_TIE_BREAK = 1e-5

Change = Literal["few", "spread"]


@dataclass(frozen=True)
class Row:
    """One side of a window, ``value + slopes·(x − x0) ≥ 0``; ``care`` is what counts as a miss of it.

    A ``firm`` row is no wish: it may not be breached even where others may.
    """

    name: str
    value: float
    slopes: Floats
    care: float
    firm: bool = False


@dataclass
class Program:
    """What may move (between ``low`` and ``high``), from where, at what price, under which rows."""

    x0: Floats
    low: Floats
    high: Floats
    start: Floats
    weight: Floats
    rows: list[Row]
    #: Price per unit of x itself, for the least-cost aim; zeros for least change.
    cost: Floats
    change: Change = "few"
    watch: Stopwatch = field(default_factory=Stopwatch)

    def solve(self, *, breach: bool = False, only: Sequence[int] | None = None) -> Floats | None:
        """The cheapest x that keeps the rows (those in ``only``), or None where there is none.

        With ``breach`` rows may be missed, as little as can be; then there always is one.
        """
        with self.watch:
            if self.change == "spread" and not self.cost.any():
                return self._quadratic(breach, only)
            return self._linear(breach, only)

    def feasible(self, only: Sequence[int]) -> bool:
        """Whether some x keeps these rows."""
        return self.solve(only=only) is not None

    def _chosen(self, only: Sequence[int] | None) -> list[Row]:
        return self.rows if only is None else [self.rows[i] for i in only]

    def _linear(self, breach: bool, only: Sequence[int] | None) -> Floats | None:
        from scipy.optimize import linprog

        rows = self._chosen(only)
        n, m = len(self.x0), len(rows)
        slack = m if breach else 0
        # x, u ≥ |x − start| · weight, and what each row is missed by.
        least = self.weight * (1 + _TIE_BREAK * np.arange(n))
        objective = np.concatenate([self.cost, np.ones(n) if not self.cost.any() else np.full(n, _TIE_BREAK), np.full(slack, _BREACH)])
        a = np.zeros((2 * n + m, 2 * n + slack))
        b = np.zeros(2 * n + m)
        a[:n, :n], a[:n, n : 2 * n], b[:n] = np.diag(least), -np.eye(n), least * self.start
        a[n : 2 * n, :n], a[n : 2 * n, n : 2 * n], b[n : 2 * n] = -np.diag(least), -np.eye(n), -least * self.start
        for i, row in enumerate(rows):
            a[2 * n + i, :n] = -row.slopes / row.care
            b[2 * n + i] = (row.value - row.slopes @ self.x0) / row.care
            if breach and not row.firm:
                a[2 * n + i, 2 * n + i] = -1.0
        bounds = [*zip(self.low, self.high, strict=True), *[(0, None)] * (n + slack)]
        found = linprog(objective, A_ub=a, b_ub=b, bounds=bounds, method="highs")
        return np.asarray(found.x[:n], dtype=np.float64) if found.status == 0 else None

    def _quadratic(self, breach: bool, only: Sequence[int] | None) -> Floats | None:
        import clarabel
        from scipy import sparse

        rows = self._chosen(only)
        n, m = len(self.x0), len(rows)
        slack = m if breach else 0
        square = np.concatenate([self.weight**2, np.zeros(slack)])
        linear = np.concatenate([-(self.weight**2) * self.start, np.full(slack, _BREACH)])
        finite_low, finite_high = np.isfinite(self.low), np.isfinite(self.high)
        blocks: list[Floats] = []
        limits: list[float] = []
        for i, row in enumerate(rows):
            line = np.zeros(n + slack)
            line[:n] = -row.slopes / row.care
            if breach and not row.firm:
                line[n + i] = -1.0
            blocks.append(line)
            limits.append(float(row.value - row.slopes @ self.x0) / row.care)
        eye = np.eye(n + slack)
        for j in range(n):
            if finite_high[j]:
                blocks.append(eye[j])
                limits.append(float(self.high[j]))
            if finite_low[j]:
                blocks.append(-eye[j])
                limits.append(-float(self.low[j]))
        for i in range(slack):
            blocks.append(-eye[n + i])
            limits.append(0.0)
        settings = clarabel.DefaultSettings()
        settings.verbose = False
        settings.tol_gap_abs = settings.tol_gap_rel = settings.tol_feas = 1e-10
        solver = clarabel.DefaultSolver(
            sparse.csc_matrix(np.diag(square)), linear, sparse.csc_matrix(np.array(blocks)), np.array(limits),
            [clarabel.NonnegativeConeT(len(limits))], settings,
        )  # fmt: skip
        found = solver.solve()
        if str(found.status) not in ("Solved", "AlmostSolved"):
            return None
        return np.clip(np.asarray(found.x[:n], dtype=np.float64), self.low, self.high)


#: So many sets of targets are tried one by one for the fewest that clash.
_MOST_SETS = 400


def smallest_clash(program: Program, groups: Sequence[Sequence[int]], fixed: Sequence[int] = ()) -> tuple[int, ...]:
    """The fewest groups of rows that cannot hold together, by trying all of one, two, three …

    A group is both sides of one target; ``fixed`` rows hold in every try. Assumes that
    all together cannot hold. Where that would be too many sets, groups are left out one by
    one as long as the rest still clashes: none of those that stay is there for nothing,
    though fewer others might clash too.
    """
    from itertools import combinations

    def clash(chosen: Sequence[int]) -> bool:
        return not program.feasible([row for g in chosen for row in groups[g]] + list(fixed))

    tried = 0
    for size in range(1, len(groups) + 1):
        tried += math.comb(len(groups), size)
        if tried > _MOST_SETS:
            break
        for chosen in combinations(range(len(groups)), size):
            if clash(chosen):
                return chosen
    left = list(range(len(groups)))
    for group in range(len(groups)):
        without = [each for each in left if each != group]
        if without and clash(without):
            left = without
    return tuple(left)


def bounds_that_matter(program: Program, rows: Sequence[int]) -> tuple[list[int], list[int]]:
    """Of the bounds of the variables, those without any of which the rows could hold: (lows, highs).

    A deletion filter: each bound is let go in turn and stays gone unless that frees the rows.
    """
    low, high = program.low.copy(), program.high.copy()

    def holds() -> bool:
        return replace(program, low=low, high=high).feasible(rows)

    lows: list[int] = []
    highs: list[int] = []
    for j in range(len(low)):
        for bound, kept, open_end in ((low, lows, -np.inf), (high, highs, np.inf)):
            if not np.isfinite(bound[j]):
                continue
            stood, bound[j] = bound[j], open_end
            if holds():
                bound[j] = stood
                kept.append(j)
    return lows, highs
