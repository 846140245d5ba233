"""One ingredient for another, or for a blend: what to weigh so that chosen readings stay, and what changes all the same.

A swap is an edit of the document followed by a solve, like a way: gram for gram, and with readings held by the
new line and the water beside it. What is offered has been walked.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from jugcore import components as c
from jugcore.editing.edits import new_id, untied, with_references_by_id, written
from jugcore.editing.keeping_answers import with_basis
from jugcore.errors import BadDocument, DomainError
from jugcore.matter.substance import EU_ALLERGENS, Substance
from jugcore.method.amounts import Amount, AsMuchAs, PartsOf, PerKg, Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.phrases import grams_text
from jugcore.method.scales import rounded_g
from jugcore.method.stages import LineDoc, StageBase
from jugcore.method.walk import Walk, walk
from jugcore.solving.linearise import Target, reading_of
from jugcore.solving.problem import Problem
from jugcore.solving.solve import solve
from jugcore.suggesting.suggestion import Suggestion, moves_between
from jugcore.suggesting.wording import Wording

#: What a cook wants to keep, by the kind of what is swapped. Common practice, no source.
HOLDS: dict[str, tuple[str, ...]] = {
    "sugar": ("brix", "yield_g"), "syrup": ("brix", "yield_g"), "juice": ("sugars_100g", "yield_g"), "fruit": ("sugars_100g", "yield_g"),
    "dairy": ("fat", "yield_g"), "plant": ("fat", "yield_g"), "cocoa": ("yield_g",),
}  # fmt: skip
#: Kinds whose flavour goes by what is dry in them: fresh for dried is weighed by that, an estimate.
_BY_DRY_MATTER = frozenset({"spice", "herb", "tea"})
MOST_PARTS = 4
_UNKNOWN = "nothing written down"


def shared_tie(amount: Amount, share: float) -> Amount | None:
    """A share of what an amount follows; None where it follows nothing, or what it is made up to is no share of a tie."""
    match amount:
        case AsMuchAs():
            return amount.model_copy(update={"factor": amount.factor * share})
        case PerKg():
            return amount.model_copy(update={"grams": amount.grams * share})
        case PartsOf():
            return amount.model_copy(update={"parts": amount.parts * share})
        case Written():
            return None
        case _:
            return amount if share == 1 else None


@dataclass(frozen=True)
class Difference:
    """Something that is not a reading and changes: flavour, keeping, allergens, hazards."""

    about: str
    before: str
    after: str


@dataclass(frozen=True)
class Swapped:
    """What a swap comes to: ways to do it, what else changes, why there are not more."""

    line: str
    before: str
    after: str
    held: tuple[str, ...]
    suggestions: tuple[Suggestion, ...]
    differences: tuple[Difference, ...]
    why_not: tuple[str, ...]


def substitute(method: Method, line: str, parts: Mapping[str, float], hold: Sequence[str] | None = None, kitchen: Kitchen | None = None) -> Swapped:
    """Swap a line's ingredient.

    Parameters
    ----------
    method : Method
        A checked document.
    line : str
        The line whose ingredient goes.
    parts : mapping
        What comes in its place: substance id → share of the weight; shares are taken in proportion. The
        substances must be of the library or carried by the document.
    hold : sequence of str, optional
        Readings that shall stay; without it those usual for the kind (:data:`HOLDS`).

    Returns
    -------
    Swapped
        Suggestions, each walked: gram for gram, by dry matter where flavour goes by that, and with the readings held.

    Raises
    ------
    BadDocument
        No such line, no substance, shares that are none.
    """
    if line not in method.lines:
        raise BadDocument("line", f"“{line}” is not a line here.", "Name a line of the formula.")
    if not 1 <= len(parts) <= MOST_PARTS or not all(share > 0 for share in parts.values()):
        raise BadDocument("parts", "Nothing stands in its place yet.", f"Choose one to {MOST_PARTS} ingredients, each with a share above zero.")
    return _Swap(method, line, parts, hold, kitchen).found()


class _Swap:
    def __init__(self, method: Method, line: str, parts: Mapping[str, float], hold: Sequence[str] | None, kitchen: Kitchen | None) -> None:
        self.kitchen = kitchen or method.document.kitchen or Kitchen()
        self.method = compile_document(with_references_by_id(with_basis(method, self.kitchen)))
        self.first = walk(self.method, self.kitchen)
        self.line = line
        self.old = self.method.substances[self.method.lines[line].substance]
        self.grams = float(self.first.end.lines[line][0])
        if not self.grams > 0:
            raise BadDocument("line", f"There is none of {self.old.title.lower()} in it.", "Give it an amount first.")
        total = sum(parts.values())
        self.parts = {id: share / total for id, share in parts.items()}
        self.words = Wording(self.method, self.kitchen, self.first)
        self.hold = tuple(hold if hold is not None else HOLDS.get(self.old.kind, ()))
        self.why_not: list[str] = []
        # Compiled once, so that an unknown ingredient is refused at once.
        even = self._replaced(self.grams, keep_tie=True)
        self.even = walk(compile_document(even), self.kitchen)
        self.new = [self.even.method.substances[id] for id in self.parts]

    @property
    def name(self) -> str:
        return " and ".join(substance.title.lower() for substance in self.new)

    def found(self) -> Swapped:
        ways = [way for way in (self._held(), self._by_dry_matter(), self._even()) if way is not None]
        return Swapped(
            self.line, self.old.title, self.name[:1].upper() + self.name[1:], self.hold, tuple(ways), tuple(self._differences()), tuple(self.why_not)
        )

    # -- the edits -------------------------------------------------------------------------------------------------

    def _replaced(self, grams: float, *, keep_tie: bool = False) -> MethodDocument:
        """The document with the parts in the line's place, so many grams of them together."""
        amount = self.method.amounts[self.line]
        first, *others = self.parts
        share = self.parts[first]
        document = self.method.document
        own = shared_tie(amount, share) if keep_tie or isinstance(amount, PartsOf) else None
        new: list[LineDoc] = []
        for id in others:
            fresh = new_id(document, f"{self.line}-{len(new) + 2}")
            # In parts of a blend each has its own; beside grams or a tie the others go by the first.
            of_blend = shared_tie(amount, self.parts[id]) if isinstance(amount, PartsOf) else None
            new.append(LineDoc(id=fresh, substance=id, amount=of_blend or AsMuchAs(lines=(self.line,), factor=self.parts[id] / share)))

        def change(stage: StageBase) -> StageBase:
            lines: list[LineDoc] = []
            for each in stage.ingredients:
                if each.id == self.line:
                    update = {"substance": first, "name": None, "temperature_c": None, "amount": own or written(grams * share)}
                    lines += [each.model_copy(update=update), *new]
                else:
                    lines.append(each.model_copy(update={"amount": self._following(each.id, [line.id for line in new])}))
            return stage.with_ingredients(tuple(lines))

        stages = tuple(change(stage) for stage in document.stages)
        return document.model_copy(update={"stages": stages})

    def _following(self, id: str, new: list[str]) -> object:
        """What went by the line goes by all that stands in its place."""
        amount = self.method.amounts[id]
        if new and isinstance(amount, AsMuchAs | PerKg) and self.line in amount.lines:
            return amount.model_copy(update={"lines": (*amount.lines, *new)})
        return amount

    # -- the ways --------------------------------------------------------------------------------------------------

    def _even(self) -> Suggestion | None:
        return self._way("even", f"Gram for gram: {self._of(self.even)}", self.even, ())

    def _by_dry_matter(self) -> Suggestion | None:
        """Fresh for dried, or dried for fresh: as much dry matter."""
        if self.old.kind not in _BY_DRY_MATTER or not all(substance.kind in _BY_DRY_MATTER for substance in self.new):
            return None
        was = 1 - float(self.old.mass_fraction[c.WATER])
        now = sum(share * (1 - float(s.mass_fraction[c.WATER])) for share, s in zip(self.parts.values(), self.new, strict=True))
        grams = rounded_g(self.kitchen, self.grams * was / now)
        if abs(grams / self.grams - 1) < 0.1:
            return None
        after = walk(compile_document(self._replaced(grams)), self.kitchen)
        note = "By what is dry in them: flavour goes with that, and with freshness; taste it."
        return self._way("dry", f"As much dry matter: {self._of(after)}", after, (note,))

    def _held(self) -> Suggestion | None:
        """The readings held, by the new line, then with the water beside it."""
        holding = [reading for id in self.hold if np.isfinite((reading := reading_of(self.first, id)).value[0])]
        targets = tuple(Target(r.id, float(r.value[0]), float(r.value[0])) for r in holding)
        if not targets:
            return None
        collided = ""
        for document, free in self._frees():
            try:
                solution = solve(compile_document(document), Problem(targets, free=free, explain=True), kitchen=self.kitchen)
            except DomainError as error:
                collided = str(error)
                continue
            if solution.status == "solved":
                kept = " and ".join(r.title for r in holding)
                return self._way("held", f"With {kept} held: {self._of(solution.walk)}", solution.walk, ())
            if solution.infeasibility is not None:
                collided = solution.infeasibility.words
        if collided:
            self.why_not.append(f"{' and '.join(r.title for r in holding)} cannot be held: {collided}")
        return None

    def _frees(self) -> Iterator[tuple[MethodDocument, tuple[str, ...]]]:
        """Documents with what may move in them, the fewest first."""
        replaced = self._replaced(self.grams)
        own = f"lines.{self.line}.grams"
        yield replaced, (own,)
        method = compile_document(replaced)
        waters = [id for id, line in method.lines.items() if method.substances[line.substance].kind == "water"]
        if waters:
            loose = untied(method, walk(method, self.kitchen), waters)
            yield loose, (own, *(f"lines.{id}.grams" for id in waters))
        # No water that could move: some is let in beside the new line.
        stage = next(s for s in replaced.stages if any(line.id == self.line for line in s.ingredients))
        if not waters and not any(isinstance(self.method.amounts[line.id], PartsOf) for line in stage.ingredients if line.id in self.method.amounts):
            id = new_id(replaced, "water")
            beside = stage.with_ingredients((*stage.ingredients, LineDoc(id=id, substance="water", amount=written(1.0))))
            stages = tuple(beside if s.id == stage.id else s for s in replaced.stages)
            yield replaced.model_copy(update={"stages": stages}), (own, f"lines.{id}.grams")

    def _in_place(self, after: Walk) -> list[str]:
        """Lines that stand in place of the old one."""
        return [id for id, line in after.method.lines.items() if line.substance in self.parts and (id == self.line or id.startswith(f"{self.line}-"))]

    def _of(self, after: Walk) -> str:
        """“430 g of honey”, the parts of a blend each."""
        method = after.method
        each = [(float(after.end.lines[id][0]), method.substances[method.lines[id].substance].title.lower()) for id in self._in_place(after)]
        return ", ".join(f"{grams_text(self.kitchen, grams)} of {title}" for grams, title in each)

    def _way(self, kind: str, title: str, after: Walk, notes: tuple[str, ...]) -> Suggestion:
        faults = tuple(f"{fault.message} {fault.remedy}" for fault in after.faults)
        instead = f"{self._of(after)} in place of {grams_text(self.kitchen, self.grams)} of {self.old.title.lower()}"
        todo = (instead[:1].upper() + instead[1:], *self.words.todo(after, but=self._in_place(after)))
        moves = moves_between(self.first, after)
        kept, broken = self._ties(after)
        notes = (*notes, *(f"No longer follows: {tie}." for tie in broken))
        return Suggestion(kind, kind, title, todo, kept, broken, float("nan"), 0.0, moves, (*notes, *faults), after.method.document, after)

    def _ties(self, after: Walk) -> tuple[tuple[str, ...], tuple[str, ...]]:
        """Ties of lines that follow others, those kept and those that are gone, as a sentence calls them."""
        tied = [id for id, amount in self.method.amounts.items() if id in self.method.lines and not isinstance(amount, Written)]
        gone = {id for id in tied if isinstance(after.method.amounts.get(id), Written)}
        return tuple(self.words.tie(id) for id in tied if id not in gone), tuple(self.words.tie(id) for id in tied if id in gone)

    # -- what is no reading ----------------------------------------------------------------------------------------

    def _differences(self) -> Iterator[Difference]:
        flavours = ", ".join(s.character for s in self.new if s.character)
        if flavours != self.old.character:
            yield Difference("Flavour and colour", self.old.character or _UNKNOWN, flavours or _UNKNOWN)
        loud, soft = self._strength([self.old]), self._strength(self.new)
        if loud and soft and loud != soft:
            yield Difference("Loudness against sweet bark, an estimate", loud, soft)
        before, after = self._keeps([self.old]), self._keeps(self.new)
        if before != after:
            yield Difference("Once opened", before, after)
        for about, was, now in (
            ("Allergens", self._allergens(self.first, sure=True), self._allergens(self.even, sure=True)),
            ("Check the pack for", self._allergens(self.first, sure=False), self._allergens(self.even, sure=False)),
        ):
            if was != now:
                yield Difference(about, was or "none known", now or "none known")
        bases = ", ".join(dict.fromkeys(s.basis for s in self.new))
        if bases != self.old.basis:
            yield Difference("Its composition is known from", self.old.basis, bases)

    @staticmethod
    def _strength(substances: Sequence[Substance]) -> str:
        return ", ".join(f"{s.strength[0]:g}–{s.strength[1]:g} times" for s in substances if s.strength)

    @staticmethod
    def _keeps(substances: Sequence[Substance]) -> str:
        known = [s.opened for s in substances if s.opened]
        if not known:
            return _UNKNOWN
        first = min(known, key=lambda opened: opened.days.low)
        chilled = ", chilled" if any(opened.storage == "chilled" for opened in known) else ""
        return f"{first.days.low:g}–{first.days.high:g} days{chilled}"

    @staticmethod
    def _allergens(walked: Walk, *, sure: bool) -> str:
        method = walked.method
        used = [method.substances[line.substance] for id, line in method.lines.items() if id in walked.product.touched]
        named = {a for s in used for a in (s.allergens if sure else s.check_pack_for)}
        return ", ".join(a for a in EU_ALLERGENS if a in named)
