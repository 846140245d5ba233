"""What is printed, and how a step that failed says so."""

from __future__ import annotations

import sys


class Failed(Exception):
    """A step did not work: which, why, and what to do."""

    def __init__(self, step: str, why: str, todo: str) -> None:
        super().__init__(f"{step}: {why}")
        self.step, self.why, self.todo = step, why, todo


def say(text: str) -> None:
    print(text, flush=True)


def report(error: Failed) -> None:
    print(f"\n{error.step} did not work.\n  Why:  {error.why}\n  Do:   {error.todo}", file=sys.stderr, flush=True)
