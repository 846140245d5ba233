"""A line that was weighed off: the others follow it, those in are topped up, or it is topped up itself."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from jugcore.batch.actual.actual_batch import ActualBatch
from jugcore.batch.rescue.rescue_suggestion import Rescue, finished_parts, walked_suggestion, where_now
from jugcore.batch.sheet.deviations import targets_of, without_weighings
from jugcore.editing.edits import insert_stage, new_id, set_amount, with_references_by_id, written
from jugcore.errors import BadDocument
from jugcore.figures import shown
from jugcore.method.amounts import All, Written
from jugcore.method.document import MethodDocument
from jugcore.method.phrases import grams_text
from jugcore.method.scales import rounded_g
from jugcore.method.stages import Add, Adding, Cool, Heat, LineDoc, StageBase, Strain
from jugcore.suggesting.suggestion import Suggestion, moves_between

#: Less than this share of a line is no answer to anything.
_LEAST = 0.002


def line_off(batch: ActualBatch, id: str) -> Rescue:
    """A line that was weighed off: the others follow it, those in are topped up, or it is topped up itself."""
    method = batch.method
    held, targets = batch.record.weighed.get(id), targets_of(batch)
    target = targets.get(id)
    if held is None or target is None or id not in method.lines:
        raise BadDocument("about", f"“{id}” is not a line that was weighed.", "Name one that was.")
    stage = next(s for s in method.stages if any(line.id == id for line in s.ingredients))
    off = _Off(batch, id, held.value, target, stage, targets, *finished_parts(batch))
    found = list(off.answers())
    why_not = (
        () if found else ("Nothing that is still to come follows it, and nothing can be added to make up for it: go on as it is, or start again.",)
    )
    digits = 0 if target >= 100 else 1 if target >= 10 else 2
    left = moves_between(without_weighings(batch, [id]), batch.walk)
    return Rescue(f"line:{id}", method.titles[id], "g", digits, target, held.value, tuple(found), why_not, left, off.share_words())


@dataclass(frozen=True)
class _Off:
    """A line that was weighed off, where it went in, and what is done by now."""

    batch: ActualBatch
    id: str
    went_in: float
    target: float
    stage: StageBase
    targets: Mapping[str, float]
    done: frozenset[str]
    within: frozenset[str]

    @property
    def factor(self) -> float:
        return self.went_in / self.target

    @property
    def title(self) -> str:
        return self.batch.method.short_titles[self.id]

    def answers(self) -> Iterator[Suggestion]:
        document = with_references_by_id(self.batch.method)
        if self.went_in < self.target:
            yield from self._short(document)
        elif self._is_blend:
            yield from self._blend_over(document)
        yield from self._followed(document)

    def share_words(self) -> str:
        """What share of a blend it has then, instead of which."""
        if not self._is_blend:
            return ""
        others = sum(self._grams(line.id) for line in self.stage.ingredients if line.id != self.id)
        shares = [100 * grams / (others + grams) for grams in (self.went_in, self.target)]
        return f"{self.title.capitalize()} is then {shares[0]:.0f} % of what is put together, instead of {shares[1]:.0f} %."

    @property
    def _is_blend(self) -> bool:
        """Whether it is put together with others in a bowl of its own, before it goes into the pot."""
        return len(self.stage.ingredients) > 1 and self.stage.id not in self.batch.method.trunk

    def _grams(self, id: str) -> float:
        held = self.batch.record.weighed.get(id)
        return held.value if held is not None else self.targets[id]

    def _short(self, document: MethodDocument) -> Iterator[Suggestion]:
        """Less went in: weigh the rest, or add it now."""
        kitchen = self.batch.walk.kitchen
        missing = rounded_g(kitchen, self.target - self.went_in)
        if self._still_as_it_was():
            more = set_amount(document, self.id, written(self.went_in + missing))
            yield from walked_suggestion(self.batch, "weigh_more", f"Weigh {grams_text(kitchen, missing)} more of {self.title}", more)
            return
        more = self._stir_in(document, {self.batch.method.lines[self.id].substance: (self.title, missing)})
        yield from walked_suggestion(self.batch, "top_up", f"Add the missing {grams_text(kitchen, missing)} of {self.title}", more)

    def _blend_over(self, document: MethodDocument) -> Iterator[Suggestion]:
        """More of one went into a blend: the others in proportion, and as much of the blend as was asked, or all of it."""
        if self._strained():
            return
        larger, behind = document, {}
        for line in self.stage.ingredients:
            if line.id == self.id:
                continue
            aim = self.targets[line.id] * self.factor
            missing = aim - self._grams(line.id)
            if line.id not in self.within:
                larger = set_amount(larger, line.id, written(rounded_g(self.batch.walk.kitchen, aim)))
            elif missing > _LEAST * aim:
                behind[line.substance] = (self.batch.method.short_titles[line.id], rounded_g(self.batch.walk.kitchen, missing))
        if behind:
            larger = self._stir_in(larger, behind)
        more = f"Make more of the same blend, the others {shown(round(self.factor, 3))} times"
        join = self._join()
        if join is not None and isinstance(self.batch.method.amounts[join.id], All):
            asked = float(without_weighings(self.batch, [self.id]).end.lines[join.id][0])
            use = rounded_g(self.batch.walk.kitchen, asked)
            title = f"{more}; use {grams_text(self.batch.walk.kitchen, use)} of it and keep the rest"
            yield from walked_suggestion(self.batch, "premix", title, set_amount(larger, join.id, written(use)))
        yield from walked_suggestion(self.batch, "blend_up", f"{more}, and put all of it in" if join is not None else f"{more}, stirred in", larger)

    def _join(self) -> StageBase | None:
        """Where what is put together goes into the pot, if that is still to come."""
        vessel = self.stage.vessel
        for later in self.batch.method.stages[self.batch.method.stages.index(self.stage) + 1 :]:
            if later.reads() == vessel:
                return None if later.id in self.done else later
            if vessel in (later.vessel, later.reads()) and later.writes() != vessel:
                vessel = later.writes()
        return None

    def _strained(self) -> bool:
        """Whether what was put together has been strained out: more of it would season nothing."""
        return any(isinstance(s, Strain) and s.id in self.done for s in self.batch.method.stages[self.batch.method.stages.index(self.stage) :])

    def _followed(self, document: MethodDocument) -> Iterator[Suggestion]:
        follows, followed = self._in_proportion(document)
        behind = self._already_in() if self.factor > 1 else {}
        if behind:
            follows = self._stir_in(follows, behind)
        if followed or (behind and self.went_in > self.target):
            title = "Let the rest follow" if not behind else "Top up the rest, so that it stays the same mixture"
            if self._is_blend:
                title = "Make a larger batch: everything else follows"
            times = f"{shown(round(self.factor, 3))} times {'as much' if self.factor > 1 else 'of it'}"
            yield from walked_suggestion(self.batch, "follow", f"{title}: {times}", follows)

    def _still_as_it_was(self) -> bool:
        """Whether what a stage put in may still be added to as if it were then: nothing was boiled, strained or poured on since."""
        later = self.batch.method.stages[self.batch.method.stages.index(self.stage) + 1 :]
        vessel = self.stage.vessel
        return not any(s.id in self.done and not isinstance(s, Adding | Heat | Cool) for s in later if vessel in (s.vessel, s.reads()))

    def _in_proportion(self, document: MethodDocument) -> tuple[MethodDocument, list[str]]:
        """Lines with grams of their own that are not in yet, each as many times as much as went in of this one."""
        method, kitchen = self.batch.method, self.batch.walk.kitchen
        changed = []
        for other, amount in method.amounts.items():
            if other == self.id or other in self.within or other not in method.lines or not isinstance(amount, Written):
                continue
            document = set_amount(document, other, written(rounded_g(kitchen, self.factor * method.weighed[other].grams)))
            changed.append(other)
        return document, changed

    def _already_in(self) -> dict[str, tuple[str, float]]:
        """What must still be added of lines of the same vessel that are in: by substance, what to call it and grams."""
        method, kitchen = self.batch.method, self.batch.walk.kitchen
        found: dict[str, tuple[str, float]] = {}
        for other in method.lines:  # in the order of the method: a set has none
            if other == self.id or other not in self.within:
                continue
            home = next(s for s in method.stages if any(line.id == other for line in s.ingredients))
            if home.vessel != self.stage.vessel or other not in self.targets:
                continue
            amount = self.batch.followed.amounts.get(other)
            aim = self.targets[other] * (self.factor if isinstance(amount, Written) else 1.0)
            missing = aim - float(self.batch.walk.end.lines[other][0])
            if missing > _LEAST * aim:
                found[method.lines[other].substance] = (method.short_titles[other], rounded_g(kitchen, missing))
        return found

    def _stir_in(self, document: MethodDocument, what: Mapping[str, tuple[str, float]]) -> MethodDocument:
        """The document with a stage that adds more of something to the vessel, as soon as it still can be."""
        ids = [s.id for s in document.stages]
        home = ids.index(self.stage.id)
        place = max(home + 1, next((i for i, s in enumerate(document.stages) if s.id not in self.done), len(ids)))
        vessel = where_now(self.stage, document, place)
        lines: list[LineDoc] = []
        for substance, (title, grams) in what.items():
            line = LineDoc(id=new_id(document, "more"), substance=substance, name=f"More {title}", amount=written(grams))
            lines.append(line.model_copy(update={"id": f"{line.id}-{len(lines) + 1}"}) if lines else line)
        added = Add(id=new_id(document, "put-right"), vessel=vessel, name="Top up", lines=tuple(lines))
        return insert_stage(document, added, place)
