"""What a run prints: each failure as it comes, then times, then the one line that counts."""

from __future__ import annotations

import sys
import time
from collections.abc import Sequence

from jugtool.say import say
from jugtool.testing import history
from jugtool.testing.outcome import Outcome

_SLOWEST = 10


class Report:
    def __init__(self, suites: Sequence[str]) -> None:
        self._suites = suites
        self._began = time.monotonic()
        self._outcomes: list[Outcome] = []
        #: Whether everything that was to run did.
        self.complete = False
        #: What was asked for by a name that no test has.
        self.unknown: list[str] = []
        #: What failed while other tests ran, and passed when nothing else did.
        self._passed_alone: list[Outcome] = []
        #: When the machine did nothing for a while, and for how long. [s]
        self._stood_still: list[tuple[float, float]] = []

    def tell(self, outcome: Outcome) -> None:
        self._outcomes.append(outcome)
        if not outcome.passed:
            self._clear()
            say(failure(outcome))
        if sys.stdout.isatty():
            failed = sum(not each.passed for each in self._outcomes)
            print(f"\r{len(self._outcomes)} done, {failed} failed", end="", flush=True)

    def failed_of(self, suite: str) -> list[str]:
        """Names of the tests of a suite that failed."""
        return [each.name for each in self._outcomes if each.suite == suite and not each.passed]

    def tell_again(self, outcome: Outcome) -> None:
        """What came of a failed test when it was tried once more: it counts in place of the first."""
        self._outcomes = [each for each in self._outcomes if (each.suite, each.name) != (outcome.suite, outcome.name)]
        self.tell(outcome)
        if outcome.passed:
            self._passed_alone.append(outcome)

    def stood_still(self, seconds: float) -> None:
        """The run itself was not given the processor for so long."""
        self._stood_still.append((time.monotonic() - self._began, seconds))

    def _clear(self) -> None:
        if sys.stdout.isatty():
            print("\r\033[K", end="")

    def seconds(self) -> dict[str, float]:
        return {history.key(each.suite, each.name): round(each.seconds, 2) for each in self._outcomes}

    def failed(self) -> list[str]:
        return [history.key(each.suite, each.name) for each in self._outcomes if not each.passed]

    def close(self) -> int:
        """Print how it went; 0 if something ran and nothing failed."""
        self._clear()
        for suite in self._suites:
            mine = [each for each in self._outcomes if each.suite == suite]
            wrong = sum(not each.passed for each in mine)
            say(f"{suite:>8}  {len(mine) - wrong:4d} passed  {wrong:3d} failed  {sum(each.seconds for each in mine):6.1f} s")
        work = sum(each.seconds for each in self._outcomes)
        say(f"{'all':>8}  {time.monotonic() - self._began:.0f} s, in which {work:.0f} s of work were done")
        if len(self._outcomes) > _SLOWEST:
            say(f"\nThe {_SLOWEST} slowest:")
            for each in sorted(self._outcomes, key=lambda each: -each.seconds)[:_SLOWEST]:
                say(f"{each.seconds:6.1f} s  {each.suite}  {each.name}")
        if self._stood_still:
            say("\nThe machine stood still:")
            for at, seconds in self._stood_still:
                say(f"{seconds:6.1f} s, {at:.0f} s after the start")
        if self._passed_alone:
            say("\nFailed beside other tests, and passed once nothing else ran:")
            for each in self._passed_alone:
                say(f"  {each.suite}  {each.name}")
        bad_ones = [each for each in self._outcomes if not each.passed]
        if bad_ones:
            say("\nFailed; ./jug test --failed runs these again:")
            for each in bad_ones:
                say(f"  {each.suite}  {each.name}")
        for name in self.unknown:
            say(f"No test is called {name}.")
        if not self._outcomes:
            say("No test ran.")
        good, bad = len(self._outcomes) - len(bad_ones), len(bad_ones) + len(self.unknown)
        say(f"{good} passed, {bad} failed")
        return 0 if good and not bad and self.complete else 1


def failure(outcome: Outcome) -> str:
    """A test that failed, in full: what was wrong, in which of its subtests, and what was printed the while."""
    lines = [f"--- {outcome.suite}: {outcome.name} failed"]
    for wrong in outcome.wrong:
        lines += [f"    in {wrong.where}"] if wrong.where else []
        lines.append(wrong.text.rstrip())
    if outcome.printed:
        lines += ["    printed the while:", outcome.printed]
    return "\n".join(lines)
