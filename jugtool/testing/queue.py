"""What runs next: every process of the run takes from here, the longest first."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

#: With less than this left in a suite, whoever is at it finishes it sooner than another process would be ready. [s]
WORTH_JOINING_S = 4.0
#: The same while its tests are not known yet, and its time is a guess. [s]
WORTH_JOINING_UNKNOWN_S = 20.0


@dataclass(frozen=True)
class Group:
    """Tests (or one check) of a suite that one process runs one after another."""

    suite: str
    names: tuple[str, ...]
    expected_s: float
    #: It promises a time, so nothing may run beside it.
    alone: bool = False


@dataclass
class _Line:
    """What waits of one suite."""

    expected_s: float
    #: Longest last; None until the suite has told what it holds.
    groups: list[Group] | None = None
    at_it: int = 0

    @property
    def left_s(self) -> float:
        return self.expected_s if self.groups is None else sum(group.expected_s for group in self.groups)


class Queue:
    """The suites of a run, and what is left of each."""

    def __init__(self, suites: dict[str, float]) -> None:
        """``suites``: name → what it is expected to take in all. [s]"""
        self._lines = {name: _Line(expected_s) for name, expected_s in suites.items()}
        self._alone: list[Group] = []

    def join(self) -> str | None:
        """The suite that a process without work turns to: the largest nobody is at, else the one with most left.

        Give it back with :meth:`leave`.
        """
        open_ = [(line.at_it > 0, -line.left_s, name) for name, line in self._lines.items() if self._worth(line)]
        if not open_:
            return None
        name = min(open_)[2]
        self._lines[name].at_it += 1
        return name

    @staticmethod
    def _worth(line: _Line) -> bool:
        if line.groups is None:
            return line.at_it == 0 or line.left_s >= WORTH_JOINING_UNKNOWN_S
        return bool(line.groups) and (line.at_it == 0 or line.left_s >= WORTH_JOINING_S)

    def leave(self, suite: str) -> None:
        self._lines[suite].at_it -= 1

    def holds(self, suite: str, groups: Iterable[Group]) -> bool:
        """What a suite holds, told by the first process that is at it; from another it changes nothing. Whether it was the first."""
        line = self._lines[suite]
        if line.groups is not None:
            return False
        found = sorted(groups, key=lambda group: (group.expected_s, group.names))
        line.groups = [group for group in found if not group.alone]
        self._alone += [group for group in found if group.alone]
        return True

    def take(self, suite: str) -> Group | None:
        """The longest that is left of a suite, and no more of it in the queue."""
        groups = self._lines[suite].groups
        return groups.pop() if groups else None

    def alone(self) -> dict[str, list[Group]]:
        """By suite, what is to run once everything else is done, one at a time."""
        found: dict[str, list[Group]] = {}
        for group in self._alone:
            found.setdefault(group.suite, []).append(group)
        return found
