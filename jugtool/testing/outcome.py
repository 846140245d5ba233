"""What came of one test or check."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Wrong:
    """One thing that was wrong in a test: in which of its subtests, if in one, and how."""

    text: str
    where: str = ""


@dataclass(frozen=True)
class Outcome:
    suite: str
    name: str
    #: Since the one before in the same process ended, so that what stands ready for it counts too. [s]
    seconds: float
    wrong: tuple[Wrong, ...] = ()
    #: What was printed the while.
    printed: str = ""

    @property
    def passed(self) -> bool:
        return not self.wrong
