"""Ways to get there: a reading typed over, and what could be done about it, in grams.

A way is a structural edit of the document (end the boil elsewhere, untie a line, add
something late, boil, drop the boil, make more) and a solve for the figure that edit
frees. No family has code here. A way that does not meet what was typed when its document
is walked again is not offered.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from jugcore.errors import BadDocument, DomainError, OutOfRange, shown
from jugcore.formula.consequences import consequences
from jugcore.formula.edits import insert_stage, new_id, resolution_g, set_amount, settled, untied, without_stage, written
from jugcore.formula.frees import default_frees
from jugcore.formula.linearise import Target, linearise, reading_of
from jugcore.formula.reading import READING_OF, Reading, readings
from jugcore.formula.scale import scale_to
from jugcore.formula.solve import solve
from jugcore.formula.summary import spelt_span
from jugcore.formula.wanted import Solution, Wanted
from jugcore.formula.way import Move, Way, Ways
from jugcore.matter import components as c
from jugcore.method.amounts import PerKg, Written
from jugcore.method.document import Method, MethodDocument, compile_document
from jugcore.method.kitchen import Kitchen
from jugcore.method.stages import Add, Adding, Boil, BoilEnd, Cool, Fill, Join, LineDoc, StageBase, Strain
from jugcore.method.walk import Walk, walk

#: No more are shown: a cook chooses, not studies.
MOST = 5
#: Of one kind of edit at most this many.
_MOST_ALIKE = 2
#: Nobody wants a way that multiplies or shrinks an ingredient by more than this.
_FARTHEST = 8.0
#: What is added late, where the formula has nothing of the kind itself.
_WATER = "water"
_STIR_IN = "Stir in"
#: Of lines that look promising, so many are solved.
_MOST_TRIED = 3
#: Which kinds of way come first where all are equally small changes.
_ORDER = ("make_more", "season", "end_boil", "change", "add", "untie", "keep_yield", "boil", "no_boil")
#: Amounts a cook likes to weigh, largest step first. [g]
_PLAIN_STEPS = (10.0, 5.0, 1.0, 0.1)
#: A plainer amount may cost this share of the reading's last shown digit.
_PLAIN_COST = 0.25
#: Common practice, no source.
_MILK_BOILED = "Milk, cream and plant drinks catch on the pot, taste cooked and may split when boiled: better boil the syrup before they go in."
#: Ways whose every amount agrees this closely are one.
_SAME = 0.01


def ways(method: Method, reading: str, value: float, kitchen: Kitchen | None = None) -> Ways:
    """Ways to make a reading come to a value.

    Parameters
    ----------
    method : Method
        A checked document.
    reading : str
        The id of a reading of :data:`jugcore.formula.reading.READING_OF`.
    value : float
        What was typed, in the reading's unit.

    Returns
    -------
    Ways
        At most five, the smallest and plainest changes first; each, walked again, meets
        the value within half the reading's last shown digit or what rounding to the
        kitchen's scales explains. Where there is none, ``why_not`` says why.

    Raises
    ------
    BadDocument
        No such reading, or it has no value here.
    OutOfRange
        The value is not finite.
    """
    return _Finder(method, reading, value, kitchen or method.document.kitchen or Kitchen()).find()


def _round_off(reading: Reading) -> float:
    return float(0.5 * 10.0**-reading.digits)


@dataclass(frozen=True)
class _Try:
    """An edited document and the figures in it that may move."""

    kind: str
    document: MethodDocument
    free: tuple[str, ...]
    title: Callable[[Solution], str]
    broken: tuple[str, ...] = ()
    #: More than the one reading may be asked for.
    also: tuple[Target, ...] = ()


class _Finder:
    """Looks for ways from one walked method."""

    def __init__(self, method: Method, reading: str, value: float, kitchen: Kitchen) -> None:
        if reading not in READING_OF:
            raise BadDocument("reading", f"“{reading}” is no reading.", f"Use one of: {', '.join(READING_OF)}.")
        if not np.isfinite(value):
            raise OutOfRange("value", "That is no number.", "Type a number.")
        # With its references settled: a name that fits one line may fit two once another is added.
        self.method, self.kitchen = compile_document(settled(method)), kitchen
        self.first = walk(self.method, kitchen)
        self.reading = reading_of(self.first, reading)
        self.before = float(self.reading.value[0])
        if not np.isfinite(self.before):
            raise BadDocument("reading", self.reading.why_not or "This reading has no value here.", "Put the formula right first.")
        self.wanted = Target(reading, value, value)
        self.value = value
        self.why_not: list[str] = []
        self.titles = self.method.short_titles

    def find(self) -> Ways:
        digits = self.reading.digits
        # What shows as typed is there already, unless more digits were typed than are shown.
        if abs(self.before - self.value) < 1e-9 * max(1.0, abs(self.value)) or self.value == round(self.value, digits) == round(self.before, digits):
            self.why_not.append(f"{self.reading.title} is {shown(self.value)} already.")
            return self._together([])
        found: list[Way] = []
        for attempt in self._tries():
            way = self._solved(attempt)
            if way is not None:
                found.append(way)
        found += [way for way in (self._made_more(), self._seasoned()) if way is not None]
        return self._together(found)

    def _together(self, found: list[Way]) -> Ways:
        """The best of each kind, no two doing the same, at most five."""
        place = {kind: n for n, kind in enumerate(_ORDER)}
        found.sort(key=lambda way: (round(way.change + self._sideways(way), 2) + 0.15 * place[way.kind], place[way.kind]))
        chosen: list[Way] = []
        for way in found:
            alike = [other for other in chosen if other.kind == way.kind]
            if len(alike) < _MOST_ALIKE and not any(_same(other.walk, way.walk) for other in chosen) and len(chosen) < MOST:
                chosen.append(replace(way, id=f"{way.kind}-{len(alike) + 1}"))
        why_not = [] if chosen else [*dict.fromkeys(self.why_not)] or self._why_none()
        return Ways(
            self.reading.id, self.reading.title, self.reading.unit, self.reading.digits, self.before, self.value, tuple(chosen), tuple(why_not)
        )

    def _sideways(self, way: Way) -> float:
        """How far a way to a yield or a spice load moves the syrup itself, as so much change."""
        if not self.reading.id.startswith(("yield", "spice")):
            return 0.0
        return 0.2 * sum(abs(move.after - move.before) for move in way.moves if move.reading == "brix" and np.isfinite(move.after - move.before))

    def _why_none(self) -> list[str]:
        """Why nothing works, from a solve with everything free."""
        try:
            loose, _ = self._untied()
            solution = solve(compile_document(loose), Wanted((self.wanted,)), kitchen=self.kitchen)
        except DomainError as error:
            return [str(error)]
        if solution.collision is not None:
            return [solution.collision.words]
        return ["No single change that can be worked out here gets there. Change the method, or ask for less."]

    # edits ------------------------------------------------------------------

    def _tries(self) -> Iterator[_Try]:
        yield from self._ends_of_boils()
        yield from self._lines()
        yield from self._late_additions()
        yield from self._yield_kept()
        yield from self._new_boil()
        yield from self._without_boil()

    def _ends_of_boils(self) -> Iterator[_Try]:
        for stage in reversed(self.method.stages):
            if isinstance(stage, Boil):
                path = stage.path(stage.until.kind)
                yield _Try("end_boil", self.method.document, (path,), partial(self._end_title, stage=stage))

    def _end_title(self, solution: Solution, stage: Boil) -> str:
        after = next(s for s in solution.document.stages if s.id == stage.id)
        assert isinstance(after, Boil)
        unit = {"brix": "°Bx", "mass_g": "g", "off_g": "g off", "temperature_c": "°C", "minutes": "min"}[stage.until.kind]
        verb = "after" if stage.until.kind == "minutes" else "at"
        return f"End {_called(stage)} {verb} {shown(after.until.value)} {unit} instead of {shown(stage.until.value)}"

    def _untied(self) -> tuple[MethodDocument, tuple[str, ...]]:
        """The document with every line in grams of its own, and the lines that were tied."""
        tied = tuple(id for id, amount in self.method.amounts.items() if id in self.method.lines and not isinstance(amount, Written))
        return untied(self.method, self.first, tied), tied

    def _lines(self) -> Iterator[_Try]:
        """One line more or less: those with grams of their own with all that follows them, then those that follow."""
        document = self.method.document
        for path in self._promising(self.method, [id for id, a in self.method.amounts.items() if isinstance(a, Written)]):
            id = path.split(".")[1]
            yield _Try("change", document, (path,), partial(self._line_title, id=id))
        loose, tied = self._untied()
        for path in self._promising(compile_document(loose), tied):
            id = path.split(".")[1]
            yield _Try(
                "untie", untied(self.method, self.first, (id,)), (path,),
                partial(self._untie_title, id=id), broken=(self._tie(id),),
            )  # fmt: skip

    def _promising(self, method: Method, lines: Sequence[str]) -> list[str]:
        """Paths of those lines that, as far as a straight line shows, get there by a change one would make; best first."""
        wanted = Wanted((self.wanted,), free=None)
        begun = walk(method, self.kitchen)
        frees = [free for free in default_frees(method, self.kitchen, begun, wanted) if free.id in {f"lines.{id}.grams" for id in lines}]
        if not frees:
            return []
        ignore = frozenset((fault.code, fault.field) for fault in begun.faults)
        around = linearise(method, self.kitchen, frees, np.array([free.at for free in frees]), (self.wanted,), ignore)
        value, slopes = around.row(0, self.value)
        reachable = []
        for free, slope in zip(frees, slopes, strict=True):
            moves = -value / slope if slope else np.inf
            # Readings bend: leave room, and let the solve say.
            if abs(moves) <= 2 * _FARTHEST * free.scale and free.at + moves > -0.5 * free.scale:
                reachable.append((abs(moves) / free.scale, free.id))
        return [path for _, path in sorted(reachable)[:_MOST_TRIED]]

    def _line_title(self, solution: Solution, id: str) -> str:
        before, after = (float(w.end.lines[id][0]) for w in (self.first, solution.walk))
        return f"{'More' if after > before else 'Less'} {self.titles[id]}: {_grams(self.kitchen, after)} instead of {_grams(self.kitchen, before)}"

    def _untie_title(self, solution: Solution, id: str) -> str:
        return f"{self._line_title(solution, id)}, no longer {self.method.amount_texts[id]}"

    def _stir_title(self, solution: Solution, line: str, substance: str, where: str) -> str:
        return f"Stir in {_grams(self.kitchen, float(solution.walk.end.lines[line][0]))} of {self._substance(substance)} {where}"

    def _tie(self, id: str) -> str:
        return f"{self.titles[id]} {self.method.amount_texts[id]}"

    def _late_place(self) -> int:
        """Where something may still be stirred in or boiled off: behind the last boil, else before the product is cooled, strained or filled."""
        stages = self.method.stages
        trunk = [i for i, stage in enumerate(stages) if stage.id in self.method.trunk]
        boils = [i for i in trunk if isinstance(stages[i], Boil)]
        if boils:
            return boils[-1] + 1
        added = [i for i in trunk if isinstance(stages[i], Adding | Join)]
        after = [i for i in trunk if isinstance(stages[i], Cool | Fill | Strain) and i > (added[-1] if added else 0)]
        return after[0] if after else len(stages)

    def _vessel_at(self, index: int) -> str | None:
        """The vessel the product stands in before a stage."""
        for stage in reversed(self.method.stages[:index]):
            if stage.id in self.method.trunk:
                return stage.writes()
        return None

    def _late_additions(self) -> Iterator[_Try]:
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
                LineDoc(id=id, substance=lines[id], name=f"More {self._substance(lines[id])}" if lines[id] in has else None, amount=written(grams))
                for id in ids
            )
            return insert_stage(document, Add(id=stage_id, vessel=vessel or "", name=_STIR_IN, lines=docs), place)

        where = f"after {_called(self.method.stages[place - 1])}"
        for path in self._promising(compile_document(with_lines(list(lines))), list(lines)):
            line = path.split(".")[1]
            yield _Try(
                "add", with_lines([line]), (path,),
                partial(self._stir_title, line=line, substance=lines[line], where=where),
            )  # fmt: skip

    def _addable(self) -> list[str]:
        """Water, and each bulk ingredient of the formula; spices where it is the spice that is too little."""
        bulk = [line.substance for line in self.method.lines.values() if not self.method.substances[line.substance].is_seasoning]
        if self.reading.id.startswith("spice"):
            bulk = [line.substance for line in self.method.lines.values()]
        known = list(dict.fromkeys([*bulk, _WATER]))
        return known[:8]

    def _substance(self, id: str) -> str:
        substance = self.method.substances.get(id)
        return substance.title.split(",")[0].lower() if substance else "water"

    def _yield_kept(self) -> Iterator[_Try]:
        """Everything in bulk free, the yield held: a swap of one ingredient for another, or with the boil."""
        if self.reading.id.startswith("yield"):
            return
        grams = float(self.first.product.total_g[0])
        _, tied = self._untied()
        broken = tuple(id for id in tied if id in self.method.started)
        document = untied(self.method, self.first, broken)
        method = compile_document(document)
        free = tuple(f"lines.{id}.grams" for id in method.started if isinstance(method.amounts.get(id), Written) and id in method.lines)
        if len(free) < 2:
            return
        keep = Target("yield_g", grams, grams)
        yield _Try("keep_yield", document, free, self._swap_title, broken=tuple(self._tie(id) for id in broken), also=(keep,))

    def _swap_title(self, solution: Solution) -> str:
        moved = []
        for change in solution.changes:
            id = change.path.split(".")[1]
            more = float(solution.walk.end.lines[id][0]) - float(self.first.end.lines[id][0])
            moved.append(f"{_grams(self.kitchen, abs(more))} {'more' if more > 0 else 'less'} {self.titles[id]}")
        return f"Keep the yield: {' and '.join(moved)}"

    def _new_boil(self) -> Iterator[_Try]:
        """Water boiled off where nothing was."""
        if any(isinstance(stage, Boil) and stage.id in self.method.trunk for stage in self.method.stages):
            return
        place = self._late_place()
        vessel = self._vessel_at(place)
        if vessel is None:
            return
        document = self.method.document
        off = max(1.0, float(self.first.product.total_g[0]) / 50)
        stage = Boil(id=new_id(document, "boil"), vessel=vessel, until=BoilEnd(off_g=off), vigour="simmer")
        behind = self.method.stages[place - 1]
        yield _Try(
            "boil", insert_stage(document, stage, place), (stage.path("off_g"),),
            lambda s: f"Boil off {_grams(self.kitchen, float(s.walk.step(stage.id).figures['off_g'][0]))} of water after {_called(behind)}",
        )  # fmt: skip

    def _without_boil(self) -> Iterator[_Try]:
        """No boil at all, and less water to begin with."""
        boils = [stage for stage in self.method.stages if isinstance(stage, Boil)]
        if len(boils) != 1:
            return
        document = without_stage(self.method.document, boils[0].id)
        document, broken = self._wateriest_free(document)
        if broken is None:
            return
        line, ties = broken
        yield _Try(
            "no_boil", document, (f"lines.{line}.grams",),
            lambda s: f"Leave out {_called(boils[0])}: {_grams(self.kitchen, float(s.walk.end.lines[line][0]))} of {self.titles[line]} instead of "
            f"{_grams(self.kitchen, float(self.first.end.lines[line][0]))}",
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
        return document, (line, tuple(self._tie(id) for id in loose))

    # making one -----------------------------------------------------------------

    def _solved(self, attempt: _Try) -> Way | None:
        """The way an edit leads to, if it gets there."""
        try:
            method = compile_document(attempt.document)
            solution = solve(method, Wanted((self.wanted, *attempt.also), free=attempt.free, explain=False), kitchen=self.kitchen)
        except DomainError:
            return None  # an edit this method does not allow is no way
        if solution.status != "solved" or not solution.changes:
            return None
        solution = self._plainer(solution, attempt)
        notes = (_MILK_BOILED,) if attempt.kind == "boil" and self._has_milk() else ()
        return self._way(attempt.kind, attempt.title(solution), solution.document, solution.walk, attempt.broken, solution.targets[0].rounding, notes)

    def _has_milk(self) -> bool:
        return any(self.method.substances[line.substance].kind in ("dairy", "plant") for line in self.method.lines.values())

    def _plainer(self, solution: Solution, attempt: _Try) -> Solution:
        """One line that moved, to the plainest amount that still shows what was typed."""
        if len(attempt.free) != 1 or not attempt.free[0].startswith("lines."):
            return solution
        id = attempt.free[0].split(".")[1]
        exact = solution.changes[0].after
        step = resolution_g(self.kitchen, exact)
        per_gram = solution.targets[0].rounding / (0.5 * step)
        for plain in _PLAIN_STEPS:
            if plain <= step:
                break
            grams = round(exact / plain) * plain
            if grams <= 0 or per_gram * 0.5 * plain > _PLAIN_COST * 2 * _round_off(self.reading):
                continue
            document = set_amount(solution.document, id, written(grams))
            return replace(solution, document=document, walk=walk(compile_document(document), self.kitchen))
        return solution

    def _made_more(self) -> Way | None:
        """For a yield: the whole batch larger or smaller."""
        if not self.reading.id.startswith("yield"):
            return None
        try:
            scaling = scale_to(self.method, lambda w: float(reading_of(w, self.reading.id).value[0]), self.value, self.kitchen)
        except DomainError as error:
            self.why_not.append(str(error))
            return None
        word = "larger" if scaling.factor > 1 else "smaller"
        title = f"Make the whole batch {word}: {shown(round(scaling.factor, 3))} times everything"
        return self._way("make_more", title, scaling.document, scaling.walk, (), 0.0, scaling.notes)

    def _seasoned(self) -> Way | None:
        """For a spice load: every spice in proportion."""
        if not self.reading.id.startswith("spice") or not self.value > 0:
            return None
        factor = self.value / self.before
        document = self.method.document
        for id, line in self.method.lines.items():
            if not self.method.substances[line.substance].is_seasoning:
                continue
            match self.method.amounts[id]:
                case Written():
                    document = set_amount(document, id, written(factor * float(self.first.end.lines[id][0])))
                case PerKg() as rate:
                    document = set_amount(document, id, rate.model_copy(update={"grams": float(f"{rate.grams * factor:.6g}")}))
                case _:
                    pass  # it follows another spice
        try:
            after = walk(compile_document(document), self.kitchen)
        except DomainError as error:
            self.why_not.append(str(error))
            return None
        word = "More" if factor > 1 else "Less"
        return self._way("season", f"{word} of every spice, in proportion: {shown(round(factor, 3))} times", document, after, (), 0.0)

    def _way(
        self, kind: str, title: str, document: MethodDocument, after: Walk, broken: tuple[str, ...], rounding: float, notes: tuple[str, ...] = ()
    ) -> Way | None:
        value = float(reading_of(after, self.reading.id).value[0])
        tolerance = max(_round_off(self.reading), 1.1 * rounding)
        if not abs(value - self.value) <= tolerance * (1 + 1e-9):
            return None
        change = self._how_much(after)
        if change > _FARTHEST:
            return None
        kept = tuple(
            self._tie(id) if id in self.titles else f"{after.method.short_titles[id]} {after.method.amount_texts[id]}"
            for id, amount in after.method.amounts.items()
            if id in after.method.lines and not isinstance(amount, Written)
        )
        warned = {(x.id, x.tone) for x in consequences(self.first)}
        worse = [x.text for x in consequences(after) if x.tone != "fine" and (x.id, x.tone) not in warned]
        return Way(
            kind, kind, title, tuple(self._todo(after)), kept, broken, value, tolerance,
            tuple(self._moves(after)), (*notes, *worse), document, after, change,
        )  # fmt: skip

    def _how_much(self, after: Walk) -> float:
        """How large a change a way is: each line's and each boil's, against its size or a twentieth of the pot, added up."""
        pot = max(float(self.first.product.total_g[0]), 1.0) / 20
        total = 0.0
        for id in {*self.first.end.lines, *after.end.lines}:
            a, b = (float(w.end.lines[id][0]) if id in w.end.lines else 0.0 for w in (self.first, after))
            total += abs(b - a) / max(a, pot)
        offs = [
            {stage.id: float(step.figures["off_g"][0]) for stage, step in zip(w.stages, w.steps, strict=True) if isinstance(stage, Boil)}
            for w in (self.first, after)
        ]
        for id in {*offs[0], *offs[1]}:
            a, b = (off.get(id, 0.0) for off in offs)
            total += abs(b - a) / max(a, pot)
        return total

    def _todo(self, after: Walk) -> Iterator[str]:
        """What is different at the hob, in grams, in the order of the method."""
        titles = {**after.method.short_titles, **self.titles}
        for stage, step in zip(after.stages, after.steps, strict=True):
            if isinstance(stage, Adding):
                for line in stage.lines:
                    now = float(after.end.lines[line.id][0])
                    was = float(self.first.end.lines[line.id][0]) if line.id in self.first.end.lines else None
                    if was is None:
                        yield f"{_capital(self._substance(line.substance))}: {_grams(self.kitchen, now)}, new"
                    elif abs(now - was) >= 0.5 * resolution_g(self.kitchen, max(now, was)):
                        yield f"{_capital(titles[line.id])}: {_grams(self.kitchen, now)} instead of {_grams(self.kitchen, was)}"
            elif isinstance(stage, Boil):
                yield from self._boil_todo(after, stage, float(step.figures["off_g"][0]))
        gone = [stage for stage in self.first.stages if stage.id not in {s.id for s in after.stages}]
        for stage in gone:
            yield f"{_capital(_called(stage))}: left out"

    def _boil_todo(self, after: Walk, stage: Boil, off: float) -> Iterator[str]:
        step = after.step(stage.id)
        was = next((float(s.figures["off_g"][0]) for b, s in zip(self.first.stages, self.first.steps, strict=True) if b.id == stage.id), None)
        if was is not None and abs(off - was) < 0.05:
            return
        digits = 0 if was is None or abs(off - was) >= 1 else 1
        pot = self.kitchen.pot(after.method.pot_id(stage.vessel))
        reads = float(step.figures["pot_reads_g"][0])
        weight = f"the pot reads {shown(round(reads))} g" if pot.tare_g else f"it weighs {shown(round(reads))} g without the pot"
        instead = "" if was is None else f" instead of {shown(round(was, digits))}"
        yield f"{_capital(_called(stage))}: {shown(round(off, digits))} g of water off{instead}; stop when {weight}, {spelt_span(step.duration_s)}"

    def _moves(self, after: Walk) -> Iterator[Move]:
        """Readings that move by what is shown of them, but for the one asked for."""
        now = {reading.id: reading for reading in readings(after)}
        for was in readings(self.first):
            other = now.get(was.id)
            if other is None or was.id == self.reading.id:
                continue
            a, b = float(was.value[0]), float(other.value[0])
            if abs(b - a) >= _round_off(was) or np.isfinite(a) != np.isfinite(b):
                yield Move(was.id, was.title, was.unit, was.digits, a, b)


def _same(one: Walk, other: Walk) -> bool:
    """Whether two ways come to the same grams of everything."""
    if one.end.lines.keys() != other.end.lines.keys():
        return False
    pairs = [(float(one.end.lines[id][0]), float(other.end.lines[id][0])) for id in one.end.lines]
    return all(abs(a - b) <= _SAME * max(a, b) for a, b in pairs) and abs(
        float(one.product.total_g[0]) - float(other.product.total_g[0])
    ) < 0.01 * float(one.product.total_g[0])


def _called(stage: StageBase) -> str:
    """What a sentence calls a stage."""
    return f"“{stage.name}”" if stage.name else f"the {stage.title.lower()}"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _grams(kitchen: Kitchen, grams: float) -> str:
    step = resolution_g(kitchen, grams)
    return f"{shown(round(round(grams / step) * step, 6))} g"
