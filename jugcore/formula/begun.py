"""Where a search for ways starts from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from jugcore.formula.linearise import Target
from jugcore.formula.reading import Reading
from jugcore.method.document import Method
from jugcore.method.kitchen import Kitchen
from jugcore.method.walk import Walk


@dataclass(frozen=True)
class Begun:
    """A method walked, the reading that was typed over, what was typed, and the readings to be held."""

    method: Method
    kitchen: Kitchen
    first: Walk
    reading: Reading
    value: float
    held: tuple[Reading, ...]

    @property
    def wanted(self) -> Target:
        return Target(self.reading.id, self.value, self.value)

    @cached_property
    def holding(self) -> tuple[Target, ...]:
        return tuple(Target(each.id, float(each.value[0]), float(each.value[0])) for each in self.held)
