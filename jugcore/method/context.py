"""What a stage may ask while it is applied: figures, faults, and line amounts."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from dataclasses import field as dataclass_field

import numpy as np

from jugcore.figures import Bools, Floats
from jugcore.matter.matter import Matter
from jugcore.method.amounts import AsMuchAs, PartsOf, PerKg, UpTo, UpToVolume, Written, references
from jugcore.method.kitchen import Band, Kitchen
from jugcore.method.state import State
from jugcore.method.walked_method import TimedStage, WalkedMethod, WrittenLine
from jugcore.physics.boiling import _pressure_pa

#: Where the sum of everything started is kept; no line can have this id.
_STARTED = "*"


@dataclass(frozen=True)
class Fault:
    """Something a stage could not do, in the cases where ``cases`` is true.

    The walk goes on as if the stage had done nothing there; the message is about
    the first such case.
    """

    code: str
    field: str
    message: str
    remedy: str
    cases: Bools = dataclass_field(repr=False)
    stage: str | None = None


class Context:
    """One pass of the walk: its cases, what is given, and what has gone wrong."""

    def __init__(self, method: WalkedMethod, kitchen: Kitchen, cases: int, given: Mapping[str, Floats], guesses: Mapping[str, Floats]) -> None:
        self.method = method
        self.kitchen = kitchen
        self.cases = cases
        self.faults: list[Fault] = []
        self.asked: set[str] = set()
        self._given = given
        self._guesses = guesses
        self._ahead: dict[str, Floats] = {}
        self._pressure: Floats | None = None

    # figures ------------------------------------------------------------

    def full(self, value: float) -> Floats:
        return np.full(self.cases, float(value))

    def given(self, path: str) -> Floats | None:
        return self._given.get(path)

    def gives(self, prefix: str) -> bool:
        """Whether anything below this path is given."""
        return any(path.startswith(prefix) for path in self._given)

    def value(self, path: str, default: float) -> Floats:
        """The parameter at ``path``: what is given for it, else the document's."""
        override = self._given.get(path)
        return self.full(default) if override is None else override

    def band(self, path: str, default: Band) -> Floats:
        """A (K, 3) band; a given value is taken as exact."""
        override = self._given.get(path)
        if override is None:
            return np.broadcast_to(np.array([default.low, default.typical, default.high]), (self.cases, 3))
        return np.repeat(override[:, None], 3, axis=1)

    def pressure_pa(self) -> Floats:
        if self._pressure is None:
            self._pressure = _pressure_pa(self.value("kitchen.altitude_m", self.kitchen.altitude_m))
        return self._pressure

    def seconds(self, low: float, typical: float, high: float, *, stage: TimedStage) -> Floats:
        """A (K, 3) duration: the stage's own minutes if it says or is given any, else the estimate."""
        known = self._given.get(stage.path("minutes"))
        if known is None and stage.minutes is not None:
            known = self.full(stage.minutes)
        if known is not None:
            return np.repeat(60.0 * known[:, None], 3, axis=1)
        spent = np.empty((self.cases, 3))
        spent[:] = (low, typical, high)
        return spent

    def matter(self, state: State, vessel: str) -> Matter:
        held = state.vessels.get(vessel)
        return Matter.nothing(self.cases) if held is None else held

    # faults -------------------------------------------------------------

    def fault(self, code: str, *, field: str, message: str, remedy: str, cases: Bools | None = None, stage: str | None = None) -> None:
        where = np.ones(self.cases, bool) if cases is None else np.broadcast_to(np.asarray(cases, bool), (self.cases,))
        if bool(where.any()):
            self.faults.append(Fault(code, field, message, remedy, where, stage))

    # amounts ------------------------------------------------------------

    def _guess(self, key: str) -> Floats:
        self.asked.add(key)
        guess = self._guesses.get(key)
        return self.full(0.0) if guess is None else guess

    def begin_stage(self) -> None:
        """Forget what was worked out ahead: a stage sees what was known when it began, however the walk got there."""
        self._ahead.clear()

    def grams_of(self, id: str, state: State) -> Floats:
        """Grams of another line (or join), from the state if it has been, else worked out ahead of time.

        References are followed without recursion and each line once, so that a chain of
        hundreds of lines costs what its length says.
        """
        waiting = [id]
        while waiting:
            here = waiting[-1]
            if self._known(here, state) is None:
                needs = [line for line in self._needs(here) if self._known(line, state) is None]
                if needs:
                    waiting += needs
                    continue
                self._ahead[here] = self._worked_out(here, state)
            waiting.pop()
        known = self._known(id, state)
        assert known is not None
        return known

    def _needs(self, id: str) -> tuple[str, ...]:
        """The lines whose grams come first; none once everything started has been added up."""
        started = self.method.started
        amount = self.method.amounts.get(id)
        if _STARTED in self._ahead and isinstance(amount, PerKg) and amount.of == "started" and id not in self.method.started_set:
            return ()
        return references(amount, started, id, self.method.portions.get(id))

    def _known(self, id: str, state: State) -> Floats | None:
        known = state.lines.get(id)
        if known is None:
            known = self._given.get(f"lines.{id}.grams")
        return self._ahead.get(id) if known is None else known

    def _worked_out(self, id: str, state: State) -> Floats:
        """Grams of a line not reached yet, all that it refers to being known."""

        def together(lines: Iterable[str]) -> Floats:
            total = self.full(0.0)
            for line in lines:
                grams = self._known(line, state)
                assert grams is not None
                total = total + grams
            return total

        amount = self.method.amounts.get(id)  # none for a stage that strains or presses a branch in
        match amount:
            case Written():
                return self.full(self.method.weighed[id].grams)
            case AsMuchAs():
                return amount.factor * together(amount.lines)
            case PartsOf():
                portion = self.method.portions[id]
                rest = together((portion.stage,)) - together(portion.others)
                self.fault(
                    "no_room_for_parts",
                    field=f"stages.{portion.stage}.total",
                    message="What is given in grams comes to more than this stage makes in total, so nothing is left for its parts.",
                    remedy="Make a larger total, or give less in grams.",
                    cases=rest < 0,
                    stage=portion.stage,
                )
                return portion.share * np.maximum(rest, 0.0)
            case PerKg(of="lines"):
                return amount.grams * 1e-3 * together(amount.lines)
            case PerKg(of="started"):
                if id in self.method.started_set:
                    return amount.grams * 1e-3 * together(line for line in self.method.started if line != id)
                if _STARTED not in self._ahead:
                    self._ahead[_STARTED] = together(self.method.started)
                return amount.grams * 1e-3 * self._ahead[_STARTED]
            case _:
                return self._guess(f"lines.{id}")

    def line_grams(self, line: WrittenLine, state: State, now_g: Floats) -> Floats:
        """Grams of a line as it goes into a vessel that holds ``now_g`` grams."""
        override = self._given.get(f"lines.{line.id}.grams")
        if override is not None:
            return override
        amount = self.method.amounts[line.id]
        match amount:
            case PerKg(of="pot_now"):
                return np.asarray(amount.grams * 1e-3 * now_g)
            case PerKg(of="after"):
                ended = state.masses.get(amount.stage or "")
                base = self._guess(f"after.{amount.stage}") if ended is None else ended
                return np.asarray(amount.grams * 1e-3 * base)
            case PerKg(of="finished"):
                return np.asarray(amount.grams * 1e-3 * self._guess("finished"))
            case UpTo():
                room = amount.total_g - now_g
                self.fault(
                    "already_over",
                    field=f"lines.{line.id}.amount",
                    message=f"The vessel already holds {float(np.max(now_g)):,.0f} g, more than {amount.total_g:,.0f} g.",
                    remedy="Make it up to a larger total, or put less in before this line.",
                    cases=room < 0,
                )
                return np.maximum(room, 0.0)
            case UpToVolume():
                return self._guess(f"volume.{line.id}")
            case _:
                return self.grams_of(line.id, state)

    def join_grams(self, stage_id: str, state: State, now_g: Floats) -> Floats:
        """Grams a join asks for; ``All`` never reaches here."""
        amount = self.method.amounts[stage_id]
        match amount:
            case PerKg(of="pot_now"):
                return np.asarray(amount.grams * 1e-3 * now_g)
            case UpTo():
                return np.maximum(amount.total_g - now_g, 0.0)
            case UpToVolume():
                return self._guess(f"volume.{stage_id}")
            case PerKg(of="after" | "finished"):
                key = "finished" if amount.of == "finished" else f"after.{amount.stage}"
                known = state.masses.get(amount.stage or "")
                return np.asarray(amount.grams * 1e-3 * (self._guess(key) if known is None else known))
            case _:
                return self.grams_of(stage_id, state)
