"""Where a search for ways starts from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from jugcore.method.amounts import Written
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.method import Method
from jugcore.method.stages import Boil
from jugcore.method.walk import Walk
from jugcore.reading.readings.base import Reading
from jugcore.solving.linearise import Target


@dataclass(frozen=True)
class Baseline:
    """A method walked, the reading that was typed over, what was typed, and the readings to be held."""

    method: Method
    kitchen: Kitchen
    first: Walk
    reading: Reading
    value: float
    held: tuple[Reading, ...]
    #: Stages that are done and lines that are in: they stay as they are.
    done: frozenset[str] = frozenset()
    within: frozenset[str] = frozenset()

    @property
    def place(self) -> int:
        """The first stage that may still be changed, or something be put before."""
        return next((i for i, stage in enumerate(self.method.stages) if stage.id not in self.done), len(self.method.stages))

    def may_move(self, method: Method) -> tuple[str, ...] | None:
        """The figures of a method that may still move; None where nothing is done and all may."""
        if not self.done and not self.within:
            return None
        lines = [f"lines.{id}.grams" for id, amount in method.amounts.items() if id in method.lines and isinstance(amount, Written)]
        lines = [path for path in lines if path.split(".")[1] not in self.within]
        boils = [stage.path(stage.until.kind) for stage in method.stages if isinstance(stage, Boil) and stage.id not in self.done]
        return (*lines, *boils)

    def compiled(self, document: MethodDocument) -> tuple[Method, Walk | None]:
        """A document compiled, and walked where it is the one that the search starts from."""
        return (self.method, self.first) if document is self.method.document else (compile_document(document), None)

    @property
    def target(self) -> Target:
        return Target(self.reading.id, self.value, self.value)

    @cached_property
    def holding(self) -> tuple[Target, ...]:
        return tuple(Target(each.id, float(each.value[0]), float(each.value[0])) for each in self.held)
