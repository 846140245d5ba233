"""Runs the tests it is asked for, group after group, in a process that stays ready.

    python -m jugtool.testing.worker [--without-django] MODULE …

It loads the modules and tells which tests they hold. Then it reads a line a group from its standard input,
``{"run": [test, …]}``, and answers in lines of JSON on its standard output. What tests print goes to its
standard error. Everything that it tells is text, so that any error can be told.
"""

from __future__ import annotations

import argparse
import contextlib
import ctypes
import faulthandler
import json
import os
import signal
import sys
import time
import unittest
import warnings
from collections.abc import Callable, Iterable, Iterator
from types import TracebackType
from typing import Any, TypeAlias

Tell: TypeAlias = Callable[[dict[str, Any]], None]
_Error: TypeAlias = tuple[type[BaseException], BaseException, TracebackType] | tuple[None, None, None]
_PR_SET_PDEATHSIG = 1
#: Whose classes set nothing up that tests could share.
_FRAMES = ("unittest.", "django.test.")


class Result(unittest.TestResult):
    """Tells of each test as it ends: how long it took since the one before, and everything that was wrong in it."""

    def __init__(self, tell: Tell) -> None:
        super().__init__()
        self._tell = tell
        self._since = time.monotonic()
        self._wrong: list[dict[str, str]] = []
        self._in: unittest.TestCase | None = None

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._in, self._wrong = test, []
        for stream in (sys.stdout, sys.stderr):
            stream.flush()
        self._tell({"began": test.id(), "at": os.lseek(2, 0, os.SEEK_CUR)})

    def stopTest(self, test: unittest.TestCase) -> None:
        super().stopTest(test)
        now = time.monotonic()
        self._tell({"ended": test.id(), "seconds": round(now - self._since, 3), "wrong": self._wrong})
        self._in, self._since = None, now

    def addError(self, test: unittest.TestCase, err: _Error) -> None:
        self._note(test, "", err)

    def addFailure(self, test: unittest.TestCase, err: _Error) -> None:
        self._note(test, "", err)

    def addSubTest(self, test: unittest.TestCase, subtest: unittest.TestCase, err: _Error | None) -> None:
        if err is not None:
            self._note(test, subtest._subDescription(), err)  # type: ignore[attr-defined]

    def addSkip(self, test: unittest.TestCase, reason: str) -> None:
        # A test that does not run shows nothing; here there is no reason to leave one out.
        self._note(test, "", None, f"It was skipped: {reason}")

    def addUnexpectedSuccess(self, test: unittest.TestCase) -> None:
        self._note(test, "", None, "It was expected to fail and passed.")

    def _note(self, test: unittest.TestCase, where: str, err: _Error | None, text: str = "") -> None:
        text = text or self._exc_info_to_string(err, test)  # type: ignore[attr-defined]
        if self._in is None:  # what a class or a module sets up for its tests
            self._tell({"around": test.id(), "text": text})
        else:
            self._wrong.append({"where": where, "text": text})


def flat(suite: Iterable[Any]) -> Iterator[unittest.TestCase]:
    """The tests of a suite of suites."""
    for each in suite:
        if isinstance(each, unittest.TestCase):
            yield each
        else:
            yield from flat(each)


def told(test: unittest.TestCase) -> dict[str, Any]:
    """What the runner has to know of a test before it runs."""
    kind = type(test)
    tags = {*getattr(kind, "tags", ()), *getattr(getattr(test, test._testMethodName, None), "tags", ())}
    return {"id": test.id(), "class": f"{kind.__module__}.{kind.__qualname__}", "shares": _shares(kind), "alone": "alone" in tags}


def _shares(kind: type) -> bool:
    """Whether a class sets something up once for all of its tests, so that they are best run together."""
    ours = [base for base in kind.__mro__ if not f"{base.__module__}.".startswith((*_FRAMES, "builtins."))]
    return any(name in vars(base) for base in ours for name in ("setUpClass", "setUpTestData"))


def load(modules: list[str]) -> list[unittest.TestCase]:
    return list(flat(unittest.TestLoader().loadTestsFromNames(modules)))


def serve(prepare: Callable[[list[str]], list[unittest.TestCase]], modules: list[str], after: Callable[[], str] = lambda: "") -> None:
    """Tell which tests there are, then run groups until nobody asks any more.

    ``prepare`` gives the tests of the modules; ``after`` says what is wrong with the process once a group is done, or nothing.
    """
    out = os.fdopen(os.dup(1), "w", encoding="utf-8")
    os.dup2(2, 1)  # what is printed, by tests and by what they start, must not mix with what is told
    # A dead runner must not leave anything behind.
    ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)
    faulthandler.enable()
    faulthandler.register(signal.SIGUSR1, all_threads=True)  # where it stands, when it takes too long

    def tell(what: dict[str, Any]) -> None:
        out.write(json.dumps(what) + "\n")
        out.flush()

    known = {test.id(): test for test in prepare(modules)}
    tell({"tests": [told(test) for test in known.values()]})
    for line in sys.stdin:
        unittest.TestSuite([known[id] for id in json.loads(line)["run"]]).run(Result(tell))
        tell({"done": after()})


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("--without-django", action="store_true", help="refuse the server's side, and take warnings for errors")
    asked.add_argument("modules", nargs="+")
    chosen = asked.parse_args()
    after: Callable[[], str] = lambda: ""  # noqa: E731
    if chosen.without_django:
        from jugtool import without_django

        without_django.forbid()
        after = without_django.complaint
        warnings.simplefilter("error")
    with contextlib.suppress(KeyboardInterrupt):
        serve(load, chosen.modules, after)


if __name__ == "__main__":
    main()
