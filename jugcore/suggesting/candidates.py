"""Edits that may lead to a value, each with the figures in it that may move. No family has code here."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from jugcore import components as c
from jugcore.editing.edits import insert_stage, new_id, set_amount, untied, without_stage, written
from jugcore.errors import DomainError
from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.phrases import grams_text
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Add, Boil, BoilEnd, Cool, Fill, LineDoc, Strain
from jugcore.method.walk import walk
from jugcore.solving.linearise import Target, linearise
from jugcore.solving.problem import Problem, Solution
from jugcore.solving.solve import solve
from jugcore.solving.variables import default_variables
from jugcore.suggesting.baseline import Baseline
from jugcore.suggesting.wording import Wording

#: Nobody wants a way that multiplies or shrinks an ingredient by more than this.
FARTHEST = 8.0
#: What is added late, where the formula has nothing of the kind itself.
_WATER = "water"
_STIR_IN = "Stir in"
#: Of lines that look promising, so many are solved.
_MOST_TRIED = 3


@dataclass(frozen=True)
class Candidate:
    """An edited document and the figures in it that may move."""

    kind: str
    document: MethodDocument
    #: Nothing: whatever can.
    free: tuple[str, ...] | None
    title: Callable[[Solution], str]
    broken: tuple[str, ...] = ()
    #: More than the one reading may be asked for.
    also: tuple[Target, ...] = ()


class Candidates:
    """Every edit worth trying."""

    def __init__(self, baseline: Baseline, wording: Wording) -> None:
        self.method, self.kitchen, self.first, self.reading, self.held = (
            baseline.method,
            baseline.kitchen,
            baseline.first,
            baseline.reading,
            baseline.held,
        )
        self.baseline, self.done, self.within = baseline, baseline.done, baseline.within
        self.value, self.target, self.holding, self.wording = baseline.value, baseline.target, baseline.holding, wording
        self.titles = baseline.method.short_titles

    def all(self) -> Iterator[Candidate]:
        yield from self._all_held()
        yield from self._ends_of_boils()
        yield from self._lines()
        yield from self._late_additions()
        yield from self._yield_kept()
        yield from self._new_boil()
        yield from self._without_boil()

    def _all_held(self) -> Iterator[Candidate]:
        """Whatever can, so that what is held stays: with the ties as they are, and without them."""
        if not self.held:
            return
        yield Candidate("hold", self.method.document, self.baseline.may_move(self.method), self.wording.held_title)
        loose, tied = self.untied()
        if not tied:
            return
        try:
            free = self.baseline.may_move(apart := compile_document(loose))
            solution = solve(apart, Problem((self.target, *self.holding), free=free, explain=False), kitchen=self.kitchen)
        except DomainError:
            return  # what cannot even be asked is no way
        # Only what had to move is untied; the rest follows as it did.
        moved = {change.path.split(".")[1] for change in solution.changes}
        broken = tuple(id for id in tied if id in moved) or self._would_follow(solution, tied)
        if broken:
            document = untied(self.method, self.first, broken)
            free = self.baseline.may_move(compile_document(document))
            yield Candidate("hold", document, free, self.wording.held_title, broken=tuple(self.wording.tie(id) for id in broken))

    def _would_follow(self, solution: Solution, tied: Sequence[str]) -> tuple[str, ...]:
        """Lines that stand still in a solution and would not if they were tied as before."""
        document = solution.document
        for id in tied:
            document = set_amount(document, id, self.method.amounts[id])
        again = walk(compile_document(document), self.kitchen)
        grams = {id: (float(again.end.lines[id][0]), float(solution.walk.end.lines[id][0])) for id in tied}
        return tuple(id for id, (a, b) in grams.items() if abs(a - b) >= 0.5 * resolution_g(self.kitchen, max(a, b)))

    def _ends_of_boils(self) -> Iterator[Candidate]:
        for stage in reversed(self.method.stages):
            if isinstance(stage, Boil) and stage.id not in self.done:
                path = stage.path(stage.until.kind)
                yield Candidate("end_boil", self.method.document, (path,), partial(self.wording.end_title, stage=stage))

    def untied(self) -> tuple[MethodDocument, tuple[str, ...]]:
        """The document with every line in grams of its own, and the lines that were tied."""
        tied = tuple(
            id for id, amount in self.method.amounts.items() if id in self.method.lines and id not in self.within and not isinstance(amount, Written)
        )
        return untied(self.method, self.first, tied), tied

    def _lines(self) -> Iterator[Candidate]:
        """One line more or less: those with grams of their own with all that follows them, then those that follow."""
        document = self.method.document
        for path in self._promising(self.method, [id for id, a in self.method.amounts.items() if isinstance(a, Written) and id not in self.within]):
            id = path.split(".")[1]
            yield Candidate("change", document, (path,), partial(self.wording.line_title, id=id))
        loose, tied = self.untied()
        for path in self._promising(compile_document(loose), tied):
            id = path.split(".")[1]
            yield Candidate(
                "untie", untied(self.method, self.first, (id,)), (path,),
                partial(self.wording.untie_title, id=id), broken=(self.wording.tie(id),),
            )  # fmt: skip

    def _promising(self, method: Method, lines: Sequence[str]) -> list[str]:
        """Paths of those lines that, as far as a straight line shows, get there by a change one would make; best first."""
        problem = Problem((self.target,), free=None)
        walked = self.first if method is self.method else walk(method, self.kitchen)
        variables = [free for free in default_variables(method, self.kitchen, walked, problem) if free.id in {f"lines.{id}.grams" for id in lines}]
        if not variables:
            return []
        ignore = frozenset((fault.code, fault.field) for fault in walked.faults)
        around = linearise(method, self.kitchen, variables, np.array([free.at for free in variables]), (self.target,), ignore)
        value, slopes = around.row(0, self.value)
        reachable = []
        for free, slope in zip(variables, slopes, strict=True):
            moves = -value / slope if slope else np.inf
            # Readings bend: leave room, and let the solve say.
            if abs(moves) <= 2 * FARTHEST * free.scale and free.at + moves > -0.5 * free.scale:
                reachable.append((abs(moves) / free.scale, free.id))
        return [path for _, path in sorted(reachable)[:_MOST_TRIED]]

    def _late_place(self) -> int:
        """Where something may still be stirred in or boiled off: behind the last boil, else before the product is cooled, strained or filled.

        Never before what is done already.
        """
        return max(self._usual_place(), self.baseline.place)

    def _usual_place(self) -> int:
        stages = self.method.stages
        trunk = [i for i, stage in enumerate(stages) if stage.id in self.method.trunk]
        boils = [i for i in trunk if stages[i].boils]
        if boils:
            return boils[-1] + 1
        added = [i for i in trunk if stages[i].weighed_ids]
        after = [i for i in trunk if isinstance(stages[i], Cool | Fill | Strain) and i > (added[-1] if added else 0)]
        return after[0] if after else len(stages)

    def _vessel_at(self, index: int) -> str | None:
        """The vessel the product stands in before a stage."""
        for stage in reversed(self.method.stages[:index]):
            if stage.id in self.method.trunk:
                return stage.writes()
        return None

    def _late_additions(self) -> Iterator[Candidate]:
        """Water, or more of what is in it already, behind the last boil."""
        place = self._late_place()
        vessel = self._vessel_at(place)
        if vessel is None:
            return
        document = self.method.document
        stage_id, grams = new_id(document, "stir-in"), max(1.0, float(self.first.product.total_g[0]) / 100)
        lines = {new_id(document, f"late-{substance}"): substance for substance in self._addable()}

        def with_lines(ids: Sequence[str]) -> MethodDocument:
            has = {line.substance for line in self.method.lines.values()}
            docs = tuple(
                LineDoc(
                    id=id, substance=lines[id], name=f"More {self.wording.substance(lines[id])}" if lines[id] in has else None, amount=written(grams)
                )
                for id in ids
            )
            return insert_stage(document, Add(id=stage_id, vessel=vessel or "", name=_STIR_IN, lines=docs), place)

        where = f"after {self.method.stages[place - 1].called}"
        for path in self._promising(compile_document(with_lines(list(lines))), list(lines)):
            line = path.split(".")[1]
            yield Candidate(
                "add", with_lines([line]), (path,),
                partial(self.wording.stir_title, line=line, substance=lines[line], where=where),
            )  # fmt: skip

    def _addable(self) -> list[str]:
        """Water, and each bulk ingredient of the formula; spices where it is the spice that is too little."""
        bulk = [line.substance for line in self.method.lines.values() if not self.method.substances[line.substance].is_seasoning]
        if self.reading.id.startswith("spice"):
            bulk = [line.substance for line in self.method.lines.values()]
        known = list(dict.fromkeys([*bulk, _WATER]))
        return known[:8]

    def _yield_kept(self) -> Iterator[Candidate]:
        """Everything in bulk free, the yield held: a swap of one ingredient for another, or with the boil."""
        if self.reading.id.startswith("yield"):
            return
        grams = float(self.first.product.total_g[0])
        _, tied = self.untied()
        broken = tuple(id for id in tied if id in self.method.started)
        document = untied(self.method, self.first, broken)
        method = compile_document(document)
        started = [id for id in method.started if id not in self.within]
        free = tuple(f"lines.{id}.grams" for id in started if isinstance(method.amounts.get(id), Written) and id in method.lines)
        if len(free) < 2:
            return
        keep = Target("yield_g", grams, grams)
        yield Candidate("keep_yield", document, free, self.wording.swap_title, broken=tuple(self.wording.tie(id) for id in broken), also=(keep,))

    def _new_boil(self) -> Iterator[Candidate]:
        """Water boiled off where nothing was."""
        if any(stage.boils and stage.id in self.method.trunk and stage.id not in self.done for stage in self.method.stages):
            return
        place = self._late_place()
        vessel = self._vessel_at(place)
        if vessel is None:
            return
        document = self.method.document
        off = max(1.0, float(self.first.product.total_g[0]) / 50)
        stage = Boil(id=new_id(document, "boil"), vessel=vessel, until=BoilEnd(off_g=off), vigour="simmer")
        behind = self.method.stages[place - 1]
        yield Candidate(
            "boil", insert_stage(document, stage, place), (stage.path("off_g"),),
            lambda s: f"Boil off {grams_text(self.kitchen, float(s.walk.step(stage.id).figures['off_g'][0]))} of water after {behind.called}",
        )  # fmt: skip

    def _without_boil(self) -> Iterator[Candidate]:
        """No boil at all, and less water to begin with."""
        boils = [stage for stage in self.method.stages if stage.boils]
        if len(boils) != 1 or boils[0].id in self.done or self.within:
            return
        document = without_stage(self.method.document, boils[0].id)
        document, broken = self._wateriest_free(document)
        if broken is None:
            return
        line, ties = broken
        yield Candidate(
            "no_boil", document, (f"lines.{line}.grams",),
            lambda s: f"Leave out {boils[0].called}: {grams_text(self.kitchen, float(s.walk.end.lines[line][0]))} of {self.titles[line]} instead of "
            f"{grams_text(self.kitchen, float(self.first.end.lines[line][0]))}",
            broken=ties,
        )  # fmt: skip

    def _wateriest_free(self, document: MethodDocument) -> tuple[MethodDocument, tuple[str, tuple[str, ...]] | None]:
        """The line with most water in grams of its own, what was tied to it too, so that it may shrink alone."""
        water = {
            id: float(self.first.end.lines[id][0]) * float(self.method.substances[line.substance].mass_fraction[c.WATER])
            for id, line in self.method.lines.items()
            if id in self.first.end.lines and id in self.method.started
        }
        plain = [id for id in water if self.method.lines[id].substance == _WATER]
        if not water or max(water.values()) <= 0:
            return document, None
        line = plain[0] if plain else max(water, key=lambda id: water[id])
        loose = [
            id
            for id, amount in self.method.amounts.items()
            if id in self.method.started and id in self.method.lines and not isinstance(amount, Written)
        ]
        for id in loose:
            document = set_amount(document, id, written(float(self.first.end.lines[id][0])))
        return document, (line, tuple(self.wording.tie(id) for id in loose))
