"""Ways to get there: a reading typed over, and what could be done about it, in grams.

A suggestion is a structural edit of the document (end the boil elsewhere, untie a line, add
something late, boil, drop the boil, make more) and a solve for the figure that edit
frees. No family has code here. A suggestion that does not meet what was typed when its document
is walked again is not offered.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace

import numpy as np

from jugcore.editing.edits import set_amount, with_references_by_id, written
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import BadDocument, DomainError, OutOfRange
from jugcore.figures import shown
from jugcore.method.amounts import PerKg, Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.scales import resolution_g
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk, walk
from jugcore.reading.catalogue import READING_OF
from jugcore.reading.consequences import consequences
from jugcore.scaling.scale import scale_to
from jugcore.solving.linearise import reading_of
from jugcore.solving.problem import Problem, Solution
from jugcore.solving.solve import solve
from jugcore.suggesting.baseline import Baseline
from jugcore.suggesting.candidates import FARTHEST, Candidate, Candidates
from jugcore.suggesting.suggestion import Suggestion, Suggestions, moves_between, round_off
from jugcore.suggesting.wording import Wording

#: No more are shown: a cook chooses, not studies.
MOST = 5
#: Of one kind of edit at most this many.
_MOST_ALIKE = 2
#: Which kinds of way come first where all are equally small changes.
_ORDER = ("hold", "make_more", "season", "end_boil", "change", "add", "untie", "keep_yield", "boil", "no_boil")
#: Amounts a cook likes to weigh, largest step first. [g]
_PLAIN_STEPS = (10.0, 5.0, 1.0, 0.1)
#: A plainer amount may cost this share of the reading's last shown digit.
_PLAIN_COST = 0.25
#: What no formula can go beyond; whatever is not here is not below nothing.
_LIE_BETWEEN = {
    "brix": (0.0, 100.0), "refractometer": (-5.0, 100.0), "sucrose": (0.0, 100.0), "sugars_100g": (0.0, 100.0), "fat": (0.0, 100.0),
    "water_activity": (0.0, 1.0), "cold_margin": (-np.inf, 100.0), "spice_started": (0.0, np.inf), "spice_finished": (0.0, 1000.0),
}  # fmt: skip
#: Common practice, no source.
_MILK_BOILED = "Milk, cream and plant drinks catch on the pot, taste cooked and may split when boiled: better boil the syrup before they go in."
#: Suggestions whose every amount agrees this closely are one.
_SAME = 0.01


def suggestions(
    method: Method,
    reading: str,
    value: float,
    kitchen: Kitchen | None = None,
    hold: Sequence[str] = (),
    done: Collection[str] = (),
    within: Collection[str] = (),
) -> Suggestions:
    """Ways to make a reading come to a value.

    Parameters
    ----------
    method : Method
        A checked document.
    reading : str
        The id of a reading of :data:`jugcore.reading.catalogue.READING_OF`.
    value : float
        What was typed, in the reading's unit.
    hold : sequence of str
        Other readings that must stay where they are.
    done, within : collection of str
        Stages that are done and lines that are in the pot: mid-batch, these stay as
        they are and ways change only what is still to come.

    Returns
    -------
    Suggestions
        At most five, the smallest and plainest changes first; each, walked again, meets
        the value within half the reading's last shown digit or what rounding to the
        kitchen's scales explains. Where there is none, ``why_not`` says why.

    Raises
    ------
    BadDocument
        No such reading, or it (or one to be held) has no value here.
    OutOfRange
        The value is not finite.
    """
    return _Finder(_baseline(method, reading, value, kitchen or method.document.kitchen or Kitchen(), hold, done, within)).find()


def _baseline(
    method: Method, reading: str, value: float, kitchen: Kitchen, hold: Sequence[str], done: Collection[str], within: Collection[str]
) -> Baseline:
    """The method walked, with its references settled: a name that fits one line may fit two once another is added."""
    for field, id in (("reading", reading), *(("hold", id) for id in hold)):
        if id not in READING_OF:
            raise BadDocument(field, f"“{id}” is not a reading.", f"Use one of: {', '.join(READING_OF)}.")
    if not np.isfinite(value):
        raise OutOfRange("value", "That is not a number.", "Type a number.")
    plain = compile_document(with_references_by_id(with_basis(method, kitchen)))
    first = walk(plain, kitchen)
    typed, held = reading_of(first, reading), tuple(reading_of(first, id) for id in dict.fromkeys(hold) if id != reading)
    if not np.isfinite(typed.value[0]):
        raise BadDocument("reading", typed.why_not or "This reading has no value here.", "Put the formula right first.")
    for each in held:
        if not np.isfinite(each.value[0]):
            raise BadDocument("hold", f"{each.title} has no value to hold. {each.why_not}".strip(), "Let go of it.")
    return Baseline(plain, kitchen, first, typed, value, held, frozenset(done), frozenset(within))


class _Finder:
    """Looks for ways from one walked method."""

    def __init__(self, baseline: Baseline) -> None:
        self.baseline, self.wording = baseline, Wording(baseline.method, baseline.kitchen, baseline.first)
        self.candidates = Candidates(baseline, self.wording)
        self.method, self.kitchen, self.first, self.reading, self.held = (
            baseline.method,
            baseline.kitchen,
            baseline.first,
            baseline.reading,
            baseline.held,
        )
        self.value, self.before = baseline.value, float(baseline.reading.value[0])
        self.why_not: list[str] = []

    def find(self) -> Suggestions:
        digits = self.reading.digits
        # What shows as typed is there already, unless more digits were typed than are shown.
        if abs(self.before - self.value) < 1e-9 * max(1.0, abs(self.value)) or self.value == round(self.value, digits) == round(self.before, digits):
            self.why_not.append(f"{self.reading.title} is {shown(self.value)} already.")
            return self._together([])
        low, high = _LIE_BETWEEN.get(self.reading.id, (0.0, np.inf))
        if not low <= self.value <= high:
            ends = f"never above {high:g}" if low == -np.inf else f"never below {low:g}" if high == np.inf else f"between {low:g} and {high:g}"
            self.why_not.append(f"{self.reading.title} {shown(self.value)}{f' {self.reading.unit}'.rstrip()} is not possible: it is {ends}.")
            return self._together([])
        found: list[Suggestion] = []
        for attempt in self.candidates.all():
            way = self._solved(attempt)
            if way is not None:
                found.append(way)
        found += [way for way in (self._made_more(), self._seasoned()) if way is not None]
        return self._together(found)

    def _together(self, found: list[Suggestion]) -> Suggestions:
        """The best of each kind, no two doing the same, at most five."""
        place = {kind: n for n, kind in enumerate(_ORDER)}
        found.sort(key=lambda way: (round(way.change + self._sideways(way.walk), 2) + 0.15 * place[way.kind], place[way.kind]))
        chosen: list[Suggestion] = []
        for way in found:
            alike = [other for other in chosen if other.kind == way.kind]
            if len(alike) < _MOST_ALIKE and not any(_same(other.walk, way.walk) for other in chosen) and len(chosen) < MOST:
                chosen.append(self._told(way, f"{way.kind}-{len(alike) + 1}"))
        why_not = [] if chosen else [*dict.fromkeys(self.why_not)] or self._why_none()
        return Suggestions(
            self.reading.id, self.reading.title, self.reading.unit, self.reading.digits, self.before, self.value, tuple(chosen), tuple(why_not)
        )

    def _told(self, way: Suggestion, id: str) -> Suggestion:
        """A way that is shown: with what else moves, and what becomes worse. Of one that is not shown nobody asks."""
        warned = {(x.id, x.tone) for x in consequences(self.first)}
        worse = [x.text for x in consequences(way.walk) if x.tone != "fine" and (x.id, x.tone) not in warned]
        return replace(way, id=id, moves=moves_between(self.first, way.walk, but=self.reading.id), notes=(*way.notes, *worse))

    def _sideways(self, after: Walk) -> float:
        """How far a way to a yield or a spice load moves the syrup itself, as so much change."""
        if not self.reading.id.startswith(("yield", "spice")):
            return 0.0
        was, now = reading_of(self.first, "brix"), reading_of(after, "brix")
        moved = abs(float(now.value[0]) - float(was.value[0]))
        return 0.2 * moved if np.isfinite(moved) and moved >= round_off(was) else 0.0

    def _why_none(self) -> list[str]:
        """Why nothing works, from a solve with everything free."""
        try:
            loose, _ = self.candidates.untied()
            method = compile_document(loose)
            solution = solve(
                method, Problem((self.baseline.target, *self.baseline.holding), free=self.baseline.may_move(method)), kitchen=self.kitchen
            )
        except DomainError as error:
            return [str(error)]
        if solution.infeasibility is not None:
            return [solution.infeasibility.words]
        if self.held:
            return ["No way was found that reaches it with the rest held. Let go of one, or ask for less."]
        return ["No single change reaches it. Change the method, or ask for less."]

    def _solved(self, attempt: Candidate) -> Suggestion | None:
        """The way an edit leads to, if it gets there."""
        try:
            method, walked = self.baseline.compiled(attempt.document)
            problem = Problem((self.baseline.target, *attempt.also, *self.baseline.holding), free=attempt.free, explain=False)
            solution = solve(method, problem, kitchen=self.kitchen, walked=walked)
        except DomainError:
            return None  # an edit this method does not allow is no way
        if solution.status != "solved" or not solution.changes:
            return None
        if not self.held:
            solution = self._plainer(solution, attempt)
        notes = (_MILK_BOILED,) if attempt.kind == "boil" and self._has_milk() else ()
        roundings = (solution.targets[0].rounding, *(m.rounding for m in solution.targets[1 + len(attempt.also) :]))
        return self._way(attempt.kind, attempt.title(solution), solution.document, solution.walk, attempt.broken, roundings, notes)

    def _has_milk(self) -> bool:
        return any(each.book.kind in ("dairy", "plant") for id in self.method.lines for each in self.method.contents_of(id))

    def _plainer(self, solution: Solution, attempt: Candidate) -> Solution:
        """One line that moved, to the plainest amount that still shows what was typed."""
        if attempt.free is None or len(attempt.free) != 1 or not attempt.free[0].startswith("lines."):
            return solution
        id = attempt.free[0].split(".")[1]
        exact = solution.changes[0].after
        step = resolution_g(self.kitchen, exact)
        per_gram = solution.targets[0].rounding / (0.5 * step)
        for plain in _PLAIN_STEPS:
            if plain <= step:
                break
            grams = round(exact / plain) * plain
            if grams <= 0 or per_gram * 0.5 * plain > _PLAIN_COST * 2 * round_off(self.reading):
                continue
            document = set_amount(solution.document, id, written(grams))
            return replace(solution, document=document, walk=walk(compile_document(document), self.kitchen))
        return solution

    def _made_more(self) -> Suggestion | None:
        """For a yield: the whole batch larger or smaller."""
        if not self.reading.id.startswith("yield") or self.baseline.done or self.baseline.within:
            return None
        try:
            scaling = scale_to(self.method, lambda w: float(reading_of(w, self.reading.id).value[0]), self.value, self.kitchen)
        except DomainError as error:
            self.why_not.append(str(error))
            return None
        word = "larger" if scaling.factor > 1 else "smaller"
        title = f"Make the whole batch {word}: {shown(round(scaling.factor, 3))} times everything"
        return self._way("make_more", title, scaling.document, scaling.walk, (), (), scaling.notes)

    def _seasoned(self) -> Suggestion | None:
        """For a spice load: every spice in proportion."""
        # In proportion to nothing there is nothing to season with.
        if not self.reading.id.startswith("spice") or not self.value > 0 or not self.before > 0:
            return None
        factor = self.value / self.before
        document = self.method.document
        for id, line in self.method.lines.items():
            if not self.method.substances[line.substance].is_seasoning:
                continue
            if id in self.baseline.within:
                return None  # what is in cannot be taken out in proportion
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
        return self._way("season", f"{word} of every spice, in proportion: {shown(round(factor, 3))} times", document, after, (), ())

    def _way(
        self,
        kind: str,
        title: str,
        document: MethodDocument,
        after: Walk,
        broken: tuple[str, ...],
        roundings: tuple[float, ...],
        notes: tuple[str, ...] = (),
    ) -> Suggestion | None:
        """A way, if it gets there and leaves what is held; ``roundings`` of the reading and of what is held, nothing where none was rounded."""
        value = float(reading_of(after, self.reading.id).value[0])
        rounding, *others = roundings or (0.0,) * (1 + len(self.held))
        tolerance = max(round_off(self.reading), 1.1 * rounding)
        if not abs(value - self.value) <= tolerance * (1 + 1e-9):
            return None
        for each, doubt in zip(self.held, others, strict=True):
            moved = abs(float(reading_of(after, each.id).value[0]) - float(each.value[0]))
            if not moved <= max(round_off(each), 1.1 * doubt) * (1 + 1e-9):
                return None
        change = self._how_much(after)
        todo = tuple(self.wording.todo(after))
        if not title or not todo:
            return None  # nothing that a scale would show
        if change > FARTHEST or self._shrinks(after) > FARTHEST:
            return None
        kept = tuple(
            self.wording.tie(id) if id in self.method.titles else f"{after.method.short_titles[id]} {after.method.amount_texts[id]}"
            for id, amount in after.method.amounts.items()
            if id in after.method.lines and not isinstance(amount, Written)
        )
        return Suggestion(kind, kind, title, todo, kept, broken, value, tolerance, (), notes, document, after, change)

    def _how_much(self, after: Walk) -> float:
        """How large a change a way is: each line's and each boil's, against its size or a twentieth of the pot, added up."""
        pot = max(float(self.first.product.total_g[0]), 1.0) / 20
        total = 0.0
        for id in {**self.first.end.lines, **after.end.lines}:
            a, b = (float(w.end.lines[id][0]) if id in w.end.lines else 0.0 for w in (self.first, after))
            total += abs(b - a) / max(a, pot)
        offs = [{stage.id: float(step.figures["off_g"][0]) for stage, step in w.each(Boil)} for w in (self.first, after)]
        for id in {**offs[0], **offs[1]}:
            a, b = (off.get(id, 0.0) for off in offs)
            total += abs(b - a) / max(a, pot)
        return total

    def _shrinks(self, after: Walk) -> float:
        """By how much the line that is divided most is divided; below a twentieth of the pot it does not count."""
        pot = max(float(self.first.product.total_g[0]), 1.0) / 20
        was, now = self.first.end.lines, after.end.lines
        return max((float(was[id][0]) / max(float(now[id][0]), pot) for id in was if id in now), default=1.0)


def _same(one: Walk, other: Walk) -> bool:
    """Whether two ways come to the same grams of everything."""
    if one.end.lines.keys() != other.end.lines.keys():
        return False
    pairs = [(float(one.end.lines[id][0]), float(other.end.lines[id][0])) for id in one.end.lines]
    return all(abs(a - b) <= _SAME * max(a, b) for a, b in pairs) and abs(
        float(one.product.total_g[0]) - float(other.product.total_g[0])
    ) < 0.01 * float(one.product.total_g[0])
