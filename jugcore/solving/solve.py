"""Which amounts make the readings what is wanted: windows, locks and bounds, least change or least cost.

Each round linearises the walk and solves a linear (or quadratic) program; what comes out
is rounded to the scale, written into the document and walked again, and only that walk
says whether the targets are met.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.editing.edits import apply, end_step
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import BadDocument
from jugcore.figures import Floats, shown
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk, walk
from jugcore.solving.infeasibility import ConflictSearch
from jugcore.solving.linearise import Linear, Target, Variable, faulty, given_at, linearise, reading_of
from jugcore.solving.problem import EXACT, Changed, Infeasibility, Met, Problem, Solution, Status, Timing
from jugcore.solving.program import Program, Row
from jugcore.solving.stopwatch import Clock, Stopwatch, no_clock
from jugcore.solving.variables import default_variables

#: Rounds allowed; most are done in two.
MAX_ROUNDS = 8
#: After so many it settles for what is near.
_SETTLES = 5
#: To come nearest to what cannot be had, a figure moves by at most so many times its scale.
_FAR = 2.0
#: In its early rounds a search may fall back to this share of the miss it began with.
_EARLY = 0.02
#: No reading is met by shrinking what it is a share of below this share.
_LEAST_SHARE = 0.05
#: A boil takes off at least this share of what is in its pot.
_LEAST_OFF = 1e-3
#: Where not all can be had, a hundredth of one target is worth a hundredth of another.
_NEAR = 0.01
#: Moves smaller than this share of a figure's scale are none.
_STILL = 1e-9


def solve(
    method: Method, problem: Problem, *, kitchen: Kitchen | None = None, variables: Sequence[Variable] | None = None, clock: Clock = no_clock,
    walked: Walk | None = None,
) -> Solution:  # fmt: skip
    """Change the free figures so that the targets hold.

    Parameters
    ----------
    method : Method
        A checked document; ties among its lines stay ties and are followed.
    problem : Problem
        Targets, locks, bounds and aim.
    variables : sequence of Variable, optional
        What may change, instead of :func:`default_variables`. Only figures of lines and
        boils are written back into the document.
    clock : function giving seconds, optional
        To time its walks and solver calls by; without one all times are nothing.
    walked : Walk, optional
        This very method walked in this kitchen, where that was done before.

    Returns
    -------
    Solution
        ``solved`` if the rounded document, walked again, misses no target by more than
        rounding each changed figure by half a step explains; ``collides`` with the
        smallest clashing set where the linear program proves there is no answer, and
        ``not_proven`` where the walk is too crooked for that proof.

    Raises
    ------
    BadDocument
        Nothing is free, a target names no reading, a window is upside down, or a
        reading has no value to begin with.

    Notes
    -----
    At most 8 rounds, each one walk of 2n + 1 cases and one program; the change of a
    figure is counted against its size or a hundredth of the pot.
    """
    began = clock()
    place = kitchen or method.document.kitchen or Kitchen()
    method = with_basis(method, place)
    walks, solvers = Stopwatch(clock), Stopwatch(clock)
    with walks:
        first = walked or walk(method, place)
    chosen = tuple(default_variables(method, place, first, problem) if variables is None else variables)
    targets = _targets(method, first, problem, chosen)
    search = _Search(method, place, chosen, targets, problem, first, walks, solvers)
    outcome = search.run()
    document, final, rounding = _written_down(search, outcome.lin)
    met = tuple(_met(target, first, final, float(rounding[t])) for t, target in enumerate(targets))
    # What the search thinks does not count: the rounded document, walked again, decides.
    good = all(m.met for m in met) and not bool(faulty(final, search.ignore)[0])
    status: Status = "solved" if good else "not_proven" if outcome.status == "solved" else outcome.status
    changes = tuple(
        Changed(path, stands, float(free.given(np.array([x]))[path][0]), free.unit)
        for free, x in zip(chosen, outcome.lin.x, strict=True)
        for path, stands, _ in free.moves
        if abs(x - free.at) > _STILL * free.scale
    )
    timing = Timing(walks.seconds, solvers.seconds, clock() - began)
    asked = met[: len(problem.targets)]
    return Solution(status, document, final, changes, asked, outcome.infeasibility, outcome.rounds, timing, outcome.lin.x, chosen)


def _targets(method: Method, first: Walk, problem: Problem, variables: Sequence[Variable]) -> tuple[Target, ...]:
    """The targets, with locks and bounds of lines that follow others as targets of their own."""
    if not variables:
        raise BadDocument("free", "Nothing may change.", "Unlock a line with an amount of its own, or a boil.")
    for target in problem.targets:
        if target.low is None and target.high is None:
            raise BadDocument("target", "A target without a value asks for nothing.", "Give a value, a least or a most.")
        if target.low is not None and target.high is not None and target.low > target.high:
            raise BadDocument("target", f"{shown(target.low)} to {shown(target.high)} is not a window.", "Put the smaller first.")
        if not np.isfinite(reading_of(first, target.reading).value[0]):
            raise BadDocument("target", reading_of(first, target.reading).why_not or "This reading has no value here.", "Choose another.")
    own = {free.id for free in variables}
    found = list(problem.targets)
    for line in (*problem.locks, *problem.bounds):
        if line not in first.end.lines:
            raise BadDocument("locks", f"“{line}” is not a line here.", "Name a line of the formula.")
    for line in problem.locks:
        grams = float(first.end.lines[line][0])
        if not isinstance(method.amounts[line], Written):
            found.append(Target(f"line:{line}", grams, grams))
    for line, (low, high) in problem.bounds.items():
        if f"lines.{line}.grams" not in own and line not in problem.locks:
            found.append(Target(f"line:{line}", low, high))
    return (*found, *_boils_that_boil(first, variables))


def _boils_that_boil(first: Walk, variables: Sequence[Variable]) -> Iterator[Target]:
    """That a boil which may move still takes water off: beyond that the walk has a fault and no slope leads back."""
    for free in variables if len(variables) > 1 else ():
        kind, id, _ = free.moves[0][0].split(".")
        if kind == "stages" and (off := float(first.step(id).figures["off_g"][0])) > 0:
            yield Target(f"off:{id}", min(_LEAST_OFF * float(first.end.masses[id][0]), 0.5 * off))


def _met(target: Target, first: Walk, final: Walk, rounding: float) -> Met:
    reading, before = reading_of(final, target.reading), reading_of(first, target.reading)
    missed = float(np.nan_to_num(target.missed_by(reading.value), nan=np.inf)[0])
    return Met(target, reading.title, reading.unit, reading.digits, float(before.value[0]), float(reading.value[0]), missed, rounding)


def _written_down(search: _Search, lin: Linear) -> tuple[MethodDocument, Walk, Floats]:
    """The document with the answer written into it, its walk, and what rounding may do to each target, (T,)."""
    document, kitchen = search.method.document, search.kitchen
    values: dict[str, float] = {}
    for free, x in zip(search.variables, lin.x, strict=True):
        if abs(x - free.at) > _STILL * free.scale:
            values |= {path: float(v[0]) for path, v in free.given(np.array([x])).items()}
    if not values:
        return document, lin.walk, np.zeros(len(search.targets))
    pots_g = {path.split(".")[1]: float(lin.walk.step(path.split(".")[1]).figures["pot_reads_g"][0]) for path in values if path.startswith("stages.")}
    document = apply(document, values, kitchen, pots_g)
    method = compile_document(document)
    rounded: list[Variable] = []
    for path in values:
        kind, id, _ = path.split(".")
        if kind == "lines":
            grams = method.weighed[id].grams
            rounded.append(Variable.figure(path, grams, low=0.0, high=np.inf, scale=resolution_g(kitchen, grams)))
        else:
            stage = next(stage for stage in method.stages if stage.id == id)
            assert isinstance(stage, Boil)
            end = stage.until
            step = end_step(kitchen, end.kind, pots_g[id])
            rounded.append(Variable.figure(stage.path(end.kind), end.value, low=0.0, high=np.inf, scale=step))
    with search.walks:
        final = linearise(method, kitchen, rounded, np.array([free.at for free in rounded]), search.targets, search.ignore, step=0.5)
    half_steps = np.array([0.5 * free.scale for free in rounded])
    return document, final.walk, np.abs(final.slopes()) @ half_steps


@dataclass(frozen=True)
class _Outcome:
    status: Status
    lin: Linear
    rounds: int
    infeasibility: Infeasibility | None = None


class _Search:
    """One solve under way: rounds of linearising and solving."""

    def __init__(
        self,
        method: Method,
        kitchen: Kitchen,
        variables: tuple[Variable, ...],
        targets: tuple[Target, ...],
        problem: Problem,
        first: Walk,
        walks: Stopwatch,
        solvers: Stopwatch,
    ) -> None:
        self.method, self.kitchen, self.variables, self.targets, self.problem = method, kitchen, variables, targets, problem
        self.walks, self.solvers = walks, solvers
        self.start_walk = first
        self.ignore = frozenset((fault.code, fault.field) for fault in first.faults)
        self.low, self.high = np.array([free.low for free in variables]), np.array([free.high for free in variables])
        self.scale = np.array([free.scale for free in variables])
        self.start = np.array([free.at for free in variables])
        #: What each target is a share of, to begin with; 1 for a target that is no share.
        self.den = np.array([1.0 if (den := reading_of(first, target.reading).den) is None else float(den[0]) for target in targets])
        #: What counts as a miss of each target: a hundredth of its last shown digit.
        self.care = np.array([EXACT * 10.0 ** -reading_of(first, target.reading).digits for target in targets])

    def run(self) -> _Outcome:
        """Until the targets hold and no cheaper answer is in sight, or nothing gets nearer."""
        origin = best = self._at(np.clip(self.start, self.low, self.high))
        radius = np.inf  # how far a step may go, in scales: where the walk bends, not far
        rounds = 0
        clash = False
        while rounds < MAX_ROUNDS:
            rounds += 1
            # The last rounds look for the nearest answer from here: the cheapest may lie at the other end each time.
            x, clash = self._step(best, radius * self.scale, settle=rounds > _SETTLES)
            if x is None:
                break
            length = float(np.max(np.abs(x - best.x) / self.scale))
            if length < _STILL:
                break
            before, new, cut = best, self._at(x), False
            # Early on a step may lose a little of what was gained, on its way to a cheaper place.
            slack = _EARLY * self._miss(origin) if rounds <= MAX_ROUNDS / 2 else 1.0
            if not new.sound or self._miss(new) > max(self._miss(before), slack, 1.0):
                shorter = self._backed_off(before, x)
                if shorter is None:
                    radius = length / 16
                    continue
                new, cut = shorter, True
            best = new
            gained = 1.0 - self._miss(best) / max(self._miss(before), 1e-12)
            length = float(np.max(np.abs(best.x - before.x) / self.scale))
            if cut:
                radius = 0.5 * length
            elif gained < 0.3 and not clash and rounds > MAX_ROUNDS / 2:
                radius = length
            elif gained > 0.7:
                radius *= 4
            if self._miss(best) <= 1.0 and self._straight(before, best):
                break
            if clash and np.isinf(radius) and gained < 1e-4:
                break
        if self._miss(best) <= 1.0:
            return _Outcome("solved", best, rounds)
        if not clash:
            return _Outcome("not_proven", best, rounds)
        found = self._clash(best).found() if self.problem.explain else None
        if found is None:
            return _Outcome("not_proven", best, rounds)
        infeasibility, rests_on = found
        proven = self._miss(best) > 10 * self._crooked(origin, rests_on)
        return _Outcome("infeasible" if proven else "not_proven", best, rounds, infeasibility)

    # steps ----------------------------------------------------------------

    def _at(self, x: Floats) -> Linear:
        with self.walks:
            return linearise(self.method, self.kitchen, self.variables, x, self.targets, self.ignore)

    def _step(self, lin: Linear, reach: Floats, *, settle: bool) -> tuple[Floats | None, bool]:
        """Where to go next, and whether the targets clash as far as can be seen from here."""
        direct = self._direct(lin)
        if direct is not None and float(abs(direct[0] - lin.x[0])) <= float(reach[0]):
            return direct, False
        x = self._program(lin, reach, settle=settle).solve()
        clash = x is None
        if x is None:
            x = self._program(lin, reach, nearest=True).solve(breach=True)
        return x, clash

    def _direct(self, lin: Linear) -> Floats | None:
        """One free and one value asked for: a division needs no solver."""
        if len(self.variables) != 1 or len(self.targets) != 1 or self.targets[0].low is None or self.targets[0].low != self.targets[0].high:
            return None
        value, slopes = lin.row(0, self.targets[0].low)
        if abs(slopes[0]) * self.scale[0] < self.care[0]:
            return None
        x = lin.x - value / slopes
        return x if self.low[0] <= x[0] <= self.high[0] else None

    def _program(self, lin: Linear, reach: Floats, *, nearest: bool = False, settle: bool = False) -> Program:
        """The program around a point.

        Its rows are num − bound·den, exact where the walk is linear. For coming ``nearest``
        they are the readings themselves to first order: by the exact rows a smaller batch
        would be nearer, since both sides shrink with it. Firm rows keep every den from
        shrinking away, which would meet any target with nothing.
        """
        slopes = lin.slopes()
        rows: list[Row] = []
        for t, target in enumerate(self.targets):
            for bound, sign in target.sides:
                value, slope = (lin.value[t] - bound, slopes[t]) if nearest else lin.row(t, bound)
                rows.append(Row(target.reading, sign * float(value), sign * slope, max(float(100 * self.care[t]), _NEAR * abs(bound))))
        for t in np.flatnonzero(np.any(lin.dden != 0, axis=1)).tolist():
            least = _LEAST_SHARE * self.den[t]
            rows.append(Row("den", float(lin.den[t] - least) / self.den[t], lin.dden[t] / self.den[t], 1.0, firm=True))
        weight = np.array([free.price for free in self.variables]) / self.scale
        low, high = np.maximum(self.low, lin.x - reach), np.minimum(self.high, lin.x + reach)
        if nearest:
            # The last hundredth of a wish is not worth a formula nobody would recognise.
            far = _FAR * self.scale
            low, high = np.minimum(np.maximum(low, self.start - far), lin.x), np.maximum(np.minimum(high, self.start + far), lin.x)
        return Program(lin.x, low, high, lin.x if settle else self.start, weight, rows, self._cost(lin), self.problem.change, self.solvers)

    def _cost(self, lin: Linear) -> Floats:
        """Price of one more unit of each free, with all that follows it, (n,)."""
        cost = np.zeros(len(self.variables))
        for line, price in self.problem.prices.items():
            apart = lin.apart.get(line)
            if apart is None:
                raise BadDocument("prices", f"“{line}” is not a line here.", "Name a line of the formula.")
            cost += price / 1000 * apart / lin.span
        return cost

    def _backed_off(self, best: Linear, x: Floats) -> Linear | None:
        """The longest shorter step that brings the targets nearer, from one walk of several; None if none does."""
        shares = np.array([0.5, 0.25, 0.1, 0.03])
        xs = best.x[None, :] + shares[:, None] * (x - best.x)[None, :]
        with self.walks:
            tried = walk(self.method, self.kitchen, given_at(self.variables, xs))
        misses = sum(
            (
                np.nan_to_num(target.missed_by(reading_of(tried, target.reading).value), nan=np.inf) / care
                for target, care in zip(self.targets, self.care, strict=True)
            ),
            np.zeros(len(shares)),
        )
        good = np.flatnonzero(~faulty(tried, self.ignore) & (misses < self._miss(best)))
        return self._at(xs[good[0]]) if good.size else None

    # how far off ------------------------------------------------------------

    def _miss(self, lin: Linear) -> float:
        """By how many times its care each target is missed, added up; 1 or less is none at all."""
        missed = [float(target.missed_by(lin.value[t : t + 1])[0]) / self.care[t] for t, target in enumerate(self.targets)]
        return float(np.nan_to_num(sum(missed), nan=np.inf))

    def _bend(self, before: Linear, now: Linear) -> float:
        """How far the rows are from what ``before`` foretold of them, in cares."""
        step = now.x - before.x
        worst = 0.0
        for t, target in enumerate(self.targets):
            for bound, _ in target.sides:
                value, slopes = before.row(t, bound)
                actual = now.row(t, bound)[0] * now.den[t] / before.den[t]
                worst = max(worst, abs(value + float(slopes @ step) - float(actual)) / self.care[t])
        return worst

    def _crooked(self, lin: Linear, clashing: Sequence[int]) -> float:
        """How far the rows of clashing targets and limits stray from straight lines, in cares; infinite where they are no balances.

        Looked at in a few points all around: a miss that this could explain proves nothing.
        """
        if any(reading_of(lin.walk, self.targets[t].reading).den is None for t in clashing):
            return np.inf
        swing = np.array([[0.3 if (k >> (j % 6)) & 1 else -0.3 for j in range(len(self.variables))] for k in (0, 21, 42, 63)])
        xs = np.clip(lin.x + swing * self.scale, self.low, self.high)
        with self.walks:
            around = walk(self.method, self.kitchen, given_at(self.variables, xs))
        sound = ~faulty(around, self.ignore)
        worst = 0.0
        for t in clashing:
            reading = reading_of(around, self.targets[t].reading)
            assert reading.num is not None and reading.den is not None
            for bound, _ in self.targets[t].sides:
                value, slopes = lin.row(t, bound)
                stray = (reading.num - bound * reading.den) / lin.den[t] - value - (xs - lin.x) @ slopes
                worst = max(worst, float(np.max(np.abs(stray[sound]), initial=0.0)) / self.care[t])
        return worst

    def _clash(self, lin: Linear) -> ConflictSearch:
        everywhere = np.full(len(self.variables), np.inf)

        def program_with(loose: Variable) -> Program:
            variables = (*self.variables, loose)
            with self.walks:
                wider = linearise(self.method, self.kitchen, variables, np.append(lin.x, loose.at), self.targets, self.ignore)
            other = _Search(self.method, self.kitchen, variables, self.targets, self.problem, wider.walk, self.walks, self.solvers)
            return other._program(wider, np.full(len(variables), np.inf))

        return ConflictSearch(
            self.method,
            self.problem,
            self.targets,
            self.variables,
            self.low,
            self.high,
            self.start_walk,
            lin,
            self._program(lin, everywhere),
            program_with,
        )

    def _straight(self, before: Linear, now: Linear) -> bool:
        """Whether another round would find the same: the rows did not bend, or nothing is left to choose."""
        return len(self.variables) == 1 or self._bend(before, now) < 1.0
