"""What collides where not all can be had: the fewest targets, the limits to blame, and the nearest formula, in words."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore.figures import Floats, shown
from jugcore.method.amounts import Written
from jugcore.method.method import Method
from jugcore.method.walk import Walk
from jugcore.solving.linearise import Linear, Target, Variable, reading_of
from jugcore.solving.problem import Infeasibility, Problem
from jugcore.solving.program import Program, bounds_that_matter, smallest_clash


@dataclass(frozen=True)
class ConflictSearch:
    """A search that found no answer: where it stands, and the program around that with nothing to hold its steps."""

    method: Method
    problem: Problem
    #: What was asked for, then what limits it.
    targets: tuple[Target, ...]
    variables: tuple[Variable, ...]
    low: Floats
    high: Floats
    first: Walk
    lin: Linear
    program: Program
    #: The same program with one figure more that may change.
    program_with: Callable[[Variable], Program]

    def found(self) -> tuple[Infeasibility, list[int]] | None:
        """The fewest targets that clash, with the bounds and locks without which they would not, and which targets and limits that rests on."""
        lin, program = self.lin, self.program
        groups: list[list[int]] = []
        for target in self.targets:
            first = sum(len(group) for group in groups)
            groups.append(list(range(first, first + len(target.sides))))
        if program.feasible(range(len(program.rows))):
            return None
        asked = len(self.problem.targets)
        # Locks and bounds of tied lines stand behind what was asked for: they are limits, not wishes.
        firm = list(range(sum(len(group) for group in groups), len(program.rows)))
        limiting = [t for t in range(asked, len(self.targets)) if not self.targets[t].reading.startswith("off:")]
        fixed = [row for t in limiting for row in groups[t]] + firm
        if program.feasible([row for group in groups[:asked] for row in group] + fixed):
            # Only with boils that must boil is there no answer.
            limiting = list(range(asked, len(self.targets)))
            fixed = [row for t in limiting for row in groups[t]] + firm
        clash = smallest_clash(program, groups[:asked], fixed)
        rows = [row for g in clash for row in groups[g]] + fixed
        lows, highs = bounds_that_matter(program, rows)
        limits = [self._limit(j, "low") for j in lows] + [self._limit(j, "high") for j in highs]
        for t in limiting:
            without = [row for row in rows if row not in groups[t]]
            if program.feasible(without):
                target = self.targets[t]
                limits.append(self._kept(target))
        limits += [f"{self.method.short_titles[line]} is locked" for line in self._locks_that_matter(rows)]
        targets = tuple(self.targets[g] for g in clash)
        wishes = " and ".join(f"{_titled(lin, target)} {_window(target, _unit(lin, target))}" for target in targets)
        if not any(np.any(lin.slopes()[g]) for g in clash):
            follow = [f"{self.method.short_titles[id]} stays {self.method.amount_texts[id]}" for id in self._tied()]
            limits = ["nothing that may change moves it", *follow]
        only = " together" if len(targets) > 1 else ""
        because = f": {'; '.join(limits)}" if limits else ""
        nearest = ", ".join(
            f"{_titled(lin, target)} {shown(round(float(lin.value[t]), reading_of(lin.walk, target.reading).digits))}{_spaced(_unit(lin, target))}"
            for t, target in enumerate(self.targets[:asked])
        )
        words = f"{wishes} cannot be reached{only} by what may change{because}. The nearest is {nearest}."
        return Infeasibility(targets, tuple(limits), words), [*clash, *limiting]

    def _kept(self, target: Target) -> str:
        """A lock or bound of a line that follows others, or that a boil must boil, in words."""
        kind, _, id = target.reading.partition(":")
        if kind == "off":
            stage = next(stage for stage in self.method.stages if stage.id == id)
            return f"{(stage.name or stage.title).lower()} must take water off"
        return f"{self.method.short_titles[id]} must stay {_window(target, 'g')}"

    def _locks_that_matter(self, rows: Sequence[int]) -> list[str]:
        """Locked lines with grams of their own, each of which, let go, would let the targets hold."""
        found = []
        for line in self.problem.locks:
            if not isinstance(self.method.amounts.get(line), Written):
                continue
            grams = float(self.lin.walk.end.lines[line][0])
            loose = Variable.figure(f"lines.{line}.grams", grams, low=0.0, high=np.inf, scale=max(grams, 1.0))
            if self.program_with(loose).feasible(rows):
                found.append(line)
        return found

    def _tied(self) -> list[str]:
        """The first few lines of the starting mixture that follow others, largest first."""
        grams = self.first.end.lines
        tied = [id for id in self.method.started if id in self.method.lines and not isinstance(self.method.amounts[id], Written)]
        return sorted(tied, key=lambda id: -float(grams[id][0]))[:3]

    def _limit(self, j: int, side: str) -> str:
        """A bound of a free, in words."""
        free = self.variables[j]
        kind, id = free.id.split(".")[:2]
        x = float((self.low if side == "low" else self.high)[j])
        figure = float(free.given(np.array([x]))[free.moves[0][0]][0])
        if kind == "stages":
            stage = next(stage for stage in self.method.stages if stage.id == id)
            least = (side == "low") != free.inverse
            unit = "°Bx" if free.inverse else free.unit
            return f"{(stage.name or stage.title).lower()} ends at {'least' if least else 'most'} at {shown(round(figure, 2))} {unit}"
        name = self.method.short_titles[id]
        if side == "low" and self.problem.bounds.get(id, (None, None))[0] is None:
            return f"{name} cannot go below nothing"
        return f"{name} must stay {'at or above' if side == 'low' else 'at or below'} {shown(figure)} g"


def _titled(lin: Linear, target: Target) -> str:
    return reading_of(lin.walk, target.reading).title


def _unit(lin: Linear, target: Target) -> str:
    return reading_of(lin.walk, target.reading).unit


def _spaced(unit: str) -> str:
    return f" {unit}" if unit else ""


def _window(target: Target, unit: str) -> str:
    """“64 °Bx”, “at least 2 l”, “between 60 and 64 °Bx”."""
    if target.low is not None and target.low == target.high:
        return f"{shown(target.low)}{_spaced(unit)}"
    if target.low is not None and target.high is not None:
        return f"between {shown(target.low)} and {shown(target.high)}{_spaced(unit)}"
    if target.low is not None:
        return f"at least {shown(target.low)}{_spaced(unit)}"
    return f"at most {shown(target.high or 0.0)}{_spaced(unit)}"
